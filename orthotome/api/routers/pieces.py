"""Test pieces of a trial: what is cut next, as drawing, program, cut sheet, and how it is written."""

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response
from sqlmodel import Session

from orthotome.api import models
from orthotome.api import piece_models as pieces
from orthotome.api.depends import Reading, TheJudge
from orthotome.api.judging import Judge, next_cut
from orthotome.core.axis_map import FRAME, AxisMap
from orthotome.core.campaign import Campaign, Limits, Target, TorchSet
from orthotome.core.errors import TradeError
from orthotome.core.pieces import MOST_NICKED, Piece, PieceName, check_plate, strip_ladder
from orthotome.core.start_rows import StartValues
from orthotome.core.trial_plan import opening_ladder_mm_min
from orthotome.formats.piece_set import PieceJob, piece_file, piece_of, setting_of
from orthotome.formats.profile import SHIPPED, OutputProfile
from orthotome.store import machine, shop
from orthotome.store import trials as store

router = APIRouter(tags=["pieces"])

_MEDIA = {
    "piece.svg": "image/svg+xml",
    "piece.dxf": "image/vnd.dxf",
    "piece.pdf": "application/pdf",
    "piece.json": "application/json",
}


@router.get("/trials/{trial_id}/piece")
def get_piece(
    trial_id: models.Id,
    session: Reading,
    judge: TheJudge,
    asked: Annotated[pieces.PieceQuery, Query()],
) -> pieces.PieceAnswer:
    """What the next piece needs: plate, time, pierces; and whether it fits the plate that is there."""
    job = _job(session, trial_id, judge, asked.kind)
    refused = None
    if asked.plate_x_mm is not None and asked.plate_y_mm is not None:
        try:
            check_plate(job.piece, (asked.plate_x_mm, asked.plate_y_mm))
        except TradeError as small:
            refused = small.sentence
    piece = job.piece
    return pieces.PieceAnswer(
        kind=piece.kind,
        title=piece.title,
        plate_mm=piece.plate_mm,
        pierces=len(piece.contours),
        cut_length_mm=piece.cut_length_mm,
        seconds=piece.seconds(job.campaign.start.pierce_delay_s),
        does_not_fit=refused,
        profile=job.profile.name,
    )


@router.get("/trials/{trial_id}/piece.nc")
def get_program(
    trial_id: models.Id,
    session: Reading,
    judge: TheJudge,
    kind: PieceName = "square",
    dry_run: bool = False,
) -> Response:
    """The next piece as a cutting program in this table's words and axes."""
    job = _job(session, trial_id, judge, kind)
    name = f"trial-{trial_id}-cut-{job.number}-{kind}{'-dry' if dry_run else ''}.nc"
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    text = piece_file("piece-dry.nc" if dry_run else "piece.nc", job)
    return Response(text, media_type="text/plain", headers=headers)


@router.get("/trials/{trial_id}/piece.svg")
def get_drawing(
    trial_id: models.Id, session: Reading, judge: TheJudge, kind: PieceName = "square"
) -> Response:
    """The next piece as a drawing at true scale."""
    return _file("piece.svg", _job(session, trial_id, judge, kind))


@router.get("/trials/{trial_id}/piece.dxf")
def get_dxf(
    trial_id: models.Id, session: Reading, judge: TheJudge, kind: PieceName = "square"
) -> Response:
    """The next piece as a DXF drawing."""
    return _file("piece.dxf", _job(session, trial_id, judge, kind))


@router.get("/trials/{trial_id}/piece.json")
def get_piece_file(
    trial_id: models.Id, session: Reading, judge: TheJudge, kind: PieceName = "square"
) -> Response:
    """The next piece as ``orthotome.piece``."""
    return _file("piece.json", _job(session, trial_id, judge, kind))


@router.get("/trials/{trial_id}/piece.pdf")
def get_cut_sheet(
    trial_id: models.Id,
    request: Request,
    session: Reading,
    judge: TheJudge,
    kind: PieceName = "square",
) -> Response:
    """The next piece as a cut sheet, with a code that leads back to the trial."""
    job = replace(_job(session, trial_id, judge, kind), address=f"{request.base_url}trials/{trial_id}")
    return _file("piece.pdf", job)


@router.get("/profiles")
def get_profiles() -> list[OutputProfile]:
    """The neutral profiles that are shipped, to begin one's own from."""
    return list(SHIPPED.values())


@router.post("/profiles/preview")
def preview_profile(request: pieces.ProfileRequest) -> pieces.ProfilePreview:
    """A small square as a profile writes it; a profile that cannot be trusted is refused."""
    axes = FRAME
    if request.x_runs is not None and request.y_runs is not None:
        axes = AxisMap(request.x_runs, request.y_runs)
    piece = piece_of("square", _SAMPLE)
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


def _file(name: str, job: PieceJob) -> Response:
    return Response(piece_file(name, job), media_type=_MEDIA[name])


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
