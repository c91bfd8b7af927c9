"""Taking in rows as people keep them: a spreadsheet's cells, a CSV in any dialect, a list of objects.

The columns are matched by the user, with a suggestion made from the headings; a column may be in any unit
of its quantity, and a cell may name its own ("95 ipm", "5/16", "14 ga"). Every row that cannot be used is
named with its line, its column and the reason; nothing is guessed, and nothing is dropped in silence.
"""

import csv
import io
import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from pydantic import ValidationError

from orthotome.core.book.doubts import doubts_of_rows
from orthotome.core.book.start_rows import StartRow
from orthotome.core.choose.capability import check_amperage
from orthotome.core.errors import TradeError
from orthotome.core.quantities import unit_of
from orthotome.core.stock.hazards import check_metal
from orthotome.core.stock.metals import METALS
from orthotome.core.units import kept_unit, read_quantity
from orthotome.formats.book.rows import (
    COLUMNS,
    MORE_COLUMNS,
    MOST_ROWS,
    TEXTS,
    RowFile,
    as_written,
    badly_quoted,
    row_of,
)
from orthotome.formats.reading import LARGEST_FILE_BYTES, FileError, field_path, sentence

ALL_COLUMNS = (*COLUMNS, *MORE_COLUMNS)
_MAY_BE_EMPTY = frozenset({"arc_voltage_v", *MORE_COLUMNS})
NEEDED = tuple(c for c in COLUMNS if c not in _MAY_BE_EMPTY)

# What a column holds; a unit in a heading or a cell is one of this quantity's.
QUANTITY_OF: dict[str, str] = {
    "thickness_mm": "length",
    "amperage_a": "current",
    "speed_mm_min": "speed",
    "arc_voltage_v": "voltage",
    "cut_height_mm": "length",
    "pierce_height_mm": "length",
    "pierce_delay_s": "time",
    "kerf_mm": "length",
    "gas_pressure_kpa": "pressure",
    "gas_flow_l_min": "flow",
    "shield_pressure_kpa": "pressure",
    "shield_flow_l_min": "flow",
    "water_level_mm": "length",
    "least_thickness_mm": "length",
    "most_thickness_mm": "length",
}

# Words that headings use, most telling first. All of a tuple must stand in the heading.
_HEADINGS: dict[str, tuple[tuple[str, ...], ...]] = {
    "pierce_height_mm": (("pierce", "height"),),
    "pierce_delay_s": (("pierce", "delay"), ("pierce", "time"), ("delay",)),
    "cut_height_mm": (("cut", "height"), ("standoff",), ("torch", "height"), ("height",)),
    "shield_gas": (("shield", "gas"),),
    "shield_pressure_kpa": (("shield", "pressure"),),
    "shield_flow_l_min": (("shield", "flow"),),
    "gas_pressure_kpa": (("pressure",),),
    "gas_flow_l_min": (("flow",),),
    "least_thickness_mm": (("least",), ("min", "thickness")),
    "most_thickness_mm": (("most",), ("max", "thickness")),
    "water_level_mm": (("water",),),
    "metal": (("metal",), ("material",)),
    "thickness_mm": (("thickness",), ("thick",), ("gauge",)),
    "torch_set": (("torch", "set"), ("parts",), ("consumables",), ("set",), ("nozzle",)),
    "amperage_a": (("amperage",), ("amps",), ("current",)),
    "gas": (("plasma", "gas"), ("gas",)),
    "speed_mm_min": (("speed",), ("feed",)),
    "arc_voltage_v": (("voltage",), ("volts",), ("arc",)),
    "kerf_mm": (("kerf",),),
    "source": (("source",), ("from",), ("page",)),
    "surface": (("surface",),),
    "bed": (("bed",), ("table",)),
}


@dataclass(frozen=True)
class Sheet:
    """What was given: its headings, and its records with the line each began on."""

    headings: tuple[str, ...]
    records: tuple[tuple[int, tuple[str, ...]], ...]


@dataclass(frozen=True)
class Match:
    """Where a column comes from: a heading of the sheet with its unit, or one text for all rows."""

    heading: str | None = None
    unit: str | None = None
    same_for_all: str | None = None


