"""Traces as CSV: ``time_s``, ``arc_voltage_v`` and any of ``z_mm``, ``feed_mm_min``, ``set_point_v``, ``control_on``.

Any order of columns, any delimiter of a spreadsheet, decimal points or commas, empty cells. A file with other
headings is read by a match of its columns, each with the unit it is in; a suggestion is made from the headings.
"""

import csv
import io
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from orthotome.core.height.trace import MOST_SAMPLES, Array, Trace
from orthotome.core.units import UNITS
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


def read_trace_csv(data: bytes, match: Mapping[str, ColumnMatch] | None = None) -> Trace:
    """The trace of a CSV file. Raises FileError naming the column and the row that cannot be used."""
    if len(data) > LARGEST_TRACE_BYTES:
        raise FileError(f"file: is larger than {LARGEST_TRACE_BYTES // 1_000_000} MB.")
    rows = data.count(b"\n")
    if rows > MOST_SAMPLES + 1:
        raise FileError(
            f"file: has {rows:,} rows, and at most {MOST_SAMPLES:,} are read: cut it in parts."
        )
    header, cells, decimal_comma = _table(data)
    match = match or {name: ColumnMatch(name) for name in COLUMNS if name in header}
    places = {name: _place(header, name, column.heading) for name, column in match.items()}
    for needed in ("time_s", "arc_voltage_v"):
        if needed not in places:
            raise FileError(
                f"{needed}: is missing: the file’s columns are {', '.join(header) or 'none'}."
            )
    columns = list(zip(*cells, strict=False)) if cells else []
    if not columns:
        raise FileError("file: has headings and no rows.")
    found = {
        _FIELDS[name]: _numbers(name, match[name], columns[place], comma=decimal_comma)
        if place < len(columns)
        else np.full(len(cells), np.nan)
        for name, place in places.items()
    }
    return Trace(**found)


def headings(data: bytes) -> tuple[list[str], list[list[str]]]:
    """The headings of a file and its first rows, to match columns by."""
    header, cells, _ = _table(data[:200_000], whole=len(data) <= 200_000)
    return header, [list(row) for row in cells[:5]]


def suggested(header: Sequence[str]) -> dict[str, ColumnMatch]:
    """Which columns are likely what: by the file's own names, else by the words of the headings."""
    found: dict[str, ColumnMatch] = {n: ColumnMatch(n) for n in COLUMNS if n in header}
    for name, words in _HEADINGS.items():
        for heading in header:
            taken = any(m.heading == heading for m in found.values())
            plain = re.sub(r"[^a-z0-9]+", " ", heading.lower()).strip()
            told = any(re.search(rf"\b{w}", plain) if len(w) > 1 else w in plain.split() for w in words)
            if name not in found and not taken and told:
                found[name] = ColumnMatch(heading, _unit_in(heading, QUANTITY_OF[name]))
    return found


def _unit_in(heading: str, quantity: str) -> str:
    """The unit that a heading names, such as (ms) or [in/min]; empty where it names none."""
    for unit in sorted(UNITS.get(quantity, {}), key=len, reverse=True):
        if re.search(rf"(?<![a-z]){re.escape(unit)}(?![a-z/])", heading, re.IGNORECASE):
            return unit
    return ""


def _table(data: bytes, *, whole: bool = True) -> tuple[list[str], list[tuple[str, ...]], bool]:
    """Headings, rows of cells, and whether decimals are written with commas."""
    try:
        text = data.decode("utf-8-sig", errors="strict" if whole else "ignore")
    except UnicodeDecodeError:
        raise FileError("file: is not text in UTF-8: export it as CSV.") from None
    if "\0" in text:
        raise FileError("file: is not text: export it as CSV.")
    if not whole:
        text = text[: text.rfind("\n") + 1]
    first = text.lstrip().split("\n", 1)[0]
    delimiter = max(";\t,", key=first.count)
    reader = csv.reader(io.StringIO(text.lstrip(), newline=""), delimiter=delimiter)
    try:
        header = [cell.strip() for cell in next(reader, [])]
        cells = [tuple(row) for row in reader if any(c.strip() for c in row)]
    except csv.Error as bad:
        raise FileError(f"file: is not CSV: {bad}.") from None
    uneven = next((i for i, row in enumerate(cells) if len(row) > len(header)), None)
    if uneven is not None and any(c.strip() for c in cells[uneven][len(header) :]):
        raise FileError(
            f"file: row {uneven + 1} has more cells than there are headings: are decimals written with the comma "
            "that also parts the cells?"
        )
    width = len(header)
    cells = [row if len(row) == width else (row + ("",) * width)[:width] for row in cells]
    return header, cells, delimiter != ","


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
