"""What is written down of a set in one metal."""

from sqlalchemy import UniqueConstraint
from sqlmodel import Field

from orthotome.store.row import Row


class SetNote(Row, table=True):
    """What is written down of a torch set in one metal with one pair of gases: bounds and claims."""

    __tablename__ = "set_note"

    id: int | None = Field(default=None, primary_key=True)
    torch_set_id: int = Field(foreign_key="torch_set.id")
    metal: str
    gas: str
    shield_gas: str = ""
    pierce_max_mm: float | None = None
    edge_start_max_mm: float | None = None
    sever_max_mm: float | None = None
    least_mm: float | None = None
    bevel_deg: float | None = None
    bottom_dross_grade: int | None = None
    top_dross_grade: int | None = None
    colour: str | None = None
    rounding: str | None = None
    source: str = ""
    example: bool = False
    version: int = 1

    __table_args__ = (
        UniqueConstraint("torch_set_id", "metal", "gas", "shield_gas", name="one_note_per_process"),
    )
