"""What is usual for a set at the numbers it is begun with, and what is so far from it that something is sick.

A sound set at its chart's numbers leaves a few degrees on the good side, burns within a few volts of its row, and opens about
its row's kerf. Far beyond that no target is too tight: first the parts, then the true height of the first touch, then the
signal are looked at, in that order. What a set is usual for is taken from the shop's own earlier trials of it, else assumed.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from orthotome.core.edge.edges import good_side
from orthotome.core.height.volts import PER_MM
from orthotome.core.quantities import length, volts
from orthotome.core.setting import CutAt, Setting
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import Campaign
from orthotome.core.trial.opening import is_unlisted

USUAL_BEVEL_DEG = (
    2.5  # on the good side at the chart's numbers, of 1 to 4; assumption (domain section 16)
)
USUAL_ON_THIN_DEG = 3.5
THIN_MM = 3.0
_LEAST_USUAL_DEG = 1.5  # however square a shop is used to begin, a gauge tells no less; assumption
_SICK = 2.0  # times the usual (domain section 16)
_OFF_V = 10.0  # at a height that was set (domain section 16)
_KERF_SHARES = (0.6, 1.6)  # of the row's; assumption
_NEAR_SPEED, _NEAR_HEIGHT = (
    0.12,
    0.2,
)  # of ln speed, of the height: still "at the numbers it was begun with"
_FEWEST_HEADINGS = 3  # a lean cancels over them
_FAR_SPEED, _FAR_HEIGHT = (
    0.35,
    0.4,
)  # of ln speed, of the height: a cut so far off tells whether the dials do anything
_LITTLE = (
    0.7  # of the bevel at the start, left by a cut far from it: speed and height do little; assumption
)
_EARLIER_TRIALS = 2

LOOK_FIRST = (
    "Isolate, and look at nozzle, electrode and swirl ring; then prove the height of the first touch with a gauge block; then "
    "the volts against a meter."
)


@dataclass(frozen=True)
class NotUsual:
    """One reading far from what is usual: how far, and the sentence."""

    what: str  # bevel, volts or kerf
    seen: float
    usual: float
    sentence: str


def usual_bevel(campaign: Campaign) -> tuple[float, str]:
    """Degrees on the good side that such a set usually leaves at its starting numbers, and by what that is known."""
    began = [
        abs(level) for earlier in campaign.history if (level := _alike(campaign, earlier)) is not None
    ]
    if len(began) >= _EARLIER_TRIALS:
        mean = sum(began) / len(began)
        return max(_LEAST_USUAL_DEG, mean), f"by {len(began)} earlier trials of it here"
    thin = campaign.thickness_mm < THIN_MM
    return (USUAL_ON_THIN_DEG if thin else USUAL_BEVEL_DEG), "assumed, until trials of it here tell"


def not_usual(campaign: Campaign) -> Iterator[NotUsual]:
    """What of the cuts on the parts as they are is far from usual, the bevel first. Nothing of a metal without rows."""
    if is_unlisted(campaign):
        return
    yield from filter(
        None, (_bevel(campaign, campaign.current_series.parts), _volts(campaign), _kerf(campaign))
    )


def bevel_not_usual(campaign: Campaign) -> bool:
    """Whether the good side, at the numbers the trial was begun with, lay far beyond what its set usually leaves, on these
    parts or on those before them."""
    fitted = {c.series.parts for c in campaign.cuts}
    return not is_unlisted(campaign) and any(_bevel(campaign, parts) is not None for parts in fitted)


def far_was_tried(campaign: Campaign) -> bool:
    """Whether a square was cut far from the starting numbers, or the limits leave nothing so far off to cut."""
    corners = (
        Setting(v, h) for v in campaign.limits.speed_mm_min for h in campaign.limits.cut_height_mm
    )
    if not any(is_far(corner, campaign.start) for corner in corners):
        return True
    return any(c.piece == "square" and c.edges and is_far(c, campaign.start) for c in campaign.cuts)


def far_did_little(campaign: Campaign) -> bool:
    """Whether squares cut far from the starting numbers, on the parts as they are, lie about as far from square as there."""
    good, parts = good_side(campaign.torch_set.swirl), campaign.current_series.parts
    found = _level_at_start(campaign, parts)
    there = [
        abs(level)
        for c in campaign.cuts
        if c.piece == "square" and c.series.parts == parts and is_far(c, campaign.start)
        if (level := c.mean_bevel_deg(good)) is not None
    ]
    return found is not None and bool(there) and min(there) > _LITTLE * abs(found[0])


def parts_were_changed(campaign: Campaign) -> bool:
    """Whether the parts are others than those of the first cut: then they were looked at."""
    return bool(campaign.cuts) and campaign.cuts[0].series.parts != campaign.current_series.parts


def _bevel(campaign: Campaign, parts: str) -> NotUsual | None:
    found = _level_at_start(campaign, parts)
    if found is None:
        return None
    level, sd = found
    usual, by = usual_bevel(campaign)
    if abs(level) - sd <= _SICK * usual:
        return None
    return NotUsual(
        "bevel",
        level,
        usual,
        f"{abs(level):.1f}° on the good side at the numbers it was begun with is not usual for such a set ({usual:.1f}°, {by}): "
        f"rarely is that speed and height. {LOOK_FIRST}",
    )


def _level_at_start(campaign: Campaign, parts: str) -> tuple[float, float] | None:
    """Mean bevel of the good side near the starting numbers on those parts, and its sigma."""
    good = good_side(campaign.torch_set.swirl)
    read = [
        e
        for c in campaign.cuts
        if c.series.parts == parts and c.height_control == "off" and _is_near(c, campaign.start)
        for e in c.edges
        if e.side == good
    ]
    if len({e.heading_deg % 360 for e in read}) < _FEWEST_HEADINGS:
        return None
    mean = sum(e.bevel_deg for e in read) / len(read)
    return mean, math.sqrt(sum(e.u_deg**2 for e in read)) / len(read)


def _alike(campaign: Campaign, earlier: Campaign) -> float | None:
    """The level at which an earlier trial of the same set in the same metal began; None of others."""
    one_set = campaign.torch_set.name == earlier.torch_set.name
    one_metal = metal_named(campaign.metal).cuts_as == metal_named(earlier.metal).cuts_as
    if not one_set or not one_metal or is_unlisted(earlier):
        return None
    found = _level_at_start(earlier, earlier.current_series.parts)
    return None if found is None else found[0]


def _volts(campaign: Campaign) -> NotUsual | None:
    """Volts far from those that were begun with at heights that were set, brought to one height by what is usual."""
    row, series = campaign.start.arc_voltage_v, campaign.current_series
    if row is None:
        return None
    off = [
        c.arc_voltage_v - row - PER_MM[0] * (c.cut_height_mm - campaign.start.cut_height_mm)
        for c in campaign.cuts
        if c.arc_voltage_v is not None
        and c.height_control == "off"
        and (c.series.parts, c.series.signal) == (series.parts, series.signal)
        and abs(math.log(c.speed_mm_min / campaign.start.speed_mm_min)) <= _FAR_SPEED
    ]
    if not off or min(abs(v) for v in off) <= _OFF_V:
        return None
    mean = sum(off) / len(off)
    return NotUsual(
        "volts",
        row + mean,
        row,
        f"The volts are {volts(abs(mean))} {'above' if mean > 0 else 'below'} what it was begun with at the same set height: "
        f"more than parts and tables differ by. {LOOK_FIRST}",
    )


def _kerf(campaign: Campaign) -> NotUsual | None:
    """A kerf far from the one that was begun with; one reading alone is none."""
    parts, row = campaign.current_series.parts, campaign.start.kerf_mm
    read = [
        c.kerf_mm
        for c in campaign.cuts
        if c.kerf_mm is not None and c.series.parts == parts and _is_near(c, campaign.start)
    ]
    low, high = (share * row for share in _KERF_SHARES)
    if len(read) < _EARLIER_TRIALS or not (max(read) < low or min(read) > high):
        return None
    mean = sum(read) / len(read)
    return NotUsual(
        "kerf",
        mean,
        row,
        f"The kerf is {length(mean)} where {length(row)} was begun with: look at the nozzle's bore, the amperes and the height before "
        "anything is tuned on.",
    )


def _is_near(at: CutAt, start: CutAt) -> bool:
    lift = abs(at.cut_height_mm - start.cut_height_mm)
    in_speed = abs(math.log(at.speed_mm_min / start.speed_mm_min))
    return in_speed <= _NEAR_SPEED and lift <= _NEAR_HEIGHT * start.cut_height_mm + 1e-9


def is_far(at: CutAt, start: CutAt) -> bool:
    """Whether a setting lies so far from the starting numbers that a cut there tells whether the dials do anything."""
    lift = abs(at.cut_height_mm - start.cut_height_mm)
    in_speed = abs(math.log(at.speed_mm_min / start.speed_mm_min))
    return in_speed >= _FAR_SPEED or lift >= _FAR_HEIGHT * start.cut_height_mm
