"""Exercises that were taken: faults that were found, and trials on practice tables."""

from datetime import datetime

from sqlmodel import Field

from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class PracticeRow(Row, table=True):
    """An exercise or a case that somebody took to its end: a sheet of what was passed."""

    __tablename__ = "practice"

    id: int | None = Field(default=None, primary_key=True)
    case: str = Field(index=True)  # an exercise by its name, a random case by its number
    asked: str = Field(sa_type=JsonText)  # JSON, in order
    cause: str
    act: str
    passed: bool
    spent: float
    taken_at: datetime = Field(default_factory=now)
    taken_by: str = Field(default="", index=True)


class PracticeRunRow(Row, table=True):
    """An exercise at a simulated table. The table and its trial are in the practice shop's own records, by their numbers
    there; ``claim`` is empty until it was ended."""

    __tablename__ = "practice_run"

    id: int | None = Field(default=None, primary_key=True)
    case: str = Field(index=True)  # an exercise by its name, a table by its number
    table_id: int
    trial_id: int
    begun_at: datetime = Field(default_factory=now)
    begun_by: str = Field(default="", index=True)
    claim: str = ""
    cuts: int = 0
    passed: bool = False
    sentence: str = ""
    ended_at: datetime | None = None
