"""``orthotome.start``, version 1: starting numbers with where they came from."""

from typing import Literal

from pydantic import ConfigDict, Field

from orthotome.core.book.start_rows import How, StartingNumbers
from orthotome.formats.reading import WrittenModel


class StartValuesFile(WrittenModel):
    """The numbers; the voltage is null where nothing supports one."""

    speed_mm_min: float
    arc_voltage_v: float | None
    cut_height_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    kerf_mm: float


class StartFromFile(WrittenModel):
    """A row the numbers came from."""

    metal: str
    thickness_mm: float
    source: str


class StartAnswerFile(WrittenModel):
    """The answer of ``orthotome start``."""

    model_config = ConfigDict(populate_by_name=True, serialize_by_alias=True)

    format: Literal["orthotome.start"] = "orthotome.start"
    version: Literal[1] = 1
    how: How
    values: StartValuesFile | None
    from_rows: tuple[StartFromFile, ...] = Field(alias="from")
    warnings: tuple[str, ...]


def start_to_file(found: StartingNumbers) -> StartAnswerFile:
    """The open file of starting numbers; rounded far below what a dial can set."""
    values = None
    if found.values is not None:
        numbers = {k: None if v is None else round(v, 4) for k, v in vars(found.values).items()}
        values = StartValuesFile.model_validate(numbers)
    return StartAnswerFile(
        how=found.how,
        values=values,
        from_rows=tuple(
            StartFromFile(metal=r.metal, thickness_mm=r.thickness_mm, source=r.source)
            for r in found.rows
        ),
        warnings=found.warnings,
    )