@dataclass(frozen=True)
class BadRow:
    """A row that cannot be used, and why."""

    line: int
    column: str
    sentence: str


@dataclass(frozen=True)
class TakenIn:
    """What a sheet holds: the rows that can be used with their lines, those that cannot, and doubts."""

    good: tuple[tuple[int, StartRow], ...]
    bad: tuple[BadRow, ...]
    questions: tuple[BadRow, ...]


def read_sheet(text: str) -> Sheet:
    """The headings and records of a pasted table, a CSV or a JSON list. Raises FileError."""
    if len(text) > LARGEST_FILE_BYTES:
        raise FileError(f"file: is larger than {LARGEST_FILE_BYTES // 1_000_000} MB.")
    text = text.removeprefix("\ufeff")
    if not text.strip():
        raise FileError("file: is empty.")
    sheet = _objects(text) if text.lstrip()[0] in "[{" else _cells(text)
    if not sheet.records:
        raise FileError("file: has headings only, and no row under them.")
    if len(sheet.records) > MOST_ROWS:
        raise FileError(f"file: has more than {MOST_ROWS} rows.")
    return sheet


def _cells(text: str) -> Sheet:
    first = text.lstrip().splitlines()[0]
    # A tab never stands inside a cell of a pasted sheet; a semicolon means that the comma is decimal.
    delimiter = next((d for d in ("\t", ";", ",") if d in first), ",")
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    headings: tuple[str, ...] | None = None
    records = []
    try:
        for cells in reader:
            stripped = tuple(as_written(c.strip()) for c in cells)
            if not any(stripped):
                continue
            if headings is None:
                headings = stripped
            else:
                records.append((reader.line_num, stripped))
    except csv.Error as broken:
        raise FileError(f"line {reader.line_num}: {badly_quoted(broken)}") from None
    return Sheet(_told_apart(headings or ()), tuple(records))


def _told_apart(headings: tuple[str, ...]) -> tuple[str, ...]:
    """Headings that stand twice, or not at all, get a number: a cell must have one name."""
    seen: dict[str, int] = {}
    told = []
    for n, h in enumerate(headings, 1):
        name = h or f"column {n}"
        seen[name] = seen.get(name, 0) + 1
        told.append(name if seen[name] == 1 else f"{name} ({seen[name]})")
    return tuple(told)


def _objects(text: str) -> Sheet:
    try:
        given = json.loads(text)
    except (ValueError, RecursionError):
        raise FileError("file: is not JSON.") from None
    rows = given.get("rows") if isinstance(given, dict) else given
    if not isinstance(rows, list) or not all(isinstance(r, dict) for r in rows):
        raise FileError("rows: must be a list of objects, one a row.")
    headings = tuple(dict.fromkeys(str(name) for r in rows for name in r))
    records = tuple(
        (n, tuple("" if r.get(h) is None else _text(r[h]) for h in headings))
        for n, r in enumerate(rows, 1)
    )
    return Sheet(headings, records)


def _text(value: object) -> str:
    return repr(value) if isinstance(value, float) else str(value).strip()


def suggest(headings: Sequence[str]) -> dict[str, Match]:
    """For each column the heading that most likely holds it, with the unit that the heading names."""
    left = list(headings)
    found: dict[str, Match] = {}
    for column in ALL_COLUMNS:
        if column in left:
            found[column] = Match(column, _own_unit(column))
            left.remove(column)
    for column, wordings in _HEADINGS.items():
        if column in found:
            continue
        for words in wordings:
            hit = next((h for h in left if all(w in h.lower() for w in words)), None)
            if hit is not None:
                found[column] = Match(hit, _unit_in(hit, column))
                left.remove(hit)
                break
    return found


def _own_unit(column: str) -> str | None:
    return kept_unit(QUANTITY_OF[column]) if column in QUANTITY_OF else None


def _unit_in(heading: str, column: str) -> str | None:
    """The unit a heading names, as in "Speed (in/min)"; where it names none, the shop's own."""
    if column not in QUANTITY_OF:
        return None
    for word in re.split(r"[\s()\[\],]+", heading.lower()):
        if word and not word.isdigit():
            try:
                return read_quantity(f"1 {word}", QUANTITY_OF[column], default_unit="").typed_unit
            except TradeError:
                continue
    return unit_of(QUANTITY_OF[column]) if column in QUANTITY_OF else None


