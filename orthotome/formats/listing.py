"""Any list as a file: CSV in the shop's own units for a spreadsheet, JSON in the units of the open files."""

import csv
import io
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Generic, Literal, TypeVar

from orthotome.core.quantities import length_number, speed_number, spoken
from orthotome.formats.book.rows import defused

T = TypeVar("T")
Quantity = Literal["speed", "length", "plain"]


@dataclass(frozen=True)
class Column(Generic[T]):
    """One column: its name with its unit as the open files have it, and what it holds; None is an empty cell."""

    name: str
    of: Callable[[T], Any]
    quantity: Quantity = "plain"

    @property
    def heading(self) -> str:
        """Its heading in the shop's words."""
        if self.quantity == "speed":
            return f"{self.name.removesuffix('_mm_min').replace('_', ' ')} ({spoken().speed})"
        if self.quantity == "length":
            return f"{self.name.removesuffix('_mm').replace('_', ' ')} ({spoken().length})"
        for ending, unit in (("_deg", "deg"), ("_v", "V"), ("_s", "s"), ("_a", "A")):
            if self.name.endswith(ending):
                return f"{self.name.removesuffix(ending).replace('_', ' ')} ({unit})"
        return self.name.replace("_", " ")

    def cell(self, row: T) -> str:
        """What it holds, as a spreadsheet shows it."""
        value = self.of(row)
        if value is None:
            return ""
        if self.quantity == "speed":
            return speed_number(value)
        if self.quantity == "length":
            return length_number(value)
        if isinstance(value, float):
            return f"{value:g}"
        if isinstance(value, datetime):
            return value.isoformat(timespec="minutes")
        return defused(str(value))


def write_csv(columns: Sequence[Column[T]], rows: Sequence[T]) -> str:
    """Rows with a heading each, numbers in the shop's units; no cell is taken for a formula."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([c.heading for c in columns])
    writer.writerows([c.cell(row) for c in columns] for row in rows)
    return out.getvalue()


def write_json(columns: Sequence[Column[T]], rows: Sequence[T]) -> str:
    """Rows as objects, a unit in every name; what is not known is null."""
    told = [{c.name: _plain(c.of(row)) for c in columns} for row in rows]
    return json.dumps(told, ensure_ascii=False, indent=1)


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value
