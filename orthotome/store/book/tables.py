"""Starting rows and locked recipes."""

from datetime import datetime

from sqlalchemy import String, UniqueConstraint
from sqlmodel import Field

from orthotome.core.edge.edges import Swirl
from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class BookRow(Row, table=True):
    """A starting row of the Book."""

    __tablename__ = "book_row"

    id: int | None = Field(default=None, primary_key=True)
    metal: str = Field(index=True)
    thickness_mm: float
    torch_set_id: int = Field(foreign_key="torch_set.id", index=True)
    gas: str
    speed_mm_min: float
    arc_voltage_v: float | None = None
    cut_height_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    kerf_mm: float
    source: str
    amperage_a: float | None = None  # null: the set's rating
    shield_gas: str | None = None
    gas_pressure_kpa: float | None = None
    gas_flow_l_min: float | None = None
    shield_pressure_kpa: float | None = None
    shield_flow_l_min: float | None = None
    surface: str | None = None
    bed: str | None = None
    water_level_mm: float | None = None
    least_thickness_mm: float | None = None
    most_thickness_mm: float | None = None
    example: bool = False
    struck_out: bool = False  # no longer believed; kept, and put back by a touch
    is_right: bool = False  # somebody looked: its break with the trend is not said again
    kerf_assumed: bool = False  # its source gives none
    superseded_by_id: int | None = Field(default=None, foreign_key="book_row.id")


class RecipeRow(Row, table=True):
    """A locked recipe. The database itself refuses to change or delete one (see migrations)."""

    __tablename__ = "recipe"

    id: int | None = Field(default=None, primary_key=True)
    trial_id: int | None = Field(default=None, foreign_key="trial.id", index=True)
    line: str = Field(index=True)  # table, metal, thickness and set: what its revisions share
    revision: int
    title: str
    table_name: str
    metal: str
    thickness_mm: float
    torch_set: str
    amperage_a: float
    gas: str
    swirl: Swirl = Field(sa_type=String)
    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None = None
    pierce_height_mm: float
    pierce_delay_s: float
    kerf_mm: float
    probability_pass: float
    bevel_deg: float | None = None  # mean size of the bevel on the good side of the cuts that passed
    bevel_right_deg: float | None = None  # mean bevel of theirs by side
    bevel_left_deg: float | None = None
    bottom_dross_grade: int | None = None  # the worst of theirs
    top_dross_grade: int | None = None
    dross: str | None = Field(
        default=None, sa_type=JsonText
    )  # JSON: of the last of them; null: nobody looked
    cuts: int
    passed: int
    locked_at: datetime = Field(default_factory=now)
    locked_by: str = ""
    body: str  # the orthotome.recipe file, read only when it is opened

    __table_args__ = (UniqueConstraint("line", "revision", name="one_revision_per_line"),)


class RecipeWithdrawn(Row, table=True):
    """A recipe that was locked by mistake and taken back: it is kept, its number is spent, and it proves nothing."""

    __tablename__ = "recipe_withdrawn"

    recipe_id: int = Field(primary_key=True, foreign_key="recipe.id")
    at: datetime = Field(default_factory=now)
    by: str = ""


class SpotCheckRow(Row, table=True):
    """A square, or one edge of a part, read now and then against a recipe's promise."""

    __tablename__ = "spot_check"

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True)
    recipe_id: int = Field(foreign_key="recipe.id", index=True)
    parts_id: int = Field(foreign_key="fitting.id")
    signal_id: int = Field(foreign_key="fitting.id")
    mount_id: int = Field(foreign_key="fitting.id")
    starts: int  # on the electrode then
    part_counts: str = "{}"
    of_table: int  # starts of the table then: what the chart runs along
    bevel_deg: float | None = None  # the edge farthest from square
    u_deg: float | None = None
    height_held: bool = False  # the volts were held, and say nothing
    arc_voltage_v: float | None = None
    kerf_mm: float | None = None
    dross_grade: int | None = None
    note: str = ""
    read_at: datetime = Field(default_factory=now)
    read_by: str = ""
    struck_out: bool = False
