"""The shop's holes: cut and tried with a set in a plate, on a table."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select

from orthotome.core.machine.hole_table import HoleTable
from orthotome.formats.machine.checks import TriedHoleFile
from orthotome.formats.reading import read_json
from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.shop import shop
from orthotome.store.tables import TriedHoleRow

_SAME_PLATE = 0.05  # of the thickness: nearer than that holes come out alike; assumption


@dataclass(frozen=True)
class Plate:
    """What holes come out alike in: a set in a plate. ``kerf_mm`` is what a program makes room for there."""

    torch_set: str
    metal: str
    thickness_mm: float
    kerf_mm: float | None = None


def tried(session: Session, table_id: int, plate: Plate) -> Sequence[TriedHoleRow]:
    """Those that count, newest first."""
    near = _SAME_PLATE * plate.thickness_mm
    query = select(TriedHoleRow).where(
        TriedHoleRow.table_id == table_id,
        TriedHoleRow.torch_set == plate.torch_set,
        TriedHoleRow.metal == plate.metal,
        col(TriedHoleRow.thickness_mm).between(plate.thickness_mm - near, plate.thickness_mm + near),
        col(TriedHoleRow.struck_out).is_(False),
    )
    return session.exec(query.order_by(col(TriedHoleRow.id).desc())).all()


def given_in(row: TriedHoleRow) -> TriedHoleFile:
    """What was typed."""
    return read_json(TriedHoleFile, row.given)


def table_of(session: Session, table_id: int, plate: Plate) -> HoleTable:
    """The hole table of a set in a plate."""
    rows = tried(session, table_id, plate)
    return HoleTable([given_in(r).hole() for r in rows], plate.thickness_mm, plate.kerf_mm)


def keep(session: Session, table_id: int, plate: Plate, given: TriedHoleFile) -> TriedHoleRow:
    """Keep a hole that was tried. Raises TradeError, naming the field, for what no such hole can have."""
    given.hole()
    shop.table(session, table_id)
    row = TriedHoleRow(
        table_id=table_id,
        torch_set=plate.torch_set,
        metal=plate.metal,
        thickness_mm=plate.thickness_mm,
        given=given.model_dump_json(exclude_none=True),
        tried_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def strike(session: Session, hole_id: int, *, out: bool) -> TriedHoleRow:
    """Strike a hole out, or put it back. Raises NotFound."""
    row = session.get(TriedHoleRow, hole_id)
    if row is None:
        raise NotFound("There is no such hole.", "hole_id")
    changes.note(session, "struck out" if out else "put back", "tried_hole", hole_id)
    row.struck_out = out
    session.add(row)
    return row
