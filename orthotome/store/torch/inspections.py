"""Parts as somebody looked at them, at the counts that they had."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from sqlmodel import Session, col, select

from orthotome.core.torch.counts import Counts
from orthotome.core.torch.inspection import PitReading
from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.tables import InspectionRow
from orthotome.store.torch import parts


@dataclass(frozen=True)
class ToNote:
    """What was seen of a part."""

    looks: Mapping[str, str] = field(default_factory=dict)
    pit: PitReading | None = None
    told: str = ""
    verdict: str = "not_known"
    note: str = ""


def note(
    session: Session, part_id: int, key: str, seen: ToNote, *, at: Counts | None = None
) -> InspectionRow:
    """Note an inspection at the counts that the part has, or had; the same key twice is noted once. Raises NotFound."""
    known = session.exec(select(InspectionRow).where(InspectionRow.key == key)).first()
    if known is not None:
        return known
    parts.part(session, part_id)
    done = at or parts.counts_of(session, [part_id])[part_id]
    row = InspectionRow(
        key=key,
        part_id=part_id,
        starts=done.starts,
        arc_on_s=done.arc_on_s,
        off_plate=done.off_plate,
        looks=json.dumps(dict(seen.looks)),
        pit_mm=seen.pit.pit_mm if seen.pit else None,
        u_mm=seen.pit.u_mm if seen.pit else None,
        told=seen.told,
        verdict=seen.verdict,
        note=seen.note,
        seen_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def inspection(session: Session, inspection_id: int) -> InspectionRow:
    """One inspection. Raises NotFound."""
    row = session.get(InspectionRow, inspection_id)
    if row is None:
        raise NotFound("There is no such inspection.", "inspection_id")
    return row


def of_parts(session: Session, part_ids: Sequence[int]) -> dict[int, list[InspectionRow]]:
    """The inspections of some parts that count, oldest first."""
    query = select(InspectionRow).where(
        col(InspectionRow.part_id).in_(part_ids), col(InspectionRow.struck_out).is_(False)
    )
    found: dict[int, list[InspectionRow]] = {i: [] for i in part_ids}
    for row in session.exec(query.order_by(col(InspectionRow.id))):
        found[row.part_id].append(row)
    return found


def strike(session: Session, inspection_id: int, *, out: bool) -> InspectionRow:
    """Strike an inspection out, or put it back. Raises NotFound."""
    row = inspection(session, inspection_id)
    changes.note(session, "struck out" if out else "put back", "inspection", inspection_id)
    row.struck_out = out
    session.add(row)
    session.flush()
    return row


def add_photo(session: Session, inspection_id: int, digest: str) -> InspectionRow:
    """Say which picture shows it. Raises NotFound."""
    row = inspection(session, inspection_id)
    row.photo = digest
    session.add(row)
    session.flush()
    return row
