"""A job split between two sets: what never reaches speed with the fast one is cut with the slower, then the parts change.

A set that is too fast for the detail cuts it slower than its setting, with the dross and bevel of that; the slower set
reaches its own speed there. Whatever lies in a contour is cut before it, so it goes with the set that is on first.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.book.start_rows import How
from orthotome.core.pieces.timing import HEIGHT_MOVES_S, rapid_s
from orthotome.core.programs.check import Checked
from orthotome.core.programs.checked_against import PlateJob, Table
from orthotome.core.programs.contours import ProgramContour
from orthotome.core.programs.program import FEED, KIND, RAPID, lengths_mm
from orthotome.core.programs.run_costs import RunCosts, run_costs
from orthotome.core.programs.run_time import run_time
from orthotome.core.programs.setting_checks import hole_feed_mm_min, is_small_hole
from orthotome.core.quantities import duration

ENOUGH_AT_SPEED = 0.75
"""Of a contour's path. Assumption: with less of it at speed, its edge is another than the setting's."""
BETTER_BY = 0.1
"""Of its path: so much more must be at speed with the slower set for it to be worth its while. Assumption."""
CHANGE_OF_PARTS_S = 180.0
"""To isolate, change the parts and touch off again. Assumption."""
_NUMBERS: dict[How, str] = {
    "recipe": "were proven here",
    "row": "stand in the Book, and are not proven yet",
    "interpolated": "lie between rows of the Book, and are not proven yet",
    "extended": "lie beyond the rows of the Book, and are not proven yet",
}


@dataclass(frozen=True)
class SetToCut:
    """A set as a job may be cut with it; None is "not known"."""

    name: str
    job: PlateJob
    per_start: float | None = None
    gas_l_min: float | None = None


@dataclass(frozen=True)
class Stage:
    """What is cut with one set without a change of parts: contours by their number, in cutting order."""

    torch_set: str
    contours: tuple[int, ...]
    pierces: int
    seconds: float
    arc_s: float
    cut_mm: float
    share_at_speed: float
    costs: RunCosts
    gas_l: float | None


@dataclass(frozen=True)
class Way:
    """One way to cut a program."""

    stages: tuple[Stage, ...]

    @property
    def changes(self) -> int:
        """Of parts, between its stages."""
        return len(self.stages) - 1

    @property
    def seconds(self) -> float:
        """With the changes of parts."""
        return sum(s.seconds for s in self.stages) + CHANGE_OF_PARTS_S * self.changes

    @property
    def share_at_speed(self) -> float:
        """Of all that is cut."""
        whole = sum(s.cut_mm for s in self.stages)
        return sum(s.share_at_speed * s.cut_mm for s in self.stages) / whole if whole else 0.0

    def cost(self, hour_cost: float | None) -> float | None:
        """With the machine's time for the changes; None where a price is not known."""
        known = [s.costs.whole for s in self.stages]
        if hour_cost is None or any(k is None for k in known):
            return None
        return (
            sum(k for k in known if k is not None) + hour_cost / 3600 * CHANGE_OF_PARTS_S * self.changes
        )


@dataclass(frozen=True)
class Ways:
    """Whole with the program's own set, whole with another, and split between them where that makes sense."""

    own: Way
    other: Way
    split: Way | None
    to_other: tuple[int, ...]  # contours that the other set cuts in the split
    says: str


def ways_to_cut(
    checked: Checked, own: SetToCut, other: SetToCut, table: Table, hour_cost: float | None
) -> Ways:
    """The ways beside each other, each contour timed on this table with the feed that each set asks for."""
    contours = checked.contours
    of = {s.name: tuple(with_job(c, s.job) for c in contours) for s in (own, other)}
    slow, fast = sorted((own, other), key=lambda s: s.job.setting.speed_mm_min)
    shares = {
        s.name: run_time(checked.program, of[s.name], table, s.job.setting.speed_mm_min).share_at_speed
        for s in (own, other)
    }
    detail = detail_of(contours, shares[fast.name], shares[slow.name])

    def way(*stages: tuple[SetToCut, Sequence[int]]) -> Way:
        return Way(tuple(_stage(s, of[s.name], which, checked, table, hour_cost) for s, which in stages))

    everything = range(len(contours))
    rest = [i for i in everything if i not in detail]
    split = way((slow, sorted(detail)), (fast, rest)) if detail and rest else None
    to_other = tuple(sorted(detail) if slow is other else rest) if split else ()
    whole = way((own, everything))
    says = _says(len(contours), len(detail), slow.name, fast.name)
    says += _against_whole(split, whole, own.name) if split else ""
    return Ways(whole, way((other, everything)), split, to_other, says)


