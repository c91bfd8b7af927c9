"""The Bench: what is known of a trial and what to cut next; the simulated table beside it."""

from typing import TYPE_CHECKING, Annotated

from fastapi import Query
from fastapi.responses import Response
from sqlmodel import Session

from orthotome.api.bench import answers, models
from orthotome.api.depends import Benches, OpenDoor, Reading, Revisions, Store, TheJudge
from orthotome.api.log import models as log_models
from orthotome.api.routing import room
from orthotome.api.trial import answers as trial_answers
from orthotome.api.wire import Id
from orthotome.core.log.pierced import PierceAdvice
from orthotome.core.quantities import spoken
from orthotome.core.setting import Setting
from orthotome.core.trial.table_door import JobAtTable
from orthotome.core.trial.what_if import WhatIf
from orthotome.desk.bench.judging import Judge, judged
from orthotome.formats.trial.campaign import DrossFile, Height, Speed
from orthotome.store.bench import campaigns
from orthotome.store.database import Database
from orthotome.store.errors import Refused
from orthotome.store.log import cuts, drafts, photos, pierced
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.machine import instruments
from orthotome.store.pieces import planned
from orthotome.store.shop import shop
from orthotome.store.tables import Trial
from orthotome.store.torch import fittings
from orthotome.store.trial import trials

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

router = room("bench")


@router.get("/trials/{trial_id}/bench", response_model=models.BenchAnswer)
def get_bench(
    trial_id: Id, session: Reading, judge: TheJudge, database: Store, benches: Benches
) -> Response:
    """A trial with its cuts, the advice, and the evidence for it; worked out once for all who watch."""
    # Counted before anything is read: what comes later is asked for under another number.
    question = trial_id, database.database.changes, spoken(), database.by
    body = benches.of(question, lambda: _bench(session, trial_id, judge, database.by).model_dump_json())
    return Response(body, media_type="application/json")


def _bench(session: Session, trial_id: int, judge: Judge, by: str) -> models.BenchAnswer:
    found, logged, judgement = judged(session, trial_id, judge)
    waiting = planned.waiting(session, trial_id)
    shown, before = (
        trial_answers.shown(session, found),
        judge.without_the_last(judgement.learned.campaign),
    )
    earlier = campaigns.earlier_trials(session, found)
    worth = answers.worth(session, found.table_id, judgement)
    return answers.bench(
        shown,
        logged,
        judgement,
        waiting=waiting,
        before=before,
        earlier=earlier,
        worth=worth,
        pierce=_pierce(session, found, logged, judgement),
        instruments=instruments.instruments(session, by),
        pictures=photos.of_cuts(session, [c.row.id for c in logged]),
    )


def _pierce(
    session: Session, found: Trial, logged: list[LoggedCut], judgement: "Judgement"
) -> tuple[PierceAdvice, ...]:
    """How to pierce from now on; of a recipe, which stands, nothing."""
    campaign = judgement.learned.campaign
    if campaign.locked is not None:
        return ()
    return pierced.advised(session, found.id or 0, logged, campaign.start, campaign.thickness_mm)


@router.get("/trials/{trial_id}/what-if")
def get_what_if(
    trial_id: Id,
    session: Reading,
    judge: TheJudge,
    speed_mm_min: Annotated[Speed, Query()],
    cut_height_mm: Annotated[Height, Query()],
) -> WhatIf:
    """What a setting would give, and what speed and height do from there; inside the limits or not."""
    from orthotome.core.tuner.window import what_if  # noqa: PLC0415 (start-up time)

    _, _, judgement = judged(session, trial_id, judge)
    return what_if(judgement, Setting(speed_mm_min, cut_height_mm))


@router.get("/trials/{trial_id}/revision", response_model=models.Revision)
async def get_revision(trial_id: Id, database: Store, revisions: Revisions) -> Response:
    """How often the trial has changed.

    Every screen asks this every two seconds: it is read once after each change, and answered from memory.
    """
    question = trial_id, database.database.changes
    body = revisions.of(question, lambda: _revision(database.database, trial_id))
    return Response(body, media_type="application/json")


def _revision(database: Database, trial_id: int) -> str:
    with database.read() as session:
        found, draft = trials.trial(session, trial_id), drafts.draft(session, trial_id)
        saved_at = draft.saved_at if draft else None
        return models.Revision(revision=found.revision, draft_saved_at=saved_at).model_dump_json()


@router.post("/trials/{trial_id}/simulated-cut")
def simulated_cut(
    trial_id: Id,
    session: Reading,
    judge: TheJudge,
    open_door: OpenDoor,
    asked: Annotated[models.SimulatedQuery, Query()],
) -> log_models.CutRequest:
    """Cut what is advised on the simulated table, a piece that waits, or a setting of one's own: what the gauges show,
    not logged."""
    from orthotome.core.tuner.next_act import next_act  # noqa: PLC0415 (start-up time)

    found, _, judgement = judged(session, trial_id, judge)
    table = shop.table(session, found.table_id)
    if table.simulated_seed is None:
        raise Refused("This is a real table: cut the piece and log what came out.", "trial_id")
    setting, number = next_act(judgement).setting, cuts.next_number(session, trial_id)
    starts = 1 + fittings.fitted(session, found.table_id).starts
    if asked.planned_id is not None:
        piece = planned.planned_cut(session, trial_id, asked.planned_id)
        setting, number, starts = Setting.of(piece), piece.number, piece.starts
    elif asked.speed_mm_min is not None and asked.cut_height_mm is not None:
        setting = Setting(asked.speed_mm_min, asked.cut_height_mm)
    campaign = judgement.learned.campaign
    anew = fittings.fitted_anew(session, found.table_id)
    job = JobAtTable(trial_id, campaign.start, campaign.thickness_mm, campaign.torch_set.swirl, anew)
    cut = open_door(table.simulated_seed).cut(job, number, "square", setting, starts=starts)
    kept = set(log_models.CutRequest.model_fields) - {"edges", "dross", "note"}
    return log_models.CutRequest(
        **{name: value for name, value in vars(cut).items() if name in kept},
        edges=tuple(log_models.EdgeRead(**vars(e)) for e in cut.edges),
        dross=tuple(DrossFile(**vars(d)) for d in cut.dross or ()),
    )
