"""Readings of edges as rows of a linear model: what swirl, lean and a two-fold pattern do to each."""

from collections.abc import Hashable, Sequence

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.edges import ReadSide, Side, outward_normal_deg

Array = NDArray[np.float64]

EDGE_COLUMNS = 5  # swirl, lean x, lean y, two-fold cos, two-fold sin


def side_sign(side: ReadSide, good: Side) -> float:
    """-1 on the good side, +1 on the other, 0 for a mean of both."""
    if side == "both":
        return 0.0
    return -1.0 if side == good else 1.0


def read_normal_deg(side: ReadSide, heading_deg: float) -> float:
    """Which way a read edge faces; of a mean of both its right one, which differs by half a turn only."""
    return outward_normal_deg("right" if side == "both" else side, heading_deg)


def edge_columns(sign: Array, normal_deg: Array) -> Array:
    """Columns of swirl, lean and two-fold for edges with that side sign and normal, shape (n, 5).

    A mean of two opposite edges (sign 0) carries neither swirl nor lean, but the two-fold pattern.
    """
    n = np.radians(normal_deg)
    one = np.abs(sign)
    return np.stack([sign, one * np.cos(n), one * np.sin(n), np.cos(2 * n), np.sin(2 * n)], axis=-1)


def same_edge(edges: Sequence[Hashable]) -> Array:
    """1 where two readings are of one edge, shape (n, n); ``edges`` names the edge of each."""
    number = {edge: i for i, edge in enumerate(dict.fromkeys(edges))}
    which = np.array([number[e] for e in edges], dtype=np.int64)
    return np.asarray(which[:, None] == which[None, :], dtype=np.float64)
