"""``./run bench tuner``: the tuner on simulated tables of every family, feasible and not.

Two thirds of the seeds may be tuned on, one third is kept aside (``--aside``) and only looked at. Feasible is a
table on which some setting within the limits passes with 97 in 100; a true square is one whose next cut
passes with at least 85.
"""

import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.book.start_rows import StartValues
from orthotome.core.edge.edges import good_side
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign, Limits, Target, TorchSet
from orthotome.core.trial.opening import default_limits
from orthotome.sim.families import FAMILIES, FamilyTable

MOST_CUTS = 16
FEASIBLE, TRUE = 0.97, 0.85
FAULTS = (
    "none",
    "none",
    "none",
    "none",
    "none",
    "jet_lean",
    "worn_parts",
    "wrong_side",
    "target_too_tight",
    "outside_limits",
)
METALS = ("mild_steel", "mild_steel", "stainless_steel", "aluminium")


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
    swirl = "clockwise" if r.random() < 0.7 else "counter_clockwise"
    sides = "both" if r.random() < 0.12 else "good"
    target = Target(
        float(r.choice([1.5, 2.0, 2.5, 3.0])) + (2.5 if sides == "both" else 0.0),
        sides,  # type: ignore[arg-type]
        int(r.choice([1, 1, 2])),
        str(r.choice(["square_first", "square_first", "clean_first", "fastest_in_tolerance"])),
    )  # type: ignore[arg-type]
    fault = FAULTS[seed % len(FAULTS)]
    hidden: dict[str, float] = {
        "cut_spread_deg": r.uniform(0.12, 0.45),
        "edge_spread_deg": r.uniform(0.1, 0.35),
        "lean_deg": abs(r.normal(0.0, 0.6)),
    }
    if r.random() < 0.4:  # a shop whose rows are further off than most
        off = speed * r.choice([r.uniform(0.72, 0.84), r.uniform(1.22, 1.34)])
        low, high = r.uniform(0.8, 0.97), r.uniform(1.08, 1.3)
        hidden |= {
            "square_speed_mm_min": off,
            "clean_from_mm_min": low * off,
            "clean_to_mm_min": high * off,
            "severs_to_mm_min": 1.6 * off,
        }
    if fault == "jet_lean":
        hidden |= {"lean_deg": target.bevel_deg + r.uniform(0.8, 2.0)}
    elif fault == "worn_parts":
        hidden |= (
            {"oval_deg": target.bevel_deg + r.uniform(0.6, 1.5)}
            if r.random() < 0.5
            else {"stubborn_grade": 3}
        )
    elif fault == "wrong_side":
        hidden |= {"swirl_deg": -r.uniform(1.2, 2.2)}
    elif fault == "target_too_tight":
        target = replace(target, bevel_deg=0.6, sides="good")
        hidden |= {"cut_spread_deg": 0.5, "edge_spread_deg": 0.4, "lean_deg": 0.2}
    limits = default_limits(start)
    if fault == "outside_limits":
        limits = Limits((0.93 * speed, 1.07 * speed), (0.93 * height, 1.07 * height))
        fast = speed * 1.45
        hidden |= {
            "square_speed_mm_min": fast,
            "clean_from_mm_min": 0.85 * fast,
            "clean_to_mm_min": 1.3 * fast,
            "severs_to_mm_min": 1.8 * fast,
        }
    base = FamilyTable.from_seed(5000 + seed, start, thickness, swirl, **hidden)  # type: ignore[arg-type]
    table = replace(
        base,
        family=FAMILIES[seed % 3],
        reading_u_deg=float(r.choice([0.3, 0.4, 0.5])),
        wild_share=float(r.choice([0.0, 0.04, 0.06])),
        gauge_factor=float(r.choice([0.8, 1.0, 1.0, 1.4])),
        missing_share=float(r.choice([0.0, 0.2])),
    )  # type: ignore[assignment]
    torch = TorchSet("70 A plate set", 70, "air", swirl)  # type: ignore[arg-type]
    metal = str(r.choice(METALS))
    return Made(table, Campaign(metal, thickness, torch, start, target, limits), fault)  # type: ignore[arg-type]


def best_setting(m: Made) -> tuple[float, Setting]:
    """The likeliest setting there is, by the truth."""
    (v0, v1), (h0, h1) = m.job.limits.speed_mm_min, m.job.limits.cut_height_mm
    tried = [
        (m.table.true_chance(m.job.target, float(v), float(h), 20), Setting(float(v), float(h)))
        for v in np.geomspace(v0, v1, 17)
        for h in np.linspace(h0, h1, 9)
    ]
    return max(tried)


@dataclass(frozen=True)
class Run:
    """How one method did on one table."""

    seed: int
    fault: str
    feasible: bool
    status: str
    cuts: int
    chance: float
    code: str
    after: tuple[float, ...]  # true chance of what was recommended after 1, 2, ... cuts
    reread: int


