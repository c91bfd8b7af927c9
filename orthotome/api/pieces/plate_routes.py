"""The scrap that test pieces are cut from, and how programs are written."""

from typing import Annotated

from fastapi import Query
from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.pieces import models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.pieces.nesting import Plate, Rectangle
from orthotome.store.pieces import plates
from orthotome.store.tables import PlateRow

router = room("plates")


@router.get("/tables/{table_id}/plates")
def get_plates(table_id: Id, session: Reading) -> list[models.PlateAnswer]:
    """The scrap at a table, newest first."""
    return [_plate(session, p) for p in plates.plates(session, table_id)]


@router.post("/tables/{table_id}/plates", status_code=201)
def add_plate(table_id: Id, request: models.PlateRequest, database: Store) -> models.PlateAnswer:
    """Another piece of scrap."""
    size = Plate(request.width_mm, request.height_mm, request.margin_mm)
    with database.write() as session:
        return _plate(session, plates.add_plate(session, table_id, request.name, size))


@router.post("/plates/{plate_id}/zones", status_code=201)
def take_zone(plate_id: Id, request: models.ZoneRequest, database: Store) -> models.PlateAnswer:
    """Keep pieces off a part of a plate: a clamp, a wet slat, an old cut."""
    spot = Rectangle(request.x_mm, request.y_mm, request.width_mm, request.height_mm)
    with database.write() as session:
        plates.take(session, plate_id, spot, request.what)
        return _plate(session, plates.plate(session, plate_id))


@router.put("/plate-zones/{zone_id}/struck", status_code=204)
def strike_zone(zone_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Free a zone again, or take it back."""
    with database.write() as session:
        found = plates.zone(session, zone_id)
        found.struck_out = out
        session.add(found)


@router.put("/plates/{plate_id}/used-up", status_code=204)
def use_up(plate_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """A plate that is used up, or is not after all."""
    with database.write() as session:
        found = plates.plate(session, plate_id)
        found.used_up = out
        session.add(found)


def _plate(session: Session, row: PlateRow) -> models.PlateAnswer:
    assert row.id is not None
    return models.PlateAnswer(
        **row.model_dump(include={"id", "name", "width_mm", "height_mm", "margin_mm"}),
        free_share=plates.core_plate(session, row).free_share,
        zones=[
            models.ZoneAnswer(**z.model_dump(exclude={"plate_id", "struck_out"}))
            for z in plates.zones(session, row.id)
        ],
    )
