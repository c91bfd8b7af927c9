"""What goes over the wire of logging: cuts, corrections, the sheet, half-typed logs."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotome.api.wire import Id, Insisted, Key, Version, Wire
from orthotome.core.log.items import Item, SheetKind
from orthotome.core.log.says import Said
from orthotome.core.trial import campaign as core
from orthotome.core.trial.advice import Verdict
from orthotome.formats.reading import TINY, FileModel
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


class EdgeRead(EdgeFile):
    """One reading of one edge, with what was typed where its bevel was worked out from it."""

    told: Annotated[str, Field(max_length=120)] = ""


class LookBody(FileModel):
    """What was seen of one thing: a choice tapped, or a number typed (mm or degrees). Neither: not looked at."""

    item: Annotated[int, Field(ge=0, le=64)] = 0
    what: Annotated[str, Field(min_length=1, max_length=40)]
    value: Annotated[str, Field(max_length=20)] | None = None
    number: Annotated[float, Field(ge=-1000, le=10_000)] | None = None


Looks = Annotated[tuple[LookBody, ...], Field(max_length=200, strict=False)]


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
    edges: Annotated[tuple[EdgeRead, ...], Field(max_length=64, strict=False)] = ()
    dross: Annotated[tuple[DrossFile, ...], Field(max_length=12, strict=False)] | None = None
    kerf_mm: Kerf | None = None
    lag_deg: LagDeg | None = None
    note: Note = ""


class NewCutRequest(CutRequest):
    """A piece to log, with all that was seen of it. The same ``key`` sent twice is logged once.

    ``kind`` says which test piece it was cut as; left out, it is one of ``piece``.
    """

    key: Key
    kind: SheetKind | None = None
    looks: Looks = ()
    insisted: Insisted = ()


class StripLook(FileModel):
    """What was seen of one slot of a ladder: the answer tapped, and what was read of its edges."""

    slot: Annotated[int, Field(ge=1, le=24)]
    answer: Annotated[str, Field(max_length=20)] | None = None
    arc_voltage_v: Voltage | None = None
    edges: Annotated[tuple[EdgeRead, ...], Field(max_length=8, strict=False)] = ()
    looks: Looks = ()


class LadderRequest(FileModel):
    """The slots of a ladder that were looked at: all are logged, or none. ``key`` is that of a ladder that waits to
    be read; any other is that of one which was cut at the starting numbers, a coarse one where a trial begins with it."""

    key: Key
    insisted: Insisted = ()
    kind: Literal["strip_ladder", "height_ladder"] = "strip_ladder"
    strips: Annotated[tuple[StripLook, ...], Field(min_length=1, max_length=24, strict=False)]


class EdgeCorrection(FileModel):
    """A reading that is another now; ``id`` left out is one that was forgotten, ``edge`` null takes one away."""

    id: Id | None = None
    edge: EdgeRead | None = None

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
    insisted: Insisted = ()
    edges: Annotated[tuple[EdgeCorrection, ...], Field(max_length=64, strict=False)] = ()
    looks: Looks = ()


class BevelAnswer(Wire):
    """A bevel worked out from what was read, and that in words."""

    bevel_deg: float
    u_deg: float
    method: str
    told: str


class StrikeRequest(FileModel):
    """Strike a cut out, or put it back, as it was at ``version``."""

    version: Annotated[int, Field(ge=1)]
    out: bool


class EdgeAnswer(Wire):
    """One reading of a logged cut."""

    id: int
    side: Literal["right", "left", "both"]
    heading_deg: float
    bevel_deg: BevelDeg
    u_deg: float
    method: Text
    told: str = ""  # what was typed, where the bevel was worked out from it
    wild: float | None = None  # chance that it is off by degrees; None where nobody judged it


class LookAnswer(Wire):
    """What was seen of one thing, with its question and answer in words."""

    item: int
    what: str
    value: str | None
    number: float | None
    question: str
    answer: str
    unit: Literal["length", "angle"] | None


class PhotoAnswer(Wire):
    """A photo of a cut; ``digest`` names its picture."""

    id: int
    digest: str
    width_px: int
    height_px: int
    caption: str
    added_at: datetime
    added_by: str


class CutAnswer(Wire):
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
    kind: SheetKind
    title: str
    counts: bool  # whether it says anything of speed and height
    items: tuple[Item, ...] = ()
    looks: tuple[LookAnswer, ...] = ()
    says: tuple[Said, ...] = ()
    photos: tuple[PhotoAnswer, ...] = ()
    verdict: Verdict | None = None  # None: nothing was read of it, or nobody judged it


class CaptionRequest(FileModel):
    """What a photo shows."""

    caption: Annotated[str, Field(max_length=200)]


Pixel = Annotated[float, Field(ge=-100_000, le=100_000)]
Taps = Annotated[
    tuple[Annotated[tuple[Pixel, Pixel], Field(strict=False)], ...],
    Field(min_length=2, max_length=20, strict=False),
]


class MeasureRequest(FileModel):
    """Taps on a photo, in its own points, to the right and down.

    Of a bevel ``base`` lies along the plate's top face and ``line`` along the edge; of a lag along the top of the
    face, and along a lag line; of a kerf on the two ends of a known length, and on both its sides. ``side`` is where
    the kept metal lies, or which way the torch went, in the picture.
    """

    what: Literal["bevel", "lag", "kerf"]
    base: Taps
    line: Taps
    side: Literal["left", "right"] = "right"
    known_mm: Annotated[float, Field(ge=TINY, le=10_000)] | None = None
    u_px: Annotated[float, Field(ge=0.1, le=200)] = 3.0


class MeasureAnswer(Wire):
    """An angle or a width with its standard uncertainty."""

    deg: float | None = None
    u_deg: float | None = None
    mm: float | None = None
    u_mm: float | None = None


class GradingRequest(FileModel):
    """The same pieces graded by two people, or by one twice."""

    one: Annotated[str, Field(min_length=1, max_length=80)]
    other: Annotated[str, Field(min_length=1, max_length=80)]
    grades: Annotated[
        tuple[Annotated[tuple[Grade, Grade], Field(strict=False)], ...],
        Field(min_length=1, max_length=40, strict=False),
    ]


class GradingAnswer(Wire):
    """A grading check."""

    id: int
    one: str
    other: str
    grades: list[tuple[int, int]]
    graded_at: datetime


class GradingsAnswer(Wire):
    """Every check, and the spread of one grade in this shop."""

    checks: list[GradingAnswer]
    sd: float
    low: float
    high: float
    pairs: int
    says: str


class DraftBody(FileModel):
    """A half-typed log, as the screen keeps it."""

    body: Annotated[str, Field(max_length=20_000)]
    key: Annotated[str, Field(max_length=80)] = ""  # of the cut that it will be
    version: Version | None = None  # that it grew from, 0: none; left out, it is kept whatever was there


class DraftAnswer(Wire):
    """The half-typed log, if there is one."""

    body: str | None
    saved_at: datetime | None
    saved_by: str = ""
    version: int = 0
