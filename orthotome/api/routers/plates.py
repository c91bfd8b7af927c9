"""The scrap that test pieces are cut from, and how programs are written."""

from typing import Annotated

from fastapi import APIRouter, Query
from sqlmodel import Session

from orthotome.api import models
from orthotome.api import piece_models as pieces
from orthotome.api.depends import Reading, Store
from orthotome.core.axis_map import FRAME, AxisMap
from orthotome.core.campaign import Campaign, Limits, Target, TorchSet
from orthotome.core.nesting import Plate, Rectangle
from orthotome.core.start_rows import StartValues
from orthotome.formats.piece_set import PieceJob, piece_file, piece_of
from orthotome.formats.profile import SHIPPED, OutputProfile
from orthotome.store import plates
from orthotome.store.tables import PlateRow

router = APIRouter(tags=["plates"])


@router.get("/tables/{table_id}/plates")
def get_plates(table_id: models.Id, session: Reading) -> list[pieces.PlateAnswer]:
    """The scrap at a table, newest first."""
    return [_plate(session, p) for p in plates.plates(session, table_id)]


@router.post("/tables/{table_id}/plates", status_code=201)
def add_plate(table_id: models.Id, request: pieces.PlateRequest, database: Store) -> pieces.PlateAnswer:
    """Another piece of scrap."""
    size = Plate(request.width_mm, request.height_mm, request.margin_mm)
    with database.write() as session:
        return _plate(session, plates.add_plate(session, table_id, request.name, size))


@router.post("/plates/{plate_id}/zones", status_code=201)
def take_zone(plate_id: models.Id, request: pieces.ZoneRequest, database: Store) -> pieces.PlateAnswer:
    """Keep pieces off a part of a plate: a clamp, a wet slat, an old cut."""
    spot = Rectangle(request.x_mm, request.y_mm, request.width_mm, request.height_mm)
    with database.write() as session:
        plates.take(session, plate_id, spot, request.what)
        return _plate(session, plates.plate(session, plate_id))


@router.put("/plate-zones/{zone_id}/struck", status_code=204)
def strike_zone(zone_id: models.Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Free a zone again, or take it back."""
    with database.write() as session:
        found = plates.zone(session, zone_id)
        found.struck_out = out
        session.add(found)


@router.put("/plates/{plate_id}/used-up", status_code=204)
def use_up(plate_id: models.Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """A plate that is used up, or is not after all."""
    with database.write() as session:
        found = plates.plate(session, plate_id)
        found.used_up = out
        session.add(found)


@router.get("/profiles")
def get_profiles() -> list[OutputProfile]:
    """The neutral profiles that are shipped, to begin one's own from."""
    return list(SHIPPED.values())


@router.post("/profiles/preview")
def preview_profile(request: pieces.ProfileRequest) -> pieces.ProfilePreview:
    """A small piece as a profile writes it; a profile that cannot be trusted is refused.

    A strip under height control where the profile has words for that, else a square.
    """
    axes = FRAME
    if request.x_runs is not None and request.y_runs is not None:
        axes = AxisMap(request.x_runs, request.y_runs)
    piece = piece_of("long_strip" if request.profile.height_on else "square", _SAMPLE, scrap_edge=False)
    job = PieceJob(piece, _SAMPLE, request.profile, axes)
    return pieces.ProfilePreview(program=piece_file("piece.nc", job).decode())


# Made-up numbers, only to show how a profile writes them.
_SAMPLE = Campaign(
    "mild_steel",
    8.0,
    TorchSet("example set", 70, "air", "clockwise"),
    StartValues(2100, 128.0, 1.5, 3.8, 0.5, 1.8),
    Target(2.0),
    Limits((1200, 3400), (0.8, 3.2)),
    title="example",
)


def _plate(session: Session, row: PlateRow) -> pieces.PlateAnswer:
    assert row.id is not None
    return pieces.PlateAnswer(
        **row.model_dump(include={"id", "name", "width_mm", "height_mm", "margin_mm"}),
        free_share=plates.core_plate(session, row).free_share,
        zones=[
            pieces.ZoneAnswer(**z.model_dump(exclude={"plate_id", "struck_out"}))
            for z in plates.zones(session, row.id)
        ],
    )
