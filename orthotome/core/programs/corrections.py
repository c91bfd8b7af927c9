"""What of the findings needs no judgement, and what to write instead.

Feed words, pierce delays, a hole's speed and its height control, a missing overrun, the order of contours, a torch
that is not put out. What is written is said in a program's words by ``formats``; here is decided what it must be.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from orthotome.core.path.paths import Move, cut_in_two, length_mm
from orthotome.core.programs.check import Checked
from orthotome.core.programs.checked_against import PlateJob
from orthotome.core.programs.contour_checks import overrun_needed_mm
from orthotome.core.programs.contours import ProgramContour
from orthotome.core.programs.findings import Code
from orthotome.core.programs.program import FEED, KIND, RAPID, Array, moves_of
from orthotome.core.programs.setting_checks import FEED_SHARE, SLOWED, hole_feed_mm_min, is_small_hole

WITHOUT_JUDGEMENT: frozenset[Code] = frozenset(
    (
        "no_feed",
        "feed_differs",
        "hole_too_fast",
        "pierce_delay_differs",
        "control_on_in_hole",
        "overrun_missing",
        "outside_before_inside",
        "torch_never_off",
    )
)
"""Codes that a copy can be rid of at a tap."""


@dataclass(frozen=True)
class LineChanged:
    """One change in the copy, at a line of the original."""

    line: int
    was: str
    now: str
    why: str


def with_code(checked: Checked, *codes: Code) -> list[int]:
    """The contours in which any of these was found."""
    return sorted({p.contour for p in checked.problems if p.code in codes and p.contour is not None})


def wanted_feeds_mm_min(checked: Checked, job: PlateJob) -> Array:
    """The feed that each motion of the program ought to have: its own, unless it was found wrong. NaN at rapids."""
    motions = checked.program.motions
    wanted = np.where(motions[:, KIND] == RAPID, math.nan, motions[:, FEED])
    for i in with_code(checked, "no_feed", "feed_differs", "hole_too_fast"):
        contour = checked.contours[i]
        right = hole_feed_mm_min(job) if is_small_hole(contour) else job.setting.speed_mm_min
        rows = slice(contour.run.first, contour.run.after)
        own = wanted[rows]
        low = SLOWED[0] * job.setting.speed_mm_min
        most = (1 + FEED_SHARE) * right
        least = (1 - FEED_SHARE) * right if _main_is_wrong(contour, right) else low
        odd = np.isnan(own) | (own > most) | (own < least)
        wanted[rows] = np.where(odd & (motions[rows, KIND] != RAPID), right, own)
    return wanted


def _main_is_wrong(contour: ProgramContour, right: float) -> bool:
    """Whether the contour's main feed is another, and not only some stretch's."""
    return math.isnan(contour.feed_mm_min) or abs(contour.feed_mm_min - right) > FEED_SHARE * right


def overrun_moves(contour: ProgramContour, job: PlateJob) -> tuple[Move, ...]:
    """The beginning of a contour once more, as far as the lag asks for."""
    left, moves = overrun_needed_mm(job), []
    begins = contour.lead_in_mm
    for whole in moves_of(contour.motions):
        move, length = whole, length_mm(whole)
        if begins >= length - 1e-6:
            begins -= length
            continue
        if begins > 1e-6:
            move, length, begins = cut_in_two(whole, begins)[1], length - begins, 0.0
        if length >= left - 1e-6:
            moves.append(move if abs(length - left) <= 1e-6 else cut_in_two(move, left)[0])
            break
        moves.append(move)
        left -= length
    return tuple(moves)


def inside_first(contours: Sequence[ProgramContour]) -> list[int]:
    """An order in which whatever lies in a contour comes before it, otherwise as it was."""
    order: list[int] = []
    children: dict[int, list[int]] = {}
    for i, contour in enumerate(contours):
        if contour.parent is not None:
            children.setdefault(contour.parent, []).append(i)
    done: set[int] = set()

    def add(i: int) -> None:
        if i in done:
            return
        done.add(i)
        for child in children.get(i, []):
            add(child)
        order.append(i)

    for i in range(len(contours)):
        add(i)
    return order
