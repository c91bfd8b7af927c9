"""The Book's rows as CSV: the file that ``orthotome start`` reads and the Book gives out."""

import csv
import io
from typing import Annotated

from pydantic import Field, ValidationError

from orthotome.core.start_rows import StartRow, StartValues
from orthotome.formats.campaign import Height, Kerf, Seconds, Speed, Text, ThicknessMm, Voltage
from orthotome.formats.reading import LARGEST_FILE_BYTES, FileError, FileModel, field_path, sentence

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
_TEXTS = frozenset({"metal", "torch_set", "gas", "source"})


class RowFile(FileModel):
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


def read_rows(text: str) -> list[StartRow]:
    """Every row of a rows file. Raises FileError naming the line and the column of the first bad one."""
    if len(text) > LARGEST_FILE_BYTES:
        raise FileError(f"file: is larger than {LARGEST_FILE_BYTES // 1_000_000} MB.")
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff"), newline=""), strict=True)
    missing = [c for c in COLUMNS if c not in (reader.fieldnames or ())]
    if missing:
        raise FileError(f"file: the column {missing[0]} is missing from the first line.")
    rows = []
    try:
        for cells in reader:
            rows.append(_row(cells, reader.line_num))
    except csv.Error as broken:
        raise FileError(f"line {reader.line_num}: {broken}.") from None
    return rows


def _row(cells: dict[str, str | None], line: int) -> StartRow:
    given: dict[str, str | float | None] = {}
    for column in COLUMNS:
        cell = (cells.get(column) or "").strip()
        given[column] = cell if column in _TEXTS else _number(cell, column, line)
    try:
        row = RowFile.model_validate(given)
    except ValidationError as refused:
        first = refused.errors(include_url=False, include_input=False)[0]
        raise FileError(f"line {line}: {field_path(first)} {sentence(first)}") from None
    values = StartValues(**{name: getattr(row, name) for name in StartValues.__dataclass_fields__})
    return StartRow(
        row.metal, row.thickness_mm, row.torch_set, row.amperage_a, row.gas, values, row.source
    )


def _number(cell: str, column: str, line: int) -> float | None:
    if cell == "":
        if column == "arc_voltage_v":
            return None
        raise FileError(f"line {line}: {column} is empty; an empty cell is not a zero.")
    try:
        return float(cell)
    except ValueError:
        raise FileError(f"line {line}: {column} must be a number, not “{cell}”.") from None


def write_rows(rows: list[StartRow]) -> str:
    """Rows as the file ``read_rows`` reads, to the digit."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for r in rows:
        plain = {**vars(r), **vars(r.values)}
        writer.writerow(["" if plain[c] is None else _cell(plain[c]) for c in COLUMNS])
    return out.getvalue()


def _cell(value: object) -> str:
    return repr(value) if isinstance(value, float) else str(value)
