"""Paths of the torch: lines and arcs, their length, and what they look like as points.

Lengths in mm in the machine frame. An arc whose end is its start is a full circle. ``clockwise`` is
seen from above.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

Point = tuple[float, float]
SegmentKind = Literal["lead_in", "cut", "overrun", "mark"]

FLATTEN_MM = 0.002  # farthest that a chord may lie from its arc
TOLD_APART_MM = 0.001  # nearer than this are one place: the last decimal of a program in millimetres


@dataclass(frozen=True)
class Line:
    """Straight from ``start`` to ``end``."""

    start: Point
    end: Point


@dataclass(frozen=True)
class Arc:
    """From ``start`` round ``centre`` to ``end``, the way that ``clockwise`` says."""

    start: Point
    end: Point
    centre: Point
    clockwise: bool


Move = Line | Arc


@dataclass(frozen=True)
class Segment:
    """Part of a contour, of one kind: its moves, each beginning where the one before it ends.

    ``speed_share`` is its share of the contour's speed; ``held`` keeps the torch at the height it has
    there, where height control is on.
    """

    kind: SegmentKind
    moves: tuple[Move, ...]
    speed_share: float = 1.0
    held: bool = False

    @property
    def start(self) -> Point:
        """Where it begins."""
        return self.moves[0].start

    @property
    def end(self) -> Point:
        """Where it ends."""
        return self.moves[-1].end

    @property
    def points(self) -> tuple[Point, ...]:
        """The path as points, arcs as chords within two thousandths of a millimetre."""
        found = [self.start]
        for move in self.moves:
            found += flattened(move)
        return tuple(found)

    @property
    def length_mm(self) -> float:
        """Length along the path."""
        return sum(length_mm(move) for move in self.moves)

    def moved(self, dx: float, dy: float) -> "Segment":
        """The same, shifted."""
        return replace(self, moves=tuple(shifted(m, dx, dy) for m in self.moves))

    def split(self, at_mm: float) -> tuple["Segment", "Segment"]:
        """The same in two, ``at_mm`` along; neither may be empty.

        By a joint it is parted at the joint, so that no sliver of a move is left.
        """
        if not TOLD_APART_MM < at_mm < self.length_mm - TOLD_APART_MM:
            raise ValueError(f"{at_mm} mm is not within {self.length_mm} mm")
        for i, move in enumerate(self.moves):
            length = length_mm(move)
            if abs(at_mm - length) <= TOLD_APART_MM:
                return replace(self, moves=self.moves[: i + 1]), replace(self, moves=self.moves[i + 1 :])
            if at_mm < length:
                first, second = cut_in_two(move, at_mm)
                before, after = (*self.moves[:i], first), (second, *self.moves[i + 1 :])
                return replace(self, moves=before), replace(self, moves=after)
            at_mm -= length
        raise AssertionError  # at_mm is less than the sum of the lengths


def straight(kind: SegmentKind, points: Iterable[Point]) -> Segment:
    """A segment of straight lines through these points."""
    return Segment(kind, tuple(Line(a, b) for a, b in pairwise(points)))


def shifted(move: Move, dx: float, dy: float) -> Move:
    """A move elsewhere."""

    def shift(p: Point) -> Point:
        return p[0] + dx, p[1] + dy

    if isinstance(move, Line):
        return Line(shift(move.start), shift(move.end))
    return replace(move, start=shift(move.start), end=shift(move.end), centre=shift(move.centre))


def backwards(move: Move) -> Move:
    """A move run the other way."""
    if isinstance(move, Line):
        return Line(move.end, move.start)
    return replace(move, start=move.end, end=move.start, clockwise=not move.clockwise)


def farthest_points(move: Move) -> tuple[Point, ...]:
    """Points whose box is that of the move: its ends, and of an arc the points where it runs along X or along Y."""
    if isinstance(move, Line):
        return move.start, move.end
    (cx, cy), radius = move.centre, math.dist(move.start, move.centre)
    begin, sweep = math.atan2(move.start[1] - cy, move.start[0] - cx), sweep_rad(move)
    found = [move.start, move.end]
    for quarter in range(4):
        angle = quarter * math.pi / 2
        turned = (angle - begin if sweep > 0 else begin - angle) % (2 * math.pi)
        if turned <= abs(sweep):
            found.append((cx + radius * math.cos(angle), cy + radius * math.sin(angle)))
    return tuple(found)


def length_mm(move: Move) -> float:
    """Length of a move."""
    if isinstance(move, Line):
        return math.dist(move.start, move.end)
    return math.dist(move.start, move.centre) * abs(sweep_rad(move))


def is_circle(arc: Arc) -> bool:
    """Whether an arc is a whole turn: it ends just where it starts."""
    return math.dist(arc.start, arc.end) < 1e-9


def sweep_rad(arc: Arc) -> float:
    """Angle turned along an arc: positive counter-clockwise, a whole turn where it ends at its start."""
    a = math.atan2(arc.start[1] - arc.centre[1], arc.start[0] - arc.centre[0])
    b = math.atan2(arc.end[1] - arc.centre[1], arc.end[0] - arc.centre[0])
    turned = (a - b if arc.clockwise else b - a) % (2 * math.pi)
    if is_circle(arc):
        turned = 2 * math.pi
    return -turned if arc.clockwise else turned


def point_along(move: Move, at_mm: float) -> Point:
    """The point ``at_mm`` along a move."""
    share = at_mm / length_mm(move)
    if isinstance(move, Line):
        (x, y), (u, v) = move.start, move.end
        return x + share * (u - x), y + share * (v - y)
    return turned(move.start, move.centre, share * sweep_rad(move))


def cut_in_two(move: Move, at_mm: float) -> tuple[Move, Move]:
    """A move as two, ``at_mm`` along."""
    middle = point_along(move, at_mm)
    return replace(move, end=middle), replace(move, start=middle)


def turned(p: Point, centre: Point, angle_rad: float) -> Point:
    """A point turned round a centre, counter-clockwise."""
    dx, dy = p[0] - centre[0], p[1] - centre[1]
    c, s = math.cos(angle_rad), math.sin(angle_rad)
    return centre[0] + c * dx - s * dy, centre[1] + s * dx + c * dy


def heading_rad(move: Move, at: Point | None = None) -> float:
    """Direction of travel at a point of a move; at its start where none is given."""
    if isinstance(move, Line):
        return math.atan2(move.end[1] - move.start[1], move.end[0] - move.start[0])
    here = move.start if at is None else at
    out = math.atan2(here[1] - move.centre[1], here[0] - move.centre[0])
    return out - math.pi / 2 if move.clockwise else out + math.pi / 2


def turn_rad(before_rad: float, after_rad: float) -> float:
    """Turn from one heading to another, in [-pi, pi): positive to the left."""
    return (after_rad - before_rad + math.pi) % (2 * math.pi) - math.pi


def flattened(move: Move, within_mm: float = FLATTEN_MM) -> list[Point]:
    """The points after its start; an arc's lie on it, so close that no chord strays farther than that."""
    if isinstance(move, Line):
        return [move.end]
    radius, sweep = math.dist(move.start, move.centre), sweep_rad(move)
    step = 2 * math.acos(max(0.0, 1 - within_mm / radius)) if radius > within_mm else math.pi
    count = max(2, math.ceil(abs(sweep) / step))
    a = math.atan2(move.start[1] - move.centre[1], move.start[0] - move.centre[0])
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


def bends_mm(moves: Iterable[Move], more_than_rad: float = math.radians(20)) -> tuple[float, ...]:
    """Where along a path its direction turns by more than that at once, in mm from its start."""
    way, found, before = 0.0, [], None
    for move in moves:
        if before is not None:
            turn = (heading_rad(move) - before + math.pi) % (2 * math.pi) - math.pi
            if abs(turn) > more_than_rad:
                found.append(way)
        way += length_mm(move)
        before = heading_rad(move, move.end)
    return tuple(found)
