"""What goes over the wire of test pieces."""

from typing import Annotated

from pydantic import BaseModel, Field

from orthotome.api.models import Id
from orthotome.core.axis_map import Direction
from orthotome.core.pieces import PieceName
from orthotome.formats.campaign import Text
from orthotome.formats.profile import OutputProfile
from orthotome.formats.reading import FileModel

Side = Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]


class PieceQuery(BaseModel):
    """Which piece, and the scrap there is for it."""

    kind: PieceName = "square"
    plate_id: Id | None = None


class FileQuery(PieceQuery):
    """Which file of it."""

    dry_run: bool = False


class ZoneModel(FileModel):
    """A rectangle of a plate, from its near left corner."""

    x_mm: Annotated[float, Field(ge=0, le=100_000)]
    y_mm: Annotated[float, Field(ge=0, le=100_000)]
    width_mm: Side
    height_mm: Side


class ZoneRequest(ZoneModel):
    """A part of a plate that is taken: a clamp, a wet slat, an old cut."""

    what: Text


class ZoneAnswer(ZoneRequest):
    """A taken zone."""

    id: int


class PlateRequest(FileModel):
    """A piece of scrap."""

    name: Text
    width_mm: Side
    height_mm: Side
    margin_mm: Annotated[float, Field(ge=0, le=500)] = 0.0


class PlateAnswer(BaseModel):
    """A plate with what is taken of it."""

    id: int
    name: str
    width_mm: float
    height_mm: float
    margin_mm: float
    free_share: float
    zones: list[ZoneAnswer]


class CutPieceRequest(FileModel):
    """A piece that was cut from a plate: its place is taken from now on."""

    kind: PieceName
    plate_id: Id


class PieceAnswer(BaseModel):
    """What the next piece needs."""

    kind: PieceName
    title: str
    plate_mm: tuple[float, float]
    pierces: int
    cut_length_mm: float
    seconds: float
    real_seconds: float | None  # at this table's acceleration; null while that is not known
    share_at_speed: float | None
    does_not_fit: str | None
    spot: ZoneModel | None  # where it goes on the plate asked for
    profile: str


class ProfileRequest(FileModel):
    """A profile to try, on a table whose axes lie so."""

    profile: OutputProfile
    x_runs: Direction | None = None
    y_runs: Direction | None = None


class ProfilePreview(BaseModel):
    """How it writes a small piece."""

    program: str
