"""What was counted on fitted parts: a line of a journal for each cut, piece, recording and correction."""

from collections.abc import Sequence

from sqlalchemy import func
from sqlmodel import Session, col, select

from orthotome.core.errors import TradeError
from orthotome.core.torch.counts import CounterReading, Counts, Source, missed, shared
from orthotome.store import changes
from orthotome.store.tables import CounterRow, CountRow, FittingRow


def add(
    session: Session, fitting: FittingRow, counted: Counts, source: Source, note: str = ""
) -> CountRow:
    """Count on the parts of a fitting."""
    row = CountRow(
        table_id=fitting.table_id,
        fitting_id=fitting.id or 0,
        source=source,
        note=note,
        counted_by=changes.person(session),
        **vars(counted),
    )
    session.add(row)
    session.flush()
    return row


def counted_on(session: Session, fitting_id: int) -> bool:
    """Whether anything was counted on it."""
    return session.exec(select(CountRow.id).where(CountRow.fitting_id == fitting_id)).first() is not None


def starts_of_table(session: Session, table_id: int) -> int:
    """Arc starts of a table since it was added, whatever parts were fitted."""
    query = select(func.sum(col(CountRow.starts))).where(CountRow.table_id == table_id)
    return max(0, session.exec(query).one() or 0)


def by_source(session: Session, fitting_ids: Sequence[int]) -> dict[Source, int]:
    """Starts that were counted on some fittings, by what counted them."""
    query = select(CountRow.source, func.sum(col(CountRow.starts))).group_by(col(CountRow.source))
    found = session.exec(query.where(col(CountRow.fitting_id).in_(fitting_ids))).all()
    return {source: starts for source, starts in found if starts}  # type: ignore[misc]


def last_counter(session: Session, table_id: int) -> CounterRow | None:
    """What the source's counter showed last; None where nobody read it."""
    query = select(CounterRow).where(CounterRow.table_id == table_id)
    return session.exec(query.order_by(col(CounterRow.id).desc())).first()


def read_counter(
    session: Session, table_id: int, now: CounterReading, *, set_back: bool = False
) -> CounterRow:
    """Take a reading of the source's own counter: what it counted more, or less, corrects the parts that were in
    since the last reading. Raises TradeError for one that runs backwards."""
    before, counts = last_counter(session, table_id), _since(session, table_id)
    correction = Counts()
    if before is not None and not set_back:
        then = CounterReading(before.starts, before.arc_on_s)
        counted = sum((_counts(c) for c in counts), Counts())
        correction = missed(now, then, counted)
    row = CounterRow(
        table_id=table_id,
        starts=now.starts,
        arc_on_s=now.arc_on_s,
        missed_starts=correction.starts,
        missed_arc_on_s=correction.arc_on_s,
        set_back=set_back,
        read_by=changes.person(session),
    )
    if correction:
        _correct(session, table_id, counts, correction)
    newest = select(func.max(CountRow.id)).where(CountRow.table_id == table_id)
    row.last_count_id = session.exec(newest).one() or 0
    session.add(row)
    session.flush()
    return row


def _since(session: Session, table_id: int) -> Sequence[CountRow]:
    """What was counted on a table since its counter was read last."""
    before = last_counter(session, table_id)
    query = select(CountRow).where(CountRow.table_id == table_id)
    return session.exec(query.where(col(CountRow.id) > (before.last_count_id if before else 0))).all()


def _counts(row: CountRow) -> Counts:
    return Counts(**{name: getattr(row, name) for name in Counts.__dataclass_fields__})


def _correct(session: Session, table_id: int, counts: Sequence[CountRow], correction: Counts) -> None:
    """Give what was missed to the fittings that were in since, by what was counted on each."""
    newest = (
        select(FittingRow)
        .where(FittingRow.table_id == table_id, FittingRow.kind == "parts")
        .where(col(FittingRow.from_file).is_(False))
        .order_by(col(FittingRow.id).desc())
    )
    now = session.exec(newest).first()
    if now is None:
        raise TradeError("table_id", "there is no such table.")
    weights = {now.id or 0: 0}
    for c in counts:
        weights[c.fitting_id] = weights.get(c.fitting_id, 0) + max(0, c.starts)
    ids = sorted(weights)
    for fitting_id, share in zip(ids, shared(correction, [weights[i] for i in ids]), strict=True):
        fitting = session.get(FittingRow, fitting_id)
        if share and fitting is not None:
            add(session, fitting, share, "source")
