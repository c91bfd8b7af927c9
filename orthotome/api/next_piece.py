"""The next piece of a trial, with all that its answers and files need."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from sqlmodel import Session

from orthotome.api import piece_models as pieces
from orthotome.api.judging import Judge, next_cut, next_settings
from orthotome.core.axis_map import FRAME
from orthotome.core.campaign import Campaign
from orthotome.core.errors import TradeError
from orthotome.core.nesting import Plate, Rectangle, nest
from orthotome.core.paths import Point
from orthotome.core.pieces import ACCELERATION_MM_S2, Piece, strip_ladder
from orthotome.core.rings import Ring
from orthotome.core.trial_plan import opening_ladder_mm_min
from orthotome.formats.piece_set import PieceJob, batch_of, nicked, piece_of, setting_of
from orthotome.formats.profile import SHIPPED
from orthotome.formats.table_settings import TableSettings
from orthotome.store import machine, own_parts, plates, shop
from orthotome.store import trials as store

Setting = tuple[float, float]


@dataclass(frozen=True)
class NextPiece:
    """A piece at its place, with the table it is for.

    ``squares`` are their (speed, height), in the order of ``spots``; empty where it is another kind.
    """

    job: PieceJob
    spots: tuple[Rectangle, ...]
    squares: tuple[Setting, ...]
    needs_mm: Point
    settings: TableSettings

    @property
    def delay_s(self) -> float:
        """Pierce delay of the setting."""
        return self.job.campaign.start.pierce_delay_s

    @property
    def acceleration_mm_s2(self) -> float:
        """Of the table, or an ordinary one's while its own is not written down."""
        return self.settings.acceleration_mm_s2 or ACCELERATION_MM_S2


def next_piece(session: Session, trial_id: int, judge: Judge, asked: pieces.PieceQuery) -> NextPiece:
    """The piece asked for, at its place on the plate asked for.

    Raises TradeError where the plate does not hold it, or a part of one's own cannot be cut so.
    """
    if asked.count > 1 and asked.kind != "square":
        raise TradeError("count", "only squares are cut several at once.")
    found = store.trial(session, trial_id)
    logged = store.logged_cuts(session, trial_id)
    campaign = store.campaign_of(session, found, logged)
    judgement = judge.judge(trial_id, found.revision, campaign, asked.count)
    known, cut = judgement.learned.campaign, next_cut(judgement)
    start = replace(known.start, speed_mm_min=cut.speed_mm_min, cut_height_mm=cut.cut_height_mm)
    campaign = replace(known, start=start, title=known.title or f"trial {trial_id}")
    settings = machine.settings(shop.table(session, found.table_id))
    plate = None
    if asked.plate_id is not None:
        plate = plates.core_plate(session, plates.plate(session, asked.plate_id))
    number = asked.first or store.next_number(session, trial_id)
    squares: tuple[Setting, ...] = ()
    if asked.kind == "square":
        squares = tuple(asked.squares() or next_settings(judgement, asked.count))
        made = batch_of(campaign, squares, number, plate, settings.acceleration_mm_s2)
    else:
        acceleration = settings.acceleration_mm_s2
        single = _single(session, asked, campaign, known, nicks=nicked(number), a_mm_s2=acceleration)
        made = _laid(single, plate)
    piece, spots = made
    return NextPiece(
        PieceJob(
            piece,
            campaign,
            settings.profile or SHIPPED["metric"],
            settings.axis_map() or FRAME,
            number=number,
            note=f"Orthotome trial {trial_id}, cut {number}",
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


def _single(
    session: Session,
    asked: pieces.PieceQuery,
    campaign: Campaign,
    known: Campaign,
    *,
    nicks: int,
    a_mm_s2: float | None,
) -> Piece:
    """A piece of another kind; of a metal that nothing is known of here, the ladder is the coarse one."""
    if asked.kind == "strip_ladder" and not known.cuts and known.start.arc_voltage_v is None:
        speeds = opening_ladder_mm_min(known.start, known.limits)
        return strip_ladder(setting_of(campaign, a_mm_s2), speeds, number=nicks)
    own = _own(session, asked)
    return piece_of(asked.kind, campaign, number=nicks, own=own, acceleration_mm_s2=a_mm_s2)


def _laid(piece: Piece, plate: Plate | None) -> tuple[Piece, tuple[Rectangle, ...]]:
    """A piece at its free place on a plate."""
    if plate is None:
        return piece, (Rectangle(0.0, 0.0, *piece.plate_mm),)
    spots = nest([piece.plate_mm], plate)
    return piece.moved(spots[0].x_mm, spots[0].y_mm), spots


def _own(session: Session, asked: pieces.PieceQuery) -> tuple[str, tuple[Ring, ...]] | None:
    if asked.kind != "own_part":
        return None
    if asked.own_part_id is None:
        raise TradeError("own_part_id", "say which part: import its drawing first.")
    row = own_parts.own_part(session, asked.own_part_id)
    return row.name, own_parts.rings_of(row)
