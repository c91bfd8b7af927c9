"""How a table of text is laid out: what parts its cells, where its headings stand, and the units in a line under them.

Programs that record write what they like above the headings (a date, the name of a job), put units into a line of their own, and
write decimals with a comma. What was passed over or taken for something is said, and nothing is guessed in silence.
"""

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass

from orthotome.core.units import unit_named
from orthotome.formats.reading import FileError

_DELIMITERS = ";\t,"
_LOOKED_AT = 200  # lines; the headings stand within them
_NUMBER = re.compile(r"[-+]?(\d+([.,]\d*)?|[.,]\d+)([eE][-+]?\d+)?")
_MOMENT = re.compile(
    r"(\d{1,4}[-./]\d{1,2}[-./]\d{1,4}[T ]+)?\d{1,2}:\d{2}(:\d{2}([.,]\d+)?)?( ?[AaPp][Mm])?Z?"
)
_FLAGS = ("true", "false", "on", "off", "yes", "no", "nan", "inf", "-inf")
_BRACKETS = re.compile(r"[\[(](.*)[\])]")

Row = tuple[str, ...]


@dataclass(frozen=True)
class Layout:
    """A table of text: ``units`` holds what a line under the headings says of each column (empty where nothing), ``said`` a
    sentence for each thing that was passed over."""

    headings: list[str]
    rows: list[Row]
    decimal_comma: bool
    units: tuple[str, ...] = ()
    said: tuple[str, ...] = ()


def laid_out(data: bytes, *, whole: bool = True) -> Layout:
    """The layout of a file; ``whole`` is False where it is only its beginning. Raises FileError where it is no table of text."""
    text = _text(data, whole=whole)
    delimiter = _delimiter(text)
    try:
        rows = [
            tuple(row)
            for row in csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
            if any(c.strip() for c in row)
        ]
    except csv.Error as bad:
        raise FileError(f"file: is not CSV: {bad}.") from None
    at, under = _headings_at(rows)
    headings = [cell.strip() for cell in rows[at]] if rows else []
    units = tuple(_bare(cell) for cell in rows[at + 1]) if under else ()
    said = []
    if at:
        said.append(
            "The line above the headings was passed over."
            if at == 1
            else f"The {at} lines above the headings were passed over."
        )
    if under:
        said.append("The line under the headings was taken for units.")
    cells = _even(headings, rows[at + 1 + under :])
    return Layout(headings, cells, delimiter != ",", units, tuple(said))


def _text(data: bytes, *, whole: bool) -> str:
    try:
        text = data.decode("utf-8-sig", errors="strict" if whole else "ignore")
    except UnicodeDecodeError:
        raise FileError("file: is not text in UTF-8: export it as CSV.") from None
    if "\0" in text:
        raise FileError("file: is not text: export it as CSV.")
    if not whole:
        text = text[: text.rfind("\n") + 1]
    return text.lstrip()


def _delimiter(text: str) -> str:
    """What parts the cells: with it, most lines are rows of figures; where none has figures, what is oftenest in the first."""
    lines = text.split("\n", _LOOKED_AT)[:_LOOKED_AT]

    def rows_of_figures(delimiter: str) -> int:
        parted = (line.rstrip("\r").split(delimiter) for line in lines)
        return sum(len(cells) > 1 and _are_figures(cells) for cells in parted)

    found = max(_DELIMITERS, key=rows_of_figures)
    return found if rows_of_figures(found) else max(_DELIMITERS, key=lines[0].count)


def _headings_at(rows: Sequence[Row]) -> tuple[int, bool]:
    """The row of the headings, and whether the one under it holds units: the last row of words before the first of figures, and
    as wide. The first row where there is none."""
    near = rows[:_LOOKED_AT]
    figures = next((i for i, row in enumerate(near) if len(row) > 1 and _are_figures(row)), None)
    if figures is None:
        return 0, False
    wide = len(rows[figures])
    under = figures > 1 and _are_units(rows[figures - 1])
    above = range(figures - 1 - under, -1, -1)
    at = next((i for i in above if len(rows[i]) == wide and not any(map(_is_figure, rows[i]))), 0)
    return at, under and at == figures - 2


def _are_figures(row: Sequence[str]) -> bool:
    held = [c for c in row if c.strip()]
    return bool(held) and all(_is_figure(c) for c in held)


def _is_figure(cell: str) -> bool:
    cell = cell.strip().strip('"')
    return bool(_NUMBER.fullmatch(cell) or _MOMENT.fullmatch(cell)) or cell.lower() in _FLAGS


def _are_units(row: Row) -> bool:
    held = [_bare(c) for c in row if _bare(c)]
    return bool(held) and all(unit_named(c) is not None or c in ("-", "0/1", "bool") for c in held)


def _bare(cell: str) -> str:
    cell = cell.strip()
    inside = _BRACKETS.fullmatch(cell)
    return (inside[1] if inside else cell).strip()


def _even(headings: Sequence[str], rows: Sequence[Row]) -> list[Row]:
    """The rows, each as wide as the headings. Raises FileError naming one that holds more."""
    width = len(headings)
    uneven = next((i for i, row in enumerate(rows) if any(c.strip() for c in row[width:])), None)
    if uneven is not None:
        raise FileError(
            f"file: row {uneven + 1} has more cells than there are headings: are decimals written with the comma "
            "that also parts the cells?"
        )
    return [row if len(row) == width else (row + ("",) * width)[:width] for row in rows]
