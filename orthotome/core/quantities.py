"""The one way Orthotome says a quantity: in the shop's units, in the shop's own steps.

Every sentence of core, every sheet and comment asks here, so that no sentence holds a number with a fixed
unit. Which units are spoken is a matter of who listens, not of the computation: it is set once, at the door
(``speaking``), for all that is said within. Without it the units of the files are spoken: mm and mm/min.
"""

import math
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from fractions import Fraction

from orthotome.core.stock.gauges import MM_PER_INCH, gauge_of
from orthotome.core.stock.metals import metal_named
from orthotome.core.units import SAID, UNITS, Way, factor_of, kept_unit, zero_of


@dataclass(frozen=True)
class ShopUnits:
    """The units a shop thinks in; the rest follow from its length."""

    length: str = "mm"
    speed: str = "mm/min"

    @property
    def in_inches(self) -> bool:
        """Whether it is an inch shop."""
        return self.length != "mm"


METRIC, INCH = ShopUnits(), ShopUnits("in", "in/min")

_SPOKEN: ContextVar[ShopUnits] = ContextVar("spoken units", default=METRIC)


def spoken() -> ShopUnits:
    """The units spoken here."""
    return _SPOKEN.get()


def speak(units: ShopUnits) -> None:
    """Speak these from here on: for a door whose whole visit is one shop's."""
    _SPOKEN.set(units)


@contextmanager
def speaking(units: ShopUnits) -> Iterator[None]:
    """Everything said within is said in these units."""
    before = _SPOKEN.set(units)
    try:
        yield
    finally:
        _SPOKEN.reset(before)


def _way(quantity: str) -> Way:
    """How the shop says a quantity."""
    ways = SAID[quantity]
    if quantity in ("length", "speed"):
        own = spoken().length if quantity == "length" else spoken().speed
        return next(w for w in ways if w.unit == own)
    return ways[1 if spoken().in_inches else 0]


def _number(quantity: str, kept: float, *, trimmed: bool = True) -> str:
    """A kept value in the shop's unit, without it."""
    way = _way(quantity)
    value = kept / factor_of(quantity, way.unit) + zero_of(way.unit)
    digits = way.digits_of(value)
    return _plain(value, digits) if trimmed else f"{value:.{digits}f}"


def _said(quantity: str, kept: float) -> str:
    return f"{_number(quantity, kept)} {_way(quantity).shown}"


def unit_of(quantity: str) -> str:
    """The unit in which a shop writes such a quantity where it names none; the kept one where there is no other."""
    if quantity == "speed":
        return spoken().speed
    if quantity == "length":
        return "in" if spoken().in_inches else "mm"
    return _way(quantity).unit if quantity in SAID else kept_unit(quantity)


def unit_in_kept(quantity: str) -> float:
    """The shop's own unit of a quantity in the kept one: what the digits that are typed there count."""
    unit = spoken().length if quantity == "length" else unit_of(quantity)
    return UNITS[quantity][unit]


def height_step_mm() -> float:
    """The step of a cut height: what a hand can dial and a touch-off repeat. Assumption."""
    return 0.002 * MM_PER_INCH if spoken().in_inches else 0.05


def pierce_height_step_mm() -> float:
    """The step of a pierce height."""
    return 0.005 * MM_PER_INCH if spoken().in_inches else 0.1


def kerf_step_mm() -> float:
    """The step of a kerf: what callipers tell of a plasma kerf."""
    return 0.002 * MM_PER_INCH if spoken().in_inches else 0.05


def speed_step_mm_min(speed_mm_min: float) -> float:
    """The step a speed is set in: about half a per cent, never finer than 5 mm/min or half an inch."""
    fast = speed_mm_min >= 1000
    if spoken().in_inches:
        return MM_PER_INCH if fast else MM_PER_INCH / 2
    return 10.0 if fast else 5.0


def whole_size_mm(mm: float) -> float:
    """A part's size on the shop's round figures, never smaller: whole millimetres, eighths of an inch."""
    step = MM_PER_INCH / 8 if spoken().in_inches else 1.0
    return round(math.ceil(mm / step - 1e-9) * step, 6)


def hole_size_mm(mm: float) -> float:
    """A hole's diameter likewise: half millimetres, sixteenths of an inch."""
    step = MM_PER_INCH / 16 if spoken().in_inches else 0.5
    return round(math.ceil(mm / step - 1e-9) * step, 6)


def in_steps(value: float, step: float) -> float:
    """A value at the nearest step, so that 75 in/min is just that and 0.060 in is not 0.059."""
    return round(round(value / step) * step, 6)


def _plain(value: float, digits: int) -> str:
    """No more than so many decimals, none of them a trailing zero."""
    text = f"{value:.{digits}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text in ("-0", "") else text


def length_number(mm: float) -> str:
    """A length in the shop's unit, without it: hundredths of a millimetre, thousandths of an inch."""
    return _number("length", mm, trimmed=not spoken().in_inches)


