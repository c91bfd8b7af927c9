"""Grading checks: the same pieces graded by two people, or by one twice."""

import json
from collections.abc import Sequence

from sqlmodel import Session, col, select

from orthotome.core.log.grading import Pair, grade_spread
from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.tables import GradingRow


def gradings(session: Session) -> Sequence[GradingRow]:
    """The checks that count, newest first."""
    counts = select(GradingRow).where(col(GradingRow.struck_out).is_(False))
    return session.exec(counts.order_by(col(GradingRow.id).desc())).all()


def pairs(session: Session) -> tuple[Pair, ...]:
    """Every pair of grades that the shop's people gave one piece."""
    return tuple(pair for row in gradings(session) for pair in pairs_of(row))


def pairs_of(row: GradingRow) -> tuple[Pair, ...]:
    """The grades of one check."""
    return tuple((one, other) for one, other in json.loads(row.grades))


def add(session: Session, one: str, other: str, graded: Sequence[Pair]) -> GradingRow:
    """Keep a check. Raises TradeError for a grade that is none."""
    grade_spread(graded)
    row = GradingRow(
        one=one, other=other, grades=json.dumps(list(graded)), noted_by=changes.person(session)
    )
    session.add(row)
    session.flush()
    changes.note(session, "graded", "grading", row.id)
    return row


def strike(session: Session, grading_id: int, *, out: bool) -> None:
    """Take a check out, or put it back. Raises NotFound."""
    row = session.get(GradingRow, grading_id)
    if row is None:
        raise NotFound("There is no such grading check.", "grading_id")
    row.struck_out = out
    session.add(row)
    changes.note(session, "struck out" if out else "put back", "grading", grading_id)
