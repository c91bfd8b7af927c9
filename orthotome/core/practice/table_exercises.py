"""Exercises at a simulated table: what is to be cut there, and what is hidden in it.

An exercise is made by its name or its number alone, so that two people can take the same. What the hidden thing does to a cut is
the simulated table's business; here stands what it is, what takes it away, and what is right to say of it. All numbers are examples.
"""

import random
from dataclasses import dataclass, replace
from typing import Literal

from orthotome.core.book.start_rows import StartValues
from orthotome.core.errors import TradeError
from orthotome.core.practice.fault_finding import MOST_SEED
from orthotome.core.torch.fittings import Part
from orthotome.core.trial.advice import CAUSE_WORDS, Cause
from orthotome.core.trial.campaign import Target, TorchSet
from orthotome.core.trial.table_door import FittedAnew

Hidden = Literal[
    "nothing",
    "leaning_torch",
    "oval_nozzle",
    "worn_parts",
    "wrong_ring",
    "row_of_another",
    "shaky_machine",
]
Claim = Literal["square"] | Cause


@dataclass(frozen=True)
class HiddenThing:
    """What may be wrong with a practice table: its words, what takes it away, and how its trial rightly ends.

    ``named`` is what the tuner calls it, None where it is nothing; ``new_parts`` are those that take it away, ``new_mount``
    whether setting the torch does.
    """

    words: str
    cured_by: str
    named: Claim | None = None
    new_parts: tuple[Part, ...] = ()
    new_mount: bool = False
    ends: Claim = "square"

    @property
    def can_be_cured(self) -> bool:
        """Whether something that is fitted or set takes it away."""
        return self.new_mount or bool(self.new_parts)

    def is_cured(self, anew: FittedAnew) -> bool:
        """Whether it was taken away by what was fitted since. What is only in the row or in the machine stays."""
        set_anew = self.new_mount and anew.mounts > 0
        return set_anew or any(part in self.new_parts for part in anew.parts)


HIDDEN: dict[Hidden, HiddenThing] = {
    "nothing": HiddenThing(
        "Nothing was wrong: the row's numbers were near square, not on it.",
        "Speed and height alone reach it.",
    ),
    "leaning_torch": HiddenThing(
        "The torch leaned in its mount: opposite edges differ, whatever the speed and the height.",
        "Set upright, and said so under Torch, it is gone.",
        "jet_lean", new_mount=True,
    ),
    "oval_nozzle": HiddenThing(
        "The nozzle's bore was oval: the bevel repeats twice round the square, which a lean does not.",
        "A new nozzle takes it away.",
        "worn_parts", ("set", "nozzle"),
    ),
    "worn_parts": HiddenThing(
        "The parts were worn out: there was dross at every speed.",
        "New parts take it away; no speed does.",
        "worn_parts", ("set", "nozzle"),
    ),
    "wrong_ring": HiddenThing(
        "The swirl ring was of the other hand: the scrap was squarer than the part.",
        "A ring of the set's own hand puts the good side on the part.",
        "wrong_side", ("set", "swirl_ring"),
    ),
    "row_of_another": HiddenThing(
        "The Book's row was another nozzle's: square lies outside the limits that were set round it.",
        "With the limits widened the trial gets there.",
        "outside_limits",
    ),
    "shaky_machine": HiddenThing(
        "The machine shakes: edges of the same setting differ by more than the target allows.",
        "Nothing on the Bench cures that: say that the target is too tight, and look at the machine.",
        "target_too_tight", ends="target_too_tight",
    ),
}  # fmt: skip

CLAIMS: dict[Claim, str] = {
    "square": "It is square: the last setting passes",
    "target_too_tight": f"{CAUSE_WORDS['target_too_tight']}: no speed or height reaches it",
    "jet_lean": f"{CAUSE_WORDS['jet_lean']}, and that has to be put right first",
    "worn_parts": f"{CAUSE_WORDS['worn_parts']}, and they have to be changed first",
    "wrong_side": f"{CAUSE_WORDS['wrong_side']}, and that has to be put right first",
    "outside_limits": f"{CAUSE_WORDS['outside_limits']}, and those are as wide as they may be",
}
"""How a trial can be ended, in the words of whoever ends it."""


@dataclass(frozen=True)
class Work:
    """What is cut: a plate with a set, and the row that the Book has for it."""

    metal: str
    thickness_mm: float
    torch_set: TorchSet
    start: StartValues


_PLATE_SET = TorchSet("Practice 70 A set", 70, "air", "clockwise")
_SHEET_SET = TorchSet("Practice 45 A set", 45, "air", "clockwise")
_HEAVY_SET = TorchSet("Practice 100 A set", 100, "air", "counter_clockwise")
_PLATE = Work("mild_steel", 8.0, _PLATE_SET, StartValues(2200, 128.0, 1.5, 3.8, 0.5, 1.8))
_SHEET = Work("stainless_steel", 3.0, _SHEET_SET, StartValues(3400, 117.0, 1.4, 3.0, 0.3, 1.4))
_HEAVY = Work("mild_steel", 12.0, _HEAVY_SET, StartValues(1900, 139.0, 2.0, 5.0, 0.6, 2.3))
_ALUMINIUM = Work("aluminium", 6.0, _PLATE_SET, StartValues(3500, 133.0, 1.9, 4.0, 0.3, 1.9))
_WORKS = (_PLATE, _SHEET, _HEAVY, _ALUMINIUM)
_USUAL = Target(1.5)
_OTHER_ROW = 0.6  # of the true row's speed, in the row of another nozzle


