"""How fast a program really runs on a table: the time, and what of each cut is at speed."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from orthotome.core.machine.motion import fastest_round_mm_min
from orthotome.core.path.travel import Course, joint_speeds_mm_s, peak_mm_s, travel
from orthotome.core.pieces.timing import HEIGHT_MOVES_S, rapid_s
from orthotome.core.programs.checked_against import Table
from orthotome.core.programs.contours import ProgramContour
from orthotome.core.programs.program import (
    FEED,
    KIND,
    RAPID,
    Array,
    Program,
    headings_rad,
    lengths_mm,
    radii_mm,
)


@dataclass(frozen=True, eq=False)
class RunTime:
    """``seconds`` from the first line to the last; of each contour when its arc strikes, the seconds of arc, the share of
    its part that runs at speed, and of each of its motions the seconds and the fastest that it comes to (mm/min)."""

    seconds: float
    strikes_s: tuple[float, ...]
    arc_s: tuple[float, ...]
    share_at_speed: tuple[float, ...]
    whole_share: float
    motion_s: tuple[Array, ...]
    peaks_mm_min: tuple[Array, ...]


def run_time(
    program: Program, contours: Sequence[ProgramContour], table: Table, usual_mm_min: float
) -> RunTime:
    """The time of a program on a table. Where no feed is said, ``usual_mm_min`` stands for it."""
    a = table.acceleration
    rapids = _rapids_s(program, table)
    if not contours:
        return RunTime(float(rapids.sum()), (), (), (), 0.0, (), ())
    motions = np.vstack([c.motions for c in contours])
    counts = [len(c.motions) for c in contours]
    starts = np.cumsum([0, *counts[:-1]])
    course = course_of_motions(motions, starts, a, usual_mm_min)
    seconds, fast = travel(course, a)
    begins, ends = joint_speeds_mm_s(course, a)
    peaks = 60 * peak_mm_s(course, begins, ends, a)
    in_part = np.concatenate([c.in_part for c in contours])
    length = np.where(in_part, course.length_mm, 0.0)
    fast = np.where(in_part, fast, 0.0)
    of_part = np.add.reduceat(length, starts)
    of_fast = np.add.reduceat(fast, starts)
    shares = np.divide(of_fast, of_part, out=np.zeros_like(of_fast), where=of_part > 0)
    cutting = np.add.reduceat(seconds, starts)
    delays = np.nan_to_num(np.array([c.run.delay_s for c in contours]))
    arc = cutting + delays
    total = float(arc.sum()) + float(rapids.sum()) + HEIGHT_MOVES_S * len(contours)
    gone = np.concatenate([[0.0], np.cumsum(rapids)])[[c.run.first for c in contours]]
    strikes = gone + np.cumsum(arc) - arc + HEIGHT_MOVES_S * np.arange(1, len(contours) + 1)
    return RunTime(
        total,
        tuple(map(float, strikes)),
        tuple(map(float, arc)),
        tuple(map(float, shares)),
        float(of_fast.sum() / of_part.sum()) if of_part.sum() else 0.0,
        tuple(np.split(seconds, starts[1:])),
        tuple(np.split(peaks, starts[1:])),
    )


def course_of_motions(
    motions: Array, starts: NDArray[np.intp], acceleration_mm_s2: float, usual_mm_min: float
) -> Course:
    """Motions as a course; each cut begins from rest."""
    feeds = np.where(
        np.isnan(motions[:, FEED]) | (motions[:, FEED] <= 0), usual_mm_min, motions[:, FEED]
    )
    most = np.minimum(feeds, fastest_round_mm_min(1.0, acceleration_mm_s2) * np.sqrt(radii_mm(motions)))
    begins, ends = headings_rad(motions)
    from_rest = np.zeros(len(motions), dtype=bool)
    from_rest[starts] = True
    return Course(np.maximum(lengths_mm(motions), 1e-9), feeds / 60, most / 60, begins, ends, from_rest)


def _rapids_s(program: Program, table: Table) -> Array:
    """Seconds of each motion that is a rapid, 0 for the others, shape (n,)."""
    found = np.zeros(len(program.motions))
    rapid = np.flatnonzero(program.motions[:, KIND] == RAPID)
    ways = lengths_mm(program.motions[rapid])
    found[rapid] = [rapid_s(w, table.rapid_mm_min / 60, table.acceleration) for w in ways]
    return found
