"""Grading checks: how alike the shop's people grade dross."""

from typing import Annotated

from fastapi import Query

from orthotome.api.depends import Reading, Store
from orthotome.api.log import models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.log.grading import grade_spread, in_words
from orthotome.store.log import gradings

router = room("log")


@router.get("/gradings")
def get_gradings(session: Reading) -> models.GradingsAnswer:
    """The shop's grading checks, and what they tell of the spread of one grade."""
    spread = grade_spread(gradings.pairs(session))
    return models.GradingsAnswer(
        checks=[
            models.GradingAnswer(
                id=row.id or 0,
                one=row.one,
                other=row.other,
                grades=list(gradings.pairs_of(row)),
                graded_at=row.graded_at,
            )
            for row in gradings.gradings(session)
        ],
        sd=spread.sd,
        low=spread.low,
        high=spread.high,
        pairs=spread.pairs,
        says=in_words(spread),
    )


@router.post("/gradings", status_code=201)
def add_grading(request: models.GradingRequest, database: Store) -> models.GradingsAnswer:
    """The same pieces graded by two people, or by one twice."""
    with database.write() as session:
        gradings.add(session, request.one, request.other, request.grades)
        return get_gradings(session)


@router.put("/gradings/{grading_id}/struck", status_code=204)
def strike_grading(grading_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Take a check out, or put it back."""
    with database.write() as session:
        gradings.strike(session, grading_id, out=out)