@dataclass(frozen=True)
class TableExercise:
    """An exercise at a simulated table. ``seed`` is the table's; ``most_cuts`` is what passes; where the advice is
    ``covered`` the learner chooses each setting."""

    code: str
    title: str
    task: str
    teaches: str
    seed: int
    work: Work
    most_cuts: int
    hidden: Hidden = "nothing"
    target: Target = _USUAL
    covered: bool = False

    @property
    def thing(self) -> HiddenThing:
        """What is hidden in it."""
        return HIDDEN[self.hidden]

    @property
    def told_start(self) -> StartValues:
        """The row that the learner is given: the true one, or another nozzle's."""
        if self.hidden != "row_of_another":
            return self.work.start
        return replace(self.work.start, speed_mm_min=_OTHER_ROW * self.work.start.speed_mm_min)


_GRADED = 1_000_000  # the graded exercises' tables have seeds from here on, random ones below

TABLE_EXERCISES: tuple[TableExercise, ...] = (
    TableExercise(
        "square-in-five", "Square in five cuts", "Find the speed and the height that pass, in five cuts at most.",
        "Log each cut as it is, and take the advice with its reason: it asks for what it does not know yet.",
        _GRADED + 12, _PLATE, 5,
    ),
    TableExercise(
        "other-hand", "Heavy plate, the other hand", "The set's swirl is counter-clockwise. Square in six cuts.",
        "The good side belongs to the swirl: with the other hand the part lies on the other side of the travel.",
        _GRADED + 10, _HEAVY, 6,
    ),
    TableExercise(
        "own-numbers", "Your own numbers", "The advice is covered: choose every setting yourself. Square in eight cuts.",
        "Change one thing at a time, and far enough to see it above the gauge's own error.",
        _GRADED + 8, _SHEET, 8, covered=True,
    ),
    TableExercise(
        "one-way-bad", "One way bad, the other good", "Square in six cuts, with whatever it takes.",
        "A lean stays with the direction. Put it right first: every cut before that tells about the lean again.",
        _GRADED + 7, _PLATE, 6, "leaning_torch",
    ),
    TableExercise(
        "twice-round", "Good, bad, good, bad", "Square in seven cuts, with whatever it takes.",
        "What repeats twice round the square is a bore or two unlike axes, and never a lean.",
        _GRADED + 4, _PLATE, 7, "oval_nozzle",
    ),
    TableExercise(
        "never-clean", "It never comes off clean", "Square and clean in seven cuts, with whatever it takes.",
        "Dross at slow and at fast alike is not a matter of speed: look at the parts.",
        _GRADED + 40, _PLATE, 7, "worn_parts",
    ),
    TableExercise(
        "scrap-is-square", "The scrap is square", "Square in seven cuts, with whatever it takes.",
        "Read the edge across the slot once: it says at a glance which hand the swirl has.",
        _GRADED + 33, _PLATE, 7, "wrong_ring",
    ),
    TableExercise(
        "far-off-row", "The Book is far off", "Square in eight cuts, with whatever it takes.",
        "Limits are there to be looked at again when everything inside them points past one of them.",
        _GRADED + 46, _PLATE, 8, "row_of_another", Target(2.0),
    ),
    TableExercise(
        "half-a-degree", "Half a degree", "A customer wants half a degree. Give an answer within six cuts.",
        "Some targets cannot be reached. To say so early, with the reason, is worth more than another plate.",
        _GRADED + 2, _PLATE, 6, "shaky_machine", Target(0.5),
    ),
)  # fmt: skip
_RANDOM_HIDDEN: dict[Hidden, float] = {
    "nothing": 4, "leaning_torch": 2, "oval_nozzle": 1, "worn_parts": 1, "wrong_ring": 1, "row_of_another": 1,
}  # fmt: skip


def table_exercise(case: str) -> TableExercise:
    """An exercise by its name, or one by its number. Raises TradeError where there is none."""
    if case.isdecimal():
        return _by_number(int(case))
    for exercise in TABLE_EXERCISES:
        if exercise.code == case:
            return exercise
    raise TradeError("case", f"there is no exercise “{case}”.")


def of_seed(seed: int) -> TableExercise:
    """The exercise whose table has that seed."""
    return next((e for e in TABLE_EXERCISES if e.seed == seed), None) or _by_number(seed)


def _by_number(number: int) -> TableExercise:
    if not 0 <= number <= MOST_SEED:
        raise TradeError("case", f"a table has a number from 0 to {MOST_SEED}.")
    drawn = random.Random(f"table {number}")
    work = drawn.choice(_WORKS)
    hidden = drawn.choices(list(_RANDOM_HIDDEN), list(_RANDOM_HIDDEN.values()))[0]
    return TableExercise(
        str(number),
        f"Table {number}",
        "Square in nine cuts, with whatever it takes.",
        "",
        number,
        work,
        9,
        hidden,
    )
