"""An exercise at a table: the cuts that were made, what each told, and how it ended. Sessions are of the practice shop's records."""

from collections.abc import Sequence
from dataclasses import replace

from sqlmodel import Session

from orthotome.core.practice.at_the_arc import judge_arc_end
from orthotome.core.practice.at_the_table import TableDebrief, TableStep, judge_end, step_of
from orthotome.core.practice.table_exercises import TableExercise, table_exercise
from orthotome.core.setting import Setting
from orthotome.core.torch.fittings import PART_WORDS, FittingKind
from orthotome.core.trial.table_door import FittedAnew
from orthotome.desk.bench.judging import Judge, judged
from orthotome.desk.practice import at_the_arc
from orthotome.sim.practice import true_chance
from orthotome.store.bench import campaigns
from orthotome.store.log import cuts
from orthotome.store.log.cuts import LoggedCut, logged_cuts
from orthotome.store.practice import setting_up
from orthotome.store.tables import PracticeRunRow
from orthotome.store.torch import fittings


def made(session: Session, row: PracticeRunRow) -> int:
    """Cuts made, kept or not: all of them were steel; where the arc is watched, runs."""
    if table_exercise(row.case).thing.at_the_arc:
        return at_the_arc.runs_made(session, row)
    return cuts.next_number(session, setting_up.trial_of(session, row).id or 0) - 1


def how_it_ended(
    session: Session, row: PracticeRunRow, exercise: TableExercise, claim: str, judge: Judge
) -> TableDebrief:
    """Judged by the hidden truth, with what is fitted in the end. Raises TradeError for what cannot be claimed of it."""
    count, anew = made(session, row), fittings.fitted_anew(session, row.table_id)
    if exercise.thing.at_the_arc:
        departs_mm = at_the_arc.departs_mm(session, row, exercise)
        return judge_arc_end(exercise, claim, count, departs_mm, anew)
    at = _ended_on(session, row, judge)
    chance = None if at is None else true_chance(exercise, at, anew)
    return judge_end(exercise, claim, count, chance, anew)


def _ended_on(session: Session, row: PracticeRunRow, judge: Judge) -> Setting | None:
    """The setting that is claimed: the proven one, or else that of the last cut; None before any."""
    _, logged, judgement = judged(session, row.trial_id, judge)
    best = judgement.advice.recommended
    if judgement.advice.status == "square" and best is not None:
        return Setting.of(best)
    kept = [c.cut for c in logged if c.counts]
    return Setting.of(kept[-1]) if kept else None


def _made_with(session: Session, table_id: int, cut: LoggedCut) -> FittedAnew:
    """What had been fitted when that cut was made."""
    until: dict[FittingKind, int | None] = {"parts": cut.row.parts_id, "mount": cut.row.mount_id}
    return fittings.fitted_anew(session, table_id, until)


def table_way(
    session: Session, row: PracticeRunRow, exercise: TableExercise, judge: Judge
) -> list[TableStep]:
    """What each cut told, and what was done between them."""
    found = setting_up.trial_of(session, row)
    logged = [c for c in logged_cuts(session, row.trial_id) if c.counts]
    campaign = replace(campaigns.campaign_of(session, found, logged), series_now=None)
    steps, before = list[TableStep](), FittedAnew()
    for n, cut in enumerate(logged, start=1):
        anew = _made_with(session, row.table_id, cut)
        steps += _done_between(before, anew)
        after = judge.judge(replace(campaign, cuts=campaign.cuts[:n]))
        steps.append(step_of(cut.cut, after, anew, lambda s, a: true_chance(exercise, s, a)))
        before = anew
    return [*steps, *_done_between(before, fittings.fitted_anew(session, row.table_id))]


def _done_between(before: FittedAnew, after: FittedAnew) -> Sequence[TableStep]:
    done = [f"Fitted anew: {PART_WORDS[p]}." for p in after.parts[len(before.parts) :]]
    done += ["Set the torch upright."] * (after.mounts - before.mounts)
    return [TableStep(None, words, None, None, None) for words in done]
