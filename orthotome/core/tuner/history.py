"""What earlier campaigns on the same table teach: the trade's priors, sharpened.

Each earlier campaign is judged as it stood. What it says of a quantity beyond the trade's prior is taken as one
observation of that quantity here, widened by how much it differs from trial to trial. Swirl, spreads and
the gauge are the table's and its people's; where square lies against the row, and the dross window, hold for the
same metal in a similar thickness only. A campaign without a history gets the trade's priors as they are.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import Campaign
from orthotome.core.tuner import priors
from orthotome.core.tuner.beliefs import Beliefs, Grid, Pair, trade_beliefs
from orthotome.core.tuner.chances import Learned
from orthotome.core.tuner.unknowns import LEAN_X, LEAN_Y, PROCESS, SWIRL, WEAR, process_columns

Array = NDArray[np.float64]

# How much a quantity differs from one trial of a table to the next, in its own unit. Assumptions.
_BETWEEN = {"b0": 1.0, "b1": 2.5, "b2": 0.7, "swirl": 0.45, "lean": 0.5}
_BETWEEN_LOW, _BETWEEN_LOG = 0.07, 0.25  # of the dross window: its lower end, and logs of width and rate
_SIMILAR = 1.35  # ratio of thicknesses within which a campaign speaks of where square lies
_SAME_THICKNESS = 0.06  # share within which two plates are one thickness
_GRID_TRUST = 0.6  # how far another trial's spreads are taken for this one's


def learned_from(campaign: Campaign) -> Learned:
    """What a campaign's cuts taught, on top of what its history did."""
    return Learned(campaign, beliefs_of(campaign))


def beliefs_of(campaign: Campaign) -> Beliefs:
    """What is believed of a campaign before its first cut."""
    believed = trade_beliefs(campaign)
    for earlier in campaign.history:
        if earlier.cuts:
            believed = _sharpened(believed, campaign, earlier)
    return believed


@dataclass(frozen=True)
class _Lesson:
    """What one earlier campaign ended on: posterior and prior of each unknown, its grids, its window."""

    mean: tuple[float, ...]
    sd: tuple[float, ...]
    prior: tuple[Pair, ...]
    process_covariance: tuple[tuple[float, ...], ...]  # of b0..b5
    cut_spread: Grid
    edge_spread: Grid
    gauge: Grid
    low: Pair
    log_width: Pair
    log_grades: Pair


@lru_cache(maxsize=64)
def _lesson(earlier: Campaign) -> _Lesson:
    learned = Learned(replace(earlier, history=()), trade_beliefs(earlier))
    model, dross = learned.bevel, learned.dross
    weights = np.array([h.weight for h in model.hypotheses])
    weights = weights / weights.sum()

    def weighed(name: str, grid: Grid) -> Grid:
        at = np.array([getattr(h.spreads, name) for h in model.hypotheses])
        return tuple((v, float(weights[at == v].sum())) for v, _ in grid)

    def moments(values: Array) -> Pair:
        mean = float(dross.weight @ values)
        return mean, float(np.sqrt(max(dross.weight @ (values - mean) ** 2, 1e-9)))

    draws = learned.draws[:, :WEAR]
    return _Lesson(
        tuple(draws.mean(axis=0).tolist()),
        tuple(draws.std(axis=0).tolist()),
        tuple(zip(model.prior_mean[:WEAR].tolist(), model.prior_sd[:WEAR].tolist(), strict=True)),
        tuple(map(tuple, np.cov(draws[:, :PROCESS], rowvar=False).tolist())),
        weighed("cut_deg", priors.CUT_SPREAD_DEG),
        weighed("edge_deg", priors.EDGE_SPREAD_DEG),
        weighed("gauge", priors.GAUGE),
        moments(dross.low),
        moments(np.log(dross.width)),
        moments(np.log(dross.rate)),
    )


