"""Dross and drop-through as chances over speed and height.

Low-speed dross grows as speed falls under one threshold, high-speed dross as it rises over another,
both thresholds move with height, and beyond a third the cut no longer goes through. With ``x`` =
ln(speed ratio) and ``z`` mm of height from the starting numbers, the effort to clean (grade 0 to 4)
of each kind is a rounded, noisy severity::

    low(x, z)  = max(rate (low + low_mm z - x), stubborn)
    high(x, z) = rate (x - low - width - high_mm z)
    P(grade <= g) = Phi((g + 1/2 - severity) / noise)

``stubborn`` belongs to the parts: new ones have one of their own. The unknowns are carried as weighted draws from their prior (importance sampling), which handles
"not looked at", "looked and none" and "not through" without approximations. Cuts of earlier trials are weighed in
the same way, their window a little beside this one's.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import log_ndtr, ndtr

from orthotome.core.log.grading import quantiles
from orthotome.core.setting import CutAt
from orthotome.core.trial.campaign import Campaign, Cut
from orthotome.core.tuner import priors
from orthotome.core.tuner.priors import DrossPrior

Array = NDArray[np.float64]

DRAWS = 4000
_SEVER_NOISE = 0.05  # in ln(speed): how sharply "through" turns into "not through"; assumption
_GRADE_NOISE = (0.2, 0.45)  # of one judgement of a grade, where nobody checked; assumption
_SEED = 81305
_ALL = slice(None)
_NEVER = 1e-26  # a chance that is as good as none
_MOST_EARLIER_CUTS = 40  # of one earlier trial: its window is known by then


@dataclass(frozen=True)
class EarlierWindow:
    """An earlier trial that saw the same window: its cuts, the starting numbers that they are counted from, and by how
    much (sd) the window's lower end, in ln(speed), and its width, in ln, may be another today."""

    campaign: Campaign
    start: CutAt
    low_sd: float
    log_width_sd: float


