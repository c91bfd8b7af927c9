"""Signal paths as they were set."""

from datetime import datetime

from sqlmodel import Field, SQLModel

from orthotome.store.clock import now


class SignalPathRow(SQLModel, table=True):
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
