"""Readings that are sound, or wild: a gauge on a burr, the wrong edge, the wrong sign.

With S the covariance of all readings, K its inverse and r what was read less what was expected, calling
reading i wild adds w^2 to S[i, i]. Its log weight against being sound is (Sherman-Morrison, and the matrix
determinant lemma)

    -1/2 ln(1 + w^2 K[i,i]) + 1/2 w^2 (K r)[i]^2 / (1 + w^2 K[i,i]) + ln(p / (1 - p))
"""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

# About one reading in 25 is off by 2 to 5 degrees (watched in shops).
WILD_SHARE = 0.04
WILD_DEG = 3.6  # root mean square of 2 to 5


def log_odds_of_turning(precision: Array, off: Array, wild: Flags) -> Array:
    """Log odds of each reading being of the other kind, sound or wild, all others as they are."""
    change = np.where(wild, -1.0, 1.0) * WILD_DEG**2
    grown = np.maximum(1.0 + change * np.diag(precision), 1e-9)
    pull = precision @ off
    prior = np.where(wild, -1.0, 1.0) * np.log(WILD_SHARE / (1 - WILD_SHARE))
    odds: Array = -0.5 * np.log(grown) + 0.5 * change * pull**2 / grown + prior
    return odds


def turned(precision: Array, i: int, wild: Flags) -> Array:
    """The precision with reading i of the other kind."""
    change = (-1.0 if wild[i] else 1.0) * WILD_DEG**2
    column = precision[:, i]
    after: Array = precision - change / (1.0 + change * precision[i, i]) * np.outer(column, column)
    return after


def weighed(covariance: Array, off: Array) -> tuple[Array, float]:
    """(precision, log likelihood) of what was read less what was expected, all readings sound."""
    from scipy.linalg import cho_solve  # noqa: PLC0415 (start-up time)

    lower = np.linalg.cholesky(covariance)
    precision = cho_solve((lower, True), np.eye(len(off)), check_finite=False)
    return precision, -0.5 * float(off @ precision @ off) - float(np.log(np.diag(lower)).sum())


def opened(precision: Array, off: Array, columns: Array, more: float) -> tuple[float, Array]:
    """What it does to the log likelihood that unknowns with these design columns, shape (n, k), have ``more``
    variance each, and the precision with that (Woodbury)."""
    pulled = precision @ columns
    inner = np.eye(columns.shape[1]) / more + columns.T @ pulled
    drawn = pulled.T @ off
    gain = 0.5 * float(drawn @ np.linalg.solve(inner, drawn))
    gain -= 0.5 * float(np.linalg.slogdet(more * inner)[1])
    wider: Array = precision - pulled @ np.linalg.solve(inner, pulled.T)
    return gain, wider


def likeliest_wild(precision: Array, log_likelihood: float, off: Array) -> tuple[Flags, Array, float]:
    """(which readings are wild, log odds of each being of the other kind, log likelihood with them so).

    ``precision`` and ``log_likelihood`` are those of all readings being sound (``weighed``). Found greedily from
    there; once more than a third are wild no further are sought, since then it is the model that is wrong.
    """
    wild = np.zeros(len(off), dtype=bool)
    while True:
        odds = log_odds_of_turning(precision, off, wild)
        i = int(odds.argmax())
        if odds[i] <= 0 or wild.sum() > len(off) // 3:
            return wild, odds, log_likelihood
        precision = turned(precision, i, wild)
        wild[i] = ~wild[i]
        log_likelihood += float(odds[i])