class DrossModel:
    """Weighted draws of the dross window after a campaign's cuts."""

    def __init__(
        self,
        campaign: Campaign,
        prior: DrossPrior | None = None,
        earlier: Sequence[EarlierWindow] = (),
    ) -> None:
        self._start = campaign.start
        prior = prior or priors.dross_prior(campaign.metal, campaign.thickness_mm)
        normal = np.random.default_rng(_SEED).standard_normal((9, DRAWS))
        self._parts_now = campaign.current_series.parts

        def draw(i: int, pair: tuple[float, float]) -> Array:
            return np.asarray(pair[0] + pair[1] * normal[i])

        self.low = draw(0, prior.low_start)
        self.width = np.exp(draw(1, prior.log_width))
        self.rate = np.exp(draw(2, prior.log_grades))
        self.low_mm = draw(3, prior.low_per_mm)
        self.high_mm = draw(4, prior.high_per_mm)
        self.sever = self.low + self.width + np.exp(draw(5, prior.log_sever_gap))
        self.noise = _GRADE_NOISE[0] + (_GRADE_NOISE[1] - _GRADE_NOISE[0]) * ndtr(normal[6])
        if campaign.grades:  # what the shop's own people scatter by, in its place
            self.noise = quantiles(campaign.grades, ndtr(normal[6]))
        self.stubborn = _stubborn(ndtr(normal[7]), prior.stubborn)
        # Parts that were changed took theirs along: what they left says nothing of the ones that are in.
        self._stubborn_before = _stubborn(ndtr(normal[8]), prior.stubborn)
        log_weight = np.zeros(DRAWS)
        for c in campaign.cuts:
            log_weight += self._log_likelihood(c, *self._coordinates(c.speed_mm_min, c.cut_height_mm))
        for i, window in enumerate(earlier):
            log_weight += self._log_seen(window, np.random.default_rng((_SEED, i)))
        weight = np.exp(log_weight - log_weight.max())
        self.weight = weight / weight.sum()

    def _coordinates(self, speed_mm_min: float, height_mm: float) -> tuple[float, float]:
        x = float(np.log(speed_mm_min / self._start.speed_mm_min))
        return x, height_mm - self._start.cut_height_mm

    def _severities(
        self,
        x: float | Array,
        z: float | Array,
        at: slice | NDArray[np.int64] = _ALL,
        stubborn: Array | None = None,
    ) -> tuple[Array, Array]:
        stubborn = self.stubborn if stubborn is None else stubborn
        low = self.rate[at] * (self.low[at] + self.low_mm[at] * z - x)
        high_threshold = self.low[at] + self.width[at] + self.high_mm[at] * z
        return np.maximum(low, stubborn[at]), self.rate[at] * (x - high_threshold)

    def _log_seen(self, window: EarlierWindow, random: np.random.Generator) -> Array:
        """Log likelihood of what an earlier trial saw, its own window being each draw's, moved and stretched."""
        moved = window.low_sd * random.standard_normal(DRAWS)
        stretched = np.exp(window.log_width_sd * random.standard_normal(DRAWS))
        total = np.zeros(DRAWS)
        for cut in window.campaign.cuts[-_MOST_EARLIER_CUTS:]:
            x = float(np.log(cut.speed_mm_min / window.start.speed_mm_min))
            z = cut.cut_height_mm - window.start.cut_height_mm
            # A window that is moved and stretched about its lower end sees the cut elsewhere in this one.
            beyond = x - moved - self.low
            seen_at = self.low + np.where(beyond > 0, beyond / stretched, beyond)
            total += self._log_likelihood(cut, seen_at, z)
        return total

    def _log_likelihood(self, cut: Cut, x: float | Array, z: float) -> Array:
        total = np.zeros(DRAWS)
        if cut.through is not None:
            margin = (self.sever + self.high_mm * z - x) / _SEVER_NOISE
            # A cut may fail to go through for reasons that are not speed: once in 300 times.
            good = 0.997 * ndtr(margin)
            total += np.log(np.maximum(good if cut.through == "full" else 1.0 - good, _NEVER))
        of_now = cut.series.parts == self._parts_now
        low, high = self._severities(x, z, stubborn=self.stubborn if of_now else self._stubborn_before)
        for kind, severity in (("low_speed", low), ("high_speed", high)):
            grade = cut.grade_of("low_speed" if kind == "low_speed" else "high_speed")
            if grade is not None:
                total += self._log_grade(grade, severity)
        return np.maximum(total, -60.0)

    def _log_grade(self, grade: int, severity: Array) -> Array:
        above = (grade + 0.5 - severity) / self.noise
        below = (grade - 0.5 - severity) / self.noise
        if grade == 0:
            log_p = log_ndtr(above)
        elif grade == 4:
            log_p = log_ndtr(-below)
        else:
            log_p = np.log(np.maximum(ndtr(above) - ndtr(below), 1e-12))
        # One judgement in fifty names the wrong kind or the wrong grade: no single one is fatal.
        return np.asarray(np.logaddexp(log_p + np.log(0.98), np.log(0.02 / 5)))

    def resampled(self, count: int) -> NDArray[np.int64]:
        """Indices of ``count`` equally weighted draws (systematic resampling)."""
        points = (np.arange(count) + 0.5) / count
        order = np.searchsorted(np.cumsum(self.weight), points)
        return np.minimum(order, DRAWS - 1)

    def pass_chances(
        self, speeds: Array, heights: Array, worst_grade: int, draws: NDArray[np.int64]
    ) -> tuple[Array, Array]:
        """(clean enough, through) per setting and draw, each of shape (settings, draws)."""
        x = np.log(speeds / self._start.speed_mm_min)[:, None]
        z = (heights - self._start.cut_height_mm)[:, None]
        severity_low, severity_high = self._severities(x, z, draws)
        limit, noise = worst_grade + 0.5, self.noise[draws]
        clean = ndtr((limit - severity_low) / noise) * ndtr((limit - severity_high) / noise)
        through = ndtr((self.sever[draws] + self.high_mm[draws] * z - x) / _SEVER_NOISE)
        return clean, through

    def expected_grades(self, speed_mm_min: float, height_mm: float) -> tuple[int, int]:
        """Most likely (low-speed, high-speed) grade at a setting: the weighted mean, rounded."""
        low, high = self._severities(*self._coordinates(speed_mm_min, height_mm))
        means = [float(self.weight @ np.clip(s, 0.0, 4.0)) for s in (low, high)]
        return round(means[0]), round(means[1])

    def stubborn_chance(self, worst_grade: int) -> float:
        """Chance that there is dross worse than ``worst_grade`` that no speed clears."""
        return float(self.weight @ (self.stubborn > worst_grade + 0.5))


def _stubborn(uniform: Array, share: float) -> Array:
    """Dross that no speed clears: most parts leave none; the rest leave grade 1 to 3."""
    return np.asarray(np.where(uniform < share, 1.0 + 2.0 * uniform / share, -np.inf))
