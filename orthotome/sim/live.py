"""A simulated table as it runs: what its arc shows, a hundred times a second, while it cuts.

It touches off, pierces, comes down, runs its path with the acceleration it has, and lets height control follow the
arc. The sheet lifts as it gets warm, corners and old kerfs raise the volts, a torch that comes down to the plate
shorts the arc, and an arc led off the plate stretches until it is gone. Faults can be built in.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from orthotome.core.height.loop import HeightLoop, LoopSettings, Warp

Fault = Literal["divided_twice", "clip_loose", "wet_air", "worn_electrode"]
FAULTS: tuple[Fault, ...] = ("divided_twice", "clip_loose", "wet_air", "worn_electrode")

SAMPLES_PER_S = 100
STEP_S = 1 / SAMPLES_PER_S
SET_POINTS_V = (40.0, 250.0)

LIVE_GAIN_MM_S_V = 2.0
"""Of a live table's height control, where it is not told another."""

FLAT = Warp()

_TOUCH_OFF_S = 0.6
_Z_SPEED_MM_S = 40.0
_SETTLES_S = 0.12
_OPENING_V = 14.0  # by which a young arc stands above its rest
_RISE_V = 7.0  # from full speed to a stop
_CROSSING_V, _CROSSING_MM = 9.0, 2.2
_EDGE_MM, _EDGE_V_PER_MM = 9.0, 5.0
_SHORTED_V = 35.0
_SAFE_Z_MM = 25.0
_REST_S = 0.8
_WARM_PER_M = 0.5  # by how much the sheet's waves grow over a metre of cut


@dataclass(frozen=True)
class LivePath:
    """One path with the torch on: its length, and where on it something happens (mm from its start)."""

    length_mm: float
    corners_mm: tuple[float, ...] = ()
    crossings_mm: tuple[float, ...] = ()
    ends_off_plate: bool = False


@dataclass(frozen=True)
class LiveJob:
    """What the table is asked to cut. ``loop`` is None where height control stays off; its set-point NaN where it is
    sampled after each pierce."""

    speed_mm_min: float
    cut_height_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    steady_v: float  # that its arc shows at this height, at full speed, on new parts
    paths: tuple[LivePath, ...]
    loop: LoopSettings | None = None
    warp: Warp = FLAT
    acceleration_mm_s2: float = 600.0


@dataclass(frozen=True)
class LiveSample:
    """What the table shows at one moment."""

    at_s: float
    arc_voltage_v: float
    set_point_v: float | None
    z_mm: float
    feed_mm_min: float
    control_on: bool


@dataclass
class LiveTable:
    """The table: its hidden truth by seed, its faults, and its clock, which never stands still."""

    seed: int = 4
    faults: frozenset[Fault] = frozenset()
    starts: int = 0
    now_s: float = 0.0
    trimmed_v: float = 0.0
    stopped: bool = False
    _noise: np.random.Generator = field(init=False)

    def __post_init__(self) -> None:
        truth = np.random.default_rng((self.seed, 14))
        self._noise = np.random.default_rng((self.seed, 15))
        self.slope_v_per_mm = float(truth.uniform(5.2, 8.2))
        self.wear_v_per_1000 = float(truth.uniform(6.0, 14.0))
        self.noise_v = float(truth.uniform(0.5, 0.9)) * (3.0 if "wet_air" in self.faults else 1.0)

    def shown(self, volts: float) -> float:
        """True volts as the screen shows them."""
        return volts / 50 if "divided_twice" in self.faults else volts

    def idle(self) -> LiveSample:
        """Nothing runs."""
        self.now_s += STEP_S
        return LiveSample(self.now_s, 0.0, None, _SAFE_Z_MM, 0.0, False)

    def cut(self, job: LiveJob) -> Iterator[LiveSample]:
        """Run a job, sample by sample, until it is done or stopped."""
        self.stopped, self.trimmed_v, gone_mm = False, 0.0, 0.0
        for path in job.paths:
            if self.stopped:
                return
            yield from self._path(job, path, gone_mm)
            gone_mm += path.length_mm
            yield from (self.idle() for _ in range(round(_REST_S / STEP_S)))

    def _path(self, job: LiveJob, path: LivePath, gone_mm: float) -> Iterator[LiveSample]:
        yield from (self._still(job, _SAFE_Z_MM * (1 - i * STEP_S / _TOUCH_OFF_S)) for i in range(60))
        self.starts += 1
        warp = replace(job.warp, rise_mm=job.warp.rise_mm * (1 + _WARM_PER_M * gone_mm / 1000))
        run = _Run(self, job, path, warp)
        while not run.over and not self.stopped:
            yield run.step()

    def _still(self, job: LiveJob, z_mm: float) -> LiveSample:
        self.now_s += STEP_S
        set_point = None if job.loop is None or np.isnan(job.loop.set_point_v) else job.loop.set_point_v
        return LiveSample(self.now_s, 0.0, set_point, max(0.0, z_mm), 0.0, False)

    def noise(self) -> float:
        """The arc's noise in one sample."""
        return float(self._noise.normal(0.0, self.noise_v))

    def chance(self, per_s: float) -> bool:
        """Whether something that happens so often a second happens in this step."""
        return bool(self._noise.random() < per_s * STEP_S)


