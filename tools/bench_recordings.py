"""``./run bench recordings``: how well recordings of another making are read, kind by kind."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

from orthotome.core.height.trace_report import BesideTrace, TraceReport, read_trace
from tools.made_recordings import KINDS, NOISES_V, RATES_HZ, Happened, Recording, recording

_NEAR_S = 0.15
_FIRST, _MANY = 5000, 300  # none that anything was ever set by


@dataclass
class Read:
    """How recordings were read: events by kind, and how far off settling and steady volts are."""

    made: Counter[str] = field(default_factory=Counter)
    found: Counter[str] = field(default_factory=Counter)
    right: Counter[str] = field(default_factory=Counter)
    settled_off_s: list[float] = field(default_factory=list)
    steady_off_v: list[float] = field(default_factory=list)
    steady_off_sd: list[float] = field(default_factory=list)
    cuts_missed: int = 0

    def precision(self, kind: str) -> float:
        """Share of what was called so that was so."""
        return self.right[kind] / max(1, self.found[kind])

    def recall(self, kind: str) -> float:
        """Share of what was so that was called so."""
        return self.right[kind] / max(1, self.made[kind])

    def settled_within_s(self, share: float) -> float:
        """So far off at most in that share of the cuts."""
        return float(np.quantile(np.abs(self.settled_off_s), share))

    def within_sd(self, sds: float) -> float:
        """Share of the cuts whose steady volts are within so many standard deviations of their mean."""
        return float((np.abs(self.steady_off_sd) <= sds).mean())


def made(case: int) -> Recording:
    """The recording of that number, at one of two levels of noise and one of three rates."""
    return recording(case, noise_v=NOISES_V[case % 2], rate_hz=RATES_HZ[case // 2 % 3])


def read(recordings: Iterable[Recording]) -> Read:
    """Read them all with what the shop knows beside them."""
    found = Read()
    for one in recordings:
        known = BesideTrace(one.slope_v_per_mm, one.cut_height_mm, speed_mm_min=one.speed_mm_min)
        _compare(one, read_trace(one.trace, known), found)
    return found


def _compare(one: Recording, report: TraceReport, into: Read) -> None:
    unseen = [h for h in one.happened if _has_no_samples(one, h)]
    left = [e for c in report.cuts for e in c.events]
    left = [e for e in left if not any(_meets(h, e.from_s, e.to_s) for h in unseen)]
    into.found.update(e.kind for e in left)
    for h in one.happened:
        if h in unseen:
            continue
        into.made[h.kind] += 1
        same = [e for e in left if e.kind == h.kind and _meets(h, e.from_s, e.to_s)]
        if same:
            into.right[h.kind] += 1
            left.remove(same[0])
    for cut in one.cuts:
        seen = [c for c in report.cuts if abs(c.arc_on_s - cut.arc_on_s) < 2 * _NEAR_S]
        if not seen or seen[0].settled_s is None:
            into.cuts_missed += 1
            continue
        into.settled_off_s.append(seen[0].settled_s - cut.settled_s)
        into.steady_off_v.append(seen[0].steady_v - cut.steady_v)
        into.steady_off_sd.append(into.steady_off_v[-1] / cut.sd_of_mean_v)


def _has_no_samples(one: Recording, h: Happened) -> bool:
    """An old kerf so short that not two samples lie in it: no reader can name it."""
    t = one.trace.time_s
    return h.kind == "kerf_crossing" and int(((t >= h.from_s) & (t <= h.to_s)).sum()) < 2


def _meets(h: Happened, from_s: float, to_s: float) -> bool:
    return from_s < h.to_s + _NEAR_S and to_s > h.from_s - _NEAR_S


def main() -> None:
    """Print the figures, with the feed recorded and without."""
    recordings = [made(case) for case in range(_FIRST, _FIRST + _MANY)]
    for with_feed in (True, False):
        of = [r for r in recordings if (r.trace.feed_mm_min is not None) == with_feed]
        got = read(of)
        print(
            f"{len(of)} recordings {'with' if with_feed else 'without'} feed     precision      recall      made"
        )
        for kind in KINDS:
            print(
                f"  {kind:<24}{got.precision(kind):>20.3f}{got.recall(kind):>12.3f}{got.made[kind]:>10}"
            )
        print(
            f"  cuts not settled or not found                 {got.cuts_missed} of {sum(len(r.cuts) for r in of)}"
        )
        print(
            f"  settled within, 90 in 100                     {got.settled_within_s(0.9):.3f} s   asked 0.05"
        )
        print(f"  steady volts off, mean                        {np.mean(got.steady_off_v):+.3f} V")
        print(
            f"  steady volts within 2.5 sd                    {got.within_sd(2.5):.3f}     asked 0.95",
            flush=True,
        )


if __name__ == "__main__":
    main()
