"""A simulated plasma table with a hidden truth: cut a piece on it and read what came out.

The answers are built from ratios and saturating fractions and powers, on purpose not from the
tuner's logarithms, straight lines and normal integrals: a tuner that finds square here has learned
it from the readings. Everything is a function of the seed and of the cuts made so far, so a demo, a
test and a screen see the same table.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.book.start_rows import StartValues
from orthotome.core.edge.edges import (
    SQUARE_HEADINGS_DEG,
    Side,
    far_side_heading_deg,
    good_side,
    lean_bevel_deg,
    other_side,
    outward_normal_deg,
)
from orthotome.core.edge.edges import Swirl as SwirlDirection
from orthotome.core.trial.campaign import Cut, Dross, EdgeReading, PieceKind, Target, Through

_LEAST_ARC_V, _MOST_LAG_DEG = 40.0, 75.0  # past these no arc burns, and no line on an edge is read


@dataclass(frozen=True)
class Truth:
    """What the table hides. Speeds in mm/min, heights in mm, angles in degrees, volts in V."""

    square_speed_mm_min: float
    square_height_mm: float
    speed_effect_deg: float  # bevel per unit of speed ratio near square
    height_effect_deg_mm: float
    ease_slow: float  # how soon the answer saturates, slow and fast, low and high
    ease_fast: float
    ease_low_mm: float
    ease_high_mm: float
    swirl_deg: float
    lean_deg: float
    lean_toward_deg: float
    oval_deg: float  # two-fold pattern over direction
    cut_spread_deg: float
    edge_spread_deg: float
    clean_from_mm_min: float
    clean_to_mm_min: float
    dross_power: float
    stubborn_grade: int
    severs_to_mm_min: float
    base_voltage_v: float
    volts_per_mm: float
    bevel_wear_deg_per_100: float
    volts_wear_per_100: float
    kerf_mm: float


def hidden_truth(seed: int, start: StartValues, thickness_mm: float) -> Truth:
    """A plausible table for that job: the starting numbers are near square, not on it."""
    r = np.random.default_rng(seed)
    thin = 0.7 + 2.4 / thickness_mm  # 1 at 8 mm; thin metal answers more steeply
    speed = start.speed_mm_min * r.uniform(0.84, 1.22)
    return Truth(
        square_speed_mm_min=speed,
        square_height_mm=start.cut_height_mm * r.uniform(0.75, 1.3),
        speed_effect_deg=r.uniform(6.0, 14.0) * thin,
        height_effect_deg_mm=r.uniform(1.6, 4.6) * thin,
        ease_slow=r.uniform(0.4, 1.0),
        ease_fast=r.uniform(0.6, 1.6),
        ease_low_mm=r.uniform(1.0, 2.5),
        ease_high_mm=r.uniform(2.0, 5.0),
        swirl_deg=r.uniform(0.6, 2.2),
        lean_deg=abs(r.normal(0.0, 0.45)),
        lean_toward_deg=r.uniform(0.0, 360.0),
        oval_deg=r.normal(0.0, 0.1),
        cut_spread_deg=r.uniform(0.15, 0.4),
        edge_spread_deg=r.uniform(0.1, 0.3),
        clean_from_mm_min=speed * r.uniform(0.78, 0.96),
        clean_to_mm_min=speed * r.uniform(1.12, 1.4),
        dross_power=r.uniform(3.0, 6.0),
        stubborn_grade=0,
        severs_to_mm_min=speed * r.uniform(1.55, 1.9),
        base_voltage_v=(start.arc_voltage_v or 120.0) + r.normal(0.0, 4.0),
        volts_per_mm=r.uniform(5.0, 8.5),
        bevel_wear_deg_per_100=r.uniform(0.0, 0.15),
        volts_wear_per_100=r.uniform(0.5, 1.5),
        kerf_mm=start.kerf_mm * r.uniform(0.92, 1.1),
    )


@dataclass(frozen=True)
class SimulatedTable:
    """A table to cut on. ``start`` is where its wear and its volts are counted from."""

    seed: int
    start: StartValues
    swirl: SwirlDirection
    truth: Truth
    reading_u_deg: float = 0.4

    @classmethod
    def from_seed(
        cls,
        seed: int,
        start: StartValues,
        thickness_mm: float,
        swirl: SwirlDirection = "clockwise",
        **hidden: float,
    ) -> "SimulatedTable":
        """The table of that seed; ``hidden`` overrides single truths, to build a fault."""
        truth = hidden_truth(seed, start, thickness_mm)
        return cls(seed, start, swirl, replace(truth, **hidden))  # type: ignore[arg-type]

    @property
    def real_swirl(self) -> SwirlDirection:
        """The hand of the ring that is really in; here what the set is said to have."""
        return self.swirl

    def process_bevel_deg(self, speed_mm_min: float, height_mm: float, starts: int = 0) -> float:
        """Bevel that speed, height and wear give, before swirl, lean and spread."""
        t = self.truth
        over = speed_mm_min / t.square_speed_mm_min - 1.0
        lift = height_mm - t.square_height_mm
        from_speed = over / (1.0 + abs(over) / (t.ease_fast if over > 0 else t.ease_slow))
        from_height = lift / (1.0 + abs(lift) / (t.ease_high_mm if lift > 0 else t.ease_low_mm))
        worn = t.bevel_wear_deg_per_100 * starts / 100.0
        # Square means square on the good side, so the process sits one swirl above.
        return (
            t.swirl_deg + t.speed_effect_deg * from_speed + t.height_effect_deg_mm * from_height + worn
        )

    def edge_bevel_deg(self, process_deg: float, side: Side, heading_deg: float) -> float:
        """One edge's bevel without spread."""
        t, normal = self.truth, outward_normal_deg(side, heading_deg)
        swirl = -t.swirl_deg if side == good_side(self.real_swirl) else t.swirl_deg
        oval = t.oval_deg * float(np.cos(np.radians(2 * normal)))
        return process_deg + swirl + lean_bevel_deg(t.lean_deg, t.lean_toward_deg, normal) + oval

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
        """Cut number ``number`` of this table's life, measured: same seed and number, same answer.

        A square gives its four kept edges and ``scrap_edges`` of the scrap side; a strip both edges
        of its one direction.
        """
        t, noise = self.truth, np.random.default_rng((self.seed, number))
        good, scrap = good_side(self.swirl), other_side(good_side(self.swirl))
        if piece == "square":
            wanted = [(good, h) for h in SQUARE_HEADINGS_DEG]
            far = far_side_heading_deg(good)
            wanted += [(scrap, (far + h) % 360) for h in SQUARE_HEADINGS_DEG[:scrap_edges]]
        else:
            wanted = [(good, heading_deg), (scrap, heading_deg)]
        process = self.process_bevel_deg(speed_mm_min, cut_height_mm, starts)
        process += noise.normal(0.0, t.cut_spread_deg)
        through = self._through(speed_mm_min, noise)
        edges = tuple(self._read(process, side, heading, noise) for side, heading in wanted)
        volts = (
            t.base_voltage_v
            + t.volts_per_mm * (cut_height_mm - self.start.cut_height_mm)
            - 6.0 * (speed_mm_min / t.square_speed_mm_min - 1.0)
            + t.volts_wear_per_100 * starts / 100.0
            + noise.normal(0.0, 0.5)
        )
        return Cut(
            id=f"c{number}",
            piece=piece,
            speed_mm_min=speed_mm_min,
            cut_height_mm=cut_height_mm,
            arc_voltage_v=round(volts, 1) if volts >= _LEAST_ARC_V else None,
            starts=starts,
            through=through,
            edges=edges if through != "none" else (),
            dross=self._dross(speed_mm_min, cut_height_mm, noise),
            kerf_mm=round(t.kerf_mm * (t.square_speed_mm_min / speed_mm_min) ** 0.3, 2),
            lag_deg=round(
                min(_MOST_LAG_DEG, max(0.0, 14.0 * (speed_mm_min / t.clean_to_mm_min) ** 2 - 4.0)), 0
            ),
        )

    def chance_to_pass(
        self, target: Target, speed_mm_min: float, height_mm: float, starts: int = 0
    ) -> float:
        """True chance that a square cut with these settings passes, by 800 cuts without gauges."""
        t, noise = self.truth, np.random.default_rng((self.seed, 999_983))
        good = good_side(self.swirl)
        sides: Sequence[Side] = (good,) if target.sides == "good" else (good, other_side(good))
        process = self.process_bevel_deg(speed_mm_min, height_mm, starts)
        level = [self.edge_bevel_deg(process, s, h) for s in sides for h in SQUARE_HEADINGS_DEG]
        passed = 0
        for _ in range(800):
            edges = np.array(level) + noise.normal(0.0, t.cut_spread_deg)
            edges += noise.normal(0.0, t.edge_spread_deg, len(level))
            dross = self._dross(speed_mm_min, height_mm, noise)
            worst = max((d.grade for d in dross if d.kind != "top_spatter"), default=0)
            clean = worst <= target.dross_grade and self._through(speed_mm_min, noise) == "full"
            passed += bool(np.abs(edges).max() <= target.bevel_deg) and clean
        return passed / 800

    def _read(
        self, process: float, side: Side, heading_deg: float, noise: np.random.Generator
    ) -> EdgeReading:
        true = self.edge_bevel_deg(process, side, heading_deg)
        true += noise.normal(0.0, self.truth.edge_spread_deg)
        read = round(true + noise.normal(0.0, self.reading_u_deg), 1)
        return EdgeReading(side, heading_deg, read, self.reading_u_deg, "angle_gauge")

    def _through(self, speed_mm_min: float, noise: np.random.Generator) -> Through:
        limit = self.truth.severs_to_mm_min * (1.0 + noise.normal(0.0, 0.02))
        if speed_mm_min <= limit:
            return "full"
        return "partial" if speed_mm_min <= 1.1 * limit else "none"

    def _dross(
        self, speed_mm_min: float, height_mm: float, noise: np.random.Generator
    ) -> tuple[Dross, ...]:
        t = self.truth
        high = height_mm - t.square_height_mm
        slow = 1.8 * ((t.clean_from_mm_min / speed_mm_min) ** t.dross_power - 1.0) - 0.25 * high
        shrunk = t.clean_to_mm_min * (1.0 - 0.06 * high)
        fast = 2.4 * ((speed_mm_min / shrunk) ** t.dross_power - 1.0)
        found = []
        low_grade = int(np.clip(np.rint(slow + noise.normal(0.0, 0.3)), t.stubborn_grade, 4))
        high_grade = int(np.clip(np.rint(fast + noise.normal(0.0, 0.3)), 0, 4))
        if low_grade:
            found.append(Dross("low_speed", low_grade))
        if high_grade:
            found.append(Dross("high_speed", high_grade))
        if high > 1.0:
            found.append(Dross("top_spatter", 1))
        return tuple(found)
