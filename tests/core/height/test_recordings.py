"""Recordings of another making than the reader: what happened is found by name, settling and steady volts are the true ones."""

import unittest
from dataclasses import replace

import numpy as np

from orthotome.core.height.trace_report import BesideTrace, TraceReport, read_trace
from tests.enough import cases, note
from tests.traces import MadeTrace
from tools.bench_recordings import Read, made, read
from tools.made_recordings import KINDS

FIRST = 9000


class OfAnotherMaking(unittest.TestCase):
    """Torch, drive and sheet are worked out step by step; noise is white, coloured and hum; height follows or is held."""

    def test_with_the_feed_each_kind_is_found_and_nothing_else_is_called_so(self) -> None:
        got = self.read(with_feed=True)
        for kind in KINDS:
            said = f"{got.right[kind]} of {got.made[kind]} made and {got.found[kind]} found"
            note(f"recordings, {kind}: precision", f"{got.precision(kind):.3f}", got.found[kind], "0.95")
            note(f"recordings, {kind}: recall", f"{got.recall(kind):.3f}", got.made[kind], "0.95")
            with self.subTest(kind, said=said):
                # Of a few, one may be missed.
                self.assertGreaterEqual(got.right[kind] + 1, 0.95 * max(got.found[kind], got.made[kind]))
                self.assertGreater(got.made[kind], 0)
        self.assertLess(got.settled_within_s(0.9), 0.05)
        self.assertGreater(got.within_sd(4.0), 0.95)

    def test_without_the_feed_ends_strikes_and_settling_are_still_told(self) -> None:
        got = self.read(with_feed=False)
        for kind in ("strike", "arc_lost", "off_plate"):
            with self.subTest(kind):
                self.assertGreaterEqual(got.right[kind] + 1, 0.95 * max(got.found[kind], got.made[kind]))
        self.assertLess(got.settled_within_s(0.9), 0.05)

    def read(self, *, with_feed: bool) -> Read:
        recordings = (made(FIRST + case) for case in cases(90, 900))
        return read(r for r in recordings if (r.trace.feed_mm_min is not None) == with_feed)


class NotToldFromTooLittle(unittest.TestCase):
    def test_a_cut_of_a_few_millimetres_has_no_drift_and_says_so(self) -> None:
        short = self.reported(MadeTrace(end_s=1.9))
        self.assertIsNone(short.cuts[0].drift_v_per_m)
        self.assertTrue(
            any("too short to tell" in said for said in short.cannot_tell), short.cannot_tell
        )
        long = self.reported(MadeTrace(drift_v_per_s=0.1, noise_v=0.4))
        self.assertAlmostEqual(long.cuts[0].drift_v_per_m or 0, 100 / 35, delta=0.4)

    def test_what_scatters_is_never_less_than_its_fast_part(self) -> None:
        for seed in range(20):
            for end_s in (1.15, 1.3, 1.6):
                cut = self.reported(MadeTrace(end_s=end_s, hz=20, tau_s=0.05, seed=seed)).cuts[0]
                if cut.rms_v is not None:
                    self.assertGreaterEqual(cut.rms_v, cut.noise_v, f"{seed}, {end_s}")

    def reported(self, of: MadeTrace) -> TraceReport:
        return read_trace(of.made(feed=True), BesideTrace(6.5, 1.5, speed_mm_min=2100.0))


class Gain(unittest.TestCase):
    def test_corners_that_are_not_held_do_not_make_a_loop_hunt(self) -> None:
        """Volts that rise in each corner, and dip as the torch comes back, say nothing of the gain."""
        of = MadeTrace(noise_v=0.4)
        for at in np.arange(2.0, 13.0, 1.1):
            of.corner(float(at), 0.3, 7.0).wave("", float(at) + 0.3, 0.4, -5.0)
        trace = of.made(feed=True)
        for feed in (trace.feed_mm_min, None):
            report = read_trace(replace(trace, feed_mm_min=feed, control=np.ones(len(trace))), KNOWN)
            self.assertNotEqual(report.recommend.gain, "lower")


KNOWN = BesideTrace(6.5, 1.5, 128.0, 2100.0)

if __name__ == "__main__":
    unittest.main()
