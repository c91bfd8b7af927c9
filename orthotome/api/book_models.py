"""What goes over the wire of the Book: rows, their import, their trend, and choosing a set."""

from typing import Annotated

from pydantic import BaseModel, Field

from orthotome.api.models import Id, TorchSetAnswer
from orthotome.core.edges import Swirl
from orthotome.formats.campaign import Height, Kerf, Seconds, Speed, Text, ThicknessMm, Voltage
from orthotome.formats.reading import FileModel
from orthotome.formats.rows import RowDetailsFile, RowFile
from orthotome.formats.start import StartValuesFile

Length = Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]


class BookRowRequest(RowDetailsFile):
    """A starting row for the Book."""

    metal: Text
    thickness_mm: ThicknessMm
    torch_set_id: Id
    amperage_a: Annotated[float, Field(ge=5, le=1000)] | None = None  # left out: the set's rating
    gas: Text | None = None  # left out: the set's own
    speed_mm_min: Speed
    arc_voltage_v: Voltage | None = None
    cut_height_mm: Height
    pierce_height_mm: Height
    pierce_delay_s: Seconds
    kerf_mm: Kerf
    source: Text
    supersedes_id: Id | None = None
    amperage_is_right: bool = False  # said of one far below the set's rating


class BookRowAnswer(BaseModel):
    """A starting row."""

    id: int
    metal: str
    thickness_mm: float
    torch_set: str
    torch_set_id: int
    amperage_a: float
    gas: str
    speed_mm_min: float
    arc_voltage_v: float | None
    cut_height_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    kerf_mm: float
    source: str
    shield_gas: str | None
    gas_pressure_kpa: float | None
    gas_flow_l_min: float | None
    shield_pressure_kpa: float | None
    shield_flow_l_min: float | None
    surface: str | None
    bed: str | None
    water_level_mm: float | None
    least_thickness_mm: float | None
    most_thickness_mm: float | None
    example: bool


class MatchModel(FileModel):
    """Where a column of the Book comes from: a heading with its unit, or one text for all rows."""

    heading: Annotated[str, Field(max_length=300)] | None = None
    unit: Annotated[str, Field(max_length=10)] | None = None
    same_for_all: Annotated[str, Field(max_length=200)] | None = None


class ImportRequest(FileModel):
    """A pasted sheet or a file's text, and how its columns are matched; null lets Orthotome suggest."""

    text: Annotated[str, Field(max_length=5_000_000)]
    matches: dict[Annotated[str, Field(max_length=60)], MatchModel] | None = None
    new_sets_swirl: Swirl | None = None


class TakeInRequest(ImportRequest):
    """Take the rows in. With bad rows among them nothing is, unless ``keep_good`` says so."""

    keep_good: bool = False


class BadRowAnswer(BaseModel):
    """A row that cannot be used, or is questioned, with its line and the reason."""

    line: int
    column: str
    sentence: str


class ColumnAnswer(BaseModel):
    """A column of the Book: the units it may be given in, and whether it may be left out."""

    name: str
    units: list[str]
    needed: bool


class ImportPreview(BaseModel):
    """What a sheet holds, before anything is taken in."""

    headings: list[str]
    first_cells: list[list[str]]
    columns: list[ColumnAnswer]
    matches: dict[str, MatchModel]
    unmatched: list[str]
    rows: int
    good: int
    first_good: list[RowFile]
    bad: list[BadRowAnswer]
    questions: list[BadRowAnswer]
    new_sets: list[str]


class ImportAnswer(BaseModel):
    """What was taken in."""

    added: int
    superseded: int
    known: int
    left_out: int
    sets: list[str]


class CurvePoint(BaseModel):
    """The line between the rows at one thickness."""

    thickness_mm: float
    beyond: bool
    values: StartValuesFile


class RecipePoint(BaseModel):
    """A proven setting to draw beside the rows."""

    recipe_id: int
    thickness_mm: float
    values: StartValuesFile


class TrendBreakAnswer(BaseModel):
    """A number of a row that its neighbours do not bear out."""

    row_id: int
    quantity: str
    expected: float
    sentence: str


class TrendAnswer(BaseModel):
    """A metal with one set and gas over thickness."""

    metal: str
    metal_label: str
    torch_set: TorchSetAnswer
    gas: str
    rows: list[BookRowAnswer]
    curve: list[CurvePoint]
    recipes: list[RecipePoint]
    breaks: list[TrendBreakAnswer]


class BookPageAnswer(BaseModel):
    """A page of the Book: a metal with one set and gas, how many rows, and how many look wrong."""

    metal: str
    metal_label: str
    torch_set_id: int
    torch_set: str
    gas: str
    rows: int
    thinnest_mm: float
    thickest_mm: float
    breaks: int
    example: bool


class SetNoteRequest(FileModel):
    """What is written down of a set in a metal with a pair of gases."""

    metal: Text
    gas: Text
    shield_gas: Annotated[str, Field(max_length=200)] = ""
    pierce_max_mm: ThicknessMm | None = None
    edge_start_max_mm: ThicknessMm | None = None
    sever_max_mm: ThicknessMm | None = None
    least_mm: ThicknessMm | None = None
    bevel_deg: Annotated[float, Field(ge=0, le=45)] | None = None
    bottom_dross_grade: Annotated[int, Field(ge=0, le=4)] | None = None
    top_dross_grade: Annotated[int, Field(ge=0, le=4)] | None = None
    colour: Annotated[str, Field(max_length=40)] | None = None
    rounding: Annotated[str, Field(max_length=40)] | None = None
    source: Annotated[str, Field(max_length=200)] = ""


class ChooseQuery(BaseModel):
    """The job to choose a set for: what is cut, where, and the part's straights and circles."""

    metal: Text
    thickness_mm: Annotated[float, Field(ge=0.2, le=160, allow_inf_nan=False)]
    table_id: Id | None = None
    straight_mm: Length = 100
    circle_mm: Length = 20
    bevel_deg: Annotated[float, Field(gt=0, lt=45, allow_inf_nan=False)] | None = None


class ChooseOption(BaseModel):
    """A process judged for the job; null is "cannot be told"."""

    torch_set_id: int
    torch_set: str
    amperage_a: float
    gas: str
    shield_gas: str
    usable: bool
    can: str
    can_sentence: str
    question: str | None
    start_how: str
    speed_mm_min: float | None
    kerf_mm: float | None
    bevel_deg: float | None
    edge_range: int | None
    bottom_dross_grade: int | None
    top_dross_grade: int | None
    colour: str | None
    rounding: str | None
    look_from: str
    measured: bool
    smallest_hole_mm: float
    straight_share: float | None
    circle_share: float | None
    cost_per_m: float | None
    gas_l_per_m: float | None
    notes: list[str]
    example: bool
    written: SetNoteRequest
    parts_cost: float | None
    parts_starts: int | None


class ChooseAnswer(BaseModel):
    """Every process for a metal and thickness, on one table."""

    options: list[ChooseOption]
    machine_known: bool
    other_process: str | None


class SetNoteAnswer(SetNoteRequest):
    """A set's note."""

    id: int
    torch_set_id: int
    example: bool
