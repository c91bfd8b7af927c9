"""Air and gas: does the supply carry the cut, for how long, and is it dry.

Flows are litres of free air (at atmospheric pressure) a minute. Pressures are gauge, in kPa. What was
not given stays unknown: no answer is made up from a typical shop.
"""

import math
from dataclasses import dataclass
from typing import Literal

from orthotome.core.errors import TradeError
from orthotome.core.findings import Finding
from orthotome.core.quantities import (
    degrees_between,
    flow,
    free_gas,
    length,
    pressure,
    run,
    temperature,
    volume,
)

ATMOSPHERE_KPA = 101.325  # standard atmosphere
DELIVERY_FACTOR = 1.5  # delivery wanted over need, so that the compressor rests (domain section 12)
STARTS_AN_HOUR = 15  # of a piston compressor's motor that it bears; assumption, its manual rules
DRY_MARGIN_C = 10.0  # pressure dew point wanted below the coldest place in the line; assumption
_AIR_GAS_CONSTANT = 287.05  # J/(kg K), dry air
_HOSE_FRICTION = 0.025  # Darcy friction factor of a smooth hose in turbulent flow; within about a third
_ROOM_K = 293.0


@dataclass(frozen=True)
class AirSupply:
    """What feeds the source. None is "not known", never nothing."""

    need_l_min: float
    delivery_l_min: float | None = None
    tank_l: float | None = None
    cut_out_kpa: float | None = None
    cut_in_kpa: float | None = None
    least_kpa: float | None = None
    flowing_kpa: float | None = None
    hose_length_m: float | None = None
    hose_bore_mm: float | None = None
    dew_point_c: float | None = None
    coldest_c: float | None = None


AirSubject = Literal["delivery", "ride_through", "tank", "flowing_pressure", "hose", "dryness"]
AirVerdict = Literal["enough", "short", "unknown"]

SUBJECT_WORDS: dict[AirSubject, str] = {
    "delivery": "Delivery",
    "ride_through": "How long a cut",
    "tank": "Tank",
    "flowing_pressure": "Flowing pressure",
    "hose": "Hose",
    "dryness": "Dryness",
}
VERDICT_WORDS: dict[AirVerdict, str] = {"enough": "enough", "short": "short", "unknown": "not known"}


@dataclass(frozen=True)
class AirFinding(Finding[AirSubject]):
    """One question about the supply: answered well, badly, or not to be told from what is known."""

    verdict: AirVerdict = "unknown"
    said: str = ""


def _finding(subject: AirSubject, verdict: AirVerdict, why: str) -> AirFinding:
    title, said = SUBJECT_WORDS[subject], VERDICT_WORDS[verdict]
    return AirFinding(subject, why, title=title, verdict=verdict, said=said)


def ride_through_s(tank_l: float, start_kpa: float, least_kpa: float, deficit_l_min: float) -> float:
    """Seconds a tank carries a deficit of free air: V (p_start - p_min) / (p_atm x deficit).

    Infinite where there is no deficit. Raises TradeError for a start pressure not above the least.
    """
    if start_kpa <= least_kpa:
        raise TradeError("cut_in_kpa", "the tank's pressure must lie above the least the source needs.")
    if deficit_l_min <= 0:
        return math.inf
    return 60 * tank_l * (start_kpa - least_kpa) / (ATMOSPHERE_KPA * deficit_l_min)


def hose_drop_kpa(flow_l_min: float, length_m: float, bore_mm: float, inlet_kpa: float) -> float:
    """Pressure lost along a hose, by Darcy-Weisbach with the density at its inlet, within a third.

    drop = f (L/d) rho v^2 / 2, rho = p / (R T), v the free flow squeezed to the inlet's pressure. Where
    it comes out near the inlet's pressure the hose chokes, and the figure only says "far too thin".
    """
    absolute_pa = 1000 * (inlet_kpa + ATMOSPHERE_KPA)
    bore_m = bore_mm / 1000
    free_m3_s = flow_l_min / 60_000
    speed_m_s = free_m3_s * (1000 * ATMOSPHERE_KPA / absolute_pa) / (math.pi * bore_m**2 / 4)
    density = absolute_pa / (_AIR_GAS_CONSTANT * _ROOM_K)
    return _HOSE_FRICTION * length_m / bore_m * density * speed_m_s**2 / 2 / 1000


