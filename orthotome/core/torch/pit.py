"""What the readings of one life say: the pit now, the volts it is worth, and how both go on.

Six unknowns of a life (how long it lasts, what a second and an ending are worth, the bend, the scatter, volts over the
life) are drawn by importance sampling about their likeliest values; along each draw the pit, a wander of the volts
and their level when new are a Kalman filter of three. Seeded: the same ledger gives the same answer.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from orthotome.core.torch.wear import TRADE, USUAL_ARC_S, VOLTS_NOISE, LifeEntry, PartsLedger, WearBelief

Array = NDArray[np.float64]

_DRAWS, _KEPT = 3000, 2000
_DEGREES, _WIDER = 6.0, 1.25  # of the proposal's tails; how much wider than the posterior's peak it is
_WANDER_V = (
    1.2  # of the volts beside the pit, over a whole life, one sigma. Assumption: nozzle, lead, plate
)
_ODD = 3.0  # sigma from which on a reading of the volts counts no more than that
_MOST_READINGS = 120
_LEAST_U_MM = 0.01
_STEP = 1e-3  # of the finite differences


@dataclass(frozen=True)
class Unknowns:
    """Draws of what a life is not known by, each array of shape (draws,)."""

    life_work: Array
    start_s: Array
    ending: Array
    bend: Array
    scatter_mm: Array
    life_v: Array


@dataclass(frozen=True)
class LearnedLife:
    """Draws of a life as it stands at its last entry; arrays of shape (draws,)."""

    ledger: PartsLedger
    of: Unknowns
    pit_mm: Array
    rise_v: Array  # of the volts at the same height since the parts were new
    level_v: Array  # of these parts when new, over the ledger's set-point
    work: Array  # until now
    pits: int  # readings of the pit after the first start
    volts: int  # readings of the volts after the first start
    belief: WearBelief = TRADE  # of such parts before the first reading

    @property
    def starts(self) -> int:
        """On the parts now."""
        return self.ledger.entries[-1].starts

    @property
    def v_per_mm(self) -> Array:
        """Rise of the volts per millimetre of pit."""
        return self.of.life_v / self.ledger.limit_mm

    @property
    def work_per_start(self) -> Array:
        """What a start takes with the arc time and the endings that each had so far, or usually has."""
        if self.starts == 0:
            return np.ones_like(self.work)
        return self.work / self.starts

    def more_pit_mm(self, starts: float) -> Array:
        """Mean growth of the pit in so many more starts, used as so far."""
        there = self.work + starts * self.work_per_start
        return _line_mm(self.ledger, self.of, there) - _line_mm(self.ledger, self.of, self.work)

    def grown_mm(self, starts: float) -> Array:
        """Growth in so many more starts with its own scatter, as draws: what a pit may have come to by then."""
        mean = self.more_pit_mm(starts)
        chance = np.random.default_rng(13).standard_normal(len(mean))
        grown: Array = np.maximum(0.0, mean + chance * np.sqrt(self.of.scatter_mm * mean))
        return grown

    def starts_until(self, growth_mm: Array) -> Array:
        """Starts until the mean pit has grown by so much."""
        level = (_line_mm(self.ledger, self.of, self.work) + growth_mm) / self.ledger.limit_mm
        until = self.of.life_work * level ** (1 / self.of.bend)
        left: Array = np.maximum(0.0, (until - self.work) / self.work_per_start)
        return left

    def share_of_rise(self, starts: Array) -> Array:
        """Share of today's rise that had come by then, shape (draws, n): along the line of the pit."""
        at = np.array([e.starts for e in self.ledger.entries], dtype=float)
        works = _work(self.ledger.entries, self.of)
        then = np.array([np.interp(starts, at, w) for w in works])
        share: Array = (then / np.maximum(self.work, 1e-9)[:, None]) ** self.of.bend[:, None]
        return share


