"""The tables. Lengths in mm, speeds in mm/min, V, s, deg, A, always; null is "not measured"."""

from datetime import UTC, datetime

from sqlalchemy import CheckConstraint, Index, UniqueConstraint
from sqlmodel import Field, SQLModel


def now() -> datetime:
    """The time a row is written, in UTC."""
    return datetime.now(UTC).replace(microsecond=0)


class Shop(SQLModel, table=True):
    """The one shop this installation belongs to, and the units it thinks in."""

    id: int = Field(default=1, primary_key=True)
    name: str
    length_unit: str = "mm"
    speed_unit: str = "mm/min"
    example: bool = False

    __table_args__ = (CheckConstraint("id = 1", name="only_one_shop"),)


class TorchSetRow(SQLModel, table=True):
    """A set of torch parts that belong together."""

    __tablename__ = "torch_set"

    id: int | None = Field(default=None, primary_key=True)
    name: str = Field(unique=True)
    amperage_a: float
    gas: str
    swirl: str
    example: bool = False


class CuttingTable(SQLModel, table=True):
    """A plasma table. A simulated one has the seed of its hidden truth."""

    __tablename__ = "cutting_table"

    id: int | None = Field(default=None, primary_key=True)
    name: str = Field(unique=True)
    bed: str = "water"
    simulated_seed: int | None = None
    torch_set_id: int | None = Field(default=None, foreign_key="torch_set.id")
    starts_on_parts: int = 0
    parts_series: int = 1  # counts changes of parts; cuts of another series are another story
    mount_series: int = 1  # counts re-seatings of the torch


class BookRow(SQLModel, table=True):
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
    example: bool = False
    superseded_by_id: int | None = Field(default=None, foreign_key="book_row.id")


class Trial(SQLModel, table=True):
    """Tuning one metal, thickness and torch set on one table. ``revision`` counts every change."""

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    torch_set_id: int = Field(foreign_key="torch_set.id")
    title: str = ""
    metal: str
    thickness_mm: float
    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None = None
    pierce_height_mm: float
    pierce_delay_s: float
    kerf_mm: float
    start_how: str
    start_from: str = "[]"  # JSON: the rows the starting numbers came from, and their warnings
    bevel_deg: float
    sides: str
    dross_grade: int
    priority: str
    speed_low_mm_min: float
    speed_high_mm_min: float
    height_low_mm: float
    height_high_mm: float
    opened_at: datetime = Field(default_factory=now)
    opened_by: str = ""
    set_aside: bool = False
    on_bench: bool = False
    revision: int = 1

    __table_args__ = (Index("bench_of_table", "table_id", "on_bench"),)


class CutRow(SQLModel, table=True):
    """One cut of a trial. ``version`` counts its corrections; ``key`` makes logging it repeatable."""

    __tablename__ = "cut"

    id: int | None = Field(default=None, primary_key=True)
    trial_id: int = Field(foreign_key="trial.id")
    number: int
    key: str
    piece: str
    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None = None
    set_point_v: float | None = None
    height_control: str = "off"
    starts: int | None = None
    parts: str = ""
    mount: str = ""
    plate: str = ""
    signal: str = ""
    through: str | None = None
    arc_lost: bool = False
    dross_looked_at: bool = False
    kerf_mm: float | None = None
    lag_deg: float | None = None
    note: str = ""
    logged_at: datetime = Field(default_factory=now)
    logged_by: str = ""
    struck_out: bool = False
    version: int = 1

    __table_args__ = (
        UniqueConstraint("trial_id", "number", name="one_number_per_trial"),
        UniqueConstraint("trial_id", "key", name="logged_once"),
    )


class EdgeRow(SQLModel, table=True):
    """One reading of one edge of a cut."""

    __tablename__ = "edge"

    id: int | None = Field(default=None, primary_key=True)
    cut_id: int = Field(foreign_key="cut.id", index=True)
    side: str
    heading_deg: float
    bevel_deg: float
    u_deg: float
    method: str


class DrossRow(SQLModel, table=True):
    """Dross of one kind on a cut."""

    __tablename__ = "dross"

    id: int | None = Field(default=None, primary_key=True)
    cut_id: int = Field(foreign_key="cut.id", index=True)
    kind: str
    grade: int


class LogDraft(SQLModel, table=True):
    """A half-typed log of a trial, kept so that a dead battery loses nothing."""

    __tablename__ = "log_draft"

    trial_id: int = Field(primary_key=True, foreign_key="trial.id")
    body: str
    saved_at: datetime = Field(default_factory=now)


class RecipeRow(SQLModel, table=True):
    """A locked recipe. The database itself refuses to change or delete one (see migrations)."""

    __tablename__ = "recipe"

    id: int | None = Field(default=None, primary_key=True)
    trial_id: int | None = Field(default=None, foreign_key="trial.id", index=True)
    line: str = Field(index=True)  # table, metal, thickness and set: what its revisions share
    revision: int
    title: str
    locked_at: datetime = Field(default_factory=now)
    locked_by: str = ""
    body: str  # the orthotome.recipe file

    __table_args__ = (UniqueConstraint("line", "revision", name="one_revision_per_line"),)
