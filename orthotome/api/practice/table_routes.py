"""Exercises at a simulated table: begun, ended, and shown with their truth. The trial itself is cut in the practice shop."""

import contextlib

from sqlmodel import Session

from orthotome.api.depends import Reading, Store, TheJudge, ThePracticeShop
from orthotome.api.practice import table_answers as answers
from orthotome.api.practice import table_models as models
from orthotome.api.practice_shop import PracticeShop
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.practice.at_the_arc import masters_arc
from orthotome.core.practice.at_the_table import masters_way
from orthotome.core.practice.table_exercises import EVERY_EXERCISE, table_exercise
from orthotome.desk.practice.at_the_table import how_it_ended, made
from orthotome.sim.practice import PracticeDoor, arc_run, true_chance
from orthotome.store.errors import NotFound, Refused
from orthotome.store.practice import runs, setting_up
from orthotome.store.shop import shop
from orthotome.store.tables import PracticeRunRow

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
        count = made(session, row)
        how = how_it_ended(session, row, exercise, request.claim, judge)
    with store.write() as session:
        return answers.run(runs.end(session, run_id, request.claim, count, how), count)


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
        return answers.run(row, made(session, row))
    return None


def _ended(session: Session, run_id: int) -> PracticeRunRow:
    row = runs.run(session, run_id)
    if not row.claim:
        raise Refused("It is still going on: end it first, then the truth is shown.", "run_id")
    return row
