"""What is doubted of a cut that is logged or corrected, against the earlier cuts of its trial."""

from collections.abc import Iterator
from dataclasses import replace
from statistics import median

from orthotome.core.doubts import Doubt, Likely, doubt, likely_kerf
from orthotome.core.height.volts import PER_MM
from orthotome.core.quantities import length, unit_in_kept, volts
from orthotome.core.trial.campaign import Campaign, Cut

_NEAR_V, _FIRST_V = (
    14.0,
    35.0,
)  # that volts differ from earlier cuts', and from a row's; more is asked. Assumptions
_TIMES_SCATTER = 4.0
_STEEP_DEG = 15.0  # that a bevel hardly has
_LAG_DEG = 60.0
_MOST_VOLTS_APART_MM = 6.0


def doubts_of_cut(campaign: Campaign, cut: Cut) -> tuple[Doubt, ...]:
    """What to ask of a cut's numbers before it is kept; the cut itself is none of the campaign's."""
    return tuple(_doubts(campaign, cut))


def _doubts(campaign: Campaign, cut: Cut) -> Iterator[Doubt]:
    held = replace(cut, height_control="off")  # a set-point is held against volts that were read
    for field, seen in (("arc_voltage_v", cut), ("set_point_v", held)):
        value: float | None = getattr(cut, field)
        if value is not None and (asked := doubt(value, likely_volts(campaign, seen), volts)):
            yield Doubt(field, asked)
    if cut.kerf_mm is not None:
        at_mm = campaign.start.kerf_mm
        room = likely_kerf(at_mm, f"Room is made for a kerf of {length(at_mm)}")
        asked = doubt(cut.kerf_mm, room, length, shown_in=unit_in_kept("length"))
        if asked:
            yield Doubt("kerf_mm", asked)
    steep = Likely(-_STEEP_DEG, _STEEP_DEG, 0.0, "An edge that steep is seldom seen")
    edges = (doubt(e.bevel_deg, steep, "{:+.1f}°".format) for e in cut.edges)
    if asked := next((e for e in edges if e), None):
        yield Doubt("edges", asked)
    if cut.lag_deg is not None and abs(cut.lag_deg) > _LAG_DEG:
        yield Doubt("lag_deg", f"Lag lines of {cut.lag_deg:+.0f}°: that steep they are seldom seen.")


def likely_volts(campaign: Campaign, cut: Cut) -> Likely:
    """What the volts of a cut lie between: near those of earlier cuts brought to its height, else of its row."""
    now = campaign.current_series
    read = [
        c.arc_voltage_v + PER_MM[0] * (cut.cut_height_mm - c.cut_height_mm)
        for c in campaign.cuts
        if c.arc_voltage_v is not None
        and c.height_control in ("off", cut.height_control)
        and c.series.signal == now.signal
        and abs(cut.cut_height_mm - c.cut_height_mm) <= _MOST_VOLTS_APART_MM
    ]
    if read:
        at = median(read)
        apart = max(_NEAR_V, _TIMES_SCATTER * median(abs(v - at) for v in read))
        many = f"{len(read)} earlier cuts read" if len(read) > 1 else "the earlier cut read"
        return Likely(at - apart, at + apart, at, f"At this height {many} about {volts(round(at, 1))}")
    row = campaign.start.arc_voltage_v
    if row is not None:
        at = row + PER_MM[0] * (cut.cut_height_mm - campaign.start.cut_height_mm)
        return Likely(at - _FIRST_V, at + _FIRST_V, at, f"The starting numbers have {volts(row)}")
    return Likely(60.0, 260.0, 130.0, "Arcs that cut mostly burn at 60 to 260 V")
