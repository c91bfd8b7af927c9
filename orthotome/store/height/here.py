"""What the records of a shop say of a trial's volts on the parts as they are: gathered once, for every room."""

from dataclasses import dataclass

from sqlmodel import Session

from orthotome.core.height.volts import VoltsHere, believable, volts_for_height, with_wear
from orthotome.core.setting import Setting
from orthotome.core.torch.forecast import set_point_now, set_point_sd
from orthotome.core.torch.pit import LearnedLife
from orthotome.store.height import readings
from orthotome.store.height.wear import Job, life_in
from orthotome.store.tables import Trial
from orthotome.store.torch import fittings


@dataclass(frozen=True)
class Here:
    """The volts, with the readings and the life of the electrode that they come from."""

    volts: VoltsHere
    taken: readings.Readings
    life: LearnedLife
    now: fittings.Fitted


def here(session: Session, trial: Trial, at: Setting) -> Here:
    """What will be seen of a trial's volts at a setting."""
    taken = readings.readings(session, trial)
    found = volts_for_height(taken.taken)
    now = fittings.fitted(session, trial.table_id)
    job = Job(trial, at.cut_height_mm, found.slope_v_per_mm, now, at.speed_mm_min, found.by_ln_speed)
    life = life_in(session, job)
    of_trial = any(c.trial_id == trial.id for c in taken.cuts) or life.volts > 0
    level = believable(set_point_now(life), set_point_sd(life)) if of_trial else None
    return Here(VoltsHere(at, level, with_wear(found, life)), taken, life, now)
