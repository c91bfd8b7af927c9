"""Volts per millimetre: what one millimetre of height is worth in arc voltage, and both ways between the two.

``V = level of its series + slope * height + by_speed * ln(speed / mean) + wear * starts / 1000
+ bore * starts of the nozzle / 1000 + noise``

* Only cuts whose height was *set* teach it: under height control the volts are held and the height is unknown.
* Each series of parts has a level of its own, near those of its job, so that a change of parts is not read as a slope.
* Volts from before a change of the signal path are another unit: they are left out and counted.
* An electrode's pit raises the volts and a nozzle's bore lowers them: where one was changed without the other their
  starts differ and both are learnt; where not, only what they come to together.
* Slope and wear are what a class of thickness shares; the posterior is Gaussian (conjugate regression), with the
  trade's usual signs and sizes as its prior (domain sections 8 and 9).
"""

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from orthotome.core.quantities import length, slope, volts
from orthotome.core.setting import CutAt, Setting
from orthotome.core.torch import wear
from orthotome.core.torch.forecast import volts_per_1000
from orthotome.core.torch.pit import LearnedLife

Array = NDArray[np.float64]
VoltsAt = Callable[[CutAt], tuple[float, float] | None]
"""The volts that a setting is expected to be seen at, with their standard deviation; None where nothing says."""

PER_MM = (6.5, 1.5)
"""Typical slope and its spread, V/mm (domain section 8: 4 to 10)."""
BY_LN_SPEED = (-4.0, 4.0)
"""V per unit of ln(speed): faster usually lowers it a little."""
WEAR_PER_1000 = wear.PER_1000
"""V per 1000 starts, as ``core.torch.wear`` has it of the trade."""
BORE_PER_1000 = (-1.0, 1.0)
"""V per 1000 starts of the nozzle: a bore that opens lowers them. Assumption."""
NOISE_V = wear.VOLTS_NOISE
"""Of one steady voltage, one sigma."""

_LEVEL = (125.0, 40.0)
_PARTS_DIFFER_V = 2.0  # of one job, when new. Assumption
_DISTINCT_MM = 0.15
_SLOPES = (1.0, 30.0)  # V/mm that an arc can have at all. Assumption
_TIMES_OFF, _OFF_V = (
    6.0,
    12.0,
)  # from what the others foresee, sigma and volts: such a reading is a slip. Assumption
_APART = 0.7  # of what was believed of the bore before: then the cuts have told something of it
_ARC_V = (40.0, 400.0)  # at which an arc of this trade burns at all. Assumption
_AS_ONE_V = 0.2  # apart: nobody reads the difference
_CLASSES_MM = (0.0, 3.0, 6.0, 12.0, math.inf)


@dataclass(frozen=True)
class HeightReading:
    """The steady voltage of one cut at a height that was set. ``series`` names what shares a level: parts and job."""

    height_mm: float
    volts_v: float
    speed_mm_min: float
    series: str
    starts: int | None = None
    u_v: float = NOISE_V
    nozzle_starts: int | None = None
    job: str = ""  # whose series have levels near one another; empty: this one stands alone


@dataclass(frozen=True)
class VoltsForHeight:
    """What the readings of a set, a metal and a class of thickness say."""

    slope_v_per_mm: float
    slope_sd: float
    wear_v_per_1000: float
    wear_sd: float
    cuts: int
    heights: int  # how many heights apart from one another
    taught: bool  # the slope is of these cuts, and not the trade's usual
    wear_taught: bool
    level: "Level | None"
    bore_v_per_1000: float = BORE_PER_1000[0]
    bore_sd: float = BORE_PER_1000[1]
    by_ln_speed: float = BY_LN_SPEED[0]
    by_ln_speed_sd: float = BY_LN_SPEED[1]
    left_out: tuple[HeightReading, ...] = ()  # readings that fit none of the others


def believable(volts_v: float, sd_v: float) -> tuple[float, float] | None:
    """Volts worked out, where an arc can burn at them; None where readings that cannot be have led elsewhere."""
    return (volts_v, sd_v) if _ARC_V[0] <= volts_v <= _ARC_V[1] else None


@dataclass(frozen=True)
class VoltsHere:
    """What a shop's records say of a trial's volts on the parts as they are: the one answer for every room.

    ``level_v`` are those seen at the setting ``at`` with their sd, by the life of the electrode that is in; None where no
    cut of the trial says. ``found`` is what height, speed and wear are worth.
    """

    at: Setting
    level_v: tuple[float, float] | None
    found: VoltsForHeight

    def volts_at(self, setting: CutAt) -> tuple[float, float] | None:
        """(volts, sd) that will be seen at a setting; None where no cut says."""
        if self.level_v is None:
            return None
        lift, faster = self._from(setting)
        volts_v = self.level_v[0] + self.found.slope_v_per_mm * lift + self.found.by_ln_speed * faster
        more = lift * self.found.slope_sd, faster * self.found.by_ln_speed_sd
        return believable(volts_v, math.hypot(self.level_v[1], *more))

    def height_at(self, volts_v: float) -> tuple[float, float] | None:
        """(height, sd) at which a held voltage runs, at the speed of ``at``; None where no cut says."""
        if self.level_v is None:
            return None
        slope = max(_SLOPES[0], self.found.slope_v_per_mm)
        lift = (volts_v - self.level_v[0]) / slope
        sd = math.hypot(self.level_v[1], NOISE_V / 2, lift * self.found.slope_sd) / slope
        return self.at.cut_height_mm + lift, sd

    def _from(self, setting: CutAt) -> tuple[float, float]:
        return (
            setting.cut_height_mm - self.at.cut_height_mm,
            math.log(setting.speed_mm_min / self.at.speed_mm_min),
        )


