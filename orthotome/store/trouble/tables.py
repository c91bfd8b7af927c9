"""Troubles that were solved."""

from datetime import datetime

from sqlmodel import Field

from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class TroubleCaseRow(Row, table=True):
    """A trouble as it was told, and what it was. ``facts`` is JSON, in the words of ``orthotome.trouble``."""

    __tablename__ = "trouble_case"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    complaint: str
    facts: str = Field(sa_type=JsonText)
    cause: str
    note: str = ""
    struck_out: bool = False
    solved_at: datetime = Field(default_factory=now)
    solved_by: str = ""
