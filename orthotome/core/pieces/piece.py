"""What a test piece is: contours to cut, in order, and the parts that are kept.

Every contour is cut with the kept metal on a stated side, kerf compensated in the geometry: the torch's
path lies half a kerf outside the kept edge. Lead-ins start in scrap; inside comes before outside.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from orthotome.core.edges import Side, Swirl, good_side
from orthotome.core.errors import TradeError
from orthotome.core.motion import run_up_mm
from orthotome.core.paths import Line, Point, Segment, beyond, offset_outward, straight

PieceName = Literal[
    "strip_ladder",
    "height_ladder",
    "pierce_ladder",
    "start_end_ladder",
    "square",
    "round",
    "holes",
    "corner",
    "long_strip",
]

SPLASH_MM = 6.0  # a pierce's splash reaches about this far; assumption
LAG_TO_FINISH_DEG = 12.0  # uncut length at the bottom is thickness * tan(lag); typical lag and some
ACCELERATION_MM_S2 = 500.0  # of an ordinary table, until the table's own is known; assumption
PLATE_MARGIN_MM = 6.0  # of plate left beside the outermost path, so that the arc stays on metal
CLIP_MM = 8.0  # the clipped corner that tells which way up and round a piece was cut


LONG_NICK_MM, SHORT_NICK_MM = 9.0, 4.5
NICK_GAP_MM = 3.0  # of metal between slits: a thumb tells them apart, and it does not break out
MOST_NICKED = 11  # five slits at most: more would leave no edge to read


@dataclass(frozen=True)
class Contour:
    """One pierce and what follows, at one setting. ``kept_side`` is seen along the travel.

    ``pierce_delay_s`` None is the setting's own. Height control is off in every test piece but a long
    strip, which is there to prove it.
    """

    name: str
    kept_side: Side
    inside: bool
    speed_mm_min: float
    cut_height_mm: float
    segments: tuple[Segment, ...]
    pierce_delay_s: float | None = None
    height_control: bool = False

    @property
    def pierce_at(self) -> Point:
        """Where the torch pierces."""
        return self.segments[0].start

    @property
    def length_mm(self) -> float:
        """Cut length with lead-in and overrun."""
        return sum(s.length_mm for s in self.segments)


@dataclass(frozen=True)
class Part:
    """A kept part as it should come out: its outline, clockwise, and the holes in it."""

    outline: tuple[Point, ...]
    holes: tuple[tuple[Point, ...], ...] = ()

    def moved(self, dx: float, dy: float) -> "Part":
        """The same, shifted."""

        def shift(ring: tuple[Point, ...]) -> tuple[Point, ...]:
            return tuple((x + dx, y + dy) for x, y in ring)

        return Part(shift(self.outline), tuple(shift(h) for h in self.holes))


@dataclass(frozen=True)
class Piece:
    """A test piece: its contours in cutting order, the zero at its near left corner of scrap."""

    kind: PieceName
    title: str
    contours: tuple[Contour, ...]
    size_mm: tuple[float, float]
    parts: tuple[Part, ...] = ()

    @property
    def extents_mm(self) -> tuple[float, float, float, float]:
        """(x_min, y_min, x_max, y_max) of everything the torch's centre touches."""
        points = [p for c in self.contours for s in c.segments for p in s.points]
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        return min(xs), min(ys), max(xs), max(ys)

    @property
    def plate_mm(self) -> tuple[float, float]:
        """The least plate it fits on, its zero at the plate's near left corner."""
        _, _, x1, y1 = self.extents_mm
        return x1 + PLATE_MARGIN_MM, y1 + PLATE_MARGIN_MM

    @property
    def cut_length_mm(self) -> float:
        """Length of all cuts."""
        return sum(c.length_mm for c in self.contours)

    def moved(self, dx: float, dy: float) -> "Piece":
        """The same elsewhere on the plate."""
        contours = tuple(
            replace(c, segments=tuple(s.moved(dx, dy) for s in c.segments)) for c in self.contours
        )
        return replace(self, contours=contours, parts=tuple(p.moved(dx, dy) for p in self.parts))

    def seconds(self, pierce_delay_s: float) -> float:
        """Arc time at the set speeds: pierces and cuts, without rapids or acceleration."""
        cutting = sum(60 * c.length_mm / c.speed_mm_min for c in self.contours)
        waiting = sum(
            pierce_delay_s if c.pierce_delay_s is None else c.pierce_delay_s for c in self.contours
        )
        return cutting + waiting


@dataclass(frozen=True)
class PieceSetting:
    """What the geometry depends on."""

    thickness_mm: float
    kerf_mm: float
    swirl: Swirl
    speed_mm_min: float
    cut_height_mm: float
    acceleration_mm_s2: float = ACCELERATION_MM_S2

    @property
    def good(self) -> Side:
        """The side of travel that the kept metal lies on."""
        return good_side(self.swirl)