def _sharpened(now: Beliefs, campaign: Campaign, earlier: Campaign) -> Beliefs:
    lesson = _lesson(earlier)

    def told(i: int, before: Pair, between: float) -> Pair:
        return _with_observation(before, (lesson.mean[i], lesson.sd[i]), lesson.prior[i], between)

    swirl = now.swirl
    if earlier.torch_set.swirl == campaign.torch_set.swirl:
        swirl = told(SWIRL, now.swirl, _BETWEEN["swirl"])
    lean = now.lean
    if earlier.current_series.mount == campaign.current_series.mount:
        lean = (
            told(LEAN_X, now.lean[0], _BETWEEN["lean"]),
            told(LEAN_Y, now.lean[1], _BETWEEN["lean"]),
        )
    process, dross, same_stock = now.process, now.dross, _same_stock(campaign, earlier)
    if same_stock:
        there, before = _process_at_the_start(lesson, campaign, earlier)
        process = (
            _with_observation(now.process[0], there, before, _BETWEEN["b0"]),
            told(1, now.process[1], _BETWEEN["b1"]),
            told(2, now.process[2], _BETWEEN["b2"]),
            *now.process[3:],
        )
        fresh = priors.dross_prior(earlier.metal, earlier.thickness_mm)
        dross = replace(
            now.dross,
            low_start=_with_observation(now.dross.low_start, lesson.low, fresh.low_start, _BETWEEN_LOW),
            log_width=_with_observation(
                now.dross.log_width, lesson.log_width, fresh.log_width, _BETWEEN_LOG
            ),
            log_grades=_with_observation(
                now.dross.log_grades, lesson.log_grades, fresh.log_grades, _BETWEEN_LOG
            ),
        )
    return replace(
        now,
        process=process,
        swirl=swirl,
        lean=lean,
        cut_spread=_tilted(now.cut_spread, lesson.cut_spread, priors.CUT_SPREAD_DEG),
        edge_spread=_tilted(now.edge_spread, lesson.edge_spread, priors.EDGE_SPREAD_DEG),
        gauge=_tilted(now.gauge, lesson.gauge, priors.GAUGE),
        dross=dross,
        taught_by=now.taught_by + 1,
        square_taught_by=now.square_taught_by + same_stock,
    )


def _process_at_the_start(lesson: _Lesson, campaign: Campaign, earlier: Campaign) -> tuple[Pair, Pair]:
    """What the earlier campaign says of the bevel at this one's starting numbers, and what was believed of it
    before: (mean, sd) each.

    In the same thickness that is a matter of speed and height; in another, of how far both lie from their rows.
    """
    x, z = 0.0, 0.0
    if abs(campaign.thickness_mm / earlier.thickness_mm - 1.0) <= _SAME_THICKNESS:
        x = float(np.log(campaign.start.speed_mm_min / earlier.start.speed_mm_min))
        z = campaign.start.cut_height_mm - earlier.start.cut_height_mm
    row = process_columns(np.array([x]), np.array([z]))[0]
    prior = np.array(lesson.prior[:PROCESS])
    found = float(row @ lesson.mean[:PROCESS]), float(np.sqrt(row @ lesson.process_covariance @ row))
    return found, (float(row @ prior[:, 0]), float(np.sqrt(row**2 @ prior[:, 1] ** 2)))


def _same_stock(campaign: Campaign, earlier: Campaign) -> bool:
    alike = metal_named(campaign.metal).cuts_as == metal_named(earlier.metal).cuts_as
    ratio = campaign.thickness_mm / earlier.thickness_mm
    return alike and 1 / _SIMILAR <= ratio <= _SIMILAR


def _with_observation(before: Pair, after: Pair, prior: Pair, between: float) -> Pair:
    """A belief with what a posterior says beyond its own prior, as one observation that differs by
    ``between`` from trial to trial. All are (mean, sd)."""
    gained = 1 / max(after[1], 1e-6) ** 2 - 1 / prior[1] ** 2
    if gained <= 1e-9:
        return before
    value = (after[0] / after[1] ** 2 - prior[0] / prior[1] ** 2) / gained
    precision = 1 / (1 / gained + between**2)
    own = 1 / before[1] ** 2
    total = own + precision
    return (before[0] * own + value * precision) / total, float(total**-0.5)


def _tilted(now: Grid, lesson: Sequence[Pair], prior: Grid) -> Grid:
    """A grid's weights with what another campaign's weights say beyond the prior ones."""
    gained = [
        w * ((found + 1e-4) / (before + 1e-4)) ** _GRID_TRUST
        for (_, w), (_, found), (_, before) in zip(now, lesson, prior, strict=True)
    ]
    return tuple((v, g / sum(gained)) for (v, _), g in zip(now, gained, strict=True))
