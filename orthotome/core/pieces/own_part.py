"""A shop's own test part: closed contours from a drawing, with kerf, leads, order and direction added."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from orthotome.core.errors import TradeError
from orthotome.core.machine.hole_rules import least_hole_mm
from orthotome.core.path.offsetting import offset_clear
from orthotome.core.path.paths import (
    Arc,
    Line,
    Point,
    Segment,
    heading_rad,
    length_mm,
    point_along,
    straight,
    turn_rad,
)
from orthotome.core.path.rings import (
    LOOK_MM,
    MOST_POINTS,
    Loops,
    Ring,
    check_apart,
    depths,
    distances,
    extent,
    holds,
)
from orthotome.core.pieces.piece import (
    END_SPEED_SHARE,
    SPLASH_MM,
    Contour,
    Part,
    Piece,
    PieceBasis,
    arc_lead_in,
    arc_lead_in_mm,
    lead_in_mm,
    overrun_mm,
    placed,
    slowed_end,
)
from orthotome.core.pieces.rounds import hole_speed_mm_min
from orthotome.core.quantities import length, place, size

HOLE_UP_TO = 5.0  # thicknesses across: a smaller inside contour is cut at a hole's speed. Assumption
LARGEST_MM = 20_000.0  # across; more is a drawing in the wrong unit
_CORNER_RAD = math.radians(30)  # a sharper turn than this is a corner to begin at
_LEAD_SHARES = (1.0, 0.75, 0.5, 0.35)  # of the lead-in, tried in a hole until one has room

Array = NDArray[np.float64]


@dataclass(frozen=True)
class _Placed:
    """A ring of the drawing as it is to be run, and the path that leaves it."""

    ring: Ring
    path: Ring
    depth: int

    @property
    def inside(self) -> bool:
        """Whether it is a hole."""
        return self.depth % 2 == 1


def own_part(basis: PieceBasis, rings: Sequence[Ring], name: str) -> Piece:
    """The piece that these contours are: outlines outside, holes inside, the innermost cut first.

    A part in the hole of another comes before that hole, which would drop it. Raises TradeError, naming the place, where contours cross, leave no room for the kerf or for a lead-in,
    or a hole is no plasma hole.
    """
    if not rings:
        raise TradeError("drawing", "holds no closed contour.")
    if sum(len(r.points()) for r in rings) > MOST_POINTS:
        raise TradeError("drawing", "is too fine to be a test part: simplify its curves.")
    check_apart(rings)
    loops = Loops(rings)
    found = [_as_run(r, d, loops, basis) for r, d in zip(rings, depths(rings), strict=True)]
    order = sorted(found, key=lambda f: (-f.depth, abs(f.ring.area_mm2)))
    contours = [_contour(f, n, basis, loops) for n, f in enumerate(order, 1)]
    done, parts = placed(contours, list(_parts(found)))
    across = extent(rings)
    if max(across) > LARGEST_MM:
        raise TradeError("drawing", f"is {size(*across)}: is its unit right?")
    return Piece("own_part", name, done, across, parts)


def _as_run(ring: Ring, depth: int, loops: Loops, basis: PieceBasis) -> _Placed:
    """The ring with its kept metal on the good side, and its path half a kerf into the scrap."""
    clockwise = depth % 2 == 0  # with the kept metal on the right
    if (ring.area_mm2 < 0) != clockwise:
        ring = ring.reversed()
    path = offset_clear(ring, loops, basis.kerf_mm / 2)
    if basis.good == "left":
        ring, path = ring.reversed(), path.reversed()
    return _Placed(ring, path, depth)


def _parts(found: Sequence[_Placed]) -> Iterator[Part]:
    """Each outline with the holes that lie directly in it."""
    for one in found:
        if one.inside:
            continue
        loop = one.ring.loop()
        holes = [
            f
            for f in found
            if f.depth == one.depth + 1 and bool(holds(loop, np.array([f.ring.start]))[0])
        ]
        yield Part(_clockwise(one.ring), tuple(_clockwise(h.ring) for h in holes))


def _clockwise(ring: Ring) -> tuple[Point, ...]:
    turned_right = ring if ring.area_mm2 < 0 else ring.reversed()
    return tuple(turned_right.points(0.002))


def _contour(of: _Placed, number: int, basis: PieceBasis, loops: Loops) -> Contour:
    """A path with the first lead-in that has room, and its end."""
    hole = of.inside and _across(of.ring) <= HOLE_UP_TO * basis.thickness_mm
    if of.inside:
        _check_hole(of.ring, basis)
    begun = _begun(of, loops, basis)
    if begun is None:
        raise TradeError(
            "drawing", f"there is no room for a lead-in at the contour by {place(*of.ring.start)}."
        )
    lead, path, corner = begun
    kind = "hole" if hole else "inside" if of.inside else "outside"
    radius = (_across(of.ring) - basis.kerf_mm) / 2
    return Contour(
        f"{kind} {number}",
        basis.good,
        of.inside,
        hole_speed_mm_min(basis, radius) if hole else basis.speed_mm_min,
        basis.cut_height_mm,
        _segments(lead, path, basis, loops, corner=corner, hole=hole),
    )


def _begun(of: _Placed, loops: Loops, basis: PieceBasis) -> "Start | None":
    """The first start that has room, its pierce a splash away from all that is kept or, where there is no such
    place, as far as can be."""
    middle, clear = _middle_of(of.path) if of.inside else ((0.0, 0.0), math.inf)
    for wanted in (min(SPLASH_MM, clear + basis.kerf_mm / 2 - 0.2), min(SPLASH_MM / 2, 0.7 * clear)):
        tried = (
            _inside_starts(of.path, middle, clear, basis)
            if of.inside
            else _outside_starts(of.path, basis)
        )
        for start in tried:
            if _has_room(start[0], loops, max(wanted, basis.kerf_mm / 2), basis):
                return start
    return None


def _middle_of(path: Ring) -> tuple[Point, float]:
    """The place within a path that lies farthest from it, and how far that is."""
    if len(path.moves) == 1 and isinstance(path.moves[0], Arc):
        return path.moves[0].centre, math.dist(path.start, path.moves[0].centre)
    from shapely import Polygon, maximum_inscribed_circle  # noqa: PLC0415 (start-up time)

    radius = maximum_inscribed_circle(Polygon(path.points()), tolerance=0.05)
    x, y = radius.coords[0]
    return (float(x), float(y)), float(radius.length)


def _across(ring: Ring) -> float:
    """Its smaller extent."""
    p = ring.loop()
    return float((p.max(axis=0) - p.min(axis=0)).min())


def _check_hole(ring: Ring, basis: PieceBasis) -> None:
    least = least_hole_mm(basis.thickness_mm, basis.kerf_mm)
    if _across(ring) < least - 1e-6:
        raise TradeError(
            "drawing",
            f"the hole by {place(*ring.start)} is {length(_across(ring))} across: no plasma hole in "
            f"{length(basis.thickness_mm)} plate. {length(least)} is the least; drill it, or leave it out.",
        )


Start = tuple[Segment, Ring, bool]
"""A lead-in, the path begun where it ends, and whether that is a corner that both ways pass straight."""


def _outside_starts(path: Ring, basis: PieceBasis) -> Iterator[Start]:
    """At corners that stick out, nearest the operator first; else on a tangent."""
    lead = lead_in_mm(basis)
    for i, move in sorted(enumerate(path.moves), key=lambda s: (s[1].start[1], s[1].start[0])):
        before, start = path.moves[i - 1], move.start
        comes, goes = heading_rad(before, before.end), heading_rad(move)
        outward = turn_rad(comes, goes) * (-1 if basis.good == "right" else 1)
        if outward > _CORNER_RAD:
            begin = (start[0] - lead * math.cos(goes), start[1] - lead * math.sin(goes))
            yield straight("lead_in", (begin, start)), path.begun_at(i), True
    for begun in _middles(path):
        goes = heading_rad(begun.moves[0])
        x, y = begun.start
        begin = (x - lead * math.cos(goes), y - lead * math.sin(goes))
        yield _arc_in(begun, arc_lead_in_mm(basis), basis), begun, False
        yield straight("lead_in", (begin, begun.start)), begun, False


def _inside_starts(path: Ring, middle: Point, clear: float, basis: PieceBasis) -> Iterator[Start]:
    """On an arc from the scrap inside that runs into a side: of a small hole from its middle, of a large one from a
    splash away, at the middle of the longest side that has room."""
    circle = len(path.moves) == 1
    if circle or clear < 2 * SPLASH_MM:
        for begun in [path] if circle else _middles(path):
            lead = _arc_from(middle, begun)
            if lead is not None:
                yield lead, begun, False
    for share in _LEAD_SHARES:
        for begun in _middles(path):
            yield _arc_in(begun, share * arc_lead_in_mm(basis), basis), begun, False


def _arc_from(middle: Point, begun: Ring) -> Segment | None:
    """The arc from a place to the start of a path, running into it; None from where none does so within a turn.

    Its centre lies on the path's normal, as far from both ends: |p - s|^2 / 2 (p - s) . n from the start.
    """
    x, y = begun.start
    dx, dy = middle[0] - x, middle[1] - y
    goes = heading_rad(begun.moves[0])
    inside = (
        1 if begun.area_mm2 > 0 else -1
    )  # the scrap is on the left of a path that runs counter-clockwise
    nx, ny = -inside * math.sin(goes), inside * math.cos(goes)
    across = dx * nx + dy * ny
    if across < 0.6 * math.hypot(dx, dy):
        return None
    radius = (dx**2 + dy**2) / (2 * across)
    centre = (x + radius * nx, y + radius * ny)
    return Segment("lead_in", (Arc(middle, begun.start, centre, clockwise=inside < 0),))


def _middles(path: Ring) -> Iterator[Ring]:
    """The path begun at the middle of each side, the longest first."""
    lengths = [length_mm(m) for m in path.moves]
    for i in sorted(range(len(lengths)), key=lambda i: -lengths[i]):
        yield path.begun_at(i, lengths[i] / 2)


def _arc_in(begun: Ring, length: float, basis: PieceBasis) -> Segment:
    goes = heading_rad(begun.moves[0])
    return arc_lead_in(begun.start, goes, length, basis.good)


def _has_room(lead: Segment, loops: Loops, wanted: float, basis: PieceBasis) -> bool:
    """Whether a lead stays half a kerf clear of all kept edges, and its pierce as far as is wanted."""
    points = np.array(_closely(lead))
    for i in loops.near(points, wanted):
        gaps = distances(points, loops.all[i])
        if gaps.min() < basis.kerf_mm / 2 - 2 * LOOK_MM or gaps[0] < wanted:
            return False
    return True


def _closely(segment: Segment) -> list[Point]:
    """Points half a millimetre apart or less."""
    found = [segment.start]
    for a, b in pairwise(segment.points):
        count = max(1, math.ceil(math.dist(a, b) / 0.5))
        found += [point_along(Line(a, b), math.dist(a, b) * i / count) for i in range(1, count + 1)]
    return found


def _segments(
    lead: Segment, path: Ring, basis: PieceBasis, loops: Loops, *, corner: bool, hole: bool
) -> tuple[Segment, ...]:
    """Lead-in, cut and end: straight on past a corner, or slowed and on along the start; a hole is slow as it is."""
    cut = Segment("cut", path.moves)
    over = overrun_mm(basis)
    if corner:
        comes = heading_rad(path.moves[-1], path.start)
        x, y = path.start
        end = (x + over * math.cos(comes), y + over * math.sin(comes))
        past = straight("overrun", (path.start, end))
        points = np.array(_closely(past))
        beside = [loops.all[i] for i in loops.near(points, basis.kerf_mm)]
        if all(distances(points, loop).min() > basis.kerf_mm / 2 - 2 * LOOK_MM for loop in beside):
            return lead, cut, past
    again, _ = Segment("overrun", path.moves).split(min(over, cut.length_mm / 4))
    if hole:
        return lead, cut, again
    return lead, *slowed_end(cut, basis), replace(again, speed_share=END_SPEED_SHARE)
