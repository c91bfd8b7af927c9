"""Ways to tune a table, each with the same budget of cuts, gauges and proof."""

import warnings
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.stats import norm
from sklearn.exceptions import ConvergenceWarning
from sklearn.gaussian_process import GaussianProcessRegressor
from sklearn.gaussian_process.kernels import ConstantKernel, Matern, WhiteKernel

from orthotome.core.edge.edges import good_side
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign, Cut
from orthotome.core.tuner.advise import Judgement, judge
from orthotome.core.tuner.chances import Candidates
from orthotome.core.tuner.unknowns import LEAN_X, LEAN_Y, SWIRL
from tools.tuner_tables import FEASIBLE, MOST_CUTS, TRUE, Made, best_setting, cut_at, made, truth

Array = NDArray[np.float64]
Tried = tuple[Setting, Cut]

# A length scale at its bound is what few cuts give; it is no fault of the run.
warnings.filterwarnings("ignore", category=ConvergenceWarning)


@dataclass(frozen=True)
class Run:
    """How one method did on one table; ``after`` is the true chance of what it held best after each cut."""

    seed: int
    fault: str
    feasible: bool
    status: str
    cuts: int
    chance: float
    code: str = ""
    after: tuple[float, ...] = ()
    said: tuple[float, ...] = ()  # the chance it gave, beside each of ``after``
    read_again: int = 0
    inside: tuple[bool, ...] = ()  # whether 90 in 100 held the truth: lean x, lean y, swirl, process


def orthotome(seed: int) -> Run:
    """Do what Orthotome says until it is square, handed off, or the steel is gone."""
    m = made(seed)
    return _as_advised(m, m.job, before=0)[0]


def with_history(seed: int) -> Run:
    """The same where two trials of the same job on the same table came before."""
    m = made(seed)
    earlier: list[Campaign] = []
    for before in (100, 200):
        earlier.append(_as_advised(m, m.job, before)[1])
    return _as_advised(m, replace(m.job, history=tuple(earlier)), before=0)[0]


def _as_advised(m: Made, job: Campaign, before: int) -> tuple[Run, Campaign]:
    n, again = 0, 0
    after: list[float] = []
    said: list[float] = []
    while True:
        judgement = judge(job)
        advice = judgement.advice
        if advice.read_again and again < 12 * max(1, n):
            again += len(advice.read_again)
            job = _read_again(m, job, judgement)
            continue
        best = advice.recommended
        chance = truth(m, Setting.of(best), n) if best else 0.0
        if n and best:
            after.append(chance)
            said.append(best.probability_pass)
        if advice.status in ("square", "hand_off") or n == MOST_CUTS:
            break
        n += 1
        at = Setting.of(advice.next_cuts[0]) if advice.next_cuts else Setting.of(best or job.start)
        job = replace(job, cuts=(*job.cuts, cut_at(m, n, at, before)))
    code = advice.hand_off.code if advice.hand_off else ""
    run = Run(
        m.table.seed - 5000,
        m.fault,
        best_setting(m)[0] >= FEASIBLE,
        advice.status,
        n,
        chance,
        code,
        tuple(after),
        tuple(said),
        again,
        _inside(m, judgement) if n else (),
    )
    return run, job


def _read_again(m: Made, job: Campaign, judgement: Judgement) -> Campaign:
    """The job with the edges read once more that it asks for."""
    for asked in judgement.advice.read_again:
        (cut,) = (c for c in job.cuts if c.id == asked.cut)
        edge = m.table.read_again(
            int(cut.id[1:]), asked.side, asked.heading_deg, cut.speed_mm_min, cut.cut_height_mm
        )
        read = replace(cut, edges=(*cut.edges, edge))
        job = replace(job, cuts=tuple(read if c is cut else c for c in job.cuts))
    return job


