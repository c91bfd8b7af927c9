"""Pieces that tell of the machine, with their programs: a rectangle as large as the sheet, a circle each way round, a zig-zag."""

from typing import Annotated, Literal

from fastapi import Query
from fastapi.responses import Response
from pydantic import Field
from sqlmodel import Session

from orthotome.api.depends import Numbers, Reading, Store
from orthotome.api.routing import room
from orthotome.api.wire import Id, Wire
from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import FRAME
from orthotome.core.pieces import Piece
from orthotome.core.pieces.machine_truth import true_rectangle, two_circles, zig_zag
from orthotome.core.quantities import duration, length, spoken
from orthotome.core.trial.campaign import Campaign, Limits, Target
from orthotome.formats.machine.profile import SHIPPED
from orthotome.formats.pieces.piece_set import PieceJob, basis_of, piece_file
from orthotome.formats.reading import FileModel
from orthotome.store.book import recipes
from orthotome.store.height.trial_volts import NumbersNow
from orthotome.store.machine import pages
from orthotome.store.programs import programs
from orthotome.store.shop import shop
from orthotome.store.trial import trials

router = room("machine")

ProofName = Literal["rectangle", "circles", "zig-zag-x", "zig-zag-y"]
Form = Literal["nc", "dry.nc", "svg", "dxf", "pdf"]
_MEDIA = {
    "nc": "text/plain",
    "dry.nc": "text/plain",
    "svg": "image/svg+xml",
    "dxf": "image/vnd.dxf",
    "pdf": "application/pdf",
}


class ProofQuery(Wire):
    """The setting that it is cut with, the sheet there is, and the speed that a zig-zag is run at."""

    recipe_id: Id | None = None
    trial_id: Id | None = None
    sheet_x_mm: Annotated[float, Field(ge=50, le=20_000)] | None = None
    sheet_y_mm: Annotated[float, Field(ge=50, le=20_000)] | None = None
    speed_mm_min: Annotated[float, Field(ge=100, le=200_000)] | None = None


class ProofAnswer(Wire):
    """A piece that tells of the machine: what is drawn, what it takes."""

    title: str
    size_mm: tuple[float, float]
    window_mm: float | None
    plate_mm: tuple[float, float]
    kerf_mm: float
    legs: int | None
    leg_mm: float | None
    speed_mm_min: float | None
    says: str


class KerfRequest(FileModel):
    """A kerf that was measured, and the setting that it was cut with."""

    recipe_id: Id | None = None
    trial_id: Id | None = None
    kerf_mm: Annotated[float, Field(ge=0.2, le=12)]


class KerfAnswer(Wire):
    """What was written; ``recipe_id`` is the new revision's."""

    was_mm: float
    kerf_mm: float
    recipe_id: int | None
    sentence: str


def _job(
    session: Session, table_id: int, name: ProofName, of: ProofQuery, numbers: NumbersNow
) -> tuple[PieceJob, ProofAnswer]:
    setting = programs.of_offer(session, of.recipe_id, of.trial_id, numbers)
    if setting.job is None or setting.torch is None:
        raise TradeError(
            "trial_id",
            "say which recipe or trial it is cut with: its kerf, speed and lead-ins are of a setting.",
        )
    table = shop.table(session, table_id)
    page, start = pages.settings(table), setting.job.setting
    speed = of.speed_mm_min or start.speed_mm_min
    campaign = Campaign(
        setting.metal,
        setting.job.thickness_mm,
        setting.torch,
        start,
        Target(2.0),
        Limits((start.speed_mm_min, start.speed_mm_min), (start.cut_height_mm, start.cut_height_mm)),
        title=setting.title,
    )
    basis = basis_of(campaign, page.acceleration_mm_s2)
    legs = leg = None
    piece: Piece
    if name == "rectangle":
        sheet = (of.sheet_x_mm or page.extent_x_mm, of.sheet_y_mm or page.extent_y_mm)
        if sheet[0] is None or sheet[1] is None:
            raise TradeError(
                "sheet_x_mm", "type the sheet that there is: the rectangle is as large as it allows."
            )
        piece = true_rectangle(basis, (sheet[0], sheet[1]))
    elif name == "circles":
        piece = two_circles(basis)
    else:
        piece, legs, leg = zig_zag(basis, "x" if name == "zig-zag-x" else "y", speed)
    job = PieceJob(
        piece,
        campaign,
        page.profile or SHIPPED["inch" if spoken().in_inches else "metric"],
        page.axis_map() or FRAME,
        note=f"Orthotome, {table.name}",
        acceleration_mm_s2=page.acceleration_mm_s2,
        fastest_mm_min=page.fastest_mm_min,
    )
    holes = [h for p in piece.parts for h in p.holes]
    window = max(x for x, _ in holes[0]) - min(x for x, _ in holes[0]) if name == "rectangle" else None
    return job, ProofAnswer(
        title=piece.title,
        size_mm=piece.size_mm,
        window_mm=window,
        plate_mm=piece.plate_mm,
        kerf_mm=start.kerf_mm,
        legs=legs,
        leg_mm=leg,
        speed_mm_min=speed if legs else None,
        says=_says(name, job, legs),
    )


