"""Everything of height for one trial, gathered: its volts, its schools, its timing, its control and what proves it."""

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import TYPE_CHECKING

from sqlmodel import Session

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

from orthotome.api.bench.judging import Judge, judged
from orthotome.api.height import models
from orthotome.api.height.recording import report_or_none
from orthotome.core.height.after_square import (
    NO_CONTROL,
    Control,
    ControlProof,
    control_for,
    control_proof,
    told_otherwise,
    what_to_tell,
)
from orthotome.core.height.events import EventKind
from orthotome.core.height.schools import (
    SCHOOL_WORDS,
    Held,
    Measured,
    School,
    SchoolJob,
    schools,
)
from orthotome.core.height.timing import (
    USUAL_NOISE_V,
    StartJob,
    StartTiming,
    features,
    start_timing,
    trade_offs,
)
from orthotome.core.height.trace_report import Known, TraceReport
from orthotome.core.height.volts import (
    NOISE_V,
    HeightReading,
    VoltsForHeight,
    VoltsHere,
    wear_apart,
)
from orthotome.core.log.under_control import SeenCut, proof_cuts
from orthotome.core.pieces import ACCELERATION_MM_S2
from orthotome.core.quantities import length, slope, thickness, volts
from orthotome.core.setting import Setting
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.torch.set_point import TrimNow, trim_now
from orthotome.core.trial.campaign import Campaign
from orthotome.formats.machine.table_page import TablePage
from orthotome.store.height import readings, traces
from orthotome.store.height.here import here
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import ControlRow, TraceRow, Trial
from orthotome.store.trial import trials

_NEAR_MM = 0.1  # cuts at the same height, to what a hand can dial
_MOST_REPORTS = 64
_reports: OrderedDict[tuple[str, int, int, float | None], TraceReport | None] = OrderedDict()
_lock = Lock()


@dataclass(frozen=True)
class TrialHeight:
    """A trial with all of its height worked out."""

    trial: Trial
    campaign: Campaign
    square: bool
    locked: bool
    page: TablePage
    setting: Setting
    starts: int
    taken: readings.Readings
    volts: VoltsForHeight
    here: VoltsHere
    schools: tuple[Held, Held, Held]
    measured: Measured | None
    ahead: int
    job: StartJob
    timing: StartTiming
    shown: TraceReport | None
    row: ControlRow | None
    proof: ControlProof
    trims_v: float
    judgement: "Judgement"
    life: LearnedLife
    apart: str

    @property
    def proven(self) -> Measured | None:
        """The volts of a locked trial at its height, and the starts on the electrode then; None before it is locked,
        or where none were read."""
        return self.measured if self.locked else None

    @property
    def trim(self) -> TrimNow:
        """What the told set-point needs on the parts as they are."""
        if self.page.height_by_hand or self.page.height_control == "touch_off":
            return trim_now(self.life, None, "none")
        if self.row is not None and self.row.school == "sampled":
            return trim_now(self.life, None, "sampled")
        told = self.row.set_point_v if self.row is not None else None
        if told is None and self.proven is not None:
            told = self.proven.volts_v
        return trim_now(self.life, told)

    @property
    def touch_mm(self) -> float:
        """The height below which the trial never cuts."""
        return self.trial.height_low_mm

    def would(self, school: School) -> Control:
        """What Orthotome would tell height control under a school."""
        held = next(h for h in self.schools if h.school == school)
        return control_for(held, self.timing, self.shown.recommend if self.shown else None)

    @property
    def control(self) -> Control:
        """What is told, or would be: measured where it can be, else by the manual."""
        if self.row is not None:
            return readings.control_of(self.row)
        first: tuple[School, ...] = ("measured", "manual", "sampled")
        ready = [h.school for h in self.schools if not h.refused]
        return self.would(next(s for s in first if s in ready))

    def answer(self) -> models.HeightAnswer:
        """As an answer on the wire."""
        return models.HeightAnswer(
            trial_id=self.trial.id or 0,
            title=self.trial.title,
            plate=thickness(self.trial.thickness_mm, self.trial.metal),
            locked=self.locked,
            square=self.square,
            starts=self.starts,
            touch_mm=self.touch_mm,
            cut_height_mm=self.setting.cut_height_mm,
            volts=_volts_answer(self),
            schools=[models.HeldAnswer(**vars(h), word=SCHOOL_WORDS[h.school]) for h in self.schools],
            ahead=self.ahead,
            timing=_timing_answer(self),
            features=features(self.timing, self.job),
            trade_offs=trade_offs(self.job),
            control=_control_answer(self),
            loop=_loop_job(self),
        )


