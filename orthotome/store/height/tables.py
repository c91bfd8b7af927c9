"""Signal paths as they were set; lines, recordings and trims; what height control is told."""

from datetime import datetime

from sqlalchemy import LargeBinary, String, UniqueConstraint
from sqlmodel import Field

from orthotome.core.height.schools import School
from orthotome.store.clock import now
from orthotome.store.row import Row


class SignalPathRow(Row, table=True):
    """A signal path as it was set, never changed: the newest of a table is the one in force."""

    __tablename__ = "signal_path"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    fitting_id: int = Field(foreign_key="fitting.id")
    source_ratio: float
    card_ratio: float
    multiplier: float
    true_v: float | None = None
    screen_v: float | None = None
    note: str = ""
    set_at: datetime = Field(default_factory=now)
    set_by: str = ""


class LineRow(Row, table=True):
    """Where a table says what its arc shows: a line of ``orthotome.line``, or the simulated one."""

    __tablename__ = "line"

    table_id: int = Field(primary_key=True, foreign_key="cutting_table.id")
    host: str = ""
    port: int = 0
    simulated: bool = False
    set_at: datetime = Field(default_factory=now)
    set_by: str = ""


class TraceRow(Row, table=True):
    """A recording of the arc voltage: of a table's line as it cut, or taken in from a file.

    ``starts`` and ``arc_on_s`` are counted on the fitted parts when it ends; ``spent`` of the starts were since
    taken for a logged piece, which are then not counted twice.
    """

    __tablename__ = "trace"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    trial_id: int | None = Field(default=None, foreign_key="trial.id", index=True)
    cut_id: int | None = Field(default=None, foreign_key="cut.id", index=True)
    name: str
    source: str  # line, file
    samples: int = 0
    starts: int = 0
    arc_on_s: float = 0.0
    off_plate: int = 0
    spent: bool = False
    ended: bool = False
    interrupted: str = ""  # why it broke off, where it did
    speed_mm_min: float | None = None
    cut_height_mm: float | None = None
    begun_at: datetime = Field(default_factory=now)
    begun_by: str = ""
    struck_out: bool = False


class TracePart(Row, table=True):
    """Some samples of a recording, as they came; never changed."""

    __tablename__ = "trace_part"

    id: int | None = Field(default=None, primary_key=True)
    trace_id: int = Field(foreign_key="trace.id", index=True)
    number: int
    samples: int
    body: bytes = Field(sa_type=LargeBinary)

    __table_args__ = (UniqueConstraint("trace_id", "number", name="kept_once"),)


class TrimRow(Row, table=True):
    """The set-point trimmed while it cut: by how much, and at which moment of the recording."""

    __tablename__ = "trim"

    id: int | None = Field(default=None, primary_key=True)
    trace_id: int = Field(foreign_key="trace.id", index=True)
    at_s: float
    by_v: float
    set_point_v: float | None = None
    trimmed_at: datetime = Field(default_factory=now)
    trimmed_by: str = ""


class ControlRow(Row, table=True):
    """What height control is told in a trial, as it was chosen: the newest counts."""

    __tablename__ = "control"

    id: int | None = Field(default=None, primary_key=True)
    trial_id: int = Field(foreign_key="trial.id", index=True)
    school: School = Field(sa_type=String)
    set_point_v: float | None = None
    control_delay_s: float
    dead_band_v: float
    hold_below_share: float | None = None
    crossing_jump_v: float | None = None
    hold_holes: bool = True
    at_starts: int | None = None
    chosen_at: datetime = Field(default_factory=now)
    chosen_by: str = ""
