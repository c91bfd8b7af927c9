"""Trouble: from a complaint to its cause, one question at a time; and what it was, kept."""

import json
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response
from pydantic import BaseModel, Field
from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.machine.health_routes import health_lines
from orthotome.api.trouble.known import changed_last, known_facts
from orthotome.api.wire import Id
from orthotome.core.quantities import length, seconds, speed, thickness, volts
from orthotome.core.stock.metals import metal_named
from orthotome.core.trouble import causes, complaints
from orthotome.core.trouble.causes import HAZARDS, Cause
from orthotome.core.trouble.complaints import COMPLAINTS, GROUPS, Complaint
from orthotome.core.trouble.diagnosis import NOT_KNOWN, check, diagnose
from orthotome.core.trouble.odds import odds_of, shop_says
from orthotome.core.trouble.questions import QUESTIONS, Answer, Effort, answer_words
from orthotome.formats.reading import FileModel, read_json
from orthotome.formats.trouble.help_pack import HelpPack, write_help_pack
from orthotome.formats.trouble.trouble import MOST_FACTS, Fact
from orthotome.store.clock import now
from orthotome.store.shop import shop
from orthotome.store.tables import TroubleCaseRow
from orthotome.store.torch import fittings
from orthotome.store.trouble import cases

router = APIRouter(tags=["trouble"])


class ComplaintAnswer(BaseModel):
    """What an operator may come with."""

    code: Complaint
    words: str


class ComplaintGroup(BaseModel):
    """Complaints that belong together."""

    words: str
    complaints: list[ComplaintAnswer]


class TroubleRequest(FileModel):
    """A complaint, and what was answered so far."""

    complaint: Annotated[str, Field(max_length=80)]
    facts: Annotated[dict[str, Fact], Field(max_length=MOST_FACTS, default_factory=dict)]


class SolvedRequest(TroubleRequest):
    """What it was."""

    cause: Annotated[str, Field(max_length=80)]
    note: Annotated[str, Field(max_length=400)] = ""


class CauseAnswer(BaseModel):
    """A cause with its chance, how to prove and cure it, and the page that does it."""

    code: Cause
    title: str
    chance: float
    why: str
    check: str
    fix: str
    path: str
    cautions: list[str]


class ChoiceAnswer(BaseModel):
    """One answer to a question."""

    value: Fact
    words: str


class AskAnswer(BaseModel):
    """The question to ask next, and what answering it takes."""

    code: str
    question: str
    effort: Effort
    choices: list[ChoiceAnswer]


class SaidFact(BaseModel):
    """Something that is known: told by the operator, or from the records."""

    code: str
    question: str
    answer: str
    source: str  # empty where the operator told it


class TroubleAnswer(BaseModel):
    """What it may be, and what to ask next."""

    words: str
    causes: list[CauseAnswer]
    ask: AskAnswer | None
    cautions: list[str]
    told: list[SaidFact]
    known: list[SaidFact]
    here_before: str
    changed_last: str


class CaseAnswer(BaseModel):
    """A trouble that was solved."""

    id: int
    words: str
    cause: str
    note: str
    solved_at: datetime
    solved_by: str


@router.get("/complaints")
def get_complaints() -> list[ComplaintGroup]:
    """All that an operator may come with, in groups."""
    return [
        ComplaintGroup(
            words=words,
            complaints=[
                ComplaintAnswer(code=code, words=complaints.FACTS[code].words)
                for code in COMPLAINTS
                if complaints.FACTS[code].group == group
            ],
        )
        for group, words in GROUPS.items()
    ]


@router.post("/tables/{table_id}/trouble")
def find_cause(table_id: Id, request: TroubleRequest, session: Reading) -> TroubleAnswer:
    """What it may be by what was answered and what the records know, and what to ask next. Saves nothing."""
    check(request.complaint, request.facts)
    shop.table(session, table_id)
    known = [k for k in known_facts(session, table_id) if k.code not in request.facts]
    facts: dict[str, Answer] = {**{k.code: k.answer for k in known}, **request.facts}
    complaint = next(c for c in COMPLAINTS if c == request.complaint)
    solved = cases.causes_of(session, complaint)
    found = diagnose(complaint, facts, odds_of(complaint, solved))
    question = QUESTIONS[found.ask] if found.ask else None
    return TroubleAnswer(
        words=complaints.FACTS[complaint].words,
        causes=[_cause(s.cause, s.chance) for s in found.causes],
        ask=question
        and AskAnswer(
            code=found.ask or "",
            question=question.words,
            effort=question.effort,
            choices=[ChoiceAnswer(value=a, words=answer_words(a)) for a in question.answers],
        ),
        cautions=list(found.cautions),
        told=[_said(code, answer) for code, answer in request.facts.items()],
        known=[_said(k.code, k.answer, k.source) for k in known],
        here_before=shop_says(solved),
        changed_last=changed_last(session, table_id),
    )


