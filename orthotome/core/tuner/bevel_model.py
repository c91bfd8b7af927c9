"""A Bayesian linear model of edge bevel: process, swirl, lean and spread, learned from readings.

One reading ``y`` of one edge with outward normal ``n``, cut at ``x = ln(speed/start)`` and
``z = height - start`` (mm)::

    y = b0 + b1 x + b2 z + b3 x^2 + b4 z^2 + b5 x z         what speed and height can cure
        + s * swirl                                         s = -1 good side, +1 the other, 0 both
        + lean_x cos n + lean_y sin n                       the jet's lean, in the plane
        + two_c cos 2n + two_s sin 2n                       oval bore or unequal axes
        + offsets of earlier parts and plates
        + cut spread + edge spread + reading error

It is linear in the unknowns, so the posterior is Gaussian for given spreads; the spreads run over a
small grid and are weighed by how well each explains the readings. (Standard conjugate results for
Bayesian linear regression; the rank-one cut spread by the Sherman-Morrison formula.)
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.edges import good_side, outward_normal_deg
from orthotome.core.trial.campaign import Campaign, Cut, Series
from orthotome.core.tuner import priors

Array = NDArray[np.float64]

PROCESS = 6  # columns of b0..b5
SWIRL, LEAN_X, LEAN_Y, TWO_C, TWO_S = range(PROCESS, PROCESS + 5)
FIXED = PROCESS + 5  # columns before the offsets of earlier series


def process_columns(x: Array, z: Array) -> Array:
    """Columns of b0..b5 for settings ``x`` and ``z``, shape (n, 6)."""
    return np.stack([np.ones_like(x), x, z, x * x, z * z, x * z], axis=-1)


def edge_columns(sign: Array, normal_deg: Array) -> Array:
    """Columns of swirl, lean and two-fold for edges with that side sign and normal, shape (n, 5)."""
    n = np.radians(normal_deg)
    one = np.abs(sign)  # a mean of two opposite edges (sign 0) carries no lean
    return np.stack([sign, one * np.cos(n), one * np.sin(n), np.cos(2 * n), np.sin(2 * n)], axis=-1)


@dataclass(frozen=True)
class Spread:
    """One point of the spread grid with its weight and the Gaussian posterior it leads to."""

    cut_deg: float
    edge_deg: float
    weight: float
    mean: Array
    root: Array  # covariance = root @ root.T


@dataclass(frozen=True)
class Readings:
    """All readings as arrays: design rows, values, uncertainties, and the cut each belongs to."""

    rows: Array
    bevel_deg: Array
    u_deg: Array
    cut: NDArray[np.int64]
    height_sd_mm: Array  # per cut

    @property
    def count(self) -> int:
        """How many readings there are."""
        return len(self.bevel_deg)


class BevelModel:
    """The posterior after a campaign's cuts.

    ``heights_mm`` and ``height_sd_mm`` are what is known of each cut's true height (a cut under
    height control only nominally has the height it was set to).
    """

    def __init__(self, campaign: Campaign, heights_mm: Array, height_sd_mm: Array) -> None:
        self.campaign = campaign
        self.good_side = good_side(campaign.torch_set.swirl)
        self._offsets = _Offsets(campaign.cuts, campaign.current_series)
        self._scale = priors.slope_scale(campaign.thickness_mm)
        self.x, self.z = self.coordinates(np.array([c.speed_mm_min for c in campaign.cuts]), heights_mm)
        self.readings = self._collect(height_sd_mm)
        self.prior_mean, self.prior_sd = self._prior()
        self.spreads = self._learn()

    def coordinates(self, speed_mm_min: Array, height_mm: Array) -> tuple[Array, Array]:
        """Candidates as the model sees them: ln(speed ratio) and mm from the starting numbers."""
        start = self.campaign.start
        return np.log(speed_mm_min / start.speed_mm_min), height_mm - start.cut_height_mm

    def side_sign(self, side: str) -> float:
        """-1 on the good side, +1 on the other, 0 for a mean of both."""
        if side == "both":
            return 0.0
        return -1.0 if side == self.good_side else 1.0

    def cut_rows(self, index: int, sign: Array, normal_deg: Array) -> Array:
        """Design rows of edges of cut ``index``, shape (n, columns)."""
        n = len(sign)
        process = process_columns(np.full(n, self.x[index]), np.full(n, self.z[index]))
        edge = edge_columns(sign, normal_deg)
        offsets = np.zeros((n, self._offsets.count))
        self._offsets.fill(offsets, edge, index)
        return np.hstack([process, edge, offsets])

    def sample(self, normals: Array, picks: Array) -> tuple[Array, Array, Array]:
        """Posterior draws: (unknowns (S, columns), cut spread (S,), edge spread (S,)).

        ``normals`` are standard normal, shape (S, >= columns); ``picks`` uniform in [0, 1), shape
        (S,), choose the spread grid's point. The caller fixes both, so the answer is repeatable.
        """
        edges = np.cumsum([s.weight for s in self.spreads])
        which = np.minimum(np.searchsorted(edges, picks * edges[-1], side="right"), len(edges) - 1)
        columns = len(self.prior_mean)
        draws = np.empty((len(picks), columns))
        for k, spread in enumerate(self.spreads):
            chosen = which == k
            draws[chosen] = spread.mean + normals[chosen, :columns] @ spread.root.T
        cut = np.array([s.cut_deg for s in self.spreads])[which]
        edge = np.array([s.edge_deg for s in self.spreads])[which]
        return draws, cut, edge

    def _collect(self, height_sd_mm: Array) -> Readings:
        rows: list[Array] = []
        values: list[float] = []
        u: list[float] = []
        cut: list[int] = []
        for i, c in enumerate(self.campaign.cuts):
            if not c.edges:
                continue
            sign = np.array([self.side_sign(e.side) for e in c.edges])
            normal = np.array(
                [
                    outward_normal_deg("right" if e.side == "both" else e.side, e.heading_deg)
                    for e in c.edges
                ]
            )
            rows.append(self.cut_rows(i, sign, normal))
            values.extend(e.bevel_deg for e in c.edges)
            u.extend(e.u_deg for e in c.edges)
            cut.extend([i] * len(c.edges))
        width = FIXED + self._offsets.count
        stacked = np.vstack(rows) if rows else np.empty((0, width))
        return Readings(
            stacked, np.array(values), np.array(u), np.array(cut, dtype=np.int64), height_sd_mm
        )

    def _prior(self) -> tuple[Array, Array]:
        s = self._scale
        pairs = [
            priors.START_BEVEL,
            (priors.SPEED_SLOPE[0] * s, priors.SPEED_SLOPE[1] * s),
            (priors.HEIGHT_SLOPE[0] * s, priors.HEIGHT_SLOPE[1] * s),
            priors.SPEED_BEND,
            priors.HEIGHT_BEND,
            priors.SPEED_HEIGHT_BEND,
            priors.SWIRL,
            priors.LEAN,
            priors.LEAN,
            priors.TWOFOLD,
            priors.TWOFOLD,
            *self._offsets.priors,
        ]
        mean, sd = np.array(pairs).T
        return mean, sd

    def _learn(self) -> list[Spread]:
        found = []
        for cut_deg, cut_weight in priors.CUT_SPREAD_DEG:
            for edge_deg, edge_weight in priors.EDGE_SPREAD_DEG:
                mean, root, log_evidence = self._posterior(cut_deg, edge_deg)
                weight = np.log(cut_weight * edge_weight) + log_evidence
                found.append((cut_deg, edge_deg, weight, mean, root))
        top = max(f[2] for f in found)
        return [Spread(c, e, float(np.exp(w - top)), m, r) for c, e, w, m, r in found]

    def _posterior(self, cut_deg: float, edge_deg: float) -> tuple[Array, Array, float]:
        """Mean, root of the covariance and log evidence for given spreads.

        A cut's readings share its spread: their covariance is D + c 11', whose inverse is
        D^-1 - k D^-1 11' D^-1 with k = c / (1 + c 1'D^-1 1).
        """
        r = self.readings
        precision = np.diag(self.prior_sd**-2.0)
        if r.count == 0:
            return self.prior_mean, np.diag(self.prior_sd), 0.0
        cuts = len(self.campaign.cuts)
        own = 1.0 / (r.u_deg**2 + edge_deg**2)
        shared = cut_deg**2 + (self.prior_mean[2] * r.height_sd_mm) ** 2
        total = np.bincount(r.cut, own, minlength=cuts)
        k = shared / (1.0 + shared * total)
        residual = r.bevel_deg - r.rows @ self.prior_mean
        by_cut = np.zeros((cuts, r.rows.shape[1]))
        np.add.at(by_cut, r.cut, r.rows * own[:, None])
        residual_by_cut = np.bincount(r.cut, residual * own, minlength=cuts)
        information = precision + (r.rows * own[:, None]).T @ r.rows - (by_cut * k[:, None]).T @ by_cut
        pull = r.rows.T @ (own * residual) - by_cut.T @ (k * residual_by_cut)
        lower = np.linalg.cholesky(information)
        root = np.linalg.inv(lower).T
        shift = root @ (root.T @ pull)
        misfit = residual @ (own * residual) - k @ residual_by_cut**2 - pull @ shift
        log_det = (
            2 * np.log(np.diag(lower)).sum()
            + 2 * np.log(self.prior_sd).sum()
            - np.log(own).sum()
            + np.log1p(shared * total).sum()
        )
        return self.prior_mean + shift, root, float(-0.5 * (misfit + log_det))


class _Offsets:
    """Columns for what earlier series differed in; the current series is the one predicted for.

    Parts and plate shift the process; an earlier mount had a lean of its own, so its readings say
    nothing of the present one.
    """

    def __init__(self, cuts: Sequence[Cut], now: Series) -> None:
        self._cuts = cuts
        parts = {c.series.parts for c in cuts} - {now.parts}
        plates = {c.series.plate for c in cuts} - {now.plate}
        mounts = {c.series.mount for c in cuts} - {now.mount}
        self._parts = {name: i for i, name in enumerate(sorted(parts))}
        self._plates = {name: len(parts) + i for i, name in enumerate(sorted(plates))}
        first_mount = len(parts) + len(plates)
        self._mounts = {name: first_mount + 2 * i for i, name in enumerate(sorted(mounts))}
        self.count = first_mount + 2 * len(mounts)
        self.priors = [
            *([priors.PARTS_CHANGE] * len(parts)),
            *([priors.PLATE_CHANGE] * len(plates)),
            *([priors.LEAN] * (2 * len(mounts))),
        ]

    def fill(self, offsets: Array, edge: Array, index: int) -> None:
        """Set cut ``index``'s offset columns; move its lean and two-fold off the present ones."""
        series = self._cuts[index].series
        if series.parts in self._parts:
            offsets[:, self._parts[series.parts]] = 1.0
            edge[:, TWO_C - PROCESS : TWO_S - PROCESS + 1] = 0.0
        if series.plate in self._plates:
            offsets[:, self._plates[series.plate]] = 1.0
        if series.mount in self._mounts:
            at = self._mounts[series.mount]
            lean = slice(LEAN_X - PROCESS, LEAN_Y - PROCESS + 1)
            offsets[:, at : at + 2] = edge[:, lean]
            edge[:, lean] = 0.0
