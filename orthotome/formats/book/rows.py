"""The Book's rows as CSV and JSON: the file that ``orthotome start`` reads and the Book gives out.

Twelve columns are always there. The rest (gases, surface, bed, bounds) are written only where a row uses
them, so that a file taken in comes out as it was.
"""

import csv
import io
import re
from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from orthotome.core.book.start_rows import RowDetails, StartRow, StartValues
from orthotome.core.quantities import ShopUnits, spoken
from orthotome.core.ready.run_through import Bed
from orthotome.core.units import UNITS
from orthotome.formats.reading import (
    LARGEST_FILE_BYTES,
    TINY,
    FileError,
    FileModel,
    field_path,
    sentence,
)
from orthotome.formats.trial.campaign import Height, Kerf, Seconds, Speed, Text, ThicknessMm, Voltage

MOST_ROWS = 20_000

COLUMNS = (
    "metal",
    "thickness_mm",
    "torch_set",
    "amperage_a",
    "gas",
    "speed_mm_min",
    "arc_voltage_v",
    "cut_height_mm",
    "pierce_height_mm",
    "pierce_delay_s",
    "kerf_mm",
    "source",
)
MORE_COLUMNS = tuple(RowDetails.__dataclass_fields__)
TEXTS = frozenset({"metal", "torch_set", "gas", "source", "shield_gas", "surface", "bed"})

Pressure = Annotated[float, Field(ge=TINY, le=40_000, description="kPa, gauge")]
Flow = Annotated[float, Field(ge=TINY, le=2000, description="l/min of free gas")]


class RowDetailsFile(FileModel):
    """What else a row holds for; left out or null is "the source does not say"."""

    shield_gas: Text | None = None
    gas_pressure_kpa: Pressure | None = None
    gas_flow_l_min: Flow | None = None
    shield_pressure_kpa: Pressure | None = None
    shield_flow_l_min: Flow | None = None
    surface: Text | None = None
    bed: Bed | None = None
    water_level_mm: Annotated[float, Field(ge=-1000, le=1000)] | None = None
    least_thickness_mm: ThicknessMm | None = None
    most_thickness_mm: ThicknessMm | None = None


class RowFile(RowDetailsFile):
    """One row. The voltage may be empty where the manual gives none."""

    metal: Text
    thickness_mm: ThicknessMm
    torch_set: Text
    amperage_a: Annotated[float, Field(ge=5, le=1000)]
    gas: Text
    speed_mm_min: Speed
    arc_voltage_v: Voltage | None
    cut_height_mm: Height
    pierce_height_mm: Height
    pierce_delay_s: Seconds
    kerf_mm: Kerf
    source: Annotated[str, Field(max_length=200)]


class RowsFile(FileModel):
    """``orthotome.rows``, version 1: the Book's rows as JSON."""

    format: Literal["orthotome.rows"]
    version: Literal[1]
    rows: Annotated[tuple[RowFile, ...], Field(max_length=MOST_ROWS, strict=False)]


def read_rows(text: str) -> list[StartRow]:
    """Every row of a rows file. Raises FileError naming the line and the column of the first bad one."""
    if len(text) > LARGEST_FILE_BYTES:
        raise FileError(f"file: is larger than {LARGEST_FILE_BYTES // 1_000_000} MB.")
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff"), newline=""), strict=True)
    rows = []
    try:
        missing = [c for c in COLUMNS if c not in (reader.fieldnames or ())]
        if missing:
            raise FileError(f"file: the column {missing[0]} is missing from the first line.")
        for cells in reader:
            rows.append(_row(cells, reader.line_num))
    except csv.Error as broken:
        raise FileError(f"line {reader.line_num}: {badly_quoted(broken)}") from None
    return rows


def badly_quoted(broken: csv.Error) -> str:
    """What is wrong with a line that cannot be taken apart."""
    if "unexpected end" in str(broken):
        return "a quotation mark is opened and never closed."
    return f"the quotation marks do not make cells ({broken})."


def _row(cells: dict[str, str | None], line: int) -> StartRow:
    given: dict[str, str | float | None] = {}
    for column in COLUMNS:
        cell = (cells.get(column) or "").strip()
        given[column] = as_written(cell) if column in TEXTS else _number(cell, column, line)
    for column in MORE_COLUMNS:
        if cell := (cells.get(column) or "").strip():
            given[column] = as_written(cell) if column in TEXTS else _number(cell, column, line)
    try:
        return row_of(RowFile.model_validate(given))
    except ValidationError as refused:
        first = refused.errors(include_url=False, include_input=False)[0]
        raise FileError(f"line {line}: {field_path(first)} {sentence(first)}") from None