@dataclass(frozen=True)
class Level:
    """The voltage of the newest series at its mean height, on parts with its mean starts."""

    volts_v: float
    sd: float
    height_mm: float
    speed_mm_min: float
    starts: float | None


def thickness_class(thickness_mm: float) -> tuple[float, float]:
    """The class of thickness whose cuts share volts per millimetre: from, up to (mm)."""
    for low, high in pairwise(_CLASSES_MM):
        if low <= thickness_mm < high:
            return low, high
    return _CLASSES_MM[-2], math.inf


def volts_for_height(readings: Sequence[HeightReading]) -> VoltsForHeight:
    """The posterior of slope and wear, and the level of the newest series (that of the last reading)."""
    kept, left_out = list(readings), list[HeightReading]()
    while kept:
        found, odd = _fitted(kept)
        if odd is None or 3 * len(left_out) >= len(readings):
            return replace(found, left_out=tuple(left_out))
        left_out.append(kept.pop(odd))
    return VoltsForHeight(*PER_MM, *WEAR_PER_1000, 0, 0, taught=False, wear_taught=False, level=None)


def left_out_says(found: VoltsForHeight) -> str:
    """Which readings were left out because they fit none of the others; empty where all fit."""
    if not found.left_out:
        return ""
    named = ", ".join(f"{volts(r.volts_v)} at {length(r.height_mm)}" for r in found.left_out)
    return f"Left out, since no other reading bears it out: {named}. Correct it where its cut was logged, under Trials."


def _fitted(readings: Sequence[HeightReading]) -> tuple[VoltsForHeight, int | None]:
    """The posterior of readings, and which of them fits the others least, if it does not fit at all."""
    series = list(dict.fromkeys(r.series for r in readings))
    height, speed, starts = _middles(readings)
    nozzle = _mean_of([r.nozzle_starts for r in readings if r.series == readings[-1].series])
    prior = np.array([PER_MM, BY_LN_SPEED, WEAR_PER_1000, BORE_PER_1000, *[_LEVEL] * len(series)])
    precision = np.linalg.inv(np.diag(prior[:, 1] ** 2) + _shared_levels(readings, series, len(prior)))
    pull = precision @ prior[:, 0]
    rows = np.zeros((len(readings), len(prior)))
    for row, r in zip(rows, readings, strict=True):
        row[:2] = r.height_mm - height, math.log(r.speed_mm_min / speed)
        row[2:4] = _thousands(r.starts, starts), _thousands(r.nozzle_starts, nozzle)
        row[4 + series.index(r.series)] = 1.0
        precision += np.outer(row, row) / r.u_v**2
        pull += row * r.volts_v / r.u_v**2
    cov = np.linalg.inv(precision)
    odd = _odd_one(readings, rows, cov, cov @ pull)
    mean, sd = cov @ pull, np.sqrt(np.diag(cov))
    newest = 4 + series.index(readings[-1].series)
    counted = [r.starts for r in readings if r.series == readings[-1].series and r.starts is not None]
    level = Level(float(mean[newest]), float(sd[newest]), height, speed, starts if counted else None)
    # A slope that no arc has is no slope learnt, whatever was typed: the trade's own stands until a reading is mended.
    believable = _SLOPES[0] <= mean[0] <= _SLOPES[1]
    slope, slope_sd = (float(mean[0]), float(sd[0])) if believable else PER_MM
    found = VoltsForHeight(
        slope_v_per_mm=slope,
        slope_sd=slope_sd,
        wear_v_per_1000=float(mean[2]),
        wear_sd=float(sd[2]),
        cuts=len(readings),
        heights=_heights(readings),
        taught=believable and bool(sd[0] < 0.6 * PER_MM[1]),
        wear_taught=bool(sd[2] < 0.6 * WEAR_PER_1000[1]),
        level=level,
        bore_v_per_1000=float(mean[3]),
        bore_sd=float(sd[3]),
        by_ln_speed=float(mean[1]),
        by_ln_speed_sd=float(sd[1]),
    )
    return found, odd


