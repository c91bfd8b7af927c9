"""Cuts and their readings, and half-typed logs."""

from datetime import datetime

from sqlalchemy import String, UniqueConstraint
from sqlmodel import Field

from orthotome.core.edge.edges import ReadSide
from orthotome.core.trial.campaign import DrossKind, HeightControl, PieceKind, Through
from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class CutRow(Row, table=True):
    """One cut of a trial. ``version`` counts its corrections; ``key`` makes logging it repeatable."""

    __tablename__ = "cut"

    id: int | None = Field(default=None, primary_key=True)
    trial_id: int = Field(foreign_key="trial.id")
    number: int
    kind: str = ""  # which test piece it was cut as; empty: of that which ``piece`` says
    items: str = Field(
        default="[]", sa_type=JsonText
    )  # JSON of core.log.items: what there is to look at on it
    name: str | None = None  # the id it had in a campaign file; null: c and its number
    key: str
    piece: PieceKind = Field(sa_type=String)
    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None = None
    set_point_v: float | None = None
    height_control: HeightControl = Field(default="off", sa_type=String)
    starts: int | None = None  # on the electrode after it
    part_counts: str = Field(
        default="{}", sa_type=JsonText
    )  # JSON: starts, arc time, endings off the plate of every part, after it
    pierces: int = 1  # arc starts that its piece took
    arc_on_s: float | None = None
    parts_id: int | None = Field(default=None, foreign_key="fitting.id")
    mount_id: int | None = Field(default=None, foreign_key="fitting.id")
    plate_id: int | None = Field(default=None, foreign_key="fitting.id")
    signal_id: int | None = Field(default=None, foreign_key="fitting.id")
    through: Through | None = Field(default=None, sa_type=String)
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


class EdgeRow(Row, table=True):
    """One reading of one edge of a cut."""

    __tablename__ = "edge"

    id: int | None = Field(default=None, primary_key=True)
    cut_id: int = Field(foreign_key="cut.id", index=True)
    side: ReadSide = Field(sa_type=String)
    heading_deg: float
    bevel_deg: float
    u_deg: float
    method: str
    told: str = ""  # what was read, as it was typed, where the bevel was worked out from it


class DrossRow(Row, table=True):
    """Dross of one kind on a cut."""

    __tablename__ = "dross"

    id: int | None = Field(default=None, primary_key=True)
    cut_id: int = Field(foreign_key="cut.id", index=True)
    kind: DrossKind = Field(sa_type=String)
    grade: int


class LookRow(Row, table=True):
    """What was looked at on a cut, or on one item of it."""

    __tablename__ = "look"

    id: int | None = Field(default=None, primary_key=True)
    cut_id: int = Field(foreign_key="cut.id")
    item: int
    what: str
    value: str | None = None
    number: float | None = None

    __table_args__ = (UniqueConstraint("cut_id", "item", "what", name="looked_once"),)


class PhotoRow(Row, table=True):
    """A photo of a cut, or of one still being logged under ``log_key``; the picture itself lies beside the records, in
    a file named by its digest."""

    __tablename__ = "photo"

    id: int | None = Field(default=None, primary_key=True)
    trial_id: int = Field(foreign_key="trial.id")
    cut_id: int | None = Field(default=None, foreign_key="cut.id", index=True)
    log_key: str = Field(default="", index=True)
    digest: str
    width_px: int
    height_px: int
    bytes: int
    caption: str = ""
    added_at: datetime = Field(default_factory=now)
    added_by: str = ""
    struck_out: bool = False


class GradingRow(Row, table=True):
    """A grading check: the same pieces graded by two people, or by one twice."""

    __tablename__ = "grading"

    id: int | None = Field(default=None, primary_key=True)
    one: str
    other: str
    grades: str = Field(sa_type=JsonText)  # JSON: pairs
    struck_out: bool = False
    graded_at: datetime = Field(default_factory=now)
    noted_by: str = ""


class LogDraft(Row, table=True):
    """A half-typed log of a trial, kept so that a dead battery loses nothing."""

    __tablename__ = "log_draft"

    trial_id: int = Field(primary_key=True, foreign_key="trial.id")
    body: str
    key: str = ""  # of the cut that it will be
    saved_at: datetime = Field(default_factory=now)
    saved_by: str = ""
    version: int = 1