def length(mm: float) -> str:
    """A length with its unit: 1.5 mm, 0.060 in."""
    return f"{length_number(mm)} {spoken().length}"


def size(*mm: float, up: bool = False) -> str:
    """Sizes of plates and parts, in whole millimetres or tenths of an inch, by ×; ``up`` rounds none down."""
    step_mm = MM_PER_INCH / 10 if spoken().in_inches else 1.0
    counts = [math.ceil(v / step_mm - 1e-9) if up else round(v / step_mm) for v in mm]
    if spoken().in_inches:
        return " × ".join(f"{n / 10:g}" for n in counts) + " in"
    return " × ".join(f"{n}" for n in counts) + " mm"


def reach(low_mm: float, high_mm: float) -> str:
    """From where to where something reaches, rounded outward: what is said of it is never less than what it needs."""
    unit = spoken().length
    step_mm, digits = {"in": (MM_PER_INCH / 100, 2), "thou": (MM_PER_INCH / 1000, 0)}.get(unit, (0.1, 1))
    per = {"in": 100, "thou": 1}.get(unit, 10)
    low, high = math.floor(low_mm / step_mm + 1e-6), math.ceil(high_mm / step_mm - 1e-6)
    return f"{low / per:.{digits}f} to {high / per:.{digits}f} {unit}"


def place(x_mm: float, y_mm: float) -> str:
    """A place on the plate or in a drawing."""
    digits, per, unit = (3, MM_PER_INCH, "in") if spoken().in_inches else (2, 1.0, "mm")
    return f"X {x_mm / per:.{digits}f}, Y {y_mm / per:.{digits}f} {unit}"


def thickness(mm: float, metal: str | None = None) -> str:
    """A plate's thickness as it is bought: a gauge stays a gauge, 3/8 in stays 3/8 in."""
    if not spoken().in_inches:
        return f"{_plain(mm, 2)} mm"
    gauge = gauge_of(metal, mm) if metal else None
    if gauge is not None:
        return f"{gauge} ga ({mm / MM_PER_INCH:.3f} in)"
    sixteenths = mm / MM_PER_INCH * 16
    if mm >= MM_PER_INCH / 8 - 1e-6 and abs(sixteenths - round(sixteenths)) < 0.001:
        whole, rest = divmod(Fraction(round(sixteenths), 16), 1)
        said = " ".join(str(n) for n in (whole, rest) if n)
        return f"{said} in"
    return f"{mm / MM_PER_INCH:.3f} in"


def plate(mm: float, metal: str) -> str:
    """A plate as it is asked for: its thickness and its metal."""
    return f"{thickness(mm, metal)} {metal_named(metal).label}"


def speed_number(mm_min: float) -> str:
    """A speed in the shop's unit, without it."""
    return _number("speed", mm_min)


def speed(mm_min: float) -> str:
    """A speed with its unit: 2100 mm/min, 75 in/min."""
    return _said("speed", mm_min)


def acceleration(mm_s2: float) -> str:
    """An acceleration with its unit."""
    return _said("acceleration", mm_s2)


def pressure(kpa: float) -> str:
    """A gauge pressure with its unit."""
    return _said("pressure", kpa)


def flow(l_min: float) -> str:
    """A flow of free gas with its unit."""
    return _said("flow", l_min)


def volume(litres: float) -> str:
    """A vessel's volume with its unit."""
    return _said("volume", litres)


def free_gas(litres: float) -> str:
    """A volume of gas at the air's pressure."""
    return _said("gas", litres)


def temperature(celsius: float) -> str:
    """A temperature with its unit."""
    return _said("temperature", celsius)


def degrees_between(celsius: float) -> str:
    """A difference of temperature."""
    return f"{_plain(celsius * 9 / 5, 0)} °F" if spoken().in_inches else f"{_plain(celsius, 1)} °C"


def run(metres: float) -> str:
    """A run of hose or of cut with its unit."""
    return _said("run", metres)


def slope(v_per_mm: float) -> str:
    """Volts for height."""
    return _said("slope", v_per_mm)


def volts(v: float) -> str:
    """An arc voltage with its unit."""
    return f"{_plain(v, 1)} V"


def seconds(s: float) -> str:
    """A short time with its unit."""
    return f"{_plain(s, 2)} s"


def length_rate(mm_s: float) -> str:
    """How fast Z moves, or a sheet rises under the torch."""
    return f"{mm_s / MM_PER_INCH:.2f} in/s" if spoken().in_inches else f"{_plain(mm_s, 1)} mm/s"


def duration(s: float) -> str:
    """How long a piece takes."""
    return f"{s:.0f} s" if s < 90 else f"{s / 60:.1f} min"


def chance_in_100(chance: float) -> int:
    """A chance as it is promised: never more than it is, and never a certainty."""
    return max(0, min(99, math.floor(100 * chance)))
