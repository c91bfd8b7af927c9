"""Test pieces as geometry: a square, and a ladder of strips, in the machine frame.

Every contour is cut with the kept metal on a stated side, kerf compensated in the geometry: the
torch's path lies half a kerf outside the kept edge. Lead-ins start in scrap, run straight into the
first edge so that the edge begins at full speed, and the end overruns straight past the start, into
scrap again, so that the trailing bottom of the cut is finished too.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

from orthotome.core.edges import Side, Swirl, good_side
from orthotome.core.errors import TradeError
from orthotome.core.motion import run_up_mm

Point = tuple[float, float]
SegmentKind = Literal["lead_in", "cut", "overrun"]

SPLASH_MM = 6.0  # a pierce's splash reaches about this far; assumption
LAG_TO_FINISH_DEG = 12.0  # uncut length at the bottom is thickness * tan(lag); typical lag and some
ACCELERATION_MM_S2 = 500.0  # of an ordinary table, until the table's own is known; assumption
PLATE_MARGIN_MM = 6.0  # of plate left beside the outermost path, so that the arc stays on metal
CLIP_MM = 8.0  # the clipped corner that tells which way up and round a piece was cut


@dataclass(frozen=True)
class Segment:
    """Part of a contour: a polyline of points in mm."""

    kind: SegmentKind
    points: tuple[Point, ...]


@dataclass(frozen=True)
class Contour:
    """One pierce and what follows, at one setting. ``kept_side`` is seen along the travel."""

    name: str
    kept_side: Side
    inside: bool
    speed_mm_min: float
    cut_height_mm: float
    segments: tuple[Segment, ...]

    @property
    def pierce_at(self) -> Point:
        """Where the torch pierces."""
        return self.segments[0].points[0]

    @property
    def length_mm(self) -> float:
        """Cut length with lead-in and overrun."""
        return sum(math.dist(a, b) for s in self.segments for a, b in pairwise(s.points))


@dataclass(frozen=True)
class Piece:
    """A test piece: its contours in cutting order, the zero at its lower left corner of scrap."""

    kind: Literal["square", "strip_ladder"]
    title: str
    contours: tuple[Contour, ...]
    size_mm: tuple[float, float]

    @property
    def extents_mm(self) -> tuple[float, float, float, float]:
        """(x_min, y_min, x_max, y_max) of everything the torch's centre touches."""
        points = [p for c in self.contours for s in c.segments for p in s.points]
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        return min(xs), min(ys), max(xs), max(ys)

    @property
    def cut_length_mm(self) -> float:
        """Length of all cuts."""
        return sum(c.length_mm for c in self.contours)

    def seconds(self, pierce_delay_s: float) -> float:
        """Arc time at the set speeds: pierces and cuts, without rapids or acceleration."""
        cutting = sum(60 * c.length_mm / c.speed_mm_min for c in self.contours)
        return cutting + pierce_delay_s * len(self.contours)


@dataclass(frozen=True)
class PieceSetting:
    """What the geometry depends on."""

    thickness_mm: float
    kerf_mm: float
    swirl: Swirl
    speed_mm_min: float
    cut_height_mm: float


def lead_in_mm(setting: PieceSetting) -> float:
    """Lead-in: the splash, or most of the thickness, and the run-up to speed v^2 / 2a."""
    run_up = run_up_mm(setting.speed_mm_min, ACCELERATION_MM_S2)
    return max(SPLASH_MM, 0.75 * setting.thickness_mm) + run_up


def overrun_mm(thickness_mm: float) -> float:
    """Overrun past the start, so that the lagging bottom is cut through: thickness * tan(lag)."""
    return max(1.0, thickness_mm * math.tan(math.radians(LAG_TO_FINISH_DEG)))


def square_size_mm(thickness_mm: float) -> float:
    """A side that a gauge can sit on and that lets speed settle: 40 mm, more on plate."""
    return max(40.0, 5.0 * thickness_mm)


def square(setting: PieceSetting, size_mm: float | None = None) -> Piece:
    """A square with one clipped corner, cut along 0, 90, 180 and 270 degrees, kept inside.

    The clipped corner is the one away from the operator on the right. With the good side on the
    right of travel the outside runs clockwise; else the other way round.
    """
    side = square_size_mm(setting.thickness_mm) if size_mm is None else size_mm
    if side < 3 * CLIP_MM:
        raise TradeError("size_mm", f"a test square needs at least {3 * CLIP_MM:g} mm to be read.")
    lead, over = lead_in_mm(setting), overrun_mm(setting.thickness_mm)
    outline = _clipped_outline(side, side, setting.kerf_mm)
    contour = _outside_contour(f"square {side:g} mm", outline, lead, over, setting)
    return Piece("square", f"{side:g} mm square", _placed([contour]), (side, side))


