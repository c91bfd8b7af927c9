"""The next piece of a trial, with all that its answers and files need."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from sqlmodel import Session

from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import FRAME
from orthotome.core.path.paths import Point
from orthotome.core.path.rings import Ring
from orthotome.core.pieces import ACCELERATION_MM_S2, Piece, PieceName
from orthotome.core.pieces.machine_truth import holes_fitted
from orthotome.core.pieces.nesting import Plate, Rectangle, nest
from orthotome.core.quantities import spoken
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign
from orthotome.core.trial.opening import check_setting
from orthotome.desk.bench.judging import Judge, judged
from orthotome.formats.machine.profile import SHIPPED
from orthotome.formats.machine.table_page import TablePage
from orthotome.formats.pieces.piece_set import PieceJob, batch_of, nicked, piece_of
from orthotome.store.log import cuts
from orthotome.store.machine import holes, pages
from orthotome.store.pieces import own_parts, plates
from orthotome.store.shop import shop


@dataclass(frozen=True)
class PieceAsked:
    """Which piece, and the scrap there is for it. ``squares`` and ``first`` are the settings that were shown and the number
    of the first; None: what is advised now. ``fit_holes``: the round holes of a part of one's own are drawn so that they
    come out as they are drawn."""

    kind: PieceName = "square"
    plate_id: int | None = None
    count: int = 1
    squares: Sequence[Setting] | None = None
    first: int | None = None
    own_part_id: int | None = None
    fit_holes: bool = False


@dataclass(frozen=True)
class NextPiece:
    """A piece at its place, with the table it is for.

    ``squares`` are their (speed, height), in the order of ``spots``; empty where it is another kind.
    """

    job: PieceJob
    spots: tuple[Rectangle, ...]
    squares: tuple[Setting, ...]
    needs_mm: Point
    settings: TablePage

    @property
    def delay_s(self) -> float:
        """Pierce delay of the setting."""
        return self.job.campaign.start.pierce_delay_s

    @property
    def acceleration_mm_s2(self) -> float:
        """Of the table, or an ordinary one's while its own is not written down."""
        return self.settings.acceleration_mm_s2 or ACCELERATION_MM_S2


def next_piece(session: Session, trial_id: int, judge: Judge, asked: PieceAsked) -> NextPiece:
    """The piece asked for, at its place on the plate asked for.

    Raises TradeError where the plate does not hold it, or a part of one's own cannot be cut so.
    """
    if asked.count > 1 and asked.kind != "square":
        raise TradeError("count", "only squares are cut several at once.")
    from orthotome.core.tuner.next_act import next_act, next_settings  # noqa: PLC0415 (start-up time)

    found, _, judgement = judged(session, trial_id, judge, asked.count)
    act, known = next_act(judgement), judgement.learned.campaign
    own = asked.squares
    for setting in own or ():
        check_setting(setting, known.limits)
    start = replace(known.start, **vars(own[0] if own and asked.count == 1 else act.setting))
    campaign = replace(known, start=start, title=known.title or f"trial {trial_id}")
    settings = pages.settings(shop.table(session, found.table_id))
    plate = None
    if asked.plate_id is not None:
        plate = plates.core_plate(session, plates.plate(session, asked.plate_id))
    number = asked.first or cuts.next_number(session, trial_id)
    squares: tuple[Setting, ...] = ()
    if asked.kind == "square":
        squares = tuple(own or next_settings(judgement, asked.count))
        made = batch_of(campaign, squares, number, plate, settings.acceleration_mm_s2)
    else:
        acceleration = settings.acceleration_mm_s2
        redrawn: list[str] = []
        coarse = [s.speed_mm_min for s in act.ladder] if asked.kind == "strip_ladder" and not own else []
        single = piece_of(
            asked.kind,
            campaign,
            speeds_mm_min=coarse,
            number=nicked(number),
            own=_own(session, asked, found.table_id, campaign, redrawn),
            acceleration_mm_s2=acceleration,
        )
        single = replace(single, notes=(*single.notes, *redrawn))
        made = _laid(single, plate)
    piece, spots = made
    return NextPiece(
        PieceJob(
            piece,
            campaign,
            settings.profile or SHIPPED["inch" if spoken().in_inches else "metric"],
            settings.axis_map() or FRAME,
            number=number,
            note=f"Orthotome trial {trial_id}, cut {number}",
            acceleration_mm_s2=settings.acceleration_mm_s2,
            fastest_mm_min=settings.fastest_mm_min,
            told_by=judgement.volts_at,
        ),
        spots,
        squares,
        _needs(spots),
        settings,
    )


def _needs(spots: Sequence[Rectangle]) -> Point:
    """The least plate that holds all of them as they lie."""
    return (
        max(s.x_mm + s.width_mm for s in spots) - min(s.x_mm for s in spots),
        max(s.y_mm + s.height_mm for s in spots) - min(s.y_mm for s in spots),
    )


def _laid(piece: Piece, plate: Plate | None) -> tuple[Piece, tuple[Rectangle, ...]]:
    """A piece at its free place on a plate."""
    if plate is None:
        return piece, (Rectangle(0.0, 0.0, *piece.plate_mm),)
    spots = nest([piece.plate_mm], plate)
    return piece.moved(spots[0].x_mm, spots[0].y_mm), spots


def _own(
    session: Session, asked: PieceAsked, table_id: int, campaign: Campaign, redrawn: list[str]
) -> tuple[str, Sequence[Ring]] | None:
    """The part asked for; what was redrawn of its holes is said in ``redrawn``."""
    if asked.kind != "own_part":
        return None
    if asked.own_part_id is None:
        raise TradeError("own_part_id", "say which part: import its drawing first.")
    row = own_parts.own_part(session, asked.own_part_id)
    rings: Sequence[Ring] = own_parts.rings_of(row)
    if asked.fit_holes:
        torch, kerf_mm = campaign.torch_set, campaign.start.kerf_mm
        plate = holes.Plate(torch.name, campaign.metal, campaign.thickness_mm, kerf_mm)
        rings, said = holes_fitted(rings, holes.table_of(session, table_id, plate))
        redrawn += said
    return row.name, rings
