"""The unknowns of the bevel model, by their columns."""

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.columns import EDGE_COLUMNS

Array = NDArray[np.float64]

PROCESS = 6  # columns of b0..b5
SWIRL, LEAN_X, LEAN_Y, TWO_C, TWO_S, WEAR = range(PROCESS, PROCESS + EDGE_COLUMNS + 1)
EDGE = slice(SWIRL, WEAR)  # columns of what one edge differs in from another of its cut
FIXED = WEAR + 1  # columns before the offsets of earlier series


def process_columns(x: Array, z: Array) -> Array:
    """Columns of b0..b5 for ``x`` = ln(speed / start) and ``z`` = height - start, shape (n, 6)."""
    return np.stack([np.ones_like(x), x, z, x * x, z * z, x * z], axis=-1)
