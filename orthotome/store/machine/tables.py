"""What nobody wrote down of a table, and what the shop measures with."""

from datetime import datetime

from sqlalchemy import LargeBinary, String
from sqlmodel import Field

from orthotome.core.edge.instruments import Method
from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class TableFact(Row, table=True):
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


class InstrumentRow(Row, table=True):
    """Something the shop measures edges with. Resolution and repeatability are in its method's unit."""

    __tablename__ = "instrument"

    id: int | None = Field(default=None, primary_key=True)
    name: str
    method: Method = Field(sa_type=String)
    resolution: float
    repeatability: float
    struck_out: bool = False
    version: int = 1


class InstrumentCheck(Row, table=True):
    """Repeats of one edge with an instrument by one person."""

    __tablename__ = "instrument_check"

    id: int | None = Field(default=None, primary_key=True)
    instrument_id: int = Field(foreign_key="instrument.id", index=True)
    readings: str = Field(sa_type=JsonText)  # JSON, in the method's unit
    struck_out: bool = False
    checked_at: datetime = Field(default_factory=now)
    checked_by: str = ""


class MeasuredRow(Row, table=True):
    """Pieces that were measured to judge a table by, as they were typed; what they say is worked out anew."""

    __tablename__ = "machine_measured"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    measures: str = Field(sa_type=JsonText)  # JSON of formats.machine.measures
    note: str = ""
    struck_out: bool = False
    measured_at: datetime = Field(default_factory=now)
    measured_by: str = ""


class MachineCheckRow(Row, table=True):
    """Something that was found out about a table, or that upset it. ``given`` is JSON of formats.machine.checks."""

    __tablename__ = "machine_check"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    kind: str
    given: str = Field(sa_type=JsonText)
    note: str = ""
    struck_out: bool = False
    checked_at: datetime = Field(default_factory=now)
    checked_by: str = ""


class TriedHoleRow(Row, table=True):
    """A hole that was cut and tried with a set in a plate. ``given`` is JSON of formats.machine.checks."""

    __tablename__ = "tried_hole"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    torch_set: str
    metal: str
    thickness_mm: float
    given: str = Field(sa_type=JsonText)
    struck_out: bool = False
    tried_at: datetime = Field(default_factory=now)
    tried_by: str = ""