def take_in(
    sheet: Sheet, matches: Mapping[str, Match], ratings_a: Mapping[str, float] | None = None
) -> TakenIn:
    """Every record as a row, or named with what is wrong with it.

    ``ratings_a`` are the amperages of the shop's sets: above one a row is refused.
    """
    _check_matches(sheet, matches)
    at = {h: i for i, h in enumerate(sheet.headings)}
    good, bad, questions = [], [], []
    told: dict[tuple[object, ...], tuple[int, StartRow]] = {}
    for line, cells in sheet.records:
        try:
            row = _row(cells, matches, at)
            check_metal(row.metal)
            doubt = check_amperage(
                row.amperage_a, (ratings_a or {}).get(row.torch_set, row.amperage_a), "amperage_a"
            )
            before, said = told.setdefault(row.place, (line, row))
            if said != row:
                raise TradeError(
                    "thickness_mm",
                    f"line {before} says otherwise for the same metal, thickness and process: keep one.",
                )
        except TradeError as wrong:
            bad.append(BadRow(line, wrong.field, wrong.sentence))
            continue
        good.append((line, row))
        if doubt:
            questions.append(BadRow(line, "amperage_a", doubt))
    for place, asked in doubts_of_rows([row for _, row in good]):
        questions.append(BadRow(good[place][0], asked.field, asked.sentence))
    return TakenIn(tuple(good), tuple(bad), tuple(questions))


def _check_matches(sheet: Sheet, matches: Mapping[str, Match]) -> None:
    for column in NEEDED:
        match = matches.get(column, Match())
        if match.heading is None and not match.same_for_all:
            raise FileError(f"{column}: say which column holds it, or give one for all rows.")
    for column, match in matches.items():
        if column not in ALL_COLUMNS:
            raise FileError(f"{column}: is no column of the Book.")
        if match.heading is not None and match.heading not in sheet.headings:
            raise FileError(f"{column}: the file has no column “{match.heading}”.")


def _row(cells: Sequence[str], matches: Mapping[str, Match], at: Mapping[str, int]) -> StartRow:
    given: dict[str, str | float | None] = {}
    for column in ALL_COLUMNS:
        match = matches.get(column)
        text = _cell_of(match, cells, at) if match else ""
        if column in TEXTS:
            given[column] = _metal(text) if column == "metal" else text or None
        elif not text or text.lower() in ("-", "–", "n/a"):
            if column not in _MAY_BE_EMPTY:
                raise TradeError(column, "is empty; an empty cell is not a zero.")
            given[column] = None
        else:
            unit = (match.unit if match else None) or unit_of(QUANTITY_OF[column])
            metal = str(given["metal"])  # the first column: a gauge needs it
            read = read_quantity(text, QUANTITY_OF[column], default_unit=unit, metal=metal, field=column)
            # Twelve digits: what was typed in inches does not come back with a tail of a float.
            given[column] = float(f"{read.value:.12g}")
    given["source"] = given["source"] or ""
    try:
        return row_of(RowFile.model_validate(given))
    except ValidationError as refused:
        first = refused.errors(include_url=False, include_input=False)[0]
        raise TradeError(field_path(first), sentence(first)) from None


def _cell_of(match: Match, cells: Sequence[str], at: Mapping[str, int]) -> str:
    if match.heading is None:
        return (match.same_for_all or "").strip()
    index = at[match.heading]
    return cells[index] if index < len(cells) else ""


def _metal(text: str) -> str | None:
    """A metal by its name in the files or its label; anything else is the shop's own name."""
    plain = text.strip().lower().replace("-", " ")
    for metal in METALS.values():
        if plain in (metal.name, metal.label):
            return metal.name
    return _SPOKEN.get(plain, text.strip() or None)


_SPOKEN = {
    "steel": "mild_steel",
    "carbon steel": "mild_steel",
    "galvanised steel": "galvanized_steel",
    "stainless": "stainless_steel",
    "aluminum": "aluminium",
}
