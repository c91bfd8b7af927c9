"""Volts for height, the schools of the set-point, timing, and what height control is told in a trial."""

from dataclasses import replace
from typing import Annotated

from fastapi import Query

from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.height import models
from orthotome.api.height.trial_answers import height_answer
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.errors import TradeError
from orthotome.core.height.after_square import Control
from orthotome.core.height.loop import LoopJob, LoopSettings, Warp, choose_settings, run_loop
from orthotome.core.height.loop_says import run_says, why_chosen
from orthotome.core.height.volts import touch_chance
from orthotome.core.quantities import length, volts
from orthotome.core.torch.counts import Counts
from orthotome.desk.height.of_trial import TrialHeight, of_trial, report_of
from orthotome.desk.height.recording import control_in, summary_of
from orthotome.store.height import readings, traces
from orthotome.store.trial import trials

router = room("height")


@router.get("/trials/{trial_id}/height")
def get_height(
    trial_id: Id,
    session: Reading,
    judge: TheJudge,
    ahead: Annotated[int, Query(ge=1, le=20_000)] = 500,
) -> models.HeightAnswer:
    """Everything of height for a trial, as its parts are after ``ahead`` more starts too."""
    return height_answer(of_trial(session, trial_id, judge, ahead))


@router.put("/trials/{trial_id}/control")
def choose_control(
    trial_id: Id, request: models.ControlRequest, database: Store, judge: TheJudge
) -> models.HeightAnswer:
    """Choose what height control is told; what is left out is as Orthotome would set it."""
    with database.write() as session:
        trials.open_for_change(session, trial_id)
        found = of_trial(session, trial_id, judge)
        readings.tell_control(session, trial_id, _control(request, found), found.starts)
        return height_answer(of_trial(session, trial_id, judge))


def _control(request: models.ControlRequest, found: TrialHeight) -> Control:
    """The control asked for, filled in. Raises TradeError where its school cannot be followed here."""
    held = next(h for h in found.schools if h.school == request.school)
    if held.refused:
        raise TradeError("school", held.refused)
    would = found.would(request.school)
    given = request.model_dump(exclude_none=True, exclude={"school"})
    if request.school == "sampled" and "set_point_v" in given:
        raise TradeError("set_point_v", "is sampled after each pierce: none is set.")
    control = replace(would, **given)
    if control.set_point_v is not None:
        _check_touch(control.set_point_v, found)
    return control


def _check_touch(set_point_v: float, found: TrialHeight) -> None:
    """A set-point that would hold the torch under the touch-risk height, by more than what is known of it, is never
    written down."""
    held = found.here.height_at(set_point_v)
    if held is not None and sum(held) < found.touch_mm:
        raise TradeError(
            "set_point_v",
            f"{volts(set_point_v)} would hold the torch at {length(held[0])}, under the {length(found.touch_mm)} "
            "below which this trial does not cut.",
        )


@router.get("/trials/{trial_id}/height/converted")
def convert(
    trial_id: Id,
    session: Reading,
    judge: TheJudge,
    asked: Annotated[models.ConvertQuery, Query()],
) -> models.ConvertAnswer:
    """A voltage as a height, or a height as a voltage, and the chance that something touches on a sheet that rises
    by ``warp_mm`` where control does not follow it."""
    volts_v, height_mm, warp_mm = asked.volts_v, asked.height_mm, asked.warp_mm
    if (volts_v is None) == (height_mm is None):
        raise TradeError("volts_v", "give either a voltage or a height.")
    found = of_trial(session, trial_id, judge)
    slope_v = found.volts.slope_v_per_mm
    v, h, sd_v, sd_mm = volts_v, height_mm, None, None
    if volts_v is not None and (held := found.here.height_at(volts_v)):
        h, sd_mm = held
    elif height_mm is not None and (
        shown := found.here.volts_at(replace(found.setting, cut_height_mm=height_mm))
    ):
        v, sd_v = shown
    if v is None or h is None:
        says = "No cut at a set height has its volts here yet: log one, and it can be told."
        return models.ConvertAnswer(
            volts_v=volts_v, height_mm=height_mm, sd_v=None, sd_mm=None, touch_chance=None, says=says
        )
    spread = sd_mm if sd_mm is not None else (sd_v or 0.0) / slope_v
    chance = touch_chance(h, spread, found.touch_mm, warp_mm)
    return models.ConvertAnswer(
        volts_v=round(v, 1),
        height_mm=round(h, 3),
        sd_v=None if sd_v is None else round(sd_v, 2),
        sd_mm=None if sd_mm is None else round(sd_mm, 3),
        touch_chance=round(chance, 4),
        says=f"Touch risk begins at {length(found.touch_mm)}, the trial’s own limit.",
    )


