"""Exercises that watch the arc: what a run showed, a master's way, and whether what was said of it is so.

A master is the recording's own report: one run with the height held, read by its volts, its noise and the torch's height; then,
where those are as they should be, one under control, and what the report recommends. Nobody is told the truth for it.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.height.after_square import Control
from orthotome.core.height.events import GAP_MM
from orthotome.core.height.trace import Trace
from orthotome.core.height.trace_report import TYPICAL_V_PER_MM, BesideTrace, read_trace
from orthotome.core.height.volts import NOISE_V
from orthotome.core.practice.at_the_table import MastersWay, TableDebrief, TableStep, claimable
from orthotome.core.practice.hidden import Claim
from orthotome.core.practice.table_exercises import ARC_WAY_MM, TableExercise
from orthotome.core.quantities import length, volts
from orthotome.core.setting import Setting
from orthotome.core.trial.table_door import FittedAnew

_NO_ARC_SHARE = 0.5  # of the volts expected: below it the screen does not show the arc's; assumption
_RESTLESS = 2.0  # times the usual noise; assumption
_OTHER_V = 6.0  # above what is expected at that height, as a manual's volts may stand off by themselves
_FINISHED_SHARE = 0.98

ArcRun = Callable[[Control | None], Trace]
"""One square with the arc watched, height held (None) or under a control."""


@dataclass(frozen=True)
class ArcRead:
    """What one run showed: the volts at rest and their noise, the torch's height with the arc on, its farthest dip in a corner
    (mm, None without Z), and whether the arc stood to the end. ``volts_v`` are the highest shown where they are no arc's."""

    volts_v: float
    noise_v: float | None
    height_mm: float | None
    dip_mm: float | None
    hold_below_share: float | None
    stood: bool

    @property
    def says(self) -> str:
        """In a sentence."""
        said = [f"{volts(self.volts_v)} on the screen"]
        if self.noise_v is not None:
            said.append(f"restless by {volts(self.noise_v)}")
        if self.height_mm is not None:
            said.append(f"the torch at {length(self.height_mm)}")
        if self.dip_mm is not None and self.dip_mm >= GAP_MM:
            said.append(f"dips of {length(self.dip_mm)} in the corners")
        if not self.stood:
            said.append("the arc went out on the way")
        return ", ".join(said) + "."


def read_run(trace: Trace, at: Setting, way_mm: float | None = None) -> ArcRead:
    """What a recorded run at a setting showed. ``way_mm`` is what it should have cut; None where that is not known."""
    known = BesideTrace(TYPICAL_V_PER_MM, at.cut_height_mm, None, at.speed_mm_min)
    report = read_trace(trace, known)
    stood = way_mm is None or way_cut_mm(trace) >= _FINISHED_SHARE * way_mm
    if not report.cuts:
        return ArcRead(float(np.nanmax(trace.volts_v, initial=0.0)), None, None, None, None, stood)
    cuts = report.cuts
    heights = [c.height_mm for c in cuts if c.height_mm is not None]
    dips = [
        -e.height_mm for c in cuts for e in c.events if e.kind == "corner" and e.height_mm is not None
    ]
    return ArcRead(
        float(np.median([c.steady_v for c in cuts])),
        float(np.median([c.noise_v for c in cuts])),
        float(np.median(heights)) if heights else None,
        max(dips, default=None),
        report.recommend.hold_below_speed_share,
        stood and not any(e.kind == "arc_lost" for c in cuts for e in c.events),
    )


def way_cut_mm(trace: Trace) -> float:
    """How far the torch went, by the feed that was recorded; zero where none was."""
    if trace.feed_mm_min is None:
        return 0.0
    feed = np.nan_to_num(trace.feed_mm_min) / 60
    return float(np.sum(feed[1:] * np.diff(trace.time_s)))


