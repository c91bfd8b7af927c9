"""What goes over the wire of fitted parts: what each has done, how it looks, what it has left, what it costs."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from orthotome.api.wire import Id, Key, Wire
from orthotome.core.torch.counts import Source
from orthotome.core.torch.fittings import Kept, SinglePart
from orthotome.core.torch.forecast import Verdict
from orthotome.core.torch.inspection import GoesIn
from orthotome.core.torch.set_point import HowHeld
from orthotome.core.torch.suspects import Suspect
from orthotome.formats.reading import TINY, FileModel
from orthotome.formats.torch.wear import StartsLeftFile

Starts = Annotated[int, Field(ge=0, le=100_000_000)]
Note = Annotated[str, Field(max_length=500)]


class CountsModel(Wire):
    """Running totals of one part."""

    starts: int
    arc_on_s: float
    off_plate: int
    early_losses: int
    collisions: int


class SeenModel(Wire):
    """One thing that a part can look like."""

    value: str
    word: str
    verdict: Verdict
    does: str


class PartLookModel(Wire):
    """One thing to look at on a part; the first is how a new one looks."""

    what: str
    ask: str
    seen: list[SeenModel]


class InspectionAnswer(Wire):
    """A part as somebody looked at it."""

    id: int
    part_id: int
    starts: int
    looks: dict[str, str]
    pit_mm: float | None
    u_mm: float | None
    told: str
    verdict: Verdict
    note: str
    has_photo: bool
    seen_at: datetime
    seen_by: str


class PartAnswer(Wire):
    """One part with its history. ``left`` is None where nobody knows; ``says`` tells what would."""

    id: int
    part: SinglePart
    word: str
    number: int
    counts: CountsModel
    kept: Kept
    kept_word: str
    goes_in: GoesIn
    limit_mm: float | None
    left: StartsLeftFile | None
    verdict: Verdict
    verdict_word: str
    says: str
    inspections: list[InspectionAnswer]
    on_shelf: int | None


class PitPoint(Wire):
    """A pit as it was measured."""

    starts: int
    pit_mm: float
    u_mm: float


class PitLine(Wire):
    """Where the pit is, and will be: middle, and 5 and 95 in 100."""

    starts: int
    low_mm: float
    mid_mm: float
    high_mm: float


class ForecastAnswer(Wire):
    """The electrode's pit: measured, now, and on to its limit."""

    starts: int
    limit_mm: float
    limit_known: bool  # by the manual, and not the trade's usual
    pit_mm: float
    sd_mm: float
    left: StartsLeftFile
    points: list[PitPoint]
    line: list[PitLine]
    learnt_from: int  # earlier electrodes of the shop
    shorter: str  # what says that it wears too fast; empty where nothing does


class CostsAnswer(Wire):
    """In the shop's money. None: a price or a life is not known."""

    per_start: float | None
    per_run: float | None
    run_word: str  # "a metre", "a foot"
    per_ending: float | None
    habit: float | None
    habit_says: str
    needs: str  # what would have to be known; empty where all is


class SetPointTrimAnswer(Wire):
    """What the set-point needs on the parts as they are now."""

    trial_id: int
    title: str
    held: HowHeld
    told_v: float | None
    now_v: float | None
    sd_v: float | None
    by_v: float
    due_at_starts: int | None
    closer_mm: float | None
    touches_at_starts: int | None
    starts: int
    says: str
    since_proven: str  # of a locked trial, on the parts as they are
    v_per_1000: float
    v_per_1000_sd: float
    volts_read: int
    apart: str  # whether electrode and nozzle can be told apart


class RaiseRequest(FileModel):
    """Raise what is told by so much; less than nothing lowers it."""

    by_v: Annotated[float, Field(ge=-50, le=50)]


class SuspectAnswer(Wire):
    """One suspect in its turn."""

    suspect: Suspect
    points: bool | None
    shows: str
    do: str


class CountedFrom(Wire):
    """Starts on the electrode by what counted them."""

    source: Source
    word: str
    starts: int


