"""What is left of a life, and what it does to the set-point: starts left, the next trim, what comes of none.

Every figure is of the draws of ``core.torch.pit``; a range is their middle 90 in 100.
"""

import math
from collections import deque
from dataclasses import dataclass
from threading import Lock
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from orthotome.core.quantities import length, volts
from orthotome.core.torch.pit import LearnedLife, learn
from orthotome.core.torch.wear import TRADE, TRIM_V, PartsLedger, WearBelief, checked

Array = NDArray[np.float64]
Verdict = Literal["keep", "watch", "rough_work", "replace", "not_known"]

VERDICT_WORDS: dict[Verdict, str] = {
    "keep": "keep",
    "watch": "watch",
    "rough_work": "good enough for rough work",
    "replace": "replace",
    "not_known": "not known yet",
}
"""What is said of a part that was looked at, or worked out."""

_HALVINGS = 14  # of what is looked for among them, to a start or two in a thousand
_FAR = 20_000  # starts; nothing that is fitted lasts longer
_NEAR_STARTS = 100  # fewer for certain than that are worth watching
_WATCHED = 0.7  # of the limit
_MAY_BE_OVER, _IS_OVER = 0.05, 0.95
_VAGUE = 0.15  # of the limit: a pit known no better is only guessed
_TOLD_IN_TENS = 100
_WIDE = 8.0  # times the low end of its range: a forecast that says nothing


@dataclass(frozen=True)
class Spread:
    """A number with its standard deviation."""

    value: float
    sd: float


@dataclass(frozen=True)
class StartsLeft:
    """A median with 5 and 95 in 100."""

    expected: int
    low: int
    high: int


@dataclass(frozen=True)
class NextTrim:
    """When a set-point that was raised to what it is worth now is next due to be raised."""

    at_starts: int
    by_v: float


@dataclass(frozen=True)
class LeftAlone:
    """What becomes of a set-point that is not raised. None: not within what parts last."""

    closer_mm: float
    touches_at_starts: int | None


@dataclass(frozen=True)
class WearReport:
    """A set of fitted parts as it is now. ``touches_at_starts`` may lie in the past."""

    pit_mm: Spread
    starts_left: StartsLeft
    volts_per_1000: Spread  # at a set height
    set_point_now_v: float
    next_trim: NextTrim | None  # None: not within what parts last
    left_alone: LeftAlone
    verdict: Verdict
    why: str


def wear_report(ledger: PartsLedger, belief: WearBelief = TRADE) -> WearReport:
    """What a ledger says of its parts. Raises TradeError where its entries cannot have happened."""
    return report_of(learn(checked(ledger), belief))


def report_of(life: LearnedLife) -> WearReport:
    """The report of a life that was learnt; the newest are kept, by the life itself."""
    with _LOCK:
        for known, report in _REPORTS:
            if known is life:
                return report
    report = _report(life)
    with _LOCK:
        _REPORTS.append((life, report))
    return report


_LOCK, _REPORTS = Lock(), deque[tuple[LearnedLife, "WearReport"]](maxlen=64)


def _report(life: LearnedLife) -> WearReport:
    left = starts_left(life)
    verdict, why = _judged(life, left)
    now = set_point_now(life)
    due = volts_reached_at(life, now + TRIM_V)
    return WearReport(
        pit_mm=Spread(float(life.pit_mm.mean()), float(life.pit_mm.std())),
        starts_left=left,
        volts_per_1000=volts_per_1000(life),
        set_point_now_v=now,
        next_trim=None if due is None else NextTrim(due, TRIM_V),
        left_alone=left_alone(life, life.ledger.set_point_v),
        verdict=verdict,
        why=why,
    )


def starts_left(life: LearnedLife) -> StartsLeft:
    """Until the pit reaches its limit, used as so far.

    Growth over a mean m scatters with variance scatter * m, and a pit never fills: the chance that it is not at the
    limit yet is that of a growth still smaller, so that m solves m + z sqrt(scatter m) = what is left.
    """
    room = np.maximum(0.0, life.ledger.limit_mm - life.pit_mm)
    z = np.random.default_rng(9).standard_normal(len(room))
    pull = z * np.sqrt(life.of.scatter_mm)
    mean = ((-pull + np.sqrt(pull**2 + 4 * room)) / 2) ** 2
    left = np.minimum(_FAR, life.starts_until(mean))
    low, middle, high = (round(float(q)) for q in np.quantile(left, (0.05, 0.5, 0.95)))
    return StartsLeft(middle, low, high)


