"""Single parts: each with its own history, fitted, put aside and put back."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import datetime

from sqlalchemy import func
from sqlalchemy import select as alchemy_select
from sqlmodel import Session, col, select

from orthotome.core.torch.counts import Counts
from orthotome.core.torch.fittings import PART_WORDS, SINGLE_PARTS, Kept, Part, SinglePart
from orthotome.store import changes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import CountRow, FittedPart, FittingRow, PartRow
from orthotome.store.torch import stock

_MOST_ENDED = 60  # of a set's parts that are asked how long they lasted


def new(
    session: Session,
    part: SinglePart,
    torch_set_id: int | None,
    starts: int = 0,
    arc_on_s: float = 0.0,
) -> PartRow:
    """A part that was never here before; a new one comes off the shelf. It may have starts behind it."""
    numbers = select(func.max(PartRow.number)).where(PartRow.part == part)
    row = PartRow(
        part=part,
        torch_set_id=torch_set_id,
        number=1 + (session.exec(numbers).one() or 0),
        starts_then=starts,
        arc_on_then_s=arc_on_s,
    )
    session.add(row)
    session.flush()
    if torch_set_id is not None and starts == 0:
        stock.take(session, torch_set_id, part)
    return row


def part(session: Session, part_id: int) -> PartRow:
    """One part. Raises NotFound."""
    row = session.get(PartRow, part_id)
    if row is None:
        raise NotFound("There is no such part.", "part_id")
    return row


def newest(session: Session, kind: Part) -> PartRow:
    """The newest part of a kind. Raises NotFound where the shop has none."""
    row = session.exec(
        select(PartRow).where(PartRow.part == kind).order_by(col(PartRow.id).desc())
    ).first()
    if row is None:
        raise NotFound("There is no such part.", "part_id")
    return row


def belong(session: Session, fitting: FittingRow, parts: Iterable[PartRow]) -> None:
    """Note which parts a fitting stands for."""
    assert fitting.id is not None
    session.add_all(FittedPart(fitting_id=fitting.id, part_id=p.id or 0) for p in parts)
    session.flush()


def part_from(session: Session, fitting_id: int) -> None:
    """Take a fitting's parts from it; those that were in no other are forgotten, and lie on the shelf again."""
    for link in session.exec(select(FittedPart).where(FittedPart.fitting_id == fitting_id)).all():
        session.delete(link)
        session.flush()
        others = select(FittedPart).where(FittedPart.part_id == link.part_id)
        if session.exec(others).first() is None and (row := session.get(PartRow, link.part_id)):
            if row.torch_set_id is not None and row.starts_then == 0:
                stock.take(session, row.torch_set_id, row.part, -1)
            session.delete(row)
    session.flush()


def of_fitting(session: Session, fitting_id: int) -> list[PartRow]:
    """The parts of a fitting, in the order in which they go in."""
    query = select(PartRow).join(FittedPart).where(FittedPart.fitting_id == fitting_id)
    found = {p.part: p for p in session.exec(query)}
    return [found[p] for p in SINGLE_PARTS if p in found]


def on_tables(session: Session) -> dict[int, int]:
    """Every part that is fitted now, by its id, with the id of its table."""
    newest = (
        select(func.max(FittingRow.id))
        .where(FittingRow.kind == "parts", col(FittingRow.from_file).is_(False))
        .group_by(col(FittingRow.table_id))
    )
    query = (
        select(FittedPart.part_id, FittingRow.table_id)
        .join(FittingRow, col(FittingRow.id) == col(FittedPart.fitting_id))
        .where(col(FittedPart.fitting_id).in_(newest))
    )
    return dict(session.exec(query).all())


def put_aside(session: Session, part_id: int, kind: Part) -> PartRow:
    """A part that lies ready to be fitted. Raises Refused where it is on a table, or done with."""
    row = part(session, part_id)
    if row.part != kind:
        raise Refused(
            f"That is a {PART_WORDS[row.part]}: it goes in no {PART_WORDS[kind]}’s place.",
            "part_id",
        )
    return _ready(session, row)


def _ready(session: Session, row: PartRow) -> PartRow:
    word = f"{PART_WORDS[row.part]} {row.number}"
    if (row.id or 0) in on_tables(session):
        raise Refused(f"The {word} is fitted on a table: one part is in one torch.", "part_id")
    if row.kept == "scrap":
        raise Refused(f"The {word} is done with: say first that it is good after all.", "part_id")
    return row


def set_put_aside(session: Session, torch_set_id: int | None) -> list[PartRow]:
    """The parts of a set as they last came off, but for those done with or fitted elsewhere. Raises Refused."""
    fittings = select(FittingRow.id).where(
        FittingRow.kind == "parts",
        FittingRow.torch_set_id == torch_set_id,
        col(FittingRow.from_file).is_(False),
    )
    elsewhere = on_tables(session)
    for fitting_id in session.exec(fittings.order_by(col(FittingRow.id).desc())):
        lie = [
            p
            for p in of_fitting(session, fitting_id or 0)
            if p.kept == "good" and (p.id or 0) not in elsewhere and p.torch_set_id == torch_set_id
        ]
        if any(p.part == "electrode" for p in lie):
            return lie
    raise Refused("No parts of that set were put aside: fit new ones.", "torch_set_id")