@lru_cache(maxsize=128)
def learn(ledger: PartsLedger, belief: WearBelief = TRADE) -> LearnedLife:
    """The posterior of a checked ledger; kept, since screens ask again and again."""
    readings = _readings(ledger)
    z = _draws(readings, ledger, belief)
    of = _unknowns(z, belief)
    _, mean, cov = _filtered(readings, ledger, of)
    root = np.linalg.cholesky(np.moveaxis(cov, 2, 0) + 1e-10 * np.eye(3))
    normal = np.random.default_rng(5).standard_normal((len(z), 3))
    pit, wander, level = mean + np.einsum("nij,nj->in", root, normal)
    after = [e for e in ledger.entries if e.starts > 0]
    return LearnedLife(
        ledger,
        of,
        pit_mm=np.maximum(0.0, pit),
        rise_v=of.life_v / ledger.limit_mm * pit + wander,
        level_v=level,
        work=_work(ledger.entries[-1:], of)[:, -1],
        pits=sum(e.pit_mm is not None for e in after),
        volts=sum(e.arc_voltage_v is not None for e in after),
        belief=belief,
    )


def _unknowns(z: Array, belief: WearBelief) -> Unknowns:
    """Draws of standard normals, shape (draws, 6), as what they stand for."""
    believed = (
        belief.life_work,
        belief.start_s,
        belief.ending,
        belief.bend,
        belief.scatter_mm,
        belief.life_v,
    )
    return Unknowns(*(median * np.exp(spread * z[:, i]) for i, (median, spread) in enumerate(believed)))


def _work(entries: Sequence[LifeEntry], of: Unknowns) -> Array:
    """Work until each entry, shape (draws, entries). Starts without any arc time had their usual one: nobody noted it."""
    starts, arc, off = (
        np.array([float(getattr(e, name)) for e in entries])
        for name in ("starts", "arc_on_s", "off_plate")
    )
    arc = np.where(arc > 0, arc, USUAL_ARC_S * starts)
    seconds = of.start_s[:, None]
    work: Array = (starts + arc / seconds) / (1 + USUAL_ARC_S / seconds) + off * of.ending[:, None]
    return work


def _line_mm(ledger: PartsLedger, of: Unknowns, work: Array) -> Array:
    """The line that the pit grows along."""
    line: Array = ledger.limit_mm * (np.maximum(work, 0.0) / of.life_work) ** of.bend
    return line


@dataclass(frozen=True)
class _Reading:
    """What was read at one moment: pit, and rise of the volts at the cut height, each with its sd. None: not read."""

    entry: LifeEntry
    pit: tuple[float, float] | None
    rise: tuple[float, float] | None


