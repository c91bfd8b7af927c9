"""Paths of the torch: lines and arcs, their length, and what they look like as points.

Lengths in mm in the machine frame. An arc whose end is its start is a full circle. ``clockwise`` is
seen from above.
"""

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

Point = tuple[float, float]
SegmentKind = Literal["lead_in", "cut", "overrun", "mark"]

FLATTEN_MM = 0.002  # farthest that a chord may lie from its arc


@dataclass(frozen=True)
class Line:
    """Straight on to ``end``."""

    end: Point


@dataclass(frozen=True)
class Arc:
    """Round ``centre`` to ``end``."""

    end: Point
    centre: Point
    clockwise: bool


Move = Line | Arc


@dataclass(frozen=True)
class Segment:
    """Part of a contour, of one kind, from ``start`` through its moves.

    ``speed_share`` is its share of the contour's speed; ``held`` keeps the torch at the height it has
    there, where height control is on.
    """

    kind: SegmentKind
    start: Point
    moves: tuple[Move, ...]
    speed_share: float = 1.0
    held: bool = False

    @property
    def end(self) -> Point:
        """Where it ends."""
        return self.moves[-1].end

    @property
    def points(self) -> tuple[Point, ...]:
        """The path as points, arcs as chords within two thousandths of a millimetre."""
        found = [self.start]
        for move in self.moves:
            found += flattened(found[-1], move)
        return tuple(found)

    @property
    def length_mm(self) -> float:
        """Length along the path."""
        return sum(length_mm(a, move) for a, move in self.steps)

    @property
    def steps(self) -> Iterator[tuple[Point, Move]]:
        """Each move with the point it begins at."""
        at = self.start
        for move in self.moves:
            yield at, move
            at = move.end

    def moved(self, dx: float, dy: float) -> "Segment":
        """The same, shifted."""

        def shift(p: Point) -> Point:
            return p[0] + dx, p[1] + dy

        moves = tuple(
            Line(shift(m.end))
            if isinstance(m, Line)
            else replace(m, end=shift(m.end), centre=shift(m.centre))
            for m in self.moves
        )
        return replace(self, start=shift(self.start), moves=moves)

    def split(self, at_mm: float) -> tuple["Segment", "Segment"]:
        """The same in two, ``at_mm`` along; neither may be empty."""
        if not 0 < at_mm < self.length_mm:
            raise ValueError(f"{at_mm} mm is not within {self.length_mm} mm")
        before: list[Move] = []
        for i, (start, move) in enumerate(self.steps):
            length = length_mm(start, move)
            if at_mm < length:
                first, second = cut_in_two(start, move, at_mm)
                moves = (second, *self.moves[i + 1 :])
                return (
                    replace(self, moves=(*before, first)),
                    replace(self, start=first.end, moves=moves),
                )
            at_mm -= length
            before.append(move)
        raise AssertionError  # at_mm is less than the sum of the lengths


def straight(kind: SegmentKind, points: Iterable[Point]) -> Segment:
    """A segment of straight lines through these points."""
    first, *rest = points
    return Segment(kind, first, tuple(Line(p) for p in rest))


def length_mm(start: Point, move: Move) -> float:
    """Length of a move from ``start``."""
    if isinstance(move, Line):
        return math.dist(start, move.end)
    return math.dist(start, move.centre) * abs(sweep_rad(start, move))


def sweep_rad(start: Point, arc: Arc) -> float:
    """Angle turned along an arc: positive counter-clockwise, a whole turn where it ends at its start."""
    a = math.atan2(start[1] - arc.centre[1], start[0] - arc.centre[0])
    b = math.atan2(arc.end[1] - arc.centre[1], arc.end[0] - arc.centre[0])
    turned = (a - b if arc.clockwise else b - a) % (2 * math.pi)
    if turned < 1e-12 or math.dist(start, arc.end) < 1e-9:
        turned = 2 * math.pi
    return -turned if arc.clockwise else turned


