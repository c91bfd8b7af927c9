"""The height loop: what a torch does that follows arc voltage over a sheet that is not flat.

The arc shows its gap: ``volts = steady + slope * (gap - cut height) + rise * (1 - share of speed)``, with noise. The
controller lowers the torch while the volts are above the set-point and lifts it while they are below, at ``gain``
millimetres a second for each volt off while they are outside the dead band, never faster than Z can. It acts on
volts that are ``lag`` seconds old (half of it filter, half dead time), waits for its delay after arc on, and holds
still below a share of speed and while the volts jump.

The gain that follows best without hunting: gap to volts to Z is one integrator, gain * slope a second, behind a
delay of ``lag``; it hunts by itself where gain * slope * lag passes pi / 2, or 1.75 with half of the lag a filter (any
text on control). Orthotome takes ``GAIN_SHARE``, so that a loop of twice the gain hunts, and this one does not.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from orthotome.core.errors import TradeError
from orthotome.core.height.timing import TYPICAL_RISE_V, USUAL_NOISE_V, dead_band_v, hold_below

Array = NDArray[np.float64]
LoopState = Literal["waiting", "held", "on"]

GAIN_SHARE = 1.0
"""gain * slope * lag of the gain chosen, in radians: 1.75 is where the loop hunts by itself."""

STEP_S = 0.005
TYPICAL_LAG_S = 0.06  # of filter, controller and drive together; assumption
_JUMP_HOLD_S = 0.15
_JUMP_OVER_S = 0.4
_LONGEST_JUMP_S = 0.3
_SHORTED_V = 35.0
_LONGEST_S = 180.0


@dataclass(frozen=True)
class LoopSettings:
    """What the controller is told."""

    set_point_v: float
    gain_mm_s_v: float
    dead_band_v: float
    delay_s: float  # from arc on
    z_speed_mm_s: float
    hold_below_share: float | None = 0.9  # of speed; None: control stays on through corners
    crossing_jump_v: float | None = None

    def __post_init__(self) -> None:
        for name in ("gain_mm_s_v", "dead_band_v", "delay_s"):
            if not (math.isfinite(getattr(self, name)) and getattr(self, name) >= 0):
                raise TradeError(name, "must be zero or more.")
        if not self.z_speed_mm_s > 0:
            raise TradeError("z_speed_mm_s", "must be more than zero.")


@dataclass
class HeightLoop:
    """The controller with what it remembers: asked at each step how fast Z moves (mm/s, up is positive)."""

    settings: LoopSettings
    lag_s: float = TYPICAL_LAG_S
    state: LoopState = "waiting"
    _old: list[float] = field(default_factory=list)
    _slow_v: float | None = None
    _hold_until_s: float = -1.0
    _jumped_s: float = 0.0

    def z_rate_mm_s(
        self, since_arc_s: float, volts_v: float, speed_share: float, step_s: float
    ) -> float:
        """How fast Z moves now."""
        s = self.settings
        seen = self._seen(volts_v, step_s)
        if since_arc_s < s.delay_s:
            self.state = "waiting"
            return 0.0
        if self._held(since_arc_s, volts_v, speed_share, step_s):
            self.state = "held"
            self._old.clear()  # what the arc showed meanwhile was not its height
            return 0.0
        self.state = "on"
        off = seen - s.set_point_v
        if abs(off) <= s.dead_band_v:
            return 0.0
        return min(max(-s.gain_mm_s_v * off, -s.z_speed_mm_s), s.z_speed_mm_s)

    def _seen(self, volts_v: float, step_s: float) -> float:
        """The mean over one lag, which is half a lag old, seen half a lag later still."""
        self._old.append(volts_v)
        over = max(1, round(self.lag_s / step_s))
        dead = round(self.lag_s / 2 / step_s)
        del self._old[: -(over + dead)]
        known = self._old[: max(1, len(self._old) - dead)][-over:]
        return sum(known) / len(known)

    def _held(self, since_arc_s: float, volts_v: float, share: float, step_s: float) -> bool:
        s = self.settings
        if self._slow_v is None:
            self._slow_v = volts_v
        jumps = s.crossing_jump_v is not None and volts_v - self._slow_v > s.crossing_jump_v
        self._jumped_s = self._jumped_s + step_s if jumps else 0.0
        if jumps and self._jumped_s < _LONGEST_JUMP_S:
            self._hold_until_s = since_arc_s + _JUMP_HOLD_S
        elif jumps:
            self._slow_v = volts_v  # no kerf is that wide: the volts are of another height
        else:
            self._slow_v += (volts_v - self._slow_v) * min(1.0, step_s / _JUMP_OVER_S)
        slow = s.hold_below_share is not None and share < s.hold_below_share
        return slow or since_arc_s < self._hold_until_s


@dataclass(frozen=True)
class Warp:
    """A sheet's height along the cut: waves of ``rise_mm`` from valley to crest, ``wave_mm`` long, on a slope."""

    rise_mm: float = 0.0
    wave_mm: float = 200.0
    slope_mm_per_100: float = 0.0
    grows: float = 0.0  # share by which the waves have grown at the end of the cut, as heat comes in

    def height_mm(self, way_mm: Array, whole_mm: float) -> Array:
        """Height of the plate under the torch, from where the cut begins."""
        grown = 1 + self.grows * way_mm / max(whole_mm, 1.0)
        wave = self.rise_mm / 2 * (1 - np.cos(2 * np.pi * way_mm / self.wave_mm)) * grown
        return np.asarray(wave + self.slope_mm_per_100 * way_mm / 100)

    def steepest(self) -> float:
        """Its steepest rise, mm per mm of cut."""
        wave = math.pi * self.rise_mm / self.wave_mm * (1 + self.grows)
        return wave + abs(self.slope_mm_per_100) / 100