def cause_of(read: ArcRead, expected_v: float, at: Setting) -> Claim | None:
    """What a run with the height held says is wrong, at a setting whose volts are known; None where it shows nothing."""
    if read.volts_v < _NO_ARC_SHARE * expected_v:
        return "divided_twice"
    if not read.stood or (read.noise_v or 0.0) > _RESTLESS * NOISE_V:
        return "wet_air"
    if read.height_mm is not None and read.height_mm > at.cut_height_mm + GAP_MM:
        return "clip_loose"
    return "worn_electrode" if read.volts_v > expected_v + _OTHER_V else None


def masters_arc(exercise: TableExercise, run: ArcRun, told: Control) -> MastersWay:
    """What a master does: watches with the height held, then under control, and holds what the recording says to hold."""
    at = setting_of(exercise)
    held = read_run(run(None), at, ARC_WAY_MM)
    steps = [_step(at, f"Height held: {held.says}")]
    cause = cause_of(held, exercise.row_volts, at)
    if cause is not None:
        return MastersWay(tuple(steps), cause)
    under = read_run(run(told), at, ARC_WAY_MM)
    steps.append(_step(at, f"Under control: {under.says}"))
    if (under.dip_mm or 0.0) >= GAP_MM and under.hold_below_share is not None:
        told = replace(told, hold_below_share=under.hold_below_share)
        steps.append(TableStep(None, f"Told it to hold height {_below(told)}.", None, None, None))
        under = read_run(run(told), at, ARC_WAY_MM)
        steps.append(_step(at, f"Under control again: {under.says}"))
    return MastersWay(tuple(steps), "holds" if (under.dip_mm or 0.0) < GAP_MM else None)


def _below(told: Control) -> str:
    return f"below {round(100 * (told.hold_below_share or 0.0))} % of the speed"


def _step(at: Setting, words: str) -> TableStep:
    return TableStep(at, words, None, None, None)


def setting_of(exercise: TableExercise) -> Setting:
    """The setting that is run: the row's."""
    return Setting.of(exercise.told_start)


def departure_mm(trace: Trace, cut_height_mm: float) -> float:
    """How far the torch leaves its height from where it moves to where it stops, mm; infinite where the arc goes out before.

    ``trace`` holds Z above a flat sheet, and the feed.
    """
    if (
        trace.z_mm is None
        or trace.feed_mm_min is None
        or way_cut_mm(trace) < _FINISHED_SHARE * ARC_WAY_MM
    ):
        return float("inf")
    moving = np.flatnonzero(np.nan_to_num(trace.feed_mm_min) > 0)
    down = moving[0] + round(_DOWN_S / float(np.median(np.diff(trace.time_s))))
    z = trace.z_mm[down : moving[-1]]
    return float(np.max(np.abs(z - cut_height_mm), initial=0.0))


_DOWN_S = 0.3  # from the first move until the torch has come down to cut height; assumption


def judge_arc_end(
    exercise: TableExercise, claim: str, runs: int, departs_mm: float | None, anew: FittedAnew
) -> TableDebrief:
    """Whether what was said is so, within the runs. ``departs_mm`` is how far the torch really leaves its height with what
    control is told in the end, None where it is told nothing. Raises TradeError for a claim that is none."""
    said, thing = claimable(exercise, claim), exercise.thing
    holds = departs_mm is not None and departs_mm < GAP_MM
    if said == "holds" and not holds:
        return TableDebrief(False, f"It does not hold. {_how_far(departs_mm)} {thing.words}")
    right = thing.ends == "holds" or thing.is_cured(anew)
    if said not in ("holds", thing.ends) or (said == "holds" and not right):
        return TableDebrief(False, f"It was not that. {thing.words}")
    if runs == 0:
        return TableDebrief(False, f"Right, and guessed: nothing was run. {thing.words}")
    if runs > exercise.most_cuts:
        return TableDebrief(False, f"Right, with {runs} runs where {exercise.most_cuts} were allowed.")
    return TableDebrief(True, f"Right, after {runs} {'run' if runs == 1 else 'runs'}. {thing.words}")


def _how_far(departs_mm: float | None) -> str:
    if departs_mm is None:
        return "Height control was told nothing."
    if not np.isfinite(departs_mm):
        return "The arc goes out before the end."
    return f"With what it is told the torch leaves its height by {length(departs_mm)}."
