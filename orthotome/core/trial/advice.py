"""What the tuner answers: the advice, and what it rests on, as plain values.

They stand apart from the tuner so that whoever shows or writes them need not load its numerics.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from orthotome.core.edge.edges import Side
from orthotome.core.findings import Finding, LeadsTo
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Dross, PieceKind


@dataclass(frozen=True)
class Expected:
    """What the tuner expects of a setting: means over headings, with the spread of one edge."""

    bevel_right_deg: float
    bevel_left_deg: float
    bevel_sd_deg: float
    dross: tuple[Dross, ...]


@dataclass(frozen=True)
class Recommended:
    """The setting Orthotome believes in most at this point."""

    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None
    probability_pass: float
    expected: Expected


@dataclass(frozen=True)
class NextCut:
    """A cut to make, with its reason in a sentence an operator can act on; a strip with its heading."""

    piece: PieceKind
    speed_mm_min: float
    cut_height_mm: float
    why: str
    heading_deg: float | None = None


Status = Literal["keep_cutting", "confirm", "square", "hand_off"]
Cause = Literal[
    "wrong_side",
    "worn_parts",
    "jet_lean",
    "measurement_too_coarse",
    "outside_limits",
    "target_too_tight",
    "window_misses_square",
    "height_uncertain",
    "gas_or_air",
    "faster_possible",
    "likelier_elsewhere",
    "proven_elsewhere",
    "only_newest",
    "not_usual",
]
"""What keeps a target out of reach, or is worth knowing; hand-offs name one of the first six."""

AdviceFinding = Finding[Cause]

STATUS_WORDS: dict[Status, str] = {
    "keep_cutting": "Cut this next",
    "confirm": "Cut this to prove it",
    "square": "Square: lock it in",
    "hand_off": "Stop: not a matter of speed or height",
}
CAUSE_WORDS: dict[Cause, str] = {
    "jet_lean": "The jet leans",
    "worn_parts": "Worn or wrong parts",
    "measurement_too_coarse": "Readings too coarse",
    "target_too_tight": "Target too tight",
    "outside_limits": "Outside the limits",
    "wrong_side": "Good and bad side swapped",
    "window_misses_square": "Square and clean do not meet",
    "height_uncertain": "Height is a guess",
    "gas_or_air": "Gas or air",
    "faster_possible": "Proven, and perhaps not the fastest",
    "likelier_elsewhere": "Perhaps better elsewhere",
    "proven_elsewhere": "Another setting was proven",
    "only_newest": "The newest cuts count",
    "not_usual": "Not usual for this set",
}
_PUT_RIGHT: dict[Cause, LeadsTo] = {
    "jet_lean": LeadsTo("torch", "The jet is set upright: go on", {"kind": "mount"}),
    "worn_parts": LeadsTo("torch", "The parts are changed: go on", {"kind": "parts", "part": "set"}),
    "wrong_side": LeadsTo(
        "torch", "The ring is changed: go on", {"kind": "parts", "part": "swirl_ring"}
    ),
}


def found(code: Cause, why: str, numbers: Mapping[str, float] | None = None) -> AdviceFinding:
    """A finding of the tuner with the words for its cause, and how to say that it is put right."""
    return Finding(code, why, numbers or {}, title=CAUSE_WORDS[code], leads_to=_PUT_RIGHT.get(code))


@dataclass(frozen=True)
class ReadAgain:
    """An edge to read once more before anything else is cut: its cut, its side, and which way it was cut."""

    cut: str
    side: Side
    heading_deg: float
    why: str


@dataclass(frozen=True)
class Advice:
    """The tuner's answer to a campaign."""

    status: Status
    recommended: Recommended | None
    next_cuts: tuple[NextCut, ...]
    findings: tuple[AdviceFinding, ...]
    hand_off: AdviceFinding | None
    read_again: tuple[ReadAgain, ...] = ()


ActKind = Literal["ladder", "cut", "lock"]


@dataclass(frozen=True)
class NextAct:
    """The setting to cut, or (proven) to lock; of a ladder the one it is built round.

    ``ladder`` are its settings, slowest first; empty unless it is one. ``arc_voltage_v`` is what will be
    seen at the setting; None where nothing says so.
    """

    kind: ActKind
    setting: Setting
    why: str = ""
    arc_voltage_v: float | None = None
    ladder: tuple[Setting, ...] = ()
    was: Setting | None = None  # of the cut that its reason speaks of; None before the first


@dataclass(frozen=True)
class BevelParts:
    """The last cut's bevel taken apart. Standard deviations say how far each is known."""

    process_deg: float
    process_sd_deg: float
    swirl_deg: float
    swirl_sd_deg: float
    lean_deg: float
    lean_toward_deg: float
    lean_sd_deg: float
    lean_told: bool  # whether its direction means anything yet
    left_over_deg: float | None  # rms of what the model does not explain; None without readings
    left_over_is_gauge: bool | None  # whether that is no more than the gauge's own error


@dataclass(frozen=True)
class ChanceMap:
    """Chance to pass over speed (columns) and height (rows, lowest first)."""

    speeds_mm_min: tuple[float, ...]
    heights_mm: tuple[float, ...]
    chance: tuple[tuple[float, ...], ...]


@dataclass(frozen=True)
class Proof:
    """Something that must hold before it may be called square, and whether it does."""

    done: bool
    text: str


Verdict = Literal["passed", "maybe", "no"]
PASSED = 0.9  # chance that a cut did pass, before it counts as having passed
_MAYBE = 0.3  # below this it very probably did not; between, its readings leave it open


def verdict_of(chance: float) -> Verdict:
    """What is said of a cut that passed with that chance."""
    if chance >= PASSED:
        return "passed"
    return "maybe" if chance >= _MAYBE else "no"
