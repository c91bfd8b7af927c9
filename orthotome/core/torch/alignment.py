"""The jet's lean from readings of a slug or of squares, and how to set the jet upright.

For one reading of one edge with outward normal n::

    bevel = process of its piece -/+ swirl + lean_x cos n + lean_y sin n + two-fold + edge scatter + error

The lean is known well where the edges read look all ways round. Nothing is believed of it beforehand (its
prior is wide), so that what is answered is what was read; swirl and two-fold keep the trade's ranges.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from orthotome.core.edge.edges import Swirl, good_side, lean_from_components, outward_normal_deg
from orthotome.core.edge.wild import WILD_DEG, Array, likeliest_wild
from orthotome.core.errors import TradeError

KNOWN = 2.45  # sd of each component within which a vector in the plane lies 95 times in 100
_PROCESS_DEG, _LEAN_DEG = 8.0, 8.0  # sd of priors that leave it to the readings
_SWIRL, _TWO_FOLD_DEG = (1.3, 1.3), 0.5
_SCATTER_DEG = (
    (0.15, 0.25),
    (0.3, 0.4),
    (0.5, 0.25),
    (0.8, 0.1),
)  # of one edge, with weights; assumption
_PARALLEL = 1e-6


@dataclass(frozen=True)
class SlugReading:
    """One reading of one edge; ``piece`` tells squares apart that were cut one after the other."""

    side: Literal["right", "left", "both"]
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
    lean = mean[:2]
    sd = float(np.sqrt(np.trace(covariance[:2, :2]) / 2))
    length, toward = lean_from_components(float(lean[0]), float(lean[1]))
    sides = {r.side for r in readings} - {"both"}
    enough = KNOWN * sd <= target_deg
    settled = length <= max(KNOWN * sd, target_deg)
    turns, left_over = ((), length) if settled else _corrections(lean, sd, mount)
    return Alignment(
        length,
        toward,
        sd,
        float(mean[5:].mean()) if len(sides) == 2 else None,
        enough,
        0 if enough else _more_readings(readings, scatter, target_deg),
        turns,
        left_over,
    )


def _posterior(readings: Sequence[SlugReading], swirl: Swirl) -> tuple[Array, Array, float]:
    """Mean and covariance of (lean x, y, swirl, two-fold c, s, process of each piece), mixed over the
    scatter of edges, and that scatter."""
    rows, y, u, edge = _design(readings, swirl)
    pieces = rows.shape[1] - 5
    prior_mean = np.array([0.0, 0.0, _SWIRL[0], 0.0, 0.0, *([0.0] * pieces)])
    sds = [_LEAN_DEG, _LEAN_DEG, _SWIRL[1], _TWO_FOLD_DEG, _TWO_FOLD_DEG, *([_PROCESS_DEG] * pieces)]
    variance = np.array(sds) ** 2
    off = y - rows @ prior_mean
    found = []
    for scatter, weight in _SCATTER_DEG:
        covariance = (rows * variance) @ rows.T + scatter**2 * edge + np.diag(u**2)
        wild, _, log_likelihood = likeliest_wild(covariance, off)
        gain = np.linalg.solve(covariance + np.diag(np.where(wild, WILD_DEG**2, 0.0)), rows * variance).T
        found.append(
            (
                math.log(weight) + log_likelihood,
                prior_mean + gain @ off,
                np.diag(variance) - gain @ (rows * variance),
                scatter,
            )
        )
    weights = np.exp(np.array([f[0] for f in found]) - max(f[0] for f in found))
    weights /= weights.sum()
    mean = sum(w * f[1] for w, f in zip(weights, found, strict=True))
    spread = sum(
        w * (f[2] + np.outer(f[1] - mean, f[1] - mean)) for w, f in zip(weights, found, strict=True)
    )
    scatter = float(sum(w * f[3] for w, f in zip(weights, found, strict=True)))
    return np.asarray(mean), np.asarray(spread), scatter


def _design(readings: Sequence[SlugReading], swirl: Swirl) -> tuple[Array, Array, Array, Array]:
    """Design rows, readings, uncertainties, and 1 where two readings are of one edge."""
    good, pieces = good_side(swirl), sorted({r.piece for r in readings})
    rows = np.zeros((len(readings), 5 + len(pieces)))
    for row, r in zip(rows, readings, strict=True):
        row[5 + pieces.index(r.piece)] = 1.0
        if r.side == "both":
            continue  # the mean of two opposite edges carries neither lean nor swirl
        n = math.radians(outward_normal_deg(r.side, r.heading_deg))
        row[:5] = (
            math.cos(n),
            math.sin(n),
            -1.0 if r.side == good else 1.0,
            math.cos(2 * n),
            math.sin(2 * n),
        )
    places = [(r.piece, r.side, r.heading_deg % 360.0) for r in readings]
    edge = np.array([[float(a == b) for b in places] for a in places])
    return rows, np.array([r.bevel_deg for r in readings]), np.array([r.u_deg for r in readings]), edge


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
    for axis, turn in zip(mount.axes, wanted, strict=True):
        if abs(turn) > sd:  # what is smaller than its own uncertainty is not advised
            move = None if axis.mm_per_deg is None else float(turn) * axis.mm_per_deg
            turns.append(Turn(axis.name, float(turn), move, _about(axis, float(turn))))
    left = lean + ways.T @ wanted
    return tuple(turns), float(np.hypot(*left))


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
        f"the jet's exit goes toward {exit_to:.0f}°, away from its lean."
    )


def _about_itself(angle: float, axis: MountAxis) -> str:
    way = "counter-clockwise" if angle > 0 else "clockwise"
    return (
        f"Seen from above, turn the barrel {abs(angle):.0f}° {way} in its clamp: its lean then lies along what "
        f"the {axis.name} can cure."
    )