def _readings(ledger: PartsLedger) -> list[_Reading]:
    """The moments at which something was read, and the last one; many are pooled, since a pit is slow."""
    found = [
        _Reading(e, None if e.pit_mm is None else (e.pit_mm, max(e.u_mm, _LEAST_U_MM)), _rise(ledger, e))
        for e in ledger.entries
        if e.pit_mm is not None or e.arc_voltage_v is not None or e is ledger.entries[-1]
    ]
    together = -(-len(found) // _MOST_READINGS)
    return [_pooled(found[i : i + together]) for i in range(0, len(found), together)]


def _rise(ledger: PartsLedger, e: LifeEntry) -> tuple[float, float] | None:
    if e.arc_voltage_v is None:
        return None
    lift = 0.0 if e.height_mm is None else e.height_mm - ledger.cut_height_mm
    return e.arc_voltage_v - ledger.slope_v_per_mm * lift - ledger.set_point_v, VOLTS_NOISE


def _pooled(some: list[_Reading]) -> _Reading:
    pits = [r.pit for r in some if r.pit is not None]
    rises = [r.rise for r in some if r.rise is not None]
    return _Reading(some[-1].entry, _mean(pits), _mean(rises))


def _mean(read: list[tuple[float, float]]) -> tuple[float, float] | None:
    if not read:
        return None
    return sum(v for v, _ in read) / len(read), math.sqrt(sum(u**2 for _, u in read)) / len(read)


def _filtered(readings: list[_Reading], ledger: PartsLedger, of: Unknowns) -> tuple[Array, Array, Array]:
    """Log likelihood (draws,), mean (3, draws) and covariance (3, 3, draws) of (pit, wander, level) at the last."""
    works = _work([r.entry for r in readings], of)
    n = len(works)
    mean, cov, said = np.zeros((3, n)), np.zeros((3, 3, n)), np.zeros(n)
    cov[2, 2] = ledger.level_sd_v**2
    sees_pit = np.stack([np.ones(n), np.zeros(n), np.zeros(n)])
    sees_rise = np.stack([of.life_v / ledger.limit_mm, np.ones(n), np.ones(n)])
    line, work = np.zeros(n), np.zeros(n)
    for i, reading in enumerate(readings):
        there = _line_mm(ledger, of, works[:, i])
        mean[0] += there - line
        cov[0, 0] += of.scatter_mm * (there - line)
        cov[1, 1] += _WANDER_V**2 * (works[:, i] - work) / of.life_work
        line, work = there, works[:, i]
        if reading.pit is not None:
            mean, cov, more = _taken(mean, cov, sees_pit, *reading.pit, odd=np.inf)
            said += more
        if reading.rise is not None:
            mean, cov, more = _taken(mean, cov, sees_rise, *reading.rise, odd=_ODD)
            said += more
    return said, mean, cov


def _taken(
    mean: Array, cov: Array, seen: Array, value: float, sd: float, *, odd: float
) -> tuple[Array, Array, Array]:
    """Take one reading in; one farther off than ``odd`` sigma counts as if it were that far off."""
    toward = np.einsum("ijn,jn->in", cov, seen)
    spread = np.einsum("in,in->n", seen, toward) + sd**2
    off = value - np.einsum("in,in->n", seen, mean)
    spread = np.maximum(spread, (off / odd) ** 2)
    gain = toward / spread
    said = -0.5 * (off**2 / spread + np.log(spread))
    return mean + gain * off, cov - np.einsum("in,jn->ijn", gain, toward), said


def _draws(readings: list[_Reading], ledger: PartsLedger, belief: WearBelief) -> Array:
    """Draws of the six standard normals given the readings, shape (kept, 6)."""

    from scipy.optimize import minimize  # noqa: PLC0415 (start-up time)

    def weight(z: Array) -> Array:
        told, _, _ = _filtered(readings, ledger, _unknowns(z, belief))
        weighed: Array = told - 0.5 * (z**2).sum(axis=1)
        return weighed

    size = 6
    around = np.concatenate([np.zeros((1, size)), _STEP * np.eye(size), -_STEP * np.eye(size)])

    def down(z: Array) -> tuple[float, Array]:
        at = -weight(z + around)
        return float(at[0]), (at[1 : 1 + size] - at[1 + size :]) / (2 * _STEP)

    peak = minimize(down, np.zeros(size), jac=True, method="L-BFGS-B", bounds=[(-4.0, 4.0)] * size).x
    wide = 20 * _STEP
    slopes = np.array([down(peak + wide * e)[1] - down(peak - wide * e)[1] for e in np.eye(size)])
    curve = (slopes + slopes.T) / (4 * wide)
    values, ways = np.linalg.eigh(curve)
    root = ways / np.sqrt(
        np.clip(values, 0.5, None)
    )  # no narrower than is curved, no wider than believed
    chance = np.random.default_rng(3)
    normal = chance.standard_normal((_DRAWS, size))
    heavy = np.sqrt(_DEGREES / chance.chisquare(_DEGREES, _DRAWS))
    z = peak + _WIDER * heavy[:, None] * (normal @ root.T)
    proposed = (
        -0.5 * (_DEGREES + size) * np.log1p((heavy[:, None] * normal).__pow__(2).sum(axis=1) / _DEGREES)
    )
    log = weight(z) - proposed
    share = np.exp(log - log.max())
    places = (np.arange(_KEPT) + 0.5) / _KEPT
    kept: Array = z[np.minimum(np.searchsorted(np.cumsum(share) / share.sum(), places), _DRAWS - 1)]
    return kept
