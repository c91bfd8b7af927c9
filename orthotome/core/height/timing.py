"""The timing of a start: pierce height, pierce delay, the way down, and when height control wakes.

From arc on: the torch stands at pierce height for the pierce delay, comes down to cut height while it begins to
move, and the voltage settles. Height control may wake only then. What is cut until it wakes is cut *blind*: it is as
high as touch-off made it (domain section 9). Features shorter than that never see height control.
"""

import math
from dataclasses import dataclass, replace

from orthotome.core.errors import TradeError
from orthotome.core.machine.hole_rules import hole_speed_mm_min, least_at_speed_mm
from orthotome.core.machine.motion import (
    DelayOrigin,
    blind_length_mm,
    fastest_round_mm_min,
    run_up_mm,
)
from orthotome.core.quantities import length, seconds, size, spoken
from orthotome.core.stock.gauges import MM_PER_INCH

USUAL_Z_SPEED_MM_S = 40.0
"""Until the table's own is written down. Assumption."""
USUAL_SETTLING_S = 0.35
"""From cut height and full speed to volts at rest, where no trace has shown it. Assumption."""

SPLASH_PIERCE_HEIGHTS = 1.5  # how far a pierce splashes, in pierce heights; assumption
_STEP_S = 0.05
_AND_A_FIFTH = 1.2
_NOISE_SIGMAS, _LEAST_DEAD_BAND_V = 2.0, 0.2

# Diameters of rounds and sides of squares that a shop has a feeling for.
_USUAL_SIZES_MM = (10.0, 20.0, 40.0, 80.0), (25.0, 50.0, 100.0)
_USUAL_SIZES_IN_MM = tuple(
    tuple(MM_PER_INCH * s for s in sizes) for sizes in ((0.5, 1.0, 2.0, 4.0), (1.0, 2.0, 4.0))
)


@dataclass(frozen=True)
class StartJob:
    """A setting and a machine, for the timing of their starts."""

    thickness_mm: float
    speed_mm_min: float
    cut_height_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    acceleration_mm_s2: float
    slope_v_per_mm: float
    z_speed_mm_s: float = USUAL_Z_SPEED_MM_S
    delay_origin: DelayOrigin = "arc_strike"
    settled_after_s: float | None = None  # from arc on, as a trace measured it
    noise_v: float | None = None
    hold_below_share: float | None = None  # by a recording; None: by what is usual of an arc

    def __post_init__(self) -> None:
        for name in (
            "speed_mm_min",
            "cut_height_mm",
            "acceleration_mm_s2",
            "z_speed_mm_s",
            "slope_v_per_mm",
        ):
            if not (math.isfinite(getattr(self, name)) and getattr(self, name) > 0):
                raise TradeError(name, "must be more than zero.")

    @property
    def drop_s(self) -> float:
        """Time from pierce height down to cut height."""
        return max(0.0, self.pierce_height_mm - self.cut_height_mm) / self.z_speed_mm_s

    @property
    def run_up_s(self) -> float:
        """Time from rest to speed."""
        return self.speed_mm_min / 60 / self.acceleration_mm_s2


@dataclass(frozen=True)
class StartTiming:
    """The timing worked out. Delays as the control counts them; ways in mm of cut."""

    control_delay_s: float
    settled_after_s: float  # from arc on
    measured: bool
    drop_s: float
    drop_mm: float  # of cut until it is at cut height
    run_up_s: float
    run_up_mm: float
    blind_s: float
    blind_mm: float
    lead_in_mm: float
    lead_in_why: str
    hold_below_share: float
    dead_band_v: float | None
    hole_speed_mm_min: float
    least_hole_mm: float  # the smallest that is at hole speed


def wakes_after_s(rest_after_s: float) -> float:
    """How long after the arc height control may wake: when the volts are at rest, and a fifth more."""
    return abs(round(math.ceil(_AND_A_FIFTH * rest_after_s / _STEP_S - 1e-9) * _STEP_S, 2))


def dead_band_v(noise_v: float) -> float:
    """Half of the dead band: two sigma of the arc's own noise, which no loop can cure."""
    return max(_LEAST_DEAD_BAND_V, round(_NOISE_SIGMAS * noise_v, 1))


USUAL_NOISE_V = 0.8  # of the arc, one sigma, where no recording shows it; assumption
HOLD_SHARES = (0.8, 0.95)
"""Between which shares of speed height is usually held (domain section 9)."""
TYPICAL_RISE_V = 7.0
"""Of the volts, from full speed to a stop; assumption, until a recording shows it."""


def hold_below(dead_band: float, rise_v: float = TYPICAL_RISE_V) -> float:
    """The share of speed under which height is held: from there on lost speed alone, at ``rise_v`` volts until the torch
    stands, lifts the volts out of half the dead band. In twentieths."""
    least, most = HOLD_SHARES
    return round(20 * min(most, max(least, 1 - dead_band / max(rise_v, 0.1)))) / 20


