"""The practice tables: simulated ones with something hidden, which what is fitted takes away, in their cuts and in their arc."""

from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.edge.edges import Swirl
from orthotome.core.height.after_square import Control
from orthotome.core.height.loop import LoopSettings
from orthotome.core.height.timing import USUAL_Z_SPEED_MM_S
from orthotome.core.height.trace import Trace
from orthotome.core.practice.table_exercises import (
    ARC_ACCELERATION_MM_S2,
    ARC_WAY_MM,
    TableExercise,
    of_seed,
)
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Cut, PieceKind
from orthotome.core.trial.table_door import FittedAnew, JobAtTable, TableDoor
from orthotome.sim.families import FAMILIES, FamilyTable
from orthotome.sim.live import FAULTS, LIVE_GAIN_MM_S_V, Fault, LiveJob, LivePath, LiveTable
from orthotome.sim.table import Truth, hidden_truth

_LEAN_DEG, _OVAL_DEG, _SWIRL_DEG = 2.6, 2.6, 1.6
_STUBBORN_GRADE = 3
_SHAKEN_CUT_DEG, _SHAKEN_EDGE_DEG = 0.5, 0.7


@dataclass(frozen=True)
class PracticeTable(FamilyTable):
    """A table of an exercise as it is with what is fitted now; ``ring`` is the hand of the ring that is really in."""

    ring: Swirl = "clockwise"

    @property
    def real_swirl(self) -> Swirl:
        """That of the ring, whatever the set is said to have."""
        return self.ring


def practice_table(
    exercise: TableExercise, anew: FittedAnew, swirl: Swirl | None = None
) -> PracticeTable:
    """The table of an exercise with what was fitted since; ``swirl`` is the set's, as it is written down now."""
    work, seed = exercise.work, exercise.seed
    own = work.torch_set.swirl
    hidden = "nothing" if exercise.thing.is_cured(anew) else exercise.hidden
    return PracticeTable(
        seed,
        work.start,
        swirl or own,
        _truth(exercise, hidden),
        family=FAMILIES[seed % len(FAMILIES)],
        ring=_other_hand(own) if hidden == "wrong_ring" else own,
    )


def _truth(exercise: TableExercise, hidden: str) -> Truth:
    work = exercise.work
    truth = hidden_truth(exercise.seed, work.start, work.thickness_mm)
    # Besides what is hidden, the table is a good one: what the exercise teaches is not drowned.
    truth = replace(truth, lean_deg=0.15, oval_deg=0.05)
    if hidden == "leaning_torch":
        return replace(truth, lean_deg=_LEAN_DEG)
    if hidden == "oval_nozzle":
        return replace(truth, oval_deg=_OVAL_DEG)
    if hidden == "worn_parts":
        return replace(truth, stubborn_grade=_STUBBORN_GRADE)
    if hidden == "wrong_ring":
        return replace(truth, swirl_deg=_SWIRL_DEG)
    if hidden == "shaky_machine":
        return replace(truth, cut_spread_deg=_SHAKEN_CUT_DEG, edge_spread_deg=_SHAKEN_EDGE_DEG)
    return truth


def _other_hand(swirl: Swirl) -> Swirl:
    return "counter_clockwise" if swirl == "clockwise" else "clockwise"


def true_chance(exercise: TableExercise, setting: Setting, anew: FittedAnew) -> float:
    """Chance that a square cut there really passes the exercise's target, with what was fitted since."""
    table = practice_table(exercise, anew)
    return table.true_chance(exercise.target, setting.speed_mm_min, setting.cut_height_mm)


def square_setting(exercise: TableExercise) -> Setting:
    """Where it truly passes best once what can be put right is put right, by looking everywhere."""
    truth, table = _truth(exercise, "nothing"), practice_table(exercise, EVERYTHING_ANEW)
    speeds = truth.square_speed_mm_min * np.linspace(0.7, 1.4, 29)
    heights = truth.square_height_mm * np.linspace(0.6, 1.6, 21)
    every = [Setting(float(v), float(h)) for v in speeds for h in heights]
    # Of many that pass alike, the one in their middle.
    chances = np.array(
        [table.true_chance(exercise.target, s.speed_mm_min, s.cut_height_mm) for s in every]
    )
    best = [s for s, c in zip(every, chances, strict=True) if c >= chances.max() - _AS_GOOD]
    middle = (
        float(np.mean([s.speed_mm_min for s in best])),
        float(np.mean([s.cut_height_mm for s in best])),
    )
    return min(
        best,
        key=lambda s: abs(s.speed_mm_min / middle[0] - 1) + abs(s.cut_height_mm / middle[1] - 1),
    )


def hidden_in(exercise: TableExercise) -> Truth:
    """Everything that its table hid, as it was found."""
    return _truth(exercise, exercise.hidden)


EVERYTHING_ANEW = FittedAnew(("set",), 1)
"""As a table is once everything on it was fitted anew."""
_AS_GOOD = 0.01


def live_faults(exercise: TableExercise, anew: FittedAnew) -> frozenset[Fault]:
    """What is wrong with the arc of its table with what was fitted since."""
    cured = exercise.thing.is_cured(anew)
    return frozenset(f for f in FAULTS if f == exercise.hidden and not cured)


def arc_run(
    exercise: TableExercise, control: Control | None, faults: frozenset[Fault] | None = None
) -> Trace:
    """One square at the row's setting with the arc watched, the height held or under a control; by default with what is hidden."""
    start = exercise.work.start
    faults = live_faults(exercise, FittedAnew()) if faults is None else faults
    corners = tuple(ARC_WAY_MM * n / 4 for n in (1, 2, 3))
    job = LiveJob(
        start.speed_mm_min,
        start.cut_height_mm,
        start.pierce_height_mm,
        start.pierce_delay_s,
        exercise.row_volts,
        (LivePath(ARC_WAY_MM, corners),),
        None if control is None else _loop(control),
        acceleration_mm_s2=ARC_ACCELERATION_MM_S2,
    )
    seen = list(LiveTable(exercise.seed, faults).cut(job))
    points = [np.nan if s.set_point_v is None else s.set_point_v for s in seen]
    return Trace(
        np.array([s.at_s for s in seen]),
        np.array([s.arc_voltage_v for s in seen]),
        np.array([s.z_mm for s in seen]),
        np.array([s.feed_mm_min for s in seen]),
        np.array(points),
        np.array([float(s.control_on) for s in seen]),
    )


def _loop(control: Control) -> LoopSettings:
    return LoopSettings(
        np.nan if control.set_point_v is None else control.set_point_v,
        LIVE_GAIN_MM_S_V,
        control.dead_band_v,
        control.control_delay_s,
        USUAL_Z_SPEED_MM_S,
        control.hold_below_share,
        control.crossing_jump_v,
    )


@dataclass(frozen=True)
class PracticeDoor:
    """A practice table behind the door that every table stands behind; the same for whoever takes the exercise."""

    exercise: TableExercise

    def cut(
        self, job: JobAtTable, number: int, piece: PieceKind, setting: Setting, *, starts: int
    ) -> Cut:
        """Cut and read one piece: the same number at the same setting comes out the same."""
        table = practice_table(self.exercise, job.anew, job.swirl)
        made = table.cut(number, piece, setting.speed_mm_min, setting.cut_height_mm, starts=starts)
        if live_faults(
            self.exercise, job.anew
        ):  # its volts are those of the live table, not of this cut
            made = replace(made, arc_voltage_v=None)
        return replace(made, starts=None)  # the store counts what is fitted


def open_practice_door(seed: int) -> TableDoor:
    """The practice table of that seed."""
    return PracticeDoor(of_seed(seed))
