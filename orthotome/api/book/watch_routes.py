"""Watching a proven recipe: spot checks, what they say, and the recipe on the parts as they are."""

from typing import Annotated

from fastapi import Query
from sqlmodel import Session

from orthotome.api.book import watch_models as models
from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.routing import room
from orthotome.api.torch.trim_answer import trim_answer
from orthotome.api.wire import Id
from orthotome.core.book.watching import (
    STATE_WORDS,
    SpotCheck,
    doubts_of_check,
    square_in_words,
)
from orthotome.core.doubts import INSISTED, ask
from orthotome.core.edge.edges import farthest_from_square
from orthotome.core.edge.measuring import ANGLE_GAUGE_U_DEG, angle_gauge_u_deg
from orthotome.core.errors import TradeError
from orthotome.desk.bench.judging import Judge
from orthotome.desk.book.watched import promise_of, table_of, watched
from orthotome.store import changes
from orthotome.store.book import recipes, spot_checks
from orthotome.store.errors import Refused
from orthotome.store.tables import SpotCheckRow

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
        table = table_of(session, row)
        if table is None:
            raise Refused(
                f"The {row.table_name} is not in this shop: its recipe is checked there.", "recipe_id"
            )
        if given["bevel_deg"] is not None and request.u_deg is None:
            given["u_deg"] = angle_gauge_u_deg(row.thickness_mm)
        read = spot_checks.ToNote(**given)
        check = SpotCheck(
            0, read.bevel_deg, ANGLE_GAUGE_U_DEG, read.arc_voltage_v, read.kerf_mm, read.dross_grade
        )
        doubts = doubts_of_check(promise_of(recipes.file_of(row)), check, row.arc_voltage_v, row.kerf_mm)
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


def _watch(
    session: Session, recipe_id: int, judge: Judge, asked: models.EveryQuery
) -> models.WatchAnswer:
    of = watched(session, recipe_id, judge)
    found = of.found
    every, says = of.every(asked.bad_part_cost, asked.check_cost, asked.starts_each)
    drift = found.drift_per_1000_deg
    return models.WatchAnswer(
        recipe_id=recipe_id,
        table_id=of.table.id if of.table else None,
        state=found.state,
        state_word=STATE_WORDS[found.state],
        says=found.says,
        chance_moved=round(found.chance_moved, 3),
        limit_deg=of.promise.limit_deg,
        proven_deg=round(of.promise.proven_deg, 2),
        proven_v=of.file.setting.arc_voltage_v,
        proven_kerf_mm=of.file.setting.kerf_mm,
        since_proof=of.since,
        drift_per_1000_deg=None if drift is None else round(drift, 2),
        due_at=found.due_at_starts,
        checks=[_check_answer(c, of.at_proof) for c in of.checks],
        trim=None if of.height is None else trim_answer(of.height),
        every_parts=every,
        every_says=says,
    )


def _check_answer(row: SpotCheckRow, at_proof: int) -> models.SpotCheckAnswer:
    known = row.model_dump(include=set(models.SpotCheckAnswer.model_fields))
    return models.SpotCheckAnswer(**known, since_proof=row.of_table - at_proof)
