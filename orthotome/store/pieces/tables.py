"""Scrap, pieces that wait to be read, and the shop's own parts."""

from datetime import datetime

from sqlmodel import Field

from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class PlateRow(Row, table=True):
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


class PlateZone(Row, table=True):
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


class PlannedCut(Row, table=True):
    """A piece that was cut and waits to be read; the cut logged with its ``key`` is its reading."""

    __tablename__ = "planned_cut"

    id: int | None = Field(default=None, primary_key=True)
    trial_id: int = Field(foreign_key="trial.id", index=True)
    key: str = Field(unique=True)
    number: int
    kind: str = ""  # which test piece; empty: a square
    items: str = Field(default="[]", sa_type=JsonText)  # JSON of core.log.items, as it was cut
    speed_mm_min: float
    cut_height_mm: float
    parts_id: int = Field(foreign_key="fitting.id")  # what was fitted when it was cut, which may be
    mount_id: int = Field(foreign_key="fitting.id")  # another by the time it is read
    signal_id: int = Field(foreign_key="fitting.id")
    starts: int
    part_counts: str = "{}"
    pierces: int = 1
    arc_on_s: float = 0.0  # by its program
    zone_id: int | None = Field(default=None, foreign_key="plate_zone.id")
    cut_at: datetime = Field(default_factory=now)
    cut_by: str = ""
    struck_out: bool = False


class OwnPart(Row, table=True):
    """A shop's own test part: its closed contours, as they were found in a drawing."""

    __tablename__ = "own_part"

    id: int | None = Field(default=None, primary_key=True)
    name: str
    rings: str = Field(sa_type=JsonText)  # JSON of formats.own_part
    notes: str = Field(
        default="[]", sa_type=JsonText
    )  # JSON: what was left out or joined when it was read
    measured: str = Field(
        default="", sa_type=JsonText
    )  # JSON: outlines, holes, extent; empty where they were not kept yet
    struck_out: bool = False
    noted_at: datetime = Field(default_factory=now)
