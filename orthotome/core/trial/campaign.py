"""A campaign: one metal, thickness and torch set, tuned toward a target by a series of cuts.

These are the values the tuner thinks with. ``orthotome.formats.campaign`` is the same thing as an
open file; the store keeps it as rows.
"""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

from orthotome.core.book.start_rows import How, StartValues
from orthotome.core.edge.edges import (
    ReadSide,
    Side,
    Swirl,
    farthest_from_square,
    good_side,
    other_side,
)
from orthotome.core.setting import CutAt

MOST_WEIGHED = 120
"""Cuts of one campaign that the tuner weighs, the newest: older ones were made on other parts, or are outweighed, and
the time it thinks stays within a few seconds however long a trial goes on. Assumption."""

PieceKind = Literal["strip", "square", "round", "hole"]
Through = Literal["full", "partial", "none"]
DrossKind = Literal["low_speed", "high_speed", "top_spatter"]
HeightControl = Literal["off", "by_hand", "set_point", "sampled"]
Priority = Literal["square_first", "clean_first", "fastest_in_tolerance"]
Sides = Literal["good", "both"]
StartHow = How | Literal["typed"]

BOTTOM_DROSS: tuple[DrossKind, ...] = ("low_speed", "high_speed")

DROSS_EFFORT = ("none", "brushes off", "scraper", "hammer and chisel", "grinder")
"""What each dross grade, 0 to 4, costs to take off."""

DROSS_ALLOWED = (
    "no dross",
    "dross brushes off",
    "dross scrapes off",
    "dross chisels off",
    "any dross",
)
"""The worst dross that a target allows, as its aim says it."""


@dataclass(frozen=True)
class EdgeReading:
    """One reading of one edge. ``side`` "both" is the mean of a strip's two edges."""

    side: ReadSide
    heading_deg: float
    bevel_deg: float
    u_deg: float
    method: str = "angle_gauge"


@dataclass(frozen=True)
class Dross:
    """Dross of one kind with the effort it takes: grade 0 none to 4 grinder."""

    kind: DrossKind
    grade: int


@dataclass(frozen=True)
class Series:
    """Which parts, mount, plate and signal path a cut was made with. A changed id is a new series."""

    parts: str = ""
    mount: str = ""
    plate: str = ""
    signal: str = ""


@dataclass(frozen=True)
class Cut:
    """One set of settings cut once, and what was seen. None means not measured, never zero.

    ``dross`` None is "not looked at"; an empty tuple is "looked, and none found".
    """

    id: str
    piece: PieceKind
    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None = None
    set_point_v: float | None = None
    height_control: HeightControl = "off"
    starts: int | None = None
    arc_on_s: float | None = None
    series: Series = Series()
    through: Through | None = None
    arc_lost: bool = False
    edges: tuple[EdgeReading, ...] = ()
    dross: tuple[Dross, ...] | None = None
    kerf_mm: float | None = None
    lag_deg: float | None = None

    @property
    def bottom_grade(self) -> int | None:
        """Worst bottom dross grade, or None where nobody looked."""
        if self.dross is None:
            return None
        return max((d.grade for d in self.dross if d.kind in BOTTOM_DROSS), default=0)

    def mean_bevel_deg(self, side: Side) -> float | None:
        """Mean bevel read on one side of travel; None where none was read. Sides are never mixed,
        except that a strip's widths only ever gave the mean of both."""
        read = [e.bevel_deg for e in self.edges if e.side in (side, "both")]
        return sum(read) / len(read) if read else None

    def grade_of(self, kind: DrossKind) -> int | None:
        """Grade of one kind of dross; None where nobody looked."""
        if self.dross is None:
            return None
        return max((d.grade for d in self.dross if d.kind == kind), default=0)


@dataclass(frozen=True)
class TorchSet:
    """Parts that belong together, with the amperage their nozzle is rated for.

    ``starts`` are those on the parts before a campaign's first cut, where somebody knows.
    """

    name: str
    amperage_a: float
    gas: str
    swirl: Swirl
    starts: int | None = None


