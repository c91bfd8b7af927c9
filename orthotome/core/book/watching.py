"""Watching a proven recipe: what spot checks say, when to check again, and what to do once it has moved.

``bevel = proven + drift * starts / 1000 + step (once, at an unknown check) + spread + error of the gauge``

Every moment at which the step may have come is a Gaussian regression of its own; they are weighed by how well they
foresaw the checks. "Moved" is the chance that the mean is past the recipe's limit now, whatever one reading says.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from orthotome.core.doubts import Doubt, Likely, doubt, likely_kerf
from orthotome.core.quantities import length, unit_in_kept, volts
from orthotome.core.torch.forecast import in_tens
from orthotome.core.torch.wear import BEVEL_PER_100

State = Literal["not_checked", "still_holds", "drifting", "moved"]

STATE_WORDS: dict[State, str] = {
    "not_checked": "not checked yet",
    "still_holds": "still holds",
    "drifting": "drifting",
    "moved": "moved",
}

SPREAD_DEG = 0.4
"""Of one edge from cut to cut, one sigma, where the proof does not say. Assumption."""
_PROVEN_SD_DEG = 0.4
_STEP_CHANCE = 0.06  # that something was knocked or changed between two checks. Assumption
_STEP_DEG = 2.5
_DRIFT_SD = 10 * BEVEL_PER_100[1]  # deg per 1000 starts, and as much again for what else wears
_MOVED, _DRIFTS = 0.6, 0.85
_AHEAD = 3000
# From what was proven; more is asked about before it is kept. Assumptions.
_TIMES_LIMIT, _WELL_OFF_DEG, _NEAR_V = 3.0, 6.0, 18.0
_KNOCKS_PER_START = 1 / 2500  # beside wear. Assumption


@dataclass(frozen=True)
class SpotCheck:
    """One check: starts of the table since the proof, the edge farthest from square with its error, what else was
    read. None: not read."""

    starts: int
    bevel_deg: float | None
    u_deg: float = 0.4
    arc_voltage_v: float | None = None  # at a set height
    kerf_mm: float | None = None
    dross_grade: int | None = None


@dataclass(frozen=True)
class Promise:
    """What a recipe promises: its limit either way, the bevel of its proof, the worst dross."""

    limit_deg: float
    proven_deg: float
    dross_grade: int


def square_in_words(edges_deg: Sequence[float]) -> str:
    """A whole square that was read as a check, for its note."""
    return f"Square: {', '.join(f'{b:+.1f}°' for b in edges_deg)}."


def doubts_of_check(
    promise: Promise, check: SpotCheck, proven_v: float | None, kerf_mm: float
) -> tuple[Doubt, ...]:
    """What to ask of a check's numbers before it is kept, against what was proven."""
    off = max(_TIMES_LIMIT * promise.limit_deg, _WELL_OFF_DEG)
    bevel = Likely(
        promise.proven_deg - off,
        promise.proven_deg + off,
        promise.proven_deg,
        f"It was proven at {promise.proven_deg:+.1f}°",
    )
    found: list[tuple[str, str | None]] = []
    if check.bevel_deg is not None:
        found.append(("bevel_deg", doubt(check.bevel_deg, bevel, "{:+.1f}°".format)))
    if check.arc_voltage_v is not None and proven_v is not None:
        near = Likely(
            proven_v - _NEAR_V, proven_v + _NEAR_V, proven_v, f"It was proven at {volts(proven_v)}"
        )
        found.append(("arc_voltage_v", doubt(check.arc_voltage_v, near, volts)))
    if check.kerf_mm is not None:
        near = likely_kerf(kerf_mm, f"It was proven with {length(kerf_mm)}")
        asked = doubt(check.kerf_mm, near, length, shown_in=unit_in_kept("length"))
        found.append(("kerf_mm", asked))
    return tuple(Doubt(field, asked) for field, asked in found if asked)


@dataclass(frozen=True)
class Watched:
    """What the checks come to. Bevel is that of the mean now, with its sd."""

    state: State
    chance_moved: float
    bevel_deg: float | None
    sd_deg: float | None
    drift_per_1000_deg: float | None
    due_at_starts: int | None
    moved_since: int | None  # starts of the check before which a step most likely came; None: no step
    says: str


def watch(
    promise: Promise, checks: Sequence[SpotCheck], starts_now: int, trim_v: float = 0.0
) -> Watched:
    """The state of a recipe ``starts_now`` after its proof; ``trim_v`` is what its set-point is behind by."""
    from scipy.special import ndtr  # noqa: PLC0415 (start-up time)

    read = [c for c in checks if c.bevel_deg is not None]
    if not read:
        return Watched("not_checked", 0.0, None, None, None, None, None, _NOT_CHECKED)
    found = _weighed(promise, read)
    shares = np.array([m.share for m in found])
    at_last = float(read[-1].starts)
    means = np.array([m.at(at_last)[0] for m in found])
    sds = np.array([m.at(at_last)[1] for m in found])
    mean = float(shares @ means)
    sd = math.sqrt(max(0.0, float(shares @ (sds**2 + means**2)) - mean**2))
    outside = float(shares @ _outside(means, sds, promise.limit_deg))
    drift = float(sum(m.share * m.mean[1] for m in found))
    drift_sd = math.sqrt(float(sum(m.share * m.cov[1, 1] for m in found)))
    steps = {m.step_at: m.share for m in found if m.step_at is not None}
    step_at = max(steps, key=lambda k: steps[k]) if sum(steps.values()) > 0.5 else None
    due = _due(found, promise.limit_deg, at_last)
    drifts = float(ndtr(abs(drift) / max(drift_sd, 1e-9))) >= _DRIFTS and due is not None
    dross = read[-1].dross_grade is not None and read[-1].dross_grade > promise.dross_grade
    state: State = "moved" if outside >= _MOVED or dross else "drifting" if drifts else "still_holds"
    says = _says(state, outside, due, mean, promise, trim_v, dross, starts_now)
    return Watched(state, outside, mean, sd, drift, due if state != "moved" else None, step_at, says)


