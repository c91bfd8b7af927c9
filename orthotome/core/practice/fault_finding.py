"""Exercises in finding a fault: a hidden cause, answers to whatever is asked, and a debrief beside a master's way.

A case is made by its number alone, so that two people can take the same. In a graded exercise every answer is the likeliest one of
its cause; in a random case answers are drawn, and may mislead as the shop does.
"""

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from orthotome.core.errors import TradeError
from orthotome.core.trouble import causes, complaints
from orthotome.core.trouble.causes import CAUSES, Cause
from orthotome.core.trouble.complaints import COMPLAINTS, Complaint
from orthotome.core.trouble.diagnosis import chances_of, diagnose, told_bits
from orthotome.core.trouble.questions import COST, QUESTIONS, Answer

FirstAct = Literal["isolate", "prove", "cure"]
FIRST_ACTS: dict[FirstAct, str] = {
    "isolate": "Stop, isolate and lock out; then look",
    "prove": "Prove it at the machine",
    "cure": "Put it right at once",
}
MOST_SEED = 999_999
_ENOUGH = 1.5  # times what a master's way takes: within it the exercise is passed; assumption


@dataclass(frozen=True)
class Exercise:
    """A graded exercise, with what it teaches."""

    code: str
    title: str
    complaint: Complaint
    cause: Cause
    teaches: str


EXERCISES: tuple[Exercise, ...] = (
    Exercise("speed", "A bead that will not brush off", "dross_needs_grinding", "too_fast", "Dross and lag lines tell speed before any gauge does."),
    Exercise("height", "It dives as soon as it starts", "dives_at_start", "set_point_wrong", "A set-point is the volts of one height with one set of parts."),
    Exercise("lean", "Bad one way, good the other", "bevel_one_direction", "jet_lean", "A lean stays with the direction; speed cannot cure it."),
    Exercise("swirl", "The wrong side is square", "bevel_one_side", "wrong_direction", "The good side of the swirl belongs to the part."),
    Exercise("worn", "Spatter on the top edge", "top_spatter", "worn_nozzle", "A look at the nozzle is quicker than three test cuts."),
    Exercise("signal", "It flies up at once", "flies_up_at_start", "signal_divided_twice", "Read the volts on the screen before touching anything."),
    Exercise("pierce", "The start stays uncut", "not_through_at_start", "pierce_delay_short", "Moving before the jet is through is no lack of power."),
    Exercise("hole", "The slug will not fall", "slug_stays_in_hole", "overrun", "Uncut right through is an end too soon; uncut below is lag."),
    Exercise("program", "Holes fine, outsides bad", "holes_fine_outside_bad", "program_for_other_parts", "Program, parts and setting must agree before anything else is blamed."),
    Exercise("gantry", "Rectangles become lozenges", "part_out_of_square", "gantry_skew", "Two diagonals tell a gantry; a calliper on the sides does not."),
    Exercise("air", "Parts die in a day", "parts_die_early", "wet_air", "Wet air looks like bad parts until somebody holds a mirror in it."),
    Exercise("creep", "It creeps into the plate, week by week", "dives_along_cut", "set_point_not_raised", "Volts rise as the electrode wears: the set-point must follow."),
    Exercise("dry-run", "It waits for ever", "waits_after_touch", "arc_signal_missing", "A dry run with height control on waits for an arc that cannot come."),
    Exercise("trap", "Thousands of volts on the screen", "readout_absurd", "signal_not_divided", "Raw arc voltage where it does not belong: the right act is to stop and isolate."),
)  # fmt: skip


@dataclass(frozen=True)
class HiddenCase:
    """A case with what is hidden in it. ``exercise`` is None in a random one."""

    seed: int
    complaint: Complaint
    cause: Cause
    exercise: Exercise | None

    def answer(self, code: str) -> Answer:
        """What is found when that is looked at. Raises TradeError for a question that is none."""
        question = QUESTIONS.get(code)
        if question is None:
            raise TradeError("asked", f"“{code}” is no question that is known.")
        shares = question.chances(self.cause)
        if self.exercise is not None:
            return max(shares, key=lambda a: shares[a])
        drawn = random.Random(f"{self.seed} {code}")
        return drawn.choices(list(shares), list(shares.values()))[0]

    @property
    def right_act(self) -> FirstAct:
        """What is done first: isolate where proving it already puts hands in danger, else prove it."""
        return "isolate" if self.cause in causes.ISOLATE_FIRST else "prove"


