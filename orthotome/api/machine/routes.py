"""A table's own page, its air, what nobody wrote down, and the words of its programs."""

from typing import Annotated

from fastapi import Query
from fastapi.responses import Response

from orthotome.api.bodies import PICTURE_TYPES, PictureBody, takes
from orthotome.api.depends import Reading, Store
from orthotome.api.machine import answers, models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.book.start_rows import StartValues
from orthotome.core.machine.air import AirFinding, cylinder_life, judge_air
from orthotome.core.machine.axis_map import FRAME, AxisMap, Direction
from orthotome.core.trial.campaign import Campaign, Limits, Target, TorchSet
from orthotome.desk.working.apart import apart
from orthotome.formats.log.photo import MEDIA_TYPE, read_photo
from orthotome.formats.machine.profile import SHIPPED, OutputProfile
from orthotome.formats.machine.table_page import AirFile
from orthotome.formats.pieces.piece_set import PieceJob, piece_file, piece_of
from orthotome.formats.reading import FileError
from orthotome.store.errors import NotFound
from orthotome.store.machine import pages
from orthotome.store.shop import shop

router = room("machine")


@router.get("/tables/{table_id}/settings")
def get_settings(table_id: Id, session: Reading) -> models.SettingsAnswer:
    """A table's page."""
    return answers.settings(shop.table(session, table_id))


@router.patch("/tables/{table_id}/settings")
def change_settings(
    table_id: Id, request: models.SettingsChange, database: Store
) -> models.SettingsAnswer:
    """Change what is given of a table's page; a null takes it back to "not known"."""
    changed = request.settings.model_dump(mode="json", exclude_unset=True)
    with database.write() as session:
        pages.change_settings(session, table_id, changed, request.bed, request.version)
        return answers.settings(shop.table(session, table_id))


@router.get("/axes")
def read_jogs(x_runs: Direction, y_runs: Direction) -> models.JogsAnswer:
    """What two jogs prove: which way X plus and Y plus moved the torch."""
    found = AxisMap(x_runs, y_runs)
    return models.JogsAnswer(sentence=found.in_words, mirrors=found.mirrors)


@router.post("/air")
def read_air(request: AirFile) -> list[AirFinding]:
    """Every question about an air supply with its answer in a sentence."""
    supply = request.supply()
    if supply is None:
        raise FileError(
            "need_l_min: the source's need comes first; its manual gives it in litres a minute."
        )
    return list(judge_air(supply))


@router.post("/cylinders")
def read_cylinders(request: models.CylinderRequest) -> models.CylinderAnswer:
    """How far cylinders carry a job."""
    return models.CylinderAnswer.model_validate(
        cylinder_life(**request.model_dump()), from_attributes=True
    )


@router.get("/tables/{table_id}/facts")
def get_facts(table_id: Id, session: Reading) -> list[models.FactAnswer]:
    """What was noted of a table that its maker never wrote down."""
    return [answers.fact(f) for f in pages.facts(session, table_id)]


@router.post("/tables/{table_id}/facts", status_code=201)
def add_fact(table_id: Id, request: models.FactRequest, database: Store) -> models.FactAnswer:
    """Note something about a table."""
    with database.write() as session:
        return answers.fact(pages.add_fact(session, table_id, request.title, request.told))


@router.put("/facts/{fact_id}/photo", status_code=204, openapi_extra=takes(*PICTURE_TYPES))
def put_photo(fact_id: Id, body: PictureBody, database: Store) -> None:
    """A photo of it, in the place of the one there was; kept without where it was taken."""
    photo = apart("photo", read_photo, body)
    with database.write() as session:
        found = pages.fact(session, fact_id)
        found.photo, found.photo_type = photo.picture, MEDIA_TYPE
        session.add(found)


@router.get("/facts/{fact_id}/photo")
def get_photo(fact_id: Id, session: Reading) -> Response:
    """The photo of a note."""
    found = pages.fact(session, fact_id)
    if found.photo is None:
        raise NotFound("There is no photo of that.", "fact_id")
    return Response(found.photo, media_type=found.photo_type)


@router.put("/facts/{fact_id}/struck", status_code=204)
def strike_fact(fact_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Strike a note out, or put it back."""
    with database.write() as session:
        found = pages.fact(session, fact_id)
        found.struck_out = out
        session.add(found)


@router.get("/profiles")
def get_profiles() -> list[OutputProfile]:
    """The neutral profiles that are shipped, to begin one's own from."""
    return list(SHIPPED.values())


@router.post("/profiles/preview")
def preview_profile(request: models.ProfileRequest) -> models.ProfilePreview:
    """A small piece as a profile writes it; a profile that cannot be trusted is refused.

    A strip under height control where the profile has words for that, else a square.
    """
    axes = FRAME
    if request.x_runs is not None and request.y_runs is not None:
        axes = AxisMap(request.x_runs, request.y_runs)
    piece = piece_of("long_strip" if request.profile.height_on else "square", _SAMPLE, scrap_edge=False)
    job = PieceJob(piece, _SAMPLE, request.profile, axes)
    return models.ProfilePreview(program=piece_file("piece.nc", job).decode())


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