def _odd_one(readings: Sequence[HeightReading], rows: Array, cov: Array, mean: Array) -> int | None:
    """The reading that fits the others least, each held against what all others foresee; None where all fit.

    Of two that only contradict each other it is the one farther from what arcs mostly burn at.
    """
    v = np.array([r.volts_v for r in readings])
    u = np.array([r.u_v for r in readings])
    own = np.minimum(np.einsum("ij,jk,ik->i", rows, cov, rows) / u**2, 1 - 1e-6)
    off = (v - rows @ mean) / (1 - own)  # from what the others foresee
    times = np.abs(off) * np.sqrt(1 - own) / u
    wrong = np.flatnonzero((times > _TIMES_OFF) & (np.abs(off) > _OFF_V))
    if not len(wrong):
        return None
    worst = wrong[times[wrong] > 0.8 * times[wrong].max()]
    return (
        int(worst[np.abs(v[worst] - np.median(v)).argmax()])
        if len(v) > 2
        else int(worst[np.abs(v[worst] - _LEVEL[0]).argmax()])
    )


def _shared_levels(readings: Sequence[HeightReading], series: list[str], size: int) -> Array:
    """What the levels of one job have in common before any reading, as covariance: all but what new parts differ by."""
    job = {r.series: r.job or r.series for r in readings}
    shared = np.zeros((size, size))
    for i, one in enumerate(series):
        for j, other in enumerate(series):
            if i != j and job[one] == job[other]:
                shared[4 + i, 4 + j] = _LEVEL[1] ** 2 - _PARTS_DIFFER_V**2
    return shared


def with_wear(found: VoltsForHeight, life: LearnedLife) -> VoltsForHeight:
    """The same with the wear of the electrode's own life, which knows its pit too: one model of wear for all."""
    per_1000 = volts_per_1000(life)
    taught = life.volts > 1 and per_1000.sd < 0.6 * WEAR_PER_1000[1]
    return replace(found, wear_v_per_1000=per_1000.value, wear_sd=per_1000.sd, wear_taught=taught)


def wear_apart(found: VoltsForHeight) -> str:
    """Whether pit and bore are told apart, in one sentence."""
    if found.left_out:
        return left_out_says(found)
    if not found.cuts:
        return "No cut at a set height has its volts yet: nothing tells what wear does to them here."
    if found.bore_sd < _APART * BORE_PER_1000[1]:
        return (
            f"Told apart: the pit raises the volts by {found.wear_v_per_1000:.1f} V per 1000 starts, the nozzle’s bore "
            f"moves them by {found.bore_v_per_1000:+.1f}."
        )
    return (
        "Electrode and nozzle have worn together: only what they come to is known. A cut at a set height after one of "
        "them is changed tells them apart."
    )


def _middles(readings: Sequence[HeightReading]) -> tuple[float, float, float | None]:
    """Height, speed and starts about which the level is told: those of the newest series."""
    newest = [r for r in readings if r.series == readings[-1].series]
    return (
        float(np.mean([r.height_mm for r in newest])),
        float(np.exp(np.mean([math.log(r.speed_mm_min) for r in newest]))),
        _mean_of([r.starts for r in newest]),
    )


def _thousands(starts: int | None, middle: float | None) -> float:
    return 0.0 if starts is None or middle is None else (starts - middle) / 1000


def _mean_of(counts: Sequence[int | None]) -> float | None:
    known = [c for c in counts if c is not None]
    return float(np.mean(known)) if known else None


def _heights(readings: Sequence[HeightReading]) -> int:
    found: list[float] = []
    for h in sorted(r.height_mm for r in readings):
        if not found or h - found[-1] >= _DISTINCT_MM:
            found.append(h)
    return len(found)


def per_height_says(found: VoltsForHeight) -> str:
    """What height is worth in volts, how sure that is, and where it is from."""
    return f"{slope(found.slope_v_per_mm)} ± {slope(found.slope_sd)}, {per_height_from(found)}"


def per_height_from(found: VoltsForHeight) -> str:
    """Where that is from."""
    return f"from {found.cuts} cuts at set heights" if found.taught else "the trade’s usual as yet"


def to_be_seen(seen: Iterable[tuple[float, float] | None]) -> str:
    """The volts that will be seen along a piece, ± one sigma; from where to where, where it is cut at several."""
    known = [s for s in seen if s is not None]
    if not known:
        return "not known"
    low, high = min(known), max(known)
    if high[0] - low[0] < _AS_ONE_V:
        return f"{low[0]:.1f} ± {max(low[1], high[1]):.1f} V to be seen"
    return f"{low[0]:.0f} to {high[0]:.0f} V to be seen, ± {max(s for _, s in known):.0f}"


def touch_chance(gap_mm: float, sd_mm: float, touch_mm: float, unfollowed_mm: float = 0.0) -> float:
    """Chance that the gap comes down to where something touches, somewhere along a cut over a sheet that rises by
    ``unfollowed_mm`` where height control does not follow it."""
    from scipy.special import ndtr  # noqa: PLC0415 (start-up time)

    return float(ndtr((touch_mm + unfollowed_mm - gap_mm) / max(sd_mm, 0.02)))