_NOT_CHECKED = (
    "Nobody has read a piece against it since it was proven: one square, or one edge of a part, tells whether it "
    "still holds."
)


@dataclass(frozen=True)
class _Story:
    """One story of how the bevel went: with a step before the check at ``step_at``, or without one."""

    step_at: int | None
    share: float
    mean: "np.ndarray[tuple[int], np.dtype[np.float64]]"  # level, drift per 1000, step
    cov: "np.ndarray[tuple[int, int], np.dtype[np.float64]]"

    def at(self, starts: float) -> tuple[float, float]:
        """Mean bevel, and its sd, so many starts after the proof."""
        stepped = self.step_at is not None and starts >= self.step_at
        row = np.array([1.0, starts / 1000, 1.0 if stepped else 0.0])
        return float(row @ self.mean), math.sqrt(float(row @ self.cov @ row))


def _weighed(promise: Promise, read: Sequence[SpotCheck]) -> list[_Story]:
    """Every story with its share, from how well it foresaw the checks."""
    chances: dict[int | None, float] = {
        None: (1 - _STEP_CHANCE) ** len(read),
        **{c.starts: _STEP_CHANCE for c in read},
    }
    stories, logs = [], []
    for step_at, chance in chances.items():
        prior_sd = np.array([_PROVEN_SD_DEG, _DRIFT_SD, _STEP_DEG if step_at is not None else 1e-6])
        mean, cov, log = np.array([promise.proven_deg, 0.0, 0.0]), np.diag(prior_sd**2), math.log(chance)
        for c in read:
            stepped = step_at is not None and c.starts >= step_at
            row = np.array([1.0, c.starts / 1000, 1.0 if stepped else 0.0])
            variance = float(row @ cov @ row) + c.u_deg**2 + SPREAD_DEG**2
            off = (c.bevel_deg or 0.0) - float(row @ mean)
            gain = cov @ row / variance
            mean, cov = mean + gain * off, cov - np.outer(gain, row @ cov)
            log -= 0.5 * (off**2 / variance + math.log(variance))
        stories.append((step_at, mean, cov))
        logs.append(log)
    shares = np.exp(np.array(logs) - max(logs))
    shares /= shares.sum()
    return [
        _Story(step_at, float(s), mean, cov)
        for (step_at, mean, cov), s in zip(stories, shares, strict=True)
    ]


def _outside(mean: "np.ndarray", sd: "np.ndarray", limit: float) -> "np.ndarray":
    """Chance that a mean lies past the limit, either way."""
    from scipy.special import ndtr  # noqa: PLC0415 (start-up time)

    wide = np.maximum(sd, 1e-6)
    return np.asarray(ndtr((mean - limit) / wide) + ndtr((-limit - mean) / wide))


def _due(found: Sequence[_Story], limit: float, last: float) -> int | None:
    """Starts after the proof at which the mean is as likely past its limit as not; None: not soon."""
    shares = np.array([m.share for m in found])
    for ahead in range(0, _AHEAD, 25):
        at = [m.at(last + ahead) for m in found]
        out = _outside(np.array([a[0] for a in at]), np.array([a[1] for a in at]), limit)
        if float(shares @ out) >= 0.5:
            return round(last + ahead)
    return None


def _says(  # noqa: PLR0917 (one sentence of one state)
    state: State,
    outside: float,
    due: int | None,
    mean: float,
    promise: Promise,
    trim_v: float,
    dross: bool,
    starts_now: int,
) -> str:
    chance = f"{round(100 * outside)} in 100 that it has moved past {promise.limit_deg:g} degrees"
    if state == "moved":
        first = (
            f"raise the set-point by {volts(trim_v)} first" if trim_v > 0 else "trim the height first"
        )
        what = "Dross that it promised not to leave" if dross and outside < _MOVED else f"{chance}"
        return f"{what}. Re-tune only height: {first} and read one square; speed and the rest stay as proven."
    if state == "drifting" and due is not None:
        left = max(0, due - starts_now)
        when = "about now" if left == 0 else f"at about {in_tens(left)} more starts"
        return f"The edges drift toward the limit: due {when}. {chance[0].upper()}{chance[1:]}."
    return f"The edges are where they were proven, {mean:+.1f} degrees; {chance}."


def starts_between(
    check_cost: float, bad_part_cost: float, starts_each: float, starts_until: int | None
) -> int:
    """Parts between two checks at which checking and bad parts cost the same: sqrt(2 c / (b rate)).

    ``rate`` is how often a part goes bad unnoticed: the starts that each takes, over the starts until wear moves the
    recipe, and what is knocked besides. A part that goes bad just after a check is found half an interval later.
    """
    per_start = _KNOCKS_PER_START + (1 / max(50, starts_until) if starts_until is not None else 0.0)
    rate = max(1e-6, per_start * max(1.0, starts_each))
    return max(1, min(5000, round(math.sqrt(2 * check_cost / (max(1e-6, bad_part_cost) * rate)))))
