"""Closed contours: found among the loose lines and arcs of a drawing, and told inside from outside.

A ring is a closed chain of moves, of which some cross and some lie in others.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import (
    Arc,
    Line,
    Move,
    Point,
    backwards,
    cut_in_two,
    farthest_points,
    flattened,
    is_circle,
    length_mm,
    point_along,
    sweep_rad,
)
from orthotome.core.quantities import length, place

_SAME_MM = 1e-3  # nearer than this is the same place
_ROUND_MM = 0.006  # farthest that a corner of a circle in parts lies off it: the rounding of a drawing
_CHORDS_OF_A_CIRCLE = 16  # fewer are a polygon that was meant as one
JOIN_MM = 0.05  # ends nearer than this are the same corner: drawings are rounded
LOOK_MM = 0.02  # how near a chord follows its arc where rings are only compared
MOST_POINTS = 20_000  # of all rings as chords; more is a picture, not a test part

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Ring:
    """A closed chain of moves."""

    moves: tuple[Move, ...]

    @property
    def start(self) -> Point:
        """Where it begins, and ends."""
        return self.moves[0].start

    def points(self, within_mm: float = LOOK_MM) -> list[Point]:
        """As points, the first not said again at the end."""
        found = [self.start]
        for move in self.moves:
            found += flattened(move, within_mm)
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
        for move in self.moves:
            (x, y), (u, v) = move.start, move.end
            twice += x * v - u * y
            if isinstance(move, Arc):
                sweep = sweep_rad(move)
                twice += math.dist(move.start, move.centre) ** 2 * (sweep - math.sin(sweep))
        return twice / 2

    def reversed(self) -> "Ring":
        """The same, run the other way."""
        return Ring(tuple(backwards(m) for m in reversed(self.moves)))

    def begun_at(self, index: int, along_mm: float = 0.0) -> "Ring":
        """The same, begun ``along_mm`` along its move of that index."""
        move, rest = self.moves[index], (*self.moves[index + 1 :], *self.moves[:index])
        if along_mm <= 0:
            return Ring((move, *rest))
        first, second = cut_in_two(move, along_mm)
        return Ring((second, *rest, first))


def chained(edges: Sequence[Move]) -> list[Ring]:
    """The rings that loose moves make. Raises TradeError naming the place of an end that is open.

    Ends at just the same place are joined first, so that a curve of a thousand short chords is one chain; the
    ends of chains are joined where they are less than JOIN_MM apart.
    """
    circles = [m for m in edges if isinstance(m, Arc) and is_circle(m)]
    loose = [m for m in edges if math.dist(m.start, m.end) > _SAME_MM or _is_nearly_circle(m)]
    rings = [Ring((m,)) for m in circles]
    chains: list[Chain] = []
    for chain in _linked([(m,) for m in loose], _SAME_MM):
        if _is_closed(chain) and _length_mm(chain) > JOIN_MM:
            rings.append(Ring(chain))
        elif _length_mm(chain) > JOIN_MM:
            chains.append(chain)
    for chain in _linked(chains, JOIN_MM):
        if not _is_closed(chain):
            raise TradeError("drawing", _open_end(chain, chains))
        rings.append(Ring(chain))
    for ring in rings:
        if len(ring.moves) == 2 and all(isinstance(m, Line) for m in ring.moves):
            raise TradeError("drawing", f"a line is drawn twice at {said_at(ring.start)}.")
    return rings


Chain = tuple[Move, ...]
"""Moves, each beginning where the one before it ends."""


def _is_nearly_circle(move: Move) -> bool:
    """An arc that ends by its start after most of a turn."""
    short = 1e-9 <= math.dist(move.start, move.end) <= _SAME_MM
    return isinstance(move, Arc) and short and abs(sweep_rad(move)) > math.pi


def _is_closed(chain: Chain) -> bool:
    return chain[0].start == chain[-1].end


def _length_mm(chain: Chain) -> float:
    return sum(length_mm(m) for m in chain)


def _linked(chains: Sequence[Chain], within_mm: float) -> list[Chain]:
    """Chains joined end to end where just two ends share a place; whole ones come back closed."""
    ends = _ends_by_place(chains, within_mm)
    for at, users in ends.items():
        if len(users) > 2:
            raise TradeError(
                "drawing",
                f"{len(users)} lines meet at {said_at(at)}: a contour passes every point once. Is a line "
                "drawn twice?",
            )
    joints = _Joints(ends, {user: at for at, users in ends.items() for user in users})
    unused, found = set(range(len(chains))), []
    # Those with a free end first, from that end, so that an open chain is followed through its whole length.
    free = [users[0] for users in ends.values() if len(users) == 1]
    for i, entered in [*free, *((i, 0) for i in range(len(chains)))]:
        if i in unused:
            found.append(_follow((i, entered), chains, joints, unused))
    return found


End = tuple[int, int]
"""(chain, 0 its start or 1 its end)."""


@dataclass(frozen=True)
class _Joints:
    """Which ends share a place, and which place each end is at."""

    ends: dict[Point, list[End]]
    place: dict[End, Point]


def _ends_by_place(chains: Sequence[Chain], within_mm: float) -> dict[Point, list[End]]:
    """Ends by the place they share, found on a grid of cells."""
    ends: dict[Point, list[End]] = {}
    cells: dict[tuple[int, int], list[Point]] = {}
    for i, chain in enumerate(chains):
        for e, p in enumerate((chain[0].start, chain[-1].end)):
            cell = (math.floor(p[0] / within_mm), math.floor(p[1] / within_mm))
            near = [
                q
                for dx in (-1, 0, 1)
                for dy in (-1, 0, 1)
                for q in cells.get((cell[0] + dx, cell[1] + dy), ())
                if math.dist(p, q) < within_mm
            ]
            if near:
                ends[min(near, key=lambda q: math.dist(p, q))].append((i, e))
            else:
                ends[p] = [(i, e)]
                cells.setdefault(cell, []).append(p)
    return ends


def _open_end(chain: Chain, chains: Sequence[Chain]) -> str:
    at = chain[0].start
    others = [p for c in chains for p in (c[0].start, c[-1].end) if math.dist(p, at) > JOIN_MM]
    if not others:
        return f"a contour is open at {said_at(at)}: it ends there against nothing."
    nearest = min(others, key=lambda p: math.dist(p, at))
    return (
        f"a contour is open at {said_at(at)}: the nearest other end is {length(math.dist(nearest, at))} away at "
        f"{said_at(nearest)}. Close it in the drawing and import it again."
    )


def _follow(first: End, chains: Sequence[Chain], joints: _Joints, unused: set[int]) -> Chain:
    """From one chain on to the next at each shared place, until it is back or ends."""
    start = at = joints.place[first]
    moves: list[Move] = []
    i, entered = first
    while True:
        unused.discard(i)
        run = chains[i] if entered == 0 else tuple(backwards(m) for m in reversed(chains[i]))
        before, at = at, joints.place[i, 1 - entered]
        moves += _moved_to(run, before, at)
        onward = [u for u in joints.ends[at] if u != (i, 1 - entered)]
        if at == start or not onward or onward[0][0] not in unused:
            return tuple(moves)
        i, entered = onward[0]


def _moved_to(run: Chain, start: Point, end: Point) -> Chain:
    """A chain whose ends are put on the places they share with others."""
    moves = [*run]
    moves[0] = ended(moves[0], start, moves[0].end)
    moves[-1] = ended(moves[-1], moves[-1].start, end)
    return tuple(moves)


def ended(move: Move, start: Point, end: Point) -> Move:
    """A move between other ends; an arc's centre goes along, so that both ends stay equally far from it."""
    if isinstance(move, Line):
        return Line(start, end)
    chord = math.dist(start, end)
    if (start, end) == (move.start, move.end) or chord < _SAME_MM:
        return replace(move, start=start, end=end)
    ux, uy = (end[0] - start[0]) / chord, (end[1] - start[1]) / chord
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    off = (move.centre[0] - middle[0]) * ux + (move.centre[1] - middle[1]) * uy
    return replace(
        move, start=start, end=end, centre=(move.centre[0] - off * ux, move.centre[1] - off * uy)
    )


