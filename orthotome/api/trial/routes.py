"""Trials: opening one, what square means in it, campaign files, and locking it as a recipe."""

from dataclasses import replace
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response
from sqlmodel import Session

from orthotome.api.bodies import JSON_TYPES, JsonBody, takes
from orthotome.api.book import answers as book_answers
from orthotome.api.book import models as book_models
from orthotome.api.depends import Reading, Store, TheJudge, as_it_is
from orthotome.api.routing import room
from orthotome.api.trial import answers, models
from orthotome.api.wire import Id
from orthotome.api.writing_judged import writing_judged
from orthotome.core.book.start_rows import StartValues, kerf_not_measured_says
from orthotome.core.edge.measuring import angle_gauge_u_deg, cannot_judge
from orthotome.core.edge.squareness import square_target
from orthotome.core.trial.campaign import Limits, Target
from orthotome.core.trial.opening import (
    are_the_rows,
    check_limits,
    default_limits,
    held_by,
)
from orthotome.desk.bench.judging import judged
from orthotome.desk.height.of_trial import of_trial
from orthotome.desk.working.apart import apart
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.reading import TINY
from orthotome.formats.trial.campaign import (
    campaign_to_file,
    read_campaign,
)
from orthotome.store.bench import campaigns, lines
from orthotome.store.book import recipes
from orthotome.store.book import rows as book
from orthotome.store.errors import ChangedMeanwhile, Refused
from orthotome.store.log import cuts, pierced
from orthotome.store.machine import pages
from orthotome.store.torch import fittings, sets
from orthotome.store.trial import trials

router = room("trial")

Positive = Annotated[float | None, Query(ge=TINY, le=90, allow_inf_nan=False)]


@router.get("/target")
def get_target(
    thickness_mm: Annotated[float, Query(ge=0.2, le=100, allow_inf_nan=False)],
    bevel_deg: Positive = None,
    gap_mm: Positive = None,
    iso_range: Annotated[int | None, Query(ge=1, le=5)] = None,
) -> models.TargetAnswer:
    """One target as degrees, gap and range, and whether a gauge can judge it."""
    target = square_target(thickness_mm, bevel_deg=bevel_deg, gap=gap_mm, iso_range=iso_range)
    doubt = cannot_judge(angle_gauge_u_deg(thickness_mm), target.bevel_deg)
    return models.TargetAnswer(**vars(target), judged_by=doubt)


@router.get("/trials", response_model=models.TrialLines)
def get_trials(
    session: Reading,
    sought: Annotated[str, Query(max_length=200)] = "",
    most: Annotated[int, Query(ge=1, le=500)] = 60,
) -> Response:
    """Trials, newest first."""
    found, total = lines.trial_lines(session, sought, most)
    return as_it_is(models.TrialLines(lines=[answers.trial_line(x) for x in found], total=total))


@router.post("/trials", status_code=201)
def open_trial(request: models.TrialRequest, database: Store) -> models.TrialAnswer:
    """Open a trial and put it on its table's Bench."""
    start = StartValues(**vars(request.start))
    with database.write() as session:
        fastest = pages.for_trial(session, request.table_id).fastest_mm_min
        limits = Limits(**vars(request.limits)) if request.limits else default_limits(start, fastest)
        check_limits(limits, start, fastest)
        gas = request.gas or ""
        found = book.start(
            session,
            request.metal,
            request.thickness_mm,
            request.torch_set_id,
            gas,
            table_id=request.table_id,
        )
        fittings.say_set(session, request.table_id, request.torch_set_id)
        opened = trials.open_trial(
            session,
            table_id=request.table_id,
            torch_set_id=request.torch_set_id,
            metal=request.metal,
            thickness_mm=request.thickness_mm,
            start=start,
            found=found if are_the_rows(start, found, fastest) else None,
            target=Target(**vars(request.target)),
            limits=limits,
            title=request.title,
            gas=gas,
        )
        return answers.shown(session, opened)


@router.put("/trials/{trial_id}/bench", status_code=204)
def put_on_bench(trial_id: Id, database: Store) -> None:
    """Put the trial on its table's Bench."""
    with database.write() as session:
        trials.put_on_bench(session, trials.trial(session, trial_id))


@router.put("/trials/{trial_id}/target")
def retarget(trial_id: Id, request: models.RetargetRequest, database: Store) -> models.TrialAnswer:
    """Change what square means, or the limits."""
    limits = Limits(**vars(request.limits))
    with database.write() as session:
        known = campaigns.campaign_of(session, trials.trial(session, trial_id), ())
        check_limits(limits, held_by(known.start, known.fastest_mm_min), known.fastest_mm_min)
        target = Target(**vars(request.target))
        return answers.shown(
            session, trials.retarget(session, trial_id, request.revision, target, limits)
        )


