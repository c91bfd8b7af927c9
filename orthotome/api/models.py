"""What goes over the wire: requests are strict, answers carry their units in their names."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from orthotome.core import campaign as core
from orthotome.core.edges import Swirl
from orthotome.formats.advice import AdviceFile, ExpectedAdvice
from orthotome.formats.campaign import (
    DrossFile,
    EdgeFile,
    Height,
    Kerf,
    LimitsFile,
    Speed,
    StartFile,
    TargetFile,
    Text,
    ThicknessMm,
    Voltage,
)
from orthotome.formats.reading import FileModel
from orthotome.formats.recipe import RecipeFile

Person = Annotated[str, Field(max_length=80)]
Key = Annotated[str, Field(min_length=1, max_length=80)]
Id = Annotated[int, Field(ge=1, le=2**31)]


class ShopChange(FileModel):
    """What to change of the shop; what is left out stays."""

    name: Annotated[str, Field(max_length=120)] | None = None
    length_unit: str | None = None
    speed_unit: str | None = None


class ShopAnswer(BaseModel):
    """The shop and the units it thinks in."""

    name: str
    length_unit: str
    speed_unit: str
    example: bool


class MetalAnswer(BaseModel):
    """A metal Orthotome has a word for."""

    name: str
    label: str
    fume: str | None
    gauges: list[int]


class QuantityRequest(FileModel):
    """Text an operator typed, to be read as a quantity."""

    text: Annotated[str, Field(max_length=60)]
    quantity: Literal[
        "length", "speed", "voltage", "time", "angle", "current", "acceleration", "pressure", "flow"
    ]
    unit: Annotated[str, Field(max_length=10)]
    metal: Text | None = None
    expected: float | None = None
    field: Annotated[str, Field(max_length=60)] = "value"


class QuantityAnswer(BaseModel):
    """What was read, in the kept unit, with any doubt about it."""

    value: float
    typed_unit: str
    question: str | None


class TorchSetRequest(FileModel):
    """A new torch set."""

    name: Text
    amperage_a: Annotated[float, Field(ge=5, le=1000)]
    gas: Text
    swirl: Swirl


class TorchSetAnswer(BaseModel):
    """A torch set."""

    id: int
    name: str
    amperage_a: float
    gas: str
    swirl: Swirl
    example: bool
    parts_cost: float | None
    parts_starts: int | None


class PartsCostRequest(FileModel):
    """What one set of parts costs in the shop's money, and the starts it lasts here."""

    parts_cost: Annotated[float, Field(ge=0, le=100_000)] | None
    parts_starts: Annotated[int, Field(ge=1, le=100_000)] | None


class TableRequest(FileModel):
    """A new table."""

    name: Text
    bed: Literal["water", "downdraft", "open"] = "open"
    torch_set_id: Id | None = None


class PutRightRequest(FileModel):
    """What was put right on a table: its parts changed, or its torch re-seated."""

    what: Literal["parts", "mount"]


class TableAnswer(BaseModel):
    """A table with what is fitted and what is on its Bench."""

    id: int
    name: str
    bed: str
    simulated: bool
    torch_set: TorchSetAnswer | None
    starts_on_parts: int
    bench_trial_id: int | None


class StartQuery(BaseModel):
    """What starting numbers are asked for; ``gas`` empty is the set's own."""

    metal: Text
    thickness_mm: Annotated[float, Field(ge=0.2, le=160, allow_inf_nan=False)]
    torch_set_id: Id
    gas: Annotated[str, Field(max_length=200)] = ""
    table_id: Id | None = None


class StartSource(BaseModel):
    """A row the starting numbers came from."""

    metal: str
    thickness_mm: float
    source: str


class StartAnswer(BaseModel):
    """Starting numbers on dial steps, how they were reached, and the range to cut in."""

    how: str
    values: StartFile | None
    sources: list[StartSource]
    warnings: list[str]
    limits: LimitsFile | None
    opening_ladder_mm_min: list[float]


class TargetAnswer(BaseModel):
    """One target said in each way."""

    bevel_deg: float
    gap_mm: float
    perpendicularity_mm: float
    iso_range: int | None
    warning: str | None
    judged_by: str | None


class TrialRequest(FileModel):
    """A trial to open."""

    table_id: Id
    torch_set_id: Id
    metal: Text
    thickness_mm: ThicknessMm
    gas: Text | None = None  # left out: the set's own
    start: StartFile
    target: TargetFile
    limits: LimitsFile | None = None  # left out: the range core gives these starting numbers
    title: Annotated[str, Field(max_length=120)] = ""
    opened_by: Person = ""


class RetargetRequest(FileModel):
    """A new target and limits, for the trial as it was at ``revision``."""

    revision: Annotated[int, Field(ge=1)]
    target: TargetFile
    limits: LimitsFile


