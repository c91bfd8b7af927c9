"""``./run bench tuner``: the tuner on simulated tables of every family, feasible and not.

Every third ten of seeds is kept aside: the tuner is worked on against the others, and these are looked at
last (``./run bench tuner --tuned-on`` prints the others). Feasible is a table on which some setting within the
limits passes with 97 in 100; a true square is one whose next cut passes with at least 85.
"""

import sys
from collections import Counter
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from orthotome.core.book.start_rows import StartValues
from orthotome.core.edge.edges import Swirl, good_side
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign, Cut, Limits, Target, TorchSet
from orthotome.core.trial.opening import default_limits
from orthotome.core.tuner.advise import advise
from orthotome.sim.families import FAMILIES, FamilyTable

TABLES, MOST_CUTS = 200, 16
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


def cut_at(m: Made, n: int, at: Setting) -> Cut:
    """Cut number n, as it is logged."""
    return m.table.cut(n, "square", at.speed_mm_min, at.cut_height_mm, starts=20 + 5 * n)


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


def orthotome(seed: int) -> Run:
    """Do what Orthotome says until it is square, handed off, or the steel is gone."""
    m = made(seed)
    job, n, again = m.job, 0, 0
    after: list[float] = []
    said: list[float] = []
    while True:
        advice = advise(job)
        if advice.read_again and again < 12 * max(1, n):
            for asked in advice.read_again:
                (cut,) = (c for c in job.cuts if c.id == asked.cut)
                edge = m.table.read_again(
                    int(cut.id[1:]), asked.side, asked.heading_deg, cut.speed_mm_min, cut.cut_height_mm
                )
                read = replace(cut, edges=(*cut.edges, edge))
                job = replace(job, cuts=tuple(read if c is cut else c for c in job.cuts))
                again += 1
            continue
        best = advice.recommended
        chance = truth(m, Setting.of(best), n) if best else 0.0
        if n and best:
            after.append(chance)
            said.append(best.probability_pass)
        if advice.status in ("square", "hand_off") or n == MOST_CUTS:
            break
        n += 1
        asked_for = (
            Setting.of(advice.next_cuts[0]) if advice.next_cuts else Setting.of(best or job.start)
        )
        job = replace(job, cuts=(*job.cuts, cut_at(m, n, asked_for)))
    code = advice.hand_off.code if advice.hand_off else ""
    feasible = best_setting(m)[0] >= FEASIBLE
    return Run(seed, m.fault, feasible, advice.status, n, chance, code, tuple(after), tuple(said), again)


def ladder(seed: int) -> Run:
    """One change at a time by somebody who knows the signs: speed by the dross, then height by the bevel; the
    same twice, all readings inside, is called square."""
    m = made(seed)
    (v0, v1), (h0, h1) = m.job.limits.speed_mm_min, m.job.limits.cut_height_mm
    at, before, target = Setting.of(m.job.start), None, m.job.target
    after: list[float] = []
    for n in range(1, MOST_CUTS + 1):
        cut = cut_at(m, n, at)
        side = good_side(m.table.swirl)
        read = [e.bevel_deg for e in cut.edges if target.sides == "both" or e.side == side]
        grade = cut.bottom_grade or 0
        good = cut.through == "full" and grade <= target.dross_grade and bool(read)
        good = good and max(map(abs, read)) <= target.bevel_deg
        after.append(truth(m, at, n))
        if good and before == at:
            return Run(
                seed, m.fault, best_setting(m)[0] >= FEASIBLE, "square", n, after[-1], after=tuple(after)
            )
        before = at if good else None
        if not good:
            speed, height = at.speed_mm_min, at.cut_height_mm
            slow, fast = cut.grade_of("low_speed") or 0, cut.grade_of("high_speed") or 0
            if cut.through != "full" or fast > target.dross_grade:
                speed *= 0.93
            elif slow > target.dross_grade:
                speed *= 1.07
            else:
                height -= 0.15 * float(np.sign(np.mean(read))) if read else 0.0
            at = Setting(float(np.clip(speed, v0, v1)), float(np.clip(height, h0, h1)))
    return Run(
        seed, m.fault, best_setting(m)[0] >= FEASIBLE, "keep_cutting", MOST_CUTS, 0.0, after=tuple(after)
    )


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
    "one change at a time": ladder,
    "an oracle": oracle,
}