@router.put("/trials/{trial_id}/pierce")
def pierce(trial_id: Id, request: models.PierceRequest, database: Store) -> models.TrialAnswer:
    """Pierce so long, or at that height, from now on."""
    with database.write() as session:
        given = (request.pierce_delay_s, request.pierce_height_mm)
        found = trials.pierce(session, trial_id, request.revision, *given)
        return answers.shown(session, found)


@router.put("/trials/{trial_id}/earlier-trials")
def use_earlier_trials(
    trial_id: Id, request: models.EarlierTrialsRequest, database: Store
) -> models.TrialAnswer:
    """Take what the table's earlier trials taught along, or leave it out."""
    with database.write() as session:
        found = trials.stand_alone(session, trial_id, request.revision, alone=not request.use)
        return answers.shown(session, found)


@router.get("/trials/{trial_id}/lock")
def get_lock(trial_id: Id, session: Reading, judge: TheJudge) -> models.LockPreview:
    """What the recipe will hold, before it is locked."""
    _, _, judgement = judged(session, trial_id, judge)
    file = recipes.would_hold(session, trial_id, judgement)
    if file is None:
        raise Refused("This setting is not proven yet: there is nothing to lock.", "trial_id")
    return models.LockPreview(
        setting=file.setting,
        probability_pass=file.proof.probability_pass,
        passed=len(file.proof.passed_cuts),
        cuts=len(file.evidence.cuts),
        revision=file.revision,
        doubts=_not_proven(session, trial_id, file),
    )


def _not_proven(session: Session, trial_id: int, file: RecipeFile) -> list[str]:
    """What of a recipe's numbers nobody measured or proved here."""
    setting, measured = file.setting, trials.kerf_was_measured(session, trial_id)
    logged = cuts.logged_cuts(session, trial_id)
    sized = any(look.what in ("size_x", "size_y") for c in logged for look in c.looks)
    read = measured or sized or any(c.kerf_mm is not None for c in file.evidence.cuts)
    told = StartValues(**setting.model_dump())
    kerf = () if read else (kerf_not_measured_says(setting.kerf_mm),)
    return [*kerf, *(a.why for a in pierced.advised(session, trial_id, logged, told, file.thickness_mm))]


@router.post("/trials/{trial_id}/lock", status_code=201)
def lock(
    trial_id: Id, request: models.LockRequest, database: Store, judge: TheJudge
) -> book_models.RecipeAnswer:
    """Lock the proven setting as a recipe."""
    with writing_judged(database, trial_id, judge) as (session, found, judgement):
        if found.revision != request.revision:
            raise ChangedMeanwhile("The trial was changed on another screen: look again.", "revision")
        controlled = of_trial(session, trial_id, judge).proof.state == "proven"
        row = recipes.lock(session, trial_id, judgement, title=request.title, controlled=controlled)
        return book_answers.recipe(row, recipes.newest_revisions(session))


@router.post("/recipes/{recipe_id}/withdrawn", status_code=204)
def withdraw(recipe_id: Id, database: Store) -> None:
    """Take back a recipe that was locked by mistake: its trial goes on."""
    with database.write() as session:
        recipes.withdraw(session, recipe_id)


@router.get("/trials/{trial_id}/campaign")
def save_campaign(trial_id: Id, session: Reading) -> Response:
    """The trial as an open campaign file, with the earlier ones that sharpen it."""
    campaign = campaigns.with_history(session, trials.trial(session, trial_id))
    text = campaign_to_file(campaign).model_dump_json(exclude_none=True, indent=2)
    headers = {"content-disposition": f'attachment; filename="trial-{trial_id}.json"'}
    return Response(text, media_type="application/json", headers=headers)


@router.post("/campaigns", status_code=201, openapi_extra=takes(*JSON_TYPES))
def open_campaign(
    body: JsonBody, database: Store, table_id: Annotated[int, Query(ge=1, le=2**31)]
) -> models.TrialAnswer:
    """Open a trial from a campaign file, with all its cuts, in one change."""
    campaign = apart("campaign", read_campaign, body)
    with database.write() as session:
        known = sets.torch_set_named(session, campaign.torch_set.name)
        if known is None:
            known = sets.add_torch_set(session, campaign.torch_set)
        elif sets.torch_set_of(known) != replace(campaign.torch_set, starts=None):
            raise Refused(
                f"The shop's “{known.name}” has another amperage, gas or swirl than the file's: "
                "rename one of them.",
                "torch_set.name",
            )
        assert known.id is not None
        opened = trials.open_trial(
            session,
            table_id=table_id,
            torch_set_id=known.id,
            metal=campaign.metal,
            thickness_mm=campaign.thickness_mm,
            start=campaign.start,
            found=None,
            start_how=campaign.start_how or campaigns.FROM_FILE,
            on_its_own=True,  # until somebody says otherwise: a file is what it was where it was written
            parts_starts=campaign.torch_set.starts,
            target=campaign.target,
            limits=campaign.limits,
            title=campaign.title,
        )
        cuts.take_in_cuts(session, opened, campaign.cuts)
        return answers.shown(session, opened)