def sets_put_aside(session: Session) -> dict[int, int]:
    """Every set whose parts lie ready as they came off, by its id, with the starts on its electrode."""
    on = on_tables(session)
    query = select(PartRow).where(PartRow.part == "electrode", PartRow.kept == "good")
    rows = {
        p.torch_set_id: p.id or 0
        for p in session.exec(query.order_by(col(PartRow.id)))
        if p.torch_set_id is not None and (p.id or 0) not in on
    }
    done = counts_of(session, list(rows.values()))
    return {set_id: done[part_id].starts for set_id, part_id in rows.items()}


def keep(session: Session, part_id: int, kept: Kept, limit_mm: float | None = None) -> PartRow:
    """Say where a part is that is not fitted, and how deep its pit may become."""
    row = part(session, part_id)
    changes.note(session, "kept", "part", part_id, {"kept": row.kept, "limit_mm": row.limit_mm})
    row.kept = kept
    row.limit_mm = row.limit_mm if limit_mm is None else limit_mm
    session.add(row)
    session.flush()
    return row


def counts_of(session: Session, part_ids: Sequence[int]) -> dict[int, Counts]:
    """What each part has done: what it brought along, and all that was counted since."""
    rows = session.exec(select(PartRow).where(col(PartRow.id).in_(part_ids))).all()
    done = {r.id or 0: Counts(r.starts_then, r.arc_on_then_s) for r in rows}
    links = select(FittedPart.fitting_id, FittedPart.part_id).where(
        col(FittedPart.part_id).in_(part_ids)
    )
    fittings = defaultdict(list)
    for fitting_id, part_id in session.exec(links):
        fittings[fitting_id].append(part_id)
    sums = (func.sum(getattr(CountRow, name)) for name in Counts.__dataclass_fields__)
    query = alchemy_select(col(CountRow.fitting_id), *sums).group_by(col(CountRow.fitting_id))
    for row in session.execute(query.where(col(CountRow.fitting_id).in_(fittings))).all():
        for part_id in fittings[row[0]]:
            done[part_id] += Counts(*row[1:])
    return done


def counts_of_fittings(
    session: Session, fitting_ids: Sequence[int]
) -> dict[int, dict[SinglePart, Counts]]:
    """The same of every part of some fittings, by the part's word."""
    query = (
        select(FittedPart.fitting_id, PartRow.id, PartRow.part)
        .join(PartRow, col(PartRow.id) == col(FittedPart.part_id))
        .where(col(FittedPart.fitting_id).in_(fitting_ids))
    )
    links = session.exec(query).all()
    done = counts_of(session, [part_id or 0 for _, part_id, _ in links])
    found: dict[int, dict[SinglePart, Counts]] = {f: {} for f in fitting_ids}
    for fitting_id, part_id, word in links:
        found[fitting_id][word] = done[part_id or 0]  # type: ignore[index]
    return {f: {p: of.get(p, Counts()) for p in SINGLE_PARTS} for f, of in found.items()}


def fittings_of(session: Session, part_id: int) -> Sequence[int]:
    """Every fitting that a part belonged to."""
    return session.exec(select(FittedPart.fitting_id).where(FittedPart.part_id == part_id)).all()


def lying(session: Session, torch_set_id: int | None) -> list[PartRow]:
    """What lies ready of a set, newest first."""
    query = select(PartRow).where(PartRow.kept != "scrap", PartRow.torch_set_id == torch_set_id)
    fitted = on_tables(session)
    return [p for p in session.exec(query.order_by(col(PartRow.id).desc())) if (p.id or 0) not in fitted]


def ended(session: Session, torch_set_id: int | None) -> dict[str, list[int]]:
    """Starts that the newest parts of a set had when they were done with, by kind."""
    query = select(PartRow).where(PartRow.kept == "scrap", PartRow.torch_set_id == torch_set_id)
    newest = session.exec(query.order_by(col(PartRow.id).desc()).limit(_MOST_ENDED)).all()
    fitted = on_tables(session)
    rows = [p for p in newest if (p.id or 0) not in fitted]
    done = counts_of(session, [p.id or 0 for p in rows])
    found: dict[str, list[int]] = {}
    for row in rows:
        if done[row.id or 0].starts:
            found.setdefault(row.part, []).append(done[row.id or 0].starts)
    return found


def used_since(session: Session, since: datetime) -> dict[tuple[int, str], int]:
    """How many parts were new since then, by set and kind."""
    query = (
        select(PartRow.torch_set_id, PartRow.part, func.count())
        .where(col(PartRow.new_at) >= since, PartRow.starts_then == 0)
        .where(col(PartRow.torch_set_id).is_not(None))
        .group_by(col(PartRow.torch_set_id), col(PartRow.part))
    )
    return {(set_id or 0, part): n for set_id, part, n in session.exec(query)}
