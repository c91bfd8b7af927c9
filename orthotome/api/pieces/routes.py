"""Test pieces of a trial: what is cut next, to look at, as files, and noted once it is cut."""

from dataclasses import replace
from typing import Annotated, Literal

from fastapi import Query, Request
from fastapi.responses import Response

from orthotome.api.bodies import DRAWING_TYPES, DrawingBody, takes
from orthotome.api.depends import Reading, Store, TheJudge, as_it_is
from orthotome.api.pieces import models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.api.writing_judged import writing_judged
from orthotome.core.errors import TradeError
from orthotome.core.log.items import items_of, square_item
from orthotome.core.machine.motion import blind_length_mm
from orthotome.core.pieces import played, real_time, square_size_mm
from orthotome.core.setting import Setting
from orthotome.desk.pieces.next_piece import NextPiece, next_piece
from orthotome.desk.working.apart import apart
from orthotome.formats.pieces.curves import Unit
from orthotome.formats.pieces.drawing import read_drawing
from orthotome.formats.pieces.piece_set import basis_of, nicked, piece_file
from orthotome.store.pieces import own_parts, planned, plates
from orthotome.store.pieces.planned import PieceCut
from orthotome.store.tables import OwnPart

router = room("pieces")


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
    trial_id: Id,
    session: Reading,
    judge: TheJudge,
    asked: Annotated[models.PieceQuery, Query()],
) -> models.PieceAnswer:
    """What the next piece needs, and where it goes on the plate asked for, if it fits there."""
    refused = None
    try:
        found = next_piece(session, trial_id, judge, asked.asked())
    except TradeError as full:
        if full.field != "plate":
            raise
        refused = full.sentence
        found = next_piece(session, trial_id, judge, replace(asked.asked(), plate_id=None))
    on_plate = asked.plate_id is not None and refused is None
    piece = found.job.piece
    return models.PieceAnswer(
        kind=piece.kind,
        title=piece.title,
        plate_mm=found.needs_mm,
        pierces=len(piece.contours),
        cut_length_mm=piece.cut_length_mm,
        notes=list(piece.notes),
        reach=_reach(found),
        steel_mm2=found.needs_mm[0] * found.needs_mm[1],
        does_not_fit=refused,
        spots=[models.ZoneModel(**vars(s)) for s in found.spots] if on_plate else [],
        batch=_batch(found),
        profile=found.job.profile.name,
    )


@router.get("/trials/{trial_id}/piece/played", response_model=models.PlayedAnswer)
def get_played(
    trial_id: Id,
    session: Reading,
    judge: TheJudge,
    asked: Annotated[models.PieceQuery, Query()],
) -> Response:
    """The path of the next piece on its plate, with where the torch is when."""
    found = next_piece(session, trial_id, judge, asked.asked())
    piece, settings = found.job.piece, found.settings
    runs = played(piece, found.delay_s, found.acceleration_mm_s2, settings.fastest_mm_min)
    plate = None if asked.plate_id is None else plates.plate(session, asked.plate_id)
    taken = () if plate is None else plates.core_plate(session, plate).taken
    answer = models.PlayedAnswer(
        title=piece.title,
        plate_mm=piece.plate_mm if plate is None else (plate.width_mm, plate.height_mm),
        extents_mm=piece.extents_mm,
        taken=[models.ZoneModel(**vars(t)) for t in taken],
        parts=[
            models.PartModel(rings=[list(p.outline), *map(list, p.holes)], scrap=p.scrap)
            for p in piece.parts
        ],
        contours=[
            models.PlayedContour(
                name=c.name,
                number=c.number,
                kept_side=c.kept_side,
                inside=c.inside,
                speed_mm_min=c.speed_mm_min,
                cut_height_mm=c.cut_height_mm,
                pierce_delay_s=c.delay_s(found.delay_s),
                height_control=c.height_control,
                samples=[
                    models.SampleModel(
                        at_s=round(s.at_s, 4),
                        x_mm=round(s.at[0], 3),
                        y_mm=round(s.at[1], 3),
                        speed_mm_min=round(s.speed_mm_min, 1),
                        kind=s.kind,
                        slow=s.slow,
                    )
                    for s in samples
                ],
            )
            for c, samples in zip(piece.contours, runs, strict=True)
        ],
        seconds=runs[-1][-1].at_s,
    )
    return as_it_is(answer)


@router.get("/trials/{trial_id}/piece.{form}")
def get_piece_file(
    trial_id: Id,
    form: Form,
    *,
    request: Request,
    session: Reading,
    judge: TheJudge,
    asked: Annotated[models.FileQuery, Query()],
) -> Response:
    """The next piece as a program in this table's words and axes, a drawing, a cut sheet, or a file.

    With a plate it lies at its free place there; the cut sheet has a code that leads back to the trial.
    """
    found = next_piece(session, trial_id, judge, asked.asked())
    job = replace(found.job, address=f"{request.base_url}trials/{trial_id}")
    dry = form == "nc" and asked.dry_run
    headers = {}
    if form == "nc":
        name = f"trial-{trial_id}-cut-{job.number}-{asked.kind}{'-dry' if dry else ''}.nc"
        headers = {"content-disposition": f'attachment; filename="{name}"'}
    content = piece_file("piece-dry.nc" if dry else f"piece.{form}", job)
    return Response(content, media_type=_MEDIA[form], headers=headers)


