"""A contour moved to its left by half a kerf, lines and arcs staying what they are.

Run with the kept metal on its right (an outline clockwise, a hole counter-clockwise), left is always into the
scrap. Side by side is tried first, since it keeps lines and arcs; where a drawing is finer than the kerf (a curve
in chords that bends tighter than the jet, a step smaller than its width) sides vanish that have no neighbours to
meet, and the path is worked out as a whole, in chords.
"""

import math
from dataclasses import dataclass, replace
from itertools import pairwise

from orthotome.core.errors import TradeError
from orthotome.core.path.fitting import arcs_fitted
from orthotome.core.path.paths import (
    FLATTEN_MM,
    Arc,
    Line,
    Move,
    Point,
    heading_rad,
    shifted,
    sweep_rad,
    turn_rad,
)
from orthotome.core.path.rings import JOIN_MM, LOOK_MM, Loops, Ring, crossing, distances, ended, said_at

_SAME_MM = 1e-4  # nearer than this is rounding of the drawing
_SLIVER_MM = 0.1  # a shorter line is none that a machine runs at speed
_BLUNT_RAD = math.radians(120)  # at sharper corners the path goes round the tip, not out to a mitre


def offset_clear(ring: Ring, loops: Loops, distance: float) -> Ring:
    """The ring moved to its left by ``distance``, nowhere nearer than that to any contour of the drawing.

    Raises TradeError, naming the place, where the drawing leaves no room for it.
    """
    try:
        path = offset_left(ring, distance)
        check_offset(path, loops, distance)
    except TradeError:
        path = offset_whole(ring, distance)
        check_offset(path, loops, distance)
    return path


_MOST_LEFT = (
    4.0  # distances that a jet may leave uncut in an inside corner: one of about 23 degrees. Assumption
)


def offset_whole(ring: Ring, distance: float) -> Ring:
    """The same in chords, by the boundary of all that lies farther than ``distance`` from what is kept.

    What is too narrow for the jet is left uncut where that is an inside corner's tip. Raises TradeError where it is more,
    or where the path would fall into several.
    """
    from shapely import Point as Place  # noqa: PLC0415 (start-up time)
    from shapely import Polygon  # noqa: PLC0415

    points = ring.points(FLATTEN_MM)
    outline = ring.area_mm2 < 0  # clockwise: the scrap lies outside
    quarter = max(4, math.ceil(math.pi / 4 / math.sqrt(2 * FLATTEN_MM / distance)))
    # Chords lie inside the round that they stand for: by as much farther out, nothing is cut into.
    beyond = distance + FLATTEN_MM
    moved = Polygon(points).buffer(beyond if outline else -beyond, quad_segs=quarter)
    if moved.is_empty or moved.geom_type != "Polygon" or len(moved.interiors):
        raise TradeError("drawing", _too_narrow(ring.start))
    path = moved.exterior.simplify(FLATTEN_MM / 2)
    left = [(moved.exterior.distance(Place(p)), p) for p in points]
    farthest, at = max(left)
    if farthest > (1 + _MOST_LEFT) * distance:
        raise TradeError("drawing", _too_narrow(at))
    corners = [(float(x), float(y)) for x, y in path.coords]
    found = Ring(tuple(Line(a, b) for a, b in pairwise(corners)))
    return arcs_fitted(found if (found.area_mm2 < 0) == outline else found.reversed())


def offset_left(ring: Ring, distance: float) -> Ring:
    """The ring moved to its left: lines and arcs stay what they are.

    Where the kept metal on the right has a corner that sticks out, the two sides are carried on along
    their tangents until they meet (round the tip, where it is sharp); in an inside corner they are cut
    back to where they meet. An inside radius smaller than ``distance`` is left out: no jet cuts it, and
    ``distance`` is the radius that comes out. Raises TradeError, naming the place, where the drawing is
    too narrow for the offset.
    """
    kept = [(m, _shifted(m, distance)) for m in ring.moves]
    sides = [(m, o) for m, o in kept if o is not None]
    if not sides:
        raise TradeError("drawing", _too_narrow(ring.start))
    if len(sides) == 1:  # a circle
        move = sides[0][1]
        return Ring((replace(move, end=move.start),))
    joints = [_join(sides[i - 1], sides[i], distance) for i in range(len(sides))]
    moves: list[Move] = []
    for i, (drawn, move) in enumerate(sides):
        leaves = joints[(i + 1) % len(sides)]
        here = ended(move, joints[i].begins, leaves.ends)
        _check_runs_on(drawn, here)
        moves += [here, *leaves.between]
    return Ring(tuple(moves))


