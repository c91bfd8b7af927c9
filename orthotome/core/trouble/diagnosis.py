"""The chances of the causes from what is known, and the question that separates them best for what it costs.

Answers are taken as independent once the cause is known: the chance of a cause is its weight under the complaint times how
likely it makes each fact. "Not known" says nothing, and is not asked again. The next question is the one that is expected to
take away most doubt (entropy, in bits) for its cost.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from orthotome.core.errors import TradeError
from orthotome.core.trouble import causes, complaints
from orthotome.core.trouble.causes import CAUSES, HAZARDS, Cause
from orthotome.core.trouble.complaints import COMPLAINTS, Complaint
from orthotome.core.trouble.questions import COST, QUESTIONS, Answer

NOT_KNOWN = "not_known"
_SHOWN = 0.01  # a smaller chance is not listed
_MOST_SHOWN = 8
_SURE = 0.9  # of the likeliest cause: then it is proved on the machine, not asked about further
_WORTH_BITS = 0.025  # that a question must be expected to tell
_NAMED = 0.05  # of the chances: causes over it have their cautions said


@dataclass(frozen=True)
class Suspected:
    """One cause with its chance."""

    cause: Cause
    chance: float


@dataclass(frozen=True)
class Diagnosis:
    """The causes, likeliest first, and the question to ask next; None where nothing more would help."""

    causes: tuple[Suspected, ...]
    ask: str | None
    cautions: tuple[str, ...]


Odds = Mapping[Cause, float]
"""How much more often a cause was met in this shop than the trade's weight says; 1 where nothing was kept."""


def diagnose(complaint: str, facts: Mapping[str, Answer], odds: Odds | None = None) -> Diagnosis:
    """The chances, and what to ask. Raises TradeError, naming the field, for a complaint, fact or answer that is none."""
    check(complaint, facts)
    chances = chances_of(complaint, facts, odds)
    order = sorted(chances, key=lambda c: -chances[c])
    shown = [Suspected(c, chances[c]) for c in order if chances[c] >= _SHOWN][:_MOST_SHOWN]
    return Diagnosis(tuple(shown), next_question(chances, facts), _cautions(shown))


def check(complaint: str, facts: Mapping[str, Answer]) -> None:
    """Raise TradeError for a complaint, a fact or an answer that nobody knows."""
    if complaint not in COMPLAINTS:
        raise TradeError(
            "complaint", f"“{complaint}” is none that is known. Use one of: {', '.join(COMPLAINTS)}."
        )
    for code, answer in facts.items():
        question = QUESTIONS.get(code)
        if question is None:
            raise TradeError(
                "facts", f"“{code}” is no fact that is known. Use one of: {', '.join(QUESTIONS)}."
            )
        # True == 1: a number is no yes.
        if answer != NOT_KNOWN and not any(
            a == answer and type(a) is type(answer) for a in question.answers
        ):
            said = ", ".join(
                "true or false" if a is True else str(a) for a in question.answers if a is not False
            )
            raise TradeError(
                f"facts.{code}", f"“{answer}” is no answer to it. Use {said}, or {NOT_KNOWN}."
            )


def chances_of(
    complaint: str, facts: Mapping[str, Answer], odds: Odds | None = None
) -> dict[Cause, float]:
    """The chance of every cause; they sum to 1."""
    before = complaints.shares(_complaint(complaint))
    logs: dict[Cause, float] = {}
    for cause in CAUSES:
        log = math.log(before[cause] * (odds or {}).get(cause, 1.0))
        for code, answer in facts.items():
            if answer != NOT_KNOWN:
                log += math.log(_likely(code, cause)[answer])
        logs[cause] = log
    top = max(logs.values())
    plain = {cause: math.exp(log - top) for cause, log in logs.items()}
    total = sum(plain.values())
    return {cause: p / total for cause, p in plain.items()}


def _complaint(code: str) -> Complaint:
    return next(c for c in COMPLAINTS if c == code)


def next_question(chances: Mapping[Cause, float], facts: Mapping[str, Answer]) -> str | None:
    """The question that takes away most doubt for what it costs; None where the cause is clear or nothing tells more."""
    if max(chances.values()) >= _SURE:
        return None
    told = told_bits(chances)
    worth = {
        code: told[code] / COST[question.effort]
        for code, question in QUESTIONS.items()
        if code not in facts and told[code] >= _WORTH_BITS
    }
    return max(worth, key=lambda code: worth[code], default=None)


def told_bits(chances: Mapping[Cause, float]) -> dict[str, float]:
    """The doubt that the answer to each question is expected to take away: entropy now, less the mean of it after each."""
    from scipy.special import entr  # noqa: PLC0415 (start-up time)

    shares = np.array([chances.get(cause, 0.0) for cause in CAUSES])
    shares = shares / shares.sum()
    joint = _likelihoods() * shares
    # Entropy after, weighed by how often each answer comes, is that of both together less that of the answers.
    after = entr(joint).sum(axis=(1, 2)) - entr(joint.sum(axis=2)).sum(axis=1)
    told = (entr(shares).sum() - after) / math.log(2)
    return dict(zip(QUESTIONS, told.tolist(), strict=True))


@cache
def _likelihoods() -> NDArray[np.float64]:
    """How likely each answer to each question is under each cause, shape (questions, answers, causes); a question with
    fewer answers has noughts for the rest."""
    most = max(len(q.answers) for q in QUESTIONS.values())
    found = np.zeros((len(QUESTIONS), most, len(CAUSES)))
    for i, code in enumerate(QUESTIONS):
        for k, cause in enumerate(CAUSES):
            likely = tuple(_likely(code, cause).values())
            found[i, : len(likely), k] = likely
    return found


@cache
def _likely(code: str, cause: Cause) -> Mapping[Answer, float]:
    """How likely each answer is if that is the cause: worked out once."""
    return QUESTIONS[code].chances(cause)


def _cautions(shown: list[Suspected]) -> tuple[str, ...]:
    """What is dangerous about proving or curing the living causes, each said once."""
    found = {h for s in shown if s.chance >= _NAMED for h in causes.FACTS[s.cause].hazards}
    return tuple(text for hazard, text in HAZARDS.items() if hazard in found)
