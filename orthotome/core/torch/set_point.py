"""The set-point as the parts wear: what it is worth now, what it is told, and the trim between.

A set-point that was measured, or came from a manual, has to be raised; one that is sampled after each pierce keeps up
by itself, as good as touch-off and settling are.
"""

from dataclasses import dataclass
from typing import Literal

from orthotome.core.quantities import length, volts
from orthotome.core.torch.forecast import (
    in_tens,
    left_alone,
    set_point_now,
    set_point_sd,
    volts_reached_at,
)
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.torch.wear import TRIM_V

HowHeld = Literal["fixed", "sampled", "none"]
_STEP_V = 0.5
_DUE_V = 0.75  # from which on a whole step is nearer than none
_SURE = 1.0  # sigma by which a trim has to stand out before it is asked for


@dataclass(frozen=True)
class TrimNow:
    """What a told set-point needs now. Volts are None where nothing is told, or nothing is held."""

    held: HowHeld
    told_v: float | None
    now_v: float | None
    sd_v: float | None
    by_v: float  # to raise it now, in steps that a hand can set; 0: leave it
    due_at_starts: int | None
    closer_mm: float | None  # as it is told, than the proven height
    touches_at_starts: int | None
    says: str


def trim_now(life: LearnedLife, told_v: float | None, held: HowHeld = "fixed") -> TrimNow:
    """The trim that a told set-point needs on the parts as they are."""
    if held == "none":
        said = "This table has no height control: as the parts wear nothing moves the torch, and nothing has to be trimmed."
        return TrimNow(held, None, None, None, 0.0, None, None, None, said)
    if held == "sampled":
        said = (
            "Sampled afresh after each pierce: it keeps up with wear by itself, and needs no trim. Its height is as "
            "good as touch-off and settling are."
        )
        return TrimNow(held, None, None, None, 0.0, None, None, None, said)
    if told_v is None:
        said = "No set-point is told yet: a cut at a set height with its volts gives one."
        return TrimNow(held, None, None, None, 0.0, None, None, None, said)
    now, sd = set_point_now(life), set_point_sd(life)
    off = now - told_v
    by = round(off / _STEP_V) * _STEP_V if abs(off) >= _DUE_V and abs(off) > _SURE * sd else 0.0
    alone = left_alone(life, told_v)
    due = volts_reached_at(life, max(told_v, told_v + by) + TRIM_V)
    said = _says(life, by, off, alone.closer_mm, alone.touches_at_starts, due, sd)
    due = None if due is None else in_tens(due)  # as it is said: no forecast knows better
    return TrimNow(held, told_v, now, sd, by, due, alone.closer_mm, alone.touches_at_starts, said)


def _says(  # noqa: PLR0917 (one sentence of one trim)
    life: LearnedLife,
    by: float,
    off: float,
    closer_mm: float,
    touches: int | None,
    due: int | None,
    sd: float,
) -> str:
    if by < 0:
        return (
            f"Lower it by {volts(-by)}: these parts are newer than the set-point is for, and it holds the torch "
            f"{length(-closer_mm)} too high."
        )
    until = _until(life, touches)
    if by > 0:
        give = f", give or take {volts(sd)}" if sd > _STEP_V else ""
        return f"Raise it by {volts(by)}{give}: as it is told the torch runs {length(closer_mm)} closer than was proven{until}."
    if abs(off) >= _DUE_V:
        return (
            f"It may be off by {volts(abs(off))}, but that is not known well enough (plus or minus {volts(sd)}) to trim "
            "by: one cut at a set height with its volts tells."
        )
    when = f" The next trim is due at about {in_tens(due)} starts." if due is not None else ""
    return f"It still holds the proven height, to {length(abs(closer_mm))}.{when}"


def _until(life: LearnedLife, touches: int | None) -> str:
    if touches is None:
        return ""
    if touches <= life.starts:
        return ", and by now it may touch"
    return f"; left alone it touches at about {in_tens(touches)} starts, {in_tens(touches - life.starts)} from now"


def since_proven(life: LearnedLife, proven_v: float, proven_starts: int | None) -> str:
    """What a recipe's page says of its volts on the parts as they are."""
    off = set_point_now(life) - proven_v
    sd = set_point_sd(life)
    if abs(off) < _STEP_V / 2:
        change = "As when it was proven"
    else:
        change = f"{'+' if off > 0 else '−'}{volts(abs(off))} since it was proven"
    known = f" (plus or minus {volts(sd)})" if sd > _STEP_V else ""
    if proven_starts is None:
        return f"{change}{known}."
    more = life.starts - proven_starts
    parts = f"{more} starts" if more >= 0 else "on a newer electrode"
    return f"{change}{known}: {parts}."