def point_along(start: Point, move: Move, at_mm: float) -> Point:
    """The point ``at_mm`` along a move."""
    share = at_mm / length_mm(start, move)
    if isinstance(move, Line):
        return start[0] + share * (move.end[0] - start[0]), start[1] + share * (move.end[1] - start[1])
    return turned(start, move.centre, share * sweep_rad(start, move))


def cut_in_two(start: Point, move: Move, at_mm: float) -> tuple[Move, Move]:
    """A move as two, ``at_mm`` along."""
    middle = point_along(start, move, at_mm)
    return replace(move, end=middle), move


def turned(p: Point, centre: Point, angle_rad: float) -> Point:
    """A point turned round a centre, counter-clockwise."""
    dx, dy = p[0] - centre[0], p[1] - centre[1]
    c, s = math.cos(angle_rad), math.sin(angle_rad)
    return centre[0] + c * dx - s * dy, centre[1] + s * dx + c * dy


def heading_rad(at: Point, start: Point, move: Move) -> float:
    """Direction of travel at a point of a move that begins at ``start``."""
    if isinstance(move, Line):
        return math.atan2(move.end[1] - start[1], move.end[0] - start[0])
    out = math.atan2(at[1] - move.centre[1], at[0] - move.centre[0])
    return out - math.pi / 2 if move.clockwise else out + math.pi / 2


def turn_rad(before_rad: float, after_rad: float) -> float:
    """Turn from one heading to another, in [-pi, pi): positive to the left."""
    return (after_rad - before_rad + math.pi) % (2 * math.pi) - math.pi


def flattened(start: Point, move: Move, within_mm: float = FLATTEN_MM) -> list[Point]:
    """The points after ``start``; an arc's lie on it, so close that no chord strays farther than that."""
    if isinstance(move, Line):
        return [move.end]
    radius = math.dist(start, move.centre)
    sweep = sweep_rad(start, move)
    step = 2 * math.acos(max(0.0, 1 - within_mm / radius)) if radius > within_mm else math.pi
    count = max(2, math.ceil(abs(sweep) / step))
    a = math.atan2(start[1] - move.centre[1], start[0] - move.centre[0])
    between = [
        (
            move.centre[0] + radius * math.cos(a + sweep * i / count),
            move.centre[1] + radius * math.sin(a + sweep * i / count),
        )
        for i in range(1, count)
    ]
    return [*between, move.end]


def beyond(start: Point, end: Point, distance: float) -> Point:
    """The point ``distance`` past ``end`` on the line from ``start``."""
    scale = distance / math.dist(start, end)
    return end[0] + (end[0] - start[0]) * scale, end[1] + (end[1] - start[1]) * scale


def offset_outward(outline: tuple[Point, ...], distance: float) -> tuple[Point, ...]:
    """A closed polygon's corners moved outward, mitred; ``outline`` runs clockwise, without its end.

    Each side's line is moved by ``distance`` and neighbours are met again: outside corners stay sharp
    on the kept part, inside corners keep a fillet of that radius.
    """
    moved = []
    for i, corner in enumerate(outline):
        before, after = outline[i - 1], outline[(i + 1) % len(outline)]
        n1, n2 = _left_normal(before, corner), _left_normal(corner, after)
        # Both sides lie at ``distance``: corner + d (n1 + n2) / (1 + n1 . n2).
        scale = distance / (1 + n1[0] * n2[0] + n1[1] * n2[1])
        moved.append((corner[0] + scale * (n1[0] + n2[0]), corner[1] + scale * (n1[1] + n2[1])))
    return tuple(moved)


def _left_normal(a: Point, b: Point) -> Point:
    """Unit normal to the left of the way from ``a`` to ``b``: outward on a clockwise outline."""
    length = math.dist(a, b)
    return -(b[1] - a[1]) / length, (b[0] - a[0]) / length
