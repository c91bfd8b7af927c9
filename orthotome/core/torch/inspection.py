"""Looking at parts: what to look for on each, what it does to the cut, and the verdict; measuring a pit.

Words and marks are the trade's common ones; a part's own manual has the last word on what may still be used.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from orthotome.core.errors import TradeError
from orthotome.core.quantities import length
from orthotome.core.torch.fittings import PART_WORDS, SinglePart
from orthotome.core.torch.forecast import Verdict
from orthotome.core.torch.wear import DEEPEST

GoesIn = Literal["push", "screw"]

BEFORE_HANDS = (
    "Power isolated at the source, as its manual says, and the torch cold, before hands go near it."
)


@dataclass(frozen=True)
class Seen:
    """One thing that a part can look like."""

    value: str
    word: str
    verdict: Verdict
    does: str = ""  # what it does to the cut


@dataclass(frozen=True)
class PartLook:
    """One thing to look at on a part; the first of its answers is how a new one looks."""

    what: str
    ask: str
    seen: tuple[Seen, ...]


@dataclass(frozen=True)
class PartFacts:
    """What is known of a kind of part: how it goes in on most torches, and what to look at."""

    goes_in: GoesIn
    looks: tuple[PartLook, ...]


PART_FACTS: dict[SinglePart, PartFacts] = {
    "electrode": PartFacts(
        "screw",
        (
            PartLook(
                "pit",
                "The pit in its middle",
                (
                    Seen("even", "round and in the middle", "keep"),
                    Seen(
                        "off_centre",
                        "off to one side",
                        "watch",
                        "the jet leans, and not the same way for long",
                    ),
                    Seen(
                        "past_insert", "past the rim of the insert", "replace", "it blows through next"
                    ),
                ),
            ),
            PartLook(
                "body",
                "Its flank and seat",
                (
                    Seen("clean", "clean", "keep"),
                    Seen("blued", "blued by heat", "watch", "too little cooling gas, or a loose seat"),
                    Seen(
                        "arced",
                        "arc marks",
                        "replace",
                        "the arc jumps inside the torch: starts get lost",
                    ),
                ),
            ),
        ),
    ),
    "swirl_ring": PartFacts(
        "push",
        (
            PartLook(
                "holes",
                "Its small holes",
                (
                    Seen("open", "all open", "keep"),
                    Seen(
                        "blocked",
                        "one blocked",
                        "watch",
                        "one side bevels: blow it out; if it stays, replace it",
                    ),
                ),
            ),
            PartLook(
                "ring",
                "The ring itself",
                (
                    Seen("whole", "whole", "keep"),
                    Seen(
                        "cracked",
                        "cracked or chipped",
                        "replace",
                        "the swirl is uneven: bevel that no height cures",
                    ),
                ),
            ),
        ),
    ),
    "nozzle": PartFacts(
        "push",
        (
            PartLook(
                "bore",
                "The bore, from both ends",
                (
                    Seen("round", "round with a sharp rim", "keep"),
                    Seen(
                        "chamfered",
                        "its rim is worn to a funnel",
                        "rough_work",
                        "bevel grows, volts fall",
                    ),
                    Seen(
                        "oval", "oval or keyholed", "replace", "bevel differs by direction, twice round"
                    ),
                ),
            ),
            PartLook(
                "face",
                "Its face",
                (
                    Seen("clean", "clean", "keep"),
                    Seen("nicked", "a nick at the rim", "watch", "one direction of travel suffers"),
                    Seen(
                        "arced",
                        "burnt beside the bore",
                        "replace",
                        "a second arc: it dragged, or ran above its rating",
                    ),
                ),
            ),
        ),
    ),
    "retaining_cap": PartFacts(
        "screw",
        (
            PartLook(
                "thread",
                "Its thread and seat",
                (
                    Seen("clean", "clean, turns by hand", "keep"),
                    Seen("gritty", "grit or metal in it", "watch", "the nozzle sits askew: clean it"),
                    Seen(
                        "worn", "worn, or burnt", "replace", "gas leaks past, and the nozzle overheats"
                    ),
                ),
            ),
        ),
    ),
    "shield": PartFacts(
        "screw",
        (
            PartLook(
                "bore",
                "Its bore",
                (
                    Seen("round", "round", "keep"),
                    Seen(
                        "oval",
                        "oval or eaten",
                        "rough_work",
                        "the gas round the jet is uneven: dross on one side",
                    ),
                ),
            ),
            PartLook(
                "face",
                "Its face",
                (
                    Seen("clean", "clean", "keep"),
                    Seen(
                        "spatter",
                        "spatter on it",
                        "watch",
                        "touch-off reads early and cuts run high: scrape it off",
                    ),
                    Seen("burnt", "burnt through", "replace", "the arc finds the shield"),
                ),
            ),
        ),
    ),
    "touch_off_clip": PartFacts(
        "push",
        (
            PartLook(
                "grip",
                "Its grip and wire",
                (
                    Seen("firm", "firm and bright", "keep"),
                    Seen(
                        "dirty",
                        "dirty, or moves",
                        "watch",
                        "touch-off misses now and then: clean and bend it",
                    ),
                    Seen(
                        "frayed",
                        "wire frayed or loose",
                        "replace",
                        "touch-off fails, and the torch drives down",
                    ),
                ),
            ),
        ),
    ),
}
"""In the order in which they go in, on most torches; the torch's own manual counts."""

