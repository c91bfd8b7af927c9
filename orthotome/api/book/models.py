"""What goes over the wire of the Book: rows, their import, their trend, starting numbers, recipes."""

from datetime import datetime
from typing import Annotated

from pydantic import Field, computed_field

from orthotome.api.torch.models import TorchSetAnswer
from orthotome.api.wire import Id, Insisted, Plated, Wire
from orthotome.core.edge.edges import Side, Swirl
from orthotome.core.quantities import thickness
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.book.rows import RowDetailsFile, RowFile
from orthotome.formats.book.start import StartValuesFile
from orthotome.formats.reading import TINY, FileModel
from orthotome.formats.trial.campaign import (
    DrossFile,
    Height,
    Kerf,
    LimitsFile,
    Seconds,
    Speed,
    StartFile,
    Text,
    ThicknessMm,
    Voltage,
)


class StartQuery(Wire):
    """What starting numbers are asked for; ``gas`` empty is the set's own."""

    metal: Text
    thickness_mm: Annotated[float, Field(ge=0.2, le=160, allow_inf_nan=False)]
    torch_set_id: Id
    gas: Annotated[str, Field(max_length=200)] = ""
    table_id: Id | None = None


class StartSource(Plated):
    """A row the starting numbers came from."""

    source: str


class StartAnswer(Wire):
    """Starting numbers on dial steps, how they were reached, and the range to cut in."""

    how: str
    values: StartFile | None
    sources: list[StartSource]
    warnings: list[str]
    limits: LimitsFile | None
    opening_ladder_mm_min: list[float]


class RecipeLine(Plated):
    """A locked recipe as a list shows it; ``in_force`` unless a newer revision supersedes it."""

    id: int
    trial_id: int | None
    revision: int
    title: str
    in_force: bool
    table_name: str
    metal_label: str
    torch_set: str
    amperage_a: float
    gas: str
    swirl: Swirl
    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None
    kerf_mm: float
    bevel_right_deg: float | None
    bevel_left_deg: float | None
    good_side: Side
    dross: list[DrossFile] | None
    probability_pass: float
    cuts: int
    passed: int
    locked_at: datetime
    locked_by: str


class RecipeAnswer(Wire):
    """A locked recipe; ``in_force`` unless a newer revision supersedes it."""

    id: int
    trial_id: int | None
    revision: int
    in_force: bool
    recipe: RecipeFile

    @computed_field  # type: ignore[prop-decorator]
    @property
    def plate(self) -> str:
        """Its thickness in the shop's own words."""
        return thickness(self.recipe.thickness_mm, self.recipe.metal)


Length = Annotated[float, Field(ge=TINY, le=100_000, allow_inf_nan=False)]


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
    kerf_mm: Kerf | None = None  # where its source gives none
    source: Text
    supersedes_id: Id | None = None
    amperage_is_right: bool = False  # said of one far below the set's rating
    takes_its_place: bool = False  # of the row that stands for the same process and thickness
    insisted: Insisted = ()


class BookRowAnswer(Plated):
    """A starting row."""

    id: int
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
    struck_out: bool
    is_right: bool
    kerf_assumed: bool


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

    questions_are_right: bool = False  # said of all rows that are asked about
    keep_good: bool = False


class BadRowAnswer(Wire):
    """A row that cannot be used, or is questioned, with its line and the reason."""

    line: int
    column: str
    sentence: str


class ColumnAnswer(Wire):
    """A column of the Book: the units it may be given in, and whether it may be left out."""

    name: str
    units: list[str]
    needed: bool


class ImportPreview(Wire):
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


class ImportAnswer(Wire):
    """What was taken in."""

    added: int
    superseded: int
    known: int
    left_out: int
    sets: list[str]


class CurvePoint(Wire):
    """The line between the rows at one thickness."""

    thickness_mm: float
    beyond: bool
    values: StartValuesFile


class RecipePoint(Wire):
    """A proven setting to draw beside the rows."""

    recipe_id: int
    thickness_mm: float
    values: StartValuesFile


class TrendBreakAnswer(Wire):
    """A number of a row that its neighbours do not bear out."""

    row_id: int
    quantity: str
    expected: float
    sentence: str


class TrendAnswer(Wire):
    """A metal with one set and gas over thickness."""

    metal: str
    metal_label: str
    torch_set: TorchSetAnswer
    gas: str
    rows: list[BookRowAnswer]
    curve: list[CurvePoint]
    recipes: list[RecipePoint]
    breaks: list[TrendBreakAnswer]
    struck_out: list[BookRowAnswer]


class BookPageAnswer(Wire):
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
