"""The simulated table: the same seed answers the same, and the trade's signs hold."""

import unittest

from orthotome.core.trial.campaign import Target
from orthotome.sim.table import SimulatedTable
from tests.jobs import PLATE_START


def table(seed: int = 4, **hidden: float) -> SimulatedTable:
    return SimulatedTable.from_seed(seed, PLATE_START, 8.0, **hidden)


class Table(unittest.TestCase):
    def test_same_seed_and_number_same_answer(self) -> None:
        self.assertEqual(table().cut(3, "square", 2000, 1.4), table().cut(3, "square", 2000, 1.4))
        self.assertNotEqual(table().cut(3, "square", 2000, 1.4), table().cut(4, "square", 2000, 1.4))
        self.assertNotEqual(table(4).truth, table(5).truth)

    def test_faster_and_higher_stand_out_more_at_the_bottom(self) -> None:
        for seed in range(20):
            t = table(seed)
            self.assertLess(t.process_bevel_deg(1800, 1.5), t.process_bevel_deg(2400, 1.5))
            self.assertLess(t.process_bevel_deg(2100, 1.1), t.process_bevel_deg(2100, 2.1))

    def test_plus_20_percent_and_plus_1_mm_are_worth_what_the_trade_says(self) -> None:
        for seed in range(40):
            t = table(seed)
            v, h = t.truth.square_speed_mm_min, t.truth.square_height_mm
            speed = t.process_bevel_deg(1.2 * v, h) - t.process_bevel_deg(v, h)
            height = t.process_bevel_deg(v, h + 1) - t.process_bevel_deg(v, h)
            self.assertTrue(0.8 <= speed <= 3.0, speed)
            self.assertTrue(1.0 <= height <= 5.0, height)

    def test_square_is_square_on_the_good_side_and_opposite_edges_differ_by_twice_the_lean(self) -> None:
        t = table(lean_deg=2.0, lean_toward_deg=0.0, oval_deg=0.0)
        process = t.process_bevel_deg(t.truth.square_speed_mm_min, t.truth.square_height_mm)
        up, down = (t.edge_bevel_deg(process, "right", h) for h in (90.0, 270.0))
        self.assertAlmostEqual(down - up, 4.0)
        self.assertAlmostEqual((up + down) / 2, 0.0)

    def test_too_slow_too_fast_and_far_too_fast(self) -> None:
        t = table()
        slow = t.cut(1, "strip", 0.6 * t.truth.clean_from_mm_min, 1.5)
        fast = t.cut(2, "strip", 1.2 * t.truth.clean_to_mm_min, 1.5)
        lost = t.cut(3, "strip", 1.3 * t.truth.severs_to_mm_min, 1.5)
        self.assertGreaterEqual(slow.grade_of("low_speed") or 0, 2)
        self.assertGreaterEqual(fast.grade_of("high_speed") or 0, 1)
        self.assertEqual((lost.through, lost.edges), ("none", ()))

    def test_the_chance_to_pass_falls_with_the_target(self) -> None:
        t = table()
        v, h = t.truth.square_speed_mm_min, t.truth.square_height_mm
        chances = [t.chance_to_pass(Target(deg), v, h) for deg in (3.0, 1.0, 0.3)]
        self.assertEqual(chances, sorted(chances, reverse=True))
        self.assertGreater(chances[0], 0.9)


if __name__ == "__main__":
    unittest.main()
