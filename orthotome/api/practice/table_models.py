"""What is said of exercises at practice tables."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from orthotome.core.practice.table_exercises import Claim
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import ChanceMap
from orthotome.formats.reading import FileModel


class TableExerciseAnswer(BaseModel):
    """A graded exercise at a table, and whether who asks has passed it."""

    code: str
    title: str
    task: str
    most_cuts: int
    passed: bool
    taken: int


class ClaimAnswer(BaseModel):
    """A way to end it."""

    code: Claim
    words: str


class RunAnswer(BaseModel):
    """An exercise that somebody began."""

    id: int
    case: str
    title: str
    task: str
    table_id: int
    trial_id: int
    cuts: int
    most_cuts: int
    covered: bool  # the advice is: the learner chooses each setting
    begun_at: datetime
    ended: bool
    passed: bool


class PracticeTablesAnswer(BaseModel):
    """All exercises at a table, those that go on, and those that were ended, by whoever is signed on."""

    exercises: list[TableExerciseAnswer]
    going_on: list[RunAnswer]
    ended: list[RunAnswer]
    claims: list[ClaimAnswer]


class BeginRequest(FileModel):
    """Which exercise: by its name, or a table by its number."""

    case: Annotated[str, Field(min_length=1, max_length=20)]


class EndRequest(FileModel):
    """What is said in the end."""

    claim: Annotated[str, Field(max_length=30)]


class TableStepAnswer(BaseModel):
    """One cut, or what was done between two. ``chance`` is how often its setting really passes; ``known`` how often the
    setting that was best known after it does."""

    setting: Setting | None
    done: str
    chance: float | None
    known: float | None
    worst_deg: float | None


class TableDebriefAnswer(BaseModel):
    """The hidden truth, and the learner's way."""

    run: RunAnswer
    sentence: str
    said: str
    hidden: str
    cured_by: str
    teaches: str
    square_at: Setting  # where it passes most often, once what can be put right is
    square_chance: float
    truth: list[str]
    mine: list[TableStepAnswer]
    chances: ChanceMap  # how often it really passes, with everything put right


class MastersAnswer(BaseModel):
    """What the tuner does with the same exercise."""

    steps: list[TableStepAnswer]
    cuts: int
    said: str
