"""Test pieces of a trial: what is cut next, as drawing, program, cut sheet, and how it is written."""

from dataclasses import replace
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response
from sqlmodel import Session

from orthotome.api import models
from orthotome.api import piece_models as pieces
from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.judging import Judge, next_cut
from orthotome.core.axis_map import FRAME, AxisMap
from orthotome.core.campaign import Campaign, Limits, Target, TorchSet
from orthotome.core.errors import TradeError
from orthotome.core.nesting import Plate, Rectangle, nest
from orthotome.core.pieces import MOST_NICKED, Piece, PieceName, real_time, strip_ladder
from orthotome.core.start_rows import StartValues
from orthotome.core.trial_plan import opening_ladder_mm_min
from orthotome.formats.piece_set import PieceJob, piece_file, piece_of, setting_of
from orthotome.formats.profile import SHIPPED, OutputProfile
from orthotome.store import machine, plates, shop
from orthotome.store import trials as store
from orthotome.store.tables import PlateRow

router = APIRouter(tags=["pieces"])

Form = Literal["nc", "svg", "dxf", "pdf", "json"]

_MEDIA: dict[Form, str] = {
    "nc": "text/plain",
    "svg": "image/svg+xml",
    "dxf": "image/vnd.dxf",
    "pdf": "application/pdf",
    "json": "application/json",
}


@router.get("/trials/{trial_id}/piece")
def get_piece(
    trial_id: models.Id,
    session: Reading,
    judge: TheJudge,
    asked: Annotated[pieces.PieceQuery, Query()],
) -> pieces.PieceAnswer:
    """What the next piece needs, and where it goes on the plate asked for, if it fits there."""
    job = _job(session, trial_id, judge, asked.kind)
    spot = refused = None
    if asked.plate_id is not None:
        try:
            spot = _spot(session, job.piece, asked.plate_id)
        except TradeError as full:
            refused = full.sentence
    piece, delay_s = job.piece, job.campaign.start.pierce_delay_s
    table = shop.table(session, store.trial(session, trial_id).table_id)
    acceleration = machine.settings(table).acceleration_mm_s2
    real = real_time(piece, delay_s, acceleration) if acceleration else None
    return pieces.PieceAnswer(
        kind=piece.kind,
        title=piece.title,
        plate_mm=piece.plate_mm,
        pierces=len(piece.contours),
        cut_length_mm=piece.cut_length_mm,
        seconds=piece.seconds(delay_s),
        real_seconds=real.seconds if real else None,
        share_at_speed=real.share_at_speed if real else None,
        does_not_fit=refused,
        spot=pieces.ZoneModel(**vars(spot)) if spot else None,
        profile=job.profile.name,
    )


@router.get("/trials/{trial_id}/piece.{form}")
def get_piece_file(
    trial_id: models.Id,
    form: Form,
    *,
    request: Request,
    session: Reading,
    judge: TheJudge,
    asked: Annotated[pieces.FileQuery, Query()],
) -> Response:
    """The next piece as a program in this table's words and axes, a drawing, a cut sheet, or a file.

    With a plate it lies at its free place there; the cut sheet has a code that leads back to the trial.
    """
    job = _job(session, trial_id, judge, asked.kind)
    if asked.plate_id is not None:
        spot = _spot(session, job.piece, asked.plate_id)
        job = replace(job, piece=job.piece.moved(spot.x_mm, spot.y_mm))
    job = replace(job, address=f"{request.base_url}trials/{trial_id}")
    dry = form == "nc" and asked.dry_run
    headers = {}
    if form == "nc":
        name = f"trial-{trial_id}-cut-{job.number}-{asked.kind}{'-dry' if dry else ''}.nc"
        headers = {"content-disposition": f'attachment; filename="{name}"'}
    content = piece_file("piece-dry.nc" if dry else f"piece.{form}", job)
    return Response(content, media_type=_MEDIA[form], headers=headers)


@router.post("/trials/{trial_id}/piece/cut", status_code=201)
def cut_piece(
    trial_id: models.Id, request: pieces.CutPieceRequest, database: Store, judge: TheJudge
) -> pieces.PlateAnswer:
    """Remember that the next piece was cut from a plate: its place is taken from now on."""
    with database.write() as session:
        job = _job(session, trial_id, judge, request.kind)
        spot = _spot(session, job.piece, request.plate_id)
        what = f"trial {trial_id}, cut {job.number}, {job.piece.title}"
        plates.take(session, request.plate_id, spot, what)
        return _plate(session, plates.plate(session, request.plate_id))


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


def _spot(session: Session, piece: Piece, plate_id: int) -> Rectangle:
    """Where a piece goes on a plate. Raises TradeError saying what would do."""
    plate = plates.core_plate(session, plates.plate(session, plate_id))
    return nest([piece.plate_mm], plate)[0]


def _job(session: Session, trial_id: int, judge: Judge, kind: PieceName) -> PieceJob:
    """The next piece of a trial with everything its files need."""
    found = store.trial(session, trial_id)
    logged = store.logged_cuts(session, trial_id)
    judgement = judge.judge(trial_id, found.revision, store.campaign_of(session, found, logged))
    known, asked = judgement.learned.campaign, next_cut(judgement)
    start = replace(known.start, speed_mm_min=asked.speed_mm_min, cut_height_mm=asked.cut_height_mm)
    campaign = replace(known, start=start, title=known.title or f"trial {trial_id}")
    written = machine.settings(shop.table(session, found.table_id))
    number = len(logged) + 1
    return PieceJob(
        _piece(campaign, known, kind, number, written.acceleration_mm_s2),
        campaign,
        written.profile or SHIPPED["metric"],
        written.axis_map() or FRAME,
        number=number,
        note=f"Orthotome trial {trial_id}, cut {number}",
    )


def _piece(
    campaign: Campaign,
    known: Campaign,
    kind: PieceName,
    number: int,
    acceleration_mm_s2: float | None,
) -> Piece:
    nicks = number if number <= MOST_NICKED else 0
    if kind == "strip_ladder" and not known.cuts and known.start.arc_voltage_v is None:
        # Nothing is known of this metal here: the ladder is the coarse one.
        speeds = opening_ladder_mm_min(known.start, known.limits)
        return strip_ladder(setting_of(campaign, acceleration_mm_s2), speeds)
    return piece_of(kind, campaign, number=nicks, acceleration_mm_s2=acceleration_mm_s2)
