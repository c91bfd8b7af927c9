"""A Bayesian linear model of edge bevel: process, swirl, lean and spread, learned from readings.

One reading ``y`` of one edge with outward normal ``n``, cut at ``x = ln(speed/start)`` and
``z = height - start`` (mm)::

    y = b0 + b1 x + b2 z + b3 x^2 + b4 z^2 + b5 x z         what speed and height can cure
        + s * swirl                                         s = -1 good side, +1 the other, 0 both
        + lean_x cos n + lean_y sin n                       the jet's lean, in the plane
        + two_c cos 2n + two_s sin 2n                       oval bore or unequal axes
        + wear * (starts - starts now) / 100                what the parts did meanwhile
        + offsets of earlier parts and plates (and the swirl of earlier parts whose ring was the other hand)
        + cut spread + edge spread + reading error

It is linear in the unknowns, so for given spreads, a given gauge and given wild readings the posterior is
Gaussian. Spreads and the gauge's real error run over a small grid. The torch is well kept, or knocked (a wide
prior of its lean), or its bore is oval (a wide one of the two-fold pattern). A reading is sound, or wild (gauge on a
burr, wrong edge, wrong sign): which are wild is found greedily for each point of the grid, and the doubtful
ones are kept both ways (``core.edge.wild``). Every such *hypothesis* is weighed by how well it explains the readings.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import product
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.columns import edge_columns, read_normal_deg, same_edge, side_sign
from orthotome.core.edge.edges import ReadSide, Side, good_side, other_side
from orthotome.core.edge.wild import WILD_DEG, Array, Flags, likeliest_wild, opened, weighed
from orthotome.core.trial.campaign import Campaign, Cut, Series
from orthotome.core.tuner import priors
from orthotome.core.tuner.beliefs import Beliefs
from orthotome.core.tuner.unknowns import (
    FIXED,
    LEAN_X,
    LEAN_Y,
    PROCESS,
    SWIRL,
    TWO_C,
    TWO_S,
    WEAR,
    process_columns,
)

_DOUBTFUL = 5  # readings that each grid point holds both sound and wild, at the most
_NOT_DOUBTED = -3.5  # log odds under which a reading's other kind is not followed up
_NOT_FOLLOWED = -5.0  # log weight under the heaviest at which a grid point's doubts are not followed
_NOT_OPENED = -4.0  # log odds against a well kept torch under which the other is left out
OTHER_HAND_DEG = -0.3  # a swirl this far to the wrong side is more than an even jet
_NEGLIGIBLE = 2e-3  # share of the weight under which a hypothesis is dropped
# More readings than this are weighed on the coarse grid: they know their spread by themselves.
_MANY_READINGS = 220


@dataclass(frozen=True)
class Spreads:
    """What one point of the grid supposes: spread from cut to cut and edge to edge, in degrees, and how
    many times its stated uncertainty the gauge really errs."""

    cut_deg: float
    edge_deg: float
    gauge: float


Torch = Literal["kept", "knocked", "oval"]


@dataclass(frozen=True)
class Hypothesis:
    """Spreads, how the torch is, and the readings held wild (shape (readings,)), with its weight and the Gaussian
    posterior."""

    spreads: Spreads
    torch: Torch
    wild: Flags
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
    place: tuple[tuple[ReadSide, float], ...]  # side and heading
    height_sd_mm: Array  # per cut

    @cached_property
    def same_edge(self) -> Array:
        """1 where two readings were taken on the same edge of the same cut, shape (count, count)."""
        return same_edge(list(zip(self.cut.tolist(), self.place, strict=True)))

    @property
    def count(self) -> int:
        """How many readings there are."""
        return len(self.bevel_deg)


class BevelModel:
    """The posterior after a campaign's cuts.

    ``heights_mm`` and ``height_sd_mm`` are what is known of each cut's true height (a cut under
    height control only nominally has the height it was set to).
    """

    def __init__(
        self,
        campaign: Campaign,
        heights_mm: Array,
        height_sd_mm: Array,
        beliefs: Beliefs,
    ) -> None:
        self.campaign = campaign
        self.beliefs = beliefs
        self.good_side = good_side(campaign.torch_set.swirl)
        self._offsets = _Offsets(campaign.cuts, campaign.current_series, self.good_side)
        self.x, self.z = self.coordinates(np.array([c.speed_mm_min for c in campaign.cuts]), heights_mm)
        self.readings = self._collect(height_sd_mm)
        self.prior_mean, self.prior_covariance = self._prior()
        self._shares = _shares(beliefs)
        self._expected = self.readings.rows @ self.prior_covariance @ self.readings.rows.T
        self.hypotheses = self._learn()

    def coordinates(self, speed_mm_min: Array, height_mm: Array) -> tuple[Array, Array]:
        """Candidates as the model sees them: ln(speed ratio) and mm from the starting numbers."""
        start = self.campaign.start
        return np.log(speed_mm_min / start.speed_mm_min), height_mm - start.cut_height_mm

    def side_sign(self, side: ReadSide) -> float:
        """-1 on the good side, +1 on the other, 0 for a mean of both."""
        return side_sign(side, self.good_side)

    def cut_rows(self, index: int, sign: Array, normal_deg: Array) -> Array:
        """Design rows of edges of cut ``index``, shape (n, columns)."""
        n = len(sign)
        process = process_columns(np.full(n, self.x[index]), np.full(n, self.z[index]))
        edge = edge_columns(sign, normal_deg)
        offsets = np.zeros((n, self._offsets.count))
        self._offsets.fill(offsets, edge, index)
        return np.hstack([process, edge, np.full((n, 1), self._worn(index)), offsets])

    def _worn(self, index: int) -> float:
        """Hundreds of starts from cut ``index`` to now, negative."""
        return 10 * self.campaign.thousands_ago(self.campaign.cuts[index])

    def sample(self, normals: Array, picks: Array) -> tuple[Array, NDArray[np.int64]]:
        """Posterior draws: (unknowns (S, columns), which hypothesis each is of (S,)).

        ``normals`` are standard normal, shape (S, >= columns); ``picks`` uniform in [0, 1), shape
        (S,), choose the hypothesis. The caller fixes both, so the answer is repeatable.
        """
        edges = np.cumsum([h.weight for h in self.hypotheses])
        at = np.searchsorted(edges, picks * edges[-1], side="right")
        which = np.minimum(at, len(edges) - 1)
        columns = len(self.prior_mean)
        draws = np.empty((len(picks), columns))
        for k, hypothesis in enumerate(self.hypotheses):
            chosen = which == k
            if chosen.any():
                draws[chosen] = hypothesis.mean + normals[chosen, :columns] @ hypothesis.root.T
        return draws, which

    @property
    def wild_chances(self) -> Array:
        """Chance of each reading that it is wild, shape (readings,)."""
        weights = np.array([h.weight for h in self.hypotheses])
        flags = np.array([h.wild for h in self.hypotheses], dtype=np.float64)
        return np.asarray(weights @ flags.reshape(len(weights), -1) / weights.sum())

    def _collect(self, height_sd_mm: Array) -> Readings:
        rows: list[Array] = []
        values: list[float] = []
        u: list[float] = []
        cut: list[int] = []
        place: list[tuple[ReadSide, float]] = []
        for i, c in enumerate(self.campaign.cuts):
            if not c.edges:
                continue
            sign = np.array([self.side_sign(e.side) for e in c.edges])
            normal = np.array([read_normal_deg(e.side, e.heading_deg) for e in c.edges])
            rows.append(self.cut_rows(i, sign, normal))
            values.extend(e.bevel_deg for e in c.edges)
            u.extend(e.u_deg for e in c.edges)
            cut.extend([i] * len(c.edges))
            place.extend((e.side, e.heading_deg % 360.0) for e in c.edges)
        width = FIXED + self._offsets.count
        stacked = np.vstack(rows) if rows else np.empty((0, width))
        return Readings(
            stacked,
            np.array(values),
            np.array(u),
            np.array(cut, dtype=np.int64),
            tuple(place),
            height_sd_mm,
        )

    def _prior(self) -> tuple[Array, Array]:
        """Mean and covariance of all unknowns before the first cut."""
        b = self.beliefs
        more_mean, more_sd = np.array([priors.WEAR, *self._offsets.priors]).T
        mean = np.concatenate([b.mean, more_mean])
        covariance = np.diag(np.concatenate([np.zeros(WEAR), more_sd**2]))
        covariance[:WEAR, :WEAR] = b.covariance
        return mean, covariance

    @property
    def prior_sd(self) -> Array:
        """Standard deviation of each unknown before the first cut."""
        return np.asarray(np.sqrt(np.diag(self.prior_covariance)))

    def _learn(self) -> list[Hypothesis]:
        """Every hypothesis worth its weight."""
        none = np.zeros(self.readings.count, dtype=bool)
        off = self.readings.bevel_deg - self.readings.rows @ self.prior_mean
        found: list[_Supposed] = []
        doubts: list[Array] = []
        for spreads, share in self._grid():
            for torch, precision, likelihood in self._torches(spreads, off):
                wild, odds, log_likelihood = none, off, 0.0
                if self.readings.count:
                    wild, odds, log_likelihood = likeliest_wild(precision, likelihood, off)
                doubts.append(odds)
                log_weight = float(np.log(share * self._shares[torch])) + log_likelihood
                found.append(_Supposed(spreads, torch, wild, log_weight))
        top = max(s.log_weight for s in found)
        for supposed, odds in zip(tuple(found), doubts, strict=True) if self.readings.count else ():
            if supposed.log_weight > top + _NOT_FOLLOWED:
                found += _other_way(supposed, odds)
        # A reading the other way may weigh far more than all that greed found: beside it, the rest is nothing.
        top = max(s.log_weight for s in found)
        weights = np.exp([s.log_weight - top for s in found])
        worth = weights >= _NEGLIGIBLE * weights.sum()
        return [
            Hypothesis(s.spreads, s.torch, s.wild, float(w), *self._posterior(s))
            for s, w, kept in zip(found, weights, worth, strict=True)
            if kept
        ]

    def _torches(self, spreads: Spreads, off: Array) -> Iterator[tuple[Torch, Array, float]]:
        """Each way the torch may be, with the precision of all readings and their log likelihood, all sound.

        A torch that is not well kept is left out where the readings speak clearly against it.
        """
        none = np.zeros(self.readings.count, dtype=bool)
        precision, log_likelihood = weighed(self._covariance(spreads, none), off)
        yield "kept", precision, log_likelihood
        for torch, columns, sd in _WIDE:
            more = self._opened_by(columns[0], sd)
            gain, wider = opened(precision, off, self.readings.rows[:, columns], more)
            if gain + np.log(self._shares[torch] / self._shares["kept"]) > _NOT_OPENED:
                yield torch, wider, log_likelihood + gain

    def _grid(self) -> Iterator[tuple[Spreads, float]]:
        coarse = self.readings.count > _MANY_READINGS
        grids = (self.beliefs.cut_spread, self.beliefs.edge_spread, self.beliefs.gauge)
        for (c, wc), (e, we), (g, wg) in product(*(g[1::2] if coarse else g for g in grids)):
            yield Spreads(c, e, g), wc * we * wg

    def _covariance(self, spreads: Spreads, wild: Flags) -> Array:
        """Covariance of all readings under a hypothesis, prior and spreads together."""
        r = self.readings
        height = (self.prior_mean[2] * r.height_sd_mm[r.cut]) ** 2
        together = (r.cut[:, None] == r.cut[None, :]) * (spreads.cut_deg**2 + height)
        own = (spreads.gauge * r.u_deg) ** 2 + np.where(wild, WILD_DEG**2, 0.0)
        found: Array = self._expected + together + spreads.edge_deg**2 * r.same_edge + np.diag(own)
        return found

    def _opened_by(self, column: int, sd: float) -> float:
        """The variance that a torch which is not well kept adds to what is believed of an unknown."""
        return max(sd**2 - float(self.prior_covariance[column, column]), 1e-6)

    def _posterior(self, supposed: "_Supposed") -> tuple[Array, Array]:
        """Mean, and root of the covariance, of the unknowns under a hypothesis."""
        r, believed = self.readings, self.prior_covariance
        for torch, columns, sd in _WIDE:
            if torch == supposed.torch:
                believed = believed.copy()
                for column in columns:
                    believed[column, column] += self._opened_by(column, sd)
        if r.count == 0:
            return self.prior_mean, _root(believed)
        seen = self._covariance(supposed.spreads, supposed.wild)
        seen = seen + r.rows @ (believed - self.prior_covariance) @ r.rows.T
        together = r.rows @ believed
        gain = np.linalg.solve(seen, together).T
        mean = self.prior_mean + gain @ (r.bevel_deg - r.rows @ self.prior_mean)
        return mean, _root(believed - gain @ together)


def _root(covariance: Array) -> Array:
    """A root of a covariance: root @ root.T gives it back."""
    values, vectors = np.linalg.eigh((covariance + covariance.T) / 2)
    return np.asarray(vectors * np.sqrt(np.maximum(values, 0.0)))


@dataclass(frozen=True)
class _Supposed:
    """A hypothesis before its posterior is worked out."""

    spreads: Spreads
    torch: Torch
    wild: Flags
    log_weight: float


def _shares(beliefs: Beliefs) -> dict[Torch, float]:
    """How likely each way is that the torch may be."""
    kept = 1.0 - beliefs.knocked_share - beliefs.oval_share
    return {"kept": kept, "knocked": beliefs.knocked_share, "oval": beliefs.oval_share}


# Which unknowns a torch that is not well kept opens, and how far (sd, deg).
_WIDE: tuple[tuple[Torch, list[int], float], ...] = (
    ("knocked", [LEAN_X, LEAN_Y], priors.KNOCKED_LEAN_SD),
    ("oval", [TWO_C, TWO_S], priors.OVAL_SD),
)


def _other_way(of: _Supposed, odds: Array) -> Iterator[_Supposed]:
    """A hypothesis with each of its doubtful readings the other way, sound or wild."""
    for i in np.argsort(-odds, kind="stable")[:_DOUBTFUL]:
        if odds[i] > _NOT_DOUBTED:
            other = of.wild.copy()
            other[i] = ~other[i]
            yield replace(of, wild=other, log_weight=of.log_weight + float(odds[i]))


class _Offsets:
    """Columns for what earlier series differed in; the current series is the one predicted for.

    Parts and plate shift the process; an earlier mount had a lean of its own, and earlier parts a two-fold pattern, so
    their readings say nothing of the present ones. Swirl outlives a change of parts, but for parts whose ring was of the
    other hand: theirs is their own.
    """

    def __init__(self, cuts: Sequence[Cut], now: Series, good: Side) -> None:
        self._cuts = cuts
        parts = {c.series.parts for c in cuts} - {now.parts}
        plates = {c.series.plate for c in cuts} - {now.plate}
        mounts = {c.series.mount for c in cuts} - {now.mount}
        self._parts = {name: i for i, name in enumerate(sorted(parts))}
        self._plates = {name: len(parts) + i for i, name in enumerate(sorted(plates))}
        first_mount = len(parts) + len(plates)
        first_bore = first_mount + 2 * len(mounts)
        self._mounts = {name: first_mount + 2 * i for i, name in enumerate(sorted(mounts))}
        self._bores = {name: first_bore + 2 * i for i, name in enumerate(sorted(parts))}
        first_swirl = first_bore + 2 * len(parts)
        other_hand = {
            p for p in parts if _of_the_other_hand([c for c in cuts if c.series.parts == p], good)
        }
        self._swirls = {name: first_swirl + i for i, name in enumerate(sorted(other_hand))}
        self.count = first_swirl + len(other_hand)
        self.priors = [
            *([priors.PARTS_CHANGE] * len(parts)),
            *([priors.PLATE_CHANGE] * len(plates)),
            *([priors.EARLIER_LEAN] * (2 * len(mounts))),
            *([priors.EARLIER_TWOFOLD] * (2 * len(parts))),
            *([priors.OTHER_HAND] * len(other_hand)),
        ]

    def fill(self, offsets: Array, edge: Array, index: int) -> None:
        """Set cut ``index``'s offset columns; move its lean and two-fold off the present ones."""
        series = self._cuts[index].series
        if series.parts in self._parts:
            offsets[:, self._parts[series.parts]] = 1.0
            self._moved(offsets, edge, self._bores[series.parts], TWO_C - PROCESS)
        if series.parts in self._swirls:
            self._moved(offsets, edge, self._swirls[series.parts], SWIRL - PROCESS, 1)
        if series.plate in self._plates:
            offsets[:, self._plates[series.plate]] = 1.0
        if series.mount in self._mounts:
            self._moved(offsets, edge, self._mounts[series.mount], LEAN_X - PROCESS)

    @staticmethod
    def _moved(offsets: Array, edge: Array, to: int, at: int, columns: int = 2) -> None:
        """Columns of ``edge`` from ``at`` into the offsets from ``to``."""
        offsets[:, to : to + columns] = edge[:, at : at + columns]
        edge[:, at : at + columns] = 0.0


def _of_the_other_hand(cuts: Sequence[Cut], good: Side) -> bool:
    """Whether the side that should be the squarer was the worse one, by all edges that were read with these parts."""
    halves = []
    for cut in cuts:
        read = {
            side: [e.bevel_deg for e in cut.edges if e.side == side] for side in (good, other_side(good))
        }
        if all(read.values()):
            this, that = (float(np.mean(read[s])) for s in (good, other_side(good)))
            halves.append((that - this) / 2)
    return bool(halves) and float(np.mean(halves)) < OTHER_HAND_DEG
