"""What goes over the wire of the Bench: the advice and what it rests on."""

from datetime import datetime
from typing import Literal

from orthotome.api.log.models import CutAnswer
from orthotome.api.trial.models import EarlierTrial, TrialAnswer
from orthotome.api.wire import Id, Wire
from orthotome.core.log.items import SheetKind
from orthotome.core.log.pierced import PierceAdvice
from orthotome.core.log.sheet import LogSheet
from orthotome.core.trial.advice import AdviceFinding, BevelParts, ChanceMap, NextAct, Proof
from orthotome.formats.trial.advice import AdviceFile, ExpectedAdvice
from orthotome.formats.trial.campaign import Height, Speed


class Revision(Wire):
    """How often a trial has changed: a cheap question for screens that watch it."""

    revision: int
    draft_saved_at: datetime | None


class WaitingPiece(Wire):
    """A piece that was cut and waits to be read."""

    id: int
    key: str  # that its reading is to be logged with
    number: int
    kind: SheetKind
    title: str
    nicks: int
    speed_mm_min: float
    cut_height_mm: float
    cut_at: datetime


class ReadAgainHere(Wire):
    """An edge of a logged cut to read once more before anything else is cut."""

    cut_id: int
    number: int
    side: Literal["right", "left"]
    heading_deg: float
    why: str


class BenchAnswer(Wire):
    """Everything the Bench shows of a trial."""

    trial: TrialAnswer
    cuts: list[CutAnswer]
    advice: AdviceFile
    heading: str
    findings: tuple[AdviceFinding, ...]
    hand_off: AdviceFinding | None
    now: NextAct
    read_again: list[ReadAgainHere]
    pierce: tuple[
        PierceAdvice, ...
    ]  # how to pierce from now on, where the pieces say another than is told
    log_sheet: LogSheet
    parts: BevelParts | None
    chance_map: ChanceMap
    proofs: tuple[Proof, ...]
    per_height: str  # what height is worth in volts, how sure, and where it is from
    earlier: list[EarlierTrial]  # of the table, with the same set; whether they count, the trial says
    next_expected: ExpectedAdvice | None
    worth: str | None  # what going on past a proven setting would save; None where nothing is said of it
    taught: str | None  # what the last cut taught; None before the first
    waiting: list[WaitingPiece]


class SimulatedQuery(Wire):
    """What the simulated table is to cut: a piece that waits, a setting of one's own, or (neither) what is advised."""

    planned_id: Id | None = None
    speed_mm_min: Speed | None = None
    cut_height_mm: Height | None = None
