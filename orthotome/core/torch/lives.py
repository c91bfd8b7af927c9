"""What a shop's earlier parts say of the next: how long they last, and a life that is shorter than they were."""

import math
from collections.abc import Sequence

import numpy as np

from orthotome.core.torch.counts import Counts
from orthotome.core.torch.forecast import StartsLeft
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.torch.wear import WearBelief

_FEWEST = 2
_SHORT, _SURE = 0.65, 0.9
_SPREAD = 0.35  # of the logarithms of lives of one kind, where few ended. Assumption
_WORTH = 3.0  # ended lives that this spread weighs as much as
_DRAWS = 2000


def life_of(life: LearnedLife) -> tuple[float, float]:
    """The logarithm of a life in work, with its sd: what the next of its kind is believed from."""
    logs = np.log(life.of.life_work)
    return float(logs.mean()), float(logs.std())


def span_left(ended: Sequence[int], starts: int) -> StartsLeft | None:
    """Starts that a part without a pit has left, from the lives of those that ended; None where fewer than two did.

    Lives are log-normal; one that lasted so far is among those that last longer.
    """
    logs = [math.log(max(1, e)) for e in ended]
    if len(logs) < _FEWEST:
        return None
    mean = sum(logs) / len(logs)
    scatter = sum((x - mean) ** 2 for x in logs)
    sd = math.sqrt((scatter + _WORTH * _SPREAD**2) / (len(logs) - 1 + _WORTH))
    chance = np.random.default_rng(11)
    lives = np.exp(chance.normal(mean, sd * math.sqrt(1 + 1 / len(logs)), _DRAWS))
    left = lives[lives > starts] - starts
    if len(left) < _DRAWS // 200:
        return StartsLeft(0, 0, 0)
    low, middle, high = (round(float(q)) for q in np.quantile(left, (0.05, 0.5, 0.95)))
    return StartsLeft(middle, low, high)


def shorter_than_the_shops(life: LearnedLife, belief: WearBelief, done: Counts) -> str:
    """What says that these parts wear faster than the shop's earlier ones; empty where nothing does."""
    if belief.lives < _FEWEST or life.pits == 0:
        return ""
    usual = belief.life_work[0]
    if float((life.of.life_work < _SHORT * usual).mean()) < _SURE:
        return ""
    times = usual / float(np.median(life.of.life_work))
    said = [
        f"This electrode wears {times:.1f} times as fast as the shop’s last {belief.lives}, endings and arc time allowed "
        "for."
    ]
    hints = [
        "air that is wet or oily",
        "a flow or pressure that is off",
        "a nozzle run above its rating",
        "dragging",
    ]
    if done.early_losses > 0.02 * max(1, done.starts):
        said.append(f"{done.early_losses} arcs were lost early: that speaks for air or flow.")
    if done.collisions:
        said.append("It collided: look at the nozzle’s face first.")
    said.append(f"Look for {', '.join(hints[:-1])} or {hints[-1]}.")
    return " ".join(said)
