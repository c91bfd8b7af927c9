"""Trials."""

from datetime import datetime

from sqlalchemy import Index, String
from sqlmodel import Field

from orthotome.core.trial.campaign import Priority, Sides
from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class Trial(Row, table=True):
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
    parts_starts: int | None = None  # on the parts before its first cut, where a file says so
    start_how: str
    start_from: str = Field(
        "[]", sa_type=JsonText
    )  # JSON: the rows the starting numbers came from, and their warnings
    bevel_deg: float
    sides: Sides = Field(sa_type=String)
    dross_grade: int
    priority: Priority = Field(sa_type=String)
    speed_low_mm_min: float
    speed_high_mm_min: float
    height_low_mm: float
    height_high_mm: float
    opened_at: datetime = Field(default_factory=now)
    opened_by: str = ""
    set_aside: bool = False
    on_bench: bool = False
    on_its_own: bool = False  # without what the table's earlier trials taught
    revision: int = 1

    __table_args__ = (Index("bench_of_table", "table_id", "on_bench"),)
