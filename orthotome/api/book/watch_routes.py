"""Watching a proven recipe: spot checks, what they say, and the recipe on the parts as they are."""

from typing import Annotated

from fastapi import Query
from sqlmodel import Session

from orthotome.api.bench.judging import Judge
from orthotome.api.book import watch_models as models
from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.height.of_trial import TrialHeight, of_trial
from orthotome.api.height.wear import trim_answer
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.book.watching import (
    STATE_WORDS,
    Promise,
    SpotCheck,
    Watched,
    doubts_of_check,
    square_in_words,
    starts_between,
    watch,
)
from orthotome.core.doubts import INSISTED, ask
from orthotome.core.edge.edges import farthest_from_square
from orthotome.core.edge.measuring import angle_gauge_u_deg
from orthotome.core.errors import TradeError
from orthotome.core.trial.campaign import worst_judged_deg
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.trial.campaign import campaign_from_file
from orthotome.store import changes
from orthotome.store.book import recipes, spot_checks
from orthotome.store.errors import NotFound, Refused
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import CuttingTable, RecipeRow, SpotCheckRow
from orthotome.store.torch import counting

router = room("book")
Asked = Annotated[models.EveryQuery, Query()]


@router.get("/recipes/{recipe_id}/watch")
def get_watch(recipe_id: Id, session: Reading, judge: TheJudge, asked: Asked) -> models.WatchAnswer:
    """A recipe on the parts as they are now, what its checks say, and how often to check."""
    return _watch(session, recipe_id, judge, asked)


@router.post("/recipes/{recipe_id}/spot-checks", status_code=201)
def note_spot_check(
    recipe_id: Id, request: models.SpotCheckRequest, database: Store, judge: TheJudge
) -> models.WatchAnswer:
    """Note one square, or one edge of a part, read against a recipe."""
    given = request.model_dump(exclude={"key", "edges_deg", "insisted"})
    if request.edges_deg:
        given["bevel_deg"] = farthest_from_square(request.edges_deg)
        given["note"] = f"{request.note} {square_in_words(request.edges_deg)}".strip()
    if all(given[n] is None for n in ("bevel_deg", "arc_voltage_v", "kerf_mm", "dross_grade")):
        raise TradeError(
            "bevel_deg", "read at least one thing: an edge, the volts, the kerf or the dross."
        )
    with database.write() as session:
        row = recipes.recipe(session, recipe_id)
        table = _table(session, row)
        if table is None:
            raise Refused(
                f"The {row.table_name} is not in this shop: its recipe is checked there.", "recipe_id"
            )
        if given["bevel_deg"] is not None and request.u_deg is None:
            given["u_deg"] = angle_gauge_u_deg(row.thickness_mm)
        read = spot_checks.ToNote(**given)
        check = SpotCheck(0, read.bevel_deg, 0.4, read.arc_voltage_v, read.kerf_mm, read.dross_grade)
        doubts = doubts_of_check(_promise(recipes.file_of(row)), check, row.arc_voltage_v, row.kerf_mm)
        if spot_checks.noted(session, request.key) is None:  # sent again, it stands already
            ask(doubts, request.insisted)
            noted = spot_checks.note(session, row, table.id or 0, request.key, read)
            if doubts:
                told = {d.field: given[d.field] for d in doubts}
                changes.note(session, INSISTED, "spot_check", noted.id, told)
        return _watch(session, recipe_id, judge, models.EveryQuery())


@router.put("/recipes/{recipe_id}/spot-checks/struck")
def strike_spot_check(
    recipe_id: Id, request: models.StruckCheck, database: Store, judge: TheJudge
) -> models.WatchAnswer:
    """Strike a check out, or put it back."""
    with database.write() as session:
        spot_checks.strike(session, recipe_id, request.check_id, out=request.out)
        return _watch(session, recipe_id, judge, models.EveryQuery())


