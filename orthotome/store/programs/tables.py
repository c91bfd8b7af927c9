"""Cutting programs that were checked, with what they were checked against and what was found."""

from datetime import datetime

from sqlmodel import Field

from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class ProgramRow(Row, table=True):
    """A program as it came, or a copy that was put right. Its text is never changed."""

    __tablename__ = "program"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    name: str
    text: bytes  # compressed
    size_bytes: int
    recipe_id: int | None = Field(default=None, foreign_key="recipe.id")
    trial_id: int | None = Field(default=None, foreign_key="trial.id")
    sheet_x_mm: float | None = None
    sheet_y_mm: float | None = None
    torch_set_id: int | None = Field(default=None, foreign_key="torch_set.id")
    """Another set than its setting's: the plate is the setting's, the numbers that set's."""
    drawing: str = Field(default="", sa_type=JsonText)  # JSON of formats.own_part
    drawing_name: str = ""
    nominal: str = Field(
        default="{}", sa_type=JsonText
    )  # JSON: sizes typed in place of a drawing, by the contour's number
    half: int = 0  # which of the two that its original was split into, or 0
    copy_of: int | None = Field(default=None, foreign_key="program.id")
    written: str = Field(default="[]", sa_type=JsonText)  # JSON: what was put right in a copy
    report: str = Field(
        default="", sa_type=JsonText
    )  # JSON of formats.programs.report, as it was when it was checked last
    stand: str = Field(default="{}", sa_type=JsonText)  # JSON of core.programs.kept.Stand, then
    version: int = 1
    noted_at: datetime = Field(default_factory=now)
    noted_by: str = ""
    checked_at: datetime = Field(default_factory=now)
    struck_out: bool = False
