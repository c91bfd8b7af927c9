"""A trial's height as an answer on the wire."""

from orthotome.api.height import models
from orthotome.core.height.after_square import told_otherwise, what_to_tell
from orthotome.core.height.schools import SCHOOL_WORDS
from orthotome.core.height.timing import USUAL_NOISE_V, features, trade_offs
from orthotome.core.quantities import length, slope, thickness, volts
from orthotome.desk.height.of_trial import TrialHeight


def height_answer(of: TrialHeight) -> models.HeightAnswer:
    """The whole page."""
    return models.HeightAnswer(
        trial_id=of.trial.id or 0,
        title=of.trial.title,
        plate=thickness(of.trial.thickness_mm, of.trial.metal),
        locked=of.locked,
        square=of.square,
        starts=of.starts,
        touch_mm=of.touch_mm,
        cut_height_mm=of.setting.cut_height_mm,
        volts=_volts_answer(of),
        schools=[models.HeldAnswer(**vars(h), word=SCHOOL_WORDS[h.school]) for h in of.schools],
        ahead=of.ahead,
        timing=_timing_answer(of),
        features=features(of.timing, of.job),
        trade_offs=trade_offs(of.job),
        control=_control_answer(of),
        loop=_loop_job(of),
    )


def _volts_answer(of: TrialHeight) -> models.VoltsForHeightAnswer:
    v, taken = of.volts, of.taken
    return models.VoltsForHeightAnswer(
        slope_v_per_mm=round(v.slope_v_per_mm, 2),
        slope_sd=round(v.slope_sd, 2),
        wear_v_per_1000=round(v.wear_v_per_1000, 1),
        wear_sd=round(v.wear_sd, 1),
        taught=v.taught,
        wear_taught=v.wear_taught,
        cuts=v.cuts,
        heights=v.heights,
        other_signal=taken.other_signal,
        controlled=taken.controlled,
        says=_volts_say(of),
        points=[
            models.HeightPoint(
                height_mm=r.height_mm,
                volts_v=r.volts_v,
                starts=r.starts,
                here=c.trial_id == of.trial.id,
            )
            for r, c in zip(taken.taken, taken.cuts, strict=True)
        ],
        level_v=None if v.level is None else round(v.level.volts_v, 1),
        level_sd=None if v.level is None else round(v.level.sd, 2),
        level_height_mm=None if v.level is None else round(v.level.height_mm, 3),
    )


def _volts_say(of: TrialHeight) -> str:
    v, taken = of.volts, of.taken
    if not v.cuts:
        said = f"No cut at a set height has its volts here yet: {slope(v.slope_v_per_mm)} is the trade’s usual."
    elif v.heights < 2:
        said = (
            f"All {v.cuts} cuts were made near one height: they tell the volts there, not what height is worth. A "
            "height ladder would."
        )
    else:
        said = f"From {v.cuts} cuts at set heights, {v.heights} heights apart."
    if taken.other_signal:
        said += (
            f" {taken.other_signal} from before the signal path was changed are left out: other volts."
        )
    if taken.controlled:
        said += f" {taken.controlled} made under control are left out: their height is not known."
    return said


def _timing_answer(of: TrialHeight) -> models.TimingAnswer:
    held = vars(of.timing) | {
        "pierce_height_mm": of.job.pierce_height_mm,
        "pierce_delay_s": of.job.pierce_delay_s,
        "cut_height_mm": of.job.cut_height_mm,
        "speed_mm_min": of.job.speed_mm_min,
        "counts_from": of.job.delay_origin,
        "counts_from_known": of.page.delay_origin is not None,
        "acceleration_known": of.page.acceleration_mm_s2 is not None,
    }
    return models.TimingAnswer(**{n: held[n] for n in models.TimingAnswer.model_fields})


LOOP_LENGTH_MM = 800.0  # of the cut that is practised over a sheet


def _loop_job(of: TrialHeight) -> models.LoopRequest:
    """What is known here of a cut over a warped sheet: its arc, its machine, what the control is told."""
    seen, control = of.judgement.volts_at(of.setting), of.control
    steady = seen[0] if seen else 120.0
    return models.LoopRequest(
        speed_mm_min=of.setting.speed_mm_min,
        length_mm=LOOP_LENGTH_MM,
        cut_height_mm=of.setting.cut_height_mm,
        steady_v=round(steady, 1),
        slope_v_per_mm=round(of.volts.slope_v_per_mm, 2),
        noise_v=of.job.noise_v if of.job.noise_v is not None else USUAL_NOISE_V,
        acceleration_mm_s2=of.job.acceleration_mm_s2,
        z_speed_mm_s=of.job.z_speed_mm_s,
        delay_s=control.control_delay_s,
        dead_band_v=control.dead_band_v,
        hold_below_share=control.hold_below_share,
    )


def _control_answer(of: TrialHeight) -> models.ControlAnswer:
    control, recommend = of.control, of.shown.recommend if of.shown else None
    would = of.would(control.school)
    told = what_to_tell(control, would, of.timing, recommend, of.job.delay_origin)
    says = ""
    if of.trims_v and control.set_point_v is not None:
        kept = control.set_point_v + of.trims_v
        says = (
            f"In the last recording it was trimmed by {of.trims_v:+g} V. If that helped, keep it: "
            f"{volts(kept)} instead of {volts(control.set_point_v)}, {length(of.trims_v / of.volts.slope_v_per_mm)} of height."
        )
    otherwise: tuple[str, ...] = ()
    if of.row is not None and of.shown is not None:
        otherwise = told_otherwise(control, would, of.timing, recommend)
    return models.ControlAnswer(
        **vars(control),
        chosen=of.row is not None,
        chosen_at=of.row.chosen_at if of.row else None,
        chosen_by=of.row.chosen_by if of.row else "",
        told=told,
        otherwise=otherwise,
        proof=of.proof.state,
        proof_says=of.proof.says,
        next_kind=of.proof.next_kind,
        trims_v=of.trims_v,
        trims_say=says,
    )
