"""What is found, wherever it is found: one shape for advice, air, signal path, capability, and what comes.

Each room names its own codes as a ``Literal``; the words for a code stand in that room, once.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Generic, Literal, TypeVar

Code = TypeVar("Code", bound=str)

Room = Literal["bench", "trials", "book", "height", "torch", "machine", "programs", "trouble"]


@dataclass(frozen=True)
class LeadsTo:
    """What can be done about it from the screen: where, in which words, and with what filled in."""

    room: Room
    label: str
    fills: Mapping[str, str | float] = field(default_factory=dict)


@dataclass(frozen=True)
class Finding(Generic[Code]):
    """Something that was found, in the operator's words.

    ``title`` names it in a few words, ``why`` says in a sentence what shows it, ``check`` what would prove
    it, ``cure`` what puts it right; ``cautions`` come before the cure. ``numbers`` are its figures by the
    names that files give them.
    """

    code: Code
    why: str
    numbers: Mapping[str, float] = field(default_factory=dict)
    title: str = ""
    check: str = ""
    cure: str = ""
    cautions: tuple[str, ...] = ()
    leads_to: LeadsTo | None = None