def row_of(file: RowFile) -> StartRow:
    """A row file as core thinks of it."""
    return StartRow(
        file.metal,
        file.thickness_mm,
        file.torch_set,
        file.amperage_a,
        file.gas,
        StartValues(**{name: getattr(file, name) for name in StartValues.__dataclass_fields__}),
        file.source,
        RowDetails(**{name: getattr(file, name) for name in MORE_COLUMNS}),
    )


def _number(cell: str, column: str, line: int) -> float | None:
    if cell == "":
        if column == "arc_voltage_v":
            return None
        raise FileError(f"line {line}: {column} is empty; an empty cell is not a zero.")
    try:
        return float(cell)
    except ValueError:
        told = " ".join(cell[:40].split())
        raise FileError(f"line {line}: {column} must be a number, not “{told}”.") from None


def write_rows(rows: Sequence[StartRow]) -> str:
    """Rows as the file ``read_rows`` reads, to the digit."""
    plain = [flat_row(r) for r in rows]
    columns = [*COLUMNS, *(c for c in MORE_COLUMNS if any(p[c] is not None for p in plain))]
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for p in plain:
        writer.writerow(["" if p[c] is None else _cell(p[c]) for c in columns])
    return out.getvalue()


def write_rows_as_spoken(rows: Sequence[StartRow]) -> str:
    """Rows with headings and numbers in the shop's units, as a spreadsheet shows them and the import reads them."""
    units = spoken()
    if not units.in_inches:
        return write_rows(rows)
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    plain = [flat_row(r) for r in rows]
    columns = [*COLUMNS, *(c for c in MORE_COLUMNS if any(p[c] is not None for p in plain))]
    writer.writerow([_spoken_heading(c, units) for c in columns])
    for p in plain:
        writer.writerow(["" if p[c] is None else _spoken_cell(c, p[c]) for c in columns])
    return out.getvalue()


# How a column's heading ends, the quantity that it holds, and the unit of an inch shop.
_ENDINGS = (
    ("_mm_min", "speed", "in/min"),
    ("_mm", "length", "in"),
    ("_kpa", "pressure", "psi"),
    ("_l_min", "flow", "ft3/min"),
)


def _spoken_heading(column: str, units: ShopUnits) -> str:
    for ending, _, unit in _ENDINGS:
        if column.endswith(ending):
            shown = units.speed if ending == "_mm_min" else unit
            return f"{column.removesuffix(ending).replace('_', ' ')} ({shown})"
    return column


def _spoken_cell(column: str, value: object) -> str:
    for ending, quantity, unit in _ENDINGS:
        if column.endswith(ending) and isinstance(value, int | float):
            return f"{value / UNITS[quantity][unit]:.4f}".rstrip("0").rstrip(".")
    return _cell(value)


def write_rows_json(rows: Sequence[StartRow]) -> str:
    """Rows as ``orthotome.rows``; what a source does not say is left out."""
    files = tuple(RowFile.model_validate(flat_row(r)) for r in rows)
    file = RowsFile(format="orthotome.rows", version=1, rows=files)
    return file.model_dump_json(exclude_none=True, indent=1)


def flat_row(r: StartRow) -> dict[str, Any]:
    """A row as one level of columns, as files hold it."""
    flat = {**vars(r), **vars(r.values), **vars(r.details)}
    return {c: flat[c] for c in (*COLUMNS, *MORE_COLUMNS)}


def _cell(value: object) -> str:
    # A whole number is written without its ".0": people read these files.
    return repr(value).removesuffix(".0") if isinstance(value, float) else defused(str(value))


_FORMULA = re.compile(r"'*[=+\-@\t\r]")


def defused(text: str) -> str:
    """Text as a cell that no spreadsheet takes for a formula; ``as_written`` is its way back."""
    return f"'{text}" if _FORMULA.match(text) else text


def as_written(cell: str) -> str:
    """The text of a cell, whether it was defused or typed."""
    return cell[1:] if cell.startswith("'") and _FORMULA.match(cell) else cell
