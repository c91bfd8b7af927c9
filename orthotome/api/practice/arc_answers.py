"""A practice run whose arc was watched, as it is told: what each recording showed, and its picture beside a sound table's."""

from dataclasses import replace

import numpy as np
from sqlmodel import Session

from orthotome.api.practice import table_models as models
from orthotome.core.height.trace import Array, Trace
from orthotome.core.practice.at_the_arc import departure_mm, read_run
from orthotome.core.practice.at_the_table import TableStep
from orthotome.core.practice.table_exercises import TableExercise
from orthotome.core.quantities import length, slope, volts
from orthotome.core.setting import Setting
from orthotome.core.torch.fittings import PART_WORDS
from orthotome.sim.live import LiveTable
from orthotome.sim.practice import arc_run, live_faults
from orthotome.store.height import readings, traces
from orthotome.store.practice import setting_up
from orthotome.store.tables import PracticeRunRow
from orthotome.store.torch import fittings

_DRAWN = 240  # points of a picture
_HOLDS_SHARE = 0.9  # of the speed, on the sound table of the picture


def runs_made(session: Session, row: PracticeRunRow) -> int:
    """Recordings of its table, struck out or not. Raises NotFound where the practice records were thrown away."""
    setting_up.trial_of(session, row)
    return len(traces.traces(session, row.table_id))


def departs_mm(session: Session, row: PracticeRunRow, exercise: TableExercise) -> float | None:
    """How far the torch really leaves its height with what control is told in the end; None where it is told nothing."""
    told = readings.told_control(session, row.trial_id)
    if told is None:
        return None
    faults = live_faults(exercise, fittings.fitted_anew(session, row.table_id))
    trace = arc_run(exercise, readings.control_of(told), faults)
    return departure_mm(trace, exercise.told_start.cut_height_mm)


def way(session: Session, row: PracticeRunRow, exercise: TableExercise) -> list[TableStep]:
    """What each run showed, in their order, and what was fitted in between them all."""
    steps = []
    for recorded in reversed(traces.traces(session, row.table_id)):
        trace = traces.samples(session, recorded.id or 0)
        at = Setting.of(exercise.told_start)
        under = trace.control is not None and bool(np.any(trace.control > 0.5))
        how = "Under control" if under else "Height held"
        steps.append(TableStep(at, f"{how}: {read_run(trace, at).says}", None, None, None))
    anew = fittings.fitted_anew(session, row.table_id)
    fitted = [f"Fitted anew: {PART_WORDS[p]}." for p in anew.parts]
    return [*steps, *(TableStep(None, words, None, None, None) for words in fitted)]


def truth(exercise: TableExercise) -> list[str]:
    """The table's own numbers."""
    table = LiveTable(exercise.seed)
    return [
        f"Its arc shows {volts(exercise.row_volts)} at {length(exercise.told_start.cut_height_mm)} on new parts, and "
        f"{slope(table.slope_v_per_mm)} more above that.",
        f"At rest it is restless by {volts(table.noise_v)}.",
    ]


def picture(exercise: TableExercise) -> models.ArcPicture:
    """A run under control as the exercise begins, beside that of a sound table."""
    told = exercise.told_control
    assert told is not None
    at_s, volts_v, height_mm = _columns(arc_run(exercise, told))
    sound = arc_run(exercise, replace(told, hold_below_share=_HOLDS_SHARE), frozenset())
    sound_at_s, sound_volts_v, sound_height_mm = _columns(sound)
    return models.ArcPicture(
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
