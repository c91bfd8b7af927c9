"""What wear does to a trial's set-point, as an answer."""

from orthotome.api.torch import parts_models as models
from orthotome.core.torch.set_point import since_proven
from orthotome.desk.height.of_trial import TrialHeight


def trim_answer(of: TrialHeight) -> models.SetPointTrimAnswer:
    """The trim that a trial's set-point needs on the parts as they are."""
    trim = of.trim
    proven = of.proven
    return models.SetPointTrimAnswer(
        trial_id=of.trial.id or 0,
        title=of.trial.title,
        held=trim.held,
        told_v=_rounded(trim.told_v, 1),
        now_v=_rounded(trim.now_v, 1),
        sd_v=_rounded(trim.sd_v, 1),
        by_v=trim.by_v,
        due_at_starts=trim.due_at_starts,
        closer_mm=_rounded(trim.closer_mm, 3),
        touches_at_starts=trim.touches_at_starts,
        starts=of.starts,
        says=trim.says,
        since_proven=since_proven(of.life, proven.volts_v, proven.starts) if proven else "",
        v_per_1000=round(of.volts.wear_v_per_1000, 1),
        v_per_1000_sd=round(of.volts.wear_sd, 1),
        volts_read=of.life.volts,
        apart=of.apart,
    )


def _rounded(value: float | None, digits: int) -> float | None:
    return None if value is None else round(value, digits)
