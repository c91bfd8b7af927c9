"""What goes over the wire of watching a proven recipe."""

from datetime import datetime
from typing import Annotated

from pydantic import Field

from orthotome.api.torch.parts_models import SetPointTrimAnswer
from orthotome.api.wire import Id, Insisted, Key, Wire
from orthotome.core.book.watching import State
from orthotome.formats.reading import TINY, FileModel
from orthotome.formats.trial.campaign import BevelDeg, Kerf, Voltage


class SpotCheckRequest(FileModel):
    """One square (``edges_deg``, those it is judged by) or one edge of a part (``bevel_deg``) read against a recipe. The
    same ``key`` twice is noted once. What was not read is left out."""

    key: Key
    bevel_deg: BevelDeg | None = None
    u_deg: Annotated[float, Field(ge=TINY, le=20)] | None = None
    arc_voltage_v: Voltage | None = None
    height_held: bool = False
    kerf_mm: Kerf | None = None
    dross_grade: Annotated[int, Field(ge=0, le=4)] | None = None
    edges_deg: Annotated[tuple[BevelDeg, ...], Field(max_length=8, strict=False)] = ()
    insisted: Insisted = ()
    note: Annotated[str, Field(max_length=500)] = ""


class SpotCheckAnswer(Wire):
    """A check as it was read; ``since_proof`` are starts of the table since the recipe was locked."""

    id: int
    since_proof: int
    starts: int
    bevel_deg: float | None
    u_deg: float | None
    arc_voltage_v: float | None
    height_held: bool
    kerf_mm: float | None
    dross_grade: int | None
    note: str
    read_at: datetime
    read_by: str
    struck_out: bool


class WatchAnswer(Wire):
    """A recipe on the parts as they are now, and what its checks say."""

    recipe_id: int
    table_id: int | None  # None: its table is not here
    state: State
    state_word: str
    says: str
    chance_moved: float
    limit_deg: float
    proven_deg: float
    proven_v: float | None
    proven_kerf_mm: float
    since_proof: int
    drift_per_1000_deg: float | None
    due_at: int | None
    checks: list[SpotCheckAnswer]
    trim: SetPointTrimAnswer | None
    every_parts: int | None  # parts between two checks
    every_says: str


class EveryQuery(Wire):
    """What decides how often to check."""

    starts_each: Annotated[int, Field(ge=1, le=10_000)] = 10
    bad_part_cost: Annotated[float, Field(ge=TINY, le=1_000_000)] | None = None
    check_cost: Annotated[float, Field(ge=TINY, le=1_000_000)] | None = None


class StruckCheck(FileModel):
    """Strike a check out, or put it back."""

    check_id: Id
    out: bool