@router.get("/tables/{table_id}/trouble.pdf")
def get_help_pack(
    table_id: Id,
    session: Reading,
    complaint: Annotated[str, Query(max_length=80)],
    facts: Annotated[str, Query(max_length=8000, description="JSON of what was answered")] = "{}",
) -> Response:
    """All of it on one page, for a supplier or a friend."""
    asked = read_json(TroubleRequest, f'{{"complaint": {json.dumps(complaint)}, "facts": {facts}}}')
    found = find_cause(table_id, asked, session)
    rows = cases.cases(session, complaint)
    pack = HelpPack(
        table=shop.table(session, table_id).name,
        at=now(),
        complaint=found.words,
        setting=_setting(session, table_id),
        told=[(s.question, s.answer) for s in found.told],
        known=[(s.question, f"{s.answer} ({s.source})") for s in found.known],
        causes=[(c.title, c.chance) for c in found.causes],
        health=[(f"{h.label}:", h.known.figure) for h in health_lines(session, table_id) if h.known],
        solved=[
            f"{c.solved_at:%Y-%m-%d}: {c.cause}{f', {c.note}' if c.note else ''}"
            for c in map(_case, rows)
        ],
    )
    return Response(write_help_pack(pack), media_type="application/pdf")


def _setting(session: Session, table_id: int) -> list[tuple[str, str]]:
    """What is on the bench and in the torch."""
    fitted = fittings.fitted(session, table_id)
    said = [("Parts:", f"{fitted.parts.name}, {fitted.starts} starts on the electrode")]
    trial = shop.bench_trial(session, table_id)
    if trial is not None:
        plate = f"{thickness(trial.thickness_mm, trial.metal)} {metal_named(trial.metal).label}"
        seen = "volts not known" if trial.arc_voltage_v is None else volts(trial.arc_voltage_v)
        numbers = [speed(trial.speed_mm_min), f"cut height {length(trial.cut_height_mm)}", seen]
        numbers += [f"pierce at {length(trial.pierce_height_mm)} for {seconds(trial.pierce_delay_s)}"]
        said.append(("Begun with:", f"{plate}: {', '.join(numbers)}"))
    return said


def _cause(cause: Cause, chance: float) -> CauseAnswer:
    facts = causes.FACTS[cause]
    return CauseAnswer(
        code=cause,
        title=facts.title,
        chance=chance,
        why=facts.why,
        check=facts.check,
        fix=facts.fix,
        path=facts.path,
        cautions=[HAZARDS[h] for h in facts.hazards],
    )


def _said(code: str, answer: Answer, source: str = "") -> SaidFact:
    words = "I don’t know" if answer == NOT_KNOWN else answer_words(answer)
    return SaidFact(code=code, question=QUESTIONS[code].words, answer=words, source=source)


@router.get("/trouble-cases")
def get_cases(session: Reading, table_id: Annotated[Id | None, Query()] = None) -> list[CaseAnswer]:
    """Troubles that were solved in this shop, newest first; of one table where it is named."""
    rows = cases.cases(session)
    return [_case(row) for row in rows if table_id in (None, row.table_id)]


@router.post("/tables/{table_id}/trouble-cases", status_code=201)
def keep_case(table_id: Id, request: SolvedRequest, store: Store) -> CaseAnswer:
    """Keep what it was: it teaches this shop's odds."""
    with store.write() as session:
        facts = _all_facts(session, table_id, request)
        return _case(
            cases.keep(session, table_id, request.complaint, facts, request.cause, request.note)
        )


def _all_facts(session: Session, table_id: int, request: TroubleRequest) -> dict[str, Answer]:
    return {**{k.code: k.answer for k in known_facts(session, table_id)}, **request.facts}


@router.put("/trouble-cases/{case_id}/struck", status_code=204)
def strike_case(case_id: Id, store: Store, out: Annotated[bool, Query()] = True) -> None:
    """Strike a case out, or put it back."""
    with store.write() as session:
        cases.strike(session, case_id, out=out)


def _case(row: TroubleCaseRow) -> CaseAnswer:
    complaint = next(c for c in COMPLAINTS if c == row.complaint)
    cause = next(c for c in causes.CAUSES if c == row.cause)
    return CaseAnswer(
        id=row.id or 0,
        words=complaints.FACTS[complaint].words,
        cause=causes.FACTS[cause].title,
        note=row.note,
        solved_at=row.solved_at,
        solved_by=row.solved_by,
    )
