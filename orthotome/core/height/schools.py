"""Three schools of the set-point: from the manual, measured at a proven height, sampled after each pierce.

Each is worked out here and now: what it gives, the height that it holds on this table with these parts, what
becomes of it as they wear, and what it needs. As the electrode's pit grows the volts rise at the same height, so a
set-point that stays where it is brings the torch closer, by wear / slope for each start.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from orthotome.core.height.volts import NOISE_V, HeightReading, VoltsHere
from orthotome.core.quantities import length, slope, volts
from orthotome.core.torch.forecast import in_tens, volts_reached_at
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.torch.wear import TRIM_V

School = Literal["manual", "measured", "sampled"]

SCHOOL_WORDS: dict[School, str] = {
    "manual": "from the manual",
    "measured": "measured at the proven height",
    "sampled": "sampled after each pierce",
}

MANUAL_SD_V = 6.0
"""How far a manual's volts stand from a table's: another divider, another lead, another nozzle. Assumption."""
SAMPLE_SD_MM = 0.15
"""What touch-off and settling leave of a sampled height (as HEIGHT_ERROR_MM of core.tuner.priors)."""

_LOOKS = 4000
_NEAR_MM = 0.1  # cuts at the same height, to what a hand can dial


@dataclass(frozen=True)
class Measured:
    """The steady voltage of the proven cuts at their height, and the starts on the parts then."""

    volts_v: float
    sd_v: float
    starts: int | None


def measured_at(taken: Sequence[HeightReading], here: VoltsHere) -> Measured | None:
    """The volts at the height of ``here``, in the series that was read last: the mean of what was cut there, brought to that
    height by the slope; else what the volts of other heights say of it; None where neither does."""
    height_mm = here.at.cut_height_mm
    near = [
        r for r in taken if r.series == taken[-1].series and abs(r.height_mm - height_mm) <= _NEAR_MM
    ]
    if near:
        level = sum(r.volts_v - here.found.slope_v_per_mm * (r.height_mm - height_mm) for r in near)
        counted = [r.starts for r in near if r.starts is not None]
        starts = round(sum(counted) / len(counted)) if counted else None
        return Measured(level / len(near), NOISE_V / len(near) ** 0.5, starts)
    if here.level_v is None or here.found.level is None:
        return None
    at = here.found.level.starts
    return Measured(*here.level_v, None if at is None else round(at))


@dataclass(frozen=True)
class SchoolJob:
    """What the schools are asked for."""

    cut_height_mm: float
    touch_mm: float
    here: VoltsHere  # what the volts are on the parts as they are
    life: LearnedLife  # of the electrode that is in
    manual_v: float | None
    measured: Measured | None
    starts: int | None  # on the parts now
    can_sample: bool | None = None  # whether the control can; None: nobody said


@dataclass(frozen=True)
class Held:
    """What one school gives, and what becomes of it. None where it cannot be said."""

    school: School
    set_point_v: float | None
    height_mm: float | None
    height_sd_mm: float | None
    closer_mm: float | None  # after ``ahead`` more starts
    touches_in: tuple[int, int] | None  # more starts until it touches, 5 and 95 % of what may be
    trim_at_starts: int | None
    needs: str
    will: str
    refused: str = ""  # why it cannot be chosen here


def schools(job: SchoolJob, ahead: int = 500) -> tuple[Held, Held, Held]:
    """The three schools side by side, ``ahead`` starts on."""
    return _manual(job, ahead), _measured(job, ahead), _sampled(job)


def _manual(job: SchoolJob, ahead: int) -> Held:
    needs = "Nothing measured: the number that came with the row."
    if job.manual_v is None:
        no = "The starting row names no voltage."
        return Held("manual", None, None, None, None, None, None, needs, "", no)
    held = job.here.height_at(job.manual_v)
    closer, touches = _closer(job, held, ahead)
    if held is None:
        wide = MANUAL_SD_V / job.here.found.slope_v_per_mm
        will = (
            f"It knows nothing of this table: {volts(MANUAL_SD_V)} off is {length(wide)} of height. "
            "One cut at a set height with its volts would tell."
        )
    else:
        off = held[0] - job.cut_height_mm
        way = "above" if off > 0 else "below"
        will = f"On this table it holds {length(held[0])}, {length(abs(off))} {way} the height that was proven."
        will += _as_it_wears(job, closer, ahead, " After")
    return Held(
        "manual",
        job.manual_v,
        held[0] if held else None,
        held[1] if held else None,
        closer,
        touches,
        None,
        needs,
        will,
    )


def _measured(job: SchoolJob, ahead: int) -> Held:
    needs = "A cut at the proven height with its volts; then a trim as the parts wear, which Orthotome says when."
    m = job.measured
    if m is None:
        no = "No cut at a set height has its volts yet."
        return Held("measured", None, None, None, None, None, None, needs, "", no)
    worth = job.here.level_v or (m.volts_v, m.sd_v)
    set_point = round(worth[0], 1)
    held = (job.cut_height_mm, worth[1] / max(1.0, job.here.found.slope_v_per_mm))
    closer, touches = _closer(job, held, ahead)
    why = f"{volts(m.volts_v)} was measured there{_at_starts(m.starts)}"
    if set_point != round(m.volts_v, 1):
        why += f"; all that was read here, on the parts as they are, says {volts(set_point)}"
    due = volts_reached_at(job.life, set_point + TRIM_V)
    trim = None if due is None else in_tens(due)
    will = f"{why}.{_as_it_wears(job, closer, ahead, ' Left alone, after')}"
    return Held("measured", set_point, held[0], held[1], closer, touches, trim, needs, will)


def _at_starts(starts: int | None) -> str:
    return "" if starts is None else f" at {starts} starts"


def _sampled(job: SchoolJob) -> Held:
    needs = (
        "Good touch-off and a voltage that has settled before it samples; lead-ins long enough for that."
    )
    refused = "This table’s control does not sample." if job.can_sample is False else ""
    will = (
        f"Keeps up with wear by itself: each start takes the volts at its own cut height, to {length(SAMPLE_SD_MM)}, "
        "as good as touch-off and settling are. A touch-off that is off shifts the whole cut."
    )
    height = job.cut_height_mm
    return Held("sampled", None, height, SAMPLE_SD_MM, 0.0, None, None, needs, will, refused)


def _as_it_wears(job: SchoolJob, closer: float | None, ahead: int, begins: str) -> str:
    if closer is None:
        return ""
    told = "" if job.here.found.wear_taught else " at the usual wear, which no cut here has shown yet"
    return f"{begins} {ahead} more starts it runs {length(closer)} closer{told} ({slope(job.here.found.slope_v_per_mm)})."


def _closer(
    job: SchoolJob, held: tuple[float, float] | None, ahead: int
) -> tuple[float | None, tuple[int, int] | None]:
    """How much closer after so many starts, and when it touches, from draws of slope, wear and height."""
    if held is None:
        return None, None
    draw = np.random.default_rng(7)
    v = job.here.found
    per_mm = np.maximum(1.0, draw.normal(v.slope_v_per_mm, v.slope_sd, _LOOKS))
    wear = np.maximum(0.3, draw.normal(v.wear_v_per_1000, v.wear_sd, _LOOKS))
    room = np.maximum(0.0, draw.normal(held[0], held[1], _LOOKS) - job.touch_mm)
    until = 1000 * room * per_mm / wear
    closer = max(0.0, v.wear_v_per_1000) * ahead / 1000 / v.slope_v_per_mm
    low, high = (round(float(np.quantile(until, q)) / 10) * 10 for q in (0.05, 0.95))
    return closer, (low, high)