_ROUGH_DEG, _ROUGH_GRADE = 4.0, 3


def is_rough_work(bevel_deg: float, dross_grade: int) -> bool:
    """Whether a target asks so little that half-worn parts will do: edges to 4 degrees, or dross that is chiselled off.
    Assumption."""
    return bevel_deg >= _ROUGH_DEG or dross_grade >= _ROUGH_GRADE


def rough_work_says(lying: Sequence[tuple[SinglePart, int, int]]) -> str:
    """What lies in the tray for rough work, each by its kind, number and starts."""
    if not lying:
        return ""
    words = ", ".join(f"{PART_WORDS[part]} {number} ({starts} starts)" for part, number, starts in lying)
    return f"For rough work half-worn parts will do. In the tray: {words}."


_WORSE: tuple[Verdict, ...] = ("keep", "watch", "rough_work", "replace")


@dataclass(frozen=True)
class Judged:
    """What a part that was looked at is good for, with the reason."""

    verdict: Verdict
    why: str


def judge_looks(part: SinglePart, looks: Mapping[str, str], pit: tuple[float, float] | None) -> Judged:
    """The worst of what was seen; ``pit`` is its depth and its limit in mm. Raises TradeError for unknown looks."""
    found: list[tuple[Verdict, str]] = []
    for look in PART_FACTS[part].looks:
        if look.what in looks:
            seen = _seen(look, looks[look.what])
            found.append((seen.verdict, f"{look.ask.lower()}: {seen.word}{_so(seen)}"))
    unknown = set(looks) - {look.what for look in PART_FACTS[part].looks}
    if unknown:
        raise TradeError("looks", f"a {PART_WORDS[part]} has no “{min(unknown)}” to look at.")
    if pit is not None:
        found.append(_of_pit(*pit))
    if not found:
        return Judged("not_known", "Nothing was looked at: say what you see.")
    worst = max(found, key=lambda f: _WORSE.index(f[0]))
    return Judged(worst[0], f"{worst[1][0].upper()}{worst[1][1:]}.")


def _seen(look: PartLook, value: str) -> Seen:
    for seen in look.seen:
        if seen.value == value:
            return seen
    words = ", ".join(s.value for s in look.seen)
    raise TradeError(f"looks.{look.what}", f"“{value}” is not one of {words}.")


def _so(seen: Seen) -> str:
    return f" ({seen.does})" if seen.does else ""


def _of_pit(depth_mm: float, limit_mm: float) -> tuple[Verdict, str]:
    share = depth_mm / limit_mm
    said = f"a pit of {length(depth_mm)}, of at most {length(limit_mm)}"
    return (
        "replace"
        if share >= 1
        else "rough_work"
        if share >= 0.9
        else "watch"
        if share >= 0.7
        else "keep"
    ), said


@dataclass(frozen=True)
class PitReading:
    """Depth of a pit with one sigma."""

    pit_mm: float
    u_mm: float


GAUGE_U_MM = 0.05
"""Of a depth gauge with a point, by hand. Assumption."""
CALLIPER_U_MM = 0.03
"""Of one reading with a calliper over a small part, by hand. Assumption."""


def pit_by_gauge(pit_mm: float, limit_mm: float) -> PitReading:
    """A pit read with a depth gauge. Raises TradeError for one deeper than the part."""
    _check_depth(pit_mm, limit_mm, "pit_mm")
    return PitReading(pit_mm, GAUGE_U_MM)


def pit_by_ball(rim_mm: float, over_ball_mm: float, ball_mm: float, limit_mm: float) -> PitReading:
    """A pit by calliper and a ball that reaches its ground: length at the rim + ball - length over the ball.

    ``rim_mm`` is the electrode's length to its rim, ``over_ball_mm`` the same with the ball lying in the pit. Two
    readings err by themselves. Raises TradeError where the ball cannot have lain so.
    """
    if over_ball_mm <= rim_mm:
        raise TradeError(
            "over_ball_mm",
            "must be more than the length to the rim: a ball that lies below the rim cannot be read. Take a larger one.",
        )
    pit = rim_mm + ball_mm - over_ball_mm
    u = math.sqrt(2) * CALLIPER_U_MM
    if pit < -2 * u:
        raise TradeError(
            "over_ball_mm",
            f"{length(over_ball_mm)} is longer than electrode and ball together ({length(rim_mm + ball_mm)}): read again.",
        )
    _check_depth(pit, limit_mm, "over_ball_mm")
    return PitReading(round(max(0.0, pit), 3), u)


def _check_depth(pit_mm: float, limit_mm: float, field: str) -> None:
    if pit_mm > DEEPEST * limit_mm:
        raise TradeError(
            field,
            f"a pit of {length(pit_mm)} is deeper than an electrode with a limit of {length(limit_mm)} can be: at "
            f"most {length(DEEPEST * limit_mm)}. Read it again.",
        )
