"""What goes over the wire of height: signal paths."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from orthotome.formats.height.signal_path import Ratio, SignalReportFile
from orthotome.formats.reading import TINY, FileModel


class SignalPathRequest(FileModel):
    """A signal path to put in force on a table, with the pair of volts that proves it, if read."""

    source_ratio: Ratio
    card_ratio: Ratio
    multiplier: Annotated[float, Field(ge=TINY, le=100_000)]
    true_v: Annotated[float, Field(ge=TINY, le=1000)] | None = None
    screen_v: Annotated[float, Field(ge=0, le=200_000)] | None = None
    note: Annotated[str, Field(max_length=500)] = ""


class SignalPathAnswer(BaseModel):
    """A signal path of a table's history. ``in_force`` is the newest."""

    id: int
    fitting_id: int
    source_ratio: float
    card_ratio: float
    multiplier: float
    gain: float
    true_v: float | None
    screen_v: float | None
    note: str
    set_at: datetime
    set_by: str
    in_force: bool


class SignalPageAnswer(BaseModel):
    """The signal paths of a table, and what its Bench says of set-point and volts per millimetre."""

    paths: list[SignalPathAnswer]
    set_point_v: float | None
    slope_v_per_mm: float
    slope_sd: float
    slope_from: str
    cut_height_mm: float


class CorrectionAnswer(BaseModel):
    """A way to a right reading; ``at_screen`` ones open no cabinet."""

    what: str
    at_screen: bool


class SignalExamined(BaseModel):
    """The report of a signal path, with the corrections that fit, safest first."""

    report: SignalReportFile
    seen_gain: float | None
    volts_along: list[float]  # arc, behind the source, behind the card, screen: as told
    likely_volts_along: list[float] | None  # and as the likeliest fault has it
    corrections: list[CorrectionAnswer]
