"""Choosing the set: every process side by side for one metal and thickness, on one machine.

A *process* is a set of parts at an amperage with its gases. Schools differ: one set at full amperage for
everything, a set for the job, or the big nozzle very fast on large outlines. The same table serves all:
what each process asks for, what the machine reaches of it on the part's features, what edge it leaves,
and what it costs.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from orthotome.core.book.beginning import begin
from orthotome.core.book.start_rows import StartingNumbers, StartRow
from orthotome.core.choose.capability import UNWRITTEN, Ability, Capability, ability
from orthotome.core.edge.squareness import range_of_bevel
from orthotome.core.machine.gas_supply import (
    not_carried_says,
    not_plumbed_says,
    not_priced_says,
    of_process,
)
from orthotome.core.machine.hole_rules import good_hole_mm, least_at_speed_mm
from orthotome.core.machine.motion import (
    share_of_circle_at_speed,
    share_of_straight_at_speed,
    too_fast_says,
)
from orthotome.core.quantities import thickness


@dataclass(frozen=True)
class Look:
    """What an edge looks like: claimed by a book, or measured here. None is "not said"."""

    bevel_deg: float | None = None
    bottom_dross_grade: int | None = None
    top_dross_grade: int | None = None
    colour: str | None = None
    rounding: str | None = None
    lag_deg: float | None = None


UNSAID = Look()
"""No word on how the edge looks."""


@dataclass(frozen=True)
class Measured:
    """What the shop's own recipe at or near this thickness proved."""

    look: Look
    speed_mm_min: float
    thickness_mm: float
    cuts: int
    title: str


@dataclass(frozen=True)
class Process:
    """A set at an amperage with its gases, and what is written down about it in one metal."""

    torch_set: str
    amperage_a: float
    gas: str
    shield_gas: str
    rows: tuple[StartRow, ...]
    capability: Capability = UNWRITTEN
    claim: Look = UNSAID
    claim_source: str = ""
    gas_l_min: float | None = None
    parts_cost: float | None = None  # of one set of parts
    parts_starts: int | None = None  # that it lasts
    measured: Measured | None = None


@dataclass(frozen=True)
class Machine:
    """What the table holds; None is "not known"."""

    acceleration_mm_s2: float | None = None
    fastest_mm_min: float | None = None
    hour_cost: float | None = None
    gases: tuple[str, ...] = ()  # that are plumbed, where its page says so
    delivery_l_min: float | None = None  # of free air


@dataclass(frozen=True)
class Feature:
    """What the part is made of: a straight of some length, a circle of some diameter."""

    straight_mm: float
    circle_mm: float


@dataclass(frozen=True)
class Option:
    """A process judged for the job. None is "cannot be told", and ``notes`` says what would tell."""

    process: Process
    ability: Ability
    start: StartingNumbers
    speed_mm_min: float | None
    kerf_mm: float | None
    look: Look
    measured: bool
    edge_range: int | None
    smallest_hole_mm: float
    straight_share: float | None
    circle_share: float | None
    cost_per_m: float | None
    gas_l_per_m: float | None
    notes: tuple[str, ...]
    beyond_machine: bool = (
        False  # it asks for more speed than the table runs, or for a gas that it has not
    )

    @property
    def usable(self) -> bool:
        """Whether it can cut the job at all, with numbers to start from."""
        return self.ability.code not in ("refuse", "sever") and self.speed_mm_min is not None


def judge_processes(
    processes: Sequence[Process], *, metal: str, thickness_mm: float, machine: Machine, feature: Feature
) -> tuple[Option, ...]:
    """Every process as an option, usable ones first, then by the speed that the part really gets."""
    options = [_option(p, metal, thickness_mm, machine, feature) for p in processes]
    can = [o.process.torch_set for o in options if o.usable and not o.beyond_machine]
    options = [_named_instead(o, machine, can) if o.beyond_machine else o for o in options]
    return tuple(
        sorted(options, key=lambda o: (not o.usable, o.beyond_machine, -(o.speed_mm_min or 0.0)))
    )


def _named_instead(option: Option, machine: Machine, can: Sequence[str]) -> Option:
    """An option that is faster than the machine, with the sets whose speed it has."""
    if (option.speed_mm_min or 0.0) <= (machine.fastest_mm_min or math.inf):
        return option
    others = [f"the {name}" for name in dict.fromkeys(can)]
    said = too_fast_says(option.speed_mm_min or 0.0, machine.fastest_mm_min or 0.0, others)
    return replace(option, notes=(said, *option.notes))