def share(of: int, n: int) -> str:
    """A share in words."""
    return f"{of / max(n, 1):6.1%} ({of} of {n})"


def report(name: str, runs: Sequence[Run]) -> None:
    """The lines by which methods are compared."""
    feasible = [r for r in runs if r.feasible and r.fault != "wrong_side"]
    rest = [r for r in runs if not r.feasible or r.fault == "wrong_side"]
    true = [r for r in feasible if r.status == "square" and r.chance >= TRUE]
    lengths = sorted([r.cuts for r in true] + [99] * (len(feasible) - len(true)))
    squares = [r for r in runs if r.status == "square"]
    handed = [r for r in runs if r.status == "hand_off"]
    right = [r for r in handed if not r.feasible or r.code == r.fault]
    print(f"\n{name}: {len(runs)} tables, {len(feasible)} feasible; 99 is never within {MOST_CUTS}")
    p90 = lengths[min(len(lengths) - 1, int(0.9 * len(lengths)))]
    print(
        f"  cuts to a declared and true square    median {lengths[len(lengths) // 2]}, 90th percentile {p90}"
    )
    print(f"  declared and true within {MOST_CUTS}           {share(len(true), len(feasible))}")
    print(
        f"  false squares                         {share(sum(r.chance < TRUE for r in squares), len(squares))}"
    )
    if squares:
        print(f"  next cut at a declared square passes  {np.mean([r.chance for r in squares]):6.1%}")
    for k in (3, 5):
        at = [r.after[k - 1] if len(r.after) >= k else r.chance for r in feasible]
        print(
            f"  what it holds best after {k} truly passes {share(sum(a >= TRUE for a in at), len(at))}"
        )
    if name == "Orthotome":
        print(f"  hand-off precision                    {share(len(right), len(handed))}")
        print(f"  hand-off recall                       {share(len(right), len(rest))}")
        print(
            f"  cause right                           {share(sum(r.code == r.fault for r in right), len(right))}"
        )
        print(f"  readings taken again a table          {np.mean([r.read_again for r in runs]):6.1f}")
        wrong = Counter((r.fault, r.code) for r in right if r.code != r.fault)
        print(f"  causes taken for another: {dict(wrong)}")
        reliability(runs)


def reliability(runs: Sequence[Run]) -> None:
    """The chance it gave against the truth, in tenths."""
    pairs = [(s, a) for r in runs for s, a in zip(r.said, r.after, strict=True)]
    print("  chance to pass: said, true, how often")
    for low in np.arange(0.0, 1.0, 0.1):
        found = [(s, a) for s, a in pairs if low <= s < low + 0.1 or (low > 0.85 and s >= 1.0)]
        if found:
            said, true = np.mean([f[0] for f in found]), np.mean([f[1] for f in found])
            print(f"    {said:5.2f}  {true:5.2f}  {len(found)}")


def main(words: Sequence[str]) -> None:
    """Every method on the same tables, two at a time."""
    aside = "--tuned-on" not in words
    count = next((int(w) for w in words if w.isdigit()), TABLES)
    seeds = [s for s in range(10 * count) if (s // 10 % 3 == 2) == aside][:count]
    print(f"{'kept aside' if aside else 'tuned on'}: seeds {seeds[0]} to {seeds[-1]}")
    with ProcessPoolExecutor(2) as both:
        for name, method in METHODS.items():
            report(name, list(both.map(method, seeds, chunksize=2)))


if __name__ == "__main__":
    main(sys.argv[1:])
