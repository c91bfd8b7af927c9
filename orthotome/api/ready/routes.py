"""The run-through before cutting."""

from orthotome.api.depends import Reading, Store
from orthotome.api.ready import answers, models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.ready.run_through import Every
from orthotome.store.ready import runs as store

router = room("readiness")


@router.get("/tables/{table_id}/readiness")
def get_readiness(table_id: Id, session: Reading) -> models.ReadyAnswer:
    """Everything that applies to the job on this table's Bench, what is due, and the answers so far."""
    return answers.ready(
        table_id,
        store.readiness(session, table_id),
        store.readiness(session, table_id, whole=True),
        store.rules(session),
        store.last_done(session, table_id),
    )


@router.post("/tables/{table_id}/readiness")
def answer_item(table_id: Id, request: models.ReadyRequest, database: Store) -> models.ReadyAnswer:
    """Answer one item; the last answer stands."""
    with database.write() as session:
        store.answer(session, table_id, request.code, request.answer, note=request.note)
        return get_readiness(table_id, session)


@router.post("/tables/{table_id}/readiness/done")
def finish(table_id: Id, database: Store) -> models.ReadyRun:
    """Call the run-through done and keep it with the trial."""
    with database.write() as session:
        run = store.finish(session, table_id)
        return answers.ready_run(run, store.answers_of(session, run))


@router.get("/trials/{trial_id}/readiness")
def get_runs(trial_id: Id, session: Reading) -> list[models.ReadyRun]:
    """The run-throughs kept with a trial."""
    runs = store.runs_of_trial(session, trial_id)
    return [answers.ready_run(r, store.answers_of(session, r)) for r in runs]


@router.put("/readiness/rules/{code}", status_code=204)
def set_rule(code: str, request: models.ReadyRuleRequest, database: Store) -> None:
    """Drop an item, bring it back, or time it anew. Cautions stay."""
    every = Every(request.every.period, request.every.number) if request.every else None
    with database.write() as session:
        store.set_rule(session, code, dropped=request.dropped, every=every)


@router.post("/readiness/own", status_code=201)
def add_own(request: models.OwnItemRequest, database: Store) -> str:
    """Add an item of the shop's own; answers its code."""
    every = Every(request.every.period, request.every.number)
    with database.write() as session:
        return store.add_own(session, request.ask, request.if_not, request.group, every)