FLAT = Warp()


@dataclass(frozen=True)
class LoopJob:
    """What is cut, and by what arc and machine. ``steady_v`` is the voltage at ``cut_height_mm`` at full speed."""

    speed_mm_min: float
    length_mm: float
    cut_height_mm: float
    steady_v: float
    slope_v_per_mm: float
    warp: Warp = FLAT
    corners_mm: tuple[float, ...] = ()
    acceleration_mm_s2: float = 500.0
    noise_v: float = USUAL_NOISE_V
    lag_s: float = TYPICAL_LAG_S
    rise_v: float = TYPICAL_RISE_V
    touch_mm: float = 0.0  # gap at which something touches
    starts_high_mm: float = 0.5  # still on its way down from the pierce, or touch-off was off
    bevel_deg_per_mm: float = 2.5

    def __post_init__(self) -> None:
        for name in (
            "speed_mm_min",
            "length_mm",
            "cut_height_mm",
            "slope_v_per_mm",
            "acceleration_mm_s2",
        ):
            if not getattr(self, name) > 0:
                raise TradeError(name, "must be more than zero.")
        if 60 * self.length_mm / self.speed_mm_min > _LONGEST_S:
            raise TradeError(
                "length_mm", f"takes longer than {_LONGEST_S:g} s to cut: take a shorter one."
            )


@dataclass(frozen=True)
class LoopRun:
    """A cut as the loop would run it; arrays of shape (n,), one sample each ``STEP_S``."""

    time_s: Array
    way_mm: Array
    plate_mm: Array
    gap_mm: Array
    volts_v: Array
    speed_share: Array
    control: Array
    strikes: tuple[tuple[float, float], ...]  # (time, way) at which the torch comes onto the plate
    bevel_deg: Array  # away from that at the cut height
    hunts: bool

    @property
    def rms_mm(self) -> float:
        """Root mean square of the gap about its mean, where control is on."""
        on = self.control > 0.5
        gap = self.gap_mm[on] if on.any() else self.gap_mm
        return float(np.std(gap))


def speed_profile(
    length_mm: float, speed_mm_min: float, acceleration_mm_s2: float, corners_mm: Sequence[float] = ()
) -> tuple[Array, Array]:
    """(way, share of speed) each ``STEP_S``: from rest to rest, and nearly to rest in each corner."""
    full = speed_mm_min / 60
    stops = [0.0, *sorted(c for c in corners_mm if 0 < c < length_mm), length_mm]
    ways, shares, way, v = [], [], 0.0, 0.0
    least = 0.05 * full
    for end in stops[1:]:
        while way < end - 1e-9:
            leaves = math.sqrt(max(0.0, 2 * acceleration_mm_s2 * (end - way)))
            v = max(least, min(full, v + acceleration_mm_s2 * STEP_S, leaves))
            way = min(end, way + v * STEP_S)
            ways.append(way)
            shares.append(v / full)
    return np.array(ways), np.array(shares)


