"""How long a piece really takes, where the torch is when, and how much of it runs at speed.

The machine stops at corners and at each contour's ends, and passes from a line into an arc that it touches
without stopping (whether a controller rounds corners at speed is not known: this is the slow side). An arc of
radius r holds at most sqrt(a r). Between, speed rises and falls at the acceleration.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from orthotome.core.machine.motion import AT_SPEED, fastest_round_mm_min
from orthotome.core.path.paths import (
    Arc,
    Line,
    Move,
    Point,
    SegmentKind,
    cut_in_two,
    heading_rad,
    length_mm,
    point_along,
    turn_rad,
)
from orthotome.core.pieces.piece import Contour, Piece

_TANGENT_RAD = math.radians(5)  # a smaller turn than this is no corner
_LEAST_MM = 1e-6  # shorter legs are rounding
_ARC_STEP_RAD = math.radians(6)  # between samples of an arc: to look at, not to cut by


@dataclass(frozen=True)
class Leg:
    """Part of a move with one acceleration, from one speed to another, in mm/s."""

    kind: SegmentKind
    start: Point
    move: Move
    begins_mm_s: float
    ends_mm_s: float
    slow: bool  # below nine tenths of the speed set

    @property
    def length_mm(self) -> float:
        """Length of it."""
        return length_mm(self.start, self.move)

    @property
    def seconds(self) -> float:
        """Time it takes: its length over its mean speed."""
        return 2 * self.length_mm / (self.begins_mm_s + self.ends_mm_s)

    def at(self, share: float) -> tuple[Point, float]:
        """(point, speed in mm/s) when a share of its time is over."""
        t = share * self.seconds
        v = self.begins_mm_s + share * (self.ends_mm_s - self.begins_mm_s)
        way = t * (self.begins_mm_s + v) / 2
        return point_along(self.start, self.move, min(way, self.length_mm)), v


@dataclass(frozen=True)
class RealTime:
    """Seconds of arc with pierces, and the share of the cut's length that runs at speed."""

    seconds: float
    share_at_speed: float


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
    seconds = fast = total = 0.0
    for contour in piece.contours:
        seconds += contour.delay_s(pierce_delay_s)
        for leg in legs(contour, acceleration_mm_s2):
            seconds, total = seconds + leg.seconds, total + leg.length_mm
            fast += 0.0 if leg.slow else leg.length_mm
    return RealTime(seconds, fast / total)


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
    bend = leg.length_mm / math.dist(leg.start, leg.move.centre)
    return max(2, math.ceil(bend / _ARC_STEP_RAD))


def legs(contour: Contour, acceleration_mm_s2: float) -> Iterator[Leg]:
    """A contour's moves as the machine runs them, the pierce left out."""
    for run in _runs(contour, acceleration_mm_s2):
        for stretch, v0, v1 in _speeds(run, acceleration_mm_s2):
            yield from _ramps(stretch, v0, v1, acceleration_mm_s2)


@dataclass(frozen=True)
class _Stretch:
    """A move with the speed it is to have and may have, and the way it begins and ends (rad)."""

    kind: SegmentKind
    start: Point
    move: Move
    set_mm_s: float
    most_mm_s: float
    begins_rad: float
    ends_rad: float

    @property
    def length_mm(self) -> float:
        return length_mm(self.start, self.move)


def _runs(contour: Contour, a: float) -> Iterator[list[_Stretch]]:
    """The contour's moves between stops."""
    run: list[_Stretch] = []
    for segment in contour.segments:
        for start, move in segment.steps:
            speed = contour.speed_mm_min * segment.speed_share
            stretch = _stretch(segment.kind, start, move, speed, a)
            if run and abs(turn_rad(run[-1].ends_rad, stretch.begins_rad)) > _TANGENT_RAD:
                yield run
                run = []
            run.append(stretch)
    yield run


def _stretch(kind: SegmentKind, start: Point, move: Move, speed_mm_min: float, a: float) -> _Stretch:
    most = speed_mm_min
    if isinstance(move, Arc):
        most = min(most, fastest_round_mm_min(math.dist(start, move.centre), a))
    begins, ends = heading_rad(start, start, move), heading_rad(move.end, start, move)
    return _Stretch(kind, start, move, speed_mm_min / 60, most / 60, begins, ends)


def _speeds(run: list[_Stretch], a: float) -> Iterator[tuple[_Stretch, float, float]]:
    """Each stretch with its speed at both ends: what can be reached from the stop before and after."""
    joints = [0.0, *(min(p.most_mm_s, q.most_mm_s) for p, q in pairwise(run)), 0.0]
    for i, stretch in enumerate(run):
        joints[i + 1] = min(joints[i + 1], math.sqrt(joints[i] ** 2 + 2 * a * stretch.length_mm))
    for i in range(len(run) - 1, -1, -1):
        joints[i] = min(joints[i], math.sqrt(joints[i + 1] ** 2 + 2 * a * run[i].length_mm))
    yield from zip(run, joints[:-1], joints[1:], strict=True)


def _ramps(s: _Stretch, v0: float, v1: float, a: float) -> Iterator[Leg]:
    """A stretch begun at v0 and left at v1: up, along and down, parted where it comes to speed."""
    peak = min(s.most_mm_s, math.sqrt((2 * a * s.length_mm + v0**2 + v1**2) / 2))
    wanted = AT_SPEED * s.set_mm_s
    # Speeds on the way, each with the length it takes to get there from the one before.
    up = [v0, wanted, peak] if v0 < wanted < peak else [v0, peak]
    down = [peak, wanted, v1] if v1 < wanted < peak else [peak, v1]
    ways = [(p, q, abs(q**2 - p**2) / (2 * a)) for p, q in pairwise(up)]
    falls = [(p, q, abs(q**2 - p**2) / (2 * a)) for p, q in pairwise(down)]
    cruise = s.length_mm - sum(w[2] for w in ways + falls)
    start, move = s.start, s.move
    along = [w for w in [*ways, (peak, peak, cruise), *falls] if w[2] > _LEAST_MM]
    for i, (begins, ends, length) in enumerate(along):
        here = move
        if i < len(along) - 1:
            here, move = cut_in_two(start, move, length)
        slow = min(begins, ends) < wanted - 1e-9
        yield Leg(s.kind, start, here, begins, ends, slow)
        start = here.end
