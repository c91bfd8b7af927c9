"""What goes over the wire of test pieces."""

from typing import Annotated

from pydantic import BaseModel, Field

from orthotome.core.axis_map import Direction
from orthotome.core.pieces import PieceName
from orthotome.formats.profile import OutputProfile
from orthotome.formats.reading import FileModel

Side = Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]


class PieceQuery(BaseModel):
    """Which piece, and the scrap there is for it."""

    kind: PieceName = "square"
    plate_x_mm: Side | None = None
    plate_y_mm: Side | None = None


class PieceAnswer(BaseModel):
    """What the next piece needs."""

    kind: PieceName
    title: str
    plate_mm: tuple[float, float]
    pierces: int
    cut_length_mm: float
    seconds: float
    does_not_fit: str | None
    profile: str


class ProfileRequest(FileModel):
    """A profile to try, on a table whose axes lie so."""

    profile: OutputProfile
    x_runs: Direction | None = None
    y_runs: Direction | None = None


class ProfilePreview(BaseModel):
    """How it writes a small square."""

    program: str
