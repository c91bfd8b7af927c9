"""Tables that answer in other ways than one: response families, wild readings, gauges that lie, gaps.

A tuner that leans on one functional form does well on the tables it was made on and badly on the next. Here
the same truths (see ``table``) come out through three shapes that share nothing with it:

* ``saturating``: fractions that level off, speed and height each by themselves;
* ``arctangent``: an S in the two together, steep near square and flat far off;
* ``energy``: what counts is heat per length, so that height bends what speed does.
"""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.edges import SQUARE_HEADINGS_DEG, Side, good_side, other_side
from orthotome.core.trial.campaign import Cut, EdgeReading, PieceKind, Target
from orthotome.sim.table import SimulatedTable

Family = Literal["saturating", "arctangent", "energy"]
FAMILIES: tuple[Family, ...] = ("saturating", "arctangent", "energy")
Array = NDArray[np.float64]

_GRADE_NOISE = 0.3  # as the table's own dross
_LOOKS = 3000


@dataclass(frozen=True)
class FamilyTable(SimulatedTable):
    """A simulated table of a family, read by somebody who errs.

    ``wild_share`` of the readings are off by 2 to 5 degrees; the gauge's real error is ``gauge_factor`` times
    what is declared; each of volts, kerf, lag and through is left out ``missing_share`` of the time.
    """

    family: Family = "saturating"
    wild_share: float = 0.0
    gauge_factor: float = 1.0
    missing_share: float = 0.0

    def process_bevel_deg(self, speed_mm_min: float, height_mm: float, starts: int = 0) -> float:
        """Bevel that speed, height and wear give, in this family's way."""
        if self.family == "saturating":
            return super().process_bevel_deg(speed_mm_min, height_mm, starts)
        t = self.truth
        worn = t.bevel_wear_deg_per_100 * starts / 100.0
        over = speed_mm_min / t.square_speed_mm_min
        lift = height_mm - t.square_height_mm
        if self.family == "arctangent":
            reach = 7.0
            push = t.speed_effect_deg * (over**0.9 - 1.0) + t.height_effect_deg_mm * lift
            return float(t.swirl_deg + worn + reach * np.arctan(push / reach))
        heat = float(over ** (1.0 + 0.12 * lift))
        pull = t.height_effect_deg_mm * (lift - 0.12 * lift * abs(lift) / t.square_height_mm)
        return float(t.swirl_deg + worn + 1.4 * t.speed_effect_deg * (1.0 - heat**-0.7) + pull)

    def cut(
        self,
        number: int,
        piece: PieceKind,
        speed_mm_min: float,
        cut_height_mm: float,
        *,
        starts: int = 0,
        heading_deg: float = 90.0,
        scrap_edges: int = 1,
    ) -> Cut:
        """A cut as that somebody logs it."""
        made = super().cut(
            number,
            piece,
            speed_mm_min,
            cut_height_mm,
            starts=starts,
            heading_deg=heading_deg,
            scrap_edges=scrap_edges,
        )
        left_out = np.random.default_rng((self.seed, number, 5)).random(3) < self.missing_share
        return replace(
            made,
            arc_voltage_v=None if left_out[0] else made.arc_voltage_v,
            kerf_mm=None if left_out[1] else made.kerf_mm,
            lag_deg=None if left_out[2] else made.lag_deg,
        )

    def read_again(
        self, number: int, side: Side, heading_deg: float, speed: float, height: float
    ) -> EdgeReading:
        """The same edge of the same cut once more: what it has of its own stays, the hand's error does not."""
        noise = np.random.default_rng((self.seed, number, 77, int(heading_deg), side == "right"))
        plain = replace(self, wild_share=0.0, gauge_factor=0.0).cut(
            number, "square", speed, height, scrap_edges=4
        )
        cut_edge = next(e for e in plain.edges if (e.side, e.heading_deg) == (side, heading_deg))
        error = noise.normal(0.0, self.reading_u_deg * self.gauge_factor)
        return replace(
            cut_edge, u_deg=self.reading_u_deg, bevel_deg=round(cut_edge.bevel_deg + error, 1)
        )

    def _read(
        self, process: float, side: Side, heading_deg: float, noise: np.random.Generator
    ) -> EdgeReading:
        true = self.edge_bevel_deg(process, side, heading_deg)
        true += noise.normal(0.0, self.truth.edge_spread_deg)
        error = noise.normal(0.0, self.reading_u_deg * self.gauge_factor)
        wild, how, sign = noise.random(), noise.uniform(2.0, 5.0), noise.choice([-1.0, 1.0])
        if wild < self.wild_share:
            error += how * sign
        return EdgeReading(side, heading_deg, round(true + error, 1), self.reading_u_deg, "angle_gauge")

    def true_chance(
        self, target: Target, speed_mm_min: float, height_mm: float, starts: int = 0
    ) -> float:
        """True chance that a square cut there passes, from many squares without gauges."""
        t, noise = self.truth, np.random.default_rng((self.seed, 999_983))
        good = good_side(self.swirl)
        sides: tuple[Side, ...] = (good,) if target.sides == "good" else (good, other_side(good))
        process = self.process_bevel_deg(speed_mm_min, height_mm, starts)
        level = np.array(
            [self.edge_bevel_deg(process, s, h) for s in sides for h in SQUARE_HEADINGS_DEG]
        )
        edges = level + noise.normal(0.0, t.cut_spread_deg, (_LOOKS, 1))
        edges = edges + noise.normal(0.0, t.edge_spread_deg, (_LOOKS, len(level)))
        inside = float((np.abs(edges) <= target.bevel_deg).all(axis=1).mean())
        return inside * self._clean_chance(target.dross_grade, speed_mm_min, height_mm)

    def _clean_chance(self, worst: int, speed: float, height: float) -> float:
        from scipy.special import ndtr  # noqa: PLC0415 (start-up time)

        t = self.truth
        if t.stubborn_grade > worst:
            return 0.0
        high = height - t.square_height_mm
        slow = 1.8 * ((t.clean_from_mm_min / speed) ** t.dross_power - 1.0) - 0.25 * high
        fast = 2.4 * ((speed / (t.clean_to_mm_min * (1.0 - 0.06 * high))) ** t.dross_power - 1.0)
        clean = ndtr((worst + 0.5 - slow) / _GRADE_NOISE) * ndtr((worst + 0.5 - fast) / _GRADE_NOISE)
        through = ndtr((t.severs_to_mm_min / speed - 1.0) / 0.02)
        return float(clean * through)
