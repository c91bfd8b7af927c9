"""What a trial is begun with: the Book's rows, without those that it doubts itself.

A row that breaks the trend of its neighbours is mistyped, or of another process, until somebody held it against its
source and said that it is right. Nothing is begun with it meanwhile, and it is said that it was left out.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

from orthotome.core.book.start_rows import StartingNumbers, StartRow, starting_numbers
from orthotome.core.book.trend import breaks_of

_DOUBTS_A_ROW = frozenset(
    {"speed_mm_min", "cut_height_mm", "pierce_height_mm", "pierce_delay_s", "arc_voltage_v", "kerf_mm"}
)
"""Breaks for which a row is left out; which of two rows for one thickness stands is asked otherwise."""


def doubted(rows: Sequence[StartRow]) -> dict[StartRow, str]:
    """The rows that the Book doubts, each with the sentence why; those that were said to be right are none."""
    pages: dict[tuple[str, str, float, str], list[StartRow]] = defaultdict(list)
    for row in rows:
        pages[row.metal, row.torch_set, row.amperage_a, row.gas].append(row)
    found: dict[StartRow, str] = {}
    for page in pages.values():
        for b in breaks_of(tuple(page)):
            if b.quantity in _DOUBTS_A_ROW and not page[b.index].right:
                found.setdefault(page[b.index], b.sentence)
    return found


def begin(
    rows: Sequence[StartRow], *, metal: str, thickness_mm: float, torch_set: str, gas: str | None = None
) -> StartingNumbers:
    """Starting numbers from the rows that nobody has to doubt; see ``starting_numbers``."""
    job = {"metal": metal, "thickness_mm": thickness_mm, "torch_set": torch_set, "gas": gas}
    with_all = starting_numbers(rows, **job)  # type: ignore[arg-type]
    out = doubted(rows)
    left_out = [out[r] for r in with_all.rows if r in out]
    if not left_out:
        return with_all
    found = starting_numbers([r for r in rows if r not in out], **job)  # type: ignore[arg-type]
    refused = (
        "" if found.values is not None else " Mend it there, or say that it is right: then it counts."
    )
    said = tuple(f"A row of the Book is left out. {sentence}{refused}" for sentence in left_out)
    return replace(found, warnings=(*said, *found.warnings))