def _option(
    process: Process, metal: str, thickness_mm: float, machine: Machine, feature: Feature
) -> Option:
    start = begin(process.rows, metal=metal, thickness_mm=thickness_mm, torch_set=process.torch_set)
    measured = process.measured
    speed = measured.speed_mm_min if measured else start.values.speed_mm_min if start.values else None
    look = measured.look if measured else process.claim
    gases = of_process(process.gas, process.shield_gas)
    plumbed = not_plumbed_says(gases, machine.gases)
    cost = _cost_per_m(process, speed, machine)
    supply = (
        not_carried_says(gases, process.gas_l_min, machine.delivery_l_min),
        None if cost is None else not_priced_says(gases),
    )
    notes = (*([plumbed] if plumbed else []), *start.warnings, *filter(None, supply))
    straight = circle = None
    if speed is not None and machine.acceleration_mm_s2 is not None:
        reached = min(speed, machine.fastest_mm_min or speed)
        if reached < speed:
            straight = circle = 0.0
        else:
            a = machine.acceleration_mm_s2
            straight = share_of_straight_at_speed(feature.straight_mm, speed, a)
            circle = share_of_circle_at_speed(feature.circle_mm, speed, a)
    return Option(
        process=process,
        ability=ability(process.capability, thickness_mm),
        start=start,
        speed_mm_min=speed,
        kerf_mm=start.values.kerf_mm if start.values else None,
        look=look,
        measured=measured is not None,
        edge_range=_edge_range(look.bevel_deg, thickness_mm),
        smallest_hole_mm=_smallest_hole_mm(thickness_mm, speed, machine),
        straight_share=straight,
        circle_share=circle,
        cost_per_m=cost,
        gas_l_per_m=_gas_per_m(process, speed),
        notes=notes,
        beyond_machine=plumbed is not None
        or (speed is not None and speed > (machine.fastest_mm_min or speed)),
    )


def _edge_range(bevel_deg: float | None, thickness_mm: float) -> int | None:
    """Range of ISO 9013; None where the bevel is not said, or past the standard's 100 mm."""
    if bevel_deg is None or thickness_mm > 100:
        return None
    return range_of_bevel(bevel_deg, thickness_mm)


def _smallest_hole_mm(thickness_mm: float, speed_mm_min: float | None, machine: Machine) -> float:
    """The smallest that is no doubtful hole, and that the machine runs round at a hole's speed."""
    jet = good_hole_mm(thickness_mm)
    if speed_mm_min is None or machine.acceleration_mm_s2 is None:
        return jet
    return max(jet, least_at_speed_mm(speed_mm_min, machine.acceleration_mm_s2))


def _cost_per_m(process: Process, speed_mm_min: float | None, machine: Machine) -> float | None:
    """Machine time and parts for a metre cut with one start; None while a price is missing."""
    if speed_mm_min is None or machine.hour_cost is None:
        return None
    if process.parts_cost is None or not process.parts_starts:
        return None
    return machine.hour_cost / 60 * 1000 / speed_mm_min + process.parts_cost / process.parts_starts


def _gas_per_m(process: Process, speed_mm_min: float | None) -> float | None:
    if speed_mm_min is None or process.gas_l_min is None:
        return None
    return process.gas_l_min * 1000 / speed_mm_min


def is_plasma_right(thickness_mm: float, metal: str, bevel_deg: float | None) -> str | None:
    """A rough word where another process would serve better; None where plasma is at home.

    Bounds are assumptions from common shop practice, not limits.
    """
    if metal == "mild_steel" and thickness_mm > 40:
        return "Thick mild steel: oxy-fuel cuts it squarer and cheaper, if it may be slow."
    if thickness_mm < 1.0:
        return "Thin and fine work is a laser's: plasma warps it, and few tables hold the speed."
    if bevel_deg is not None and bevel_deg < 1.0:
        return (
            f"Under 1° on every edge is at plasma's limit: laser to about {thickness(20.0)}, or water jet where it must "
            "be square and cold. Plasma gives speed at a cost between them."
        )
    return None
