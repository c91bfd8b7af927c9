"""Times of day and date-times as seconds since the first of them."""

import re
from collections.abc import Sequence

import numpy as np

from orthotome.core.height.trace import Array
from orthotome.formats.reading import FileError

_MOMENT = re.compile(
    r"(?P<day>\d{1,4}[-./]\d{1,2}[-./]\d{1,4})?[T ]*(?P<h>\d{1,2}):(?P<m>\d{2})(?::(?P<s>\d{2}(?:[.,]\d+)?))?"
    r" ?(?P<half>[AaPp])?[Mm]?Z?"
)
_DAY_S = 86_400.0


def since_the_first(cells: Sequence[str]) -> Array:
    """Seconds since the first moment, in the order of the rows; NaN for an empty cell.

    Which day it is only tells that midnight has passed: its order of day and month need not be known. Raises FileError naming
    the row that holds no moment.
    """
    found = np.full(len(cells), np.nan)
    first: float | None = None
    day, days, before = "", 0, 0.0
    for row, cell in enumerate(cells):
        text = cell.strip()
        if not text:
            continue
        of_day, its_day = _of_day(text, row)
        if first is not None and (its_day != day or (not its_day and of_day < before - _DAY_S / 2)):
            days += 1
        first = of_day if first is None else first
        day, before = its_day, of_day
        found[row] = days * _DAY_S + of_day - first
    return found


def _of_day(text: str, row: int) -> tuple[float, str]:
    moment = _MOMENT.fullmatch(text)
    if moment is None:
        raise FileError(
            f"time_s: “{text[:40]}” in row {row + 1} is no time of day such as 14:03:25.120: leave no cell of it empty."
        )
    hours = int(moment["h"])
    if moment["half"]:
        hours = hours % 12 + (12 if moment["half"].lower() == "p" else 0)
    seconds = float((moment["s"] or "0").replace(",", "."))
    return 3600.0 * hours + 60.0 * int(moment["m"]) + seconds, moment["day"] or ""
