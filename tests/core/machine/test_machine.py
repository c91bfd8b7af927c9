"""What the machine reaches, how its axes lie, what a set can do, and which set suits the job."""

import unittest
from itertools import product

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.book.start_rows import StartRow, StartValues
from orthotome.core.choose.capability import Capability, ability, check_amperage
from orthotome.core.choose.choosing import (
    Feature,
    Look,
    Machine,
    Measured,
    Process,
    is_plasma_right,
    judge_processes,
)
from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import AxisMap
from orthotome.core.machine.motion import (
    blind_length_mm,
    fastest_round_mm_min,
    run_up_mm,
    share_of_circle_at_speed,
    share_of_straight_at_speed,
)


class AtSpeed(unittest.TestCase):
    def test_run_up(self) -> None:
        # 6000 mm/min = 100 mm/s; 100^2 / (2 x 500) = 10 mm.
        self.assertAlmostEqual(run_up_mm(6000, 500), 10)

    def test_blind_length(self) -> None:
        # Half a second of waiting in motion at 200 mm/s is 100 mm, and none is left after a long pierce.
        self.assertAlmostEqual(blind_length_mm(12_000, 0.5, "start_of_motion", 0.4), 100)
        self.assertAlmostEqual(blind_length_mm(12_000, 0.9, "arc_strike", 0.4), 100)
        self.assertEqual(blind_length_mm(12_000, 0.3, "arc_strike", 0.4), 0)

    def test_straight(self) -> None:
        # To nine tenths, 90 mm/s: 8.1 mm at each end; of 81 mm four fifths remain.
        self.assertAlmostEqual(share_of_straight_at_speed(81, 6000, 500), 0.8)
        self.assertAlmostEqual(share_of_straight_at_speed(81, 6000, 500, at_speed=1.0), 61 / 81)
        self.assertEqual(share_of_straight_at_speed(16, 6000, 500), 0)

    def test_circle(self) -> None:
        # sqrt(500 x 16.2) = 90 mm/s: nine tenths of 6000 mm/min is just held on a 32.4 mm circle.
        self.assertAlmostEqual(fastest_round_mm_min(16.2, 500), 5400)
        self.assertEqual(share_of_circle_at_speed(32.3, 6000, 500), 0)
        # Run-up 8.1 mm, of which the lead-in from the middle covers 32.4 / 4 = 8.1: the whole circle.
        self.assertAlmostEqual(share_of_circle_at_speed(32.5, 6000, 500), 1.0)

    @given(st.floats(1, 500), st.floats(300, 20_000), st.floats(50, 5000))
    def test_slower_and_stiffer_never_gives_less(self, size: float, speed: float, a: float) -> None:
        for share in (share_of_straight_at_speed, share_of_circle_at_speed):
            here = share(size, speed, a)
            self.assertTrue(0 <= here <= 1)
            self.assertGreaterEqual(share(size, speed / 2, a), here)
            self.assertGreaterEqual(share(size, speed, 2 * a), here)


class Axes(unittest.TestCase):
    def test_front_to_back_called_x_and_one_axis_mirrored(self) -> None:
        turned, mirrored = AxisMap("away", "left"), AxisMap("left", "away")
        self.assertEqual(turned.to_frame(10, 0), (0, 10))
        self.assertFalse(turned.mirrors)
        self.assertEqual(mirrored.to_frame(10, 3), (-10, 3))
        self.assertTrue(mirrored.mirrors)
        self.assertIn("mirror image", mirrored.in_words)

    def test_both_axes_along_one_line_are_refused(self) -> None:
        with self.assertRaisesRegex(TradeError, "each axis by itself"):
            AxisMap("left", "right")

    def test_every_map_undoes_itself_and_keeps_lengths(self) -> None:
        along, across = ("right", "left"), ("away", "toward")
        for x, y in (*product(along, across), *product(across, along)):
            table = AxisMap(x, y)  # type: ignore[arg-type]
            self.assertEqual(table.to_table(*table.to_frame(7, -3)), (7, -3))
            self.assertEqual(sorted(map(abs, table.to_frame(7, -3))), [3, 7])


class Sets(unittest.TestCase):
    def test_pierce_edge_start_sever_refuse(self) -> None:
        known = Capability(10, 16, 22, least_mm=3)
        hows = [ability(known, t).code for t in (2, 10, 10.1, 16.1, 22.1)]
        self.assertEqual(hows, ["pierce", "pierce", "edge_start", "sever", "refuse"])
        self.assertIn("3 mm", ability(known, 2).check)
        self.assertEqual(ability(Capability(), 8).code, "unknown")
        self.assertEqual(ability(Capability(10), 12).code, "unknown")

    def test_bounds_out_of_order_are_refused(self) -> None:
        with self.assertRaisesRegex(TradeError, "edge_start_max_mm"):
            Capability(16, 10)

    def test_amperage_above_the_rating_is_refused_and_far_below_questioned(self) -> None:
        with self.assertRaisesRegex(TradeError, "destroys the nozzle"):
            check_amperage(71, 70)
        self.assertIsNone(check_amperage(70, 70))
        self.assertIn("lazy", check_amperage(45, 70) or "")


