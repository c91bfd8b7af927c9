"""A contour moved to its left by half a kerf, lines and arcs staying what they are.

Run with the kept metal on its right (an outline clockwise, a hole counter-clockwise), left is always into the
scrap.
"""

import math
from dataclasses import replace

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import Arc, Line, Move, Point, heading_rad, sweep_rad, turn_rad
from orthotome.core.path.rings import JOIN_MM, LOOK_MM, Loops, Ring, crossing, distances, said_at

_SAME_MM = 1e-4  # nearer than this is rounding of the drawing
_BLUNT_RAD = math.radians(120)  # at sharper corners the path goes round the tip, not out to a mitre


def offset_left(ring: Ring, distance: float) -> Ring:
    """The ring moved to its left: lines and arcs stay what they are.

    Where the kept metal on the right has a corner that sticks out, the two sides are carried on along
    their tangents until they meet (round the tip, where it is sharp); in an inside corner they are cut
    back to where they meet. An inside radius smaller than ``distance`` is left out: no jet cuts it, and
    ``distance`` is the radius that comes out. Raises TradeError, naming the place, where the drawing is
    too narrow for the offset.
    """
    kept = [(s, m, _shifted(s, m, distance)) for s, m in ring.steps]
    sides = [(s, m, o) for s, m, o in kept if o is not None]
    if not sides:
        raise TradeError("drawing", _too_narrow(ring.start))
    if len(sides) == 1:  # a circle
        start, move = sides[0][2]
        return Ring(start, (replace(move, end=start),))
    joints = [_join(sides[i - 1], sides[i], distance) for i in range(len(sides))]
    moves: list[Move] = []
    for i, (original, drawn, (_, move)) in enumerate(sides):
        begin = joints[i][-1].end
        end = joints[(i + 1) % len(sides)][0].end
        here = replace(move, end=end)
        _check_runs_on(original, drawn, begin, here)
        moves += [here, *joints[(i + 1) % len(sides)][1:]]
    return Ring(joints[0][-1].end, tuple(moves))


Side = tuple[Point, Move, tuple[Point, Move]]


def _shifted(start: Point, move: Move, distance: float) -> tuple[Point, Move] | None:
    """A move to the left of itself; None where its radius is used up."""
    if isinstance(move, Line):
        way = heading_rad(start, start, move)
        dx, dy = -distance * math.sin(way), distance * math.cos(way)
        return (start[0] + dx, start[1] + dy), Line((move.end[0] + dx, move.end[1] + dy))
    radius = math.dist(start, move.centre)
    scale = (radius + (distance if move.clockwise else -distance)) / radius
    if scale * radius < _SAME_MM:
        return None

    def scaled(p: Point) -> Point:
        cx, cy = move.centre
        return cx + scale * (p[0] - cx), cy + scale * (p[1] - cy)

    return scaled(start), replace(move, end=scaled(move.end))


def _join(before: Side, after: Side, distance: float) -> list[Move]:
    """From one shifted side to the next: the first move ends the one, the last begins the other."""
    (start_a, drawn_a, (shifted_a, a)), (corner, drawn_b, (shifted_b, b)) = before, after
    gap = math.dist(a.end, shifted_b)
    if gap < _SAME_MM:
        return [Line(shifted_b)]
    if gap < LOOK_MM:  # tangents, but for the drawing's rounding
        return [Line(a.end), Line(shifted_b)]
    comes, goes = heading_rad(drawn_a.end, start_a, drawn_a), heading_rad(corner, corner, drawn_b)
    turn = turn_rad(comes, goes)
    if turn >= 0 or math.dist(drawn_a.end, corner) > JOIN_MM:  # an inside corner, or one left out
        return [Line(_meet(shifted_a, a, shifted_b, b, corner))]
    if -turn > _BLUNT_RAD:
        return [Line(a.end), Arc(shifted_b, corner, clockwise=True)]
    # The tangents meet d tan(turn / 2) beyond both ends.
    reach = distance * math.tan(-turn / 2)
    tip = (a.end[0] + reach * math.cos(comes), a.end[1] + reach * math.sin(comes))
    straight_a, straight_b = isinstance(a, Line), isinstance(b, Line)
    joint: list[Move] = [Line(tip)] if straight_a else [Line(a.end), Line(tip)]
    return joint if straight_b else [*joint, Line(shifted_b)]


def _meet(start_a: Point, a: Move, start_b: Point, b: Move, near: Point) -> Point:
    """Where two sides, carried on, meet nearest to a corner."""
    if isinstance(a, Line) and isinstance(b, Line):
        found = _lines_meet(start_a, a.end, start_b, b.end)
    elif isinstance(a, Line) and isinstance(b, Arc):
        found = _line_meets_circle(start_a, a.end, b.centre, math.dist(start_b, b.centre))
    elif isinstance(a, Arc) and isinstance(b, Line):
        found = _line_meets_circle(start_b, b.end, a.centre, math.dist(start_a, a.centre))
    else:
        assert isinstance(a, Arc)
        assert isinstance(b, Arc)
        radii = math.dist(start_a, a.centre), math.dist(start_b, b.centre)
        found = _circles_meet(a.centre, radii[0], b.centre, radii[1])
    if not found:
        raise TradeError("drawing", _too_narrow(near))
    return min(found, key=lambda p: math.dist(p, near))


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


def _check_runs_on(original: Point, drawn: Move, begin: Point, shifted: Move) -> None:
    """Raise TradeError where cutting back has turned a side round: it was shorter than the cut."""
    if isinstance(shifted, Line):
        assert isinstance(drawn, Line)
        was = (drawn.end[0] - original[0], drawn.end[1] - original[1])
        now = (shifted.end[0] - begin[0], shifted.end[1] - begin[1])
        if was[0] * now[0] + was[1] * now[1] > 0:
            return
    elif abs(sweep_rad(begin, shifted)) <= abs(sweep_rad(original, drawn)) + _SLACK_RAD:  # type: ignore[arg-type]
        return
    raise TradeError("drawing", _too_narrow(original))


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
