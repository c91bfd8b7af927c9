"""What goes over the wire of logging: cuts, corrections, the sheet, half-typed logs."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from orthotome.api.wire import Id, Key, Version
from orthotome.core.trial import campaign as core
from orthotome.core.trial.advice import Verdict
from orthotome.formats.reading import FileModel
from orthotome.formats.trial.campaign import (
    BevelDeg,
    DrossFile,
    EdgeFile,
    Height,
    Kerf,
    LagDeg,
    Speed,
    Text,
    Voltage,
)

Note = Annotated[str, Field(max_length=500)]
Grade = Annotated[int, Field(ge=0, le=4)]


class CutRequest(FileModel):
    """What came out of one cut. Left out or null is "not measured"; no dross list is "not looked"."""

    piece: core.PieceKind
    speed_mm_min: Speed
    cut_height_mm: Height
    arc_voltage_v: Voltage | None = None
    set_point_v: Voltage | None = None
    height_control: core.HeightControl = "off"
    arc_on_s: Annotated[float, Field(ge=0, le=36_000)] | None = None
    through: core.Through | None = None
    arc_lost: bool = False
    edges: Annotated[tuple[EdgeFile, ...], Field(max_length=64, strict=False)] = ()
    dross: Annotated[tuple[DrossFile, ...], Field(max_length=12, strict=False)] | None = None
    kerf_mm: Kerf | None = None
    lag_deg: LagDeg | None = None
    note: Note = ""


class NewCutRequest(CutRequest):
    """A cut to log. The same ``key`` sent twice is logged once."""

    key: Key


class StripLook(FileModel):
    """What one strip of a ladder looks like from below: its slot, and the answer tapped."""

    slot: Annotated[int, Field(ge=1, le=24)]
    answer: Annotated[str, Field(max_length=20)]
    arc_voltage_v: Voltage | None = None


class LadderRequest(FileModel):
    """The strips of the coarse ladder that were looked at: all are logged, or none."""

    key: Key
    strips: Annotated[tuple[StripLook, ...], Field(min_length=1, max_length=24, strict=False)]


class EdgeCorrection(FileModel):
    """A reading that is another now; ``id`` left out is one that was forgotten, ``edge`` null takes one away."""

    id: Id | None = None
    edge: EdgeFile | None = None

    @model_validator(mode="after")
    def _something(self) -> "EdgeCorrection":
        if self.id is None and self.edge is None:
            raise ValueError("edge: say what was read, or which reading to take away.")
        return self


class CutCorrection(FileModel):
    """What is another now of the cut as it was at ``version``. What is left out stays as it is.

    Null is "not measured after all". ``dross`` holds the new grade of the kinds that changed, 0 for none
    of it; ``dross_looked_at`` false says that nobody looked.
    """

    version: Annotated[int, Field(ge=1)]
    piece: core.PieceKind = "square"
    speed_mm_min: Speed = 0.0
    cut_height_mm: Height = 0.0
    arc_voltage_v: Voltage | None = None
    set_point_v: Voltage | None = None
    height_control: core.HeightControl = "off"
    through: core.Through | None = None
    arc_lost: bool = False
    kerf_mm: Kerf | None = None
    lag_deg: LagDeg | None = None
    note: Note = ""
    dross: dict[core.DrossKind, Grade] | None = None
    dross_looked_at: Literal[True, False] = True
    edges: Annotated[tuple[EdgeCorrection, ...], Field(max_length=64, strict=False)] = ()


class StrikeRequest(FileModel):
    """Strike a cut out, or put it back, as it was at ``version``."""

    version: Annotated[int, Field(ge=1)]
    out: bool


class EdgeAnswer(BaseModel):
    """One reading of a logged cut."""

    id: int
    side: Literal["right", "left", "both"]
    heading_deg: float
    bevel_deg: BevelDeg
    u_deg: float
    method: Text
    wild: float | None = None  # chance that it is off by degrees; None where nobody judged it


class CutAnswer(BaseModel):
    """A logged cut with its readings, its side means, and the chance that it passed."""

    id: int
    number: int
    piece: core.PieceKind
    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None
    set_point_v: float | None
    height_control: core.HeightControl
    starts: int | None
    pierces: int
    arc_on_s: float | None
    through: core.Through | None
    arc_lost: bool
    edges: list[EdgeAnswer]
    dross: list[DrossFile] | None
    kerf_mm: float | None
    lag_deg: float | None
    note: str
    logged_at: datetime
    logged_by: str
    struck_out: bool
    version: int
    bevel_right_deg: float | None
    bevel_left_deg: float | None
    worst_kept_deg: float | None
    underside: str
    verdict: Verdict | None = None  # None: nothing was read of it, or nobody judged it


class DraftBody(FileModel):
    """A half-typed log, as the screen keeps it."""

    body: Annotated[str, Field(max_length=20_000)]
    key: Annotated[str, Field(max_length=80)] = ""  # of the cut that it will be
    version: Version | None = None  # that it grew from, 0: none; left out, it is kept whatever was there


class DraftAnswer(BaseModel):
    """The half-typed log, if there is one."""

    body: str | None
    saved_at: datetime | None
    saved_by: str = ""
    version: int = 0