def lead_in_mm(setting: PieceSetting) -> float:
    """Lead-in: the splash, or most of the thickness, and the run-up to speed v^2 / 2a."""
    run_up = run_up_mm(setting.speed_mm_min, setting.acceleration_mm_s2)
    return max(SPLASH_MM, 0.75 * setting.thickness_mm) + run_up


def overrun_mm(thickness_mm: float) -> float:
    """Overrun past the start, so that the lagging bottom is cut through: thickness * tan(lag)."""
    return max(1.0, thickness_mm * math.tan(math.radians(LAG_TO_FINISH_DEG)))


def outside_contour(
    name: str,
    outline: tuple[Point, ...],
    setting: PieceSetting,
    overrun: float | None = None,
) -> Contour:
    """Contour round a kept polygon (clockwise, beginning at a corner), on the good side.

    Lead-in and overrun (mm; left out, the thickness's own) run straight on past that corner, both in
    scrap.
    """
    over = overrun_mm(setting.thickness_mm) if overrun is None else overrun
    path = offset_outward(outline, setting.kerf_mm / 2)
    if setting.good == "left":
        path = (path[0], *reversed(path[1:]))
    corner = path[0]
    before = beyond(path[1], corner, lead_in_mm(setting))
    segments = [straight("lead_in", (before, corner)), straight("cut", (*path, corner))]
    if over > 0:
        segments.append(straight("overrun", (corner, beyond(path[-1], corner, over))))
    return Contour(
        name, setting.good, False, setting.speed_mm_min, setting.cut_height_mm, tuple(segments)
    )


def clipped_rectangle(width: float, height: float) -> tuple[Point, ...]:
    """A rectangle clockwise from its near left corner, its far right corner clipped.

    The clip tells which way up and round the piece was cut.
    """
    return (
        (0.0, 0.0),
        (0.0, height),
        (width - CLIP_MM, height),
        (width, height - CLIP_MM),
        (width, 0.0),
    )


def nick_marks(number: int, outline: tuple[Point, ...], setting: PieceSetting) -> tuple[Contour, ...]:
    """Short slits into the near edge, from the scrap: a number that a gloved thumb reads.

    A long slit counts three, a short one counts one, so that few starts are spent on it; 0 leaves the
    edge whole. They are cut before the outline, while the part cannot tip, and keep to the left, so that
    a gauge finds room beside them.
    """
    if not 0 <= number <= MOST_NICKED:
        raise TradeError(
            "number", f"a piece is numbered from 1 to {MOST_NICKED}; 0 leaves it unnumbered."
        )
    depths = [LONG_NICK_MM] * (number // 3) + [SHORT_NICK_MM] * (number % 3)
    pitch = setting.kerf_mm + NICK_GAP_MM
    x0, y0 = min(p[0] for p in outline) + NICK_GAP_MM, min(p[1] for p in outline)
    lead = lead_in_mm(setting)
    nicks = []
    for i, depth in enumerate(depths):
        x = x0 + pitch * (i + 0.5)
        edge, end = (x, y0 - setting.kerf_mm / 2), (x, y0 + depth - setting.kerf_mm / 2)
        segments = (straight("lead_in", ((x, y0 - lead), edge)), Segment("mark", edge, (Line(end),)))
        nicks.append(
            Contour(
                f"nick {i + 1}",
                setting.good,
                True,
                setting.speed_mm_min,
                setting.cut_height_mm,
                segments,
            )
        )
    return tuple(nicks)


def placed(
    contours: Sequence[Contour], parts: Sequence[Part]
) -> tuple[tuple[Contour, ...], tuple[Part, ...]]:
    """All moved so that the path keeps a margin from the plate's near left corner."""
    points = [p for c in contours for s in c.segments for p in s.points]
    dx = PLATE_MARGIN_MM - min(x for x, _ in points)
    dy = PLATE_MARGIN_MM - min(y for _, y in points)

    moved = tuple(replace(c, segments=tuple(s.moved(dx, dy) for s in c.segments)) for c in contours)
    return moved, tuple(p.moved(dx, dy) for p in parts)


def check_plate(piece: Piece, plate_mm: tuple[float, float]) -> None:
    """Raise TradeError where a piece does not fit a plate, saying what would."""
    needed = piece.plate_mm
    if needed[0] <= plate_mm[0] + 1e-9 and needed[1] <= plate_mm[1] + 1e-9:
        return
    turned = needed[0] <= plate_mm[1] + 1e-9 and needed[1] <= plate_mm[0] + 1e-9
    hint = " Turned a quarter round, the plate would do." if turned else ""
    raise TradeError(
        "plate",
        f"{piece.title} needs {math.ceil(needed[0])} × {math.ceil(needed[1])} mm, and the plate is "
        f"{plate_mm[0]:g} × {plate_mm[1]:g}.{hint}",
    )
