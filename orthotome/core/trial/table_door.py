"""The door of a table: what a table can be asked to do, be it a simulated one or a real one.

Whoever asks through it does not know which it is. A real table gives no readings: it is behind no door
until somebody writes an adapter for it.
"""

from dataclasses import dataclass
from typing import Protocol

from orthotome.core.book.start_rows import StartValues
from orthotome.core.edge.edges import Swirl
from orthotome.core.setting import Setting
from orthotome.core.torch.fittings import Part
from orthotome.core.trial.campaign import Cut, PieceKind


@dataclass(frozen=True)
class FittedAnew:
    """What was fitted or set anew since the table was begun: parts in their order, and how often the torch mount."""

    parts: tuple[Part, ...] = ()
    mounts: int = 0


@dataclass(frozen=True)
class JobAtTable:
    """What is to be cut there. ``trial`` tells one job of a table from another."""

    trial: int
    start: StartValues
    thickness_mm: float
    swirl: Swirl
    anew: FittedAnew = FittedAnew()


class TableDoor(Protocol):
    """A table that cuts and reads what came out."""

    def cut(
        self, job: JobAtTable, number: int, piece: PieceKind, setting: Setting, *, starts: int
    ) -> Cut:
        """Cut number ``number`` of a job, measured; ``starts`` are those on the parts after it."""