@router.get("/trials/{trial_id}/recorded")
def get_recorded(trial_id: Id, session: Reading) -> models.RecordedAnswer | None:
    """What the newest recording that belongs to no cut yet says for its log; null where there is none."""
    row = traces.unlogged(session, trial_id)
    if row is None:
        return None
    counted = Counts(row.starts, row.arc_on_s, row.off_plate)
    summary = summary_of(row.id or 0, counted, report_of(session, row, None), row.interrupted)
    held, set_point = control_in(traces.samples(session, row.id or 0))
    return models.RecordedAnswer(
        trace_id=row.id or 0,
        steady_v=summary.steady_v,
        spread_v=summary.spread_v,
        starts=row.starts,
        arc_on_s=row.arc_on_s,
        height_control=held,
        set_point_v=set_point,
    )


_LOOKS = 400


@router.post("/height/loop")
def practise_loop(request: models.LoopRequest) -> models.LoopAnswer:
    """A cut over a warped sheet as the control is told now, and as Orthotome would tell it. Saves nothing."""
    if request.set_point_v is None:
        request = request.model_copy(update={"set_point_v": request.steady_v})
    job = LoopJob(
        speed_mm_min=request.speed_mm_min,
        length_mm=request.length_mm,
        cut_height_mm=request.cut_height_mm,
        steady_v=request.steady_v,
        slope_v_per_mm=request.slope_v_per_mm,
        warp=Warp(request.rise_mm, request.wave_mm, request.slope_mm_per_100, request.grows),
        corners_mm=tuple(
            request.length_mm * (i + 1) / (request.corners + 1) for i in range(request.corners)
        ),
        acceleration_mm_s2=request.acceleration_mm_s2,
        noise_v=request.noise_v,
        lag_s=request.lag_s,
        touch_mm=request.touch_mm,
        bevel_deg_per_mm=request.bevel_deg_per_mm,
    )
    begin = LoopSettings(
        set_point_v=request.set_point_v or request.steady_v,
        gain_mm_s_v=request.gain_mm_s_v or 0.0,
        dead_band_v=request.dead_band_v or 0.0,
        delay_s=request.delay_s,
        z_speed_mm_s=request.z_speed_mm_s,
        hold_below_share=request.hold_below_share,
    )
    best = choose_settings(job, begin)
    told = replace(
        best.settings,
        **{
            name: value
            for name in ("gain_mm_s_v", "dead_band_v", "hold_below_share")
            if (value := getattr(request, name)) is not None
        },
    )
    return models.LoopAnswer(
        now=_run(job, told),
        chosen=_run(job, replace(best.settings, set_point_v=job.steady_v)),
        z_speed_needed_mm_s=round(best.z_speed_needed_mm_s, 2),
        follows=best.follows,
        why=list(why_chosen(job, best)),
    )


def _run(job: LoopJob, settings: LoopSettings) -> models.LoopRunAnswer:
    run = run_loop(job, settings)
    step = max(1, len(run.way_mm) // _LOOKS)

    def looks(values: object, digits: int) -> list[float]:
        return [round(float(v), digits) for v in values[::step]]  # type: ignore[index]

    return models.LoopRunAnswer(
        way_mm=looks(run.way_mm, 2),
        plate_mm=looks(run.plate_mm, 3),
        torch_mm=looks(run.plate_mm + run.gap_mm, 3),
        gap_mm=looks(run.gap_mm, 3),
        bevel_deg=looks(run.bevel_deg, 2),
        control=[bool(c > 0.5) for c in run.control[::step]],
        strikes=[round(way, 1) for _, way in run.strikes],
        rms_mm=round(run.rms_mm, 3),
        least_gap_mm=round(float(run.gap_mm.min()), 3),
        most_gap_mm=round(float(run.gap_mm.max()), 3),
        hunts=run.hunts,
        gain_mm_s_v=settings.gain_mm_s_v,
        dead_band_v=settings.dead_band_v,
        hold_below_share=settings.hold_below_share or 0.0,
        set_point_v=settings.set_point_v,
        says=run_says(run),
    )
