"""What a part has done: starts, arc time, and what hurt it; and a source's own counter that corrects the sum.

A start is an arc start: a square with its bar and nicks is as many as its program pierces.
"""

from dataclasses import dataclass
from typing import Literal

from orthotome.core.errors import TradeError

Source = Literal[
    "cut", "piece", "program", "not_cut", "recording", "typed", "source", "collision", "before"
]

SOURCE_WORDS: dict[Source, str] = {
    "cut": "cuts that were logged",
    "piece": "pieces by their programs",
    "program": "programs that were run",
    "not_cut": "pieces not cut after all",
    "recording": "recordings of the arc",
    "typed": "typed by hand",
    "source": "the source’s own counter",
    "collision": "collisions",
    "before": "counted before parts had histories of their own",
}
"""What counts starts, in words."""


@dataclass(frozen=True)
class Counts:
    """Running totals of one part."""

    starts: int = 0
    arc_on_s: float = 0.0
    off_plate: int = 0
    early_losses: int = 0
    collisions: int = 0

    def __add__(self, more: "Counts") -> "Counts":
        return Counts(*(a + b for a, b in zip(vars(self).values(), vars(more).values(), strict=True)))

    def __neg__(self) -> "Counts":
        return Counts(*(-n for n in vars(self).values()))

    def __bool__(self) -> bool:
        return any(vars(self).values())


ONE_START = Counts(1)


@dataclass(frozen=True)
class CounterReading:
    """What a source's own counter showed: starts, and arc time where it counts that."""

    starts: int
    arc_on_s: float | None = None


def missed(now: CounterReading, before: CounterReading, counted: Counts) -> Counts:
    """What the source counted since its last reading and Orthotome did not; less than nothing where it counted more.

    Raises TradeError for a counter that runs backwards.
    """
    if now.starts < before.starts:
        raise TradeError(
            "starts",
            f"{now.starts} is less than the {before.starts} read before: a counter does not run backwards. If the "
            "source’s counter was set back, say so, and it is counted from here.",
        )
    arc = 0.0
    if now.arc_on_s is not None and before.arc_on_s is not None:
        if now.arc_on_s < before.arc_on_s:
            raise TradeError(
                "arc_on_s", "is less than was read before: a counter does not run backwards."
            )
        arc = now.arc_on_s - before.arc_on_s - counted.arc_on_s
    return Counts(now.starts - before.starts - counted.starts, arc)


def shared(whole: Counts, weights: list[int]) -> list[Counts]:
    """Starts and arc time that were missed, given to several series of parts by what was counted on each."""
    total = sum(weights)
    if total <= 0:
        return [*[Counts()] * (len(weights) - 1), whole]
    given, parts = 0, []
    for n, weight in enumerate(weights):
        last = n == len(weights) - 1
        starts = whole.starts - given if last else round(whole.starts * weight / total)
        given += starts
        parts.append(Counts(starts, whole.arc_on_s * weight / total))
    return parts