def _table(session: Session, row: RecipeRow) -> CuttingTable | None:
    return next((t for t in shop.tables(session) if t.name == row.table_name), None)


def _watch(
    session: Session, recipe_id: int, judge: Judge, asked: models.EveryQuery
) -> models.WatchAnswer:
    row = recipes.recipe(session, recipe_id)
    file, table = recipes.file_of(row), _table(session, row)
    checks = spot_checks.of_recipe(session, recipe_id)
    at_proof = spot_checks.starts_of_table_at(session, table.id or 0, row) if table else 0
    since = (counting.starts_of_table(session, table.id or 0) if table else 0) - at_proof
    promise = _promise(file)
    height = _height(session, row, judge)
    trim = None if height is None else trim_answer(height)
    found = watch(
        promise,
        [_check(c, at_proof) for c in checks if not c.struck_out],
        since,
        trim.by_v if trim else 0.0,
    )
    every, says = _every(table, asked, found, since)
    return models.WatchAnswer(
        recipe_id=recipe_id,
        table_id=table.id if table else None,
        state=found.state,
        state_word=STATE_WORDS[found.state],
        says=found.says,
        chance_moved=round(found.chance_moved, 3),
        limit_deg=promise.limit_deg,
        proven_deg=round(promise.proven_deg, 2),
        proven_v=file.setting.arc_voltage_v,
        proven_kerf_mm=file.setting.kerf_mm,
        since_proof=since,
        drift_per_1000_deg=None
        if found.drift_per_1000_deg is None
        else round(found.drift_per_1000_deg, 2),
        due_at=found.due_at_starts,
        checks=[_check_answer(c, at_proof) for c in checks],
        trim=trim,
        every_parts=every,
        every_says=says,
    )


def _height(session: Session, row: RecipeRow, judge: Judge) -> TrialHeight | None:
    if row.trial_id is None:
        return None
    try:
        return of_trial(session, row.trial_id, judge)
    except NotFound:
        return None


def _promise(file: RecipeFile) -> Promise:
    """What it promises: its target, and the mean of the worst edges of the cuts that passed."""
    campaign = campaign_from_file(file.evidence)
    passed = [c for c in campaign.cuts if c.id in file.proof.passed_cuts]
    worst = [
        w for c in passed if (w := worst_judged_deg(c, campaign.torch_set, campaign.target)) is not None
    ]
    proven = sum(worst) / len(worst) if worst else 0.0
    return Promise(campaign.target.bevel_deg, proven, campaign.target.dross_grade)


def _check(row: SpotCheckRow, at_proof: int) -> SpotCheck:
    return SpotCheck(
        row.of_table - at_proof,
        row.bevel_deg,
        row.u_deg or 0.4,
        None if row.height_held else row.arc_voltage_v,
        row.kerf_mm,
        row.dross_grade,
    )


def _check_answer(row: SpotCheckRow, at_proof: int) -> models.SpotCheckAnswer:
    known = row.model_dump(include=set(models.SpotCheckAnswer.model_fields))
    return models.SpotCheckAnswer(**known, since_proof=row.of_table - at_proof)


def _every(
    table: CuttingTable | None, asked: models.EveryQuery, found: Watched, since: int
) -> tuple[int | None, str]:
    """Parts between two checks, from what a bad part and a check cost."""
    page = pages.settings(table) if table is not None else None
    check = asked.check_cost or (page.test_cut_cost if page else None)
    if asked.bad_part_cost is None or not check:
        return (
            None,
            "Say what a bad part costs, and what a check does: then how often to check is worked out.",
        )
    until = None if found.due_at_starts is None else max(0, found.due_at_starts - since)
    every = starts_between(check, asked.bad_part_cost, asked.starts_each, until)
    wears = "" if until is None else f", and wear is due in about {until} starts"
    return every, (
        f"Check one part in {every}: checking and bad parts then cost the same, at {asked.starts_each} starts a part{wears}."
    )
