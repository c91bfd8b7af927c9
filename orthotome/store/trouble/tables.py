"""Troubles that were solved, and exercises that were taken."""

from datetime import datetime

from sqlmodel import Field, SQLModel

from orthotome.store.clock import now


class TroubleCaseRow(SQLModel, table=True):
    """A trouble as it was told, and what it was. ``facts`` is JSON, in the words of ``orthotome.trouble``."""

    __tablename__ = "trouble_case"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    complaint: str
    facts: str
    cause: str
    note: str = ""
    struck_out: bool = False
    solved_at: datetime = Field(default_factory=now)
    solved_by: str = ""


class PracticeRow(SQLModel, table=True):
    """An exercise or a case that somebody took to its end: a sheet of what was passed."""

    __tablename__ = "practice"

    id: int | None = Field(default=None, primary_key=True)
    case: str = Field(index=True)  # an exercise by its name, a random case by its number
    asked: str  # JSON, in order
    cause: str
    act: str
    passed: bool
    spent: float
    taken_at: datetime = Field(default_factory=now)
    taken_by: str = Field(default="", index=True)
