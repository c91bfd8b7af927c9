"""Exercises at practice tables: begun, going on, and ended, in the shop's own records."""

from collections.abc import Sequence

from sqlmodel import Session, col, select

from orthotome.core.practice.at_the_table import TableDebrief
from orthotome.store import changes
from orthotome.store.clock import now
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import PracticeRunRow


def runs_of(session: Session, person: str) -> Sequence[PracticeRunRow]:
    """What a person began, newest first."""
    query = select(PracticeRunRow).where(PracticeRunRow.begun_by == person)
    return session.exec(query.order_by(col(PracticeRunRow.id).desc())).all()


def run(session: Session, run_id: int) -> PracticeRunRow:
    """One of them. Raises NotFound."""
    found = session.get(PracticeRunRow, run_id)
    if found is None:
        raise NotFound("There is no such exercise going on.", "run_id")
    return found


def begin(session: Session, case: str, table_id: int, trial_id: int) -> PracticeRunRow:
    """Note that somebody began; the table and the trial are the practice shop's."""
    row = PracticeRunRow(
        case=case, table_id=table_id, trial_id=trial_id, begun_by=changes.person(session)
    )
    session.add(row)
    session.flush()
    return row


def end(session: Session, run_id: int, claim: str, cuts: int, how: TableDebrief) -> PracticeRunRow:
    """Note what was claimed in the end, and how it went. Raises Refused where it was ended before."""
    row = run(session, run_id)
    if row.claim:
        raise Refused("This exercise was ended before: take it anew.", "run_id")
    row.claim, row.cuts, row.passed, row.sentence = claim, cuts, how.passed, how.sentence
    row.ended_at = now()
    session.add(row)
    session.flush()
    return row