def _says(name: ProofName, job: PieceJob, legs: int | None) -> str:
    if legs:
        return f"{job.piece.title}: torch off, about {duration(job.seconds)}."
    steel = job.piece.plate_mm
    return f"{job.piece.title}: {job.time_said}, on {length(steel[0])} by {length(steel[1])} of plate."


@router.get("/tables/{table_id}/proof-pieces/{name}")
def get_proof_piece(
    table_id: Id,
    name: ProofName,
    *,
    session: Reading,
    of: Annotated[ProofQuery, Query()],
    numbers: Numbers,
) -> ProofAnswer:
    """A piece that tells of the machine."""
    return _job(session, table_id, name, of, numbers)[1]


@router.get("/tables/{table_id}/proof-pieces/{name}/piece.{form}")
def get_proof_file(
    table_id: Id,
    name: ProofName,
    form: Form,
    *,
    session: Reading,
    of: Annotated[ProofQuery, Query()],
    numbers: Numbers,
) -> Response:
    """A file of it, in the table's own words; a zig-zag only with the torch off."""
    job, _ = _job(session, table_id, name, of, numbers)
    dry = form == "dry.nc" or (form == "nc" and name.startswith("zig-zag"))
    file = "piece-dry.nc" if dry else f"piece.{form}"
    saved = f"{name}{'-dry' if dry else ''}.{'nc' if dry else form}"
    headers = {"content-disposition": f'attachment; filename="{saved}"'}
    return Response(piece_file(file, job), media_type=_MEDIA[form], headers=headers)


@router.put("/kerf")
def write_kerf(request: KerfRequest, store: Store, numbers: Numbers) -> KerfAnswer:
    """Write a measured kerf into its setting: pieces, programs and checks make room for it from then on."""
    with store.write() as session:
        setting = programs.of_offer(session, request.recipe_id, request.trial_id, numbers)
        if setting.job is None:
            raise TradeError("trial_id", "say which recipe or trial it was cut with.")
        was = setting.job.setting.kerf_mm
        locked = trials.recipe_of(session, request.trial_id) if request.trial_id else None
        recipe_id = request.recipe_id or (locked.id if locked else None)
        if recipe_id is not None:
            row = recipes.with_kerf(session, recipe_id, request.kerf_mm)
            said = f"{row.title}, revision {row.revision}, makes room for {length(request.kerf_mm)}."
            return KerfAnswer(was_mm=was, kerf_mm=request.kerf_mm, recipe_id=row.id, sentence=said)
        trials.kerf_is(session, request.trial_id or 0, request.kerf_mm)
        said = f"{setting.title} makes room for {length(request.kerf_mm)} from now on."
        return KerfAnswer(was_mm=was, kerf_mm=request.kerf_mm, recipe_id=None, sentence=said)
