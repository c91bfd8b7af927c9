"""What is found in a program: each with its line, why it matters, and what puts it right."""

import math
from dataclasses import dataclass
from typing import Literal

Code = Literal[
    "amperage_differs",
    "pierce_too_thick",
    "units_mixed",
    "unit_suspect",
    "no_feed",
    "feed_differs",
    "pierce_delay_differs",
    "height_differs",
    "unread",
    "torch_never_off",
    "rapid_with_torch_on",
    "cut_without_torch",
    "below_plate",
    "no_kerf_compensation",
    "kerf_wrong_side",
    "against_swirl",
    "outside_before_inside",
    "lead_in_short",
    "lead_in_in_part",
    "overrun_missing",
    "lead_out_short",
    "hole_too_small",
    "hole_too_fast",
    "control_on_in_hole",
    "too_fast_for_table",
    "never_at_speed",
    "arc_too_small",
    "off_sheet",
    "part_not_on_sheet_zero",
    "ends_off_plate",
    "crosses_old_kerf",
]
"""In the order in which they are said: whether program, parts and setting agree comes before all else."""

Severity = Literal["stop", "look", "note"]

TITLES: dict[Code, str] = {
    "amperage_differs": "Another amperage",
    "pierce_too_thick": "Too thick to pierce",
    "units_mixed": "Inches and millimetres",
    "unit_suspect": "The wrong unit?",
    "no_feed": "No feed",
    "feed_differs": "Another feed",
    "pierce_delay_differs": "Another pierce delay",
    "height_differs": "Another height",
    "unread": "Not understood",
    "torch_never_off": "The torch stays on",
    "rapid_with_torch_on": "Rapid with the arc on",
    "cut_without_torch": "A cut without the torch",
    "below_plate": "Into the plate",
    "no_kerf_compensation": "No room for the kerf",
    "kerf_wrong_side": "Wrong side of the line",
    "against_swirl": "The wrong way round",
    "outside_before_inside": "Outside before inside",
    "lead_in_short": "Lead-in too short",
    "lead_in_in_part": "Pierces the part",
    "overrun_missing": "Stops at its start",
    "lead_out_short": "Lead-out too short",
    "hole_too_small": "No plasma hole",
    "hole_too_fast": "Hole too fast",
    "control_on_in_hole": "Height control on in a hole",
    "too_fast_for_table": "Faster than the table",
    "never_at_speed": "Never at speed",
    "arc_too_small": "Arc too tight for its speed",
    "off_sheet": "Off the sheet",
    "part_not_on_sheet_zero": "Not from this zero",
    "ends_off_plate": "Arc ends off the plate",
    "crosses_old_kerf": "Over an old kerf",
}

_AGREE: frozenset[Code] = frozenset(
    ("amperage_differs", "pierce_too_thick", "units_mixed", "unit_suspect", "no_feed", "feed_differs")
)
_GRAVITY: dict[Severity, int] = {"stop": 0, "look": 1, "note": 2}
_ORDER: dict[Code, int] = {code: n for n, code in enumerate(TITLES)}


@dataclass(frozen=True)
class Problem:
    """One thing found. ``at`` is its place on the sheet in mm, ``contour`` the index of the contour it is in."""

    code: Code
    line: int
    severity: Severity
    why: str
    fix: str
    at: tuple[float, float] | None = None
    contour: int | None = None

    @property
    def title(self) -> str:
        """Its name in a few words."""
        return TITLES[self.code]


def in_order(problems: list[Problem]) -> tuple[Problem, ...]:
    """As they are said: what shows that program, parts and setting differ first; then what stops a run."""
    return tuple(
        sorted(
            problems, key=lambda p: (p.code not in _AGREE, _GRAVITY[p.severity], _ORDER[p.code], p.line)
        )
    )


def verdict_says(stops: int, looks: int) -> str:
    """What the findings come to, in a few words. That nothing was found is no promise."""
    if stops:
        return f"Do not run it: {stops} {'thing stops' if stops == 1 else 'things stop'} it"
    if looks:
        return f"Look at {looks} {'thing' if looks == 1 else 'things'} before you run it"
    return "Nothing was found in what could be checked"


def differs(value: float, wanted: float, share: float, least: float = 0.0) -> bool:
    """Whether a value is said and strays from what is wanted by more than a share of it, and more than ``least``."""
    return not math.isnan(value) and abs(value - wanted) > max(share * wanted, least)
