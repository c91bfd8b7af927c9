"""``./run bench tuner``: the tuner on simulated tables of every family, feasible and not.

Every third ten of seeds is kept aside: the tuner is worked on against the others, and these are looked at
last (``./run bench tuner --tuned-on`` prints the others). Feasible is a table on which some setting within the
limits passes with 97 in 100; a true square is one whose next cut passes with at least 85.
"""

import sys
import time
from collections import Counter
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace

import numpy as np

from orthotome.core.edge.edges import lean_bevel_deg, outward_normal_deg
from orthotome.core.torch.alignment import Mount, SlugReading, align
from orthotome.core.tuner.advise import judge
from orthotome.sim.table import SimulatedTable
from tests.jobs import PLATE_JOB
from tools.tuner_methods import METHODS, Run
from tools.tuner_tables import MOST_CUTS, TRUE

TABLES = 200


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
    if name.startswith("Orthotome"):
        print(f"  hand-off precision                    {share(len(right), len(handed))}")
        print(f"  hand-off recall                       {share(len(right), len(rest))}")
        print(
            f"  cause right                           {share(sum(r.code == r.fault for r in right), len(right))}"
        )
        print(f"  readings taken again a table          {np.mean([r.read_again for r in runs]):6.1f}")
        wrong = Counter((r.fault, r.code) for r in right if r.code != r.fault)
        print(f"  causes taken for another: {dict(wrong)}")
        reliability(runs)
        coverage(runs)


def reliability(runs: Sequence[Run]) -> None:
    """The chance it gave against the truth, in tenths."""
    pairs = [(s, a) for r in runs for s, a in zip(r.said, r.after, strict=True)]
    print("  chance to pass: said, true, how often")
    for low in np.arange(0.0, 1.0, 0.1):
        found = [(s, a) for s, a in pairs if low <= s < low + 0.1 or (low > 0.85 and s >= 1.0)]
        if found:
            said, true = np.mean([f[0] for f in found]), np.mean([f[1] for f in found])
            print(f"    {said:5.2f}  {true:5.2f}  {len(found)}")


def coverage(runs: Sequence[Run]) -> None:
    """How often 90 in 100 held the truth when the method stopped, on tables without a fault."""
    inside = np.array([r.inside for r in runs if r.inside and r.fault == "none"])
    for what, share_of in zip(
        ("lean x", "lean y", "swirl", "process"), inside.mean(axis=0), strict=True
    ):
        print(f"  90 in 100 hold the {what:8} {share_of:6.1%} of {len(inside)}")


def lean_errors(count: int = 400) -> None:
    """Median length of what alignment gets wrong: gauge 0.4 degrees, edges that scatter by 0.3."""
    for name, headings in (("one square, read once", 4), ("a slug read at twelve", 12)):
        wrong = []
        for seed in range(count):
            noise = np.random.default_rng((9, headings, seed))
            lean, toward = 1.5, float(noise.uniform(0, 360))
            read = []
            for heading in np.arange(headings) * 360.0 / headings:
                bevel = 0.5 + lean_bevel_deg(lean, toward, outward_normal_deg("right", heading))
                bevel += noise.normal(0, 0.3) + noise.normal(0, 0.4)
                read.append(SlugReading("right", float(heading), round(bevel, 1), 0.4))
            got = align(read, "clockwise", 0.3, Mount())
            there = np.radians(got.toward_deg - toward)
            wrong.append(
                float(np.hypot(got.lean_deg * np.cos(there) - lean, got.lean_deg * np.sin(there)))
            )
        print(f"  lean from {name}: off by {np.median(wrong):.2f} degrees, median of {count}")


def long_trials() -> None:
    """How long one advice takes as a trial goes on, over one of ten cuts."""
    table = SimulatedTable.from_seed(3, PLATE_JOB.start, PLATE_JOB.thickness_mm)
    cuts = tuple(
        table.cut(n, "square", speed_mm_min=1900.0 + 30 * (n % 12), cut_height_mm=1.3 + 0.02 * (n % 9))
        for n in range(1000)
    )
    judge(replace(PLATE_JOB, cuts=cuts[:10]))  # what is loaded once is not counted
    print("\nOne advice on a trial of so many cuts, over one of 10 (processor time):")
    first = 0.0
    for many in (10, 50, 150, 300, 1000):
        began = time.process_time()
        judge(replace(PLATE_JOB, cuts=cuts[:many]))
        took = time.process_time() - began
        first = first or took
        print(f"  {many:5} cuts   {took / first:6.1f} x")


def main(words: Sequence[str]) -> None:
    """Every method on the same tables, two at a time; ``long`` only what a long trial costs."""
    if "long" in words:
        long_trials()
        return
    aside = "--tuned-on" not in words
    count = next((int(w) for w in words if w.isdigit()), TABLES)
    seeds = [s for s in range(10 * count) if (s // 10 % 3 == 2) == aside][:count]
    print(f"{'kept aside' if aside else 'tuned on'}: seeds {seeds[0]} to {seeds[-1]}")
    with ProcessPoolExecutor(2) as both:
        for name, method in METHODS.items():
            report(name, list(both.map(method, seeds, chunksize=2)))
    lean_errors()
    long_trials()


if __name__ == "__main__":
    main(sys.argv[1:])
