"""Exercises at a simulated table: what is to be cut there, and what is hidden in it.

An exercise is made by its name or its number alone, so that two people can take the same. What the hidden thing does to a cut is
the simulated table's business; here stands what it is, what takes it away, and what is right to say of it. All numbers are examples.
"""

import random
from dataclasses import dataclass, replace

from orthotome.core.book.start_rows import StartValues
from orthotome.core.errors import TradeError
from orthotome.core.height.after_square import Control
from orthotome.core.practice.fault_finding import MOST_SEED
from orthotome.core.practice.hidden import ARC_CLAIMS, EDGE_CLAIMS, HIDDEN, Claim, Hidden, HiddenThing
from orthotome.core.trial.campaign import Target, TorchSet


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
    """An exercise at a simulated table. ``seed`` is the table's; ``most_cuts`` is what passes, or so many runs where the arc is
    watched; where the advice is ``covered`` the learner chooses each setting."""

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
    def claims(self) -> dict[Claim, str]:
        """How it can be ended, in the words of whoever ends it."""
        return ARC_CLAIMS if self.thing.at_the_arc else EDGE_CLAIMS

    @property
    def row_volts(self) -> float:
        """The volts that the row has: what the arc shows on new parts at its height."""
        found = self.work.start.arc_voltage_v
        assert found is not None  # every row of an exercise names them
        return found

    @property
    def told_control(self) -> Control | None:
        """What height control is told when it begins, where the arc is watched: the row's volts, and no more than that."""
        if not self.thing.at_the_arc:
            return None
        hold = None if self.hidden == "corners_followed" else _ARC_CONTROL.hold_below_share
        return replace(_ARC_CONTROL, set_point_v=self.work.start.arc_voltage_v, hold_below_share=hold)

    @property
    def told_start(self) -> StartValues:
        """The row that the learner is given: the true one, or another nozzle's."""
        if self.hidden != "row_of_another":
            return self.work.start
        return replace(self.work.start, speed_mm_min=_OTHER_ROW * self.work.start.speed_mm_min)


ARC_ACCELERATION_MM_S2 = 300.0
"""Of a practice table whose arc is watched: a slow machine, whose corners show."""
ARC_WAY_MM = 320.0
"""What a run cuts where the arc is watched: once round a square."""
_ARC_CONTROL = Control("manual", None, 0.9, 0.5, 0.9, None)
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
ARC_EXERCISES: tuple[TableExercise, ...] = (
    TableExercise(
        "up-and-away", "Up and away", "As soon as height control wakes, the torch goes up. Say why, in four runs.",
        "Read the volts on the screen before anything is touched: with height control off they say which way it is wrong.",
        _GRADED + 101, _PLATE, 4, "divided_twice",
    ),
    TableExercise(
        "begins-high", "It begins too high", "Each cut begins too high, then height control pulls it down. Say why, in four runs.",
        "Volts and Z together: where both are up at the start, the plate was not found where it is.",
        _GRADED + 102, _PLATE, 4, "clip_loose",
    ),
    TableExercise(
        "dives-along", "It dives along the cut", "Under control the torch creeps into the plate. Say why, in four runs.",
        "More volts at the same height are worn parts. The control lowers the torch until its set-point is met.",
        _GRADED + 103, _PLATE, 4, "worn_electrode",
    ),
    TableExercise(
        "restless-arc", "A restless arc", "The volts never come to rest, and the arc goes out on the way. Say why, in four runs.",
        "Noise that is twice what it was, at the right height and with good parts, comes with the gas.",
        _GRADED + 126, _HEAVY, 4, "wet_air",
    ),
    TableExercise(
        "dips-in-corners", "It dips in the corners", "Tell height control what makes it hold in the corners, in five runs.",
        "A torch that slows has more volts at the same height: height is held there, not followed.",
        _GRADED + 105, _PLATE, 5, "corners_followed",
    ),
)  # fmt: skip
EVERY_EXERCISE = TABLE_EXERCISES + ARC_EXERCISES
_RANDOM_HIDDEN: dict[Hidden, float] = {
    "nothing": 4, "leaning_torch": 2, "oval_nozzle": 1, "worn_parts": 1, "wrong_ring": 1, "row_of_another": 1,
}  # fmt: skip


def table_exercise(case: str) -> TableExercise:
    """An exercise by its name, or one by its number. Raises TradeError where there is none."""
    if case.isdecimal():
        return _by_number(int(case))
    for exercise in EVERY_EXERCISE:
        if exercise.code == case:
            return exercise
    raise TradeError("case", f"there is no exercise “{case}”.")


def of_seed(seed: int) -> TableExercise:
    """The exercise whose table has that seed."""
    return next((e for e in EVERY_EXERCISE if e.seed == seed), None) or _by_number(seed)


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
