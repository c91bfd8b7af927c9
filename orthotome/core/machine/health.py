"""A table's health: what is known of it, since when, how sure, and what is due to be looked at again.

Everything is due after its own while, and at once after a crash or a move of the table. How long a while is follows from
what wears or shifts it; all of them are assumptions, stated here once.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal, get_args

Aspect = Literal[
    "square",
    "scale",
    "slack",
    "acceleration",
    "axes",
    "lost_steps",
    "height_sensor",
    "signal_path",
    "air",
    "alignment",
]
ASPECTS: tuple[Aspect, ...] = get_args(Aspect)
Upset = Literal["crash", "moved", "changed_drive"]
Standing = Literal["good", "look", "wrong", "due", "not_known"]


@dataclass(frozen=True)
class AspectFacts:
    """How an aspect is called, after how many days it is looked at again, what upsets it, and what would tell."""

    label: str
    days: int
    upset_by: frozenset[Upset]
    tells: str


FACTS: dict[Aspect, AspectFacts] = {
    "square": AspectFacts(
        "Square",
        180,
        frozenset({"crash", "moved", "changed_drive"}),
        "Cut a large rectangle, and measure both its diagonals.",
    ),
    "scale": AspectFacts(
        "Scale",
        365,
        frozenset({"changed_drive"}),
        "Measure outsides and insides of different sizes along both axes.",
    ),
    "slack": AspectFacts(
        "Slack in the drives",
        180,
        frozenset({"crash", "changed_drive"}),
        "Cut a circle each way round, and read four diameters of both.",
    ),
    "acceleration": AspectFacts(
        "Acceleration", 365, frozenset({"changed_drive"}), "Time a zig-zag with the torch off."
    ),
    "axes": AspectFacts(
        "Which way the axes run",
        3650,
        frozenset({"changed_drive"}),
        "Jog each axis, and watch the torch.",
    ),
    "lost_steps": AspectFacts(
        "Back on its mark",
        90,
        frozenset({"crash", "moved", "changed_drive"}),
        "Run a program dry from a mark, and go back to it.",
    ),
    "height_sensor": AspectFacts(
        "Height of the first touch",
        90,
        frozenset({"crash"}),
        "Touch off, drop to cut height, and slide a feeler under the torch.",
    ),
    "signal_path": AspectFacts(
        "Arc voltage signal",
        365,
        frozenset({"moved"}),
        "Read a true voltage and the screen’s at one moment.",
    ),
    "air": AspectFacts(
        "Air",
        180,
        frozenset({"moved"}),
        "Read the pressure flowing, at the source, and drain the traps.",
    ),
    "alignment": AspectFacts(
        "Torch upright",
        90,
        frozenset({"crash", "moved"}),
        "Cut a round slug, and read it at eight places.",
    ),
}


@dataclass(frozen=True)
class KnownFigure:
    """What is known of an aspect: when it was found, the figure with its range in the shop's words, and how it stands."""

    at: datetime | None
    figure: str
    standing: Standing
    by: str = ""


@dataclass(frozen=True)
class HealthLine:
    """One line of the page. ``due_because`` is empty where nothing is due."""

    aspect: Aspect
    label: str
    known: KnownFigure | None
    standing: Standing
    due_because: str
    tells: str


def health(
    known: dict[Aspect, KnownFigure], upsets: Sequence[tuple[Upset, datetime]], now: datetime
) -> list[HealthLine]:
    """Every aspect, those that are wrong or due first."""
    lines = [_line(aspect, known.get(aspect), upsets, now) for aspect in ASPECTS]
    order: dict[Standing, int] = {"wrong": 0, "due": 1, "not_known": 2, "look": 3, "good": 4}
    return sorted(lines, key=lambda line: order[line.standing])


_UPSET_SAID: dict[Upset, str] = {
    "crash": "there was a crash since",
    "moved": "the table was moved since",
    "changed_drive": "a drive was changed since",
}


def _line(
    aspect: Aspect, known: KnownFigure | None, upsets: Sequence[tuple[Upset, datetime]], now: datetime
) -> HealthLine:
    facts = FACTS[aspect]
    if known is None:
        return HealthLine(aspect, facts.label, None, "not_known", "", facts.tells)
    at = known.at or datetime.min
    upset = next((u for u, when in upsets if u in facts.upset_by and when >= at), None)
    because = ""
    if upset is not None:
        because = f"Due: {_UPSET_SAID[upset]}."
    elif known.at is None:
        because = "Due: nobody wrote down when it was found."
    elif now - at > timedelta(days=facts.days):
        because = f"Due: {(now - at).days} days old, and looked at again after {facts.days}."
    standing: Standing = "due" if because and known.standing != "wrong" else known.standing
    return HealthLine(aspect, facts.label, known, standing, because, facts.tells)
