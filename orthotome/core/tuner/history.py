"""What earlier campaigns on the same table teach: the trade's priors, sharpened.

Each earlier campaign is judged as it stood. What its readings say beyond the trade's prior is one Gaussian message
about all unknowns of an edge at once: a setting that passed is a sum of them, known far better than its parts.
The message is moved to this campaign's starting numbers and widened by what may be another today: the day and the
plate, parts and mount where they were changed, the thickness. Swirl, lean, spreads and the gauge are the table's
and its people's; where square lies, and the dross window, hold for the same metal in a similar thickness with the
same set only. A campaign without a history gets the trade's priors as they are.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from orthotome.core.setting import Setting
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import Campaign
from orthotome.core.tuner import priors
from orthotome.core.tuner.beliefs import Beliefs, Grid, trade_beliefs
from orthotome.core.tuner.chances import Learned
from orthotome.core.tuner.dross_model import EarlierWindow
from orthotome.core.tuner.unknowns import LEAN_X, LEAN_Y, PROCESS, SWIRL, TWO_C, TWO_S, WEAR

Array = NDArray[np.float64]

# How much a quantity differs from one trial of a table to the next, sd in its own unit. Assumptions.
_PROCESS_ANOTHER_THICKNESS = (1.0, 2.5, 0.7, 4.0, 0.3, 1.5)
_PROCESS_ANOTHER_DAY = (0.3, 1.5, 0.4, 4.0, 0.3, 1.5)
_SWIRL, _SWIRL_SAME_PARTS = 0.45, 0.25
_LEAN, _LEAN_SAME_PARTS = 0.5, 0.2
_TWOFOLD_SAME_PARTS = 0.1
_NOTHING_SAID = 1e3  # sd of what an earlier campaign says nothing of
_WINDOW_ANOTHER_DAY = (
    0.04,
    0.12,
)  # of the dross window: its lower end in ln(speed), and ln of its width
_WINDOW_ANOTHER_THICKNESS = (0.07, 0.25)
_KNOCKED_SINCE, _OVAL_SINCE = (
    0.03,
    0.02,
)  # a torch that was read before, and that nobody is known to have touched
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
class _Alike:
    """In what an earlier campaign is like this one."""

    stock: bool  # metal, and a thickness near enough, with the same set
    thickness: bool
    parts: bool
    mount: bool
    plate: bool
    hand: bool  # of the swirl

    @classmethod
    def of(cls, campaign: Campaign, earlier: Campaign) -> "_Alike":
        now, then = campaign.current_series, earlier.current_series
        metal = metal_named(campaign.metal).cuts_as == metal_named(earlier.metal).cuts_as
        ratio = campaign.thickness_mm / earlier.thickness_mm
        one_set = _process_of(campaign) == _process_of(earlier)
        return cls(
            stock=metal and one_set and 1 / _SIMILAR <= ratio <= _SIMILAR,
            thickness=abs(ratio - 1.0) <= _SAME_THICKNESS,
            parts=one_set and now.parts == then.parts,
            mount=now.mount == then.mount,
            plate=now.plate == then.plate,
            hand=campaign.torch_set.swirl == earlier.torch_set.swirl,
        )


def _process_of(campaign: Campaign) -> tuple[str, float, str]:
    of = campaign.torch_set
    return of.name, of.amperage_a, of.gas


@dataclass(frozen=True, eq=False)
class _Lesson:
    """What one earlier campaign ended on: what its readings say of the unknowns beyond the trade's prior
    (information and pull, in its own coordinates), and its grids."""

    information: Array
    pull: Array
    cut_spread: Grid
    edge_spread: Grid
    gauge: Grid
    read: bool  # whether any edge was


@lru_cache(maxsize=64)
def _lesson(earlier: Campaign) -> _Lesson:
    learned = Learned(replace(earlier, history=()), trade_beliefs(earlier))
    model = learned.bevel
    weights = np.array([h.weight for h in model.hypotheses])
    weights = weights / weights.sum()
    means = np.array([h.mean[:WEAR] for h in model.hypotheses])
    mean = weights @ means
    inside = sum(
        w * h.root[:WEAR] @ h.root[:WEAR].T for w, h in zip(weights, model.hypotheses, strict=True)
    )
    covariance = inside + ((means - mean).T * weights) @ (means - mean)
    before = np.linalg.inv(_whoever_tended_the_torch(trade_beliefs(earlier)))
    after = np.linalg.inv(covariance)

    def weighed(name: str, grid: Grid) -> Grid:
        at = np.array([getattr(h.spreads, name) for h in model.hypotheses])
        return tuple((v, float(weights[at == v].sum())) for v, _ in grid)

    return _Lesson(
        _no_less_than_nothing(after - before),
        after @ mean - before @ model.prior_mean[:WEAR],
        weighed("cut_deg", priors.CUT_SPREAD_DEG),
        weighed("edge_deg", priors.EDGE_SPREAD_DEG),
        weighed("gauge", priors.GAUGE),
        model.readings.count > 0,
    )


def _whoever_tended_the_torch(beliefs: Beliefs) -> Array:
    """What is believed of the unknowns, however the torch is kept: knocked ones and oval bores among them."""
    covariance = np.array(beliefs.covariance)
    for columns, share, sd in (
        ((LEAN_X, LEAN_Y), beliefs.knocked_share, priors.KNOCKED_LEAN_SD),
        ((TWO_C, TWO_S), beliefs.oval_share, priors.OVAL_SD),
    ):
        for column in columns:
            covariance[column, column] += share * max(sd**2 - covariance[column, column], 0.0)
    return covariance


def _no_less_than_nothing(information: Array) -> Array:
    """An information without its negative directions: where a campaign left more in doubt than the trade does, it
    says nothing."""
    values, vectors = np.linalg.eigh((information + information.T) / 2)
    return np.asarray((vectors * np.maximum(values, 0.0)) @ vectors.T)


def _sharpened(now: Beliefs, campaign: Campaign, earlier: Campaign) -> Beliefs:
    lesson, alike = _lesson(earlier), _Alike.of(campaign, earlier)
    x, z = _start_seen_from(campaign, earlier) if alike.thickness else (0.0, 0.0)
    believed = now
    if lesson.read:
        believed = _with_message(now, lesson, alike, _moved_by(x, z))
    return replace(
        believed,
        cut_spread=_tilted(now.cut_spread, lesson.cut_spread, priors.CUT_SPREAD_DEG),
        edge_spread=_tilted(now.edge_spread, lesson.edge_spread, priors.EDGE_SPREAD_DEG),
        gauge=_tilted(now.gauge, lesson.gauge, priors.GAUGE),
        windows=(*now.windows, _window(campaign, earlier, alike)) if alike.stock else now.windows,
        taught_by=now.taught_by + 1,
        square_taught_by=now.square_taught_by + alike.stock,
    )


def _window(campaign: Campaign, earlier: Campaign, alike: _Alike) -> EarlierWindow:
    """The dross window as an earlier trial saw it: of the same plate by its speeds, of another by how far they lie
    from its row."""
    if alike.thickness:
        return EarlierWindow(earlier, Setting.of(campaign.start), *_WINDOW_ANOTHER_DAY)
    return EarlierWindow(earlier, Setting.of(earlier.start), *_WINDOW_ANOTHER_THICKNESS)


def _start_seen_from(campaign: Campaign, earlier: Campaign) -> tuple[float, float]:
    """This campaign's starting numbers in the coordinates of an earlier one: ln of the speed, mm of height."""
    start, then = campaign.start, earlier.start
    x = float(np.log(start.speed_mm_min / then.speed_mm_min))
    return x, start.cut_height_mm - then.cut_height_mm


