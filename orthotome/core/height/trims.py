"""Trims of the set-point while it cuts: how much at once, and whether it moves anything."""

from collections.abc import Sequence
from dataclasses import dataclass

from orthotome.core.errors import TradeError
from orthotome.core.quantities import volts

MOST_A_SECOND_V = 2.0
"""Of trims within a second: some 0.3 mm of height, which an eye at the arc can still follow. Assumption."""


@dataclass(frozen=True)
class Trim:
    """By how much the set-point was trimmed, and when in its recording."""

    at_s: float
    by_v: float


def check_trim(by_v: float, at_s: float, made: Sequence[Trim]) -> None:
    """Raise TradeError for a trim that with those of the last second goes farther than an eye follows."""
    lately = sum(t.by_v for t in made if at_s - t.at_s < 1.0)
    if abs(lately + by_v) > MOST_A_SECOND_V + 1e-9 and abs(lately + by_v) > abs(lately):
        raise TradeError(
            "by_v",
            f"{volts(abs(lately))} within a second is as far as a trim goes: look at the cut, then go on.",
        )


def says_of_trims(made: Sequence[Trim], dead_band_v: float) -> str:
    """What is said where all trims together lie inside the dead band; empty where they move the torch."""
    together = abs(sum(t.by_v for t in made))
    if not made or together >= dead_band_v:
        return ""
    return (
        f"Trimmed by {volts(together)} in all: it moves nothing by itself inside the dead band of "
        f"{volts(dead_band_v)} either side."
    )