def exercise_case(code: str) -> HiddenCase:
    """A graded exercise. Raises TradeError where there is none of that name."""
    for n, exercise in enumerate(EXERCISES):
        if exercise.code == code:
            return HiddenCase(n, exercise.complaint, exercise.cause, exercise)
    raise TradeError("case", f"there is no exercise “{code}”.")


def random_case(seed: int) -> HiddenCase:
    """A case by its number: the same for everybody. Raises TradeError for a number out of range."""
    if not 0 <= seed <= MOST_SEED:
        raise TradeError("case", f"a case has a number from 0 to {MOST_SEED}.")
    drawn = random.Random(f"case {seed}")
    complaint = drawn.choice(COMPLAINTS)
    named = complaints.FACTS[complaint].causes
    return HiddenCase(seed, complaint, drawn.choices(list(named), list(named.values()))[0], None)


@dataclass(frozen=True)
class Step:
    """One question of somebody's way: what was found, the chance of the true cause after it, and how much it told of what the
    best question would have told (1 is the best)."""

    code: str
    answer: Answer
    cost: float
    chance_after: float
    worth: float


def way_of(case: HiddenCase, asked: Sequence[str]) -> list[Step]:
    """What these questions found, one after the other. Raises TradeError for one that is none."""
    facts: dict[str, Answer] = {}
    steps = []
    for code in asked:
        answer = case.answer(code)
        before = chances_of(case.complaint, facts)
        worth = _worth(before, facts, code)
        facts[code] = answer
        after = chances_of(case.complaint, facts)[case.cause]
        steps.append(Step(code, answer, COST[QUESTIONS[code].effort], after, worth))
    return steps


def _worth(chances: Mapping[Cause, float], facts: Mapping[str, Answer], code: str) -> float:
    """How much a question tells for its cost, of what the best one would."""
    told = told_bits(chances)
    each = {c: told[c] / COST[q.effort] for c, q in QUESTIONS.items() if c not in facts}
    best = max(each.values(), default=0.0)
    return each.get(code, 0.0) / best if best > 0 else 0.0


def masters_way(case: HiddenCase) -> list[Step]:
    """The questions that Trouble itself would ask of this case."""
    facts: dict[str, Answer] = {}
    while (ask := diagnose(case.complaint, facts).ask) is not None:
        facts[ask] = case.answer(ask)
    return way_of(case, list(facts))


@dataclass(frozen=True)
class Debrief:
    """How it went, with the hidden truth."""

    right_cause: bool
    right_act: bool
    passed: bool
    spent: float
    masters_spent: float
    mine: tuple[Step, ...]
    masters: tuple[Step, ...]
    sentence: str


def debrief(case: HiddenCase, asked: Sequence[str], named: str, act: str) -> Debrief:
    """The hidden truth, and the learner's way beside a master's. Raises TradeError for a cause or an act that is none."""
    if named not in CAUSES:
        raise TradeError("cause", f"“{named}” is none that is known.")
    if act not in FIRST_ACTS:
        raise TradeError("act", f"“{act}” is none of {', '.join(FIRST_ACTS)}.")
    mine, masters = way_of(case, asked), masters_way(case)
    spent, least = sum(s.cost for s in mine), sum(s.cost for s in masters)
    right_cause, right_act = named == case.cause, act == case.right_act
    soon = spent <= max(_ENOUGH * least, least + COST["cut"])
    return Debrief(
        right_cause,
        right_act,
        right_cause and right_act and soon,
        spent,
        least,
        tuple(mine),
        tuple(masters),
        _sentence(case, right_cause=right_cause, right_act=right_act, soon=soon),
    )


def _sentence(case: HiddenCase, *, right_cause: bool, right_act: bool, soon: bool) -> str:
    title = causes.FACTS[case.cause].title
    if not right_cause:
        return f"It was another: {title[0].lower()}{title[1:]}."
    if not right_act and case.right_act == "isolate":
        return "The cause is right, the first act is not: hands, cabinet or drives come into it, so stop and isolate first."
    if not right_act:
        return "The cause is right, the first act is not: prove it at the machine before anything is changed."
    if not soon:
        return "Right, but dearly: look at which questions told least for what they cost."
    return "Right, and no dearer than it had to be."
