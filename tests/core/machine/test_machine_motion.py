"""What is found out of a machine beside its measured pieces: held against machines that were made up, with errors."""

import math
import random
import unittest
from datetime import datetime, timedelta
from itertools import pairwise

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.machine.adjusting import Gantry, adjusting
from orthotome.core.machine.health import Aspect, KnownFigure, Upset, health
from orthotome.core.machine.hole_table import HoleTable, TriedHole, check_tried
from orthotome.core.machine.measured import Measured, Rectangle, Slot
from orthotome.core.machine.measures import judge_machine
from orthotome.core.machine.run_up import (
    ZigZag,
    acceleration_by_feed,
    acceleration_by_watch,
    telling_zig_zag,
)
from orthotome.core.machine.slack import Circle, Return, Turns, lost_steps, slack_of
from orthotome.core.machine.touch_height import Touched, touched_says
from orthotome.core.path.paths import Arc, Line
from orthotome.core.path.rings import Ring
from orthotome.core.pieces.machine_truth import holes_fitted, true_rectangle, two_circles, zig_zag
from orthotome.core.pieces.piece import PieceBasis

BASIS = PieceBasis(6.0, 1.8, "clockwise", 2500, 1.5, 400.0)


def run_s(
    legs: int, leg_mm: float, speed_mm_min: float, acceleration: float, pause_s: float = 0.0
) -> float:
    """Seconds of a zig-zag: the way over the speed that it is run at, summed up from the turn to the middle of a leg."""
    root = (
        (np.arange(40_000) + 0.5) / 40_000 * math.sqrt(leg_mm / 2)
    )  # of the way from the turn: it begins at rest
    speed = np.minimum(speed_mm_min / 60, np.sqrt(2 * acceleration) * root)
    half = float((2 * root / speed).sum() * math.sqrt(leg_mm / 2) / 40_000)
    return legs * (2 * half + pause_s)


class Watched(unittest.TestCase):
    """An acceleration by a stopwatch."""

    def test_nine_ranges_of_ten_hold_the_true_one(self) -> None:
        chance, held, told = random.Random(1), 0, 0
        for acceleration in (150.0, 400.0, 900.0, 2000.0):
            speed = 6000.0
            legs, leg = telling_zig_zag(speed, 500.0)
            true_s = run_s(legs, leg, speed, acceleration)
            for _ in range(100):
                found = acceleration_by_watch([ZigZag(legs, leg, speed, true_s + chance.gauss(0, 0.2))])
                if found.value_mm_s2 is not None and found.high_mm_s2 is not None:
                    told += 1
                    held += found.low_mm_s2 <= acceleration <= found.high_mm_s2
        self.assertGreater(told, 300)
        self.assertTrue(0.86 <= held / told <= 0.94, held / told)

    def test_two_speeds_tell_a_pause_at_the_turns_from_the_acceleration(self) -> None:
        runs = [(60, 25.0, 6000.0), (60, 25.0, 1500.0)]
        timed = [ZigZag(n, leg, v, run_s(n, leg, v, 400.0, 0.08), 0.1) for n, leg, v in runs]
        both = acceleration_by_watch(timed)
        assert both.value_mm_s2 is not None and both.pause_s is not None
        self.assertAlmostEqual(both.value_mm_s2, 400.0, delta=12)
        self.assertAlmostEqual(both.pause_s, 0.08, delta=0.004)
        alone = acceleration_by_watch(timed[:1])
        assert alone.value_mm_s2 is not None
        self.assertLess(alone.value_mm_s2, 320.0)
        self.assertIn("second zig-zag", alone.why)

    def test_a_run_without_run_up_tells_only_a_least(self) -> None:
        found = acceleration_by_watch([ZigZag(2, 2000.0, 3000.0, 80.1)])
        self.assertIsNone(found.value_mm_s2)
        self.assertIn("At least", found.why)

    def test_what_no_machine_does_is_refused(self) -> None:
        for seconds in (14.0, 900.0):  # 60 legs of 25 mm at 100 mm/s are 15 s without any run-up
            with self.assertRaises(TradeError) as refused:
                acceleration_by_watch([ZigZag(60, 25.0, 6000.0, seconds)])
            self.assertEqual(refused.exception.field, "seconds")

    def test_a_recording_shows_it_on_its_ramps(self) -> None:
        t = np.arange(0, 12, 0.01)
        v = np.minimum(50.0, 300.0 * (t % 3.0)) * ((t % 3.0) < 2.5)
        found = acceleration_by_feed(t, 60 * v)
        assert found.value_mm_s2 is not None
        self.assertAlmostEqual(found.value_mm_s2, 300.0, delta=6)
        with self.assertRaises(TradeError):
            acceleration_by_feed(t, np.full_like(t, 2000.0))


