"""An exercise whose arc is watched: what each recording showed, and how far the torch leaves its height in the end."""

import numpy as np
from sqlmodel import Session

from orthotome.core.practice.at_the_arc import departure_mm, read_run
from orthotome.core.practice.at_the_table import TableStep
from orthotome.core.practice.table_exercises import TableExercise
from orthotome.core.setting import Setting
from orthotome.core.torch.fittings import PART_WORDS
from orthotome.sim.practice import arc_run, live_faults
from orthotome.store.height import readings, traces
from orthotome.store.practice import setting_up
from orthotome.store.tables import PracticeRunRow
from orthotome.store.torch import fittings


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


def arc_way(session: Session, row: PracticeRunRow, exercise: TableExercise) -> list[TableStep]:
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
