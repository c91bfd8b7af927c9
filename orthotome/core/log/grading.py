"""How alike two people grade: the spread of one judgement of a dross grade, from the same pieces graded twice.

A grade is a severity rounded to a whole number, with an error of hand and eye of standard deviation sigma before
rounding. Both grades of one piece share its severity s, which may be anything from none to the worst::

    P(g | s, sigma) = Phi((g + 1/2 - s) / sigma) - Phi((g - 1/2 - s) / sigma)      (open ended at 0 and 4)
    P(g1, g2 | sigma) = mean over s of P(g1 | s, sigma) P(g2 | s, sigma)

so sigma is learned from the pairs by Bayes' rule on a grid. Without any pair it is what an ordinary shop's is.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from orthotome.core.errors import TradeError

Array = NDArray[np.float64]
Pair = tuple[int, int]
"""The grades that one piece was given, 0 to 4 each."""

PIECES_OF_A_CHECK = 5
WORST = 4

# Of an ordinary shop: between a practised eye's and a beginner's. Assumption; a check is what tells.
_USUAL, _USUAL_LOG_SD = 0.31, 0.35
_SIGMAS = np.geomspace(0.1, 1.6, 61)
_SEVERITIES = np.linspace(-0.5, WORST + 0.5, 201)


@dataclass(frozen=True)
class GradeSpread:
    """One sigma of one judgement, in grades, with the range it lies in with nine in ten; ``pairs`` taught it."""

    sd: float
    low: float
    high: float
    pairs: int


def grade_spread(pairs: Sequence[Pair]) -> GradeSpread:
    """What pairs of grades tell of the spread of one. Raises TradeError for a grade that is none."""
    low, middle, high = quantiles(pairs, np.array([0.05, 0.5, 0.95]))
    return GradeSpread(float(middle), float(low), float(high), len(pairs))


def quantiles(pairs: Sequence[Pair], at: Array) -> Array:
    """Quantiles of sigma after the pairs, shape of ``at`` (each in 0 to 1)."""
    log_weight = -0.5 * (np.log(_SIGMAS / _USUAL) / _USUAL_LOG_SD) ** 2
    for one, other in pairs:
        _check(one)
        _check(other)
        together = _chance(one) * _chance(other)
        log_weight += np.log(np.maximum(together.mean(axis=1), 1e-12))
    weight = np.exp(log_weight - log_weight.max())
    steps = np.cumsum(weight) / weight.sum()
    found: Array = np.exp(np.interp(at, steps, np.log(_SIGMAS)))
    return found


def _chance(grade: int) -> Array:
    """P(grade | severity, sigma), shape (sigmas, severities)."""
    from scipy.special import ndtr  # noqa: PLC0415 (start-up time)

    z = (grade - _SEVERITIES[None, :]) / _SIGMAS[:, None]
    half = 0.5 / _SIGMAS[:, None]
    above = np.ones_like(z) if grade == WORST else ndtr(z + half)
    below = np.zeros_like(z) if grade == 0 else ndtr(z - half)
    chance: Array = above - below
    return chance


def _check(grade: int) -> None:
    if not 0 <= grade <= WORST:
        raise TradeError("grades", f"a grade is 0 to {WORST}, not {grade}.")


def in_words(spread: GradeSpread) -> str:
    """What the spread means at the bench."""
    if spread.pairs == 0:
        return "Not checked: grades are taken to scatter as in an ordinary shop."
    said = (
        f"One judgement scatters by {spread.sd:.1f} of a grade ({spread.low:.1f} to {spread.high:.1f})"
    )
    if spread.sd > 0.6:
        return f"{said}: two people here mean different things by a grade. Match the pictures together."
    if spread.pairs < PIECES_OF_A_CHECK:
        return f"{said}: {PIECES_OF_A_CHECK} pieces would tell it better."
    return f"{said}: people here grade alike."