def volts_per_1000(life: LearnedLife) -> Spread:
    """Rise per thousand starts: the mean over the life so far; of new parts, what it will be at first."""
    if life.starts == 0:
        rise = life.v_per_mm * life.more_pit_mm(1000)
    else:
        rise = life.rise_v * 1000 / life.starts
    return Spread(_middle(rise), _half_width(rise))


def set_point_now(life: LearnedLife) -> float:
    """The volts that hold the cut height on the parts as they are."""
    return life.ledger.set_point_v + _middle(life.level_v + life.rise_v)


def set_point_sd(life: LearnedLife) -> float:
    """How well that is known."""
    return _half_width(life.level_v + life.rise_v)


def left_alone(life: LearnedLife, told_v: float) -> LeftAlone:
    """What becomes of a set-point that stays where it is."""
    ledger = life.ledger
    room_v = ledger.slope_v_per_mm * (ledger.cut_height_mm - ledger.touch_height_mm)
    closer = (set_point_now(life) - told_v) / ledger.slope_v_per_mm
    return LeftAlone(closer, volts_reached_at(life, told_v + room_v))


def volts_reached_at(life: LearnedLife, volts_v: float) -> int | None:
    """Starts at which the volts at the cut height had come to so many, or will have; None: not within what lasts."""
    level = _middle(life.level_v)
    rise_v = volts_v - life.ledger.set_point_v - level
    now = _middle(life.level_v + life.rise_v) - level
    if rise_v <= now and life.starts > 0:
        at = np.linspace(0.0, life.starts, 201)
        line = np.median(life.share_of_rise(at) * life.rise_v[:, None], axis=0)
        return round(float(np.interp(rise_v, np.maximum.accumulate(line), at)))
    low, high = 0.0, math.log1p(_FAR)
    if now + _middle(life.v_per_mm * life.more_pit_mm(_FAR)) < rise_v:
        return None
    for _ in range(_HALVINGS):
        half = (low + high) / 2
        reached = now + _middle(life.v_per_mm * life.more_pit_mm(math.expm1(half))) >= rise_v
        low, high = (low, half) if reached else (half, high)
    return life.starts + max(1, round(math.expm1((low + high) / 2)))


def _judged(life: LearnedLife, left: StartsLeft) -> tuple[Verdict, str]:
    limit, pit = life.ledger.limit_mm, float(life.pit_mm.mean())
    over = float((life.pit_mm >= limit).mean())
    seen = f"The pit is about {length(pit)} of {length(limit)}"
    ends = f"{in_tens(left.low)} to {in_tens(left.high)} starts are left (90 in 100)"
    if (unknown := _not_known(life, left, over)) is not None:
        return "not_known", unknown
    if life.starts == 0:
        return "keep", f"No start was counted on it yet: {ends}, if it was new when it went in."
    if over >= 0.5:
        return "replace", f"{seen}: it is at its limit."
    if over >= _MAY_BE_OVER:
        return "rough_work", (
            f"{seen}, and the chance that it is over is {round(100 * over)} in 100: good enough where edges and a "
            "failed part cost little, and no farther."
        )
    if left.low < _NEAR_STARTS or pit >= _WATCHED * limit:
        return "watch", f"{seen}; {ends}: measure it again before they are used up."
    rise = _middle(life.rise_v)
    also = (
        f", and the set-point is worth {volts(rise)} more than when they were new"
        if rise > TRIM_V / 2
        else ""
    )
    return "keep", f"{seen}; {ends}{also}."


def _not_known(life: LearnedLife, left: StartsLeft, over: float) -> str | None:
    """Why nothing can be said of the parts, with what would tell; None where it can."""
    if life.starts == 0:
        return None
    if life.pits == 0:
        return (
            "No pit was measured since the parts were new, so what is left of them is only the trade’s usual: "
            "power isolated, measure the electrode’s pit; its depth tells."
        )
    vague = float(life.pit_mm.std()) > _VAGUE * life.ledger.limit_mm
    if vague and _MAY_BE_OVER <= over < _IS_OVER:
        return (
            f"By what was done with it since it was measured it may be at its limit by now ({round(100 * over)} in "
            "100): measure the pit before it cuts on."
        )
    if left.high > _WIDE * max(left.low, 1) and left.expected > _NEAR_STARTS:
        return "What is left is too wide to go by: measuring the pit again tells."
    return None


def in_tens(starts: float) -> int:
    """Starts as they are told: in tens from a hundred on, since no forecast knows better."""
    return round(starts / 10) * 10 if starts >= _TOLD_IN_TENS else round(starts)


def _middle(draws: Array) -> float:
    return float(np.median(draws))


def _half_width(draws: Array) -> float:
    """A standard deviation that a long tail does not carry off."""
    low, high = np.quantile(draws, (0.16, 0.84))
    return float(high - low) / 2
