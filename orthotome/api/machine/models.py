"""What goes over the wire of a table: its page, its air, its notes, its output profile."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from orthotome.api.wire import Version, Wire
from orthotome.core.edge.instruments import Method
from orthotome.core.machine.axis_map import Direction
from orthotome.core.ready.run_through import Bed
from orthotome.formats.book.rows import Flow, Pressure
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.machine.table_page import TablePage
from orthotome.formats.reading import TINY, FileModel
from orthotome.formats.trial.campaign import Text


class SettingsChange(FileModel):
    """What to change of a table's page; what is left out stays."""

    bed: Bed | None = None
    settings: TablePage
    version: Version | None = None  # of the page as the screen read it; left out, it is not asked about


class SettingsAnswer(Wire):
    """A table's page."""

    table_id: int
    name: str
    bed: str
    settings: TablePage
    version: int
    axes_in_words: str | None
    mirrors: bool | None


class JogsAnswer(Wire):
    """What two jogs prove."""

    sentence: str
    mirrors: bool


class CylinderRequest(FileModel):
    """A job to be cut on bottled gas."""

    flow_l_min: Flow
    arc_minutes: Annotated[float, Field(ge=TINY, le=10_000)]
    starts: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    water_l: Annotated[float, Field(ge=TINY, le=10_000)]
    pressure_kpa: Pressure
    least_kpa: Annotated[float, Field(ge=0, le=40_000)] = 0
    cylinders: Annotated[int, Field(ge=1, le=1000)] = 1


class CylinderAnswer(Wire):
    """How far the cylinders carry it."""

    gas_l: float
    used_l: float
    enough: bool
    sentence: str


class FactRequest(FileModel):
    """Something about a table that its maker never wrote down."""

    title: Text
    told: Annotated[str, Field(max_length=4000)] = ""


class FactAnswer(Wire):
    """A noted fact."""

    id: int
    title: str
    told: str
    has_photo: bool
    noted_at: datetime
    noted_by: str


class ProfileRequest(FileModel):
    """A profile to try, on a table whose axes lie so."""

    profile: OutputProfile
    x_runs: Direction | None = None
    y_runs: Direction | None = None


class ProfilePreview(Wire):
    """How it writes a small piece."""

    program: str


Spread = Annotated[float, Field(ge=0, le=100, description="in the method's unit")]


class InstrumentRequest(FileModel):
    """An instrument; what is left out is the usual of its method."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    method: Method
    resolution: Spread | None = None
    repeatability: Spread | None = None


class InstrumentChange(FileModel):
    """How fine it reads, and how well a hand repeats it."""

    version: Version
    resolution: Spread
    repeatability: Spread


class InstrumentWritten(Wire):
    """An instrument that was written down."""

    id: int
    version: int


class CheckRequest(FileModel):
    """Repeats of one edge, in the method's unit."""

    readings: Annotated[
        tuple[Annotated[float, Field(ge=-10_000, le=10_000)], ...],
        Field(min_length=1, max_length=40, strict=False),
    ]


class CheckAnswer(Wire):
    """Repeats of one edge, and the spread they tell."""

    id: int
    readings: list[float]
    checked_at: datetime
    checked_by: str
    sd: float
    low: float
    high: float
    count: int


class InstrumentAnswer(Wire):
    """An instrument in the hand of whoever asks; ``id`` is null of a usual one, that nobody wrote down."""

    id: int | None
    version: int
    name: str
    method: Method
    resolution: float
    repeatability: float
    checked: bool
    unit: Literal["deg", "mm", "px"]
    label: str
    reads: str
    mind: str
    u_deg: float
    says: str
    checks: list[CheckAnswer]
