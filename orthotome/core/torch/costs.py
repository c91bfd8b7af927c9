"""What parts cost: a start, a metre, and a habit."""

from collections.abc import Mapping
from dataclasses import dataclass

from orthotome.core.torch.counts import Counts
from orthotome.core.torch.wear import TRADE, WearBelief


@dataclass(frozen=True)
class Costs:
    """In the shop's money. None: a price or a life is not known."""

    per_start: float | None
    per_metre: float | None
    per_ending: float | None  # off the plate, over what a start costs
    habit: float | None  # all endings off the plate so far
    habit_electrodes: float  # the same, in electrodes


def costs(
    prices: Mapping[str, float],
    lives: Mapping[str, float],
    electrode: Counts,
    speed_mm_min: float | None,
    belief: WearBelief = TRADE,
) -> Costs:
    """Costs of a set from the price and the life in starts of each part; a part without a price or a life is left out.

    ``belief`` says how many starts an ending off the plate is worth. Metres are arc time at the speed that is cut.
    """
    known = [prices[p] / lives[p] for p in prices if lives.get(p)]
    per_start = sum(known) if known else None
    per_metre = None
    if per_start is not None and speed_mm_min and electrode.starts and electrode.arc_on_s > 0:
        metres = electrode.arc_on_s / 60 * speed_mm_min / 1000 / electrode.starts
        per_metre = per_start / metres
    life = lives.get("electrode")
    share = belief.ending[0] / life if life else 0.0
    price = prices.get("electrode")
    per_ending = share * price if price is not None and life else None
    habit = per_ending * electrode.off_plate if per_ending is not None else None
    return Costs(per_start, per_metre, per_ending, habit, share * electrode.off_plate)


def habit_says(endings: int, electrodes: float) -> str:
    """What endings off the plate came to, in electrodes; empty where it is next to nothing."""
    if not endings or electrodes < 0.1:
        return ""
    if electrodes >= 1.5:
        return f"{endings} endings off the plate: about {electrodes:.1f} electrodes."
    some = "about one electrode" if electrodes >= 0.75 else "a good part of an electrode"
    return f"{endings} endings off the plate: {some}."
