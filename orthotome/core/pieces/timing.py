"""How long a piece really takes, where the torch is when, and how much of it runs at speed."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from orthotome.core.machine.motion import AT_SPEED
from orthotome.core.path.paths import Line, Move, Point, SegmentKind, cut_in_two, length_mm, point_along
from orthotome.core.path.travel import Course, course_of, joint_speeds_mm_s, peak_mm_s, travel
from orthotome.core.pieces.piece import Contour, Piece

_LEAST_MM = 1e-6  # shorter legs are rounding
_ARC_STEP_RAD = math.radians(6)  # between samples of an arc: to look at, not to cut by


@dataclass(frozen=True)
class Leg:
    """Part of a move with one acceleration, from one speed to another, in mm/s."""

    kind: SegmentKind
    move: Move
    begins_mm_s: float
    ends_mm_s: float
    slow: bool  # below nine tenths of the speed set

    @property
    def length_mm(self) -> float:
        """Length of it."""
        return length_mm(self.move)

    @property
    def seconds(self) -> float:
        """Time it takes: its length over its mean speed."""
        return 2 * self.length_mm / (self.begins_mm_s + self.ends_mm_s)

    def at(self, share: float) -> tuple[Point, float]:
        """(point, speed in mm/s) when a share of its time is over."""
        t = share * self.seconds
        v = self.begins_mm_s + share * (self.ends_mm_s - self.begins_mm_s)
        way = t * (self.begins_mm_s + v) / 2
        return point_along(self.move, min(way, self.length_mm)), v


@dataclass(frozen=True)
class RealTime:
    """Seconds of arc with pierces, and the share of the cut's length that runs at speed."""

    seconds: float
    share_at_speed: float


USUAL_RAPID_MM_MIN = 10_000.0  # until the table's fastest is written down; assumption
HEIGHT_MOVES_S = 2.0  # down, touch-off left out, and up again at each pierce; assumption


@dataclass(frozen=True)
class Sample:
    """Where the torch is, so long after the first pierce began."""

    at_s: float
    at: Point
    speed_mm_min: float
    kind: SegmentKind
    slow: bool


def real_time(piece: Piece, pierce_delay_s: float, acceleration_mm_s2: float) -> RealTime:
    """How long a piece takes from its first pierce to its last, without the ways between contours."""
    seconds, fast = travel(_course(piece.contours, acceleration_mm_s2), acceleration_mm_s2)
    pierces = sum(c.delay_s(pierce_delay_s) for c in piece.contours)
    return RealTime(pierces + float(seconds.sum()), float(fast.sum()) / piece.cut_length_mm)


def machine_seconds(
    piece: Piece,
    pierce_delay_s: float,
    acceleration_mm_s2: float,
    fastest_mm_min: float | None = None,
) -> float:
    """From zero and back to it: arc and pierces at real speed, rapids between, and the moves of height.

    Touch-off and stops by hand are not in it: how long they take is the table's own.
    """
    arc = real_time(piece, pierce_delay_s, acceleration_mm_s2).seconds
    stops = [(0.0, 0.0)]
    for contour in piece.contours:
        stops += [contour.pierce_at, contour.segments[-1].end]
    ways = [math.dist(a, b) for a, b in zip(stops[0::2], [*stops[1::2], (0.0, 0.0)], strict=True)]
    fastest = (fastest_mm_min or USUAL_RAPID_MM_MIN) / 60
    rapids = sum(rapid_s(way, fastest, acceleration_mm_s2) for way in ways)
    return arc + rapids + HEIGHT_MOVES_S * len(piece.contours)


def rapid_s(way_mm: float, fastest_mm_s: float, acceleration_mm_s2: float) -> float:
    """From rest to rest: v / a more than at speed throughout, or never at speed."""
    if way_mm < fastest_mm_s**2 / acceleration_mm_s2:
        return 2 * math.sqrt(way_mm / acceleration_mm_s2)
    return way_mm / fastest_mm_s + fastest_mm_s / acceleration_mm_s2


