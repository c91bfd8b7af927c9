"""What nobody wrote down of a table."""

from datetime import datetime

from sqlalchemy import LargeBinary
from sqlmodel import Field, SQLModel

from orthotome.store.clock import now


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
