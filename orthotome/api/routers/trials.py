"""Trials: opening, the Bench, logging cuts, drafts, pieces, campaign files, and locking."""

from typing import TYPE_CHECKING, Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response
from sqlmodel import Session

from orthotome import demo
from orthotome.api import answers, models
from orthotome.api.depends import Reading, Store, TheJudge, as_it_is
from orthotome.api.judging import Judge, next_cut
from orthotome.core.campaign import Cut, Dross, EdgeReading, Limits, NextCut, Target
from orthotome.core.start_rows import StartValues
from orthotome.core.trial_plan import check_limits, default_limits
from orthotome.formats.campaign import DrossFile, EdgeFile, campaign_to_file, read_campaign
from orthotome.store import book, planned, recipes, shop
from orthotome.store import trials as store
from orthotome.store.errors import ChangedMeanwhile, Refused
from orthotome.store.tables import Trial

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

router = APIRouter(tags=["trials"])


@router.get("/trials", response_model=models.TrialLines)
def get_trials(
    session: Reading,
    sought: Annotated[str, Query(max_length=200)] = "",
    most: Annotated[int, Query(ge=1, le=500)] = 60,
) -> Response:
    """Trials, newest first."""
    lines, total = store.trial_lines(session, sought, most)
    return as_it_is(models.TrialLines(lines=[answers.trial_line(x) for x in lines], total=total))


@router.post("/trials", status_code=201)
def open_trial(request: models.TrialRequest, database: Store) -> models.TrialAnswer:
    """Open a trial and put it on its table's Bench."""
    start = StartValues(**vars(request.start))
    limits = Limits(**vars(request.limits)) if request.limits else default_limits(start)
    check_limits(limits, start)
    with database.write() as session:
        gas = request.gas or ""
        found = book.start(session, request.metal, request.thickness_mm, request.torch_set_id, gas)
        opened = store.open_trial(
            session,
            table_id=request.table_id,
            torch_set_id=request.torch_set_id,
            metal=request.metal,
            thickness_mm=request.thickness_mm,
            start=start,
            found=found if found.values else None,
            target=Target(**vars(request.target)),
            limits=limits,
            title=request.title,
            gas=gas,
            opened_by=request.opened_by,
        )
        return _shown(session, opened)


@router.get("/trials/{trial_id}/bench", response_model=models.BenchAnswer)
def get_bench(trial_id: models.Id, session: Reading, judge: TheJudge) -> Response:
    """A trial with its cuts, the advice, and the evidence for it."""
    found, logged, judgement = _judged(session, trial_id, judge)
    waiting = planned.waiting(session, trial_id)
    return as_it_is(answers.bench(_shown(session, found), logged, judgement, waiting))


@router.get("/trials/{trial_id}/revision")
def get_revision(trial_id: models.Id, session: Reading) -> models.Revision:
    """How often the trial has changed."""
    found, draft = store.trial(session, trial_id), store.draft(session, trial_id)
    saved_at = draft.saved_at if draft else None
    return models.Revision(revision=found.revision, draft_saved_at=saved_at)


@router.put("/trials/{trial_id}/bench", status_code=204)
def put_on_bench(trial_id: models.Id, database: Store) -> None:
    """Put the trial on its table's Bench."""
    with database.write() as session:
        store.put_on_bench(session, store.trial(session, trial_id))


@router.put("/trials/{trial_id}/target")
def retarget(
    trial_id: models.Id, request: models.RetargetRequest, database: Store
) -> models.TrialAnswer:
    """Change what square means, or the limits."""
    limits = Limits(**vars(request.limits))
    with database.write() as session:
        start = store.campaign_of(session, store.trial(session, trial_id), ()).start
        check_limits(limits, start)
        target = Target(**vars(request.target))
        return _shown(session, store.retarget(session, trial_id, request.revision, target, limits))


@router.post("/trials/{trial_id}/cuts", status_code=201)
def log_cut(trial_id: models.Id, request: models.NewCutRequest, database: Store) -> models.CutAnswer:
    """Log a cut. Once this has answered, the cut survives anything short of a broken disk."""
    with database.write() as session:
        row = store.log_cut(
            session, trial_id, request.key, _cut(request), by=request.by, note=request.note
        )
        return answers.cut(store.logged_cut(session, row.id or 0))


@router.post("/trials/{trial_id}/cuts/together", status_code=201)
def log_cuts(
    trial_id: models.Id, request: models.CutsTogether, database: Store
) -> list[models.CutAnswer]:
    """Log the cuts of one piece in one change: all of them, or none."""
    with database.write() as session:
        rows = [
            store.log_cut(session, trial_id, c.key, _cut(c), by=c.by, note=c.note) for c in request.cuts
        ]
        return [answers.cut(store.logged_cut(session, row.id or 0)) for row in rows]


@router.put("/trials/{trial_id}/cuts/{cut_id}")
def correct_cut(
    trial_id: models.Id, cut_id: models.Id, request: models.CutCorrection, database: Store
) -> models.CutAnswer:
    """Correct a logged cut."""
    with database.write() as session:
        store.correct_cut(
            session,
            trial_id,
            cut_id,
            request.version,
            _cut(request),
            by=request.by,
            note=request.note,
        )
        return answers.cut(store.logged_cut(session, cut_id))


@router.put("/trials/{trial_id}/cuts/{cut_id}/struck")
def strike_cut(
    trial_id: models.Id, cut_id: models.Id, request: models.StrikeRequest, database: Store
) -> models.CutAnswer:
    """Strike a cut out of the evidence, or put it back."""
    with database.write() as session:
        store.strike_cut(session, trial_id, cut_id, request.version, out=request.out)
        return answers.cut(store.logged_cut(session, cut_id))