@dataclass(frozen=True)
class Target:
    """What the operator will call square."""

    bevel_deg: float
    sides: Sides = "good"
    dross_grade: int = 1
    priority: Priority = "square_first"


@dataclass(frozen=True)
class Limits:
    """The range in which the operator will cut. Advice never leaves it."""

    speed_mm_min: tuple[float, float]
    cut_height_mm: tuple[float, float]

    def hold(self, at: CutAt) -> bool:
        """Whether a setting lies within them."""
        (slow, fast), (low, high) = self.speed_mm_min, self.cut_height_mm
        return slow <= at.speed_mm_min <= fast and low <= at.cut_height_mm <= high


@dataclass(frozen=True)
class Locked:
    """What a campaign was locked at as a recipe: it stands as it was proven, whatever is thought of since."""

    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None
    probability_pass: float


@dataclass(frozen=True)
class Campaign:
    """Everything the tuner may know."""

    metal: str
    thickness_mm: float
    torch_set: TorchSet
    start: StartValues
    target: Target
    limits: Limits
    cuts: tuple[Cut, ...] = ()
    title: str = ""
    series_now: Series | None = None
    history: tuple["Campaign", ...] = ()  # earlier ones of the same table, newest last
    grades: tuple[tuple[int, int], ...] = ()  # the shop's grading checks: one piece graded twice, each
    start_how: StartHow | None = None  # None: nobody wrote down where the starting numbers came from
    locked: Locked | None = None
    fastest_mm_min: float | None = None  # that the table runs at all, by its page

    @property
    def current_series(self) -> Series:
        """What is fitted now: that of the last cut, here or on an earlier day, unless something was changed since."""
        if self.series_now is not None:
            return self.series_now
        if self.cuts:
            return self.cuts[-1].series
        return self.history[-1].current_series if self.history else Series()

    @property
    def weighed(self) -> "Campaign":
        """The same with no more cuts, of it and of each earlier one, than are weighed: the newest."""
        if all(len(c.cuts) <= MOST_WEIGHED for c in (self, *self.history)):
            return self
        history = tuple(replace(e, cuts=e.cuts[-MOST_WEIGHED:]) for e in self.history)
        return replace(self, cuts=self.cuts[-MOST_WEIGHED:], history=history)

    def thousands_ago(self, cut: Cut) -> float:
        """Thousands of starts from a cut to the last on the same parts, negative; 0 where its starts are not known or
        were on other parts."""
        if cut.starts is None or cut.series.parts != self.current_series.parts:
            return 0.0
        return (cut.starts - self._starts_now) / 1000

    @cached_property
    def _starts_now(self) -> int:
        """Starts on the present parts at the last of their cuts that says so."""
        parts = self.current_series.parts
        return max((c.starts or 0 for c in self.cuts if c.series.parts == parts), default=0)


def judged_sides(torch_set: TorchSet, target: Target) -> tuple[Side, ...]:
    """The sides of travel that a target judges."""
    good = good_side(torch_set.swirl)
    return (good,) if target.sides == "good" else (good, other_side(good))


def worst_judged_deg(cut: Cut, torch_set: TorchSet, target: Target) -> float | None:
    """The bevel farthest from square that was read on a side the target judges; None where none was."""
    sides = judged_sides(torch_set, target)
    return farthest_from_square(e.bevel_deg for e in cut.edges if e.side in sides)


DROSS_WORDS: dict[DrossKind, str] = {
    "low_speed": "slow-speed dross",
    "high_speed": "fast-speed dross",
    "top_spatter": "top spatter",
}


def underside_words(cut: Cut) -> str:
    """What was seen of the dross of a cut, in a few words."""
    if cut.through == "none":
        return "not through"
    if cut.dross is None:
        return "not looked at"
    found = [f"{DROSS_WORDS[d.kind]}, {DROSS_EFFORT[d.grade]}" for d in cut.dross if d.grade > 0]
    return "; ".join(found) or "clean"
