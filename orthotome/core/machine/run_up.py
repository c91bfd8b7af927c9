"""The acceleration that a machine really has, by a stopwatch over a zig-zag or from the feed of a recording.

A leg of length L run at speed v, from rest to rest, takes v / a + L / v where it is long enough to reach v, which
takes v^2 / a, and 2 sqrt(L / a) where it is not. Every turn back on itself is a full stop. What a controller adds at
each turn looks like a slower acceleration; zig-zags at two speeds tell the two apart.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from orthotome.core.errors import TradeError
from orthotome.core.machine.motion import AT_SPEED, run_up_mm
from orthotome.core.quantities import acceleration, length, seconds, size, speed

Array = NDArray[np.float64]

STOPWATCH_U_S = 0.2
"""One sigma of a thumb that starts and stops a watch. Assumption."""
LEAST_MM_S2, MOST_MM_S2 = 5.0, 50_000.0  # what a table of this trade can have, and more; assumption
_USUAL_MM_S2 = 500.0  # an ordinary table's, to lay a first zig-zag out by; assumption
_WANTED_S = 30.0  # of a run: a thumb's error is then a small share of it
MOST_LEG_MM = 500.0  # that any table has room for; assumption
_MOST_LEGS = 400
_TOLD_SHARE = 0.35  # of an acceleration: with a wider sigma it is not told
_TELLING_SHARE = 0.1  # of the time of a run that must be run-up, or it tells none
_RAMP = (0.2, 0.8)  # of the steady feed: between these a recording's ramp is straight


@dataclass(frozen=True)
class ZigZag:
    """Legs there and back on themselves at one speed, and the seconds that a watch showed for all of them."""

    legs: int
    leg_mm: float
    speed_mm_min: float
    seconds: float
    u_s: float = STOPWATCH_U_S

    @property
    def at_speed_s(self) -> float:
        """What all legs would take without any run-up."""
        return 60 * self.legs * self.leg_mm / self.speed_mm_min


def leg_s(leg_mm: float, speed_mm_min: float, acceleration_mm_s2: float) -> float:
    """Seconds of a leg from rest to rest."""
    v = speed_mm_min / 60
    if leg_mm >= v**2 / acceleration_mm_s2:
        return v / acceleration_mm_s2 + leg_mm / v
    return 2 * math.sqrt(leg_mm / acceleration_mm_s2)


def telling_zig_zag(
    speed_mm_min: float, guess_mm_s2: float = _USUAL_MM_S2, most_mm: float = MOST_LEG_MM
) -> tuple[int, float]:
    """Legs and their length for a zig-zag that tells: as long as the run-up and the run-down take, so that half of
    the time is acceleration, and so many that it lasts half a minute. No longer than a table has room for."""
    v = speed_mm_min / 60
    leg = min(most_mm, max(10.0, 5.0 * round(v**2 / guess_mm_s2 / 5.0)))
    legs = math.ceil(_WANTED_S / leg_s(leg, speed_mm_min, guess_mm_s2))
    return min(_MOST_LEGS, legs + legs % 2), leg


@dataclass(frozen=True)
class RunUp:
    """What was found. ``low`` and ``high`` hold nine times of ten; ``value`` None: only that it is at least ``low``.

    ``pause_s`` is what the controller adds at each turn, None where one speed alone was timed.
    """

    value_mm_s2: float | None
    low_mm_s2: float
    high_mm_s2: float | None
    pause_s: float | None
    why: str


_NINE_OF_TEN = 1.645


def told(value: float, low: float, high: float) -> float:
    """An acceleration to the figure that its range can tell."""
    step = 10.0 ** math.floor(math.log10(max((high - low) / 2, 1.0)))
    return step * round(value / step)


def figure_of(value: float, low: float, high: float) -> str:
    """An acceleration with its range, without false precision."""
    least, most = (acceleration(told(v, low, high)) for v in (low, high))
    return f"{acceleration(told(value, low, high))}, between {least} and {most} nine times of ten"


def acceleration_by_watch(runs: Sequence[ZigZag]) -> RunUp:
    """The acceleration of runs that were timed. Raises TradeError, naming the field, for what no machine can do."""
    if not runs:
        raise TradeError("seconds", "run a zig-zag and time it: nothing was timed.")
    for run in runs:
        _check_possible(run)
    found = _with_pause(runs) if len({(r.speed_mm_min, r.leg_mm) for r in runs}) > 1 else None
    return found or _from_one(runs)


def _check_possible(run: ZigZag) -> None:
    if run.legs < 2 or run.leg_mm <= 0 or run.speed_mm_min <= 0:
        raise TradeError("legs", "a zig-zag has at least two legs of some length, and a speed.")
    slack = 3 * run.u_s
    if run.seconds + slack < run.at_speed_s:
        raise TradeError(
            "seconds",
            f"{seconds(run.seconds)} is less than {run.legs} legs of {length(run.leg_mm)} take at {speed(run.speed_mm_min)} without any "
            f"run-up, {seconds(run.at_speed_s)}: is the feed turned up, or were fewer legs run?",
        )
    if run.seconds - slack > run.legs * leg_s(run.leg_mm, run.speed_mm_min, LEAST_MM_S2):
        raise TradeError(
            "seconds",
            f"{seconds(run.seconds)} is more than any table takes for {run.legs} legs of {length(run.leg_mm)}: was the feed turned "
            "down, or the watch stopped late?",
        )


def _from_one(runs: Sequence[ZigZag]) -> RunUp:
    """The same zig-zag, timed once or several times: their mean time, solved for the acceleration."""
    run = runs[0]
    mean = sum(r.seconds for r in runs) / len(runs)
    u = math.sqrt(sum(r.u_s**2 for r in runs)) / len(runs)
    low = _solved(run, mean + _NINE_OF_TEN * u)
    high = _solved(run, mean - _NINE_OF_TEN * u)
    value = _solved(run, mean)
    if value is None or high is None or u / max(mean - run.at_speed_s, 1e-9) > _TOLD_SHARE:
        legs, leg = telling_zig_zag(run.speed_mm_min, value or 4 * _USUAL_MM_S2)
        least = low or LEAST_MM_S2
        return RunUp(
            None,
            least,
            None,
            None,
            f"At least {acceleration(least)}: of this run too little is run-up to tell more. {legs} legs of {length(leg)} at "
            f"{speed(run.speed_mm_min)} would.",
        )
    return RunUp(
        value,
        low or LEAST_MM_S2,
        high,
        None,
        f"{figure_of(value, low or LEAST_MM_S2, high)}. A pause that "
        "the controller makes at each turn would look like this too: a second zig-zag at half the speed tells them apart.",
    )


def _solved(run: ZigZag, taken_s: float) -> float | None:
    """The acceleration at which a run takes so long; None where it is quicker than any."""
    from scipy.optimize import brentq  # noqa: PLC0415 (start-up time)

    def late(log_a: float) -> float:
        return run.legs * leg_s(run.leg_mm, run.speed_mm_min, math.exp(log_a)) - taken_s

    low, high = math.log(LEAST_MM_S2 / 2), math.log(MOST_MM_S2)
    if late(high) >= 0:
        return None
    if late(low) <= 0:
        return LEAST_MM_S2 / 2
    return math.exp(float(brentq(late, low, high)))


def _with_pause(runs: Sequence[ZigZag]) -> RunUp | None:
    """Acceleration and the pause at each turn, by least squares on the logarithm of the acceleration."""
    from scipy.optimize import least_squares  # noqa: PLC0415 (start-up time)

    def off(unknown: Array) -> Array:
        a, pause = math.exp(unknown[0]), unknown[1]
        return np.array(
            [(r.legs * (leg_s(r.leg_mm, r.speed_mm_min, a) + pause) - r.seconds) / r.u_s for r in runs]
        )

    bounds = ([math.log(LEAST_MM_S2 / 2), 0.0], [math.log(MOST_MM_S2), 2.0])
    best = min(
        (
            least_squares(off, [math.log(guess), 0.02], bounds=bounds)
            for guess in (50.0, 300.0, 1500.0, 6000.0)
        ),
        key=lambda found: found.cost,
    )
    log_a, pause = map(float, best.x)
    try:
        covariance = np.linalg.inv(best.jac.T @ best.jac)
    except np.linalg.LinAlgError:
        return None
    sd, pause_sd = math.sqrt(float(covariance[0, 0])), math.sqrt(float(covariance[1, 1]))
    if sd > _TOLD_SHARE:
        return None
    value = math.exp(log_a)
    low, high = math.exp(log_a - _NINE_OF_TEN * sd), math.exp(log_a + _NINE_OF_TEN * sd)
    said = (
        f"the controller adds {seconds(pause)} at each turn"
        if pause > 2 * pause_sd and pause >= 0.005
        else "no pause at the turns that these runs could tell"
    )
    return RunUp(
        value,
        low,
        high,
        pause,
        f"{figure_of(value, low, high)}; {said}.",
    )


def acceleration_by_feed(time_s: Array, feed_mm_min: Array) -> RunUp:
    """The acceleration of a recording that holds the feed: the slope of every ramp up from rest, and their median.

    ``time_s`` and ``feed_mm_min`` have shape (n,). Raises TradeError where it holds no ramp.
    """
    known = np.isfinite(feed_mm_min)
    t, v = time_s[known], feed_mm_min[known] / 60
    steady = float(np.percentile(v, 95)) if len(v) else 0.0
    if steady <= 0:
        raise TradeError(
            "feed_mm_min", "the recording holds no feed: an acceleration is read off its ramps."
        )
    slopes = list(_ramps(t, v, _RAMP[0] * steady, _RAMP[1] * steady))
    if not slopes:
        raise TradeError(
            "feed_mm_min",
            "the recording holds no ramp with three readings on it: record the feed more often, or at a higher speed.",
        )
    middle = float(np.median(slopes))
    spread = float(np.std(slopes, ddof=1)) / math.sqrt(len(slopes)) if len(slopes) > 1 else 0.15 * middle
    low, high = middle - _NINE_OF_TEN * spread, middle + _NINE_OF_TEN * spread
    ramps = "one ramp" if len(slopes) == 1 else f"{len(slopes)} ramps"
    return RunUp(
        middle,
        max(LEAST_MM_S2, low),
        high,
        None,
        f"{acceleration(told(middle, low, high))} from {ramps} of the feed, as the controller showed it: the torch itself may lag.",
    )


def _ramps(t: Array, v: Array, low: float, high: float) -> "list[float]":
    """Slopes of the stretches that rise from under ``low`` to over ``high`` without falling back."""
    found: list[float] = []
    begun: int | None = None
    for i in range(1, len(v)):
        if v[i] < low:
            begun = i
        elif v[i] >= high and begun is not None:
            inside = [k for k in range(begun, i + 1) if low <= v[k] <= high]
            if len(inside) >= 3:
                found.append(float(np.polyfit(t[inside], v[inside], 1)[0]))
            begun = None
    return [s for s in found if s > 0]


def holds_says(acceleration_mm_s2: float, speed_mm_min: float) -> str:
    """What that acceleration means for cuts at a speed: run-up, the smallest circle and the shortest straight at speed."""
    wanted = AT_SPEED * speed_mm_min
    radius = (wanted / 60) ** 2 / acceleration_mm_s2
    up = run_up_mm(wanted, acceleration_mm_s2)
    return (
        f"At {speed(speed_mm_min)} it needs {length(up)} to come to speed: straights under {size(2 * up, up=True)} and circles under "
        f"{size(2 * radius, up=True)} across never are."
    )