class CutRequest(FileModel):
    """What came out of one cut. Left out or null is "not measured"; no dross list is "not looked"."""

    piece: core.PieceKind
    speed_mm_min: Speed
    cut_height_mm: Height
    arc_voltage_v: Voltage | None = None
    set_point_v: Voltage | None = None
    height_control: core.HeightControl = "off"
    through: core.Through | None = None
    arc_lost: bool = False
    edges: Annotated[tuple[EdgeFile, ...], Field(max_length=64, strict=False)] = ()
    dross: Annotated[tuple[DrossFile, ...], Field(max_length=12, strict=False)] | None = None
    kerf_mm: Kerf | None = None
    lag_deg: Annotated[float, Field(ge=-80, le=80)] | None = None
    note: Annotated[str, Field(max_length=500)] = ""
    by: Person = ""


class NewCutRequest(CutRequest):
    """A cut to log. The same ``key`` sent twice is logged once."""

    key: Key


class CutsTogether(FileModel):
    """Cuts of one piece, such as the strips of a ladder: all of them are logged, or none."""

    cuts: Annotated[tuple[NewCutRequest, ...], Field(min_length=1, max_length=12, strict=False)]


class CutCorrection(CutRequest):
    """A correction of the cut as it was at ``version``."""

    version: Annotated[int, Field(ge=1)]


class StrikeRequest(FileModel):
    """Strike a cut out, or put it back, as it was at ``version``."""

    version: Annotated[int, Field(ge=1)]
    out: bool


class CutAnswer(BaseModel):
    """A logged cut with its readings, its side means, and the chance that it passed."""

    id: int
    number: int
    piece: core.PieceKind
    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None
    height_control: str
    starts: int | None
    through: core.Through | None
    arc_lost: bool
    edges: list[EdgeFile]
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
    passed: float | None = None


class TrialAnswer(BaseModel):
    """A trial's job, target and limits."""

    id: int
    table_id: int
    table: str
    simulated: bool
    torch_set: TorchSetAnswer
    good_side: Literal["right", "left"]
    scrap_heading_deg: float  # of the one scrap edge that is cut loose with a square
    height_by_hand: bool
    title: str
    metal: str
    metal_label: str
    thickness_mm: float
    start: StartFile
    start_how: str
    start_sources: list[StartSource]
    warnings: list[str]
    target: TargetFile
    limits: LimitsFile
    opened_at: datetime
    opened_by: str
    on_bench: bool
    revision: int
    recipe_id: int | None
    recipe_revision: int | None


class TrialLineAnswer(BaseModel):
    """A trial as a list shows it."""

    trial: TrialAnswer
    cuts: int
    last: CutAnswer | None


class TrialLines(BaseModel):
    """Trials that were sought, newest first, and how many there are in all."""

    lines: list[TrialLineAnswer]
    total: int


class Revision(BaseModel):
    """How often a trial has changed: a cheap question for screens that watch it."""

    revision: int
    draft_saved_at: datetime | None


class BevelPartsAnswer(BaseModel):
    """The last cut's bevel taken apart."""

    process_deg: float
    process_sd_deg: float
    swirl_deg: float
    swirl_sd_deg: float
    lean_deg: float
    lean_toward_deg: float
    lean_sd_deg: float
    left_over_deg: float | None


class ChanceMapAnswer(BaseModel):
    """Chance to pass over speed (columns) and height (rows, lowest first)."""

    speeds_mm_min: list[float]
    heights_mm: list[float]
    chance: list[list[float]]


class ProofAnswer(BaseModel):
    """Something to prove before it may be called square."""

    done: bool
    text: str


class VoltsAnswer(BaseModel):
    """Volts per millimetre with its standard deviation, and how many cuts taught it."""

    volts_per_mm: float
    sd: float
    taught_by: int


class WaitingPiece(BaseModel):
    """A square that was cut and waits to be read."""

    id: int
    key: str  # that its reading is to be logged with
    number: int
    nicks: int
    speed_mm_min: float
    cut_height_mm: float
    cut_at: datetime


class BenchAnswer(BaseModel):
    """Everything the Bench shows of a trial."""

    trial: TrialAnswer
    cuts: list[CutAnswer]
    advice: AdviceFile
    parts: BevelPartsAnswer | None
    chance_map: ChanceMapAnswer
    proofs: list[ProofAnswer]
    volts: VoltsAnswer
    next_expected: ExpectedAdvice | None
    reading_u_deg: float
    opening_ladder_mm_min: list[float]  # of a metal without rows, until its first cut
    waiting: list[WaitingPiece]


class DraftBody(FileModel):
    """A half-typed log, as the screen keeps it."""

    body: Annotated[str, Field(max_length=20_000)]


class DraftAnswer(BaseModel):
    """The half-typed log, if there is one."""

    body: str | None
    saved_at: datetime | None


class LockRequest(FileModel):
    """Lock the trial as it was at ``revision``."""

    revision: Annotated[int, Field(ge=1)]
    title: Annotated[str, Field(max_length=120)] = ""
    by: Person = ""


class RecipeAnswer(BaseModel):
    """A locked recipe; ``in_force`` unless a newer revision supersedes it."""

    id: int
    trial_id: int | None
    revision: int
    in_force: bool
    recipe: RecipeFile


class Problem(BaseModel):
    """problem+json."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[dict[str, str]]
