"""Traces made with known truth: a cut's true voltage is written down piece by piece, then noise is laid over it."""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from orthotome.core.height.trace import Trace

Array = NDArray[np.float64]


@dataclass
class MadeTrace:
    """One cut: 128 V steady at 2100 mm/min, arc from 0.31 s, motion after a pierce of 0.3 s, then an exponential
    settling. Bumps are laid on it and written down as what they are."""

    hz: float = 100.0
    noise_v: float = 1.0
    seed: int = 1
    arc_on_s: float = 0.31
    end_s: float = 14.2
    steady_v: float = 128.0
    over_v: float = 22.0
    tau_s: float = 0.15
    drop_s: float = 0.6  # when the way down to height has begun
    speed_mm_min: float = 2100.0
    drift_v_per_s: float = 0.0
    bumps: list[tuple[str, float, float, float]] = field(default_factory=list)

    def corner(self, at_s: float, lasts_s: float = 0.3, rise_v: float = 6.0) -> "MadeTrace":
        """The machine slows down and speeds up again: volts rise with the lost speed."""
        self.bumps.append(("corner", at_s, at_s + lasts_s, rise_v))
        return self

    def crossing(self, at_s: float, rise_v: float = 8.0, lasts_s: float = 0.05) -> "MadeTrace":
        """An old kerf: up at once, down at once."""
        self.bumps.append(("kerf_crossing", at_s, at_s + lasts_s, rise_v))
        return self

    def wave(self, kind: str, at_s: float, lasts_s: float, rise_v: float) -> "MadeTrace":
        """The sheet comes nearer or goes away, and back."""
        self.bumps.append((kind, at_s, at_s + lasts_s, rise_v))
        return self

    def true_settled_s(self, band_v: float) -> float:
        """When the true voltage comes within the band."""
        return self.drop_s + self.tau_s * float(np.log(self.over_v / band_v))

    def made(self, *, feed: bool = False, lead_s: float = 0.3) -> Trace:
        """The trace, with a little silence before and after."""
        noise = np.random.default_rng(self.seed)
        t = np.arange(0.0, self.end_s + lead_s, 1 / self.hz)
        true = np.where(
            t < self.drop_s,
            self.steady_v + self.over_v,
            self.steady_v + self.over_v * np.exp(-(t - self.drop_s) / self.tau_s),
        )
        true += self.drift_v_per_s * np.maximum(0.0, t - self.drop_s)
        speed = np.where(
            t < self.drop_s, 0.0, self.speed_mm_min * np.clip((t - self.drop_s) / 0.06, 0, 1)
        )
        for kind, begin, end, rise in self.bumps:
            share = (t - begin) / (end - begin)
            inside = (share > 0) & (share < 1)
            if kind == "corner":
                shape = 1 - np.abs(2 * share - 1)
                speed = np.where(inside, self.speed_mm_min * (1 - 0.85 * shape), speed)
            elif kind == "kerf_crossing":
                shape = np.ones_like(share)
            else:
                shape = np.sin(np.pi * share) ** 2
            true += np.where(inside, rise * shape, 0.0)
        burning = (t >= self.arc_on_s) & (t <= self.end_s)
        speed = np.where(t <= self.end_s, speed, 0.0)
        volts = np.where(burning, true + noise.normal(0.0, self.noise_v, len(t)), 0.0)
        return Trace(t, volts, feed_mm_min=speed if feed else None)