def _course(contours: Sequence[Contour], acceleration_mm_s2: float) -> Course:
    """The moves of contours as a course; each contour begins at rest, where it pierces."""
    moves = [m for c in contours for s in c.segments for m in s.moves]
    speeds = [c.speed_of(s) for c in contours for s in c.segments for _ in s.moves]
    counts = [sum(len(s.moves) for s in c.segments) for c in contours]
    from_rest = np.zeros(len(moves), dtype=bool)
    from_rest[np.cumsum([0, *counts[:-1]])] = True
    return course_of(moves, np.array(speeds), from_rest, acceleration_mm_s2)


def played(
    piece: Piece,
    pierce_delay_s: float,
    acceleration_mm_s2: float,
    fastest_mm_min: float | None = None,
) -> tuple[tuple[Sample, ...], ...]:
    """Where the torch is when, contour by contour; its first sample is when it pierces, standing still.

    Between contours it moves at ``fastest_mm_min`` (left out: in no time, since that is not known).
    """
    now, last, contours = 0.0, None, []
    for contour in piece.contours:
        if last is not None and fastest_mm_min:
            now += 60 * math.dist(last, contour.pierce_at) / fastest_mm_min
        first = contour.segments[0].kind
        samples = [Sample(now, contour.pierce_at, 0.0, first, slow=True)]
        now += contour.delay_s(pierce_delay_s)
        samples.append(Sample(now, contour.pierce_at, 0.0, first, slow=True))
        for leg in legs(contour, acceleration_mm_s2):
            count = _looks(leg)
            for i in range(1, count + 1):
                point, speed = leg.at(i / count)
                when = now + leg.seconds * (i / count)  # of the last, just the leg
                samples.append(Sample(when, point, 60 * speed, leg.kind, leg.slow))
            now += leg.seconds
        last = samples[-1].at
        contours.append(tuple(samples))
    return tuple(contours)


def _looks(leg: Leg) -> int:
    """How many samples show a leg: more where it bends or its speed changes."""
    steady = abs(leg.begins_mm_s - leg.ends_mm_s) < 1e-9
    if isinstance(leg.move, Line):
        return 1 if steady else 4
    bend = leg.length_mm / math.dist(leg.move.start, leg.move.centre)
    return max(2, math.ceil(bend / _ARC_STEP_RAD))


def legs(contour: Contour, acceleration_mm_s2: float) -> Iterator[Leg]:
    """A contour's moves as the machine runs them, the pierce left out."""
    course = _course([contour], acceleration_mm_s2)
    begins, ends = joint_speeds_mm_s(course, acceleration_mm_s2)
    peaks = peak_mm_s(course, begins, ends, acceleration_mm_s2)
    moves = [(s.kind, m) for s in contour.segments for m in s.moves]
    for i, (kind, move) in enumerate(moves):
        speeds = (float(begins[i]), float(peaks[i]), float(ends[i]))
        yield from _ramps(kind, move, speeds, AT_SPEED * float(course.set_mm_s[i]), acceleration_mm_s2)


def _ramps(
    kind: SegmentKind, move: Move, speeds: tuple[float, float, float], wanted: float, a: float
) -> Iterator[Leg]:
    """A move begun, at its most, and left at these speeds: up, along and down, parted where it comes to
    the speed wanted."""
    v0, peak, v1 = speeds
    up = [v0, wanted, peak] if v0 < wanted < peak else [v0, peak]
    down = [peak, wanted, v1] if v1 < wanted < peak else [peak, v1]
    # Speeds on the way, each with the length it takes to get there from the one before.
    ways = [(p, q, abs(q**2 - p**2) / (2 * a)) for p, q in pairwise(up)]
    falls = [(p, q, abs(q**2 - p**2) / (2 * a)) for p, q in pairwise(down)]
    cruise = length_mm(move) - sum(w[2] for w in ways + falls)
    along = [w for w in [*ways, (peak, peak, cruise), *falls] if w[2] > _LEAST_MM]
    for i, (begins, ends, length) in enumerate(along):
        here = move
        if i < len(along) - 1:
            here, move = cut_in_two(move, length)
        yield Leg(kind, here, begins, ends, min(begins, ends) < wanted - 1e-9)