def circle(turns: Turns, slack: tuple[float, float], skew_rad: float, drawn: float = 120.0) -> Circle:
    """A circle cut by drives that lag: each axis is dragged along at half its slack behind, as a play gives."""
    sign = 1 if turns == "counter_clockwise" else -1
    angles = sign * np.linspace(0, 4 * math.pi, 40_000)  # twice round: the first takes up the slack
    wanted = np.column_stack([drawn / 2 * np.cos(angles), drawn / 2 * np.sin(angles)])
    real = np.empty_like(wanted)
    at = wanted[0].copy()
    for i, point in enumerate(wanted):
        for k in (0, 1):
            at[k] = min(max(at[k], point[k] - slack[k] / 2), point[k] + slack[k] / 2)
        real[i] = at
    real = real[20_000:]
    x, y = real[:, 0] + skew_rad * real[:, 1], real[:, 1]

    def across(dx: float, dy: float) -> float:
        along = (dx * x + dy * y) / math.hypot(dx, dy)
        return float(along.max() - along.min())

    return Circle(turns, across(1, 0), across(0, 1), across(1, 1), across(1, -1), 0.05)


class Slackness(unittest.TestCase):
    """Slack from a circle each way round."""

    def test_slack_skew_and_both_are_told_apart(self) -> None:
        for slack, skew in (((0.4, 0.1), 0.0), ((0.0, 0.0), 0.004), ((0.15, 0.5), -0.003)):
            found = slack_of(
                [circle("clockwise", slack, skew), circle("counter_clockwise", slack, skew)], 120.0
            )
            assert found.x_mm and found.y_mm and found.skew_deg
            self.assertAlmostEqual(found.x_mm.value, slack[0], delta=0.05)
            self.assertAlmostEqual(found.y_mm.value, slack[1], delta=0.05)
            self.assertAlmostEqual(math.radians(found.skew_deg.value), skew, delta=0.0004)
            codes = {f.code for f in found.findings}
            self.assertEqual("slack_x" in codes, slack[0] > 0.1)
            self.assertEqual("slack_y" in codes, slack[1] > 0.1)
            self.assertEqual("oval_with_the_gantry" in codes, skew != 0.0)

    def test_one_way_round_leaves_skew_and_slack_one(self) -> None:
        found = slack_of([circle("clockwise", (0.4, 0.1), 0.003)], 120.0)
        self.assertIsNone(found.skew_deg)
        self.assertIn("the other way round", found.cannot_tell[0])

    def test_lost_steps_are_said_with_their_way_and_number(self) -> None:
        found = lost_steps(Return(-1.25, 0.02, 0.1, steps_per_mm_x=80.0))
        self.assertTrue(found.lost)
        self.assertIn("toward −X, about 100 steps", found.sentence)
        self.assertNotIn("Y stands", found.sentence)
        self.assertFalse(lost_steps(Return(0.1, None, 0.1)).lost)
        with self.assertRaises(TradeError):
            lost_steps(Return(None, None, 0.1))

    def test_a_torch_off_its_height_is_said_with_its_way(self) -> None:
        self.assertIn("0.4 mm higher", touched_says(Touched(1.5, 1.9, 0.05), None))
        self.assertIn("stands where it is told", touched_says(Touched(1.5, 1.56, 0.05), 0.3))


