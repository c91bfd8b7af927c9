"""Trouble: from a complaint to its cause, one question at a time; and what it was, kept."""

from datetime import datetime
from typing import Annotated

from fastapi import Query
from pydantic import Field
from sqlmodel import Session

from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.routing import room
from orthotome.api.wire import Id, Wire
from orthotome.core.quantities import plate
from orthotome.core.trouble import causes, complaints
from orthotome.core.trouble.causes import HAZARDS, Cause
from orthotome.core.trouble.complaints import COMPLAINTS, GROUPS, Complaint
from orthotome.core.trouble.odds import shop_says
from orthotome.core.trouble.questions import QUESTIONS, Answer, Effort, answer_words
from orthotome.desk.trouble.diagnosed import diagnosed
from orthotome.desk.trouble.figures import CauseFigures
from orthotome.desk.trouble.from_records import changed_last, known_facts, last_cut
from orthotome.formats.reading import FileModel
from orthotome.formats.trouble.trouble import MOST_FACTS, Fact
from orthotome.store.shop import shop
from orthotome.store.tables import TroubleCaseRow
from orthotome.store.trouble import cases

router = room("trouble")


class ComplaintAnswer(Wire):
    """What an operator may come with."""

    code: Complaint
    words: str


class ComplaintGroup(Wire):
    """Complaints that belong together."""

    words: str
    complaints: list[ComplaintAnswer]


class TroubleRequest(FileModel):
    """A complaint, and what was answered so far."""

    complaint: Annotated[str, Field(max_length=80)]
    facts: Annotated[dict[str, Fact], Field(max_length=MOST_FACTS, default_factory=dict)]
    of_cut: bool = False  # begun from the last cut on the Bench: what it shows is known


class SolvedRequest(TroubleRequest):
    """What it was."""

    cause: Annotated[str, Field(max_length=80)]
    note: Annotated[str, Field(max_length=400)] = ""


class CauseAnswer(Wire):
    """A cause with its chance, how to prove and cure it, and the page that does it."""

    code: Cause
    title: str
    chance: float
    why: str
    check: str
    fix: str
    path: str
    figures: str  # figures that the records have for it; empty where there are none
    cautions: list[str]


class ChoiceAnswer(Wire):
    """One answer to a question."""

    value: Fact
    words: str


class AskAnswer(Wire):
    """The question to ask next, and what answering it takes."""

    code: str
    question: str
    effort: Effort
    choices: list[ChoiceAnswer]


class SaidFact(Wire):
    """Something that is known: told by the operator, or from the records."""

    code: str
    question: str
    answer: str
    source: str  # empty where the operator told it


class TroubleAnswer(Wire):
    """What it may be, and what to ask next."""

    words: str
    causes: list[CauseAnswer]
    ask: AskAnswer | None
    cautions: list[str]
    told: list[SaidFact]
    known: list[SaidFact]
    here_before: str
    changed_last: str


class ShownAnswer(Wire):
    """A complaint that the last cut on the Bench shows, and what shows it."""

    code: Complaint
    words: str
    why: str


class LastCutAnswer(Wire):
    """The last cut on a table's Bench, and the complaints that it shows."""

    number: int
    of: str
    complaints: list[ShownAnswer]


class CaseAnswer(Wire):
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


@router.get("/tables/{table_id}/trouble/last-cut")
def get_last_cut(table_id: Id, session: Reading) -> LastCutAnswer | None:
    """What the last cut on the table's Bench shows, to begin from; null where nothing was cut."""
    shop.table(session, table_id)
    cut = last_cut(session, table_id)
    if cut is None:
        return None
    return LastCutAnswer(
        number=cut.number,
        of=plate(cut.trial.thickness_mm, cut.trial.metal),
        complaints=[
            ShownAnswer(code=s.complaint, words=complaints.FACTS[s.complaint].words, why=s.why)
            for s in cut.seen.complaints
        ],
    )


@router.post("/tables/{table_id}/trouble")
def find_cause(
    table_id: Id, request: TroubleRequest, session: Reading, judge: TheJudge
) -> TroubleAnswer:
    """What it may be by what was answered and what the records know, and what to ask next. Saves nothing."""
    of = diagnosed(session, table_id, request.complaint, request.facts, of_cut=request.of_cut)
    question = QUESTIONS[of.found.ask] if of.found.ask else None
    figures = CauseFigures(session, table_id, judge)
    return TroubleAnswer(
        words=complaints.FACTS[of.complaint].words,
        causes=[_cause(s.cause, s.chance, figures.of(s.cause)) for s in of.found.causes],
        ask=question
        and AskAnswer(
            code=of.found.ask or "",
            question=question.words,
            effort=question.effort,
            choices=[ChoiceAnswer(value=a, words=answer_words(a)) for a in question.answers],
        ),
        cautions=list(of.found.cautions),
        told=[_said(code, answer) for code, answer in request.facts.items()],
        known=[_said(k.code, k.answer, k.source) for k in of.records],
        here_before=shop_says(of.solved),
        changed_last=changed_last(session, table_id),
    )


def _cause(cause: Cause, chance: float, figures: str) -> CauseAnswer:
    facts = causes.FACTS[cause]
    return CauseAnswer(
        code=cause,
        title=facts.title,
        chance=chance,
        why=facts.why,
        check=facts.check,
        fix=facts.fix,
        path=facts.path,
        figures=figures,
        cautions=[HAZARDS[h] for h in facts.hazards],
    )


def _said(code: str, answer: Answer, source: str = "") -> SaidFact:
    return SaidFact(
        code=code, question=QUESTIONS[code].words, answer=answer_words(answer), source=source
    )


@router.get("/trouble-cases")
def get_cases(session: Reading, table_id: Annotated[Id | None, Query()] = None) -> list[CaseAnswer]:
    """Troubles that were solved in this shop, newest first; of one table where it is named."""
    rows = cases.cases(session)
    return [case_answer(row) for row in rows if table_id in (None, row.table_id)]


@router.post("/tables/{table_id}/trouble-cases", status_code=201)
def keep_case(table_id: Id, request: SolvedRequest, store: Store) -> CaseAnswer:
    """Keep what it was: it teaches this shop's odds."""
    with store.write() as session:
        facts = _all_facts(session, table_id, request)
        return case_answer(
            cases.keep(session, table_id, request.complaint, facts, request.cause, request.note)
        )


def _all_facts(session: Session, table_id: int, request: TroubleRequest) -> dict[str, Answer]:
    known = known_facts(session, table_id, request.complaint, of_cut=request.of_cut)
    return {**{k.code: k.answer for k in known}, **request.facts}


@router.put("/trouble-cases/{case_id}/struck", status_code=204)
def strike_case(case_id: Id, store: Store, out: Annotated[bool, Query()] = True) -> None:
    """Strike a case out, or put it back."""
    with store.write() as session:
        cases.strike(session, case_id, out=out)


def case_answer(row: TroubleCaseRow) -> CaseAnswer:
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