@router.post("/trials/{trial_id}/simulated-cut")
def simulated_cut(
    trial_id: models.Id,
    session: Reading,
    judge: TheJudge,
    planned_id: Annotated[models.Id | None, Query()] = None,
) -> models.CutRequest:
    """Cut what is advised on the simulated table, or a piece that waits: what the gauges show, not logged."""
    found, _, judgement = _judged(session, trial_id, judge)
    table = shop.table(session, found.table_id)
    if table.simulated_seed is None:
        raise Refused("This is a real table: cut the piece and log what came out.", "trial_id")
    asked, number = next_cut(judgement), store.next_number(session, trial_id)
    if planned_id is not None:
        piece = planned.planned_cut(session, trial_id, planned_id)
        asked, number = NextCut("square", piece.speed_mm_min, piece.cut_height_mm, ""), piece.number
    cut = demo.simulated_cut(table, found, judgement.learned.campaign.start, number, asked)
    return models.CutRequest(
        piece=cut.piece,
        speed_mm_min=cut.speed_mm_min,
        cut_height_mm=cut.cut_height_mm,
        arc_voltage_v=cut.arc_voltage_v,
        through=cut.through,
        edges=tuple(EdgeFile(**vars(e)) for e in cut.edges),
        dross=tuple(DrossFile(**vars(d)) for d in cut.dross or ()),
        kerf_mm=cut.kerf_mm,
        lag_deg=cut.lag_deg,
    )


@router.get("/trials/{trial_id}/draft")
def get_draft(trial_id: models.Id, session: Reading) -> models.DraftAnswer:
    """The half-typed log of the trial."""
    store.trial(session, trial_id)
    found = store.draft(session, trial_id)
    if found is None:
        return models.DraftAnswer(body=None, saved_at=None)
    return models.DraftAnswer(body=found.body, saved_at=found.saved_at)


@router.put("/trials/{trial_id}/draft", status_code=204)
def save_draft(trial_id: models.Id, request: models.DraftBody, database: Store) -> None:
    """Keep a half-typed log."""
    with database.write() as session:
        store.save_draft(session, trial_id, request.body)


@router.delete("/trials/{trial_id}/draft", status_code=204)
def drop_draft(trial_id: models.Id, database: Store) -> None:
    """Forget the half-typed log."""
    with database.write() as session:
        store.drop_draft(session, trial_id)


@router.post("/trials/{trial_id}/lock", status_code=201)
def lock(
    trial_id: models.Id, request: models.LockRequest, database: Store, judge: TheJudge
) -> models.RecipeAnswer:
    """Lock the proven setting as a recipe."""
    with database.write() as session:
        found, _, judgement = _judged(session, trial_id, judge)
        if found.revision != request.revision:
            raise ChangedMeanwhile("The trial was changed on another screen: look again.", "revision")
        row = recipes.lock(session, trial_id, judgement, by=request.by, title=request.title)
        return answers.recipe(row, recipes.newest_revisions(session))


@router.get("/trials/{trial_id}/campaign")
def save_campaign(trial_id: models.Id, session: Reading) -> Response:
    """The trial as an open campaign file."""
    campaign = store.campaign_of(session, store.trial(session, trial_id))
    text = campaign_to_file(campaign).model_dump_json(exclude_none=True, indent=2)
    headers = {"content-disposition": f'attachment; filename="trial-{trial_id}.json"'}
    return Response(text, media_type="application/json", headers=headers)


@router.post("/campaigns", status_code=201)
async def open_campaign(
    request: Request, database: Store, table_id: Annotated[int, Query(ge=1, le=2**31)]
) -> models.TrialAnswer:
    """Open a trial from a campaign file, with all its cuts, in one change."""
    campaign = read_campaign(await request.body())
    with database.write() as session:
        known = shop.torch_set_named(session, campaign.torch_set.name)
        if known is None:
            known = shop.add_torch_set(session, campaign.torch_set)
        elif store.torch_set_of(known) != campaign.torch_set:
            raise Refused(
                f"The shop's “{known.name}” has another amperage, gas or swirl than the file's: "
                "rename one of them.",
                "torch_set.name",
            )
        assert known.id is not None
        opened = store.open_trial(
            session,
            table_id=table_id,
            torch_set_id=known.id,
            metal=campaign.metal,
            thickness_mm=campaign.thickness_mm,
            start=campaign.start,
            found=None,
            target=campaign.target,
            limits=campaign.limits,
            title=campaign.title,
        )
        store.take_in_cuts(session, opened, campaign.cuts)
        return _shown(session, opened)


def _judged(
    session: Session, trial_id: int, judge: Judge
) -> tuple[Trial, list[store.LoggedCut], "Judgement"]:
    found = store.trial(session, trial_id)
    logged = store.logged_cuts(session, trial_id)
    campaign = store.campaign_of(session, found, logged)
    return found, logged, judge.judge(trial_id, found.revision, campaign)


def _shown(session: Session, found: Trial) -> models.TrialAnswer:
    return answers.trial(
        found,
        shop.table(session, found.table_id),
        shop.torch_set(session, found.torch_set_id),
        store.recipe_of(session, found.id or 0),
    )


def _cut(request: models.CutRequest) -> Cut:
    plain = request.model_dump(exclude={"key", "version", "by", "note", "edges", "dross"})
    dross = request.dross
    return Cut(
        id="",
        **plain,
        edges=tuple(EdgeReading(**vars(e)) for e in request.edges),
        dross=None if dross is None else tuple(Dross(d.kind, d.grade) for d in dross),
    )
