"""Exercises that were taken to their end: a sheet for everybody who learns."""

import json
from collections.abc import Sequence

from sqlmodel import Session, col, select

from orthotome.core.practice.fault_finding import Debrief
from orthotome.store import changes
from orthotome.store.tables import PracticeRow


def taken_by(session: Session, person: str) -> Sequence[PracticeRow]:
    """What a person took, newest first."""
    query = select(PracticeRow).where(PracticeRow.taken_by == person)
    return session.exec(query.order_by(col(PracticeRow.id).desc())).all()


def keep(
    session: Session, case: str, asked: Sequence[str], named: tuple[str, str], how: Debrief
) -> PracticeRow:
    """Keep how a case went; ``named`` is the cause and the first act."""
    row = PracticeRow(
        case=case,
        asked=json.dumps(list(asked)),
        cause=named[0],
        act=named[1],
        passed=how.passed,
        spent=how.spent,
        taken_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row