def strip_ladder(
    setting: PieceSetting, speeds_mm_min: tuple[float, ...], strip_length_mm: float | None = None
) -> Piece:
    """Parallel slots, one speed each, all cut away from the operator, then the comb cut loose.

    The slots run from a spine near the operator out through the far edge, so the strips hang on one
    piece in order; slot 1 is at the left, the clipped corner is at the far right. Each strip
    carries the right edge of the slot to its left and the left edge of the slot to its right.
    """
    if not 2 <= len(speeds_mm_min) <= 12:
        raise TradeError("speeds_mm_min", "a ladder has 2 to 12 speeds.")
    t, kerf = setting.thickness_mm, setting.kerf_mm
    pitch = max(15.0, 2.5 * t) + kerf
    length = strip_length_mm or max(50.0, 6 * t)
    lead, over = lead_in_mm(setting), overrun_mm(t)
    spine = lead + SPLASH_MM
    width, height = pitch * (len(speeds_mm_min) + 1), spine + length
    good = good_side(setting.swirl)
    slots = []
    for i, speed in enumerate(speeds_mm_min):
        x = pitch * (i + 1)
        pierce, begin, end = (x, spine - lead), (x, spine), (x, height + kerf / 2)
        segments = (Segment("lead_in", (pierce, begin)), Segment("cut", (begin, end)))
        slots.append(Contour(f"slot {i + 1}", good, True, speed, setting.cut_height_mm, segments))
    outline = _clipped_outline(width, height, kerf)
    comb = _outside_contour("comb", outline, lead, over, setting)
    return Piece("strip_ladder", f"{len(slots)} speed strips", _placed([*slots, comb]), (width, height))


def ladder_speeds(around_mm_min: float, steps: int = 5, share: float = 0.08) -> tuple[float, ...]:
    """Speeds in equal ratios about a middle one, rounded to 10 mm/min, slowest first."""
    middle = (steps - 1) / 2
    return tuple(round(around_mm_min * (1 + share) ** (i - middle) / 10) * 10.0 for i in range(steps))


def _clipped_outline(width: float, height: float, kerf: float) -> tuple[Point, ...]:
    """Torch path round a kept rectangle, half a kerf outside, clockwise from the near left corner.

    The clip's parallel is moved out by half a kerf too: along the sides by (sqrt 2 - 1) of it.
    """
    k = kerf / 2
    clip = CLIP_MM - k * (math.sqrt(2) - 1) + k
    return (
        (-k, -k),
        (-k, height + k),
        (width + k - clip, height + k),
        (width + k, height + k - clip),
        (width + k, -k),
    )


def _outside_contour(
    name: str, outline: tuple[Point, ...], lead: float, over: float, setting: PieceSetting
) -> Contour:
    """Contour round ``outline`` (clockwise) with the kept metal inside, on the good side.

    Lead-in and overrun are straight on, at the near left corner, both in scrap.
    """
    good = good_side(setting.swirl)
    path = outline if good == "right" else (outline[0], *reversed(outline[1:]))
    corner, first, last = path[0], path[1], path[-1]
    before = _beyond(first, corner, lead)
    after = _beyond(last, corner, over)
    segments = (
        Segment("lead_in", (before, corner)),
        Segment("cut", (*path, corner)),
        Segment("overrun", (corner, after)),
    )
    return Contour(name, good, False, setting.speed_mm_min, setting.cut_height_mm, segments)


def _beyond(start: Point, end: Point, distance: float) -> Point:
    """The point ``distance`` past ``end`` on the line from ``start``."""
    scale = distance / math.dist(start, end)
    return end[0] + (end[0] - start[0]) * scale, end[1] + (end[1] - start[1]) * scale


def _placed(contours: Sequence[Contour]) -> tuple[Contour, ...]:
    """The contours moved so that their path keeps a margin from the plate's near left corner."""
    points = [p for c in contours for s in c.segments for p in s.points]
    dx = PLATE_MARGIN_MM - min(x for x, _ in points)
    dy = PLATE_MARGIN_MM - min(y for _, y in points)

    def moved(segment: Segment) -> Segment:
        return replace(segment, points=tuple((x + dx, y + dy) for x, y in segment.points))

    return tuple(replace(c, segments=tuple(moved(s) for s in c.segments)) for c in contours)
