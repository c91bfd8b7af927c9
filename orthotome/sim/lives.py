"""Simulated lives of torch parts: what an electrode loses at each start, each second and each ending off the plate.

It shares no code with ``core.torch``: here every start takes a crumb of its own size, a deeper pit runs hotter, a bore
opens, and days of short cuts alternate with days of long ones. Made-up figures, in the trade's usual ranges.
"""

from dataclasses import dataclass

import numpy as np

LIMIT_MM = 1.5
CUT_HEIGHT_MM = 1.5
TOUCH_MM = 0.6
NEW_V = 128.0
SLOPE_V_PER_MM = 6.5
GAUGE_MM = 0.05
METER_V = 0.5
UNEVEN_MM = 0.3  # of the sheet under the torch, at most


@dataclass(frozen=True)
class Moment:
    """What somebody could know of the parts after a start: running totals, and readings where they were taken."""

    starts: int
    arc_on_s: float
    off_plate: int
    pit_mm: float | None
    arc_voltage_v: float | None


class WearingParts:
    """One set of parts that wears start by start."""

    def __init__(self, seed: int) -> None:
        self._chance = np.random.default_rng(seed)
        r = self._chance
        self.crumb_mm = 0.00042 * r.lognormal(0.0, 0.3)  # that a start takes, on average
        self.burn_mm_s = 0.000035 * r.lognormal(0.0, 0.3)
        self.ending_mm = 0.008 * r.lognormal(0.0, 0.4)  # more, when it ends off the plate
        self.hotter = r.uniform(0.0, 0.5)  # as much faster does a pit at its limit grow
        self.volts_per_pit = r.uniform(8.0, 14.0)  # V over a life
        self.bore_v = r.uniform(0.0, 1.5)  # V less after a thousand starts: the bore opens
        self.careless = r.beta(2.0, 60.0)  # share of starts that end off the plate
        self.pit_mm = 0.0
        self.starts = 0
        self.arc_on_s = 0.0
        self.off_plate = 0
        self._seconds = r.uniform(5.0, 25.0)
        self._wander_v = 0.0

    def start(self) -> None:
        """One start and its cut."""
        r = self._chance
        if r.random() < 1 / 80:  # another job: shorter cuts, or longer ones
            self._seconds = float(r.uniform(5.0, 25.0))
        arc = float(r.gamma(3.0, self._seconds / 3.0))
        heat = 1.0 + self.hotter * self.pit_mm / LIMIT_MM
        eaten = r.gamma(0.3, self.crumb_mm / 0.3) + self.burn_mm_s * arc
        if r.random() < self.careless:
            self.off_plate += 1
            eaten += r.gamma(1.5, self.ending_mm / 1.5)
        self.pit_mm += heat * float(eaten)
        self.starts += 1
        self.arc_on_s += arc
        self._wander_v += float(r.normal(0.0, 0.02))

    @property
    def over(self) -> bool:
        """Whether the pit is at its limit."""
        return self.pit_mm >= LIMIT_MM

    @property
    def rise_v(self) -> float:
        """Of the volts at the same height since the parts were new."""
        worn = self.volts_per_pit * float(np.power(self.pit_mm / LIMIT_MM, 0.9))
        return float(worn - self.bore_v * self.starts / 1000 + self._wander_v)

    def held_mm(self, set_point_v: float) -> float:
        """The height at which a set-point holds the torch."""
        return CUT_HEIGHT_MM + (set_point_v - NEW_V - self.rise_v) / SLOPE_V_PER_MM

    def seen(self, *, pit: bool, volts: bool) -> Moment:
        """What is known now; with the pit measured, or the volts read at the cut height, where asked for."""
        r = self._chance
        return Moment(
            self.starts,
            round(self.arc_on_s, 1),
            self.off_plate,
            max(0.0, round(self.pit_mm + float(r.normal(0.0, GAUGE_MM)), 2)) if pit else None,
            round(NEW_V + self.rise_v + float(r.normal(0.0, METER_V)), 1) if volts else None,
        )
