"""The chance that the next cut at a setting passes, and the chance that a cut already made did.

A cut passes when its own edges (not the readings of them) are within the target at every heading of
a square, on the sides the target names, its bottom dross is no worse than allowed, and it is
through. The chances cover what is not known and the spread from cut to cut, not reading error.

Posterior draws of the edge model carry the unknowns; given one draw, all edges of a square share
the process bevel and one cut spread, so the cut passes when ``process + cut spread`` lies between
two bounds set by swirl, lean and edge spread, which is a difference of two normal integrals.
"""

from collections import defaultdict
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from orthotome.core.edge.columns import edge_columns
from orthotome.core.edge.edges import SQUARE_HEADINGS_DEG, Side, outward_normal_deg
from orthotome.core.edge.wild import WILD_DEG
from orthotome.core.quantities import METRIC, height_step_mm, in_steps, speaking, speed_step_mm_min
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign, Limits, judged_sides
from orthotome.core.trial.opening import height_stays
from orthotome.core.tuner.beliefs import Beliefs
from orthotome.core.tuner.bevel_model import BevelModel, Spreads
from orthotome.core.tuner.dross_model import DrossModel
from orthotome.core.tuner.unknowns import EDGE, PROCESS, process_columns
from orthotome.core.tuner.voltage_model import VoltageModel, cut_heights_mm

Array = NDArray[np.float64]

DRAWS = 800
_SEED = 40_9013
_SPEED_STEPS = 25
_HEIGHT_STEPS = 11


@dataclass(frozen=True)
class Candidates:
    """Candidate settings as two arrays of one length."""

    speed_mm_min: Array
    height_mm: Array
    own: frozenset[Setting] = frozenset()  # that were cut or typed: their numbers are said as they are

    def __len__(self) -> int:
        return len(self.speed_mm_min)

    def dial(self, at: int, limits: Limits) -> Setting:
        """A candidate as it is dialled: on the shop's steps, but for a speed or a height that was cut or typed."""
        return on_dial(
            Setting(float(self.speed_mm_min[at]), float(self.height_mm[at])), limits, self.own
        )


def on_dial(setting: Setting, limits: Limits, own: frozenset[Setting] = frozenset()) -> Setting:
    """A setting on the steps of the shop's dials, kept inside the limits even where they are off the step."""
    v, h = setting.speed_mm_min, setting.cut_height_mm
    dials_v = any(s.speed_mm_min == v for s in own)
    dials_h = any(s.cut_height_mm == h for s in own)
    return Setting(
        v if dials_v else _stepped(v, speed_step_mm_min(v), limits.speed_mm_min),
        h if dials_h else _stepped(h, height_step_mm(), limits.cut_height_mm),
    )


def _stepped(value: float, step: float, within: tuple[float, float]) -> float:
    return float(min(max(in_steps(value, step), within[0]), within[1]))


def candidates_within(campaign: Campaign, limits: Limits, also: tuple[Setting, ...] = ()) -> Candidates:
    """A grid over the limits (speeds in equal ratios), with the start, every cut setting, and those asked for.

    The grid's steps are one for all shops: which setting is best is no matter of the units that it is said in. A place
    of the grid that would be dialled as one of the others is left out.
    """
    (v_low, v_high), (h_low, h_high) = limits.speed_mm_min, limits.cut_height_mm
    speeds = np.geomspace(v_low, v_high, _SPEED_STEPS)
    heights = np.linspace(h_low, h_high, _HEIGHT_STEPS)
    with speaking(METRIC):
        grid = {on_dial(Setting(float(v), float(h)), limits) for v in speeds for h in heights}
    asked = [*(Setting.of(c) for c in campaign.cuts[-60:]), Setting.of(campaign.start), *also]
    own = frozenset(s for s in asked if limits.hold(s))
    if height_stays(campaign):
        at = min(max(campaign.start.cut_height_mm, h_low), h_high)
        grid |= {replace(s, cut_height_mm=at) for s in grid}
    ordered = sorted({s for s in grid if on_dial(s, limits, own) not in own} | own)
    return Candidates(
        np.array([s.speed_mm_min for s in ordered]), np.array([s.cut_height_mm for s in ordered]), own
    )


