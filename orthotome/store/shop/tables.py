"""The shop, its cutting tables, and what was changed by whom."""

from datetime import datetime

from sqlalchemy import CheckConstraint, Index, String
from sqlmodel import Field

from orthotome.core.ready.run_through import Bed
from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class Shop(Row, table=True):
    """The one shop this installation belongs to, and the units it thinks in."""

    id: int = Field(default=1, primary_key=True)
    name: str
    length_unit: str = "mm"
    speed_unit: str = "mm/min"
    example: bool = False

    __table_args__ = (CheckConstraint("id = 1", name="only_one_shop"),)


class CuttingTable(Row, table=True):
    """A plasma table. A simulated one has the seed of its hidden truth."""

    __tablename__ = "cutting_table"

    id: int | None = Field(default=None, primary_key=True)
    name: str = Field(unique=True)
    bed: Bed = Field(default="water", sa_type=String)
    simulated_seed: int | None = None
    settings: str = Field(default="{}", sa_type=JsonText)  # the TablePage file
    version: int = 1  # of the settings: counts their changes


class ChangeRow(Row, table=True):
    """Something that was changed: what, by whom, and what stood there before."""

    __tablename__ = "change"

    id: int | None = Field(default=None, primary_key=True)
    at: datetime = Field(default_factory=now)
    by: str = ""
    act: str
    of: str  # the kind of record, in the word of its table
    of_id: int
    before: str = Field(
        default="{}", sa_type=JsonText
    )  # JSON: the fields that are others now, as they were

    __table_args__ = (
        CheckConstraint("of_id > 0", name="of_a_record"),
        Index("changes_of", "of", "of_id"),
    )
