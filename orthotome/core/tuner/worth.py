"""What going on past a proven setting would be worth, in the shop's own money.

A metre at speed v costs hour / 60 * 1000 / v of machine and people, and its clean-up where dross is left. Prices are
the shop's; where one is missing nothing is guessed, and what is missing is said.
"""

from dataclasses import dataclass

import numpy as np

from orthotome.core.quantities import spoken
from orthotome.core.setting import Setting
from orthotome.core.tuner.advise import Judgement
from orthotome.core.tuner.chances import Candidates

_CUTS = 2  # that going on takes, mostly
_M_PER_FOOT = 0.3048


@dataclass(frozen=True)
class Prices:
    """An hour of the table with its people, one test cut with its steel, and cleaning a metre of dross; None
    where nobody said."""

    hour: float | None = None
    test_cut: float | None = None
    clean_up_m: float | None = None


def worth_of_going_on(judgement: Judgement, prices: Prices) -> str | None:
    """A sentence beside "perhaps faster"; None where that is not said."""
    faster = next((f for f in judgement.advice.findings if f.code == "faster_possible"), None)
    proven = judgement.advice.recommended
    if faster is None or proven is None:
        return None
    if prices.hour is None or prices.test_cut is None:
        missing = "an hour" if prices.hour is None else "a test cut"
        return f"Say on the Machine page what {missing} costs, and this becomes money."
    other = Setting(faster.numbers["speed_mm_min"], faster.numbers["cut_height_mm"])
    saved = _metre(judgement, Setting.of(proven), prices) - _metre(judgement, other, prices)
    if saved <= 0:
        return "It would cost more in clean-up than it saves in time."
    length, word = (_M_PER_FOOT, "foot") if spoken().in_inches else (1.0, "metre")
    paid_back = _round(_CUTS * prices.test_cut / saved / length)
    many = "feet" if spoken().in_inches else "metres"
    return (
        f"It would save about {saved * length:.3f} a {word}; {_CUTS} cuts at {prices.test_cut:g} are paid back after "
        f"some {paid_back:g} {many}."
    )


def _metre(judgement: Judgement, setting: Setting, prices: Prices) -> float:
    """What a metre cut at a setting costs: time, and clean-up as often as dross is left."""
    assert prices.hour is not None
    at = Candidates(np.array([setting.speed_mm_min]), np.array([setting.cut_height_mm]))
    dirty = 1.0 - float(judgement.learned.clean_chances(at)[0])
    return prices.hour / 60 * 1000 / setting.speed_mm_min + dirty * (prices.clean_up_m or 0.0)


def _round(value: float) -> float:
    """To two figures: it rests on a chance and on prices."""
    return float(f"{value:.2g}")