class Learned:
    """Everything the cuts of a campaign taught, ready to be asked about settings and cuts."""

    def __init__(self, campaign: Campaign, beliefs: Beliefs) -> None:
        self.campaign = campaign
        self.volts = VoltageModel(campaign)
        heights, height_sd = cut_heights_mm(campaign, self.volts)
        self.bevel = BevelModel(campaign, heights, height_sd, beliefs)
        self.dross = DrossModel(campaign, beliefs.dross, beliefs.windows)
        columns = len(self.bevel.prior_mean)
        random = np.random.default_rng(_SEED)
        normals = random.standard_normal((DRAWS // 2, columns))
        self._edge_normals = random.standard_normal((DRAWS, 8))
        picks = (np.arange(DRAWS) + 0.5) / DRAWS
        # Mirrored draws: the mean over draws is then the posterior mean exactly, per spread.
        mirrored = np.stack([normals, -normals], axis=1).reshape(DRAWS, columns)
        self.draws, self._which = self.bevel.sample(mirrored, picks)
        spreads = [h.spreads for h in self.bevel.hypotheses]
        self.cut_spread = np.array([s.cut_deg for s in spreads])[self._which]
        self.edge_spread = np.array([s.edge_deg for s in spreads])[self._which]
        self._dross_draws = random.permutation(self.dross.resampled(DRAWS))

    @cached_property
    def judged_edges(self) -> tuple[Array, Array]:
        """(sign, normal) of the edges of a square that the target judges."""
        sign = [self.bevel.side_sign(s) for s, _ in self.judged_places]
        normal = [outward_normal_deg(s, h) for s, h in self.judged_places]
        return np.array(sign), np.array(normal)

    @property
    def judged_places(self) -> list[tuple[Side, float]]:
        """(side, heading) of the same edges."""
        sides = judged_sides(self.campaign.torch_set, self.campaign.target)
        return [(s, h) for s in sides for h in SQUARE_HEADINGS_DEG]

    def process(self, settings: Candidates, draws: Array | None = None) -> Array:
        """Process bevel per setting and draw, shape (settings, draws)."""
        x, z = self.bevel.coordinates(settings.speed_mm_min, settings.height_mm)
        unknowns = self.draws if draws is None else draws
        return np.asarray(process_columns(x, z) @ unknowns[:, :PROCESS].T)

    def room(self, draws: Array | None = None) -> tuple[Array, Array]:
        """Between which bounds the process bevel must lie for a square to pass, per draw."""
        sign, normal = self.judged_edges
        unknowns = self.draws if draws is None else draws
        fixed = edge_columns(sign, normal) @ unknowns[:, EDGE].T  # (edges, draws)
        fixed = fixed + (self.edge_spread[:, None] * self._edge_normals[:, : len(sign)]).T
        allowed = self.campaign.target.bevel_deg
        return -allowed - fixed.min(axis=0), allowed - fixed.max(axis=0)

    def bevel_chances(self, settings: Candidates, draws: Array | None = None) -> Array:
        """Chance that every judged edge is within the target, shape (settings, draws)."""
        low, high = self.room(draws)
        process = self.process(settings, draws)
        above, below = (high - process) / self.cut_spread, (low - process) / self.cut_spread
        inside = ndtr(above) - ndtr(below)
        return np.asarray(np.maximum(inside, 0.0))

    def rest_chances(self, settings: Candidates) -> Array:
        """Chance that dross is acceptable and the cut is through, shape (settings, draws)."""
        clean, through = self.clean_and_through(settings, self.campaign.target.dross_grade)
        return clean * through

    def clean_chances(self, settings: Candidates) -> Array:
        """Chance of no bottom dross at all, shape (settings,)."""
        clean, through = self.clean_and_through(settings, 0)
        return np.asarray((clean * through).mean(axis=1))

    def clean_and_through(self, settings: Candidates, worst_grade: int) -> tuple[Array, Array]:
        """Chances of bottom dross no worse than that grade, and of going through, each (settings, draws)."""
        return self.dross.pass_chances(
            settings.speed_mm_min, settings.height_mm, worst_grade, self._dross_draws
        )

    @cached_property
    def cut_deviations(self) -> Array:
        """By how much one cut is off for no reason, one for each draw."""
        return self.cut_spread * self._edge_normals[:, -1]

    def passed_chance(self, index: int) -> float:
        """Chance that cut ``index`` itself passed, given everything that was read.

        0 unless it is a square whose dross was looked at and acceptable and which went through. Its
        judged edges are conditioned on that cut's own readings as well as on the model.
        """
        cut, target = self.campaign.cuts[index], self.campaign.target
        grade = cut.bottom_grade
        if cut.piece != "square" or not cut.edges or grade is None or cut.arc_lost:
            return 0.0
        if grade > target.dross_grade or cut.through in ("partial", "none"):
            return 0.0
        sign, normal = self.judged_edges
        rows = self.bevel.cut_rows(index, sign, normal)
        inside = self._conditioned_inside(index, rows, sign, normal, target.bevel_deg)
        if cut.through is None:  # not noted: as likely as the model holds it
            settings = Candidates(np.array([cut.speed_mm_min]), np.array([cut.cut_height_mm]))
            _, through = self.clean_and_through(settings, worst_grade=4)
            inside *= float(through.mean())
        return inside

    def _conditioned_inside(
        self, index: int, rows: Array, sign: Array, normal: Array, allowed: float
    ) -> float:
        """Share of draws in which all judged edges of the cut, given its readings, are inside.

        Given one draw of the unknowns, edges and readings are jointly Gaussian:
        edges = m + cut spread + edge spread, reading = its edge + error.
        """
        readings = self.bevel.readings
        own = np.flatnonzero(readings.cut == index)
        read_rows, y = readings.rows[own], readings.bevel_deg[own]
        # A reading sees the edge it was taken on.
        read_at = [readings.place[i] for i in own]
        same = np.array([[float(place == seen) for seen in read_at] for place in self.judged_places])
        together = readings.same_edge[np.ix_(own, own)]
        inside = 0.0
        noise = self._edge_normals[:, : len(sign)]
        for (spreads, wild), chosen in self._alike(own).items():
            theta = self.draws[chosen]
            cut, edge = spreads.cut_deg**2, spreads.edge_deg**2
            error = (spreads.gauge * readings.u_deg[own]) ** 2
            error = error + np.where(np.array(wild, dtype=bool), WILD_DEG**2, 0.0)
            between = cut + edge * same
            seen = cut + edge * together + np.diag(error)
            gain = np.linalg.solve(seen, between.T).T
            left = cut + edge * np.eye(len(sign)) - gain @ between.T
            root = np.linalg.cholesky(left + 1e-9 * np.eye(len(sign)))
            mean = theta @ rows.T + (y - theta @ read_rows.T) @ gain.T
            edges = mean + noise[chosen] @ root.T
            inside += float((np.abs(edges) <= allowed).all(axis=1).sum())
        return inside / DRAWS

    @cached_property
    def _draws_of(self) -> list[NDArray[np.int64]]:
        """The draws that each hypothesis gave."""
        return [np.flatnonzero(self._which == k) for k in range(len(self.bevel.hypotheses))]

    def _alike(
        self, own: NDArray[np.int64]
    ) -> dict[tuple[Spreads, tuple[bool, ...]], NDArray[np.int64]]:
        """The draws by what their hypothesis says of these readings."""
        found: dict[tuple[Spreads, tuple[bool, ...]], list[NDArray[np.int64]]] = defaultdict(list)
        for hypothesis, draws in zip(self.bevel.hypotheses, self._draws_of, strict=True):
            if len(draws):
                found[hypothesis.spreads, tuple(hypothesis.wild[own].tolist())].append(draws)
        return {told: np.concatenate(draws) for told, draws in found.items()}
