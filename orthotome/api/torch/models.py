"""What goes over the wire of the torch: sets, what they cost, what is fitted."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from orthotome.api.wire import Id, Key, Wire
from orthotome.core.edge.edges import Swirl
from orthotome.core.torch.fittings import Kept, Part
from orthotome.formats.reading import FileModel
from orthotome.formats.torch.slug import AlignmentFile, MountFile
from orthotome.formats.trial.campaign import BevelDeg, Text, ThicknessMm


class TorchSetRequest(FileModel):
    """A new torch set."""

    name: Text
    amperage_a: Annotated[float, Field(ge=5, le=1000)]
    gas: Text
    swirl: Swirl


class TorchSetAnswer(Wire):
    """A torch set."""

    id: int
    name: str
    amperage_a: float
    gas: str
    swirl: Swirl
    example: bool
    parts_cost: float | None
    parts_starts: int | None


class PartsCostRequest(FileModel):
    """What one set of parts costs in the shop's money, and the starts it lasts here."""

    parts_cost: Annotated[float, Field(ge=0, le=100_000)] | None
    parts_starts: Annotated[int, Field(ge=1, le=100_000)] | None


class FitRequest(FileModel):
    """What was fitted on a table: parts (a whole set, or one part), the torch anew in its mount.

    A set that is left out is the one that is fitted. Parts that have starts behind them say how many; ``part_id`` is
    one that was put aside, ``again`` a whole set as it came off; ``off`` says what becomes of what comes off.
    """

    kind: Literal["parts", "mount"]
    part: Part = "set"
    torch_set_id: Id | None = None
    starts: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    arc_on_s: Annotated[float, Field(ge=0, le=1e8)] = 0.0
    part_id: Id | None = None
    again: bool = False
    off: Kept | None = None
    instead_of: Id | None = None  # what the screen showed as fitted


class FittingAnswer(Wire):
    """One thing as it is fitted now."""

    id: int
    name: str
    part: str
    fitted_at: datetime
    fitted_by: str
    starts: int
    arc_on_s: float


class MountRequest(FileModel):
    """How the torch can be turned, and how upright its jet is wanted."""

    mount: MountFile
    target_deg: Annotated[float, Field(ge=0.1, le=5)]


class SlugPlace(FileModel):
    """One reading of a slug: which way its edge faces (0 to the right, 90 away from you), and the bevel there."""

    faces_deg: Annotated[float, Field(ge=0, lt=360)]
    bevel_deg: BevelDeg


class SlugRequest(FileModel):
    """A slug that was read round. The same ``key`` sent twice is noted once."""

    key: Key
    thickness_mm: ThicknessMm
    places: Annotated[tuple[SlugPlace, ...], Field(min_length=3, max_length=24, strict=False)]


class StruckRequest(FileModel):
    """Strike it out, or put it back."""

    out: bool


class SlugAnswer(Wire):
    """A slug as it was read, and what it says by itself."""

    id: int
    thickness_mm: float
    places: list[SlugPlace]
    lean_deg: float
    toward_deg: float
    read_at: datetime
    read_by: str
    struck_out: bool


class MovedAnswer(Wire):
    """That a seat's readings disagree: since when, how the jet stood before, and the slug at which a seat would begin."""

    at: datetime
    says: str
    slug_id: int | None  # null: it moved after the last slug
    lean_deg: float
    toward_deg: float


class SeatAnswer(Wire):
    """One seat of the torch in its mount, with all that was read of it."""

    id: int
    seated_at: datetime
    alignment: AlignmentFile | None  # None: nothing was read
    in_words: str
    known_to_deg: float | None  # the lean is known to this with 95 in 100
    squares: int  # of those that are believed, as are the slugs and the readings
    read_slugs: int
    readings: int
    moved: MovedAnswer | None
    slugs: list[SlugAnswer]


class TorchAnswer(Wire):
    """The torch of a table: how it can be turned, its seat now, and the seats before."""

    table: str
    swirl_known: bool
    mount: MountFile
    target_deg: float
    thickness_mm: float | None  # of the trial on the Bench
    slug_says: str  # of which size a slug is read best
    now: SeatAnswer
    earlier: list[SeatAnswer]
