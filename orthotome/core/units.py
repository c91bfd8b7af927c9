"""Reading what an operator types, with its unit, into the units Orthotome keeps.

Kept units: mm, mm/min, V, s, deg, A. A speed in the wrong unit is a twenty-five-fold mistake, so a
unit may always be typed with the number, the unit used is always said back, and a value far outside
what it can mean is questioned rather than changed.
"""

import math
import re
from dataclasses import dataclass
from fractions import Fraction

from orthotome.core.errors import TradeError
from orthotome.core.stock.gauges import MM_PER_INCH, gauge_thickness_mm

# Factor from the unit to the kept unit of its quantity. Exact by definition of the inch (25.4 mm).
UNITS: dict[str, dict[str, float]] = {
    "length": {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": MM_PER_INCH, "ft": 304.8, "thou": 0.0254},
    "speed": {
        "mm/min": 1.0,
        "m/min": 1000.0,
        "mm/s": 60.0,
        "in/min": MM_PER_INCH,
        "in/s": 1524.0,
    },
    "voltage": {"V": 1.0},
    "time": {"s": 1.0, "ms": 0.001},
    "angle": {"deg": 1.0},
    "current": {"A": 1.0},
    "acceleration": {"mm/s2": 1.0, "m/s2": 1000.0, "in/s2": MM_PER_INCH},
    # Gauge pressure; 1 psi = 6.894757 kPa, 1 bar = 100 kPa. A flow of free gas; 1 ft3 = 28.316847 l.
    "pressure": {"kPa": 1.0, "bar": 100.0, "MPa": 1000.0, "psi": 6.894757},
    "flow": {"l/min": 1.0, "m3/h": 1000 / 60, "ft3/min": 28.316847, "ft3/h": 28.316847 / 60},
    "volume": {"l": 1.0, "m3": 1000.0, "gal": 3.785412, "ft3": 28.316847},  # US gallon
    "run": {"m": 1.0, "ft": 0.3048, "cm": 0.01, "in": 0.0254},
    "slope": {"V/mm": 1.0, "V/in": 1 / MM_PER_INCH},
    "temperature": {"C": 1.0, "F": 5 / 9},
}


@dataclass(frozen=True)
class Way:
    """How a shop says a quantity: in which unit, to how many decimals, and to how many from some value in that unit on.

    ``written`` is how the unit is written where that is not its name.
    """

    unit: str
    digits: int
    large: tuple[float, int] = (math.inf, 0)
    written: str = ""

    def digits_of(self, value: float) -> int:
        """Decimals for a value in the unit."""
        least, digits = self.large
        return digits if abs(value) >= least else self.digits

    @property
    def shown(self) -> str:
        """The unit as it is written."""
        return self.written or self.unit


SAID: dict[str, tuple[Way, ...]] = {
    "length": (Way("mm", 2, (100, 1)), Way("in", 3, (10, 1)), Way("thou", 0)),
    "speed": (Way("mm/min", 0), Way("in/min", 1, (40, 0)), Way("m/min", 2)),
    "pressure": (Way("kPa", 0), Way("psi", 0)),
    "flow": (Way("l/min", 0), Way("ft3/min", 1, written="ft³/min")),
    "volume": (Way("l", 0), Way("gal", 0)),
    "gas": (Way("l", 0), Way("ft3", 1, written="ft³")),
    "run": (Way("m", 1), Way("ft", 0)),
    "acceleration": (Way("mm/s2", 0, written="mm/s²"), Way("in/s2", 1, written="in/s²")),
    "slope": (Way("V/mm", 1), Way("V/in", 0)),
    "temperature": (Way("C", 1, written="°C"), Way("F", 0, written="°F")),
}
"""How each quantity is said, in a millimetre shop, in an inch shop, and by a unit of its own that a shop chose. Whatever
shows a number of these asks here; the front end has a copy that is written out of it."""
KIND_OF = {"gas": "volume"}
"""What a way of saying is measured in, where that is not its own name."""


def factor_of(quantity: str, unit: str) -> float:
    """The unit in the kept one."""
    return UNITS[KIND_OF.get(quantity, quantity)][unit]


def zero_of(unit: str) -> float:
    """What stands in the unit at the kept one's zero."""
    return _ZERO_OF.get(unit, 0.0)


_SELDOM = ("cm", "m", "ft")  # units of length that nobody at a table means where another was typed
_ZERO_OF = {"F": 32.0}  # what stands at the kept unit's zero

# What a number of the trade can mean, in the kept unit, lowest and highest; farther out it is questioned. Wide:
# from the thinnest sheet with the smallest set to plate that is only severed. Assumptions.
SENSE: dict[str, tuple[float, float]] = {
    "cut_speed": (60.0, 15_000.0),
    "thickness": (0.3, 160.0),
    "cut_height": (0.2, 15.0),
    "pierce_height": (0.5, 40.0),
    "pierce_delay": (0.0, 15.0),
    "kerf": (0.3, 12.0),
    "arc_voltage": (40.0, 300.0),
    "acceleration": (20.0, 20_000.0),
    "rapid": (300.0, 80_000.0),
}

# How people write them.
_SPELLINGS: dict[str, str] = {
    "inch": "in", "inches": "in", '"': "in", "in.": "in", "mil": "thou", "mils": "thou",
    "ipm": "in/min", "inpm": "in/min", "in/min": "in/min", "in./min": "in/min", '"/min': "in/min",
    "ips": "in/s", "mpm": "m/min", "mmpm": "mm/min", "mm/m": "mm/min",
    "v": "V", "volt": "V", "volts": "V", "sec": "s", "secs": "s", "seconds": "s",
    "mm/s²": "mm/s2", "m/s²": "m/s2", "in/s²": "in/s2", "kpa": "kPa", "bars": "bar", "mpa": "MPa", "psig": "psi", "barg": "bar",
    "lpm": "l/min", "l/m": "l/min", "m³/h": "m3/h", "cfm": "ft3/min", "scfm": "ft3/min",
    "cfh": "ft3/h", "scfh": "ft3/h", "ft³/min": "ft3/min", "ft³/h": "ft3/h", "feet": "ft", "v/mm": "V/mm", "v/in": "V/in",
    "°c": "C", "c": "C", "°f": "F", "f": "F", "litres": "l", "liters": "l", "gallons": "gal", "ft³": "ft3", "°": "deg", "degree": "deg", "degrees": "deg", "a": "A", "amp": "A", "amps": "A",
}  # fmt: skip

_GAUGE = re.compile(r"^(?:#\s*(\d+)|(\d+)\s*(?:ga|gauge|g)\.?)$")
_NUMBER = re.compile(
    r"^(?P<sign>[-+−]?)\s*(?:(?P<whole>\d+)[\s-]+(?P<num>\d+)/(?P<den>\d+)"
    r"|(?P<only_num>\d+)/(?P<only_den>\d+)"
    r"|(?P<decimal>\d+(?:[.,]\d+)?|[.,]\d+))"
    r"\s*(?P<unit>[a-z\"°./²³]*[23]?(?:/[a-z]+[23]?)?)$"
)


@dataclass(frozen=True)
class Quantity:
    """What was read: the value in the kept unit, the unit it was typed in, and any doubt about it.

    ``question`` is a sentence to put to the operator before the value is used, or None.
    """

    value: float
    typed_unit: str
    question: str | None = None


def unit_named(text: str) -> str | None:
    """The unit that people write so, in its own spelling (``ipm`` is ``in/min``); None where it is none known here."""
    known = {unit.lower(): unit for units in UNITS.values() for unit in units}
    plain = text.strip().lower()
    return _SPELLINGS.get(plain, known.get(plain))


def kept_unit(quantity: str) -> str:
    """The unit a quantity is kept in (the one with factor 1)."""
    return next(unit for unit, factor in UNITS[quantity].items() if factor == 1.0)


def read_quantity(
    text: str,
    quantity: str,
    *,
    default_unit: str,
    metal: str | None = None,
    expected: float | None = None,
    means: str | None = None,
    field: str = "value",
) -> Quantity:
    """Read text such as ``95 ipm``, ``0.07 in``, ``5/16``, ``14 ga`` or ``2.4 m/min``.

    A bare fraction of a length is inches (nobody writes 5/16 mm); any other bare number is in
    ``default_unit``. Gauges need ``metal``. ``expected`` (kept unit) is what the starting row says;
    a value more than three times off it either way is questioned, and the unit that would make it
    fit is named. ``means`` is a key of SENSE: beyond what such a number can mean it is questioned too.
    Raises TradeError naming ``field`` for text that is no such quantity.
    """
    cleaned = text.strip().lower()
    if quantity == "length" and (gauge := _GAUGE.match(cleaned)):
        if metal is None:
            raise TradeError(field, "choose the metal first: a gauge differs from metal to metal.")
        return Quantity(gauge_thickness_mm(metal, int(gauge[1] or gauge[2])), "ga")
    number, typed_unit, is_fraction = _split(cleaned, text, quantity, field, default_unit)
    if not typed_unit:
        typed_unit = "in" if is_fraction and quantity == "length" else default_unit
    factors = UNITS[quantity]
    if typed_unit not in factors:
        raise TradeError(field, f"“{typed_unit}” is not a unit of {quantity}: use {', '.join(factors)}.")
    # In fractions, so that 3/8 in is 9.525 mm and not a millionth of a millionth less.
    exact = (number - Fraction(str(_ZERO_OF.get(typed_unit, 0.0)))) * Fraction(str(factors[typed_unit]))
    value = float(exact)
    doubt = _doubt(float(number), value, typed_unit, quantity, expected)
    return Quantity(
        value, typed_unit, doubt or _nonsense(float(number), value, typed_unit, quantity, means)
    )


def _split(
    cleaned: str, text: str, quantity: str, field: str, default_unit: str
) -> tuple[Fraction, str, bool]:
    found = _NUMBER.match(cleaned)
    if found is None:
        example = _EXAMPLES.get(default_unit, "a number")
        raise TradeError(field, f"“{text.strip()}” is not a {quantity}: write {example}.")
    sign = -1 if found["sign"] in ("-", "−") else 1
    numerator, denominator = found["num"] or found["only_num"], found["den"] or found["only_den"]
    if numerator is None:
        number = Fraction(found["decimal"].replace(",", "."))
    elif int(denominator) == 0:
        raise TradeError(field, f"“{text.strip()}” divides by nothing.")
    else:
        number = int(found["whole"] or 0) + Fraction(int(numerator), int(denominator))
    if number > 1e300:
        raise TradeError(field, f"“{text.strip()}” is too large to be a {quantity}.")
    unit = found["unit"]
    return sign * number, _SPELLINGS.get(unit, unit), numerator is not None


_EXAMPLES = {
    "mm": "1.5, 0.06 in or 5/16",
    "in": "0.06, 1/16 or 1.5 mm",
    "thou": "60, 0.06 in or 1.5 mm",
    "mm/min": "2400, 95 in/min or 2.4 m/min",
    "m/min": "2.4, 2400 mm/min or 95 in/min",
    "in/min": "95 or 2.4 m/min",
}


def _nonsense(number: float, value: float, unit: str, quantity: str, means: str | None) -> str | None:
    """A question where a number is none that its quantity has in this trade."""
    if means is None:
        return None
    low, high = SENSE[means]
    if low <= value <= high:
        return None
    factors = UNITS[quantity]
    near = [u for u in factors if u not in (unit, *_SELDOM) and low <= number * factors[u] <= high]
    meant = f" Did you mean {number:g} {near[0]}?" if near else ""
    what = means.replace("_", " ")
    return (
        f"{number:g} {unit} is no usual {what}: {low / factors[unit]:.3g} to {high / factors[unit]:.3g} {unit} is."
        f"{meant}"
    )


def _doubt(number: float, value: float, unit: str, quantity: str, expected: float | None) -> str | None:
    if not expected or expected <= 0 or value <= 0 or 1 / 3 <= value / expected <= 3:
        return None
    factors = UNITS[quantity]
    # The unit that brings it nearest what was expected, if any brings it near at all.
    near = min(
        (u for u in factors if u not in _SELDOM),
        key=lambda u: abs(math.log(number * factors[u] / expected)),
    )
    meant = ""
    if near != unit and 1 / 3 <= number * factors[near] / expected <= 3:
        meant = f" Did you mean {number:g} {near}?"
    there = expected / factors[unit]
    return f"{number:g} {unit} is far from the {there:.3g} {unit} expected here.{meant}"