@router.post("/trials/{trial_id}/piece/cut", status_code=201)
def cut_piece(
    trial_id: Id, request: models.CutPieceRequest, database: Store, judge: TheJudge
) -> models.CutPieceAnswer:
    """Remember that the next piece was cut: its place is taken, and squares wait to be read."""
    asked = models.PieceQuery(**request.model_dump())
    with writing_judged(database, trial_id, judge, asked.count) as (session, _, _):
        found = next_piece(session, trial_id, judge, asked.asked())
        rows = planned.note_cut(session, trial_id, _cut_pieces(trial_id, found), request.plate_id)
        return models.CutPieceAnswer(waiting=[r.id for r in rows if r.id is not None])


def _cut_pieces(trial_id: int, found: NextPiece) -> list[PieceCut]:
    """What was cut: squares each with its own setting, any other piece whole, with what there is to look at on it."""
    piece, each = found.job.piece, found.job.profile.starts_each
    if not found.squares:
        start = found.job.campaign.start
        return [
            PieceCut(
                found.job.number,
                Setting.of(start),
                f"trial {trial_id}, {piece.title}",
                kind=piece.kind,
                items=items_of(piece, start.kerf_mm),
                pierces=each * len(piece.contours),
                arc_on_s=round(piece.seconds(start.pierce_delay_s), 1),
                spot=found.spots[0],
            )
        ]
    return [
        PieceCut(
            b.number,
            setting,
            f"trial {trial_id}, piece {b.number}",
            items=(square_item(_side_mm(found, setting), found.job.campaign.start.kerf_mm),),
            pierces=each * sum(c.number in (b.number, None) for c in piece.contours),
            arc_on_s=_arc_on_s(found, b.number),
            spot=spot,
        )
        for b, setting, spot in zip(_batch(found), found.squares, found.spots, strict=True)
    ]


def _arc_on_s(found: NextPiece, number: int) -> float:
    """Arc time of one square of several, with what is cut for all of them."""
    delay_s = found.job.campaign.start.pierce_delay_s
    own = (c for c in found.job.piece.contours if c.number in (number, None))
    return round(sum(c.seconds(delay_s) for c in own), 1)


def _side_mm(found: NextPiece, setting: Setting) -> float:
    """The side of a square cut at a setting: it grows with what the machine needs to come to speed."""
    campaign = found.job.campaign
    at = replace(campaign, start=replace(campaign.start, **vars(setting)))
    return square_size_mm(basis_of(at, found.settings.acceleration_mm_s2))


@router.put("/planned-cuts/{planned_id}/struck", status_code=204)
def strike_planned(planned_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """A piece that was not cut after all, or was: its place goes with it."""
    with database.write() as session:
        planned.strike(session, planned_id, out=out)


@router.get("/own-parts")
def get_own_parts(session: Reading) -> list[models.OwnPartAnswer]:
    """The shop's own test parts, newest first."""
    return [_own_part(p) for p in own_parts.own_parts(session)]


@router.post("/own-parts", status_code=201, openapi_extra=takes(*DRAWING_TYPES))
def add_own_part(
    body: DrawingBody,
    database: Store,
    name: Annotated[str, Query(min_length=1, max_length=120)],
    unit: Annotated[Unit | None, Query()] = None,
) -> models.OwnPartAnswer:
    """A part from a drawing, DXF or SVG; ``unit`` where the drawing does not name its own."""
    found = apart("drawing", read_drawing, body, unit)
    with database.write() as session:
        return _own_part(own_parts.add(session, name, found))


@router.put("/own-parts/{part_id}/struck", status_code=204)
def strike_own_part(part_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Take a part off the list, or put it back."""
    with database.write() as session:
        row = own_parts.own_part(session, part_id)
        row.struck_out = out
        session.add(row)


def _reach(found: NextPiece) -> models.ReachModel:
    real = real_time(found.job.piece, found.delay_s, found.acceleration_mm_s2)
    followed = [c for c in found.job.piece.contours if c.height_control]
    delay_s, origin = found.settings.height_delay_s, found.settings.delay_origin
    blind = None
    if followed and delay_s is not None and origin is not None:
        fastest = max(c.speed_mm_min for c in followed)
        blind = blind_length_mm(fastest, delay_s, origin, found.delay_s)
    return models.ReachModel(
        acceleration_mm_s2=found.acceleration_mm_s2,
        assumed=found.settings.acceleration_mm_s2 is None,
        seconds=found.job.seconds,
        fastest_assumed=found.settings.fastest_mm_min is None,
        share_at_speed=real.share_at_speed,
        blind_mm=blind,
    )


def _batch(found: NextPiece) -> list[models.PieceInBatch]:
    first = found.job.number
    return [
        models.PieceInBatch(
            number=first + i,
            nicks=nicked(first + i),
            **vars(setting),
            spot=models.ZoneModel(**vars(found.spots[i])),
        )
        for i, setting in enumerate(found.squares)
    ]


def _own_part(row: OwnPart) -> models.OwnPartAnswer:
    came_to = own_parts.measured_of(row)
    assert row.id is not None
    return models.OwnPartAnswer(
        id=row.id,
        name=row.name,
        notes=[came_to.in_words, *own_parts.notes_of(row)],
        contours=came_to.outlines + came_to.holes,
        holes=came_to.holes,
        size_mm=came_to.size_mm,
    )