def run_loop(job: LoopJob, settings: LoopSettings, seed: int = 0) -> LoopRun:
    """The cut step by step. The same seed has the same noise."""
    way, share = speed_profile(job.length_mm, job.speed_mm_min, job.acceleration_mm_s2, job.corners_mm)
    plate = job.warp.height_mm(way, job.length_mm)
    noise = np.random.default_rng(seed).normal(0.0, job.noise_v, len(way))
    loop = HeightLoop(settings, job.lag_s)
    z = job.cut_height_mm + job.starts_high_mm + float(plate[0])
    gaps, volts, control = np.empty(len(way)), np.empty(len(way)), np.empty(len(way))
    for i in range(len(way)):
        gap = z - plate[i]
        touches = gap <= job.touch_mm
        v = job.steady_v + job.slope_v_per_mm * (gap - job.cut_height_mm) + job.rise_v * (1 - share[i])
        v += noise[i] - (_SHORTED_V if gap <= 0 else 0.0)
        rate = loop.z_rate_mm_s(i * STEP_S, v, float(share[i]), STEP_S)
        z = max(z + rate * STEP_S, float(plate[i]) - 0.5) if not touches or rate > 0 else z
        gaps[i], volts[i], control[i] = gap, v, loop.state == "on"
    at: Array = np.arange(len(way), dtype=np.float64) * STEP_S
    on_plate = gaps <= job.touch_mm
    begins = np.flatnonzero(on_plate & ~np.concatenate([[False], on_plate[:-1]]))
    return LoopRun(
        time_s=at,
        way_mm=way,
        plate_mm=plate,
        gap_mm=gaps,
        volts_v=volts,
        speed_share=share,
        control=control,
        strikes=tuple((float(at[i]), float(way[i])) for i in begins),
        bevel_deg=job.bevel_deg_per_mm * (gaps - job.cut_height_mm),
        hunts=hunts(gaps, control, settings, job),
    )


def hunts(gap_mm: Array, control: Array, settings: LoopSettings, job: LoopJob) -> bool:
    """Whether the gap swings to and fro by itself: faster than the sheet's waves, wider than the dead band makes."""
    on = np.flatnonzero(control > 0.5)
    if len(on) < 200:
        return False
    over = max(3, round(8 * job.lag_s / STEP_S))
    gap = gap_mm[on]
    slow = np.convolve(
        np.pad(gap, (over // 2, over - 1 - over // 2), mode="edge"), np.ones(over) / over, "valid"
    )
    swing = gap - slow
    rest = swing[len(swing) // 3 :]
    dead = settings.dead_band_v / job.slope_v_per_mm
    return bool(np.std(rest) > 0.35 * dead + 0.04)


@dataclass(frozen=True)
class Chosen:
    """Settings that Orthotome would choose, each with its reason as numbers: the words are said at the door."""

    settings: LoopSettings
    lag_error_mm: float  # that the torch is behind on the steepest part of the sheet
    z_speed_needed_mm_s: float
    follows: bool  # whether Z is fast enough for the sheet at that speed


def choose_settings(job: LoopJob, settings: LoopSettings) -> Chosen:
    """What Orthotome would set for that job, from the arc's slope, the noise and the lag; delay, set-point and what
    Z can do stay as they are."""
    gain = GAIN_SHARE / (job.lag_s * job.slope_v_per_mm)
    rate = job.warp.steepest() * job.speed_mm_min / 60
    dead = dead_band_v(job.noise_v)
    hold = hold_below(dead, job.rise_v)
    chosen = replace(settings, gain_mm_s_v=round(gain, 2), dead_band_v=dead, hold_below_share=hold)
    behind = chosen.dead_band_v / job.slope_v_per_mm + rate / (gain * job.slope_v_per_mm)
    return Chosen(chosen, behind, rate, rate <= settings.z_speed_mm_s)
