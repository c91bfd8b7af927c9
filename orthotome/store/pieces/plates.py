"""The scrap that test pieces are cut from, and what of it is taken."""

from collections.abc import Sequence

from sqlmodel import Session, col, select

from orthotome.core.pieces.nesting import Plate, Rectangle
from orthotome.store.errors import NotFound
from orthotome.store.shop import shop
from orthotome.store.tables import PlateRow, PlateZone


def plates(session: Session, table_id: int) -> Sequence[PlateRow]:
    """The plates of a table that are not used up, newest first."""
    shop.table(session, table_id)
    query = select(PlateRow).where(PlateRow.table_id == table_id, col(PlateRow.used_up).is_(False))
    return session.exec(query.order_by(col(PlateRow.id).desc())).all()


def plate(session: Session, plate_id: int) -> PlateRow:
    """One plate. Raises NotFound."""
    found = session.get(PlateRow, plate_id)
    if found is None:
        raise NotFound("There is no such plate.", "plate_id")
    return found


def add_plate(session: Session, table_id: int, name: str, size: Plate) -> PlateRow:
    """A new piece of scrap."""
    shop.table(session, table_id)
    added = PlateRow(
        table_id=table_id,
        name=name,
        width_mm=size.width_mm,
        height_mm=size.height_mm,
        margin_mm=size.margin_mm,
    )
    session.add(added)
    session.flush()
    return added


def zones(session: Session, plate_id: int) -> Sequence[PlateZone]:
    """What is taken of a plate, in the order it was."""
    query = select(PlateZone).where(PlateZone.plate_id == plate_id, col(PlateZone.struck_out).is_(False))
    return session.exec(query.order_by(col(PlateZone.id))).all()


def take(session: Session, plate_id: int, spot: Rectangle, what: str) -> PlateZone:
    """Note that a part of a plate is taken."""
    plate(session, plate_id)
    added = PlateZone(plate_id=plate_id, what=what, **vars(spot))
    session.add(added)
    session.flush()
    return added


def zone(session: Session, zone_id: int) -> PlateZone:
    """One zone. Raises NotFound."""
    found = session.get(PlateZone, zone_id)
    if found is None:
        raise NotFound("There is no such zone.", "zone_id")
    return found


def core_plate(session: Session, row: PlateRow) -> Plate:
    """A plate as core thinks of it, with what is taken of it now."""
    taken = tuple(
        Rectangle(z.x_mm, z.y_mm, z.width_mm, z.height_mm) for z in zones(session, row.id or 0)
    )
    return Plate(row.width_mm, row.height_mm, row.margin_mm, taken)