def of_trial(session: Session, trial_id: int, judge: Judge, ahead: int = 500) -> TrialHeight:
    """A trial's height, as its parts are after ``ahead`` more starts too. Raises NotFound."""
    trial, logged, judgement = judged(session, trial_id, judge)
    campaign, best = judgement.learned.campaign, judgement.advice.recommended
    setting = Setting.of(best) if best is not None else Setting.of(campaign.start)
    page = pages.settings(shop.table(session, trial.table_id))
    there = here(session, trial, setting)
    taken, found, life = there.taken, there.volts.found, there.life
    apart = wear_apart(found)
    starts = there.now.starts
    measured = _measured(taken.taken, there.volts)
    school_job = SchoolJob(
        setting.cut_height_mm,
        trial.height_low_mm,
        there.volts,
        life,
        trial.arc_voltage_v,
        measured,
        starts,
    )
    shown = _newest_report(session, trial_id, found)
    job = _start_job(campaign, setting, page, found, shown)
    row = readings.told_control(session, trial_id)
    return TrialHeight(
        trial=trial,
        campaign=campaign,
        square=judgement.advice.status == "square",
        locked=trials.recipe_of(session, trial_id) is not None,
        page=page,
        setting=setting,
        starts=starts,
        taken=taken,
        volts=found,
        here=there.volts,
        schools=schools(school_job, ahead),
        measured=measured,
        ahead=ahead,
        job=job,
        timing=start_timing(job),
        shown=shown,
        row=row,
        proof=_proof(session, page, campaign, logged),
        trims_v=_trims_v(session, trial_id, row),
        judgement=judgement,
        life=life,
        apart=apart,
    )


def _measured(taken: tuple[HeightReading, ...], there: VoltsHere) -> Measured | None:
    """The volts measured at the height of the setting, in the newest series."""
    height_mm = there.at.cut_height_mm
    near = [
        r for r in taken if r.series == taken[-1].series and abs(r.height_mm - height_mm) <= _NEAR_MM
    ]
    if near:
        level = sum(r.volts_v - there.found.slope_v_per_mm * (r.height_mm - height_mm) for r in near)
        counted = [r.starts for r in near if r.starts is not None]
        starts = round(sum(counted) / len(counted)) if counted else None
        return Measured(level / len(near), NOISE_V / len(near) ** 0.5, starts)
    if there.level_v is None or there.found.level is None:
        return None
    at = there.found.level.starts
    return Measured(*there.level_v, None if at is None else round(at))


def _start_job(
    campaign: Campaign,
    setting: Setting,
    page: TablePage,
    found: VoltsForHeight,
    shown: TraceReport | None,
) -> StartJob:
    start = campaign.start
    return StartJob(
        thickness_mm=campaign.thickness_mm,
        speed_mm_min=setting.speed_mm_min,
        cut_height_mm=setting.cut_height_mm,
        pierce_height_mm=start.pierce_height_mm,
        pierce_delay_s=start.pierce_delay_s,
        acceleration_mm_s2=page.acceleration_mm_s2 or ACCELERATION_MM_S2,
        slope_v_per_mm=found.slope_v_per_mm,
        delay_origin=page.delay_origin or "arc_strike",
        settled_after_s=shown.rest_after_s if shown else None,
        noise_v=shown.noise_v if shown else None,
        hold_below_share=shown.recommend.hold_below_speed_share if shown else None,
    )


def _newest_report(session: Session, trial_id: int, found: VoltsForHeight) -> TraceReport | None:
    """What the newest recording of a trial says."""
    for row in traces.of_trial(session, trial_id)[:3]:
        report = report_of(session, row, found.slope_v_per_mm if found.taught else None)
        if report is not None and report.cuts:
            return report
    return None


def report_of(session: Session, row: TraceRow, slope_v_per_mm: float | None) -> TraceReport | None:
    """What an ended recording says; it never changes, so it is read once."""
    key = str(session.get_bind().engine.url), row.id or 0, row.samples, slope_v_per_mm
    with _lock:
        if key in _reports:
            _reports.move_to_end(key)
            return _reports[key]
    known = Known(slope_v_per_mm, row.cut_height_mm, None, row.speed_mm_min)
    report = report_or_none(traces.samples(session, row.id or 0), known)
    with _lock:
        _reports[key] = report
        while len(_reports) > _MOST_REPORTS:
            _reports.popitem(last=False)
    return report


def _proof(
    session: Session,
    page: TablePage,
    campaign: Campaign,
    logged: list[LoggedCut],
) -> ControlProof:
    if page.height_by_hand or page.height_control == "touch_off":
        return ControlProof("no_control", NO_CONTROL, None)
    noticed: dict[int, tuple[EventKind, ...]] = {}
    of = {c.row.trial_id for c in logged}
    for row in [t for trial_id in of for t in traces.of_trial(session, trial_id)]:
        report = report_of(session, row, None) if row.cut_id is not None else None
        if report is not None and row.cut_id is not None:
            kinds = tuple(e.kind for c in report.cuts for e in c.events)
            noticed[row.cut_id] = noticed.get(row.cut_id, ()) + kinds
    seen = [
        SeenCut(c.cut, c.row.kind or c.row.piece, c.looks, noticed.get(c.row.id or 0, ()))
        for c in logged
        if not c.row.struck_out
    ]
    return control_proof(proof_cuts(seen, campaign.torch_set, campaign.target))


def _trims_v(session: Session, trial_id: int, row: ControlRow | None) -> float:
    """By how much the set-point was trimmed in the newest recording under control."""
    for trace in traces.of_trial(session, trial_id):
        trimmed = traces.trims(session, trace.id or 0)
        if trimmed and row is not None and trimmed[-1].trimmed_at > row.chosen_at:
            return round(sum(t.by_v for t in trimmed), 2)
    return 0.0


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
