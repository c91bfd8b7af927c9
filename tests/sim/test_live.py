"""The simulated table as it runs: it behaves like one, and its faults show what such faults show."""

import math
import unittest
from dataclasses import replace
from itertools import pairwise

import numpy as np

from orthotome.core.height.events import EventKind
from orthotome.core.height.loop import LoopSettings, Warp
from orthotome.core.height.phases import PhaseOf
from orthotome.core.height.trace import Trace
from orthotome.core.height.trace_report import BesideTrace, TraceReport, read_trace
from orthotome.sim.live import LiveJob, LivePath, LiveTable

CONTROL = LoopSettings(128.0, 2.0, 1.5, 0.9, 40.0, hold_below_share=0.9, crossing_jump_v=5.0)
JOB = LiveJob(2100, 1.5, 3.8, 0.5, 128.0, (LivePath(300, (100.0, 200.0)),))


def run(table: LiveTable, job: LiveJob) -> tuple[Trace, TraceReport]:
    """A job run to its end, and what its trace says."""
    seen = list(table.cut(job))
    trace = Trace(
        np.array([s.at_s for s in seen]),
        np.array([s.arc_voltage_v for s in seen]),
        np.array([s.z_mm for s in seen]),
        np.array([s.feed_mm_min for s in seen]),
        np.array([np.nan if s.set_point_v is None else s.set_point_v for s in seen]),
        np.array([float(s.control_on) for s in seen]),
    )
    return trace, read_trace(trace, BesideTrace(table.slope_v_per_mm, 1.5))


def kinds(report: TraceReport) -> list[EventKind]:
    return [e.kind for c in report.cuts for e in c.events]


class LiveTableRuns(unittest.TestCase):
    def test_flat_sheet_at_the_right_set_point_corners_held(self) -> None:
        trace, report = run(LiveTable(), replace(JOB, loop=CONTROL))
        self.assertEqual(kinds(report), ["corner", "corner"])
        for corner in report.cuts[0].events:
            self.assertLess(abs(corner.height_mm or 0), 0.35)
        self.assertAlmostEqual(report.cuts[0].steady_v, 128.0, delta=1.6)
        assert trace.z_mm is not None
        self.assertAlmostEqual(float(np.median(trace.z_mm[-400:-100])), 1.5, delta=0.3)

    def test_without_control_z_stays_and_the_sheets_waves_are_in_the_volts(self) -> None:
        trace, _ = run(LiveTable(), replace(JOB, warp=Warp(2.0, 150)))
        moving = (trace.feed_mm_min > 1500) & (trace.time_s > 2)  # type: ignore[operator]
        assert trace.z_mm is not None
        self.assertEqual(float(np.ptp(trace.z_mm[moving])), 0.0)
        self.assertGreater(float(np.ptp(trace.volts_v[moving])), 1.5 * LiveTable().slope_v_per_mm)

    def test_with_control_it_follows_them(self) -> None:
        job = replace(JOB, warp=Warp(2.0, 150), loop=CONTROL)
        trace, _ = run(LiveTable(), job)
        assert trace.z_mm is not None and trace.control is not None
        self.assertGreater(float(np.ptp(trace.z_mm[trace.control > 0.5])), 1.4)

    def test_a_set_point_too_low_strikes_and_an_end_off_the_plate_stretches(self) -> None:
        low = replace(JOB, loop=replace(CONTROL, set_point_v=112.0))
        self.assertIn("strike", kinds(run(LiveTable(), low)[1]))
        off = replace(JOB, paths=(LivePath(200, (), (80.0,), ends_off_plate=True),))
        self.assertEqual(kinds(run(LiveTable(), off)[1]), ["kerf_crossing", "off_plate"])

    def test_sampling_takes_each_starts_own_volts(self) -> None:
        job = replace(
            JOB, paths=(LivePath(200), LivePath(200)), loop=replace(CONTROL, set_point_v=math.nan)
        )
        table = LiveTable(starts=800)
        trace, _ = run(table, job)
        assert trace.set_point_v is not None
        points = sorted(set(np.round(trace.set_point_v[np.isfinite(trace.set_point_v)], 3)))
        self.assertEqual(len(points), 2)
        worn = 128 + table.wear_v_per_1000 * 0.8
        self.assertTrue(all(abs(p - worn) < 2.5 for p in points), points)

    def test_faults_show_what_such_faults_show(self) -> None:
        divided, _ = run(LiveTable(faults=frozenset({"divided_twice"})), replace(JOB, loop=CONTROL))
        assert divided.z_mm is not None
        self.assertLess(float(divided.volts_v[100:120].max()), 10)
        self.assertGreater(float(divided.z_mm.max()), 60)  # it flies up
        plain = run(LiveTable(), JOB)[1].cuts[0]
        loose = run(LiveTable(faults=frozenset({"clip_loose"})), JOB)[1].cuts[0]
        self.assertGreater(loose.steady_v - plain.steady_v, 5)
        worn = run(LiveTable(faults=frozenset({"worn_electrode"})), JOB)[1].cuts[0]
        self.assertAlmostEqual(worn.steady_v - plain.steady_v, 12, delta=1.5)
        wet = run(LiveTable(faults=frozenset({"wet_air"})), JOB)[1].cuts[0]
        self.assertGreater(wet.noise_v, 2 * plain.noise_v)

    def test_a_trim_and_a_stop_are_done_while_it_runs(self) -> None:
        table = LiveTable()
        points, count = [], 0
        for sample in table.cut(replace(JOB, loop=CONTROL)):
            count += 1
            if count == 400:
                table.trimmed_v += 0.5
            if count == 600:
                table.stopped = True
            points.append(sample.set_point_v)
        self.assertEqual((points[300], points[500]), (128.0, 128.5))
        self.assertLess(count, 700)  # and a rest, as after every path

    def test_phases_are_recognised_as_they_happen(self) -> None:
        phase = PhaseOf()
        job = replace(JOB, paths=(LivePath(300, (150.0,), (240.0,), ends_off_plate=True),))
        told = [phase.told(s.at_s, s.arc_voltage_v, s.feed_mm_min) for s in LiveTable().cut(job)]
        order = [told[0], *(b for a, b in pairwise(told) if a != b)]
        self.assertEqual(order[:6], ["idle", "pierce", "settling", "steady", "slow", "steady"])
        self.assertTrue({"jump", "stretched"} <= set(order[6:]))
        self.assertEqual(order[-1], "idle")


if __name__ == "__main__":
    unittest.main()