def _inside(m: Made, judgement: Judgement) -> tuple[bool, ...]:
    """Whether the truth lies between the 5th and 95th of 100 draws: lean x and y, swirl, process."""
    learned, t, last = judgement.learned, m.table.truth, judgement.learned.campaign.cuts[-1]
    at = Candidates(np.array([last.speed_mm_min]), np.array([last.cut_height_mm]))
    toward = np.radians(t.lean_toward_deg)
    process = m.table.process_bevel_deg(last.speed_mm_min, last.cut_height_mm, last.starts or 20)
    pairs = [
        (learned.draws[:, LEAN_X], t.lean_deg * np.cos(toward)),
        (learned.draws[:, LEAN_Y], t.lean_deg * np.sin(toward)),
        (learned.draws[:, SWIRL], t.swirl_deg),
        (learned.process(at)[0], process),
    ]
    return tuple(bool(np.quantile(d, 0.05) <= x <= np.quantile(d, 0.95)) for d, x in pairs)


def _passed(m: Made, cut: Cut) -> bool:
    """Whether a shop would call it square: every judged reading inside, clean enough, through."""
    read = _judged(m, cut)
    clean = (cut.bottom_grade or 0) <= m.job.target.dross_grade
    return (
        cut.through == "full" and clean and bool(read) and max(map(abs, read)) <= m.job.target.bevel_deg
    )


def _judged(m: Made, cut: Cut) -> list[float]:
    side = good_side(m.table.swirl)
    return [e.bevel_deg for e in cut.edges if m.job.target.sides == "both" or e.side == side]


def _badness(m: Made, cut: Cut) -> float:
    """How far from passing a cut is, as readings say: 1 is just inside."""
    read = _judged(m, cut)
    worst = max(map(abs, read)) / m.job.target.bevel_deg if read else 3.0
    over = max(0, (cut.bottom_grade or 0) - m.job.target.dross_grade)
    return min(worst, 4.0) + over + (2.0 if cut.through != "full" else 0.0)


def _until_twice(seed: int, choose: Callable[[Made, Sequence[Tried]], Setting]) -> Run:
    """Cut what ``choose`` says; a cut that passes is made once more, and twice in a row is called square."""
    m = made(seed)
    feasible = best_setting(m)[0] >= FEASIBLE
    tried: list[Tried] = []
    after: list[float] = []
    at, waiting = Setting.of(m.job.start), False
    for n in range(1, MOST_CUTS + 1):
        cut = cut_at(m, n, at)
        tried.append((at, cut))
        good = _passed(m, cut)
        held = at if good else min(tried, key=lambda t: _badness(m, t[1]))[0]
        after.append(truth(m, held, n))
        if good and waiting:
            return Run(seed, m.fault, feasible, "square", n, after[-1], after=tuple(after))
        waiting = good
        if not good:
            wanted = choose(m, tried)
            (v0, v1), (h0, h1) = m.job.limits.speed_mm_min, m.job.limits.cut_height_mm
            at = Setting(
                float(np.clip(wanted.speed_mm_min, v0, v1)),
                float(np.clip(wanted.cut_height_mm, h0, h1)),
            )
    return Run(seed, m.fault, feasible, "keep_cutting", MOST_CUTS, 0.0, after=tuple(after))


def ladder(seed: int) -> Run:
    """One change at a time by somebody who knows the signs: speed by the dross, then height by the bevel."""
    return _until_twice(seed, _one_change)


def _one_change(m: Made, tried: Sequence[Tried]) -> Setting:
    at, cut = tried[-1]
    speed, height, worst = at.speed_mm_min, at.cut_height_mm, m.job.target.dross_grade
    read = _judged(m, cut)
    if cut.through != "full" or (cut.grade_of("high_speed") or 0) > worst:
        return Setting(0.93 * speed, height)
    if (cut.grade_of("low_speed") or 0) > worst:
        return Setting(1.07 * speed, height)
    return Setting(speed, height - (0.15 * float(np.sign(np.mean(read))) if read else 0.0))


# Eight points round the starting numbers, which were cut first: the corners, then out along each axis.
_ROUND = np.array([(1, 1), (-1, -1), (-1, 1), (1, -1), (1.4, 0), (-1.4, 0), (0, 1.4), (0, -1.4)])
_REACH_LN_SPEED, _REACH_OF_HEIGHT = 0.12, 0.18