Side = tuple[Move, Move]
"""A move as it was drawn, and moved to the left of itself."""


@dataclass(frozen=True)
class _Joint:
    """Where one shifted side ends, the moves round the corner, and where the next side begins."""

    ends: Point
    begins: Point
    between: tuple[Move, ...] = ()

    @classmethod
    def by_way_of(cls, *points: Point) -> "_Joint":
        return cls(points[0], points[-1], tuple(Line(a, b) for a, b in pairwise(points)))


def _shifted(move: Move, distance: float) -> Move | None:
    """A move to the left of itself; None where its radius is used up."""
    if isinstance(move, Line):
        way = heading_rad(move)
        return shifted(move, -distance * math.sin(way), distance * math.cos(way))
    radius = math.dist(move.start, move.centre)
    scale = (radius + (distance if move.clockwise else -distance)) / radius
    if scale * radius < _SAME_MM:
        return None

    def scaled(p: Point) -> Point:
        cx, cy = move.centre
        return cx + scale * (p[0] - cx), cy + scale * (p[1] - cy)

    return replace(move, start=scaled(move.start), end=scaled(move.end))


def _join(before: Side, after: Side, distance: float) -> _Joint:
    """From one shifted side to the next."""
    (drawn_a, a), (drawn_b, b) = before, after
    gap = math.dist(a.end, b.start)
    if gap < _SAME_MM:
        return _Joint(b.start, b.start)
    comes, goes = heading_rad(drawn_a, drawn_a.end), heading_rad(drawn_b)
    turn = turn_rad(comes, goes)
    if (
        gap < LOOK_MM
    ):  # a bend of a curve, or tangents but for the drawing's rounding: no sliver of a move between them
        corner = _met(a, b, drawn_b.start)
        if corner is None or max(math.dist(corner, a.end), math.dist(corner, b.start)) > 2 * LOOK_MM:
            corner = ((a.end[0] + b.start[0]) / 2, (a.end[1] + b.start[1]) / 2)
        return _Joint(corner, corner)
    if turn >= 0 or math.dist(drawn_a.end, drawn_b.start) > JOIN_MM:  # an inside corner, or one left out
        corner = _meet(a, b, drawn_b.start)
        return _Joint(corner, corner)
    if -turn > _BLUNT_RAD:
        return _Joint(a.end, b.start, (Arc(a.end, b.start, drawn_b.start, clockwise=True),))
    # The tangents meet d tan(turn / 2) beyond both ends.
    reach = distance * math.tan(-turn / 2)
    tip = (a.end[0] + reach * math.cos(comes), a.end[1] + reach * math.sin(comes))
    if reach < _SLIVER_MM:  # arcs carried on to there hardly bend: no lines of that length between them
        return _Joint(tip, tip)
    ends = () if isinstance(a, Line) else (a.end,)
    begins = () if isinstance(b, Line) else (b.start,)
    return _Joint.by_way_of(*ends, tip, *begins)


def _meet(a: Move, b: Move, near: Point) -> Point:
    """Where two sides, carried on, meet nearest to a corner. Raises TradeError where they never do."""
    found = _met(a, b, near)
    if found is None:
        raise TradeError("drawing", _too_narrow(near))
    return found


