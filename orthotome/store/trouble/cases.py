"""Troubles that were solved: they teach the shop's odds."""

import json
from collections.abc import Mapping, Sequence

from sqlmodel import Session, col, select

from orthotome.core.errors import TradeError
from orthotome.core.trouble.causes import CAUSES, Cause
from orthotome.core.trouble.diagnosis import check
from orthotome.core.trouble.questions import Answer
from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.shop import shop
from orthotome.store.tables import TroubleCaseRow


def cases(session: Session, complaint: str | None = None) -> Sequence[TroubleCaseRow]:
    """Those of the shop that count, newest first; of one complaint where it is named."""
    query = select(TroubleCaseRow).where(col(TroubleCaseRow.struck_out).is_(False))
    if complaint is not None:
        query = query.where(TroubleCaseRow.complaint == complaint)
    return session.exec(query.order_by(col(TroubleCaseRow.id).desc())).all()


def causes_of(session: Session, complaint: str) -> list[Cause]:
    """What such a complaint was here, case by case."""
    kept = {row.id: row.cause for row in cases(session, complaint)}
    return [c for cause in kept.values() for c in CAUSES if c == cause]


def facts_in(row: TroubleCaseRow) -> dict[str, Answer]:
    """What was known of it."""
    found: dict[str, Answer] = json.loads(row.facts)
    return found


def keep(  # noqa: PLR0917 (a case is all of these)
    session: Session, table_id: int, complaint: str, facts: Mapping[str, Answer], cause: str, note: str
) -> TroubleCaseRow:
    """Keep a case. Raises TradeError for a complaint, a fact or a cause that is none."""
    check(complaint, facts)
    if cause not in CAUSES:
        raise TradeError("cause", f"“{cause}” is none that is known.")
    shop.table(session, table_id)
    row = TroubleCaseRow(
        table_id=table_id,
        complaint=complaint,
        facts=json.dumps(dict(facts)),
        cause=cause,
        note=note,
        solved_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def strike(session: Session, case_id: int, *, out: bool) -> None:
    """Strike a case out, or put it back. Raises NotFound."""
    row = session.get(TroubleCaseRow, case_id)
    if row is None:
        raise NotFound("There is no such case.", "case_id")
    changes.note(session, "struck out" if out else "put back", "trouble_case", case_id)
    row.struck_out = out
    session.add(row)