def least_tank_l(delivery_l_min: float, cut_out_kpa: float, cut_in_kpa: float) -> float:
    """The tank that keeps a compressor's motor within its starts an hour at half load, the worst case.

    The cycle is then p_atm-volumes of the band filled and emptied at half delivery:
    V = delivery x p_atm x 60 / (4 x starts an hour x band).
    """
    if cut_out_kpa <= cut_in_kpa:
        raise TradeError("cut_out_kpa", "the compressor stops at a higher pressure than it starts at.")
    return delivery_l_min * ATMOSPHERE_KPA * 60 / (4 * STARTS_AN_HOUR * (cut_out_kpa - cut_in_kpa))


def judge_air(supply: AirSupply) -> tuple[AirFinding, ...]:
    """Every question about the supply with its answer in a sentence and the numbers behind it."""
    found = [_delivery(supply), _ride_through(supply), _tank(supply)]
    found += [_flowing(supply), _hose(supply), _dryness(supply)]
    return tuple(found)


def _delivery(s: AirSupply) -> AirFinding:
    wanted = DELIVERY_FACTOR * s.need_l_min
    if s.delivery_l_min is None:
        return _finding(
            "delivery",
            "unknown",
            f"The compressor's delivery is not known: its plate tells, at {_kpa(s.least_kpa)}. Wanted is "
            f"{flow(wanted)} of free air, {DELIVERY_FACTOR:g} times the source's {flow(s.need_l_min)}.",
        )
    numbers = (
        f"{flow(s.delivery_l_min)} delivered against {flow(s.need_l_min)} needed while the arc is on; "
        f"{flow(wanted)} wanted"
    )
    if s.delivery_l_min >= wanted:
        return _finding("delivery", "enough", f"The compressor carries the source: {numbers}.")
    if s.delivery_l_min >= s.need_l_min:
        return _finding(
            "delivery", "short", f"The compressor carries the source, but never rests: {numbers}."
        )
    return _finding("delivery", "short", f"The compressor does not carry the source: {numbers}.")


def _ride_through(s: AirSupply) -> AirFinding:
    if s.delivery_l_min is None or s.tank_l is None or s.cut_in_kpa is None or s.least_kpa is None:
        return _finding(
            "ride_through",
            "unknown",
            "How long a cut the tank carries needs the delivery, the tank's volume, the pressure at which "
            "the compressor starts, and the least the source will take.",
        )
    deficit = s.need_l_min - s.delivery_l_min
    if deficit <= 0:
        return _finding(
            "ride_through", "enough", "The tank is never drawn down: delivery covers the need."
        )
    seconds = ride_through_s(s.tank_l, s.cut_in_kpa, s.least_kpa, deficit)
    return _finding(
        "ride_through",
        "short",
        f"From the pressure at which the compressor starts, the tank carries about {_span(seconds)} of "
        f"arc: {volume(s.tank_l)} from {pressure(s.cut_in_kpa)} to {pressure(s.least_kpa)}, {flow(deficit)} "
        "short. Longer cuts need a pause before them, or more delivery.",
    )


def _tank(s: AirSupply) -> AirFinding:
    if None in (s.tank_l, s.delivery_l_min, s.cut_out_kpa, s.cut_in_kpa):
        return _finding(
            "tank", "unknown", "Whether the tank is large enough needs both switching pressures."
        )
    assert s.tank_l and s.delivery_l_min and s.cut_out_kpa and s.cut_in_kpa
    least = least_tank_l(s.delivery_l_min, s.cut_out_kpa, s.cut_in_kpa)
    verdict: AirVerdict = "enough" if s.tank_l >= least else "short"
    says = "is large enough" if verdict == "enough" else "is small"
    return _finding(
        "tank",
        verdict,
        f"The tank of {volume(s.tank_l)} {says}: about {volume(least)} keeps this compressor under "
        f"{STARTS_AN_HOUR} starts an hour.",
    )


def _flowing(s: AirSupply) -> AirFinding:
    if s.flowing_kpa is None or s.least_kpa is None:
        return _finding(
            "flowing_pressure",
            "unknown",
            "The pressure at the source with the air flowing is not known: a gauge at its inlet tells, "
            "read while it purges. A gauge that stands still says little.",
        )
    numbers = (
        f"{pressure(s.flowing_kpa)} flowing against the {pressure(s.least_kpa)} the source will take"
    )
    if s.flowing_kpa >= s.least_kpa:
        return _finding("flowing_pressure", "enough", f"Pressure holds while it flows: {numbers}.")
    return _finding(
        "flowing_pressure",
        "short",
        f"Pressure falls too far while it flows: {numbers}. Look at filter, regulator and hose first.",
    )