class CounterAnswer(Wire):
    """The source's own counter as it was read last, and what had been missed by then."""

    starts: int
    arc_on_s: float | None
    missed_starts: int
    read_at: datetime
    read_by: str


class StepModel(Wire):
    """One step of what is done after a collision."""

    name: str
    do: str


class PartsAnswer(Wire):
    """The torch of a table in parts, in the order in which they go in."""

    table: str
    torch_set_id: int | None
    torch_set: str | None
    fitting_id: int
    fitted: list[PartAnswer]
    tray: list[PartAnswer]
    forecast: ForecastAnswer
    costs: CostsAnswer
    trim: SetPointTrimAnswer | None
    suspects: list[SuspectAnswer]
    counted_from: list[CountedFrom]
    counter: CounterAnswer | None
    collided_at: datetime | None  # where nobody read the lean since
    after_a_collision: list[StepModel]
    before_hands: str


class BallRequest(FileModel):
    """A pit by calliper and ball."""

    rim_mm: Annotated[float, Field(ge=1, le=200)]
    over_ball_mm: Annotated[float, Field(ge=1, le=220)]
    ball_mm: Annotated[float, Field(ge=0.3, le=10)]


class InspectRequest(FileModel):
    """What was seen of a part. The same ``key`` sent twice is noted once; a verdict left out is the worst of it."""

    key: Key
    looks: dict[str, str] = Field(default_factory=dict, max_length=20)
    pit_mm: Annotated[float, Field(ge=0, le=20)] | None = None
    ball: BallRequest | None = None
    verdict: Literal["keep", "watch", "rough_work", "replace"] | None = None
    note: Note = ""


class JudgedAnswer(Wire):
    """What looks and pit come to, before they are noted."""

    pit_mm: float | None
    u_mm: float | None
    verdict: Verdict
    verdict_word: str
    why: str


class KeepRequest(FileModel):
    """Where a part is that is not fitted; how deep its pit may become, by the manual."""

    kept: Kept
    limit_mm: Annotated[float, Field(ge=0.2, le=6)] | None = None


class LooksAnswer(Wire):
    """What to look at on each kind of part."""

    part: SinglePart
    word: str
    goes_in: GoesIn
    looks: list[PartLookModel]


class CountRequest(FileModel):
    """A run that nothing counted: a program so many times, or what is known of a shift."""

    starts: Annotated[int, Field(ge=1, le=100_000)]
    arc_on_s: Annotated[float, Field(ge=0, le=1e7)] = 0.0
    off_plate: Annotated[int, Field(ge=0, le=100_000)] = 0
    early_losses: Annotated[int, Field(ge=0, le=100_000)] = 0
    note: Note = ""


class CounterRequest(FileModel):
    """What the source's own counter shows; ``set_back`` says that it was zeroed."""

    starts: Starts
    arc_on_s: Annotated[float, Field(ge=0, le=1e9)] | None = None
    set_back: bool = False


class StockLine(Wire):
    """Parts of one kind on the shelf. ``used_month`` were fitted new in the last thirty days."""

    torch_set_id: int
    torch_set: str
    part: SinglePart
    word: str
    on_shelf: int | None
    least: int | None
    cost: float | None
    used_month: int
    short: bool


class StockAnswer(Wire):
    """The shelf, and what the last thirty days used."""

    lines: list[StockLine]
    month_cost: float | None
    month_says: str


class StockRequest(FileModel):
    """What lies there of one part, how few there should be, what one costs."""

    torch_set_id: Id
    part: SinglePart
    on_shelf: Annotated[int, Field(ge=0, le=100_000)]
    least: Annotated[int, Field(ge=0, le=100_000)] = 0
    cost: Annotated[float, Field(ge=TINY, le=100_000)] | None = None


class PutAsideAnswer(Wire):
    """A set whose parts lie ready, with the starts on its electrode."""

    torch_set_id: int
    starts: int


class RoughWorkAnswer(Wire):
    """What of the tray will do for a rough job; empty where the job is not, or nothing lies there."""

    says: str


class TakenInAnswer(Wire):
    """How many lines of a stock list were taken in."""

    lines: int
