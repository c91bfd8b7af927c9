"""The tables. Lengths in mm, speeds in mm/min, V, s, deg, A, always; null is "not measured"."""

from datetime import UTC, datetime

from sqlalchemy import CheckConstraint, Index, LargeBinary, UniqueConstraint
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
    parts_cost: float | None = None  # of one set of parts, in the shop's money
    parts_starts: int | None = None  # that such a set lasts here


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
    signal_series: int = 1  # counts changes of the signal path: volts before and after are apart
    settings: str = "{}"  # the TableSettings file


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
    gas: str = ""  # empty: the set's own
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


class SetNote(SQLModel, table=True):
    """What is written down of a torch set in one metal with one pair of gases: bounds and claims."""

    __tablename__ = "set_note"

    id: int | None = Field(default=None, primary_key=True)
    torch_set_id: int = Field(foreign_key="torch_set.id")
    metal: str
    gas: str
    shield_gas: str = ""
    pierce_max_mm: float | None = None
    edge_start_max_mm: float | None = None
    sever_max_mm: float | None = None
    least_mm: float | None = None
    bevel_deg: float | None = None
    bottom_dross_grade: int | None = None
    top_dross_grade: int | None = None
    colour: str | None = None
    rounding: str | None = None
    source: str = ""
    example: bool = False

    __table_args__ = (
        UniqueConstraint("torch_set_id", "metal", "gas", "shield_gas", name="one_note_per_process"),
    )


class SignalPathRow(SQLModel, table=True):
    """A signal path as it was set, never changed: the newest of a table is the one in force."""

    __tablename__ = "signal_path"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    series: int
    source_ratio: float
    card_ratio: float
    multiplier: float
    true_v: float | None = None
    screen_v: float | None = None
    note: str = ""
    set_at: datetime = Field(default_factory=now)
    set_by: str = ""


class TableFact(SQLModel, table=True):
    """Something about a table that its maker never wrote down, with a photo where there is one."""

    __tablename__ = "table_fact"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    title: str
    told: str = ""
    photo: bytes | None = Field(default=None, sa_type=LargeBinary)
    photo_type: str | None = None
    struck_out: bool = False
    noted_at: datetime = Field(default_factory=now)
    noted_by: str = ""


class ReadinessRun(SQLModel, table=True):
    """A run-through before cutting: for which table and trial, by whom, begun and done when."""

    __tablename__ = "readiness_run"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    trial_id: int | None = Field(default=None, foreign_key="trial.id", index=True)
    begun_at: datetime = Field(default_factory=now)
    begun_by: str = ""
    done_at: datetime | None = None
    skipped: str = "[]"  # JSON: what was due and not answered when it was called done


class ReadinessAnswer(SQLModel, table=True):
    """The answer to one item of a run-through; the last one given stands."""

    __tablename__ = "readiness_answer"

    id: int | None = Field(default=None, primary_key=True)
    run_id: int = Field(foreign_key="readiness_run.id")
    code: str = Field(index=True)
    asked: str
    answer: str
    note: str = ""
    starts: int = 0
    answered_at: datetime = Field(default_factory=now)
    answered_by: str = ""

    __table_args__ = (UniqueConstraint("run_id", "code", name="one_answer_per_item"),)


class ReadinessRule(SQLModel, table=True):
    """What the shop changed of the run-through: an item dropped or re-timed, or one of its own."""

    __tablename__ = "readiness_rule"

    code: str = Field(primary_key=True)
    dropped: bool = False
    period: str | None = None
    number: int = 1
    ask: str | None = None  # of the shop's own item
    if_not: str | None = None
    room: str | None = None  # the group it stands in


class PlateRow(SQLModel, table=True):
    """A piece of scrap that test pieces are cut from. Its free area is what its zones leave."""

    __tablename__ = "plate"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    name: str
    width_mm: float
    height_mm: float
    margin_mm: float = 0.0
    used_up: bool = False
    noted_at: datetime = Field(default_factory=now)


class PlateZone(SQLModel, table=True):
    """A rectangle of a plate that is taken: a clamp, a wet slat, or where a piece was cut."""

    __tablename__ = "plate_zone"

    id: int | None = Field(default=None, primary_key=True)
    plate_id: int = Field(foreign_key="plate.id", index=True)
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    what: str
    struck_out: bool = False


class PlannedCut(SQLModel, table=True):
    """A piece that was cut and waits to be read; the cut logged with its ``key`` is its reading."""

    __tablename__ = "planned_cut"

    id: int | None = Field(default=None, primary_key=True)
    trial_id: int = Field(foreign_key="trial.id", index=True)
    key: str = Field(unique=True)
    number: int
    speed_mm_min: float
    cut_height_mm: float
    parts: str  # what was fitted when it was cut, which may be another by the time it is read
    mount: str
    signal: str
    starts: int
    zone_id: int | None = Field(default=None, foreign_key="plate_zone.id")
    cut_at: datetime = Field(default_factory=now)
    cut_by: str = ""
    struck_out: bool = False


class OwnPart(SQLModel, table=True):
    """A shop's own test part: its closed contours, as they were found in a drawing."""

    __tablename__ = "own_part"

    id: int | None = Field(default=None, primary_key=True)
    name: str
    rings: str  # JSON of formats.own_part
    notes: str = "[]"  # JSON: what was left out or joined when it was read
    struck_out: bool = False
    noted_at: datetime = Field(default_factory=now)
