"""A contour cut otherwise, on request: the other way round, half a kerf into the scrap, with a lead-in that is long enough.

What changes which metal is kept, or where the torch pierces, is never done without being asked: it is drawn first.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.path.offsetting import offset_left
from orthotome.core.path.paths import (
    Arc,
    Line,
    Move,
    Point,
    cut_in_two,
    flattened,
    heading_rad,
    length_mm,
)
from orthotome.core.path.rings import Ring, distances, holds
from orthotome.core.pieces.piece import arc_lead_in
from orthotome.core.programs.checked_against import PlateJob, Table
from orthotome.core.programs.contour_checks import lead_in_needed_mm, overrun_needed_mm
from orthotome.core.programs.contours import ProgramContour
from orthotome.core.programs.findings import Code
from orthotome.core.programs.program import moves_of
from orthotome.core.quantities import length

WITH_JUDGEMENT: frozenset[Code] = frozenset(
    ("against_swirl", "no_kerf_compensation", "kerf_wrong_side", "lead_in_short", "lead_in_in_part")
)
"""Codes that a contour cut otherwise is rid of."""

LEAST_SHIFT_MM = 0.02  # of a path: less is no table's
_LEAD_SPARE = 1.05  # longer than it must be, so that rounding does not make it short again


@dataclass(frozen=True)
class Remake:
    """What is to be changed of a contour. ``into_scrap_mm`` moves its path away from the kept metal, or where it is
    negative towards it."""

    contour: int
    turned: bool = False
    into_scrap_mm: float = 0.0
    new_lead: bool = False


def remake_for(code: Code, contour: int, job: PlateJob) -> Remake | None:
    """What rids a contour of a finding; None where none of these does."""
    if code == "against_swirl":
        return Remake(contour, turned=True)
    if code in ("no_kerf_compensation", "kerf_wrong_side"):
        half = job.setting.kerf_mm / 2
        return Remake(contour, into_scrap_mm=half if code == "no_kerf_compensation" else 2 * half)
    return Remake(contour, new_lead=True) if code in WITH_JUDGEMENT else None


def remake_for_set(contour: ProgramContour, i: int, own: PlateJob, other: PlateJob) -> Remake | None:
    """What makes a contour that was drawn for one set fit another: its kerf and its swirl; None where it fits, or where the
    controller compensates its kerf. Raises TradeError where that one would have to be turned."""
    turned = contour.kept_side == own.good and own.good != other.good
    if contour.compensated and turned:
        raise TradeError(
            "torch_set_id",
            f"the other set swirls the other way, and the controller compensates the cut on line {contour.line}: split it "
            "where the program was made.",
        )
    if contour.kept_side is None or contour.compensated:
        return None
    wider = (other.setting.kerf_mm - own.setting.kerf_mm) / 2
    if abs(wider) < LEAST_SHIFT_MM and not turned:
        return None
    return Remake(i, turned, wider if abs(wider) >= LEAST_SHIFT_MM else 0.0)


def together(remakes: Sequence[Remake]) -> dict[int, Remake]:
    """What is asked of each contour, of all that is asked."""
    found: dict[int, Remake] = {}
    for one in remakes:
        before = found.get(one.contour, Remake(one.contour))
        found[one.contour] = Remake(
            one.contour,
            before.turned or one.turned,
            max(before.into_scrap_mm, one.into_scrap_mm, key=abs),
            before.new_lead or one.new_lead,
        )
    return found


def remade(
    contours: Sequence[ProgramContour], remake: Remake, job: PlateJob, table: Table
) -> tuple[Move, ...]:
    """The moves of a contour cut otherwise, from its pierce to its end. Raises TradeError where that cannot be."""
    contour = contours[remake.contour]
    if not contour.closed or contour.kept_side is None:
        raise TradeError(
            "contour", "an open cut has no side to be turned to: change it where it was drawn."
        )
    if contour.compensated:
        raise TradeError(
            "contour",
            "the controller compensates this contour (G41, G42): change it where the program was made.",
        )
    ring = Ring(_part_moves(contour))
    ring = ring if contour.kept_side == "right" else ring.reversed()
    if remake.into_scrap_mm > 0:
        ring = offset_left(ring, remake.into_scrap_mm)
    elif remake.into_scrap_mm < 0:
        ring = offset_left(ring.reversed(), -remake.into_scrap_mm).reversed()
    kept = job.good if remake.turned else contour.kept_side
    ring = ring if kept == "right" else ring.reversed()
    lead = _lead_in(contours, remake, ring, job, table)
    past = overrun_needed_mm(job)
    return (*lead, *ring.moves, *_first(ring.moves, past))


def _part_moves(contour: ProgramContour) -> tuple[Move, ...]:
    """The moves of the contour itself, lead-in and all that follows cut off, closed just where it begins."""
    begins, ends = contour.span
    moves = list(_between(moves_of(contour.motions), begins, ends))
    first, last = moves[0], moves[-1]
    # Rounding apart they are one place: the ring is closed there.
    moves[-1] = (
        Line(last.start, first.start)
        if isinstance(last, Line)
        else Arc(last.start, first.start, last.centre, last.clockwise)
    )
    return tuple(moves)


def _between(moves: Sequence[Move], begins: float, ends: float) -> list[Move]:
    """The moves from one place along a path to another."""
    found, at = [], 0.0
    for whole in moves:
        long, move = length_mm(whole), whole
        low, high = max(begins - at, 0.0), min(ends - at, long)
        at += long
        if high - low < 1e-3:
            continue
        if high < long - 1e-6:
            move = cut_in_two(move, high)[0]
        if low > 1e-6:
            move = cut_in_two(move, low)[1]
        found.append(move)
    return found


def _first(moves: Sequence[Move], mm: float) -> list[Move]:
    """The first so many mm of a path."""
    return _between(moves, 0.0, mm)


def _lead_in(
    contours: Sequence[ProgramContour], remake: Remake, ring: Ring, job: PlateJob, table: Table
) -> tuple[Move, ...]:
    """Its own lead-in from the same pierce, where that still does; else an arc that runs into the contour."""
    contour = contours[remake.contour]
    needed = _LEAD_SPARE * lead_in_needed_mm(contour, job, table)[0]
    kept = job.good if remake.turned else contour.kept_side
    tries: list[tuple[Move, ...]] = []
    if not remake.new_lead and math.dist(contour.pierce_at, ring.start) >= needed / _LEAD_SPARE:
        tries.append((Line(contour.pierce_at, ring.start),))
    if contour.round_mm is not None and contour.kind == "hole":
        tries.append((_from_the_middle(contour, ring),))
    else:
        way = heading_rad(ring.moves[0])
        tries += [arc_lead_in(ring.start, way, n * needed, kept or "right").moves for n in (1.0, 1.3)]
    for lead in tries:
        if _has_room(contours, remake.contour, ring, lead, job):
            return lead
    raise TradeError(
        "contour",
        f"there is no room in the scrap for a lead-in of {length(needed)} on line {contour.line}: begin it elsewhere on "
        "the contour.",
    )


def _from_the_middle(contour: ProgramContour, ring: Ring) -> Arc:
    """Half a turn from the middle of a hole to its contour, which it meets running along it."""
    middle: Point = (float(contour.middle[0]), float(contour.middle[1]))
    half: Point = ((middle[0] + ring.start[0]) / 2, (middle[1] + ring.start[1]) / 2)
    return Arc(middle, ring.start, half, clockwise=ring.area_mm2 < 0)


def _has_room(
    contours: Sequence[ProgramContour], i: int, ring: Ring, lead: Sequence[Move], job: PlateJob
) -> bool:
    """Whether a lead-in lies in the scrap, a kerf away from all other cuts."""
    points = np.array([lead[0].start, *(p for move in lead for p in flattened(move, 0.05))])[:-1]
    inside = holds(ring.loop(), points)
    within = contours[i].kind != "outside"
    if not (inside == within).all():
        return False
    low, high = points.min(axis=0) - 20, points.max(axis=0) + 20
    for j, other in enumerate(contours):
        if j == i or (other.path.max(axis=0) < low).any() or (other.path.min(axis=0) > high).any():
            continue
        if distances(points, other.path).min() < job.setting.kerf_mm:
            return False
    return True
