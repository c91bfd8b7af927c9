"""Practice: find a hidden fault, and be shown the truth and a master's way. None of it is of a real table."""

from datetime import datetime
from typing import Annotated

from pydantic import Field

from orthotome.api.depends import Reading, Store
from orthotome.api.routing import room
from orthotome.api.wire import Wire
from orthotome.core.errors import TradeError
from orthotome.core.practice.fault_finding import (
    EXERCISES,
    FIRST_ACTS,
    Debrief,
    FirstAct,
    HiddenCase,
    Step,
    debrief,
    exercise_case,
    random_case,
    way_of,
)
from orthotome.core.trouble import causes, complaints
from orthotome.core.trouble.causes import CAUSES, HAZARDS, Cause
from orthotome.core.trouble.questions import COST, QUESTIONS, Effort, answer_words
from orthotome.formats.reading import FileModel
from orthotome.store.practice import taken

router = room("practice")

Case = Annotated[str, Field(min_length=1, max_length=20, description="an exercise's name, or a number")]
Asked = Annotated[
    tuple[Annotated[str, Field(max_length=60)], ...], Field(max_length=len(QUESTIONS), strict=False)
]


class ExerciseAnswer(Wire):
    """A graded exercise, and whether who asks has passed it."""

    code: str
    title: str
    words: str
    passed: bool
    taken: int


class TakenAnswer(Wire):
    """An exercise or case that was taken."""

    case: str
    title: str
    passed: bool
    spent: float
    taken_at: datetime


class PracticeAnswer(Wire):
    """All exercises, and what was taken: the sheet of whoever is signed on."""

    exercises: list[ExerciseAnswer]
    taken: list[TakenAnswer]
    person: str


class PracticeRequest(FileModel):
    """A case, and what was asked of it so far."""

    case: Case
    asked: Asked = ()


class NamedRequest(PracticeRequest):
    """The cause that is named, and what is done first."""

    cause: Annotated[str, Field(max_length=60)]
    act: Annotated[str, Field(max_length=20)]


class StepAnswer(Wire):
    """One question, what was found, and what it told."""

    code: str
    question: str
    answer: str
    cost: float
    chance_after: float | None  # of the hidden cause; null until it is named
    worth: float | None  # of what the best question would have told; null until then


class OpenQuestion(Wire):
    """A question that can be asked, and what it costs in looks."""

    code: str
    question: str
    effort: Effort
    cost: float


class NameableCause(Wire):
    """A cause that can be named."""

    code: Cause
    title: str


class ActAnswer(Wire):
    """Something that can be done first."""

    code: FirstAct
    words: str


class CaseState(Wire):
    """A case as far as it is known."""

    case: str
    title: str
    words: str
    steps: list[StepAnswer]
    spent: float
    questions: list[OpenQuestion]
    causes: list[NameableCause]
    acts: list[ActAnswer]


class DebriefAnswer(Wire):
    """The hidden truth, and the learner's way beside a master's."""

    sentence: str
    passed: bool
    cause: str
    why: str
    check: str
    fix: str
    cautions: list[str]
    right_act: str
    teaches: str
    spent: float
    masters_spent: float
    mine: list[StepAnswer]
    masters: list[StepAnswer]


def _of(case: str) -> HiddenCase:
    return random_case(int(case)) if case.isdecimal() else exercise_case(case)


def _title(case: HiddenCase) -> str:
    return case.exercise.title if case.exercise else f"Case {case.seed}"


@router.get("/practice")
def get_practice(session: Reading, store: Store) -> PracticeAnswer:
    """The exercises, and the sheet of whoever is signed on."""
    rows = taken.taken_by(session, store.by)
    return PracticeAnswer(
        exercises=[
            ExerciseAnswer(
                code=e.code,
                title=e.title,
                words=complaints.FACTS[e.complaint].words,
                passed=any(r.passed for r in rows if r.case == e.code),
                taken=sum(r.case == e.code for r in rows),
            )
            for e in EXERCISES
        ],
        taken=[
            TakenAnswer(
                case=r.case,
                title=_title(_of(r.case)),
                passed=r.passed,
                spent=r.spent,
                taken_at=r.taken_at,
            )
            for r in rows
        ],
        person=store.by,
    )


@router.post("/practice/case")
def ask_case(request: PracticeRequest) -> CaseState:
    """A case as far as it was asked. Saves nothing, and tells nothing that was not asked."""
    case = _of(request.case)
    steps = way_of(case, _each_once(request.asked))
    named = complaints.FACTS[case.complaint].causes
    return CaseState(
        case=request.case,
        title=_title(case),
        words=complaints.FACTS[case.complaint].words,
        steps=[_step(s, truth=False) for s in steps],
        spent=sum(s.cost for s in steps),
        questions=[
            OpenQuestion(code=code, question=q.words, effort=q.effort, cost=COST[q.effort])
            for code, q in QUESTIONS.items()
            if code not in request.asked
        ],
        # Those of the complaint in the order of the alphabet of causes: their weights would tell.
        causes=[NameableCause(code=c, title=causes.FACTS[c].title) for c in CAUSES if c in named],
        acts=[ActAnswer(code=code, words=words) for code, words in FIRST_ACTS.items()],
    )


@router.post("/practice/named", status_code=201)
def name_cause(request: NamedRequest, store: Store) -> DebriefAnswer:
    """Name the cause: the truth is shown, and how it went is kept on the sheet of whoever is signed on."""
    case = _of(request.case)
    asked = _each_once(request.asked)
    how = debrief(case, asked, request.cause, request.act)
    with store.write() as session:
        taken.keep(session, request.case, asked, (request.cause, request.act), how)
    return _debrief(case, how)


def _each_once(asked: tuple[str, ...]) -> tuple[str, ...]:
    if len(set(asked)) != len(asked):
        raise TradeError("asked", "holds a question twice: each is asked once.")
    return asked


def _debrief(case: HiddenCase, how: Debrief) -> DebriefAnswer:
    facts = causes.FACTS[case.cause]
    return DebriefAnswer(
        sentence=how.sentence,
        passed=how.passed,
        cause=facts.title,
        why=facts.why,
        check=facts.check,
        fix=facts.fix,
        cautions=[HAZARDS[h] for h in facts.hazards],
        right_act=FIRST_ACTS[case.right_act],
        teaches=case.exercise.teaches if case.exercise else "",
        spent=how.spent,
        masters_spent=how.masters_spent,
        mine=[_step(s, truth=True) for s in how.mine],
        masters=[_step(s, truth=True) for s in how.masters],
    )


def _step(step: Step, *, truth: bool) -> StepAnswer:
    return StepAnswer(
        code=step.code,
        question=QUESTIONS[step.code].words,
        answer=answer_words(step.answer),
        cost=step.cost,
        chance_after=step.chance_after if truth else None,
        worth=step.worth if truth else None,
    )
