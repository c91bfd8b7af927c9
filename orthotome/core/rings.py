"""Closed contours: found among the loose lines and arcs of a drawing, told inside from outside, offset.

A ring is a closed chain of moves. Kept metal lies on its right as it is stored: an outline runs clockwise, a
hole counter-clockwise. Offsetting to the left is then always into the scrap.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from orthotome.core.errors import TradeError
from orthotome.core.paths import (
    Arc,
    Line,
    Move,
    Point,
    cut_in_two,
    flattened,
    heading_rad,
    sweep_rad,
    turn_rad,
)

JOIN_MM = 0.05  # ends nearer than this are the same corner: drawings are rounded
LOOK_MM = 0.02  # how near a chord follows its arc where rings are only compared
MOST_POINTS = 20_000  # of all rings as chords; more is a picture, not a test part
_SAME_MM = 1e-4  # nearer than this is rounding of the drawing
_BLUNT_RAD = math.radians(120)  # at sharper corners the path goes round the tip, not out to a mitre

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Ring:
    """A closed chain of moves from ``start`` back to it."""

    start: Point
    moves: tuple[Move, ...]

    @property
    def steps(self) -> list[tuple[Point, Move]]:
        """Each move with the point it begins at."""
        starts = [self.start, *(m.end for m in self.moves[:-1])]
        return list(zip(starts, self.moves, strict=True))

    def points(self, within_mm: float = LOOK_MM) -> list[Point]:
        """As points, the first not said again at the end."""
        found = [self.start]
        for start, move in self.steps:
            found += flattened(start, move, within_mm)
        return found[:-1]

    def loop(self) -> Array:
        """The same, shape (n, 2)."""
        return np.array(self.points())

    @property
    def area_mm2(self) -> float:
        """Enclosed area, positive where it runs counter-clockwise.

        The shoelace formula over the chords, and for each arc what lies between it and its chord:
        r^2 (sweep - sin sweep) / 2.
        """
        twice = 0.0
        for start, move in self.steps:
            twice += start[0] * move.end[1] - move.end[0] * start[1]
            if isinstance(move, Arc):
                sweep = sweep_rad(start, move)
                twice += math.dist(start, move.centre) ** 2 * (sweep - math.sin(sweep))
        return twice / 2

    def reversed(self) -> "Ring":
        """The same, run the other way."""
        back: list[Move] = []
        for start, move in reversed(self.steps):
            back.append(
                Line(start) if isinstance(move, Line) else Arc(start, move.centre, not move.clockwise)
            )
        return Ring(self.start, tuple(back))

    def begun_at(self, index: int, along_mm: float = 0.0) -> "Ring":
        """The same, begun ``along_mm`` along its move of that index."""
        steps = self.steps
        start, move = steps[index]
        rest = [m for _, m in steps[index + 1 :] + steps[:index]]
        if along_mm <= 0:
            return Ring(start, (move, *rest))
        first, second = cut_in_two(start, move, along_mm)
        return Ring(first.end, (second, *rest, first))


def chained(edges: Sequence[tuple[Point, Move]]) -> list[Ring]:
    """The rings that loose moves make. Raises TradeError naming the place of an end that is open."""
    rings = [Ring(s, (m,)) for s, m in edges if math.dist(s, m.end) < JOIN_MM and _is_circle(s, m)]
    loose = [(s, m) for s, m in edges if math.dist(s, m.end) >= JOIN_MM]
    ends = _ends_by_place(loose)
    for at in ends:
        if len(ends[at]) == 1:
            raise TradeError("drawing", _open_end(at, ends))
        if len(ends[at]) > 2:
            raise TradeError(
                "drawing",
                f"{len(ends[at])} lines meet at {_said(at)}: a contour passes every point once. Is a line "
                "drawn twice?",
            )
    unused = set(range(len(loose)))
    place = {(i, e): at for at, users in ends.items() for i, e in users}
    while unused:
        rings.append(_follow(min(unused), loose, ends, place, unused))
    for ring in rings:
        if len(ring.moves) == 2 and all(isinstance(m, Line) for m in ring.moves):
            raise TradeError("drawing", f"a line is drawn twice at {_said(ring.start)}.")
    return rings


def _is_circle(start: Point, move: Move) -> bool:
    return isinstance(move, Arc) and math.dist(start, move.centre) > JOIN_MM


def _ends_by_place(loose: Sequence[tuple[Point, Move]]) -> dict[Point, list[tuple[int, int]]]:
    """(move, 0 its start or 1 its end) by the place they share, found on a grid of cells."""
    ends: dict[Point, list[tuple[int, int]]] = {}
    cells: dict[tuple[int, int], list[Point]] = {}
    for i, (start, move) in enumerate(loose):
        for e, p in enumerate((start, move.end)):
            cell = (math.floor(p[0] / JOIN_MM), math.floor(p[1] / JOIN_MM))
            near = [
                q
                for dx in (-1, 0, 1)
                for dy in (-1, 0, 1)
                for q in cells.get((cell[0] + dx, cell[1] + dy), ())
                if math.dist(p, q) < JOIN_MM
            ]
            if near:
                ends[near[0]].append((i, e))
            else:
                ends[p] = [(i, e)]
                cells.setdefault(cell, []).append(p)
    return ends


def _open_end(at: Point, ends: dict[Point, list[tuple[int, int]]]) -> str:
    others = [p for p in ends if p != at and len(ends[p]) == 1]
    if not others:
        return f"a contour is open at {_said(at)}: it ends there against nothing."
    nearest = min(others, key=lambda p: math.dist(p, at))
    gap = math.dist(nearest, at)
    return (
        f"a contour is open at {_said(at)}: the nearest other end is {gap:.3g} mm away at {_said(nearest)}. "
        "Close it in the drawing and import it again."
    )


def _follow(
    first: int,
    loose: Sequence[tuple[Point, Move]],
    ends: dict[Point, list[tuple[int, int]]],
    place: dict[tuple[int, int], Point],
    unused: set[int],
) -> Ring:
    """From one move on to the next at each shared place, until it is back."""
    start = at = place[first, 0]
    moves: list[Move] = []
    i, entered = first, 0
    while True:
        unused.discard(i)
        begin, move = loose[i]
        if entered == 1:  # drawn the other way
            move = Line(begin) if isinstance(move, Line) else Arc(begin, move.centre, not move.clockwise)
        at = place[i, 1 - entered]
        moves.append(replace(move, end=at))
        if at == start:
            return Ring(start, tuple(moves))
        i, entered = next(u for u in ends[at] if u[0] != i)


def _said(p: Point) -> str:
    return f"X {p[0]:.2f}, Y {p[1]:.2f}"


class Loops:
    """Rings as points, with the boxes round them, so that only what may be near is looked at."""

    def __init__(self, rings: Sequence[Ring]) -> None:
        self.all = [r.loop() for r in rings]
        self._low = np.array([loop.min(axis=0) for loop in self.all])
        self._high = np.array([loop.max(axis=0) for loop in self.all])

    def near(self, points: Array, distance: float) -> list[int]:
        """Which may come nearer than ``distance`` to any of the points."""
        low, high = points.min(axis=0) - distance, points.max(axis=0) + distance
        beside = (self._low <= high).all(axis=1) & (self._high >= low).all(axis=1)
        return [int(i) for i in np.flatnonzero(beside)]


def check_apart(rings: Sequence[Ring]) -> None:
    """Raise TradeError where a ring crosses itself or another, or lies on it, naming the place."""
    loops = Loops(rings)
    crossed = _crossing(loops.all)
    if crossed is not None:
        raise TradeError("drawing", f"contours cross at {_said(crossed)}: no torch can cut both.")
    for i, ring in enumerate(rings):
        start = np.array([ring.start])
        for j in loops.near(start, JOIN_MM):
            if j != i and distances(start, loops.all[j])[0] < JOIN_MM:
                raise TradeError(
                    "drawing", f"contours touch at {_said(ring.start)}. Is one of them drawn twice?"
                )


def _crossing(loops: Sequence[Array]) -> Point | None:
    """Where two sides of these loops properly cross, if any do.

    Sides are sorted by where they begin in X; only pairs whose spans in X overlap are looked at.
    """
    starts = np.concatenate(loops)
    stops = np.concatenate([np.roll(loop, -1, axis=0) for loop in loops])
    low, high = np.minimum(starts, stops), np.maximum(starts, stops)
    order = np.argsort(low[:, 0], kind="stable")
    a, b, low, high = starts[order], stops[order], low[order], high[order]
    later = np.searchsorted(low[:, 0], high[:, 0], side="right") - np.arange(len(a)) - 1
    ends = np.cumsum(later)
    first = 0
    while first < len(a):
        done = ends[first - 1] if first else 0
        last = max(first + 1, int(np.searchsorted(ends, done + _MOST_PAIRS, side="right")))
        i = np.repeat(np.arange(first, last), later[first:last])
        j = (
            i
            + 1
            + np.arange(len(i))
            - np.repeat(ends[first:last] - later[first:last] - done, later[first:last])
        )
        hit = _crossed(a, b, i[(keep := (low[j, 1] <= high[i, 1]) & (high[j, 1] >= low[i, 1]))], j[keep])
        if hit is not None:
            return hit
        first = last
    return None


def _crossed(a: Array, b: Array, i: NDArray[np.intp], j: NDArray[np.intp]) -> Point | None:
    """Where side i first crosses side j, pair by pair; touching at an end is no crossing."""
    d, e, f = b[i] - a[i], b[j] - a[j], a[j] - a[i]
    across = d[:, 0] * e[:, 1] - d[:, 1] * e[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (f[:, 0] * e[:, 1] - f[:, 1] * e[:, 0]) / across
        t = (f[:, 0] * d[:, 1] - f[:, 1] * d[:, 0]) / across
    hit = np.flatnonzero((s > _EDGE) & (s < 1 - _EDGE) & (t > _EDGE) & (t < 1 - _EDGE))
    if len(hit) == 0:
        return None
    x, y = a[i[hit[0]]] + s[hit[0]] * d[hit[0]]
    return float(x), float(y)


_MOST_PAIRS = 1_000_000
_EDGE = 1e-7  # of a side: neighbours touch at their ends, and that is no crossing


def depths(rings: Sequence[Ring]) -> list[int]:
    """How many other rings each lies in: even is the outline of a part, odd is a hole."""
    loops = [r.loop() for r in rings]
    starts = np.array([r.start for r in rings])
    within = np.array([holds(loop, starts) for loop in loops])
    np.fill_diagonal(within, val=False)
    return [int(n) for n in within.sum(axis=0)]


def holds(loop: Array, points: Array) -> NDArray[np.bool_]:
    """Which points lie in a loop: a ray to +X crosses it an odd number of times."""
    a, b = loop, np.roll(loop, -1, axis=0)
    y = points[:, 1:2]
    spans = (a[:, 1] <= y) != (b[:, 1] <= y)
    with np.errstate(divide="ignore", invalid="ignore"):
        x = a[:, 0] + (y - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    inside: NDArray[np.bool_] = (np.where(spans, x > points[:, 0:1], False).sum(axis=1) % 2).astype(bool)
    return inside


def distances(points: Array, loop: Array) -> Array:
    """Distance of each point from a closed loop of points."""
    if len(points) * len(loop) > _MOST_PAIRS and len(points) > 1:
        halves = np.array_split(points, 2)  # so that memory stays small
        return np.concatenate([distances(half, loop) for half in halves])
    a, d = loop, np.roll(loop, -1, axis=0) - loop
    rel = points[:, None, :] - a[None, :, :]
    share = np.clip((rel * d).sum(axis=2) / np.maximum((d * d).sum(axis=1), 1e-18), 0, 1)
    off = rel - share[..., None] * d
    return np.sqrt((off * off).sum(axis=2)).min(axis=1)  # type: ignore[no-any-return]


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
        f"at {_said(at)} the drawing is too narrow for the kerf: the jet would take what is kept. "
        "Widen it there, or take a smaller nozzle."
    )


def check_offset(path: Ring, loops: Loops, distance: float) -> None:
    """Raise TradeError where a path comes nearer than ``distance`` to any contour of the drawing."""
    mine = path.loop()
    crossed = _crossing([mine])
    if crossed is not None:
        raise TradeError("drawing", _too_narrow(crossed))
    for theirs in (loops.all[i] for i in loops.near(mine, distance)):
        crossed = _crossing([mine, theirs])
        if crossed is not None:
            raise TradeError("drawing", _too_narrow(crossed))
        # The nearest points of two loops that do not cross: a corner of one of them is among them.
        for points, loop in ((mine, theirs), (theirs, mine)):
            gaps = distances(points, loop)
            if gaps.min() < distance - 2 * LOOK_MM:
                x, y = points[int(gaps.argmin())]
                raise TradeError("drawing", _too_narrow((float(x), float(y))))