def _met(a: Move, b: Move, near: Point) -> Point | None:
    if isinstance(a, Line) and isinstance(b, Line):
        found = _lines_meet(a.start, a.end, b.start, b.end)
    elif isinstance(a, Line) and isinstance(b, Arc):
        found = _line_meets_circle(a.start, a.end, b.centre, math.dist(b.start, b.centre))
    elif isinstance(a, Arc) and isinstance(b, Line):
        found = _line_meets_circle(b.start, b.end, a.centre, math.dist(a.start, a.centre))
    else:
        assert isinstance(a, Arc)
        assert isinstance(b, Arc)
        radii = math.dist(a.start, a.centre), math.dist(b.start, b.centre)
        found = _circles_meet(a.centre, radii[0], b.centre, radii[1])
    return min(found, key=lambda p: math.dist(p, near), default=None)


def _lines_meet(p: Point, q: Point, r: Point, s: Point) -> list[Point]:
    d, e = (q[0] - p[0], q[1] - p[1]), (s[0] - r[0], s[1] - r[1])
    across = d[0] * e[1] - d[1] * e[0]
    if abs(across) < 1e-12 * math.hypot(*d) * math.hypot(*e):
        return []
    t = ((r[0] - p[0]) * e[1] - (r[1] - p[1]) * e[0]) / across
    return [(p[0] + t * d[0], p[1] + t * d[1])]


def _line_meets_circle(p: Point, q: Point, centre: Point, radius: float) -> list[Point]:
    length = math.dist(p, q)
    ux, uy = (q[0] - p[0]) / length, (q[1] - p[1]) / length
    along = (centre[0] - p[0]) * ux + (centre[1] - p[1]) * uy
    foot = (p[0] + along * ux, p[1] + along * uy)
    half = radius**2 - math.dist(foot, centre) ** 2
    if half < 0:
        return []
    return [(foot[0] + s * math.sqrt(half) * ux, foot[1] + s * math.sqrt(half) * uy) for s in (-1, 1)]


def _circles_meet(c: Point, r: float, d: Point, s: float) -> list[Point]:
    apart = math.dist(c, d)
    if apart < _SAME_MM or apart > r + s or apart < abs(r - s):
        return []
    along = (apart**2 + r**2 - s**2) / (2 * apart)
    half = math.sqrt(max(0.0, r**2 - along**2))
    ux, uy = (d[0] - c[0]) / apart, (d[1] - c[1]) / apart
    foot = (c[0] + along * ux, c[1] + along * uy)
    return [(foot[0] - k * half * uy, foot[1] + k * half * ux) for k in (-1, 1)]


def _check_runs_on(drawn: Move, moved: Move) -> None:
    """Raise TradeError where cutting back has turned a side round: it was shorter than the cut."""
    if isinstance(moved, Line):
        was = (drawn.end[0] - drawn.start[0], drawn.end[1] - drawn.start[1])
        now = (moved.end[0] - moved.start[0], moved.end[1] - moved.start[1])
        if was[0] * now[0] + was[1] * now[1] > 0:
            return
    elif isinstance(drawn, Arc) and abs(sweep_rad(moved)) <= abs(sweep_rad(drawn)) + _SLACK_RAD:
        return
    raise TradeError("drawing", _too_narrow(drawn.start))


_SLACK_RAD = 0.01  # rounding of a drawing may turn an arc a little farther; cutting back never does


def _too_narrow(at: Point) -> str:
    return (
        f"at {said_at(at)} the drawing is too narrow for the kerf: the jet would take what is kept. "
        "Widen it there, or take a smaller nozzle."
    )


def check_offset(path: Ring, loops: Loops, distance: float) -> None:
    """Raise TradeError where a path comes nearer than ``distance`` to any contour of the drawing."""
    mine = path.loop()
    crossed = crossing([mine])
    if crossed is not None:
        raise TradeError("drawing", _too_narrow(crossed))
    for theirs in (loops.all[i] for i in loops.near(mine, distance)):
        crossed = crossing([mine, theirs])
        if crossed is not None:
            raise TradeError("drawing", _too_narrow(crossed))
        # The nearest points of two loops that do not cross: a corner of one of them is among them.
        for points, loop in ((mine, theirs), (theirs, mine)):
            gaps = distances(points, loop)
            if gaps.min() < distance - 2 * LOOK_MM:
                x, y = points[int(gaps.argmin())]
                raise TradeError("drawing", _too_narrow((float(x), float(y))))
