"""The sheet of somebody who learns, on paper."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response

from orthotome.api.depends import MOST_OF_A_NAME, Reading
from orthotome.api.routing import room
from orthotome.core.practice.fault_finding import EXERCISES
from orthotome.core.practice.table_exercises import ARC_EXERCISES, TABLE_EXERCISES
from orthotome.formats.practice.learner_sheet import Taken, write_learner_sheet
from orthotome.store.clock import now
from orthotome.store.practice import runs, taken

router = room("practice")


@router.get("/practice/sheet.pdf")
def get_learner_sheet(
    session: Reading, person: Annotated[str, Query(max_length=MOST_OF_A_NAME)] = ""
) -> Response:
    """What somebody passed, and when."""
    faults = [(r.case, r.passed, r.taken_at) for r in taken.taken_by(session, person)]
    tables = [
        (r.case, r.passed, r.ended_at or r.begun_at) for r in runs.runs_of(session, person) if r.claim
    ]
    groups = (
        ("Cut it square", _taken([(e.code, e.title) for e in TABLE_EXERCISES], tables)),
        ("Watch the arc", _taken([(e.code, e.title) for e in ARC_EXERCISES], tables)),
        ("Find the fault", _taken([(e.code, e.title) for e in EXERCISES], faults)),
    )
    page = write_learner_sheet(person, groups, now().date())
    return Response(page, media_type="application/pdf")


def _taken(
    exercises: Iterable[tuple[str, str]], rows: Sequence[tuple[str, bool, datetime]]
) -> list[Taken]:
    """Each exercise with how often it was taken, and when it was passed first."""
    found = []
    for code, title in exercises:
        mine = [(passed, at) for case, passed, at in rows if case == code]
        first = min((at.date() for passed, at in mine if passed), default=None)
        found.append(Taken(title, len(mine), first))
    return found
