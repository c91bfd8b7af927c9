"""When edges drift: ask for the trim first, then for the alignment, then for parts.

Some change parts at the first bad cut and are pleased with the result; the cause was often the voltage.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from orthotome.core.quantities import volts
from orthotome.core.torch.forecast import Verdict

Suspect = Literal["trim", "alignment", "parts"]

_BEHIND_V = 0.75
_FEWEST_SPEEDS = 3
_SCATTER = 1.5  # times what a gauge errs


@dataclass(frozen=True)
class Pattern:
    """What is seen now. None: nobody knows."""

    behind_v: float | None = None  # the set-point is this much lower than the parts are worth
    volts_known: bool = False  # at a set height, on these parts
    leans_deg: float | None = None
    lean_known: bool = False
    scatter_deg: float | None = None  # of the edges beside what speed, height and lean explain
    gauge_deg: float = 0.4
    dross_stays: bool = False  # whatever the speed was
    verdict: Verdict | None = None
    collided: bool = False


@dataclass(frozen=True)
class Suspected:
    """One suspect in its turn: whether the pattern points at it, what says so, what to do."""

    suspect: Suspect
    points: bool | None  # None: it cannot be told yet
    shows: str
    do: str


def dross_stays(seen: Sequence[tuple[float, int]], allowed: int) -> bool:
    """Whether every speed that was tried left more dross than is allowed; each of ``seen`` is (mm/min, worst grade)."""
    speeds = {round(speed) for speed, _ in seen}
    return len(speeds) >= _FEWEST_SPEEDS and all(grade > allowed for _, grade in seen)


def first_suspects(seen: Pattern) -> tuple[Suspected, ...]:
    """The three in the order in which they are asked."""
    return _trim(seen), _alignment(seen), _parts(seen)


def _trim(seen: Pattern) -> Suspected:
    do = "Trim the set-point, and read one edge."
    if seen.behind_v is None and seen.volts_known:
        shows = "No set-point is told yet for the trial on the Bench: there is nothing to compare its voltage with."
        return Suspected("trim", None, shows, "Choose one.")
    if seen.behind_v is None:
        shows = "No voltage at a set height is known on these parts: one cut with control off tells."
        return Suspected("trim", None, shows, "Cut one strip at a set height, and read its volts.")
    if abs(seen.behind_v) >= _BEHIND_V:
        way = "up" if seen.behind_v > 0 else "down"
        shows = f"The voltage at the same height is {way} by {volts(abs(seen.behind_v))}: held where it was, the torch is "
        shows += "too close." if seen.behind_v > 0 else "too high."
        return Suspected("trim", True, shows, do)
    return Suspected(
        "trim", False, "The voltage at the same height is where the set-point is.", "Leave it."
    )


def _alignment(seen: Pattern) -> Suspected:
    do = "Read a round slug, and turn the torch upright."
    if seen.collided:
        return Suspected("alignment", True, "It collided since its lean was read last.", do)
    if seen.leans_deg is None:
        return Suspected("alignment", None, "Opposite edges were not compared in this seat.", do)
    if seen.lean_known:
        shows = (
            f"Opposite edges differ by {2 * seen.leans_deg:.1f} degrees in the trial on the Bench: one direction, and no height "
            "cures it."
        )
        return Suspected("alignment", True, shows, do)
    return Suspected("alignment", False, "Opposite edges agree, to what the gauge tells.", "Leave it.")


def _parts(seen: Pattern) -> Suspected:
    do = "Power isolated: take the parts out in order, and look at each."
    said, known = [], seen.scatter_deg is not None or seen.verdict is not None
    if seen.scatter_deg is not None and seen.scatter_deg > _SCATTER * seen.gauge_deg:
        said.append(f"edges scatter by {seen.scatter_deg:.1f} degrees without a direction")
    if seen.dross_stays:
        said.append("dross stays at every speed that was tried")
    if seen.verdict in ("rough_work", "replace"):
        said.append("the electrode is near its limit, or past it")
    if said:
        shows = "; ".join(said)
        return Suspected("parts", True, f"{shows[0].upper()}{shows[1:]}.", do)
    if not known:
        return Suspected("parts", None, "Nothing that was read tells yet.", do)
    return Suspected("parts", False, "Nothing points at them.", "Leave them in.")


AFTER_A_COLLISION: tuple[tuple[str, str], ...] = (
    ("Stop", "Stop the program. Do not run on to see."),
    ("Isolate", "Power isolated at the source, as its manual says, before hands go near the torch."),
    (
        "Inspect",
        "Shield, nozzle and cap for cracks; the torch body, its leads and its mount for what moved.",
    ),
    (
        "Re-seat",
        "Seat torch and break-away mount again; parts in their order, hand tight as the manual says.",
    ),
    ("Re-home", "Home the table again: it may have lost its place."),
    ("Check lean", "Cut a round slug and read it. Until then nothing is known of the lean."),
)
"""What is done after a collision, in its order."""
