"""The step after square: height control on, what to tell it and why, and what proves it.

A setting that is square at a fixed height is half of a setting: most of a sheet is cut under height control. What
control is told follows from the school of the set-point, the timing of the start, what a trace showed, and the trade's
usual values where none did; each number says which.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from orthotome.core.height.loop import HOLD_SHARES
from orthotome.core.height.schools import SCHOOL_WORDS, Held, School
from orthotome.core.height.timing import StartTiming
from orthotome.core.height.trace_report import Recommend
from orthotome.core.machine.motion import AT_SPEED, DelayOrigin
from orthotome.core.quantities import length, seconds, speed, volts

From = Literal["measured", "computed", "usual"]

USUAL_DEAD_BAND_V = 1.5
USUAL_CROSSING_JUMP_V = 5.0

NO_CONTROL = (
    "This table holds no height by voltage: a setting that is square at a fixed height is all there is to prove. Keep "
    "the sheet flat, clamp what lifts, and set the height anew where it does not."
)


@dataclass(frozen=True)
class Control:
    """What height control is told. A set-point of None is sampled after each pierce."""

    school: School
    set_point_v: float | None
    control_delay_s: float
    dead_band_v: float
    hold_below_share: float | None
    crossing_jump_v: float | None
    hold_holes: bool = True


@dataclass(frozen=True)
class Told:
    """One thing to tell the control: what it is called, its value in words, where that is from, and why."""

    what: str
    value: str
    origin: From
    why: str


def control_for(school: Held, timing: StartTiming, shown: Recommend | None) -> Control:
    """What to tell height control under a school, by the timing worked out and by what a trace showed."""
    dead = shown.dead_band_v if shown else None
    hold = shown.hold_below_speed_share if shown else None
    jump = shown.crossing_jump_v if shown else None
    return Control(
        school=school.school,
        set_point_v=school.set_point_v,
        control_delay_s=timing.control_delay_s,
        dead_band_v=dead or timing.dead_band_v or USUAL_DEAD_BAND_V,
        hold_below_share=hold or AT_SPEED,
        crossing_jump_v=jump or USUAL_CROSSING_JUMP_V,
    )


def what_to_tell(
    control: Control, timing: StartTiming, shown: Recommend | None, origin: DelayOrigin
) -> tuple[Told, ...]:
    """Each value with its reason, in the order in which a control asks for them."""
    begins = "arc strike" if origin == "arc_strike" else "the start of motion"
    settled = seconds(timing.settled_after_s)
    traced = shown is not None
    told = [
        Told(
            "set-point",
            volts(control.set_point_v) if control.set_point_v is not None else "sampled",
            "measured" if control.school == "measured" else "usual",
            f"{SCHOOL_WORDS[control.school].capitalize()}.",
        ),
        Told(
            f"delay from {begins}",
            seconds(control.control_delay_s),
            "measured" if timing.measured else "computed",
            f"The volts are at rest {settled} after the arc{' in the trace' if timing.measured else ', as worked out'}, "
            f"and a fifth more; {length(timing.blind_mm)} of cut are blind until then.",
        ),
        Told(
            "dead band, either side",
            volts(control.dead_band_v),
            "measured" if traced else "usual",
            "Two sigma of the arc’s own noise: less, and it follows noise; more, and it lets waves through.",
        ),
    ]
    if control.hold_below_share is not None:
        told.append(
            Told(
                "hold below",
                f"{control.hold_below_share:.0%} of speed",
                "measured" if shown and shown.hold_below_speed_share else "usual",
                "In corners and at the end the volts rise with lost speed, not with height: a torch that followed "
                f"them would dive. Usual are {HOLD_SHARES[0]:.0%} to {HOLD_SHARES[1]:.0%}.",
            )
        )
    if control.crossing_jump_v is not None:
        told.append(
            Told(
                "hold on a jump of",
                volts(control.crossing_jump_v),
                "measured" if traced else "usual",
                "An old kerf takes metal from the arc for a moment: the volts jump, and the height is right.",
            )
        )
    told.append(
        Told(
            "holes",
            "held throughout" if control.hold_holes else "under control",
            "usual",
            f"They are slow ({speed(timing.hole_speed_mm_min)} and less) and over before control would wake.",
        )
    )
    return tuple(told)


_ALIKE_S, _ALIKE_V, _ALIKE_SHARE = 0.1, 0.5, 0.03  # as a recording differs from the next; assumption


def told_otherwise(chosen: Control, would: Control) -> tuple[str, ...]:
    """What recordings made since would tell the control otherwise than what was chosen, each in words; empty where nothing
    differs by more than recordings do. The set-point is another matter: trims and wear follow it."""
    said = []
    if abs(would.control_delay_s - chosen.control_delay_s) > _ALIKE_S:
        said.append(f"a delay of {seconds(would.control_delay_s)}")
    if abs(would.dead_band_v - chosen.dead_band_v) > _ALIKE_V:
        said.append(f"a dead band of {volts(would.dead_band_v)}")
    if _differ(would.hold_below_share, chosen.hold_below_share, _ALIKE_SHARE):
        said.append(f"height held below {would.hold_below_share:.0%} of the speed")
    if _differ(would.crossing_jump_v, chosen.crossing_jump_v, _ALIKE_V):
        said.append(f"height held on a jump of {volts(would.crossing_jump_v or 0.0)}")
    return tuple(said)


def _differ(would: float | None, chosen: float | None, alike: float) -> bool:
    if would is None:
        return False
    return chosen is None or abs(would - chosen) > alike


@dataclass(frozen=True)
class ProofCut:
    """A cut made under control: what it was cut as, and whether it passes; None where that was not looked at."""

    cut_id: str
    kind: str  # long_strip, square
    passes: bool | None
    why: str


ProofState = Literal["no_control", "not_begun", "half", "failed", "proven"]


@dataclass(frozen=True)
class ControlProof:
    """Whether a setting is proven under control, and what comes next."""

    state: ProofState
    says: str
    next_kind: Literal["long_strip", "square"] | None


def control_proof(cuts: Sequence[ProofCut]) -> ControlProof:
    """A long strip and a square, each the newest of its kind and passed, prove it."""
    newest = {c.kind: c for c in cuts}
    strip, box = newest.get("long_strip"), newest.get("square")
    failed = next((c for c in (strip, box) if c is not None and c.passes is False), None)
    if failed is not None:
        what = "long strip" if failed.kind == "long_strip" else "square"
        says = f"The {what} under control does not pass: {failed.why} Trim, and cut it once more."
        return ControlProof("failed", says, "long_strip" if failed.kind == "long_strip" else "square")
    unseen = next((c for c in (strip, box) if c is not None and c.passes is None), None)
    if unseen is not None:
        return ControlProof(
            "half", f"{unseen.why}", "long_strip" if unseen.kind == "long_strip" else "square"
        )
    if strip and box:
        says = "A long strip and a square were cut under control and passed: proven under control too."
        return ControlProof("proven", says, None)
    if strip is None and box is None:
        says = (
            "Proven at a fixed height only. One long strip, over a sheet as it lies, and one small square under control "
            "show whether it holds."
        )
        return ControlProof("not_begun", says, "long_strip")
    done, left = ("The long strip", "square") if strip else ("The square", "long strip")
    says = f"{done} passed under control; the {left} is left."
    return ControlProof("half", says, "square" if strip else "long_strip")
