"""Recordings of the arc voltage: begun, kept part by part, ended; and what they counted."""

from collections.abc import Sequence

from sqlmodel import Session, col, select

from orthotome.core.height.trace import Trace
from orthotome.core.torch.counts import Counts
from orthotome.formats.height.samples import joined, pack, unpack
from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.shop import shop
from orthotome.store.tables import CutRow, TracePart, TraceRow, TrimRow
from orthotome.store.torch import fittings

PART_SAMPLES = 20_000
BROKEN_OFF = "Orthotome was stopped while it recorded; what had come by then is here."


def begin(session: Session, table_id: int, source: str, name: str) -> TraceRow:
    """Begin a recording of a table, for the trial on its Bench."""
    shop.table(session, table_id)
    trial = shop.bench_trial(session, table_id)
    row = TraceRow(
        table_id=table_id,
        trial_id=None if trial is None else trial.id,
        name=name,
        source=source,
        begun_by=changes.person(session),
        speed_mm_min=None if trial is None else trial.speed_mm_min,
        cut_height_mm=None if trial is None else trial.cut_height_mm,
    )
    session.add(row)
    session.flush()
    return row


def add(session: Session, row: TraceRow, part: Trace) -> None:
    """Keep some more samples."""
    numbers = select(TracePart.number).where(TracePart.trace_id == row.id)
    last = session.exec(numbers.order_by(col(TracePart.number).desc())).first()
    number = 0 if last is None else last + 1
    for begin_at in range(0, len(part), PART_SAMPLES):
        some = part.part(begin_at, min(len(part), begin_at + PART_SAMPLES))
        session.add(TracePart(trace_id=row.id or 0, number=number, samples=len(some), body=pack(some)))
        number += 1
    row.samples += len(part)
    session.add(row)
    session.flush()


def end(session: Session, trace_id: int, counted: Counts, *, interrupted: str = "") -> TraceRow:
    """End a recording: its starts and its arc time go to the parts that are fitted."""
    row = trace(session, trace_id)
    if row.ended:
        return row
    row.ended, row.interrupted = True, interrupted
    row.starts, row.arc_on_s, row.off_plate = counted.starts, counted.arc_on_s, counted.off_plate
    fittings.count(session, row.table_id, counted, "recording")
    session.add(row)
    session.flush()
    return row


def broken_off(session: Session) -> list[TraceRow]:
    """Recordings of lines that never ended: Orthotome was stopped in mid-cut."""
    return list(session.exec(select(TraceRow).where(col(TraceRow.ended).is_(False))).all())


def trace(session: Session, trace_id: int) -> TraceRow:
    """One recording."""
    row = session.get(TraceRow, trace_id)
    if row is None:
        raise NotFound(f"There is no recording {trace_id}.")
    return row


def traces(session: Session, table_id: int) -> Sequence[TraceRow]:
    """The recordings of a table, newest first."""
    shop.table(session, table_id)
    query = select(TraceRow).where(TraceRow.table_id == table_id)
    return session.exec(query.order_by(col(TraceRow.id).desc()).limit(200)).all()


def samples(session: Session, trace_id: int) -> Trace:
    """All samples of a recording."""
    query = select(TracePart).where(TracePart.trace_id == trace_id).order_by(col(TracePart.number))
    return joined([unpack(p.body, p.samples) for p in session.exec(query)])


def strike_out(session: Session, trace_id: int, *, struck_out: bool) -> TraceRow:
    """Strike a recording out, or put it back; what it counted stays counted."""
    row = trace(session, trace_id)
    row.struck_out = struck_out
    session.add(row)
    session.flush()
    return row


def trim(
    session: Session, trace_id: int, at_s: float, by_v: float, set_point_v: float | None
) -> TrimRow:
    """Note a trim with its moment."""
    row = TrimRow(
        trace_id=trace_id,
        at_s=at_s,
        by_v=by_v,
        set_point_v=set_point_v,
        trimmed_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def trims(session: Session, trace_id: int) -> Sequence[TrimRow]:
    """The trims of a recording in order."""
    query = select(TrimRow).where(TrimRow.trace_id == trace_id)
    return session.exec(query.order_by(col(TrimRow.at_s), col(TrimRow.id))).all()


def unspent(session: Session, trial_id: int) -> Sequence[TraceRow]:
    """The recordings of a trial's cuts that were not logged yet."""
    query = select(TraceRow).where(
        TraceRow.trial_id == trial_id,
        TraceRow.source == "line",
        col(TraceRow.ended).is_(True),
        col(TraceRow.spent).is_(False),
        col(TraceRow.struck_out).is_(False),
    )
    return session.exec(query.order_by(col(TraceRow.id))).all()


def spend(session: Session, trial_id: int) -> Counts:
    """Take the recordings not logged yet for a piece: what they counted is not counted again."""
    rows = unspent(session, trial_id)
    for row in rows:
        row.spent = True
        session.add(row)
    session.flush()
    return sum((Counts(r.starts, r.arc_on_s, r.off_plate) for r in rows), Counts())


def belong_to(session: Session, trial_id: int, cut: CutRow) -> None:
    """The recordings of a trial that belong to no cut yet are those of the one just logged; its arc time, where
    nobody gave it, is theirs."""
    query = select(TraceRow).where(
        TraceRow.trial_id == trial_id,
        TraceRow.source == "line",
        TraceRow.spent,
        col(TraceRow.cut_id).is_(None),
    )
    rows = session.exec(query).all()
    for row in rows:
        row.cut_id = cut.id
        session.add(row)
    if rows and cut.arc_on_s is None:
        cut.arc_on_s = round(sum(r.arc_on_s for r in rows), 2)
        session.add(cut)
    session.flush()


def of_trial(session: Session, trial_id: int) -> Sequence[TraceRow]:
    """The recordings of a trial that count, newest first."""
    query = select(TraceRow).where(
        TraceRow.trial_id == trial_id,
        col(TraceRow.ended).is_(True),
        col(TraceRow.struck_out).is_(False),
    )
    return session.exec(query.order_by(col(TraceRow.id).desc()).limit(50)).all()


def unlogged(session: Session, trial_id: int) -> TraceRow | None:
    """The newest recording of a trial that belongs to no cut yet; None where there is none."""
    query = select(TraceRow).where(
        TraceRow.trial_id == trial_id,
        TraceRow.source == "line",
        col(TraceRow.ended).is_(True),
        col(TraceRow.cut_id).is_(None),
        col(TraceRow.struck_out).is_(False),
    )
    return session.exec(query.order_by(col(TraceRow.id).desc())).first()