def planned_design(seed: int) -> Run:
    """A central composite design over speed and height, a quadratic fitted to it, then what that says."""
    return _until_twice(seed, _designed)


def _designed(m: Made, tried: Sequence[Tried]) -> Setting:
    start = m.job.start
    new = len({t[0] for t in tried})
    if new <= len(_ROUND):
        a, b = _ROUND[new - 1]
        return Setting(
            start.speed_mm_min * float(np.exp(_REACH_LN_SPEED * a)),
            start.cut_height_mm * (1 + _REACH_OF_HEIGHT * b),
        )
    rows = _quadratic(_places(m, [t[0] for t in tried]))
    bevel = np.array([float(np.mean(_judged(m, c) or [0.0])) for _, c in tried])
    dross = np.array([float(c.bottom_grade or 0) + 2.0 * (c.through != "full") for _, c in tried])
    grid = _grid(m)
    there = _quadratic(_places(m, grid))
    of_bevel = np.linalg.lstsq(rows, bevel, rcond=None)[0]
    of_dross = np.linalg.lstsq(rows, dross, rcond=None)[0]
    over = np.maximum(0.0, there @ of_dross - m.job.target.dross_grade)
    return grid[int((np.abs(there @ of_bevel) / m.job.target.bevel_deg + over).argmin())]


def general_optimiser(seed: int) -> Run:
    """Gaussian-process optimisation of how far a cut is from passing, by expected improvement."""
    return _until_twice(seed, _improved)


def _improved(m: Made, tried: Sequence[Tried]) -> Setting:
    grid = _grid(m)
    x, y = _places(m, [t[0] for t in tried]), np.array([_badness(m, c) for _, c in tried])
    kernel = ConstantKernel(1.0, (0.1, 10.0)) * Matern((1.0, 1.0), (0.3, 5.0), nu=2.5)
    model = GaussianProcessRegressor(
        kernel + WhiteKernel(0.1, (0.01, 1.0)), normalize_y=True, n_restarts_optimizer=1, random_state=1
    ).fit(x, y)
    mean, sd = model.predict(_places(m, grid), return_std=True)
    better = (float(model.predict(x).min()) - mean) / np.maximum(sd, 1e-9)
    return grid[int((sd * (better * norm.cdf(better) + norm.pdf(better))).argmax())]


def _grid(m: Made) -> list[Setting]:
    (v0, v1), (h0, h1) = m.job.limits.speed_mm_min, m.job.limits.cut_height_mm
    return [
        Setting(float(v), float(h)) for v in np.geomspace(v0, v1, 25) for h in np.linspace(h0, h1, 13)
    ]


def _places(m: Made, settings: Sequence[Setting]) -> Array:
    """Where settings lie from the starting numbers, in steps of the design; shape (settings, 2)."""
    speed = np.array([s.speed_mm_min for s in settings]) / m.job.start.speed_mm_min
    height = np.array([s.cut_height_mm for s in settings]) / m.job.start.cut_height_mm
    return np.column_stack([np.log(speed) / _REACH_LN_SPEED, (height - 1) / _REACH_OF_HEIGHT])


def _quadratic(places: Array) -> Array:
    a, b = places.T
    return np.column_stack([np.ones_like(a), a, b, a * a, b * b, a * b])


def oracle(seed: int) -> Run:
    """Somebody who knows the truth, and still has to prove it: two cuts."""
    m = made(seed)
    chance, _ = best_setting(m)
    status = "square" if chance >= TRUE else "hand_off"
    return Run(
        seed,
        m.fault,
        chance >= FEASIBLE,
        status,
        2 if status == "square" else 0,
        chance,
        m.fault,
        (chance,) * 2,
    )


METHODS: dict[str, Callable[[int], Run]] = {
    "Orthotome": orthotome,
    "Orthotome with two earlier trials": with_history,
    "one change at a time": ladder,
    "a planned design": planned_design,
    "a general optimiser": general_optimiser,
    "an oracle": oracle,
}
