"""A list of the shelf as CSV: torch_set, part, on_shelf, least, cost; what else stands there is left alone."""

import csv
import io
from collections.abc import Mapping
from dataclasses import dataclass

from orthotome.core.torch.fittings import SINGLE_PARTS
from orthotome.formats.reading import FileError

MOST_LINES = 5000
_NEEDED = ("torch set", "part", "on shelf")
_MOST = 100_000


@dataclass(frozen=True)
class StockLine:
    """One line of the shelf."""

    torch_set_id: int
    part: str
    on_shelf: int
    least: int
    cost: float | None


def read_stock(data: bytes, sets: Mapping[str, int]) -> list[StockLine]:
    """The lines of a list, for the shop's sets by name. Lines without a count are left out. Raises FileError, naming
    the line."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FileError("file: is not text; save the list as CSV in UTF-8.") from None
    text = "\n".join(text.splitlines())  # whatever a spreadsheet ends its lines with
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=";" if ";" in text.split("\n")[0] else ","))
    except csv.Error:
        raise FileError(
            "file: holds a cell larger than any of a list; save the list as plain CSV."
        ) from None
    if not rows:
        raise FileError("file: is empty; give a heading and a line for each part.")
    heads = [h.strip().lower().replace("_", " ") for h in rows[0]]
    missing = [n for n in _NEEDED if n not in heads]
    if missing:
        raise FileError(f"heading: has no “{missing[0]}”; use torch set, part, on shelf, least, cost.")
    if len(rows) > MOST_LINES:
        raise FileError(f"file: has too many lines: at most {MOST_LINES}.")
    found = []
    for number, row in enumerate(rows[1:], 2):
        cells = dict(zip(heads, (c.strip() for c in row), strict=False))
        if cells.get("on shelf"):
            found.append(_line(number, cells, sets))
    return found


def _line(number: int, cells: Mapping[str, str], sets: Mapping[str, int]) -> StockLine:
    name, part = (
        cells.get("torch set", ""),
        cells.get("part", "").lower().replace(" ", "_").replace("-", "_"),
    )
    if name not in sets:
        raise FileError(f"line {number}, torch set: there is no set “{name[:60]}” in this shop.")
    if part not in SINGLE_PARTS:
        raise FileError(f"line {number}, part: use one of {', '.join(SINGLE_PARTS)}.")
    cost = cells.get("cost", "")
    return StockLine(
        sets[name],
        part,
        _whole(number, "on shelf", cells["on shelf"]),
        _whole(number, "least", cells.get("least") or "0"),
        _money(number, cost) if cost else None,
    )


def _whole(number: int, field: str, text: str) -> int:
    if not (text.isascii() and text.isdecimal() and len(text) <= len(str(_MOST)) and int(text) <= _MOST):
        raise FileError(f"line {number}, {field}: “{text[:20]}” is not a whole number of 0 to {_MOST}.")
    return int(text)


def _money(number: int, text: str) -> float:
    try:
        cost = float(text.replace(",", "."))
    except ValueError:
        cost = -1.0
    if not 0 < cost <= _MOST:
        raise FileError(f"line {number}, cost: “{text[:20]}” is not a price of more than 0.")
    return cost
