"""Unknowns of a machine from sizes that answer to them in proportion, and which of them those sizes tell at all."""

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_CONTRADICT = 9.0  # times the variance that the instruments explain: a size of another piece, or a side read at a bead


class Fitted(NamedTuple):
    """Value and sigma of each unknown, whether these sizes determine it, and whether they contradict each other: the
    sigmas are then widened by as much."""

    values: list[float]
    sds: list[float]
    known: list[bool]
    contradict: bool


def fitted(table: Array, sizes: Array) -> Fitted:
    """Least squares of ``table`` @ unknowns = ``sizes``, both divided by the sigma of each size.

    ``table`` has shape (sizes, unknowns). An unknown that only stands together with another is not known.
    """
    scaled = table / np.maximum(np.linalg.norm(table, axis=0), 1e-12)
    _, strengths, rows = np.linalg.svd(scaled, full_matrices=True)
    rank = int((strengths > 1e-6 * strengths[0]).sum())
    free = rows[rank:]
    unknowns = range(table.shape[1])
    known = [
        bool(np.abs(free[:, i]).max(initial=0.0) < 1e-6) and bool(np.abs(table[:, i]).max() > 0)
        for i in unknowns
    ]
    inverse = np.linalg.pinv(table, rcond=1e-9)
    values = inverse @ sizes
    covariance = inverse @ inverse.T
    spare = len(sizes) - rank
    left_over = float(((sizes - table @ values) ** 2).sum())
    contradict = spare > 0 and left_over / spare > _CONTRADICT
    wider = math.sqrt(left_over / spare) if contradict else 1.0
    sds = [wider * math.sqrt(float(c)) for c in np.diag(covariance)]
    return Fitted(list(map(float, values)), sds, known, contradict)
