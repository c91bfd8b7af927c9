"""What the records of a shop say of a trial's volts on the parts as they are: gathered once, for every room."""

from collections.abc import Callable
from dataclasses import dataclass

from sqlmodel import Session

from orthotome.core.book.start_rows import StartValues
from orthotome.core.height.volts import VoltsHere, believable, volts_for_height, with_wear
from orthotome.core.setting import Setting
from orthotome.core.torch.forecast import set_point_now, set_point_sd
from orthotome.core.torch.pit import LearnedLife
from orthotome.store.database import once_a_question
from orthotome.store.height import readings
from orthotome.store.height.wear import WearJob, life_in, life_on
from orthotome.store.shop import shop
from orthotome.store.tables import Trial
from orthotome.store.torch import fittings, parts

NumbersNow = Callable[[Session, Trial], StartValues]
"""What is to be dialled for a trial now; asked of the Bench, which the store does not know."""


@dataclass(frozen=True)
class TrialVolts:
    """The volts, with the readings and the life of the electrode that they come from."""

    volts: VoltsHere
    taken: readings.Readings
    life: LearnedLife
    now: fittings.Fitted


def here(session: Session, trial: Trial, at: Setting) -> TrialVolts:
    """What will be seen of a trial's volts at a setting."""
    taken = readings.readings(session, trial)
    found = volts_for_height(taken.taken)
    now = fittings.fitted(session, trial.table_id)
    job = WearJob(trial, at.cut_height_mm, found.slope_v_per_mm, now, at.speed_mm_min, found.by_ln_speed)
    life = life_in(session, job)
    of_trial = any(c.trial_id == trial.id for c in taken.cuts) or life.volts > 0
    level = believable(set_point_now(life), set_point_sd(life)) if of_trial else None
    return TrialVolts(VoltsHere(at, level, with_wear(found, life)), taken, life, now)


def life_now(session: Session, table_id: int, numbers: NumbersNow) -> LearnedLife:
    """The life of the electrode that is fitted on a table, by its pits and by the volts of the trial on its Bench: one
    life for whoever asks what is left of it."""
    return once_a_question(session, ("life", table_id), lambda: _life_now(session, table_id, numbers))


def _life_now(session: Session, table_id: int, numbers: NumbersNow) -> LearnedLife:
    trial = shop.bench_trial(session, table_id)
    if trial is not None:
        return here(session, trial, Setting.of(numbers(session, trial))).life
    fitted = parts.of_fitting(session, fittings.fitted(session, table_id).parts.id or 0)
    return life_on(session, next(p for p in fitted if p.part == "electrode"))
