"""Everything of height for one trial, gathered: its volts, its schools, its timing, its control and what proves it."""

from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from sqlmodel import Session

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

from orthotome.core.height.after_square import (
    NO_CONTROL,
    Control,
    ControlProof,
    control_for,
    control_proof,
    first_ready,
    trim_told,
)
from orthotome.core.height.events import EventKind
from orthotome.core.height.schools import (
    Held,
    Measured,
    School,
    SchoolJob,
    measured_at,
    schools,
)
from orthotome.core.height.timing import (
    StartJob,
    StartTiming,
    start_timing,
)
from orthotome.core.height.trace_report import BesideTrace, TraceReport
from orthotome.core.height.volts import (
    VoltsForHeight,
    VoltsHere,
    wear_apart,
)
from orthotome.core.log.under_control import SeenCut, proof_cuts
from orthotome.core.pieces import ACCELERATION_MM_S2
from orthotome.core.setting import Setting
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.torch.set_point import TrimNow
from orthotome.core.trial.campaign import Campaign
from orthotome.desk.bench.judging import Judge, judged
from orthotome.desk.height.recording import report_or_none
from orthotome.desk.working.kept_answers import KeptAnswers
from orthotome.formats.machine.table_page import TablePage
from orthotome.store.height import readings, traces
from orthotome.store.height.trial_volts import here
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import ControlRow, TraceRow, Trial
from orthotome.store.trial import trials

_MOST_REPORTS = 64
_reports: KeptAnswers[tuple[int, datetime, int, BesideTrace], TraceReport | None] = KeptAnswers(
    _MOST_REPORTS
)


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
        told = readings.control_of(self.row) if self.row is not None else None
        proven_v = self.proven.volts_v if self.proven is not None else None
        return trim_told(self.life, told, proven_v, controlled=self.page.follows_volts)

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
        return self.would(first_ready(self.schools).school)


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
    measured = measured_at(taken.taken, there.volts)
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
    known = BesideTrace(slope_v_per_mm, row.cut_height_mm, None, row.speed_mm_min)
    # By when it began, too: a backup that is brought back may have another recording under the same number.
    question = row.id or 0, row.begun_at, row.samples, known

    def work() -> TraceReport | None:
        return report_or_none(traces.samples(session, row.id or 0), known)

    return _reports.of(question, work)


def _proof(
    session: Session,
    page: TablePage,
    campaign: Campaign,
    logged: list[LoggedCut],
) -> ControlProof:
    if not page.follows_volts:
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