def _moved_by(x: float, z: float) -> Array:
    """What the unknowns are, counted from the point (x, z), in terms of what they are from the origin."""
    moved = np.eye(WEAR)
    moved[0, 1:PROCESS] = x, z, x * x, z * z, x * z
    moved[1, 3], moved[1, 5] = 2 * x, z
    moved[2, 4], moved[2, 5] = 2 * z, x
    return moved


def _with_message(now: Beliefs, lesson: _Lesson, alike: _Alike, moved: Array) -> Beliefs:
    """A belief with what an earlier campaign says, which may be another today by so much."""
    back, differs = np.linalg.inv(moved), _may_differ(alike)
    information, pull = back.T @ lesson.information @ back, back.T @ lesson.pull
    shrunk = np.linalg.inv(np.eye(WEAR) + information @ np.diag(differs**2))
    said = differs < _NOTHING_SAID
    information, pull = shrunk @ information * np.outer(said, said), shrunk @ pull * said
    before, mean = _before(now, alike), np.array(now.mean)
    after = before - before @ information @ np.linalg.inv(np.eye(WEAR) + before @ information) @ before
    mean = mean + after @ (pull - information @ mean)
    return replace(
        now,
        mean=tuple(mean.tolist()),
        covariance=tuple(map(tuple, ((after + after.T) / 2).tolist())),
        knocked_share=_KNOCKED_SINCE if alike.mount else now.knocked_share,
        oval_share=_OVAL_SINCE if alike.parts else now.oval_share,
    )


def _before(now: Beliefs, alike: _Alike) -> Array:
    """What is believed before the message: of a mount or parts that were read before, however they are kept."""
    covariance, kept_or_not = np.array(now.covariance), _whoever_tended_the_torch(now)
    for columns, same in (((LEAN_X, LEAN_Y), alike.mount), ((TWO_C, TWO_S), alike.parts)):
        for column in columns if same else ():
            covariance[column, column] = kept_or_not[column, column]
    return covariance


def _may_differ(alike: _Alike) -> Array:
    """By how much each unknown may be another than it was in an earlier campaign, sd."""
    process = np.full(PROCESS, _NOTHING_SAID)
    if alike.stock:
        process = np.array(_PROCESS_ANOTHER_DAY if alike.thickness else _PROCESS_ANOTHER_THICKNESS)
        for same, change in ((alike.parts, priors.PARTS_CHANGE), (alike.plate, priors.PLATE_CHANGE)):
            process[0] = process[0] if same else np.hypot(process[0], change[1])
    sd = np.full(WEAR, _NOTHING_SAID)
    sd[:PROCESS] = process
    if alike.hand:
        sd[SWIRL] = _SWIRL_SAME_PARTS if alike.parts else _SWIRL
    if alike.mount:
        sd[[LEAN_X, LEAN_Y]] = _LEAN_SAME_PARTS if alike.parts else _LEAN
    if alike.parts:
        sd[[TWO_C, TWO_S]] = _TWOFOLD_SAME_PARTS
    return sd


def _tilted(now: Grid, lesson: Grid, prior: Grid) -> Grid:
    """A grid's weights with what another campaign's weights say beyond the prior ones."""
    gained = [
        w * ((found + 1e-4) / (before + 1e-4)) ** _GRID_TRUST
        for (_, w), (_, found), (_, before) in zip(now, lesson, prior, strict=True)
    ]
    return tuple((v, g / sum(gained)) for (v, _), g in zip(now, gained, strict=True))