def _hose(s: AirSupply) -> AirFinding:
    if s.hose_length_m is None or s.hose_bore_mm is None or s.cut_in_kpa is None:
        return _finding(
            "hose",
            "unknown",
            "What the hose loses needs its length, its bore, and the pressure at which the compressor "
            "starts.",
        )
    drop = hose_drop_kpa(s.need_l_min, s.hose_length_m, s.hose_bore_mm, s.cut_in_kpa)
    share = drop / s.cut_in_kpa
    numbers = (
        f"{run(s.hose_length_m)} of {length(s.hose_bore_mm)} bore at {flow(s.need_l_min)} loses about "
        f"{pressure(drop)} (within a third)"
    )
    if share > 0.8:
        numbers = (
            f"{s.hose_length_m:g} m of {s.hose_bore_mm:g} mm bore chokes at {s.need_l_min:.0f} l/min"
        )
    left = s.cut_in_kpa - drop
    if s.least_kpa is not None and left < s.least_kpa:
        return _finding("hose", "short", f"The hose is too thin or too long: {numbers}.")
    return _finding("hose", "short" if share > 0.1 else "enough", f"The hose: {numbers}.")


def _dryness(s: AirSupply) -> AirFinding:
    if s.dew_point_c is None or s.coldest_c is None:
        return _finding(
            "dryness",
            "unknown",
            "How dry the air is, is not known: the dryer's dew point under pressure tells, against the "
            "coldest place that the line passes. Until then: drain at the compressor and at the machine, "
            "and look for wet on a white paper held in the purge.",
        )
    margin = s.coldest_c - s.dew_point_c
    numbers = f"dew point {temperature(s.dew_point_c)} under pressure, coldest place {temperature(s.coldest_c)}"
    if margin >= DRY_MARGIN_C:
        return _finding("dryness", "enough", f"No water falls out on the way: {numbers}.")
    if margin > 0:
        return _finding(
            "dryness",
            "short",
            f"Barely dry: {numbers}. Wanted is {degrees_between(DRY_MARGIN_C)} between.",
        )
    return _finding(
        "dryness", "short", f"Water falls out in the line and pits electrodes: {numbers}. Dry it first."
    )


@dataclass(frozen=True)
class CylinderLife:
    """How far cylinders carry a job."""

    gas_l: float
    used_l: float
    minutes_of_flow: float
    enough: bool
    sentence: str


def cylinder_life(
    *,
    flow_l_min: float,
    arc_minutes: float,
    starts: int,
    water_l: float,
    pressure_kpa: float,
    least_kpa: float,
    cylinders: int = 1,
    flow_beside_arc_s: float = 10.0,
) -> CylinderLife:
    """Gas in cylinders against a job: arc time, and pre- and post-flow at each start.

    A cylinder of ``water_l`` litres at ``pressure_kpa`` gives water_l x (pressure - least) / p_atm of
    free gas: right within a few percent to about 20 MPa for nitrogen and argon (they are no ideal gas).
    """
    usable = cylinders * water_l * max(0.0, pressure_kpa - least_kpa) / ATMOSPHERE_KPA
    used = flow_l_min * (arc_minutes + starts * flow_beside_arc_s / 60)
    left = usable / flow_l_min
    numbers = f"about {free_gas(usable)} of free gas, {free_gas(used)} for the job"
    if usable >= used:
        says = f"The gas lasts the job: {numbers}."
    else:
        each = usable / cylinders
        # A cylinder that holds less than a litre is empty: no number of such would do.
        short = math.ceil(used / each) if each >= 1.0 else 0
        more = f" {short} such cylinders would." if short else ""
        says = f"The gas does not last the job: {numbers}, enough for {left:.0f} min of flow.{more}"
    return CylinderLife(usable, used, left, usable >= used, says)


def _kpa(value: float | None) -> str:
    return "the pressure the source asks" if value is None else pressure(value)


def _span(seconds: float) -> str:
    return f"{seconds:.0f} s" if seconds < 120 else f"{seconds / 60:.0f} min"
