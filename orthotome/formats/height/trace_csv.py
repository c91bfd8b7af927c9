"""Traces as CSV: ``time_s``, ``arc_voltage_v`` and any of ``z_mm``, ``feed_mm_min``, ``set_point_v``, ``control_on``.

Any order of columns, any delimiter of a spreadsheet, decimal points or commas, empty cells. A file with other
headings is read by a match of its columns, each with the unit it is in; a suggestion is made from the headings.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.height.trace import MOST_SAMPLES, Array, Trace
from orthotome.core.height.trace_report import read_trace
from orthotome.core.units import UNITS, unit_named
from orthotome.formats.height.csv_layout import Layout, laid_out
from orthotome.formats.height.moments import since_the_first
from orthotome.formats.reading import FileError

LARGEST_TRACE_BYTES = 100_000_000

QUANTITY_OF: dict[str, str] = {
    "time_s": "time",
    "arc_voltage_v": "voltage",
    "z_mm": "length",
    "feed_mm_min": "speed",
    "set_point_v": "voltage",
    "control_on": "flag",
}
COLUMNS = tuple(QUANTITY_OF)
_FIELDS = {
    "time_s": "time_s",
    "arc_voltage_v": "volts_v",
    "z_mm": "z_mm",
    "feed_mm_min": "feed_mm_min",
    "set_point_v": "set_point_v",
    "control_on": "control",
}
_HEADINGS: dict[str, tuple[str, ...]] = {
    "set_point_v": ("set point", "setpoint", "target"),
    "control_on": ("control", "enable", "active"),
    "arc_voltage_v": ("volt", "arc"),
    "feed_mm_min": ("feed", "speed", "velocity"),
    "z_mm": ("z", "height"),
    "time_s": ("time", "seconds", "second", "t"),
}
_FLAGS = {"1": 1.0, "0": 0.0, "true": 1.0, "false": 0.0, "on": 1.0, "off": 0.0, "yes": 1.0, "no": 0.0}


@dataclass(frozen=True)
class ColumnMatch:
    """Which column of the file holds something, and in what unit ("" for the kept one; of a flag, none).

    ``times`` is a factor on top: the ratio of a divided signal.
    """

    heading: str
    unit: str = ""
    times: float = 1.0


def read_checked_trace(
    data: bytes, match: Mapping[str, ColumnMatch] | None = None, every_s: float | None = None
) -> Trace:
    """As ``read_trace_csv``; raises TradeError too, where no cut can be read from it."""
    trace = read_trace_csv(data, match, every_s)
    read_trace(trace)
    return trace


def read_trace_csv(
    data: bytes, match: Mapping[str, ColumnMatch] | None = None, every_s: float | None = None
) -> Trace:
    """The trace of a CSV file; ``every_s`` is the time from row to row of one without a column of time. Raises FileError naming
    the column and the row that cannot be used."""
    if len(data) > LARGEST_TRACE_BYTES:
        raise FileError(f"file: is larger than {LARGEST_TRACE_BYTES // 1_000_000} MB.")
    rows = data.count(b"\n")
    if rows > MOST_SAMPLES + 200:
        raise FileError(
            f"file: has {rows:,} rows, and at most {MOST_SAMPLES:,} are read: cut it in parts."
        )
    layout = laid_out(data)
    header = layout.headings
    match = match or {name: ColumnMatch(name) for name in COLUMNS if name in header}
    places = {name: _place(header, name, column.heading) for name, column in match.items()}
    for needed in ("time_s", "arc_voltage_v"):
        if needed not in places and not (needed == "time_s" and every_s):
            how = " Say how long it is from one row to the next, or" if needed == "time_s" else " Say"
            raise FileError(
                f"{needed}: is missing.{how} which column it is: the file’s columns are {', '.join(header) or 'none'}."
            )
    columns = list(zip(*layout.rows, strict=False)) if layout.rows else []
    if not columns:
        raise FileError("file: has headings and no rows.")
    found = {
        _FIELDS[name]: _numbers(name, match[name], columns[place], comma=layout.decimal_comma)
        if place < len(columns)
        else np.full(len(layout.rows), np.nan)
        for name, place in places.items()
    }
    if "time_s" not in found:
        found["time_s"] = np.arange(len(layout.rows)) * (every_s or 0.0)
    return Trace(**found)


def beginning(data: bytes) -> Layout:
    """How a file is laid out, with its first rows, to match columns by."""
    found = laid_out(data[:200_000], whole=len(data) <= 200_000)
    return replace(found, rows=found.rows[:5])


def suggested(layout: Layout) -> tuple[dict[str, ColumnMatch], tuple[str, ...]]:
    """Which columns are likely what: by the file's own names, else by the words of the headings. And what is to be asked: the
    columns whose unit is none known here."""
    header = layout.headings
    found: dict[str, ColumnMatch] = {n: ColumnMatch(n) for n in COLUMNS if n in header}
    asked = []
    for name, words in _HEADINGS.items():
        for place, heading in enumerate(header):
            taken = any(m.heading == heading for m in found.values())
            plain = re.sub(r"[^a-z0-9]+", " ", heading.lower()).strip()
            told = any(re.search(rf"\b{w}", plain) if len(w) > 1 else w in plain.split() for w in words)
            if name not in found and not taken and told:
                unit, unknown = _unit_of(layout, place, QUANTITY_OF[name])
                found[name] = ColumnMatch(heading, unit)
                if unknown:
                    asked.append(
                        f"“{unknown}” over {heading} is no unit known here: choose the one it is in."
                    )
    return found, tuple(asked)


def _unit_of(layout: Layout, place: int, quantity: str) -> tuple[str, str]:
    """The unit of a column by the line under the headings or by its heading, such as (ms), [in/min] or ipm; and what stands
    for one in brackets and is none."""
    known = UNITS.get(quantity, {})
    under = layout.units[place] if place < len(layout.units) else ""
    heading = layout.headings[place]
    brackets = re.search(r"[\[(]\s*([^\])]+?)\s*[\])]", heading)
    parts = re.split(r"[\s_,;:\[\]()]+", heading)
    for said in (under, brackets[1] if brackets else "", *reversed(parts[1:])):
        unit = unit_named(said) if said else None
        if unit in known:
            return unit, ""
    unknown = under or (brackets[1] if brackets else "")
    return "", unknown if known and any(c.isalpha() for c in unknown) else ""


def _place(header: Sequence[str], name: str, heading: str) -> int:
    found = [i for i, h in enumerate(header) if h == heading]
    if not found:
        raise FileError(f"{name}: there is no column “{heading}” in the file.")
    if len(found) > 1:
        raise FileError(f"{name}: “{heading}” stands over {len(found)} columns: leave one of them.")
    return found[0]


def _numbers(name: str, column: ColumnMatch, cells: Sequence[str], *, comma: bool) -> Array:
    factor = column.times * UNITS.get(QUANTITY_OF[name], {}).get(column.unit or "", 1.0)
    if QUANTITY_OF[name] == "flag":
        return np.array([_flag(c, i) for i, c in enumerate(cells)])
    if (
        QUANTITY_OF[name] == "time"
        and (first := next((c for c in cells if c.strip()), ""))
        and ":" in first
    ):
        return since_the_first(cells)
    try:
        values = np.array([float(c) if c else np.nan for c in cells])
    except ValueError:
        values = np.array([_number(name, c, i, comma=comma) for i, c in enumerate(cells)])
    values[np.isinf(values)] = np.nan
    return values * factor if factor != 1.0 else values


def _number(name: str, cell: str, row: int, *, comma: bool) -> float:
    cell = cell.strip()
    if not cell:
        return float("nan")
    plain = cell.replace(",", ".") if comma and cell.count(",") == 1 else cell
    try:
        return float(plain)
    except ValueError:
        raise FileError(
            f"{name}: “{cell[:40]}” in row {row + 1} is no number: leave a cell empty where nothing was read."
        ) from None


def _flag(cell: str, row: int) -> float:
    cell = cell.strip().lower()
    if not cell:
        return float("nan")
    if cell in _FLAGS:
        return _FLAGS[cell]
    try:
        value = float(cell.replace(",", "."))
    except ValueError:
        value = -1.0
    if value in (0.0, 1.0):
        return value
    raise FileError(f"control_on: “{cell[:40]}” in row {row + 1} is neither 0 nor 1.")


def write_trace_csv(trace: Trace) -> str:
    """A trace in the columns of ``orthotome trace``; what was missed is an empty cell."""
    held = {name: getattr(trace, field) for name, field in _FIELDS.items()}
    names = [name for name, column in held.items() if column is not None]
    rows = np.column_stack([held[name] for name in names])
    lines = [",".join("" if np.isnan(v) else f"{v:.10g}" for v in row) for row in rows.tolist()]
    return "\n".join([",".join(names), *lines]) + "\n"
