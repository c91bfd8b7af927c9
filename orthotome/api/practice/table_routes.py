"""Exercises at a simulated table: begun, ended, and shown with their truth. The trial itself is cut in the practice shop."""

import contextlib

from sqlmodel import Session

from orthotome.api.depends import Reading, Store, TheJudge, ThePracticeShop
from orthotome.api.practice import arc_answers
from orthotome.api.practice import table_answers as answers
from orthotome.api.practice import table_models as models
from orthotome.api.practice_shop import PracticeShop
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.practice.at_the_arc import judge_arc_end, masters_arc
from orthotome.core.practice.at_the_table import TableDebrief, judge_end, masters_way
from orthotome.core.practice.table_exercises import EVERY_EXERCISE, TableExercise, table_exercise
from orthotome.core.setting import Setting
from orthotome.desk.bench.judging import Judge, judged
from orthotome.sim.practice import PracticeDoor, arc_run, true_chance
from orthotome.store.errors import NotFound, Refused
from orthotome.store.log import cuts
from orthotome.store.practice import runs, setting_up
from orthotome.store.shop import shop
from orthotome.store.tables import PracticeRunRow
from orthotome.store.torch import fittings

router = room("practice")


@router.get("/practice/tables")
def get_practice_tables(
    session: Reading, store: Store, practising: ThePracticeShop
) -> models.PracticeTablesAnswer:
    """The exercises at a table, and how far whoever is signed on is with each."""
    rows = runs.runs_of(session, store.by)
    told = [t for r in rows if (t := _told(practising, r)) is not None]
    return models.PracticeTablesAnswer(
        exercises=[
            models.TableExerciseAnswer(
                code=e.code,
                title=e.title,
                task=e.task,
                most_cuts=e.most_cuts,
                watched=e.thing.at_the_arc,
                passed=any(r.passed for r in rows if r.case == e.code),
                taken=sum(r.case == e.code for r in rows),
            )
            for e in EVERY_EXERCISE
        ],
        going_on=[t for t in told if not t.ended],
        ended=[t for t in told if t.ended],
    )


@router.post("/practice/tables", status_code=201)
def begin_practice(
    request: models.BeginRequest, store: Store, practising: ThePracticeShop
) -> models.RunAnswer:
    """Set the table of an exercise up in the practice shop, and note that it was begun."""
    exercise = table_exercise(request.case)
    with store.database.read() as session:
        units = shop.the_shop(session)
    with practising.database.write(by=store.by) as session:
        trial = setting_up.set_up(session, exercise, units)
        table_id, trial_id = trial.table_id, trial.id or 0
    with store.write() as session:
        return answers.run(runs.begin(session, request.case, table_id, trial_id), 0)


@router.get("/practice/tables/{run_id}")
def get_practice_run(run_id: Id, session: Reading, practising: ThePracticeShop) -> models.RunAnswer:
    """How far somebody is."""
    told = _told(practising, runs.run(session, run_id))
    if told is None:
        raise NotFound("Its practice table was thrown away with the practice records.", "run_id")
    return told


@router.post("/practice/tables/{run_id}/ended")
def end_practice(
    run_id: Id,
    request: models.EndRequest,
    store: Store,
    practising: ThePracticeShop,
    judge: TheJudge,
) -> models.RunAnswer:
    """Say how it ends: it is judged by the hidden truth, and kept on the sheet of whoever began it."""
    with store.database.read() as session:
        row = runs.run(session, run_id)
    exercise = table_exercise(row.case)
    with practising.database.read() as session:
        made = _made(session, row)
        how = _how_it_ended(session, row, exercise, request.claim, judge)
    with store.write() as session:
        return answers.run(runs.end(session, run_id, request.claim, made, how), made)


@router.get("/practice/tables/{run_id}/debrief")
def get_practice_debrief(
    run_id: Id, session: Reading, practising: ThePracticeShop, judge: TheJudge
) -> models.TableDebriefAnswer:
    """The hidden truth, and what each cut told: once it was ended."""
    row = _ended(session, run_id)
    with practising.database.read() as of_practice:
        return answers.debrief(of_practice, row, judge)


@router.get("/practice/tables/{run_id}/masters")
def get_masters_way(run_id: Id, session: Reading, judge: TheJudge) -> models.MastersAnswer:
    """What the tuner itself does with the same exercise: once it was ended."""
    exercise = table_exercise(_ended(session, run_id).case)
    told = exercise.told_control
    if told is not None:
        return answers.masters(masters_arc(exercise, lambda control: arc_run(exercise, control), told))
    way = masters_way(
        exercise, PracticeDoor(exercise), judge.judge, lambda s, a: true_chance(exercise, s, a)
    )
    return answers.masters(way)


def _told(practising: PracticeShop, row: PracticeRunRow) -> models.RunAnswer | None:
    """How far somebody is; None where the practice records were thrown away before it was ended."""
    if row.claim:
        return answers.run(row, row.cuts)
    with practising.database.read() as session, contextlib.suppress(NotFound):
        return answers.run(row, _made(session, row))
    return None


def _made(session: Session, row: PracticeRunRow) -> int:
    """Cuts made, kept or not: all of them were steel; where the arc is watched, runs."""
    if table_exercise(row.case).thing.at_the_arc:
        return arc_answers.runs_made(session, row)
    return cuts.next_number(session, setting_up.trial_of(session, row).id or 0) - 1


def _how_it_ended(
    session: Session, row: PracticeRunRow, exercise: TableExercise, claim: str, judge: Judge
) -> TableDebrief:
    made, anew = _made(session, row), fittings.fitted_anew(session, row.table_id)
    if exercise.thing.at_the_arc:
        departs_mm = arc_answers.departs_mm(session, row, exercise)
        return judge_arc_end(exercise, claim, made, departs_mm, anew)
    at = _ended_on(session, row, judge)
    chance = None if at is None else true_chance(exercise, at, anew)
    return judge_end(exercise, claim, made, chance, anew)


def _ended_on(session: Session, row: PracticeRunRow, judge: Judge) -> Setting | None:
    """The setting that is claimed: the proven one, or else that of the last cut; None before any."""
    _, logged, judgement = judged(session, row.trial_id, judge)
    best = judgement.advice.recommended
    if judgement.advice.status == "square" and best is not None:
        return Setting.of(best)
    kept = [c.cut for c in logged if c.counts]
    return Setting.of(kept[-1]) if kept else None


def _ended(session: Session, run_id: int) -> PracticeRunRow:
    row = runs.run(session, run_id)
    if not row.claim:
        raise Refused("It is still going on: end it first, then the truth is shown.", "run_id")
    return row
