"""A trouble as it stands: what was answered, what the records know besides, and what it may be by both."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlmodel import Session

from orthotome.core.trouble.causes import Cause
from orthotome.core.trouble.complaints import COMPLAINTS, Complaint
from orthotome.core.trouble.diagnosis import Diagnosis, check, diagnose
from orthotome.core.trouble.odds import odds_of
from orthotome.core.trouble.questions import Answer
from orthotome.desk.trouble.from_records import KnownFact, known_facts
from orthotome.store.shop import shop
from orthotome.store.trouble import cases


@dataclass(frozen=True)
class Diagnosed:
    """``records`` are the facts that nobody had to be asked; ``solved`` what such a complaint was here, case by case."""

    complaint: Complaint
    answered: Mapping[str, Answer]
    records: Sequence[KnownFact]
    solved: Sequence[Cause]
    found: Diagnosis


def diagnosed(
    session: Session, table_id: int, complaint: str, answered: Mapping[str, Answer], *, of_cut: bool
) -> Diagnosed:
    """What it may be, and what to ask next. What was answered counts before the records; ``of_cut``: it was seen on the last
    cut of the Bench. Raises TradeError, and NotFound for the table."""
    check(complaint, answered)
    shop.table(session, table_id)
    records = [
        k for k in known_facts(session, table_id, complaint, of_cut=of_cut) if k.code not in answered
    ]
    facts = {**{k.code: k.answer for k in records}, **answered}
    known = next(c for c in COMPLAINTS if c == complaint)
    solved = cases.causes_of(session, known)
    return Diagnosed(known, answered, records, solved, diagnose(known, facts, odds_of(known, solved)))