def as_circle(ring: Ring) -> Ring:
    """The ring as one whole arc, where it is a circle in parts or in chords; else as it is."""
    if len(ring.moves) < 2:
        return ring
    points = np.array([m.start for m in ring.moves])
    if all(isinstance(m, Arc) for m in ring.moves):
        centre = np.mean([m.centre for m in ring.moves if isinstance(m, Arc)], axis=0)
    elif len(ring.moves) >= _CHORDS_OF_A_CIRCLE and all(isinstance(m, Line) for m in ring.moves):
        # x^2 + y^2 = 2 a x + 2 b y + c, in least squares
        columns = np.column_stack([2 * points, np.ones(len(points))])
        centre = np.linalg.lstsq(columns, (points**2).sum(axis=1), rcond=None)[0][:2]
    else:
        return ring
    radii = np.hypot(*(points - centre).T)
    radius = float(radii.mean())
    middles = [point_along(m, length_mm(m) / 2) for m in ring.moves]
    sags = np.hypot(*(np.array(middles) - centre).T) - radius
    turns = abs(ring.area_mm2) > 0.9 * math.pi * radius**2  # once round, not to and fro
    if np.abs(radii - radius).max() > _ROUND_MM or np.abs(sags).max() > LOOK_MM or not turns:
        return ring
    at = (float(centre[0]) + radius, float(centre[1]))
    return Ring((Arc(at, at, (float(centre[0]), float(centre[1])), clockwise=ring.area_mm2 < 0),))


def extent(rings: Sequence[Ring]) -> tuple[float, float]:
    """Width and height of the box round these rings in mm, arcs as far as they go."""
    points = np.array([p for ring in rings for move in ring.moves for p in farthest_points(move)])
    width, height = points.max(axis=0) - points.min(axis=0)
    return float(width), float(height)


def said_at(p: Point) -> str:
    """A place in the drawing, as a sentence names it."""
    return place(*p)


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
    crossed = crossing(loops.all)
    if crossed is not None:
        raise TradeError("drawing", f"contours cross at {said_at(crossed)}: no torch can cut both.")
    for i, ring in enumerate(rings):
        start = np.array([ring.start])
        for j in loops.near(start, JOIN_MM):
            if j != i and distances(start, loops.all[j])[0] < JOIN_MM:
                raise TradeError(
                    "drawing", f"contours touch at {said_at(ring.start)}. Is one of them drawn twice?"
                )


def crossing(loops: Sequence[Array]) -> Point | None:
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
