"""A correction of a logged cut: only what is another now. What it does not name stays as it is."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from orthotome.core.log.looks import Look
from orthotome.core.trial.campaign import DrossKind, EdgeReading


@dataclass(frozen=True)
class CutCorrection:
    """``fields`` are fields of the cut with their new values (None: not measured after all).

    ``edges`` are a reading's id (None: a reading that was left out), what it is now (None: it was none), and what
    was typed of it where its bevel was worked out. ``looks`` are what else was seen (without value and number: not
    looked at after all). ``dross`` holds the new grade of each kind that changed (0: there is none of it), or says
    that nobody looked; None leaves the dross as it is.
    """

    fields: Mapping[str, Any] = field(default_factory=dict)
    edges: tuple[tuple[int | None, EdgeReading | None, str], ...] = ()
    looks: tuple[Look, ...] = ()
    dross: Mapping[DrossKind, int] | Literal["not_looked"] | None = None