class Holes(unittest.TestCase):
    """Holes that were tried, and the next one."""

    def test_what_must_pass_passes_nineteen_times_of_twenty(self) -> None:
        chance, passed, drilled, count = random.Random(3), 0, 0, 0
        for _ in range(300):
            short, at_small = chance.uniform(0.1, 0.6), chance.uniform(0.0, 5.0)

            def cut(drawn: float, short: float = short, at_small: float = at_small) -> float:
                return drawn - short - at_small / drawn + chance.gauss(0, 0.1)

            tried = [
                TriedHole(d, cut(d) + chance.gauss(0, 0.05), u_mm=0.05) for d in (8.0, 12.0, 16.0, 24.0)
            ]
            table = HoleTable(tried, 6.0)
            for wanted in (10.0, 14.0, 20.0):
                count += 1
                passed += cut(table.to_draw(wanted).draw_mm) >= wanted + 0.2
                drilled += cut(table.to_draw(wanted, "drill_out").draw_mm) <= wanted - 0.6
        self.assertTrue(0.92 <= passed / count <= 0.985, passed / count)
        self.assertTrue(0.92 <= drilled / count <= 0.985, drilled / count)

    def test_untried_sizes_say_so_and_are_less_sure(self) -> None:
        table = HoleTable([TriedHole(12, 11.5, 11.2), TriedHole(16, 15.6, 15.3)], 6.0)
        near, far = table.to_draw(14.0), table.to_draw(40.0)
        self.assertEqual((near.known, far.known), (True, False))
        self.assertIn("No hole of about that size was tried", far.sentence)
        self.assertGreater(HoleTable([], 6.0).to_draw(14.0).sd_mm, 2 * near.sd_mm)

    def test_pins_count_where_both_were_tried_and_the_smallest_way_through_counts(self) -> None:
        self.assertIsNone(TriedHole(12, went_mm=11.0).through)
        by_pins = TriedHole(12, went_mm=11.0, stopped_mm=11.4).through
        assert by_pins is not None
        self.assertAlmostEqual(by_pins[0], 11.2)
        read = TriedHole(12, 11.9, 11.3, 11.7).through
        assert read is not None
        self.assertEqual(read[0], 11.3)

    def test_taper_flat_and_slug_are_said(self) -> None:
        tried = [TriedHole(d, d - 0.3, d - 1.0, flat=True, fell=True) for d in (9.0, 12.0)]
        said = " ".join(HoleTable([*tried, TriedHole(6.0, fell=False)], 6.0).says())
        for word in (
            "narrow downward by 3.3°",
            "2 have a flat",
            "slug of 6 mm did not fall: 9 mm is the least",
        ):
            self.assertIn(word, said)

    def test_holes_that_are_none_are_refused(self) -> None:
        with self.assertRaises(TradeError):
            HoleTable([], 12.0).to_draw(5.0)
        for hole, field in (
            (TriedHole(12, 0.47), "top_mm"),
            (TriedHole(12, went_mm=12, stopped_mm=11), "stopped_mm"),
            (TriedHole(12), "top_mm"),
        ):
            with self.assertRaises(TradeError) as refused:
                check_tried(hole)
            self.assertEqual(refused.exception.field, field)


class Adjusted(unittest.TestCase):
    """What is done about it."""

    def test_steps_and_stops_go_the_way_of_the_correction(self) -> None:
        # d1 longer: the far side leans right, the +X end stands too far away: it comes back toward -Y.
        measured = Measured(
            1.8, (Rectangle((300, 200), 300, 200, 361.1, 360.0, 0.05),), drive_distance_mm=1300
        )
        judged = judge_machine(measured)
        found = adjusting(judged, Gantry("motors", None, 80.0))
        assert found.steps is not None and judged.drive_correction is not None
        self.assertAlmostEqual(found.steps.value, 80 * judged.drive_correction.mm.value)
        self.assertIn("+X motor by itself", found.says[0])
        self.assertIn("toward −Y", found.says[0])
        self.assertIn("stop 4", adjusting(judged, Gantry("stops")).says[0])

    def test_new_steps_make_a_long_axis_shorter_and_a_kerf_fault_comes_first(self) -> None:
        # 0.6 mm too long over 300 both outside and in: scale 1.002, steps fewer... a motor told fewer steps goes less far.
        long = Measured(
            1.8, (Rectangle((300, 300), 300.6, 300, None, None, 0.05),), (Slot(100, 100.2, 100.0, 0.05),)
        )
        found = adjusting(judge_machine(long), Gantry(None, 100.0, 100.0))
        assert found.new_steps_per_mm_x is not None
        self.assertAlmostEqual(found.new_steps_per_mm_x, 100 / 1.002, delta=0.02)
        self.assertIsNone(found.new_steps_per_mm_y)
        bare = Measured(1.8, (Rectangle((300, 200), 298.2, 198.2, None, None, 0.05),))
        self.assertIn(
            "Adjust nothing", adjusting(judge_machine(bare), Gantry(None, 100.0, 100.0)).says[0]
        )


