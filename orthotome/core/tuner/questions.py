"""What is asked while a piece is being read: it lies in the hand, and looking again costs seconds.

First whether the kept edge and the scrap were taken for each other; then about each reading that fits neither
the others of its piece nor what the earlier cuts taught. What the operator insists on is kept.
"""

from dataclasses import replace

import numpy as np

from orthotome.core.edge.edges import cut_toward, good_side
from orthotome.core.trial.campaign import Campaign, Cut, EdgeReading
from orthotome.core.trial.questions import Question
from orthotome.core.tuner.bevel_model import BevelModel
from orthotome.core.tuner.history import beliefs_of
from orthotome.core.tuner.voltage_model import VoltageModel, cut_heights_mm

SWAPPED_DEG = (
    1.5  # that a kept edge may be worse than the scrap across the slot before it is asked; assumption
)
_WILD = 0.5  # chance of being off by degrees from which a reading is asked about

SWAPPED = (
    "The kept edge reads farther from square than the scrap beside it. With this swirl it is mostly the other way "
    "round: were the two taken for each other, or was the part cut on the wrong side of the line?"
)


def questions(campaign: Campaign, cut: Cut) -> tuple[Question, ...]:
    """What to ask of a cut whose edges are being read, swapped sides first; empty where all fits."""
    swapped = _swapped(campaign, cut)
    if swapped is not None:
        return (swapped,)
    if len(cut.edges) < 2 and not campaign.cuts:
        return ()  # one reading, and nothing to hold it against
    return _wild(campaign, cut)


def _swapped(campaign: Campaign, cut: Cut) -> Question | None:
    """Two edges of one slot, or of one stretch, whose kept one is the worse by more than reading scatters."""
    good = good_side(campaign.torch_set.swirl)
    for i, kept in enumerate(cut.edges):
        for j, scrap in enumerate(cut.edges):
            pair = kept.side == good and scrap.side not in (good, "both")
            if not pair or kept.heading_deg % 360 != scrap.heading_deg % 360:
                continue
            apart = max(SWAPPED_DEG, 2 * float(np.hypot(kept.u_deg, scrap.u_deg)))
            if abs(kept.bevel_deg) - abs(scrap.bevel_deg) > apart:
                return Question("swapped", (i, j), SWAPPED)
    return None


def _wild(campaign: Campaign, cut: Cut) -> tuple[Question, ...]:
    if not cut.edges:
        return ()
    series = campaign.current_series
    known = replace(campaign, cuts=(*campaign.cuts, replace(cut, series=series)), series_now=series)
    heights, height_sd = cut_heights_mm(known, VoltageModel(known))
    model = BevelModel(known, heights, height_sd, beliefs_of(known))
    own = np.flatnonzero(model.readings.cut == len(known.cuts) - 1)
    chances = model.wild_chances[own]
    weights = np.array([h.weight for h in model.hypotheses])
    means = np.array([h.mean for h in model.hypotheses])
    expected = model.readings.rows[own] @ (weights @ means / weights.sum())
    return tuple(
        Question("wild", (int(i),), _sentence(cut, int(i), float(expected[i])))
        for i in np.argsort(-chances, kind="stable")
        if chances[i] > _WILD
    )


def _sentence(cut: Cut, i: int, expected_deg: float) -> str:
    edge = cut.edges[i]
    others = [e.bevel_deg for k, e in enumerate(cut.edges) if k != i and e.side == edge.side]
    beside = ""
    if others:
        span = sorted({round(min(others), 1), round(max(others), 1)})
        beside = f"; the others read {' to '.join(f'{b:+.1f}°' for b in span)}"
    return (
        f"{_named(edge)} again? {edge.bevel_deg:+.1f}° does not fit: about {expected_deg:+.1f}° was to be expected"
        f"{beside}. A burr, the wrong edge or the wrong sign does that."
    )


def _named(edge: EdgeReading) -> str:
    return f"The edge {cut_toward(edge.heading_deg)}"
