"""What is believed before the first cut of a campaign, in one value; the trade's own to begin with."""

from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.trial.campaign import Campaign
from orthotome.core.trial.opening import is_unlisted
from orthotome.core.tuner import priors
from orthotome.core.tuner.dross_model import EarlierWindow
from orthotome.core.tuner.priors import DrossPrior
from orthotome.core.tuner.unknowns import LEAN_X, LEAN_Y, PROCESS, SWIRL

Pair = tuple[float, float]
Grid = tuple[Pair, ...]


@dataclass(frozen=True)
class Beliefs:
    """What is believed of the unknowns of one edge (``unknowns``, all columns before wear) as one Gaussian, of how
    the torch is, of the spreads, as grids, and of the dross window, with the earlier trials that saw it; how many
    earlier campaigns sharpened it, and how many of those said where square lies here."""

    mean: tuple[float, ...]
    covariance: tuple[tuple[float, ...], ...]
    cut_spread: Grid
    edge_spread: Grid
    gauge: Grid
    dross: DrossPrior
    windows: tuple[EarlierWindow, ...] = ()
    knocked_share: float = priors.KNOCKED_SHARE
    oval_share: float = priors.OVAL_SHARE
    taught_by: int = 0
    square_taught_by: int = 0

    def of(self, column: int) -> Pair:
        """What is believed of one unknown by itself: (mean, sd)."""
        return self.mean[column], float(self.covariance[column][column] ** 0.5)

    @property
    def process(self) -> tuple[Pair, ...]:
        """The process, b0..b5."""
        return tuple(self.of(i) for i in range(PROCESS))

    @property
    def swirl(self) -> Pair:
        """Half the difference between the sides."""
        return self.of(SWIRL)

    @property
    def lean(self) -> tuple[Pair, Pair]:
        """The jet's lean, in the plane."""
        return self.of(LEAN_X), self.of(LEAN_Y)


def trade_beliefs(campaign: Campaign) -> Beliefs:
    """The trade's own priors for a metal and thickness; wide where the starting numbers are another metal's."""
    scale = priors.slope_scale(campaign.thickness_mm)
    dross = priors.dross_prior(campaign.metal, campaign.thickness_mm)
    start_bevel = priors.START_BEVEL
    if is_unlisted(campaign):
        start_bevel = priors.UNLISTED_START_BEVEL
        dross = replace(dross, low_start=priors.UNLISTED_LOW_START, log_width=(dross.log_width[0], 0.6))
    pairs = (
        start_bevel,
        (priors.SPEED_SLOPE[0] * scale, priors.SPEED_SLOPE[1] * scale),
        (priors.HEIGHT_SLOPE[0] * scale, priors.HEIGHT_SLOPE[1] * scale),
        priors.SPEED_BEND,
        priors.HEIGHT_BEND,
        priors.SPEED_HEIGHT_BEND,
        priors.SWIRL,
        priors.LEAN,
        priors.LEAN,
        priors.TWOFOLD,
        priors.TWOFOLD,
    )
    variances = np.diag([sd**2 for _, sd in pairs]).tolist()
    return Beliefs(
        tuple(mean for mean, _ in pairs),
        tuple(map(tuple, variances)),
        priors.CUT_SPREAD_DEG,
        priors.EDGE_SPREAD_DEG,
        priors.GAUGE,
        dross,
    )