class Health(unittest.TestCase):
    """What is due."""

    def test_age_and_upsets_make_the_right_things_due(self) -> None:
        now = datetime(2026, 6, 1)
        known: dict[Aspect, KnownFigure] = {
            a: KnownFigure(now - timedelta(days=30), "", "good")
            for a in ("square", "scale", "air", "alignment")
        }
        known["slack"] = KnownFigure(now - timedelta(days=200), "", "good")
        crash: list[tuple[Upset, datetime]] = [("crash", now - timedelta(days=2))]
        standing = {line.aspect: line.standing for line in health(known, crash, now)}
        due = {a for a, s in standing.items() if s == "due"}
        self.assertEqual(due, {"square", "alignment", "slack"})
        self.assertEqual(standing["axes"], "not_known")
        after = [("crash", now - timedelta(days=40))]
        self.assertNotIn("square", {x.aspect for x in health(known, after, now) if x.standing == "due"})  # type: ignore[arg-type]


class Pieces(unittest.TestCase):
    """Pieces that tell of the machine."""

    def test_the_rectangle_fills_the_sheet_and_stays_on_it(self) -> None:
        for sheet in ((1250.0, 1000.0), (331.0, 247.0), (3000.0, 1500.0)):
            piece = true_rectangle(BASIS, sheet)
            self.assertTrue(all(p <= s for p, s in zip(piece.plate_mm, sheet, strict=True)), sheet)
            for had, given, most in zip(piece.size_mm, sheet, (2000.0, 2000.0), strict=True):
                self.assertGreaterEqual(had, min(given - 45.0, most))
        with self.assertRaises(TradeError):
            true_rectangle(BASIS, (110.0, 400.0))

    def test_the_two_discs_turn_each_way_with_the_metal_inside(self) -> None:
        sides = {c.kept_side for c in two_circles(BASIS).contours}
        self.assertEqual(sides, {"left", "right"})

    def test_the_zig_zag_goes_there_and_back_on_itself(self) -> None:
        piece, legs, leg = zig_zag(BASIS, "y", 6000.0)
        points = piece.contours[0].segments[0].points
        self.assertEqual(len(points), legs + 1)
        self.assertEqual({abs(a[1] - b[1]) for a, b in pairwise(points)}, {leg})
        self.assertEqual(points[0], points[-1])

    def test_holes_are_drawn_larger_and_discs_are_not(self) -> None:
        outline = Ring(
            tuple(
                Line(a, b)
                for a, b in (
                    ((0, 0), (0, 60)),
                    ((0, 60), (60, 60)),
                    ((60, 60), (60, 0)),
                    ((60, 0), (0, 0)),
                )
            )
        )
        hole = Ring((Arc((36.0, 30.0), (36.0, 30.0), (30.0, 30.0), True),))
        table = HoleTable([TriedHole(12, 11.5), TriedHole(16, 15.5)], 6.0)
        drawn, said = holes_fitted([outline, hole], table)
        self.assertIs(drawn[0], outline)
        radius = math.dist(drawn[1].start, (30.0, 30.0))
        self.assertAlmostEqual(table.through(2 * radius)[0], 12.0, delta=0.001)
        self.assertEqual(len(said), 1)
        alone, _ = holes_fitted([hole], table)
        self.assertIs(alone[0], hole)


if __name__ == "__main__":
    unittest.main()