class _Run:
    """One path being cut."""

    def __init__(self, table: LiveTable, job: LiveJob, path: LivePath, warp: Warp) -> None:
        self.table, self.job, self.path, self.warp = table, job, path, warp
        touch_off = 1.2 if "clip_loose" in table.faults else float(table._noise.normal(0.0, 0.05))
        self.z_to = job.cut_height_mm + touch_off
        self.z = job.pierce_height_mm + touch_off
        self.since_s = self.way = self.speed = 0.0
        self.over, self.stretched = False, 0.0
        self.loop = None if job.loop is None else HeightLoop(job.loop)
        self.sampled: list[float] = []

    def step(self) -> LiveSample:
        """The next sample."""
        t = self.table
        t.now_s += STEP_S
        self.since_s += STEP_S
        self._move()
        volts = self._volts()
        shown = t.shown(volts) if not self.over else 0.0
        self._follow(shown)
        set_point = None if self.loop is None else self.loop.settings.set_point_v
        if set_point is not None and np.isnan(set_point):
            set_point = None
        on = self.loop is not None and self.loop.state == "on"
        return LiveSample(t.now_s, max(0.0, shown), set_point, self.z, 60 * self.speed, on)

    @property
    def full(self) -> float:
        """Full speed, mm/s."""
        return self.job.speed_mm_min / 60

    def _move(self) -> None:
        job, a = self.job, self.job.acceleration_mm_s2
        if self.since_s < job.pierce_delay_s:
            return
        stops = [c for c in (*self.path.corners_mm, self.path.length_mm) if c > self.way + 1e-6]
        if not stops:
            self.over = True
            self.speed = 0.0
            return
        runs_off = self.path.ends_off_plate and stops[0] == self.path.length_mm
        leaves = self.full if runs_off else (2 * a * (stops[0] - self.way)) ** 0.5
        self.speed = max(0.05 * self.full, min(self.full, self.speed + a * STEP_S, leaves))
        self.way = min(stops[0], self.way + self.speed * STEP_S)
        if self.loop is None or self.loop.state == "waiting":
            self.z = max(self.z_to, self.z - _Z_SPEED_MM_S * STEP_S)

    def _volts(self) -> float:
        t, job = self.table, self.job
        plate = float(self.warp.height_mm(np.array([self.way]), self.path.length_mm)[0])
        gap = self.z - plate
        share = self.speed / self.full
        base = job.steady_v + (12.0 if "worn_electrode" in t.faults else 0.0)
        volts = base + t.slope_v_per_mm * (gap - job.cut_height_mm) + t.wear_v_per_1000 * t.starts / 1000
        if self.since_s > job.pierce_delay_s:
            volts += _RISE_V * (1 - share)
        volts += _OPENING_V * float(np.exp(-self.since_s / _SETTLES_S))
        volts += sum(_CROSSING_V for c in self.path.crossings_mm if 0 <= self.way - c < _CROSSING_MM)
        if self.path.ends_off_plate and self.way > self.path.length_mm - _EDGE_MM:
            volts += _EDGE_V_PER_MM * (self.way - self.path.length_mm + _EDGE_MM)
        if gap <= 0:
            volts -= _SHORTED_V
        if "wet_air" in t.faults and self.since_s > 1.0 and t.chance(0.02):
            self.over = True
        return volts + t.noise()

    def _follow(self, shown: float) -> None:
        if self.loop is None:
            return
        self._sample(shown)
        s = self.loop.settings
        wanted = replace(s, set_point_v=s.set_point_v + self.table.trimmed_v)
        self.table.trimmed_v = 0.0
        self.loop.settings = wanted
        if np.isnan(wanted.set_point_v):
            return
        rate = self.loop.z_rate_mm_s(self.since_s, shown, self.speed / self.full, STEP_S)
        self.z = max(self.z + rate * STEP_S, -0.5)

    def _sample(self, shown: float) -> None:
        """Where the set-point is sampled: the mean over the last 0.2 s before control wakes."""
        assert self.loop is not None
        s = self.loop.settings
        if not np.isnan(s.set_point_v):
            return
        self.sampled.append(shown)
        if self.since_s >= s.delay_s:
            self.loop.settings = replace(s, set_point_v=float(np.mean(self.sampled[-20:])))
