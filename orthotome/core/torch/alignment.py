"""The jet's lean from readings of a slug or of squares, and how to set the jet upright.

For one reading of one edge with outward normal n::

    bevel = process of its piece -/+ swirl + lean_x cos n + lean_y sin n + two-fold + edge scatter + error

The lean is known well where the edges read look all ways round. Nothing is believed of it beforehand (its
prior is wide), so that what is answered is what was read; swirl and two-fold keep the trade's ranges.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from orthotome.core.edge.columns import (
    EDGE_COLUMNS,
    edge_columns,
    read_normal_deg,
    same_edge,
    side_sign,
)
from orthotome.core.edge.edges import (
    ReadSide,
    Swirl,
    good_side,
    lean_from_components,
    way_in_words,
)
from orthotome.core.edge.wild import WILD_DEG, Array, likeliest_wild, weighed
from orthotome.core.errors import TradeError

KNOWN = 2.45  # sd of each component within which a vector in the plane lies 95 times in 100
_OPEN_DEG = 8.0  # sd of the priors of lean and process: it is left to the readings
_SWIRL_DEG, _SWIRL_SD_DEG, _TWO_FOLD_SD_DEG = 1.3, 1.3, 0.5
# Scatter of one edge, with weights. Assumption.
_SCATTER_DEG = ((0.05, 0.15), (0.15, 0.3), (0.3, 0.35), (0.5, 0.15), (0.8, 0.05))
_LEAN = slice(1, 3)  # its columns, after swirl's
_PARALLEL = 1e-6
_LEAST_TURN_DEG = 0.05  # a smaller one nobody makes; assumption


@dataclass(frozen=True)
class SlugReading:
    """One reading of one edge; ``piece`` tells squares apart that were cut one after the other."""

    side: ReadSide
    heading_deg: float
    bevel_deg: float
    u_deg: float
    piece: int = 1


@dataclass(frozen=True)
class MountAxis:
    """A horizontal axis that the torch can be turned about, by the azimuth it points to."""

    name: str
    about_deg: float
    mm_per_deg: float | None = None

    @property
    def moves_toward_deg(self) -> float:
        """Where the jet's exit goes when it is turned by a positive angle (right-hand rule)."""
        return (self.about_deg + 90.0) % 360.0


@dataclass(frozen=True)
class Mount:
    """How the torch can be turned."""

    axes: tuple[MountAxis, ...] = ()
    turns_about_itself: bool = False


@dataclass(frozen=True)
class Turn:
    """One correction, in the order in which they are made; ``axis`` "itself" is about the vertical."""

    axis: str
    turn_deg: float
    move_mm: float | None
    why: str


@dataclass(frozen=True)
class Alignment:
    """The lean with its uncertainty (``sd_deg`` of each component), and what cures it."""

    lean_deg: float
    toward_deg: float
    sd_deg: float
    process_deg: float | None
    enough: bool
    readings_needed: int
    corrections: tuple[Turn, ...]
    left_over_deg: float


def align(readings: Sequence[SlugReading], swirl: Swirl, target_deg: float, mount: Mount) -> Alignment:
    """The lean, whether it is known to ``target_deg``, and the turns that set the jet upright.

    Raises TradeError where nothing was read.
    """
    if not readings:
        raise TradeError("readings", "none: read the edges of a slug or a square all the way round.")
    mean, covariance, scatter = _posterior(readings, swirl)
    lean = mean[_LEAN]
    sd = float(np.sqrt(np.trace(covariance[_LEAN, _LEAN]) / 2))
    length, toward = lean_from_components(float(lean[0]), float(lean[1]))
    sides = {r.side for r in readings} - {"both"}
    enough = KNOWN * sd <= target_deg
    settled = length <= max(KNOWN * sd, target_deg)
    turns, left_over = ((), length) if settled else _corrections(lean, sd, mount)
    return Alignment(
        length,
        toward,
        sd,
        float(mean[EDGE_COLUMNS:].mean()) if len(sides) == 2 else None,
        enough,
        0 if enough else _more_readings(readings, scatter, target_deg),
        turns,
        left_over,
    )


def in_words(found: Alignment, target_deg: float) -> str:
    """How the jet stands, in a sentence that says what to do about it."""
    lean, sure = f"{found.lean_deg:.1f}°", f"{KNOWN * found.sd_deg:.1f}°"
    way = way_in_words(found.toward_deg)
    if found.corrections:
        return (
            f"The jet leans {lean} {way}, known to {sure} by all that was read in this seat. Make the turns below, note that the torch was turned, and "
            "read one more slug."
        )
    if found.lean_deg > max(KNOWN * found.sd_deg, target_deg):
        return (
            f"The jet leans {lean} {way}, known to {sure} by all that was read in this seat, and nothing that is said of the mount cures that: describe "
            "how the torch can be turned, or look at the parts."
        )
    if found.enough:
        return f"Upright as far as it matters: {lean}, known to {sure} by all that was read in this seat; {target_deg:g}° was asked for."
    return (
        f"Not known to {target_deg:g}° yet: what was read says {lean} {way}, give or take {sure}. About "
        f"{found.readings_needed} more readings with the same gauge, all the way round, would tell."
    )