def with_job(contour: ProgramContour, job: PlateJob) -> ProgramContour:
    """A contour with a job's feeds and pierce delay, its path as it is: the kerfs differ by less than a part's time
    shows."""
    motions = contour.motions.copy()
    feed = hole_feed_mm_min(job) if is_small_hole(contour) else job.setting.speed_mm_min
    motions[:, FEED] = np.where(motions[:, KIND] == RAPID, math.nan, feed)
    return replace(
        contour, motions=motions, run=replace(contour.run, delay_s=job.setting.pierce_delay_s)
    )


def detail_of(
    contours: Sequence[ProgramContour], fast_shares: Sequence[float], slow_shares: Sequence[float]
) -> set[int]:
    """What the slower set is for, with all that lies in it: that must be cut before it."""
    detail = {
        i
        for i, (fast, slow) in enumerate(zip(fast_shares, slow_shares, strict=True))
        if fast < ENOUGH_AT_SPEED and slow >= fast + BETTER_BY
    }
    for i, contour in enumerate(contours):
        around = contour.parent
        while around is not None:
            if around in detail:
                detail.add(i)
            around = contours[around].parent
    return detail


def _stage(  # noqa: PLR0917 (all that a stage's figures hang on)
    with_set: SetToCut,
    contours: Sequence[ProgramContour],
    which: Sequence[int],
    checked: Checked,
    table: Table,
    hour_cost: float | None,
) -> Stage:
    """The figures of some contours cut with one set, in their order."""
    some = [contours[i] for i in which]
    time = run_time(checked.program, some, table, with_set.job.setting.speed_mm_min)
    arc_s = float(sum(time.arc_s))
    seconds = time.seconds
    if len(some) < len(contours):
        seconds = arc_s + _between_s(some, table) + HEIGHT_MOVES_S * len(some)
    return Stage(
        with_set.name,
        tuple(which),
        len(some),
        seconds,
        arc_s,
        float(sum(lengths_mm(c.motions).sum() for c in some)),
        time.whole_share,
        run_costs(len(some), seconds, with_set.per_start, hour_cost),
        None if with_set.gas_l_min is None else with_set.gas_l_min * arc_s / 60,
    )


def half_says(half: int, name: str) -> str:
    """What to do with one of two programs; empty for any other."""
    if half == 1:
        return f"Cut it first, with the {name}. Then change the parts, leave plate and zero as they are, and go on."
    if half == 2:
        return f"Cut it second, with the {name}, when the first is done, from the same zero."
    return ""


def numbers_say(how: How, warnings: str) -> str:
    """Where another set's numbers for the plate come from; ``how`` is none of those that give no numbers."""
    return f"Its numbers {_NUMBERS[how]}. {warnings}".rstrip()


def change_says() -> str:
    """What a change of parts is taken as."""
    return f"A change of parts is taken as {duration(CHANGE_OF_PARTS_S)}."


def _between_s(contours: Sequence[ProgramContour], table: Table) -> float:
    """From the zero to each pierce from where the last cut ended, and back."""
    places = [(0.0, 0.0), *(p for c in contours for p in (c.pierce_at, c.ends_at)), (0.0, 0.0)]
    ways = [math.dist(a, b) for a, b in zip(places[::2], places[1::2], strict=True)]
    return sum(rapid_s(w, table.rapid_mm_min / 60, table.acceleration) for w in ways)


def _against_whole(split: Way, own: Way, name: str) -> str:
    """What a split is worth beside the whole with the program's own set."""
    longer, more = split.seconds - own.seconds, round(100 * (split.share_at_speed - own.share_at_speed))
    time = f"{duration(abs(longer))} {'longer' if longer > 0 else 'less'}"
    share = f"{abs(more)} % {'more' if more > 0 else 'less'}" if more else "no more"
    worth = "" if more > 0 or longer < 0 else " It is not worth a change of parts."
    return f" Beside whole with the {name} it takes {time}, and {share} of it is at speed.{worth}"


def _says(contours: int, detail: int, slow: str, fast: str) -> str:
    """What the comparison comes to."""
    if not detail:
        return f"Nothing of it falls short of speed with the {fast} and does better with the {slow}: no split."
    if detail == contours:
        return f"None of it reaches speed with the {fast}: cut it whole with the {slow}."
    which = "1 contour falls" if detail == 1 else f"{detail} contours fall"
    rest = "the other" if contours - detail == 1 else f"the other {contours - detail}"
    return (
        f"{which} short of speed with the {fast} and {'does' if detail == 1 else 'do'} better with the {slow}, or "
        f"{'lies' if detail == 1 else 'lie'} in what does: cut with the {slow} first, change the parts once, then "
        f"{rest} with the {fast}, from the same zero."
    )
