"""How long a piece really takes, and how much of it runs at speed, on a machine with some acceleration.

The machine stops at corners and at each contour's ends, and passes from a line into an arc that it touches
without stopping (whether a controller rounds corners at speed is not known: this is the slow side). An arc of
radius r holds at most sqrt(a r). Between, speed rises and falls at the acceleration.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from orthotome.core.motion import AT_SPEED, fastest_round_mm_min
from orthotome.core.paths import Arc, Line, Move, Point, length_mm
from orthotome.core.pieces.piece import Contour, Piece

_TANGENT_RAD = math.radians(5)  # a smaller turn than this is no corner


@dataclass(frozen=True)
class RealTime:
    """Seconds of arc with pierces, and the share of the cut's length that runs at speed."""

    seconds: float
    share_at_speed: float


@dataclass(frozen=True)
class _Stretch:
    """A move with the speed it may have, and the way it begins and ends (rad)."""

    length_mm: float
    most_mm_s: float
    begins_rad: float
    ends_rad: float


def real_time(piece: Piece, pierce_delay_s: float, acceleration_mm_s2: float) -> RealTime:
    """How long a piece takes from its first pierce to its last, without the ways between contours."""
    seconds = at_speed = total = 0.0
    for contour in piece.contours:
        delay = pierce_delay_s if contour.pierce_delay_s is None else contour.pierce_delay_s
        wanted = AT_SPEED * contour.speed_mm_min / 60
        seconds += delay
        for run in _runs(contour, acceleration_mm_s2):
            for stretch, v0, v1 in _speeds(run, acceleration_mm_s2):
                took, fast = _ramp(stretch, v0, v1, acceleration_mm_s2, wanted)
                seconds, at_speed, total = seconds + took, at_speed + fast, total + stretch.length_mm
    return RealTime(seconds, at_speed / total)


def _runs(contour: Contour, a: float) -> Iterator[list[_Stretch]]:
    """The contour's moves between stops."""
    run: list[_Stretch] = []
    for segment in contour.segments:
        for start, move in segment.steps:
            stretch = _stretch(start, move, contour.speed_mm_min, a)
            if run and abs(_turn(run[-1].ends_rad, stretch.begins_rad)) > _TANGENT_RAD:
                yield run
                run = []
            run.append(stretch)
    yield run


def _stretch(start: Point, move: Move, speed_mm_min: float, a: float) -> _Stretch:
    if isinstance(move, Line):
        way = math.atan2(move.end[1] - start[1], move.end[0] - start[0])
        return _Stretch(length_mm(start, move), speed_mm_min / 60, way, way)
    most = min(speed_mm_min, fastest_round_mm_min(math.dist(start, move.centre), a)) / 60
    return _Stretch(length_mm(start, move), most, _tangent(start, move), _tangent(move.end, move))


def _tangent(at: Point, arc: Arc) -> float:
    out = math.atan2(at[1] - arc.centre[1], at[0] - arc.centre[0])
    return out - math.pi / 2 if arc.clockwise else out + math.pi / 2


def _turn(before: float, after: float) -> float:
    return (after - before + math.pi) % (2 * math.pi) - math.pi


def _speeds(run: list[_Stretch], a: float) -> Iterator[tuple[_Stretch, float, float]]:
    """Each stretch with its speed at both ends: what can be reached from the stop before and after."""
    joints = [0.0, *(min(p.most_mm_s, q.most_mm_s) for p, q in pairwise(run)), 0.0]
    for i, stretch in enumerate(run):
        joints[i + 1] = min(joints[i + 1], math.sqrt(joints[i] ** 2 + 2 * a * stretch.length_mm))
    for i in range(len(run) - 1, -1, -1):
        joints[i] = min(joints[i], math.sqrt(joints[i + 1] ** 2 + 2 * a * run[i].length_mm))
    yield from zip(run, joints[:-1], joints[1:], strict=True)


def _ramp(s: _Stretch, v0: float, v1: float, a: float, wanted: float) -> tuple[float, float]:
    """(seconds, length at speed) of a stretch begun at v0 and left at v1."""
    peak = min(s.most_mm_s, math.sqrt((2 * a * s.length_mm + v0**2 + v1**2) / 2))
    ramps = (2 * peak**2 - v0**2 - v1**2) / (2 * a)
    cruise = max(0.0, s.length_mm - ramps)
    seconds = (2 * peak - v0 - v1) / a + cruise / peak
    if peak < wanted - 1e-9:
        return seconds, 0.0
    fast = sum((peak**2 - max(v, wanted) ** 2) / (2 * a) for v in (v0, v1))
    return seconds, fast + cruise
