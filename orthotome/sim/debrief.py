"""What an exercise's table really was, as it is told once the exercise was ended."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.edge.edges import way_in_words
from orthotome.core.height.trace import Array, Trace
from orthotome.core.practice.table_exercises import TableExercise
from orthotome.core.quantities import (
    height_step_mm,
    in_steps,
    length,
    slope,
    speed,
    speed_step_mm_min,
    volts,
)
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import ChanceMap
from orthotome.sim.live import LiveTable
from orthotome.sim.practice import (
    EVERYTHING_ANEW,
    arc_run,
    hidden_in,
    practice_table,
    square_setting,
    true_chance,
)

_MAP_SPEEDS, _MAP_HEIGHTS = 25, 13
_BEYOND = 0.08  # share of the way that the map reaches further than any cut
_DRAWN = 240  # points of a picture
_HOLDS_SHARE = 0.9  # of the speed, on the sound table of the picture


@dataclass(frozen=True)
class ArcPicture:
    """A run under control as the exercise begins, beside that of a table with nothing wrong: volts, and the torch's height.
    None where nothing was read."""

    at_s: list[float]
    volts_v: list[float | None]
    height_mm: list[float | None]
    sound_at_s: list[float]
    sound_volts_v: list[float | None]
    sound_height_mm: list[float | None]


def square_dialled(exercise: TableExercise) -> Setting:
    """Where squares pass most often once what can be put right is, in steps that a hand dials."""
    best = square_setting(exercise)
    return Setting(
        in_steps(best.speed_mm_min, speed_step_mm_min(best.speed_mm_min)),
        in_steps(best.cut_height_mm, height_step_mm()),
    )


def truth_says(exercise: TableExercise, square: Setting) -> list[str]:
    """All that its table hid, each in a sentence; ``square`` is where it passes most often."""
    hidden = hidden_in(exercise)
    gauge_deg = practice_table(exercise, EVERYTHING_ANEW).reading_u_deg
    chance = true_chance(exercise, square, EVERYTHING_ANEW)
    said = [
        f"Best at {speed(square.speed_mm_min)} and {length(square.cut_height_mm)}: there {round(100 * chance)} in 100 "
        "squares pass.",
        f"Swirl {hidden.swirl_deg:.1f}° to either side of the mean.",
        f"One cut differs from the next by {hidden.cut_spread_deg:.1f}°, one edge from the next by "
        f"{hidden.edge_spread_deg:.1f}°, and the gauge by {gauge_deg:.1f}°.",
        f"Clean underneath from {_about(hidden.clean_from_mm_min)} to {_about(hidden.clean_to_mm_min)}.",
    ]
    if exercise.hidden == "leaning_torch":
        said.append(f"It leaned {hidden.lean_deg:.1f}° {way_in_words(hidden.lean_toward_deg)}.")
    if exercise.thing.can_be_cured:
        said[0] += " That is with what was wrong put right."
    return said


def chances_over(exercise: TableExercise, cuts: Sequence[Setting], square: Setting) -> ChanceMap:
    """How often it really passes, over all that was cut and where square lies."""
    every = [*cuts, square, Setting.of(exercise.told_start)]
    speeds = _wide([s.speed_mm_min for s in every], 0.3)
    heights = _wide([s.cut_height_mm for s in every], 0.3)
    over_speed = np.geomspace(*speeds, _MAP_SPEEDS)
    over_height = np.linspace(*heights, _MAP_HEIGHTS)
    return ChanceMap(
        tuple(float(v) for v in over_speed),
        tuple(float(h) for h in over_height),
        tuple(
            tuple(
                round(true_chance(exercise, Setting(float(v), float(h)), EVERYTHING_ANEW), 3)
                for v in over_speed
            )
            for h in over_height
        ),
    )


def arc_says(exercise: TableExercise) -> list[str]:
    """The numbers of its arc, each in a sentence."""
    table = LiveTable(exercise.seed)
    return [
        f"Its arc shows {volts(exercise.row_volts)} at {length(exercise.told_start.cut_height_mm)} on new parts, and "
        f"{slope(table.slope_v_per_mm)} more above that.",
        f"At rest it is restless by {volts(table.noise_v)}.",
    ]


def arc_picture(exercise: TableExercise) -> ArcPicture:
    """A run under control as the exercise begins, beside that of a sound table."""
    told = exercise.told_control
    assert told is not None
    at_s, volts_v, height_mm = _columns(arc_run(exercise, told))
    sound = arc_run(exercise, replace(told, hold_below_share=_HOLDS_SHARE), frozenset())
    sound_at_s, sound_volts_v, sound_height_mm = _columns(sound)
    return ArcPicture(
        at_s=at_s,
        volts_v=volts_v,
        height_mm=height_mm,
        sound_at_s=sound_at_s,
        sound_volts_v=sound_volts_v,
        sound_height_mm=sound_height_mm,
    )


def _columns(trace: Trace) -> tuple[list[float], list[float | None], list[float | None]]:
    assert trace.z_mm is not None
    each = max(1, len(trace) // _DRAWN)
    return (
        [round(float(t), 2) for t in (trace.time_s - trace.time_s[0])[::each]],
        _rounded(trace.volts_v[::each]),
        _rounded(trace.z_mm[::each]),
    )


def _rounded(values: Array) -> list[float | None]:
    return [round(float(v), 2) if np.isfinite(v) else None for v in values]


def _about(speed_mm_min: float) -> str:
    return speed(in_steps(speed_mm_min, speed_step_mm_min(speed_mm_min)))


def _wide(values: Sequence[float], least: float) -> tuple[float, float]:
    """A range round all of them, at least ``least`` of their middle to each side."""
    low, high = min(values), max(values)
    middle = (low + high) / 2
    return min(low * (1 - _BEYOND), middle * (1 - least)), max(
        high * (1 + _BEYOND), middle * (1 + least)
    )
