"""What is believed before the first cut of a campaign, in one value; the trade's own to begin with."""

from dataclasses import dataclass

from orthotome.core.trial.campaign import Campaign
from orthotome.core.tuner import priors
from orthotome.core.tuner.priors import DrossPrior

Pair = tuple[float, float]
Grid = tuple[Pair, ...]


@dataclass(frozen=True)
class Beliefs:
    """Priors of the process (b0..b5), swirl, lean and two-fold as (mean, sd), the spread grids, the dross
    window, and how many earlier campaigns sharpened them."""

    process: tuple[Pair, ...]
    swirl: Pair
    lean: tuple[Pair, Pair]
    two_fold: Pair
    cut_spread: Grid
    edge_spread: Grid
    gauge: Grid
    dross: DrossPrior
    taught_by: int = 0


def trade_beliefs(campaign: Campaign) -> Beliefs:
    """The trade's own priors for a metal and thickness."""
    scale = priors.slope_scale(campaign.thickness_mm)
    return Beliefs(
        (
            priors.START_BEVEL,
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
        priors.dross_prior(campaign.metal, campaign.thickness_mm),
    )
