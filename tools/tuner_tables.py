"""Seeded simulated tables for the benchmark of the tuner: of every family, feasible and not."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from orthotome.core.book.start_rows import StartValues
from orthotome.core.edge.edges import Swirl
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign, Cut, Limits, Target, TorchSet
from orthotome.core.trial.opening import default_limits
from orthotome.sim.families import FAMILIES, FamilyTable

MOST_CUTS = 16
FEASIBLE, TRUE = 0.97, 0.85
METALS = ("mild_steel", "mild_steel", "stainless_steel", "aluminium")
FAULTS = (*["none"] * 5, "jet_lean", "worn_parts", "wrong_side", "target_too_tight", "outside_limits")


@dataclass(frozen=True)
class Made:
    """A table, the job on it, and what was built into it."""

    table: FamilyTable
    job: Campaign
    fault: str


def made(seed: int) -> Made:
    """The table and job of a seed."""
    r = np.random.default_rng((77, seed))
    thickness = float(r.choice([3.0, 5.0, 6.0, 8.0, 10.0, 12.0, 16.0]))
    speed = round(2100 * (8 / thickness) ** 1.15 * r.uniform(0.8, 1.25), -1)
    height = float(r.choice([1.3, 1.5, 1.5, 1.8]))
    start = StartValues(speed, 128.0, height, 3.8, 0.5, 1.8)
    swirl: Swirl = "clockwise" if r.random() < 0.7 else "counter_clockwise"
    target = _target(r)
    fault = FAULTS[seed % len(FAULTS)]
    hidden: dict[str, float] = {
        "cut_spread_deg": r.uniform(0.12, 0.45),
        "edge_spread_deg": r.uniform(0.1, 0.35),
        "lean_deg": abs(r.normal(0.0, 0.6)),
    }
    if r.random() < 0.4:  # a shop whose rows are further off than most
        off = speed * r.choice([r.uniform(0.72, 0.84), r.uniform(1.22, 1.34)])
        hidden |= _around(off, r.uniform(0.8, 0.97), r.uniform(1.08, 1.3), 1.6)
    limits = default_limits(start)
    if fault == "target_too_tight":
        target = replace(target, bevel_deg=0.6, sides="good")
        hidden |= {"cut_spread_deg": 0.5, "edge_spread_deg": 0.4, "lean_deg": 0.2}
    elif fault == "outside_limits":
        limits = Limits((0.93 * speed, 1.07 * speed), (0.93 * height, 1.07 * height))
        hidden |= _around(1.45 * speed, 0.85, 1.3, 1.8)
    else:
        hidden |= _broken(fault, target, r)
    base = FamilyTable.from_seed(5000 + seed, start, thickness, swirl, **hidden)
    told: dict[str, Any] = {
        "family": FAMILIES[seed % 3],
        "reading_u_deg": float(r.choice([0.3, 0.4, 0.5])),
        "wild_share": float(r.choice([0.0, 0.04, 0.06])),
        "gauge_factor": float(r.choice([0.8, 1.0, 1.0, 1.4])),
        "missing_share": float(r.choice([0.0, 0.2])),
    }
    torch = TorchSet("70 A plate set", 70, "air", swirl)
    campaign = Campaign(str(r.choice(METALS)), thickness, torch, start, target, limits)
    return Made(FamilyTable(**{**vars(base), **told}), campaign, fault)


def _target(r: np.random.Generator) -> Target:
    both = bool(r.random() < 0.12)
    bevel = float(r.choice([1.5, 2.0, 2.5, 3.0])) + (2.5 if both else 0.0)
    grade = int(r.choice([1, 1, 2]))
    priority = r.choice(["square_first", "square_first", "clean_first", "fastest_in_tolerance"])
    return Target(bevel, "both" if both else "good", grade, str(priority))  # type: ignore[arg-type]


def _around(square: float, low: float, high: float, severs: float) -> dict[str, float]:
    return {
        "square_speed_mm_min": square,
        "clean_from_mm_min": low * square,
        "clean_to_mm_min": high * square,
        "severs_to_mm_min": severs * square,
    }


def _broken(fault: str, target: Target, r: np.random.Generator) -> dict[str, float]:
    if fault == "jet_lean":
        return {"lean_deg": target.bevel_deg + r.uniform(0.8, 2.0)}
    if fault == "worn_parts":
        oval = {"oval_deg": target.bevel_deg + r.uniform(0.6, 1.5)}
        return oval if r.random() < 0.5 else {"stubborn_grade": 3}
    return {"swirl_deg": -r.uniform(1.2, 2.2)} if fault == "wrong_side" else {}


def best_setting(m: Made) -> tuple[float, Setting]:
    """The likeliest setting there is, by the truth."""
    (v0, v1), (h0, h1) = m.job.limits.speed_mm_min, m.job.limits.cut_height_mm
    tried = [
        Setting(float(v), float(h)) for v in np.geomspace(v0, v1, 17) for h in np.linspace(h0, h1, 9)
    ]
    return max((truth(m, s, 4), s) for s in tried)


def truth(m: Made, at: Setting, cuts: int) -> float:
    """True chance that the next cut there passes, after so many cuts."""
    return m.table.true_chance(m.job.target, at.speed_mm_min, at.cut_height_mm, 20 + 5 * cuts)


def cut_at(m: Made, n: int, at: Setting, before: int = 0) -> Cut:
    """Cut number n of its trial, as it is logged; ``before`` is the number its table has cut before that."""
    return m.table.cut(before + n, "square", at.speed_mm_min, at.cut_height_mm, starts=20 + 5 * n)
