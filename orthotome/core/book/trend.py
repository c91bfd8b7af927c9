"""Rows of the Book that break the trend of their neighbours: mistyped, or of another process.

Over thickness, speed and pierce delay run nearly as powers, voltage, kerf and heights nearly straight.
Each row is held against a smooth line through the *others* (a parabola where there are enough, in the
logarithm for speed and delay). The row that stands out most is named, set aside, and the rest looked at
again, so that one bad row does not accuse its neighbours.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from orthotome.core.book.start_rows import StartRow, StartValues, which_stands
from orthotome.core.quantities import length, seconds, speed, thickness, volts
from orthotome.core.stock.gauges import MM_PER_INCH

Array = NDArray[np.float64]

FEWEST_ROWS = 4  # with fewer, no trend is known that a row could break
_TIMES_SPREAD = 4.0  # so many times the others' own scatter is no scatter; assumption
_BLOCK = 40  # rows of neighbouring thickness that are looked at together; a manual has fewer
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
    say: Callable[[float], str]
    in_log: bool
    ordinary: float  # share in log, else in the unit
    share: float = 0.0  # and of the expected value, where it is not in log


_QUANTITIES = (
    _Quantity("speed_mm_min", "speed", speed, True, 0.18),
    _Quantity("arc_voltage_v", "arc voltage", volts, False, 5.0),
    _Quantity("cut_height_mm", "cut height", length, False, 0.3, 0.2),
    _Quantity("pierce_height_mm", "pierce height", length, False, 0.6, 0.25),
    _Quantity("pierce_delay_s", "pierce delay", seconds, False, 0.1, 0.35),
    _Quantity("kerf_mm", "kerf", length, False, 0.2, 0.1),
)

# Slips that a factor betrays. The first that fits within a tenth is named.
_SLIPS = (
    (1 / MM_PER_INCH, "it looks like inches taken as millimetres"),
    (MM_PER_INCH, "it looks converted from inches twice"),
    (0.001, "it looks like metres taken as millimetres"),
    (0.1, "a digit seems to be missing"),
    (10.0, "a digit seems to be too many"),
    (1 / 60, "it looks like per second where per minute stands"),
)


@lru_cache(maxsize=4000)
def breaks_of(page: tuple[StartRow, ...]) -> tuple[TrendBreak, ...]:
    """The same of a page's rows; a page that was judged is not judged again."""
    return trend_breaks(page)


def trend_breaks(rows: Sequence[StartRow]) -> tuple[TrendBreak, ...]:
    """What breaks the trend of rows of one metal, set, amperage and gas: numbers out of line (none under four
    rows), and two rows for one thickness."""
    found: list[TrendBreak] = _doubled(rows)
    for quantity in _QUANTITIES:
        found += _breaks_of(rows, quantity)
    return tuple(sorted(found, key=lambda b: b.index))


def _doubled(rows: Sequence[StartRow]) -> list[TrendBreak]:
    """The later of every two rows that stand for one process and thickness and say something else."""
    found = []
    order = sorted(range(len(rows)), key=lambda i: rows[i].thickness_mm)
    for one, other in pairwise(order):
        early, late = sorted((one, other))
        before, after = rows[early], rows[late]
        if before.place == after.place and before.values != after.values:
            at, said = after.thickness_mm, which_stands(before, after)
            found.append(TrendBreak(late, "thickness_mm", at, before.thickness_mm, said))
    return found


def _breaks_of(rows: Sequence[StartRow], quantity: _Quantity) -> list[TrendBreak]:
    def number(values: StartValues) -> float | None:
        given: float | None = getattr(values, quantity.field)
        return None if given is not None and quantity.in_log and given <= 0 else given

    told = [(i, r.thickness_mm, v) for i, r in enumerate(rows) if (v := number(r.values)) is not None]
    told.sort(key=lambda point: point[1])
    found = []
    blocks = max(1, round(len(told) / _BLOCK))
    for at in np.array_split(np.arange(len(told)), blocks):
        found += _breaks_in([told[k] for k in at], quantity)
    return found


def _breaks_in(at: list[tuple[int, float, float]], quantity: _Quantity) -> list[TrendBreak]:
    """The rows of one block that stand out, the worst first, each set aside before the next is sought."""
    most = math.floor(_MOST_SHARE * len(at))
    found: list[TrendBreak] = []
    while len(at) >= FEWEST_ROWS and len(found) < most:
        times, expected = _out_of_line(at, quantity)
        worst = int(np.argmax(times))
        if times[worst] <= 1:
            break
        index, thickness_mm, value = at.pop(worst)
        found.append(_named(index, thickness_mm, value, float(expected[worst]), quantity))
    return found


def _out_of_line(at: Sequence[tuple[int, float, float]], quantity: _Quantity) -> tuple[Array, Array]:
    """(how far out each row is as a multiple of what is allowed, what the others say of it), (rows,) each.

    Leaving a row out of a least-squares fit needs no second fit: with residuals e and the hat matrix H,
    its own error becomes e_i / (1 - h_ii), and another row's residual e_j + h_ji e_i / (1 - h_ii).
    """
    thickness = np.array([t for _, t, _ in at])
    value = np.array([v for _, _, v in at])
    x = np.log(thickness) if quantity.in_log else thickness
    y = np.log(value) if quantity.in_log else value
    degree = 2 if len(at) >= FEWEST_ROWS + 2 else 1
    basis = np.linalg.qr(np.vander((x - x.mean()) / (np.ptp(x) or 1.0), degree + 1))[0]
    hat = basis @ basis.T
    residual = y - hat @ y
    off = residual / np.maximum(1 - np.diag(hat), 1e-6)
    others = np.abs(residual[:, None] + hat * off[None, :])
    np.fill_diagonal(others, np.nan)
    scatter = 1.48 * np.nanmedian(others, axis=0)
    expected = y - off
    outermost = (x == x.min()) | (x == x.max())
    ordinary = quantity.ordinary + quantity.share * np.abs(expected)
    # Beyond the others the line is carried on, and knows less.
    allowed = np.maximum(ordinary * np.where(outermost, 2.0, 1.0), _TIMES_SPREAD * scatter)
    return np.abs(off) / allowed, np.exp(expected) if quantity.in_log else expected


def _named(
    index: int, thickness_mm: float, value: float, expected: float, quantity: _Quantity
) -> TrendBreak:
    slip = ""
    if expected > 0 and value > 0:
        fits = [says for factor, says in _SLIPS if abs(math.log(value / expected / factor)) < 0.2]
        slip = f": {fits[0]}" if fits else ""
    sentence = (
        f"{thickness(thickness_mm)}: {quantity.label} {quantity.say(value)} breaks the trend of the other "
        f"rows, which say about {quantity.say(expected)}{slip}. Check it against its source."
    )
    return TrendBreak(index, quantity.field, value, expected, sentence)
