"""What a test piece is: contours to cut, in order, and the parts that are kept.

Every contour is cut with the kept metal on a stated side, kerf compensated in the geometry: the torch's
path lies half a kerf outside the kept edge. Lead-ins start in scrap; inside comes before outside.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from orthotome.core.edge.edges import Side, Swirl, good_side
from orthotome.core.errors import TradeError
from orthotome.core.machine.motion import run_up_mm
from orthotome.core.path.paths import Arc, Point, Segment, beyond, offset_outward, straight, turned
from orthotome.core.quantities import size

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
    "own_part",
]

END_SPEED_SHARE = 0.6
"""Share of the speed over the end of a cut that ends in its own kerf, or beside one: the slower jet lags
less, so no tab is left at the bottom. Assumption; the start-and-end ladder shows it."""

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

    ``pierce_delay_s`` None is the basis's own. Height control is off in every test piece but a long
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
    number: int | None = None

    @property
    def pierce_at(self) -> Point:
        """Where the torch pierces."""
        return self.segments[0].start

    @property
    def length_mm(self) -> float:
        """Cut length with lead-in and overrun."""
        return sum(s.length_mm for s in self.segments)

    def delay_s(self, usual_s: float) -> float:
        """Its own pierce delay, or the usual one."""
        return usual_s if self.pierce_delay_s is None else self.pierce_delay_s

    def speed_of(self, segment: Segment) -> float:
        """The speed set over a segment, mm/min."""
        return self.speed_mm_min * segment.speed_share

    def seconds(self, pierce_delay_s: float) -> float:
        """Pierce and cut at the set speeds."""
        cutting = sum(60 * s.length_mm / self.speed_of(s) for s in self.segments)
        return self.delay_s(pierce_delay_s) + cutting


RESTART_S = 1.0
"""From the torch's word to an arc that cuts, with nothing to pierce: pre-flow, ignition and transfer. Assumption, on the long
side; a controller with an arc signal waits for that by itself."""


def begun_at_rim(contour: Contour, kerf_mm: float) -> Contour:
    """A contour that was pierced and whose arc went out, begun again: at the rim of its hole, half a kerf along, since over
    the hole there is nothing for an arc to cross to. One shorter than that stays as it is."""
    first, *rest = contour.segments
    if first.length_mm <= kerf_mm:
        return contour
    return replace(contour, segments=(first.split(kerf_mm / 2)[1], *rest))


@dataclass(frozen=True)
class Part:
    """A kept part as it should come out: its outline, clockwise, and the holes in it.

    ``scrap`` is metal from the other side of the kerf, cut loose to be read as well.
    """

    outline: tuple[Point, ...]
    holes: tuple[tuple[Point, ...], ...] = ()
    scrap: bool = False

    def moved(self, dx: float, dy: float) -> "Part":
        """The same, shifted."""

        def shift(ring: tuple[Point, ...]) -> tuple[Point, ...]:
            return tuple((x + dx, y + dy) for x, y in ring)

        return replace(self, outline=shift(self.outline), holes=tuple(shift(h) for h in self.holes))


@dataclass(frozen=True)
class Piece:
    """A test piece: its contours in cutting order, the zero at its near left corner of scrap."""

    kind: PieceName
    title: str
    contours: tuple[Contour, ...]
    size_mm: tuple[float, float]
    parts: tuple[Part, ...] = ()
    notes: tuple[str, ...] = ()  # what this machine cannot show with it, in the shop's units

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
        return sum(c.seconds(pierce_delay_s) for c in self.contours)


@dataclass(frozen=True)
class PieceBasis:
    """What the geometry depends on."""

    thickness_mm: float
    kerf_mm: float
    swirl: Swirl
    speed_mm_min: float
    cut_height_mm: float
    acceleration_mm_s2: float = ACCELERATION_MM_S2
    lag_deg: float = LAG_TO_FINISH_DEG

    @property
    def good(self) -> Side:
        """The side of travel that the kept metal lies on."""
        return good_side(self.swirl)


def lead_in_mm(basis: PieceBasis) -> float:
    """Lead-in: the splash, or most of the thickness, and the run-up to speed v^2 / 2a."""
    run_up = run_up_mm(basis.speed_mm_min, basis.acceleration_mm_s2)
    return max(SPLASH_MM, 0.75 * basis.thickness_mm) + run_up


def overrun_mm(basis: PieceBasis) -> float:
    """Overrun past the start, so that the lagging bottom is cut through: thickness * tan(lag)."""
    return max(1.0, basis.thickness_mm * math.tan(math.radians(basis.lag_deg)))


@dataclass(frozen=True)
class StartAndEnd:
    """How a contour is begun and ended, as shares of what is usual here."""

    lead_in: Literal["straight", "arc"] = "straight"
    lead_in_share: float = 1.0
    overrun_share: float = 1.0
    end_speed_share: float = 1.0


USUAL = StartAndEnd()


def outside_contour(
    name: str, outline: tuple[Point, ...], basis: PieceBasis, how: StartAndEnd = USUAL
) -> Contour:
    """Contour round a kept polygon (clockwise, beginning at a corner), on the good side.

    Lead-in and overrun pass that corner on the outside, both in scrap: straight on along its two sides,
    or with an arc that runs into the first side.
    """
    path = offset_outward(outline, basis.kerf_mm / 2)
    if basis.good == "left":
        path = (path[0], *reversed(path[1:]))
    corner, lead = path[0], how.lead_in_share * lead_in_mm(basis)
    cut = straight("cut", (*path, corner))
    cuts = (cut,) if how.end_speed_share == 1 else slowed_end(cut, basis, how.end_speed_share)
    segments = [_lead_in(how.lead_in, path[1], corner, lead, basis.good), *cuts]
    over = how.overrun_share * overrun_mm(basis)
    if over > 0:
        past = straight("overrun", (corner, beyond(path[-1], corner, over)))
        segments.append(replace(past, speed_share=how.end_speed_share))
    return Contour(name, basis.good, False, basis.speed_mm_min, basis.cut_height_mm, tuple(segments))


def _lead_in(shape: str, second: Point, corner: Point, length: float, kept: Side) -> Segment:
    """Into a corner along its first side, or as a quarter arc that meets that side, from the scrap."""
    if shape == "straight":
        return straight("lead_in", (beyond(second, corner, length), corner))
    way = math.atan2(second[1] - corner[1], second[0] - corner[0])
    return arc_lead_in(corner, way, length, kept)


def arc_lead_in_mm(basis: PieceBasis) -> float:
    """Length of a quarter arc that does what a lead-in must: its pierce lies a splash away from the path."""
    return max(lead_in_mm(basis), SPLASH_MM * math.pi / 2)


def arc_lead_in(at: Point, heading_rad: float, length: float, kept: Side) -> Segment:
    """A quarter arc of that length from the scrap side, that runs into a path at its heading."""
    radius = length / (math.pi / 2)
    side = 1 if kept == "right" else -1  # the centre lies on the other side of the path
    across = heading_rad + side * math.pi / 2
    centre = (at[0] + radius * math.cos(across), at[1] + radius * math.sin(across))
    begin = turned(at, centre, -side * math.pi / 2)
    return Segment("lead_in", (Arc(begin, at, centre, clockwise=side < 0),))


def slowed_end(cut: Segment, basis: PieceBasis, share: float = END_SPEED_SHARE) -> tuple[Segment, ...]:
    """A cut whose last stretch, as long as the bottom lags behind, is slower."""
    whole, last = cut.length_mm, overrun_mm(basis)
    if whole <= 2 * last:
        return (replace(cut, speed_share=share),)
    before, end = cut.split(whole - last)
    return before, replace(end, speed_share=share)


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


def nick_marks(number: int, outline: tuple[Point, ...], basis: PieceBasis) -> tuple[Contour, ...]:
    """Short slits into the near edge, from the scrap: a number that a gloved thumb reads.

    A long slit counts three, a short one counts one, so that few starts are spent on it; 0 leaves the
    edge whole. They are cut before the outline, while the part cannot tip, and keep to the left, so that
    a gauge finds room beside them.
    """
    x0, y0 = min(p[0] for p in outline), min(p[1] for p in outline)
    pitch = basis.kerf_mm + NICK_GAP_MM
    return tuple(
        slit(f"nick {i + 1}", (x0 + pitch * (i + 0.5) + NICK_GAP_MM, y0), (0.0, 1.0), depth, basis)
        for i, depth in enumerate(nick_depths_mm(number))
    )


def nick_depths_mm(number: int) -> tuple[float, ...]:
    """How deep each slit of a number is. Raises TradeError for a number that slits do not say."""
    if not 0 <= number <= MOST_NICKED:
        raise TradeError(
            "number", f"a piece is numbered from 1 to {MOST_NICKED}; 0 leaves it unnumbered."
        )
    return (LONG_NICK_MM,) * (number // 3) + (SHORT_NICK_MM,) * (number % 3)


def slit(name: str, edge: Point, inward: Point, depth_mm: float, basis: PieceBasis) -> Contour:
    """A slit from the scrap, ``depth_mm`` into the part at a point of its edge, along a unit vector."""

    def along(mm: float) -> Point:
        return edge[0] + mm * inward[0], edge[1] + mm * inward[1]

    half = basis.kerf_mm / 2
    into, end = along(-half), along(depth_mm - half)
    segments = (
        straight("lead_in", (along(-lead_in_mm(basis)), into)),
        straight("mark", (into, end)),
    )
    return Contour(name, basis.good, True, basis.speed_mm_min, basis.cut_height_mm, segments)


def placed(
    contours: Sequence[Contour], parts: Sequence[Part]
) -> tuple[tuple[Contour, ...], tuple[Part, ...]]:
    """All moved so that the path keeps a margin from the plate's near left corner."""
    points = [p for c in contours for s in c.segments for p in s.points]
    dx = PLATE_MARGIN_MM - min(x for x, _ in points)
    dy = PLATE_MARGIN_MM - min(y for _, y in points)

    moved = tuple(replace(c, segments=tuple(s.moved(dx, dy) for s in c.segments)) for c in contours)
    return moved, tuple(p.moved(dx, dy) for p in parts)


def numbered_pieces(piece: Piece) -> list[tuple[int, Point]]:
    """The numbers of the parts that are cut loose together, each with the middle of its part."""
    found = []
    for contour in piece.contours:
        if contour.number is not None and not contour.inside:
            points = [p for s in contour.segments if s.kind == "cut" for p in s.points]
            xs, ys = [p[0] for p in points], [p[1] for p in points]
            found.append((contour.number, ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)))
    return found


def check_plate(piece: Piece, plate_mm: tuple[float, float]) -> None:
    """Raise TradeError where a piece does not fit a plate, saying what would."""
    needed = piece.plate_mm
    if needed[0] <= plate_mm[0] + 1e-9 and needed[1] <= plate_mm[1] + 1e-9:
        return
    turned = needed[0] <= plate_mm[1] + 1e-9 and needed[1] <= plate_mm[0] + 1e-9
    hint = " Turned a quarter round, the plate would do." if turned else ""
    raise TradeError(
        "plate",
        f"{piece.title} needs {size(*needed, up=True)}, and the plate is {size(*plate_mm)}.{hint}",
    )
