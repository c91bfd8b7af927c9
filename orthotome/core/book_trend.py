"""Rows of the Book that break the trend of their neighbours: mistyped, or of another process.

Over thickness, speed and pierce delay run nearly as powers, voltage, kerf and heights nearly straight.
Each row is held against a smooth line through the *others* (a parabola where there are enough, in the
logarithm for speed and delay). The row that stands out most is named, set aside, and the rest looked at
again, so that one bad row does not accuse its neighbours.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from orthotome.core.gauges import MM_PER_INCH
from orthotome.core.start_rows import StartRow, StartValues

FEWEST_ROWS = 4  # with fewer, no trend is known that a row could break
_TIMES_SPREAD = 4.0  # so many times the others' own scatter is no scatter; assumption
_MOST_SHARE = 0.34  # of the rows may be named; with more, there is no trend to break


@dataclass(frozen=True)
class TrendBreak:
    """A number of a row that its neighbours do not bear out."""

    index: int  # of the row in the list given
    quantity: str  # field name, with its unit
    value: float
    expected: float
    sentence: str


@dataclass(frozen=True)
class _Quantity:
    """How a number runs over thickness, and how much off is still ordinary."""

    field: str
    label: str
    unit: str
    in_log: bool
    ordinary: float  # share in log, else in the unit
    share: float = 0.0  # and of the expected value, where it is not in log


_QUANTITIES = (
    _Quantity("speed_mm_min", "speed", "mm/min", True, 0.18),
    _Quantity("arc_voltage_v", "arc voltage", "V", False, 5.0),
    _Quantity("cut_height_mm", "cut height", "mm", False, 0.3, 0.2),
    _Quantity("pierce_height_mm", "pierce height", "mm", False, 0.6, 0.25),
    _Quantity("pierce_delay_s", "pierce delay", "s", False, 0.1, 0.35),
    _Quantity("kerf_mm", "kerf", "mm", False, 0.2, 0.1),
)

# Slips that a factor betrays. The first that fits within a tenth is named.
_SLIPS = (
    (1 / MM_PER_INCH, "it looks like inches where millimetres stand"),
    (MM_PER_INCH, "it looks converted from inches twice"),
    (0.001, "it looks like metres where millimetres stand"),
    (0.1, "a digit seems to be missing"),
    (10.0, "a digit seems to be too many"),
    (1 / 60, "it looks like per second where per minute stands"),
)


def trend_breaks(rows: Sequence[StartRow]) -> tuple[TrendBreak, ...]:
    """Numbers that break the trend of rows of one metal, set, amperage and gas; none under four rows."""
    found: list[TrendBreak] = []
    for quantity in _QUANTITIES:
        found += _breaks_of(rows, quantity)
    return tuple(sorted(found, key=lambda b: b.index))


def _breaks_of(rows: Sequence[StartRow], quantity: _Quantity) -> list[TrendBreak]:
    def number(values: StartValues) -> float | None:
        given: float | None = getattr(values, quantity.field)
        return None if given is not None and quantity.in_log and given <= 0 else given

    at = [(i, r.thickness_mm, v) for i, r in enumerate(rows) if (v := number(r.values)) is not None]
    most = math.floor(_MOST_SHARE * len(at))
    found: list[TrendBreak] = []
    while len(at) >= FEWEST_ROWS and len(found) < most:
        worst = max(range(len(at)), key=lambda k: _out_of_line(at, k, quantity)[0])
        times, expected = _out_of_line(at, worst, quantity)
        if times <= 1:
            break
        index, thickness_mm, value = at.pop(worst)
        found.append(_named(index, thickness_mm, value, expected, quantity))
    return found


def _out_of_line(
    at: Sequence[tuple[int, float, float]], k: int, quantity: _Quantity
) -> tuple[float, float]:
    """(how far out, as a multiple of what is allowed; the value that the others would have)."""
    scale: Callable[[float], float] = math.log if quantity.in_log else float
    x = np.array([math.log(t) if quantity.in_log else t for _, t, _ in at])
    y = np.array([scale(v) for _, _, v in at])
    others = np.arange(len(at)) != k
    degree = 2 if others.sum() >= 5 else 1
    fit = np.polynomial.Polynomial.fit(x[others], y[others], degree)
    scatter = float(np.median(np.abs(y[others] - fit(x[others])))) * 1.48
    outside = x[k] < x[others].min() or x[k] > x[others].max()
    # Beyond the others the line is carried on, and knows less.
    expected = float(fit(x[k]))
    ordinary = quantity.ordinary + quantity.share * abs(expected)
    allowed = max(ordinary * (2.0 if outside else 1.0), _TIMES_SPREAD * scatter)
    return abs(float(y[k]) - expected) / allowed, math.exp(expected) if quantity.in_log else expected


def _plain(value: float) -> str:
    """Three figures, without an exponent."""
    return f"{float(f'{value:.3g}'):g}"


def _named(
    index: int, thickness_mm: float, value: float, expected: float, quantity: _Quantity
) -> TrendBreak:
    slip = ""
    if expected > 0 and value > 0:
        fits = [says for factor, says in _SLIPS if abs(math.log(value / expected / factor)) < 0.2]
        slip = f": {fits[0]}" if fits else ""
    sentence = (
        f"{thickness_mm:g} mm: {quantity.label} {value:g} {quantity.unit} breaks the trend of the other "
        f"rows, which say about {_plain(expected)}{slip}. Check it against its source."
    )
    return TrendBreak(index, quantity.field, value, expected, sentence)
