"""Who changed what: noted beside the change, in its transaction.

The person comes with the session (``Database.write``), so that no operation has to be told.
"""

import json
from collections.abc import Mapping, Sequence
from typing import Any

from sqlmodel import Session, col, select

from orthotome.store.tables import ChangeRow


def person(session: Session) -> str:
    """Who is at it; empty where nobody said."""
    return str(session.info.get("by", ""))


def note(
    session: Session, act: str, of: str, of_id: int | None, before: Mapping[str, Any] | None = None
) -> None:
    """Note that ``act`` was done to the record ``of_id`` of that kind; ``before`` is what was there."""
    kept = json.dumps(before or {}, default=str, ensure_ascii=False)
    session.add(ChangeRow(by=person(session), act=act, of=of, of_id=of_id or 0, before=kept))


def last_by(session: Session, of: str, of_id: int) -> str:
    """Who changed a record last; empty where nobody said, or nobody did."""
    query = select(ChangeRow.by).where(ChangeRow.of == of, ChangeRow.of_id == of_id)
    return session.exec(query.order_by(col(ChangeRow.id).desc())).first() or ""


def of(session: Session, kind: str, of_id: int) -> Sequence[ChangeRow]:
    """Every change of a record, newest first."""
    query = select(ChangeRow).where(ChangeRow.of == kind, ChangeRow.of_id == of_id)
    return session.exec(query.order_by(col(ChangeRow.id).desc())).all()


def before_of(change: ChangeRow) -> dict[str, Any]:
    """What stood there before a change."""
    found: dict[str, Any] = json.loads(change.before)
    return found
