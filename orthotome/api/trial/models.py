"""What goes over the wire of trials: opening, target, lists, locking."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from orthotome.api.book.models import StartSource
from orthotome.api.log.models import CutAnswer
from orthotome.api.torch.models import TorchSetAnswer
from orthotome.api.wire import Id, Plated, Wire
from orthotome.core.log.compare import Difference
from orthotome.formats.book.recipe import RecipeSetting
from orthotome.formats.reading import FileModel
from orthotome.formats.trial.campaign import (
    Height,
    LimitsFile,
    Seconds,
    StartFile,
    TargetFile,
    Text,
    ThicknessMm,
)


class TargetAnswer(Wire):
    """One target said in each way."""

    bevel_deg: float
    gap_mm: float
    perpendicularity_mm: float
    iso_range: int | None
    warning: str | None
    judged_by: str | None


class TrialRequest(FileModel):
    """A trial to open."""

    table_id: Id
    torch_set_id: Id
    metal: Text
    thickness_mm: ThicknessMm
    gas: Text | None = None  # left out: the set's own
    start: StartFile
    target: TargetFile
    limits: LimitsFile | None = None  # left out: the range core gives these starting numbers
    title: Annotated[str, Field(max_length=120)] = ""


class RetargetRequest(FileModel):
    """A new target and limits, for the trial as it was at ``revision``."""

    revision: Annotated[int, Field(ge=1)]
    target: TargetFile
    limits: LimitsFile


class EarlierTrialsRequest(FileModel):
    """Whether the table's earlier trials count, for the trial as it was at ``revision``."""

    revision: Annotated[int, Field(ge=1)]
    use: bool


class EarlierTrial(Wire):
    """A trial that sharpens a later one of its table."""

    id: int
    title: str
    metal_label: str
    plate: str


class TrialAnswer(Plated):
    """A trial's job, target and limits."""

    id: int
    table_id: int
    table: str
    simulated: bool
    torch_set: TorchSetAnswer
    good_side: Literal["right", "left"]
    scrap_heading_deg: float  # of the one scrap edge that is cut loose with a square
    height_by_hand: bool
    title: str
    metal_label: str
    start: StartFile
    start_how: str
    start_sources: list[StartSource]
    warnings: list[str]
    target: TargetFile
    aim: str
    limits: LimitsFile
    opened_at: datetime
    opened_by: str
    on_bench: bool
    on_its_own: bool
    revision: int
    recipe_id: int | None
    recipe_revision: int | None


class TrialLineAnswer(Wire):
    """A trial as a list shows it."""

    trial: TrialAnswer
    cuts: int
    last: CutAnswer | None


class TrialLines(Wire):
    """Trials that were sought, newest first, and how many there are in all."""

    lines: list[TrialLineAnswer]
    total: int


class LockPreview(Wire):
    """What a recipe will hold: the setting, how sure it is, and by how many cuts."""

    setting: RecipeSetting
    probability_pass: float
    passed: int
    cuts: int
    revision: int
    doubts: list[str]  # of numbers that go into it without having been proven here


class LockRequest(FileModel):
    """Lock the trial as it was at ``revision``."""

    revision: Annotated[int, Field(ge=1)]
    title: Annotated[str, Field(max_length=120)] = ""


class ComparedCut(Wire):
    """One of two cuts side by side, with what draws it."""

    trial_id: int
    title: str
    table: str
    recipe: str | None
    thickness_mm: float
    kerf_mm: float
    good_side: Literal["right", "left"]
    cut: CutAnswer


class CompareAnswer(Wire):
    """Two cuts side by side."""

    one: ComparedCut
    other: ComparedCut
    differences: list[Difference]


class ChangeAnswer(Wire):
    """Something that was changed: who, when, and what stood there."""

    at: datetime
    by: str
    act: str
    was: list[str]


class PierceRequest(FileModel):
    """Another pierce delay or height from now on; what is left out stays."""

    revision: Annotated[int, Field(ge=0)]
    pierce_delay_s: Seconds | None = None
    pierce_height_mm: Height | None = None
