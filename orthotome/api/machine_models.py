"""What goes over the wire of a table: its page, its air, its signal path, and the run-through."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from orthotome.api.models import Person
from orthotome.core.readiness import Bed, Group, Period
from orthotome.formats.campaign import Text
from orthotome.formats.reading import FileModel
from orthotome.formats.rows import Flow, Pressure
from orthotome.formats.signal_path import Ratio, SignalReportFile
from orthotome.formats.table_settings import TableSettings


class SettingsChange(FileModel):
    """What to change of a table's page; what is left out stays."""

    bed: Bed | None = None
    settings: TableSettings


class SettingsAnswer(BaseModel):
    """A table's page."""

    table_id: int
    name: str
    bed: str
    settings: TableSettings
    axes_in_words: str | None
    mirrors: bool | None


class JogsAnswer(BaseModel):
    """What two jogs prove."""

    sentence: str
    mirrors: bool


class AirFindingAnswer(BaseModel):
    """One question about the air supply with its answer."""

    subject: str
    verdict: Literal["enough", "short", "unknown"]
    sentence: str


class CylinderRequest(FileModel):
    """A job to be cut on bottled gas."""

    flow_l_min: Flow
    arc_minutes: Annotated[float, Field(gt=0, le=10_000)]
    starts: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    water_l: Annotated[float, Field(gt=0, le=10_000)]
    pressure_kpa: Pressure
    least_kpa: Annotated[float, Field(ge=0, le=40_000)] = 0
    cylinders: Annotated[int, Field(ge=1, le=1000)] = 1


class CylinderAnswer(BaseModel):
    """How far the cylinders carry it."""

    gas_l: float
    used_l: float
    enough: bool
    sentence: str


class FactRequest(FileModel):
    """Something about a table that its maker never wrote down."""

    title: Text
    told: Annotated[str, Field(max_length=4000)] = ""
    by: Person = ""


class FactAnswer(BaseModel):
    """A noted fact."""

    id: int
    title: str
    told: str
    has_photo: bool
    noted_at: datetime
    noted_by: str


class SignalPathRequest(FileModel):
    """A signal path to put in force on a table, with the pair of volts that proves it, if read."""

    source_ratio: Ratio
    card_ratio: Ratio
    multiplier: Annotated[float, Field(gt=0, le=100_000)]
    true_v: Annotated[float, Field(gt=0, le=1000)] | None = None
    screen_v: Annotated[float, Field(ge=0, le=200_000)] | None = None
    note: Annotated[str, Field(max_length=500)] = ""
    by: Person = ""


class SignalPathAnswer(BaseModel):
    """A signal path of a table's history. ``in_force`` is the newest."""

    id: int
    series: int
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


class EveryModel(FileModel):
    """How long an answer holds."""

    period: Period
    number: Annotated[int, Field(ge=1, le=100_000)] = 1


class ReadyItem(BaseModel):
    """One thing to check, why now, and the answer it has."""

    code: str
    group: str
    group_label: str
    ask: str
    if_not: str
    caution: bool
    own: bool
    because: str
    due: bool
    every: EveryModel
    answer: str | None
    note: str
    answered_by: str


class ReadyAnswer(BaseModel):
    """The run-through of a table."""

    table_id: int
    items: list[ReadyItem]
    due: int
    not_right: int
    begun_at: datetime | None
    last_done_at: datetime | None
    last_done_by: str
    dropped: list[str]


class ReadyRequest(FileModel):
    """An answer to one item."""

    code: Annotated[str, Field(max_length=60)]
    answer: Literal["right", "not_right", "skipped", "acknowledged"]
    note: Annotated[str, Field(max_length=500)] = ""
    by: Person = ""


class ReadyRuleRequest(FileModel):
    """Drop an item, bring it back, or time it anew."""

    dropped: bool = False
    every: EveryModel | None = None


class OwnItemRequest(FileModel):
    """An item of the shop's own."""

    ask: Text
    if_not: Text
    group: Group
    every: EveryModel


class ReadyRun(BaseModel):
    """A run-through kept with a trial."""

    begun_at: datetime
    begun_by: str
    done_at: datetime | None
    right: int
    not_right: list[str]
    skipped: list[str]
