"""What is doubted of a starting row: against the rows beside it of the same process, and what cutting can be at all."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from math import exp, log

from orthotome.core.book.start_rows import StartRow
from orthotome.core.book.trend import trend_breaks
from orthotome.core.doubts import Doubt, Likely, doubt
from orthotome.core.quantities import length, seconds, speed, thickness, unit_in_kept, volts
from orthotome.core.units import SENSE

# Speed of steel plate at 1 A and 1 mm, and the factor by which other metals and makes lie off it. Assumptions.
_MM_MIN_PER_A, _ANY_METAL = 330.0, 5.0
_LOOKED_BACK = 8  # rows of one thickness (surfaces, beds) that are passed over for the next of another
_FALLS = 1.2  # power of thickness with which speed falls where only one row tells. Assumption


@dataclass(frozen=True)
class _Number:
    """How a number of rows is said, and how far from what its neighbours make of it is still ordinary: a factor
    between two of them, beside one, and an amount that is nothing in any case."""

    field: str
    means: str
    quantity: str
    say: Callable[[float], str]
    between: float
    beside: float
    nothing: float


_NUMBERS = (
    _Number("speed_mm_min", "cut_speed", "speed", speed, 1.6, 2.6, 0.0),
    _Number("arc_voltage_v", "arc_voltage", "voltage", volts, 1.12, 1.3, 0.0),
    _Number("cut_height_mm", "cut_height", "length", length, 1.6, 2.2, 0.3),
    _Number("pierce_height_mm", "pierce_height", "length", length, 1.6, 2.2, 0.6),
    _Number("pierce_delay_s", "pierce_delay", "time", seconds, 2.0, 3.0, 0.4),
    _Number("kerf_mm", "kerf", "length", length, 1.5, 2.0, 0.2),
)


def doubts_of_row(row: StartRow, rows: Sequence[StartRow]) -> tuple[Doubt, ...]:
    """What to ask of a row before it is kept, beside the others of its process; itself may be among them."""
    beside = [r for r in rows if _process(r) == _process(row) and not r.is_as_thick_as(row)]
    return tuple(d for i, d in doubts_of_rows([*beside, row]) if i == len(beside))


def doubts_of_rows(rows: Sequence[StartRow]) -> list[tuple[int, Doubt]]:
    """The same of all rows that are pasted, each with its place among them.

    What the Book's page would point at afterwards is asked about first: a row that breaks the trend of its process.
    Where there are too few rows for a trend, those next to it in thickness tell.
    """
    groups: dict[tuple[object, ...], list[int]] = {}
    for i, row in enumerate(rows):
        groups.setdefault(_process(row), []).append(i)
    found: list[tuple[int, Doubt]] = []
    for places in groups.values():
        places.sort(key=lambda i: rows[i].thickness_mm)
        told = {
            (places[b.index], b.quantity): b.sentence
            for b in trend_breaks([rows[i] for i in places])
            if b.quantity != "thickness_mm"  # two rows for one thickness are a question of their own
        }
        found += [(i, Doubt(quantity, said)) for (i, quantity), said in told.items()]
        for at, i in enumerate(places):
            thinner = _next_other(rows, places[:at][-_LOOKED_BACK:][::-1], rows[i])
            thicker = _next_other(rows, places[at + 1 : at + 1 + _LOOKED_BACK], rows[i])
            asked = _doubts(rows[i], thinner, thicker)
            found += [(i, d) for d in asked if (i, d.field) not in told]
    return sorted(found, key=lambda f: f[0])


def _process(row: StartRow) -> tuple[object, ...]:
    return row.metal, row.torch_set, row.amperage_a, row.gas


def _next_other(rows: Sequence[StartRow], places: Sequence[int], row: StartRow) -> StartRow | None:
    """The nearest row of another thickness."""
    return next((rows[i] for i in places if not rows[i].is_as_thick_as(row)), None)


def _doubts(row: StartRow, thinner: StartRow | None, thicker: StartRow | None) -> Iterator[Doubt]:
    for number in _NUMBERS:
        value: float | None = getattr(row.values, number.field)
        if value is None:
            continue
        likely = _likely(number, row, thinner, thicker)
        asked = doubt(value, likely, number.say, shown_in=unit_in_kept(number.quantity))
        if asked:
            yield Doubt(number.field, asked)
    pierce, cut = row.values.pierce_height_mm, row.values.cut_height_mm
    if pierce is not None and cut is not None and pierce < cut:
        said = f"{length(pierce)} to pierce at is below the cut height, {length(cut)}: molten metal is blown at the nozzle."
        yield Doubt("pierce_height_mm", f"{said} Are the two swapped?")


def _likely(
    number: _Number, row: StartRow, thinner: StartRow | None, thicker: StartRow | None
) -> Likely:
    told = [
        (r.thickness_mm, v, r)
        for r in (thinner, thicker)
        if r is not None and (v := getattr(r.values, number.field)) is not None
    ]
    low, high = SENSE[number.means]
    if not told or (any(v <= 0 for _, v, _ in told) and number.field != "pierce_delay_s"):
        if number.field == "speed_mm_min":
            return _usual_speed(row, low, high)
        about = (low * high) ** 0.5 if low else high / 4
        return Likely(low, high, about, f"{number.say(low)} to {number.say(high)} is what cutting has")
    values = [v for _, v, _ in told]
    if len(told) == 2:
        about = _between(row.thickness_mm, told[0][:2], told[1][:2])
        factor = number.between
    else:
        ratio = told[0][0] / row.thickness_mm
        falls = ratio**_FALLS if number.field == "speed_mm_min" else 1.0
        about, factor = values[0] * falls, number.beside
    rows = " and ".join(f"{thickness(t, row.metal)} has {number.say(v)}" for t, v, _ in told)
    return Likely(
        min(*values, about) / factor - number.nothing,
        max(*values, about) * factor + number.nothing,
        about,
        f"Beside it {rows}",
    )


def _usual_speed(row: StartRow, least: float, most: float) -> Likely:
    """What a speed lies between where no row stands beside it: as amperage and thickness have it, very wide."""
    about = _MM_MIN_PER_A * row.amperage_a / row.thickness_mm**_FALLS
    low, high = max(least, about / _ANY_METAL), min(most, about * _ANY_METAL)
    return Likely(
        low,
        high,
        about,
        f"{row.amperage_a:g} A cut {thickness(row.thickness_mm, row.metal)} of any metal at some {speed(low)} to {speed(high)}",
    )


def _between(at: float, one: tuple[float, float], other: tuple[float, float]) -> float:
    """A number between two rows, by the logs of both where neither is nothing."""
    (t0, v0), (t1, v1) = one, other
    share = (log(at) - log(t0)) / (log(t1) - log(t0))
    if v0 <= 0 or v1 <= 0:
        return v0 + share * (v1 - v0)
    return exp(log(v0) + share * (log(v1) - log(v0)))
