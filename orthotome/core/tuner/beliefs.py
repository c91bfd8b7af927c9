"""What is believed before the first cut of a campaign, in one value; the trade's own to begin with."""

from dataclasses import dataclass, replace

from orthotome.core.trial.campaign import Campaign
from orthotome.core.trial.opening import is_unlisted
from orthotome.core.tuner import priors
from orthotome.core.tuner.priors import DrossPrior

Pair = tuple[float, float]
Grid = tuple[Pair, ...]


@dataclass(frozen=True)
class Beliefs:
    """Priors of the process (b0..b5), swirl, lean and two-fold as (mean, sd), the spread grids, the dross
    window, how many earlier campaigns sharpened them, and how many of those said where square lies here."""

    process: tuple[Pair, ...]
    swirl: Pair
    lean: tuple[Pair, Pair]
    two_fold: Pair
    cut_spread: Grid
    edge_spread: Grid
    gauge: Grid
    dross: DrossPrior
    taught_by: int = 0
    square_taught_by: int = 0


def trade_beliefs(campaign: Campaign) -> Beliefs:
    """The trade's own priors for a metal and thickness; wide where the starting numbers are another metal's."""
    scale = priors.slope_scale(campaign.thickness_mm)
    dross = priors.dross_prior(campaign.metal, campaign.thickness_mm)
    start_bevel = priors.START_BEVEL
    if is_unlisted(campaign):
        start_bevel = priors.UNLISTED_START_BEVEL
        dross = replace(dross, low_start=priors.UNLISTED_LOW_START, log_width=(dross.log_width[0], 0.6))
    return Beliefs(
        (
            start_bevel,
            (priors.SPEED_SLOPE[0] * scale, priors.SPEED_SLOPE[1] * scale),
            (priors.HEIGHT_SLOPE[0] * scale, priors.HEIGHT_SLOPE[1] * scale),
            priors.SPEED_BEND,
            priors.HEIGHT_BEND,
            priors.SPEED_HEIGHT_BEND,
        ),
        priors.SWIRL,
        (priors.LEAN, priors.LEAN),
        priors.TWOFOLD,
        priors.CUT_SPREAD_DEG,
        priors.EDGE_SPREAD_DEG,
        priors.GAUGE,
        dross,
    )