def orthotome(seed: int) -> Run:
    """Do what Orthotome says until it is square, handed off, or the steel is gone."""
    from orthotome.core.tuner.advise import advise  # noqa: PLC0415

    m = made(seed)
    feasible = best_setting(m)[0] >= FEASIBLE
    job, n, after, reread = m.job, 0, [], 0
    good = good_side(m.table.swirl)
    while True:
        advice = advise(job)
        asked = getattr(advice, "read_again", ())
        if asked and reread < 12 * max(1, n):
            for a in asked:
                c = next(c for c in job.cuts if c.id == a.cut)
                edge = m.table.read_again(
                    int(c.id[1:]), a.side, a.heading_deg, c.speed_mm_min, c.cut_height_mm
                )
                job = replace(
                    job,
                    cuts=tuple(
                        replace(x, edges=(*x.edges, edge)) if x.id == a.cut else x for x in job.cuts
                    ),
                )
                reread += 1
            continue
        r = advice.recommended
        chance = (
            m.table.true_chance(job.target, r.speed_mm_min, r.cut_height_mm, 20 + 5 * n) if r else 0.0
        )
        if n:
            after.append(chance)
        if advice.status in ("square", "hand_off") or n == MOST_CUTS:
            break
        n += 1
        cut = advice.next_cuts[0] if advice.next_cuts else r
        made_cut = m.table.cut(n, "square", cut.speed_mm_min, cut.cut_height_mm, starts=20 + 5 * n)
        job = replace(job, cuts=(*job.cuts, made_cut))
    del good
    code = advice.hand_off.code if advice.hand_off else ""
    return Run(seed, m.fault, feasible, advice.status, n, chance, code, tuple(after), reread)


def report(runs: list[Run]) -> None:
    """The lines that the issue of the tuner asks for."""
    feasible = [r for r in runs if r.feasible and r.fault != "wrong_side"]
    rest = [r for r in runs if not r.feasible or r.fault == "wrong_side"]
    declared = [r for r in feasible if r.status == "square"]
    true = [r for r in declared if r.chance >= TRUE]
    lengths = sorted([r.cuts for r in true] + [99] * (len(feasible) - len(true)))

    def share(of: int, n: int) -> str:
        return f"{of / max(n, 1):6.1%} ({of} of {n})"

    print(f"tables {len(runs)}, feasible {len(feasible)}")
    print(
        "cuts to a declared and true square: median",
        lengths[len(lengths) // 2],
        " p90",
        lengths[int(0.9 * len(lengths))],
    )
    print("declared and true within 16       ", share(len(true), len(feasible)))
    squares = [r for r in runs if r.status == "square"]
    print(
        "false squares                     ", share(sum(r.chance < TRUE for r in squares), len(squares))
    )
    print(f"next cut at a declared square passes {np.mean([r.chance for r in squares]):6.1%}")
    for k in (1, 3, 5):
        at = [(r.after[k - 1] if len(r.after) >= k else r.chance) for r in feasible]
        print(
            f"recommendation passes after {k}       {np.mean(at):6.1%}; truly (>=85) {np.mean([a >= TRUE for a in at]):6.1%}"
        )
    handed = [r for r in runs if r.status == "hand_off"]
    right = [r for r in handed if not r.feasible or r.code == r.fault]
    print("hand-off precision                ", share(len(right), len(handed)))
    print("hand-off recall                   ", share(len(right), len(rest)))
    print("cause right                       ", share(sum(r.code == r.fault for r in right), len(right)))
    print("hand-off after cuts", sorted(r.cuts for r in handed)[:: max(1, len(handed) // 12)])
    print(
        "wrong hand-offs", Counter((r.fault, r.code) for r in handed if r.feasible and r.code != r.fault)
    )
    print("causes", Counter((r.fault, r.code) for r in right if r.code != r.fault))
    print(
        "never ended",
        [
            (r.seed, r.fault, r.feasible, r.status, round(r.chance, 2))
            for r in runs
            if r.cuts == MOST_CUTS
        ][:25],
    )
    print(
        "false", [(r.seed, r.fault, round(r.chance, 2), r.cuts) for r in squares if r.chance < TRUE][:20]
    )
    print("rereadings a table", np.mean([r.reread for r in runs]).round(2))


def main() -> None:
    """All of them, two at a time."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 and sys.argv[1].isdigit() else 120
    aside = "--aside" in sys.argv
    seeds = (
        [s for s in range(3 * count) if (s % 3 == 2) == aside][:count]
        if aside
        else [s for s in range(3 * count) if s // 10 % 3 != 2][:count]
    )
    if aside:
        seeds = [s for s in range(6 * count) if s // 10 % 3 == 2][:count]
    with ProcessPoolExecutor(2) as both:
        report(list(both.map(orthotome, seeds, chunksize=2)))


if __name__ == "__main__":
    main()