def start_timing(job: StartJob) -> StartTiming:
    """What the setting, the machine and its measured settling ask for."""
    measured = job.settled_after_s is not None
    settled = (
        job.settled_after_s
        if job.settled_after_s is not None
        else job.pierce_delay_s + max(job.drop_s, job.run_up_s) + USUAL_SETTLING_S
    )
    settled = max(settled, job.pierce_delay_s)
    wakes = wakes_after_s(settled)
    delay = wakes if job.delay_origin == "arc_strike" else wakes - job.pierce_delay_s
    speed = job.speed_mm_min / 60
    blind = blind_length_mm(job.speed_mm_min, delay, job.delay_origin, job.pierce_delay_s)
    run_up = run_up_mm(job.speed_mm_min, job.acceleration_mm_s2)
    drop_mm = way_in_mm(job.drop_s, speed, job.acceleration_mm_s2)
    splash = SPLASH_PIERCE_HEIGHTS * job.pierce_height_mm
    lead, why = max(
        (splash, "the splash of the pierce"),
        (drop_mm, "the way down to height"),
        (run_up, "the run-up to speed"),
    )
    return StartTiming(
        control_delay_s=round(delay, 3),
        settled_after_s=settled,
        measured=measured,
        drop_s=job.drop_s,
        drop_mm=drop_mm,
        run_up_s=job.run_up_s,
        run_up_mm=run_up,
        blind_s=blind / speed,
        blind_mm=blind,
        lead_in_mm=lead,
        lead_in_why=why,
        hold_below_share=job.hold_below_share
        or hold_below(dead_band_v(job.noise_v if job.noise_v is not None else USUAL_NOISE_V)),
        dead_band_v=None if job.noise_v is None else dead_band_v(job.noise_v),
        hole_speed_mm_min=hole_speed_mm_min(job.speed_mm_min),
        least_hole_mm=least_at_speed_mm(job.speed_mm_min, job.acceleration_mm_s2),
    )


def way_in_mm(time_s: float, speed_mm_s: float, acceleration_mm_s2: float) -> float:
    """Way gone from rest in a time."""
    ramp = speed_mm_s / acceleration_mm_s2
    if time_s <= ramp:
        return acceleration_mm_s2 * time_s**2 / 2
    return speed_mm_s**2 / (2 * acceleration_mm_s2) + speed_mm_s * (time_s - ramp)


@dataclass(frozen=True)
class Feature:
    """A feature of a part, and whether height control ever wakes on it."""

    name: str
    way_mm: float
    under_mm: float  # of it, under control
    why: str


def features(timing: StartTiming, job: StartJob) -> tuple[Feature, ...]:
    """Features of the usual sizes that will never be under control, or for how much of their way."""
    found = []
    rounds, squares = _USUAL_SIZES_IN_MM if spoken().in_inches else _USUAL_SIZES_MM
    for diameter in rounds:
        share = min(1.0, fastest_round_mm_min(diameter / 2, job.acceleration_mm_s2) / job.speed_mm_min)
        slow = share < timing.hold_below_share
        way = math.pi * diameter
        # A hole or an arc that never reaches the share is held throughout, whatever the delay.
        under = 0.0 if slow else max(0.0, way - timing.blind_mm)
        why = (
            f"a circle of {size(diameter)} holds {share:.0%} of the speed: held throughout"
            if slow
            else "shorter than the blind way"
            if under == 0
            else ""
        )
        found.append(Feature(f"outline Ø {size(diameter)}", way, under, why))
    for side in squares:
        way = 4 * side
        lost = 8 * run_up_mm(timing.hold_below_share * job.speed_mm_min, job.acceleration_mm_s2)
        under = max(0.0, way - max(timing.blind_mm, 0.0) - lost)
        why = "shorter than the blind way and its corners" if under == 0 else ""
        found.append(Feature(f"square {size(side)}", way, under, why))
    return tuple(found)


@dataclass(frozen=True)
class TradeOff:
    """One way to begin on thin, fast sheet: how high to pierce, and how long control waits."""

    name: str
    pierce_height_mm: float
    control_delay_s: float
    blind_mm: float
    drop_mm: float
    off_at_waking_v: float
    off_at_waking_mm: float
    why: str


def trade_offs(job: StartJob) -> tuple[TradeOff, ...]:
    """The ways to begin, worked out for this setting: pierce high and wake early, high and late, low and late.

    A pierce low over thin sheet leaves nothing to come down from, so that volts are at rest as soon as speed is; it
    costs spatter on the shield. Waking before the way down is over lets control answer volts that no height error
    made.
    """
    low = replace(job, pierce_height_mm=min(job.pierce_height_mm, 1.2 * job.cut_height_mm))
    told = job.settled_after_s
    if told is not None:
        # The measured settling holds for the height it was pierced at; what the way down took is not needed low.
        low = replace(
            low, settled_after_s=max(job.pierce_delay_s + low.run_up_s, told - job.drop_s + low.drop_s)
        )
    late, low_late = start_timing(job), start_timing(low)
    early_wait = job.run_up_s
    early = job.pierce_delay_s + early_wait if job.delay_origin == "arc_strike" else early_wait
    rest_mm = max(0.0, job.pierce_height_mm - job.cut_height_mm - job.z_speed_mm_s * early_wait)
    blind = blind_length_mm(job.speed_mm_min, early, job.delay_origin, job.pierce_delay_s)
    return (
        TradeOff(
            "as pierced now, wake at speed",
            job.pierce_height_mm,
            round(early, 3),
            blind,
            late.drop_mm,
            job.slope_v_per_mm * rest_mm,
            rest_mm,
            f"Control wakes {length(rest_mm)} too high and drives down by itself: a dive at the start."
            if rest_mm > 0.1
            else "The way down is over by then; only the arc’s own settling is not.",
        ),
        TradeOff(
            "as pierced now, wake when settled",
            job.pierce_height_mm,
            late.control_delay_s,
            late.blind_mm,
            late.drop_mm,
            0.0,
            0.0,
            f"Steady when it wakes, after {length(late.blind_mm)} of blind cut.",
        ),
        TradeOff(
            "pierce low, wake when settled",
            low.pierce_height_mm,
            low_late.control_delay_s,
            low_late.blind_mm,
            low_late.drop_mm,
            0.0,
            0.0,
            f"Hardly a way down: {seconds(job.drop_s - low.drop_s)} less to wait for, "
            "and more spatter on shield and nozzle. For thin sheet that is through at once.",
        ),
    )
