"""How a machine runs a course of moves: the speed at every joint, the time, and what of it is at speed.

The machine stops at corners and where it is told to, and passes from a line into an arc that it touches
without stopping (whether a controller rounds corners at speed is not known: this is the slow side). An arc
of radius r holds at most sqrt(a r), and so does a bend in chords: one of length L that turns by an angle t stands for
an arc of radius L / t. Between, speed rises and falls at the acceleration ``a``.

Everything is worked out over arrays. With w the square of the speed at a joint, c the most it may be
there and g = 2 a L what a move of length L can add to it, the machine's law is

    w[i+1] = min(c[i+1], w[i] + g[i]),   so with G the running sum of g:   w = G + running min of (c - G)

and the same from the end backwards.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from orthotome.core.machine.motion import AT_SPEED, fastest_round_mm_min
from orthotome.core.path.paths import Arc, Move, heading_rad, length_mm

Array = NDArray[np.float64]

_CORNER_RAD = math.radians(20)  # a smaller turn than this is a bend in chords, and no corner


@dataclass(frozen=True, eq=False)
class Course:
    """Moves as arrays, one entry each: length, the speed set and the most that may be had (mm/s), the
    heading at both ends (rad), and whether the machine stands still before it."""

    length_mm: Array
    set_mm_s: Array
    most_mm_s: Array
    begins_rad: Array
    ends_rad: Array
    from_rest: NDArray[np.bool_]


def course_of(
    moves: Sequence[Move], set_mm_min: Array, from_rest: NDArray[np.bool_], acceleration_mm_s2: float
) -> Course:
    """The course of these moves at these set speeds; the first always begins from rest."""
    rows = np.array(
        [
            (
                length_mm(m),
                math.dist(m.start, m.centre) if isinstance(m, Arc) else math.inf,
                heading_rad(m),
                heading_rad(m, m.end),
            )
            for m in moves
        ]
    ).reshape(-1, 4)
    round_mm_min = fastest_round_mm_min(1.0, acceleration_mm_s2) * np.sqrt(rows[:, 1])
    most = np.minimum(set_mm_min, round_mm_min)
    return Course(rows[:, 0], set_mm_min / 60, most / 60, rows[:, 2], rows[:, 3], from_rest)


def joint_speeds_mm_s(course: Course, acceleration_mm_s2: float) -> tuple[Array, Array]:
    """The speed at which each move begins and ends, each of shape (moves,)."""
    n = len(course.length_mm)
    caps = np.zeros(n + 1)
    turn = (course.begins_rad[1:] - course.ends_rad[:-1] + math.pi) % (2 * math.pi) - math.pi
    stops = course.from_rest[1:] | (np.abs(turn) > _CORNER_RAD)
    chord = np.minimum(course.length_mm[:-1], course.length_mm[1:])
    bend = acceleration_mm_s2 * chord / np.maximum(np.abs(turn), 1e-9)
    caps[1:-1] = np.where(
        stops, 0.0, np.minimum(np.minimum(course.most_mm_s[:-1], course.most_mm_s[1:]) ** 2, bend)
    )
    gained = np.concatenate([[0.0], np.cumsum(2 * acceleration_mm_s2 * course.length_mm)])
    squares = gained + np.minimum.accumulate(caps - gained)
    left = gained[-1] - gained  # what can be shed from here to the end
    squares = left + np.minimum.accumulate((squares - left)[::-1])[::-1]
    # What the running sums leave of a stop is rounding, and a stop is a stop.
    speeds = np.where(caps == 0.0, 0.0, np.sqrt(np.maximum(squares, 0.0)))
    return speeds[:-1], speeds[1:]


def travel(course: Course, acceleration_mm_s2: float) -> tuple[Array, Array]:
    """(seconds, length in mm that runs at speed) of each move."""
    a, length = acceleration_mm_s2, course.length_mm
    begins, ends = joint_speeds_mm_s(course, a)
    peak = peak_mm_s(course, begins, ends, a)
    ramps = (2 * peak**2 - begins**2 - ends**2) / (2 * a)
    cruise = np.maximum(0.0, length - ramps)
    with np.errstate(divide="ignore", invalid="ignore"):
        seconds = (2 * peak - begins - ends) / a + np.where(cruise > 0, cruise / peak, 0.0)
    wanted = AT_SPEED * course.set_mm_s
    rising = np.maximum(0.0, peak**2 - np.maximum(begins, wanted) ** 2) / (2 * a)
    falling = np.maximum(0.0, peak**2 - np.maximum(ends, wanted) ** 2) / (2 * a)
    fast = np.where(peak >= wanted - 1e-9, np.minimum(length, rising + cruise + falling), 0.0)
    return seconds, fast


def peak_mm_s(course: Course, begins: Array, ends: Array, acceleration_mm_s2: float) -> Array:
    """The most that each move comes to between its ends."""
    reachable = np.sqrt((2 * acceleration_mm_s2 * course.length_mm + begins**2 + ends**2) / 2)
    return np.minimum(course.most_mm_s, reachable)