def _posterior(readings: Sequence[SlugReading], swirl: Swirl) -> tuple[Array, Array, float]:
    """Mean and covariance of the columns of an edge and the process of each piece, mixed over the
    scatter of edges, and that scatter."""
    rows = _design(readings, swirl)
    y, u = np.array([r.bevel_deg for r in readings]), np.array([r.u_deg for r in readings])
    edge = same_edge([(r.piece, r.side, r.heading_deg % 360.0) for r in readings])
    prior_mean = np.zeros(rows.shape[1])
    prior_mean[0] = _SWIRL_DEG
    variance = np.full(rows.shape[1], _OPEN_DEG**2)
    variance[0] = _SWIRL_SD_DEG**2
    variance[_LEAN.stop : EDGE_COLUMNS] = _TWO_FOLD_SD_DEG**2
    off = y - rows @ prior_mean
    log_weights, means, covariances = [], [], []
    for scatter, weight in _SCATTER_DEG:
        seen = (rows * variance) @ rows.T + scatter**2 * edge + np.diag(u**2)
        wild, _, log_likelihood = likeliest_wild(*weighed(seen, off), off)
        gain = np.linalg.solve(seen + np.diag(np.where(wild, WILD_DEG**2, 0.0)), rows * variance).T
        log_weights.append(math.log(weight) + log_likelihood)
        means.append(prior_mean + gain @ off)
        covariances.append(np.diag(variance) - gain @ (rows * variance))
    weights = np.exp(np.array(log_weights) - max(log_weights))
    weights /= weights.sum()
    mean = weights @ np.array(means)
    apart = np.array(means) - mean
    covariance = np.tensordot(weights, np.array(covariances), 1) + (apart.T * weights) @ apart
    return mean, covariance, float(weights @ [scatter for scatter, _ in _SCATTER_DEG])


def _design(readings: Sequence[SlugReading], swirl: Swirl) -> Array:
    """Design rows: the columns of each edge, and which piece it is of."""
    good, pieces = good_side(swirl), sorted({r.piece for r in readings})
    sign = np.array([side_sign(r.side, good) for r in readings])
    normal = np.array([read_normal_deg(r.side, r.heading_deg) for r in readings])
    of_piece = np.array([[float(r.piece == piece) for piece in pieces] for r in readings])
    return np.hstack([edge_columns(sign, normal), of_piece])


def _more_readings(readings: Sequence[SlugReading], scatter: float, target_deg: float) -> int:
    """How many more of the same gauge, all ways round: each component is known to sigma sqrt(2 / n)."""
    u = float(np.sqrt(np.mean([r.u_deg**2 for r in readings])))
    in_all = math.ceil(2 * (u**2 + scatter**2) * (KNOWN / target_deg) ** 2)
    return max(1, in_all - len(readings))


def _corrections(lean: Array, sd: float, mount: Mount) -> tuple[tuple[Turn, ...], float]:
    """The turns, about itself first, and the lean that the axes there are cannot cure."""
    if not mount.axes:
        return (), float(np.hypot(*lean))
    ways = np.array([_unit(a.moves_toward_deg) for a in mount.axes])
    turns: list[Turn] = []
    if np.linalg.matrix_rank(ways, tol=_PARALLEL) < 2 and mount.turns_about_itself:
        angle = _onto(lean, mount.axes[0].moves_toward_deg)
        if abs(math.radians(angle)) * float(np.hypot(*lean)) > sd:
            turns.append(Turn("itself", angle, None, _about_itself(angle, mount.axes[0])))
            lean = _rotated(lean, angle)
    wanted, *_ = np.linalg.lstsq(ways.T, -lean, rcond=None)
    # The lean is known to need curing: then each turn that a hand can make belongs to the cure, or a skew pair leaves part of it.
    wanted = np.where(np.abs(wanted) >= _LEAST_TURN_DEG, wanted, 0.0)
    for axis, turn in zip(mount.axes, wanted.tolist(), strict=True):
        if turn:
            move = None if axis.mm_per_deg is None else turn * axis.mm_per_deg
            turns.append(Turn(axis.name, turn, move, _about(axis, turn)))
    return tuple(turns), float(np.hypot(*(lean + ways.T @ wanted)))


def _unit(azimuth_deg: float) -> Array:
    a = math.radians(azimuth_deg)
    return np.array([math.cos(a), math.sin(a)])


def _rotated(v: Array, angle_deg: float) -> Array:
    c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    return np.array([c * v[0] - s * v[1], s * v[0] + c * v[1]])


def _onto(lean: Array, azimuth_deg: float) -> float:
    """The smallest turn about the vertical, counter-clockwise positive, that lays the lean along a way."""
    now = math.degrees(math.atan2(lean[1], lean[0]))
    return (azimuth_deg - now + 90.0) % 180.0 - 90.0


_SEEN_FROM = {0: "the right of the table", 90: "behind the table", 180: "the left of the table"} | {
    270: "the front of the table"
}


def _seen_from(azimuth_deg: float) -> str:
    near = round(azimuth_deg / 90.0) * 90 % 360
    exact = abs((azimuth_deg - near + 180.0) % 360.0 - 180.0) < 1.0
    return _SEEN_FROM[near] if exact else f"where {azimuth_deg:.0f}° from +X points"


def _about(axis: MountAxis, turn: float) -> str:
    way = "counter-clockwise" if turn > 0 else "clockwise"
    exit_to = (axis.moves_toward_deg + (0.0 if turn > 0 else 180.0)) % 360.0
    return (
        f"Seen from {_seen_from(axis.about_deg)}, turn the torch {abs(turn):.1f}° {way} about the {axis.name}: "
        f"the jet's exit goes {way_in_words(exit_to)}, away from its lean."
    )


def _about_itself(angle: float, axis: MountAxis) -> str:
    way = "counter-clockwise" if angle > 0 else "clockwise"
    return (
        f"Seen from above, turn the barrel {abs(angle):.0f}° {way} in its clamp: its lean then lies along what "
        f"the {axis.name} can cure."
    )