def rows(torch_set: str, amperage: float, speed_at_6: float, gas: str = "air") -> tuple[StartRow, ...]:
    return tuple(
        StartRow(
            "mild_steel", t, torch_set, amperage, gas, StartValues(s, 125, 1.5, 3.8, 0.4, 1.7), "made up"
        )
        for t, s in ((6.0, speed_at_6), (12.0, speed_at_6 / 2))
    )


SHEET = Process("45 A sheet set", 45, "air", "", rows("45 A sheet set", 45, 1500), Capability(8, 10, 14))
PLATE = Process(
    "70 A plate set",
    70,
    "air",
    "",
    rows("70 A plate set", 70, 6000),
    Capability(14, 20, 25),
    Look(bevel_deg=3.0),
    gas_l_min=120,
    parts_cost=30,
    parts_starts=300,
)
HEAVY = Process("100 A heavy set", 100, "air", "", rows("100 A heavy set", 100, 9000))


class Choosing(unittest.TestCase):
    def judge(self, thickness: float = 6, machine: Machine | None = None, *processes: Process):  # type: ignore[no-untyped-def]
        return judge_processes(
            processes or (SHEET, PLATE, HEAVY),
            metal="mild_steel",
            thickness_mm=thickness,
            machine=machine or Machine(500, 12_000, 60),
            feature=Feature(straight_mm=81, circle_mm=20),
        )

    def test_both_schools_come_out_of_one_table(self) -> None:
        # The big nozzle asks for speeds that the machine holds on the straight only; the small one holds
        # them in the circle too: sqrt(500 x 10) = 71 mm/s against 22.5 and 90 and 135 mm/s.
        heavy, plate, sheet = self.judge()
        self.assertEqual([o.process.amperage_a for o in (heavy, plate, sheet)], [100, 70, 45])
        self.assertEqual((heavy.circle_share, plate.circle_share), (0, 0))
        self.assertGreater(sheet.circle_share, 0.95)
        self.assertAlmostEqual(plate.straight_share, 0.8)

    def test_cost_gas_and_hole(self) -> None:
        plate = self.judge(6, None, PLATE)[0]
        # 60 an hour is 1 a minute; 6 m/min: 0.1667 a metre, and 30/300 = 0.1 for its start.
        self.assertAlmostEqual(plate.cost_per_m or 0, 0.2667, places=4)
        self.assertAlmostEqual(plate.gas_l_per_m or 0, 20)
        # Half of 100 mm/s round: 2 x 50^2 / 500 = 10 mm, more than 1.5 x 6 = 9.
        self.assertAlmostEqual(plate.smallest_hole_mm, 10)
        self.assertIsNone(self.judge(6, None, SHEET)[0].cost_per_m)

    def test_what_cannot_cut_comes_last_and_says_why(self) -> None:
        last = self.judge(11)[-1]
        self.assertEqual((last.process.amperage_a, last.usable, last.ability.code), (45, False, "sever"))

    def test_a_machine_that_cannot_go_that_fast_holds_no_share_of_it(self) -> None:
        plate = self.judge(6, Machine(500, 5000), PLATE)[0]
        self.assertEqual((plate.straight_share, plate.circle_share), (0, 0))
        self.assertIn("5000 mm/min", plate.notes[-1])
        self.assertIsNone(self.judge(6, Machine(), PLATE)[0].straight_share)

    def test_a_trial_replaces_the_claim(self) -> None:
        # 3 degrees at 6 mm: (6 - 0.6) tan 3 = 0.283 mm, range 3; 1 degree: 0.094 mm, range 2 (0.192).
        proven = Measured(Look(bevel_deg=1.0), 5200, 6.0, 3, "Brackets")
        claimed, measured = (
            self.judge(6, None, p)[0] for p in (PLATE, Process(**{**vars(PLATE), "measured": proven}))
        )
        self.assertEqual((claimed.edge_range, claimed.measured, claimed.speed_mm_min), (3, False, 6000))
        self.assertEqual(
            (measured.edge_range, measured.measured, measured.speed_mm_min), (2, True, 5200)
        )

    def test_another_process_is_named_where_it_would_serve_better(self) -> None:
        self.assertIn("oxy-fuel", is_plasma_right(50, "mild_steel", 2) or "")
        self.assertIn("laser", is_plasma_right(0.8, "stainless_steel", 2) or "")
        self.assertIn("water jet", is_plasma_right(8, "aluminium", 0.5) or "")
        self.assertIsNone(is_plasma_right(8, "mild_steel", 2))


if __name__ == "__main__":
    unittest.main()
