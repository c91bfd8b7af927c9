"""What speed a machine reaches: the run-up to speed, short stretches, and small circles.

From rest speed ``v`` takes v^2 / 2a; a stretch shorter than v^2 / a never has full speed; an arc of
radius r holds at most sqrt(a r). Where the machine cannot, the cut is slower than its number: dross of
the slow kind and bevel in the detail.
"""

import math
from collections.abc import Sequence
from typing import Literal

from orthotome.core.errors import TradeError
from orthotome.core.quantities import size, speed

DelayOrigin = Literal["arc_strike", "start_of_motion"]

AT_SPEED = 0.9
"""Share of the commanded speed that counts as at speed: height holds begin below about it (domain
section 9, typical 80-95 %)."""


def run_up_mm(speed_mm_min: float, acceleration_mm_s2: float) -> float:
    """Way from rest to a speed: v^2 / 2a."""
    _refuse_no_acceleration(acceleration_mm_s2)
    return (speed_mm_min / 60) ** 2 / (2 * acceleration_mm_s2)


def blind_length_mm(
    speed_mm_min: float, delay_s: float, delay_origin: DelayOrigin, pierce_delay_s: float
) -> float:
    """Cut before height control follows: speed x (its delay - the time until motion begins).

    A delay that counts from arc strike runs while the torch still pierces (domain section 9).
    """
    moving = delay_s - pierce_delay_s if delay_origin == "arc_strike" else delay_s
    return speed_mm_min / 60 * max(0.0, moving)


def fastest_round_mm_min(radius_mm: float, acceleration_mm_s2: float) -> float:
    """The speed that an arc of that radius holds at most: sqrt(a r)."""
    _refuse_no_acceleration(acceleration_mm_s2)
    return 60 * math.sqrt(acceleration_mm_s2 * radius_mm)


def share_of_straight_at_speed(
    length_mm: float, speed_mm_min: float, acceleration_mm_s2: float, at_speed: float = AT_SPEED
) -> float:
    """Share of a straight, from rest to rest, that runs at speed: 1 - 2 run-ups over its length."""
    return max(0.0, 1 - 2 * run_up_mm(at_speed * speed_mm_min, acceleration_mm_s2) / length_mm)


def share_of_circle_at_speed(
    diameter_mm: float, speed_mm_min: float, acceleration_mm_s2: float, at_speed: float = AT_SPEED
) -> float:
    """Share of a circle that runs at speed: none where its radius does not hold that speed.

    The lead-in from the middle, half a radius long and more, counts toward the run-up; the stop at the
    end is in the overrun.
    """
    wanted = at_speed * speed_mm_min
    if fastest_round_mm_min(diameter_mm / 2, acceleration_mm_s2) < wanted:
        return 0.0
    left = max(0.0, run_up_mm(wanted, acceleration_mm_s2) - diameter_mm / 4)
    return max(0.0, 1 - left / (math.pi * diameter_mm))


def _refuse_no_acceleration(acceleration_mm_s2: float) -> None:
    if acceleration_mm_s2 <= 0:
        raise TradeError("acceleration_mm_s2", "must be more than zero.")


LONG_RUN_MM = 80.0
"""A straight that must be longer than that to be cut at speed is longer than most of a part's; assumption."""


def long_run_says(asked_mm_min: float, acceleration_mm_s2: float) -> str | None:
    """The sentence where a machine comes to a speed on long straights only (v^2/a from rest to rest); else None."""
    needs = 2 * run_up_mm(asked_mm_min, acceleration_mm_s2)
    if needs <= LONG_RUN_MM:
        return None
    return (
        f"This table comes to {speed(asked_mm_min)} on straights longer than {size(needs, up=True)} only, by its acceleration: "
        "shorter ones are cut slower than the number. Which set? shows what each set reaches on your part."
    )


def too_fast_says(asked_mm_min: float, fastest_mm_min: float, others: Sequence[str] = ()) -> str:
    """That a machine cannot run what a set asks for, and the sets that ask for less."""
    can = f" Here {' and '.join(others)} would not ask for more than it has." if others else ""
    return (
        f"This table stops at {speed(fastest_mm_min)}, by its page, and these numbers ask for {speed(asked_mm_min)}: it "
        f"cannot. Slower means slow-speed dross and another bevel; a set of less amperage is made for less speed.{can}"
    )
