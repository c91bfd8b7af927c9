"""The step after square: height control on, what to tell it and why, and what proves it.

A setting that is square at a fixed height is half of a setting: most of a sheet is cut under height control. What
control is told follows from the school of the set-point, the timing of the start, what a trace showed, and the trade's
usual values where none did; each number says which.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from orthotome.core.height.schools import SCHOOL_WORDS, Held, School
from orthotome.core.height.timing import HOLD_SHARES, USUAL_NOISE_V, StartTiming, dead_band_v
from orthotome.core.height.trace_report import Recommend
from orthotome.core.machine.motion import DelayOrigin
from orthotome.core.quantities import length, seconds, speed, volts
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.torch.set_point import TrimNow, trim_now

From = Literal["measured", "computed", "usual", "told"]

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
    jump = shown.crossing_jump_v if shown else None
    return Control(
        school=school.school,
        set_point_v=school.set_point_v,
        control_delay_s=timing.control_delay_s,
        dead_band_v=timing.dead_band_v or dead_band_v(USUAL_NOISE_V),
        hold_below_share=timing.hold_below_share,
        crossing_jump_v=jump or USUAL_CROSSING_JUMP_V,
    )


_FIRST: tuple[School, ...] = ("measured", "manual", "sampled")


def first_ready(schools: Sequence[Held]) -> Held:
    """The school that is told unless somebody chooses: measured where it can be, else by the manual, else sampled."""
    by_rank = sorted(schools, key=lambda held: _FIRST.index(held.school))
    return next(held for held in by_rank if not held.refused)


def trim_told(
    life: LearnedLife, told: Control | None, proven_v: float | None, *, controlled: bool
) -> TrimNow:
    """What the set-point needs on the parts as they are: the one that was told, or where none was the volts that were proven.
    ``controlled``: whether the table follows the arc's volts at all."""
    if not controlled:
        return trim_now(life, None, "none")
    if told is not None and told.school == "sampled":
        return trim_now(life, None, "sampled")
    told_v = told.set_point_v if told is not None else None
    return trim_now(life, proven_v if told_v is None else told_v)


@dataclass(frozen=True)
class _Word:
    """One number that control is told: what it was told, what it would be told now, and how both are said."""

    what: str
    is_told: float | None
    now: float | None
    alike: float
    say: Callable[[float], str]
    origin: From
    why: str
    otherwise: str  # with {} for the number

    @property
    def moved(self) -> bool:
        """Whether what would be told now differs by more than one recording from the next."""
        if self.now is None:
            return False
        return self.is_told is None or abs(self.now - self.is_told) > self.alike

    def told(self) -> Told | None:
        """With the reason of the number that is told: where another would be told now, that is said of the other."""
        if self.is_told is None:
            return None
        if not self.moved or self.now is None:
            return Told(self.what, self.say(self.is_told), self.origin, self.why)
        now = f"As it was told. {self.say(self.now)} would be told now: {self.why}"
        return Told(self.what, self.say(self.is_told), "told", now)


def _words(
    control: Control, would: Control, timing: StartTiming, shown: Recommend | None
) -> list[_Word]:
    traced: From = "measured" if shown is not None else "usual"
    settled = seconds(timing.settled_after_s)
    held: From = "measured" if shown and shown.hold_below_speed_share else "usual"
    return [
        _Word(
            "delay",
            control.control_delay_s,
            would.control_delay_s,
            _ALIKE_S,
            seconds,
            "measured" if timing.measured else "computed",
            f"The volts are at rest {settled} after the arc{' in the trace' if timing.measured else ', as worked out'}, "
            f"and a fifth more; {length(timing.blind_mm)} of cut are blind until then.",
            "a delay of {}",
        ),
        _Word(
            "dead band, either side",
            control.dead_band_v,
            would.dead_band_v,
            _ALIKE_V,
            volts,
            traced,
            "Two sigma of the arc’s own noise: less, and it follows noise; more, and it lets waves through.",
            "a dead band of {}",
        ),
        _Word(
            "hold below",
            control.hold_below_share,
            would.hold_below_share,
            _ALIKE_SHARE,
            "{:.0%} of speed".format,
            held,
            "In corners and at the end the volts rise with lost speed, not with height: from there on that lifts them out of the "
            f"dead band, and a torch that followed would dive. Usual are {HOLD_SHARES[0]:.0%} to {HOLD_SHARES[1]:.0%}.",
            "height held below {}",
        ),
        _Word(
            "hold on a jump of",
            control.crossing_jump_v,
            would.crossing_jump_v,
            _ALIKE_V,
            volts,
            traced,
            "An old kerf takes metal from the arc for a moment: the volts jump, and the height is right.",
            "height held on a jump of {}",
        ),
    ]


def what_to_tell(
    control: Control, would: Control, timing: StartTiming, shown: Recommend | None, origin: DelayOrigin
) -> tuple[Told, ...]:
    """Each value of ``control`` with its reason, in the order in which a control asks for them. ``would`` is what it would be
    told now, of which the reasons are."""
    begins = "arc strike" if origin == "arc_strike" else "the start of motion"
    words = [w.told() for w in _words(control, would, timing, shown)]
    return (
        Told(
            "set-point",
            volts(control.set_point_v) if control.set_point_v is not None else "sampled",
            "measured" if control.school == "measured" else "usual",
            f"{SCHOOL_WORDS[control.school].capitalize()}.",
        ),
        *(replace(t, what=f"delay from {begins}") if t.what == "delay" else t for t in words if t),
        Told(
            "holes",
            "held throughout" if control.hold_holes else "under control",
            "usual",
            f"They are slow ({speed(timing.hole_speed_mm_min)} and less) and over before control would wake.",
        ),
    )


_ALIKE_S, _ALIKE_V, _ALIKE_SHARE = 0.1, 0.5, 0.03  # as a recording differs from the next; assumption


def told_otherwise(
    chosen: Control, would: Control, timing: StartTiming, shown: Recommend | None
) -> tuple[str, ...]:
    """What recordings made since would tell the control otherwise than what was chosen, each in words; empty where nothing
    differs by more than recordings do. The set-point is another matter: trims and wear follow it."""
    words = _words(chosen, would, timing, shown)
    return tuple(w.otherwise.format(w.say(w.now)) for w in words if w.moved and w.now is not None)


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
