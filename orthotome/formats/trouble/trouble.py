"""``orthotome.trouble`` and ``orthotome.trouble_report``, version 1: a complaint with what is known, and what it may be."""

from typing import Annotated, Literal

from pydantic import Field, StrictBool, StrictStr

from orthotome.core.trouble import causes
from orthotome.core.trouble.causes import Cause
from orthotome.core.trouble.diagnosis import Diagnosis, diagnose
from orthotome.core.trouble.questions import QUESTIONS
from orthotome.formats.reading import FileModel, WrittenModel, read_json

MOST_FACTS = 200

Fact = StrictBool | StrictStr


class TroubleFile(FileModel):
    """A complaint and what is known; ``not_known`` is a fact too."""

    format: Literal["orthotome.trouble"]
    version: Literal[1]
    complaint: Annotated[str, Field(max_length=80)]
    facts: Annotated[dict[str, Fact], Field(default_factory=dict, max_length=MOST_FACTS)]


class CauseReport(WrittenModel):
    """One cause with its chance among all causes."""

    code: Cause
    chance: float
    why: str
    check: str
    fix: str


class AskReport(WrittenModel):
    """The question that separates the causes best for what it costs to answer."""

    code: str
    question: str
    answers: tuple[Fact, ...]


class TroubleReport(WrittenModel):
    """What it may be, likeliest first, and what to ask next; null where nothing more would help."""

    format: Literal["orthotome.trouble_report"] = "orthotome.trouble_report"
    version: Literal[1] = 1
    causes: tuple[CauseReport, ...]
    ask: AskReport | None
    cautions: tuple[str, ...]


def trouble_text(text: str | bytes) -> TroubleReport:
    """The answer to a trouble file. Raises FileError, or TradeError naming what nobody knows."""
    file = read_json(TroubleFile, text)
    return report_of(diagnose(file.complaint, file.facts))


def report_of(found: Diagnosis) -> TroubleReport:
    """A diagnosis as a file."""
    reported = []
    for suspected in found.causes:
        facts = causes.FACTS[suspected.cause]
        reported.append(
            CauseReport(
                code=suspected.cause,
                chance=round(suspected.chance, 3),
                why=facts.why,
                check=facts.check,
                fix=facts.fix,
            )
        )
    return TroubleReport(causes=tuple(reported), ask=ask_of(found.ask), cautions=found.cautions)


def ask_of(code: str | None) -> AskReport | None:
    """A question by its code."""
    if code is None:
        return None
    question = QUESTIONS[code]
    return AskReport(code=code, question=question.words, answers=question.answers)
