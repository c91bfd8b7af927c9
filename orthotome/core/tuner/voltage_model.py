"""Arc voltage from height and speed, and height back from voltage.

``V = v0 + v1 z + v2 x + v3 starts / 1000 + noise`` with ``z`` mm and ``x`` ln(speed ratio) from the starting numbers,
and starts on the parts counted from now: wear is that of ``core.torch.wear``.
Only cuts whose height was set teach it: under height control the volts are held and the height is
what is unknown. Cuts from before a change of the signal path are left out; earlier parts may differ
by an offset, which enters as extra noise.
"""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from orthotome.core.log.doubts import likely_volts
from orthotome.core.setting import CutAt
from orthotome.core.trial.campaign import Campaign, Cut
from orthotome.core.tuner import priors

Array = NDArray[np.float64]

_FEWEST_OTHERS, _MOST_OTHERS = 2, 40  # cuts against which a voltage is held


class VoltageModel:
    """Posterior of (v0, v1, v2, v3) by conjugate Gaussian regression."""

    def __init__(self, campaign: Campaign) -> None:
        self._start = campaign.start
        known = campaign.start.arc_voltage_v
        base = priors.UNKNOWN_VOLTAGE if known is None else (known, priors.START_VOLTAGE_SD_V)
        believed = (base, priors.VOLTS_PER_MM, priors.VOLTS_PER_LN_SPEED, priors.VOLTS_PER_1000_STARTS)
        mean, sd = np.array(believed).T
        self._campaign = campaign
        precision, pull = np.diag(sd**-2.0), mean / sd**2
        now = campaign.current_series
        self.taught_by = 0
        for c in campaign.cuts:
            if c.arc_voltage_v is None or c.height_control != "off":
                continue
            if c.series.signal != now.signal or _is_a_slip(campaign, c):
                continue
            noise = priors.VOLTAGE_NOISE_V
            if c.series.parts != now.parts:
                noise = float(np.hypot(noise, priors.VOLTAGE_PARTS_CHANGE_V))
            row = self._row(c.speed_mm_min, c.cut_height_mm, campaign.thousands_ago(c))
            precision += np.outer(row, row) / noise**2
            pull += row * c.arc_voltage_v / noise**2
            self.taught_by += 1
        self.cov = np.linalg.inv(precision)
        self.mean = self.cov @ pull
        self.known = known is not None or self.taught_by > 0

    def _row(self, speed_mm_min: float, height_mm: float, worn: float = 0.0) -> Array:
        x = np.log(speed_mm_min / self._start.speed_mm_min)
        return np.array([1.0, height_mm - self._start.cut_height_mm, x, worn])

    @property
    def volts_per_mm(self) -> tuple[float, float]:
        """Volts per millimetre with its standard deviation."""
        return float(self.mean[1]), float(np.sqrt(self.cov[1, 1]))

    def at(self, setting: CutAt) -> tuple[float, float] | None:
        """Expected voltage and its sd at a setting; None where nothing says what it would be."""
        return self.voltage_v(setting.speed_mm_min, setting.cut_height_mm)

    def voltage_v(self, speed_mm_min: float, height_mm: float) -> tuple[float, float] | None:
        """Expected voltage and its sd at a setting; None where nothing says what it would be."""
        if not self.known:
            return None
        row = self._row(speed_mm_min, height_mm)
        return float(row @ self.mean), float(np.sqrt(row @ self.cov @ row))

    def height_of(self, voltage_v: float, cut: Cut) -> tuple[float, float] | None:
        """(height, sd) in mm that a voltage held in a cut means; None where unknown."""
        if not self.known:
            return None
        row = self._row(cut.speed_mm_min, self._start.cut_height_mm, self._campaign.thousands_ago(cut))
        slope = max(float(self.mean[1]), 1.0)
        at_start = float(row @ self.mean)
        z = (voltage_v - at_start) / slope
        row[1] = z
        variance = float(row @ self.cov @ row) + priors.VOLTAGE_NOISE_V**2
        return self._start.cut_height_mm + z, float(np.sqrt(variance)) / slope


def _is_a_slip(campaign: Campaign, cut: Cut) -> bool:
    """Whether a voltage lies twice as far from those of the other cuts as is asked about: it teaches nothing."""
    assert cut.arc_voltage_v is not None
    others = tuple(c for c in campaign.cuts if c is not cut and c.arc_voltage_v is not None)
    if len(others) < _FEWEST_OTHERS:
        return False
    likely = likely_volts(replace(campaign, cuts=others[-_MOST_OTHERS:]), cut)
    return abs(cut.arc_voltage_v - likely.about) > likely.high - likely.low


def cut_heights_mm(campaign: Campaign, volts: VoltageModel) -> tuple[Array, Array]:
    """What is known of each cut's true height: (mean, sd) in mm, each of shape (cuts,)."""
    heights, sds = [], []
    for c in campaign.cuts:
        bias, sd = priors.HEIGHT_ERROR_MM.get(c.height_control, (0.0, 0.5))
        height = c.cut_height_mm + bias
        if c.height_control == "set_point" and c.set_point_v is not None:
            held = volts.height_of(c.set_point_v, c)
            height, sd = held if held else (c.cut_height_mm, 0.5)
            # A nominal height and a voltage guess that disagree wildly: trust neither far.
            height = float(np.clip(height, 0.2, 3 * c.cut_height_mm + 2))
        heights.append(height)
        sds.append(sd)
    return np.array(heights), np.array(sds)
