"""What the run of a piece file costs the parts: its pierces, and its arc time at the speeds it says."""

from typing import Annotated, Literal

from pydantic import Field

from orthotome.core.errors import TradeError
from orthotome.core.torch.counts import Counts
from orthotome.formats.reading import TINY, FileModel

MOST_TIMES = 1000


class RunContour(FileModel):
    """Of a contour, what takes arc time."""

    speed_mm_min: Annotated[float, Field(ge=TINY, le=200_000)]
    pierce_delay_s: Annotated[float, Field(ge=0, le=60)]
    length_mm: Annotated[float, Field(ge=0, le=1e6)]


class RunFile(FileModel):
    """Of an ``orthotome.piece``, what its run costs."""

    format: Literal["orthotome.piece"]
    version: Literal[1]
    title: Annotated[str, Field(max_length=200)] = ""
    pierces: Annotated[int, Field(ge=1, le=20_000)]
    contours: Annotated[tuple[RunContour, ...], Field(min_length=1, max_length=20_000, strict=False)]


def counts_of(file: RunFile, times: int) -> Counts:
    """Starts and arc time of so many runs. Raises TradeError where the file does not agree with itself."""
    if not 1 <= times <= MOST_TIMES:
        raise TradeError("times", f"must be from 1 to {MOST_TIMES}.")
    if file.pierces < len(file.contours):
        raise TradeError("pierces", "are fewer than the contours: each contour is pierced.")
    arc = sum(c.pierce_delay_s + 60 * c.length_mm / c.speed_mm_min for c in file.contours)
    return Counts(times * file.pierces, round(times * arc, 1))
