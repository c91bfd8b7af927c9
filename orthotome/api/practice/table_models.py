"""What is said of exercises at practice tables."""

from datetime import datetime
from typing import Annotated

from pydantic import Field

from orthotome.api.wire import Wire
from orthotome.core.practice.hidden import Claim
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import ChanceMap
from orthotome.formats.reading import FileModel
from orthotome.sim.debrief import ArcPicture


class TableExerciseAnswer(Wire):
    """A graded exercise at a table, and whether who asks has passed it."""

    code: str
    title: str
    task: str
    most_cuts: int
    watched: bool  # its arc is: it is run, not cut
    passed: bool
    taken: int


class ClaimAnswer(Wire):
    """A way to end it."""

    code: Claim
    words: str


class RunAnswer(Wire):
    """An exercise that somebody began."""

    id: int
    case: str
    title: str
    task: str
    table_id: int
    trial_id: int
    cuts: int  # or runs, where the arc is watched
    most_cuts: int
    watched: bool
    claims: list[ClaimAnswer]  # how it can be ended
    covered: bool  # the advice is: the learner chooses each setting
    begun_at: datetime
    ended: bool
    passed: bool


class PracticeTablesAnswer(Wire):
    """All exercises at a table, those that go on, and those that were ended, by whoever is signed on."""

    exercises: list[TableExerciseAnswer]
    going_on: list[RunAnswer]
    ended: list[RunAnswer]


class BeginRequest(FileModel):
    """Which exercise: by its name, or a table by its number."""

    case: Annotated[str, Field(min_length=1, max_length=20)]


class EndRequest(FileModel):
    """What is said in the end."""

    claim: Annotated[str, Field(max_length=30)]


class TableStepAnswer(Wire):
    """One cut, or what was done between two. ``chance`` is how often its setting really passes; ``known`` how often the
    setting that was best known after it does. A run whose arc was watched has what it showed in ``done``."""

    setting: Setting | None
    done: str
    chance: float | None
    known: float | None
    worst_deg: float | None


class TableDebriefAnswer(Wire):
    """The hidden truth, and the learner's way."""

    run: RunAnswer
    sentence: str
    said: str
    hidden: str
    cured_by: str
    teaches: str
    square_at: (
        Setting | None
    )  # where it passes most often, once what can be put right is; None where the arc is watched
    truth: list[str]
    mine: list[TableStepAnswer]
    chances: ChanceMap | None  # how often it really passes, with everything put right
    arc: ArcPicture | None


class MastersAnswer(Wire):
    """What the tuner does with the same exercise."""

    steps: list[TableStepAnswer]
    cuts: int
    said: str
