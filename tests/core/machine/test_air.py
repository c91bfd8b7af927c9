"""Air and gas: worked cases of tank, hose, cylinders, and what is said where a figure is missing."""

import math
import unittest
from dataclasses import replace

from orthotome.core.errors import TradeError
from orthotome.core.machine.air import (
    AirSupply,
    cylinder_life,
    hose_drop_kpa,
    judge_air,
    least_tank_l,
    ride_through_s,
)

SHORT = AirSupply(
    need_l_min=200, delivery_l_min=150, tank_l=100, cut_out_kpa=1000, cut_in_kpa=750, least_kpa=550
)


def verdict(supply: AirSupply, subject: str) -> tuple[str, str]:
    found = next(f for f in judge_air(supply) if f.code == subject)
    return found.verdict, found.why


class Worked(unittest.TestCase):
    def test_ride_through(self) -> None:
        # 100 l x (750 - 550) kPa / (101.325 kPa x 50 l/min) = 3.948 min = 236.9 s.
        self.assertAlmostEqual(ride_through_s(100, 750, 550, 50), 236.9, places=1)
        self.assertEqual(ride_through_s(100, 750, 550, -10), math.inf)
        with self.assertRaisesRegex(TradeError, "cut_in_kpa"):
            ride_through_s(100, 500, 550, 50)

    def test_hose(self) -> None:
        # 200 l/min = 3.333e-3 m3/s free; at 700 kPa gauge (801.3 absolute) 4.215e-4 m3/s through 7.854e-5
        # m2 is 5.367 m/s; density 801325/(287.05 x 293) = 9.527; 0.025 x 10/0.010 x 9.527 x 5.367^2/2 =
        # 3430 Pa.
        self.assertAlmostEqual(hose_drop_kpa(200, 10, 10, 700), 3.43, places=2)
        # The fifth power of the bore: half the bore, 32 times the loss.
        self.assertAlmostEqual(hose_drop_kpa(200, 10, 5, 700) / hose_drop_kpa(200, 10, 10, 700), 32)

    def test_least_tank(self) -> None:
        # 150 l/min x 101.325 x 60 / (4 x 15 starts an hour x 250 kPa) = 60.8 l.
        self.assertAlmostEqual(least_tank_l(150, 1000, 750), 60.8, places=1)

    def test_cylinders(self) -> None:
        # 50 l x (20000 - 800)/101.325 = 9474 l; 80 l/min x (60 min + 100 x 10 s) = 6133 l.
        life = cylinder_life(
            flow_l_min=80, arc_minutes=60, starts=100, water_l=50, pressure_kpa=20_000, least_kpa=800
        )
        self.assertAlmostEqual(life.gas_l, 9474, delta=1)
        self.assertAlmostEqual(life.used_l, 6133, delta=1)
        self.assertTrue(life.enough)
        longer = cylinder_life(
            flow_l_min=80, arc_minutes=300, starts=100, water_l=50, pressure_kpa=20_000, least_kpa=800
        )
        # 25333 l / 9474 l a cylinder = 2.7: three.
        self.assertFalse(longer.enough)
        self.assertIn("3 such cylinders", longer.sentence)
        empty = cylinder_life(
            flow_l_min=80, arc_minutes=60, starts=0, water_l=50, pressure_kpa=5e-324, least_kpa=0
        )
        self.assertNotIn("such cylinders", empty.sentence)


class Judged(unittest.TestCase):
    def test_a_compressor_that_does_not_carry_the_source(self) -> None:
        said = verdict(SHORT, "delivery")
        self.assertEqual(said[0], "short")
        self.assertIn("150 l/min delivered against 200 l/min needed", said[1])
        self.assertIn("about 4 min of arc", verdict(SHORT, "ride_through")[1])

    def test_half_as_much_again_is_enough_and_the_tank_never_falls(self) -> None:
        strong = replace(SHORT, delivery_l_min=300)
        self.assertEqual(verdict(strong, "delivery")[0], "enough")
        self.assertEqual(verdict(strong, "ride_through")[0], "enough")
        self.assertEqual(verdict(replace(SHORT, delivery_l_min=210), "delivery")[0], "short")

    def test_what_is_missing_is_unknown_and_says_what_would_tell(self) -> None:
        for f in judge_air(AirSupply(need_l_min=200)):
            self.assertEqual(f.verdict, "unknown", f.code)
        self.assertIn("gauge at its inlet", verdict(SHORT, "flowing_pressure")[1])

    def test_dryness(self) -> None:
        for dew_point, coldest, expected in ((3, 18, "enough"), (3, 8, "short"), (10, 5, "short")):
            supply = replace(SHORT, dew_point_c=dew_point, coldest_c=coldest)
            self.assertEqual(verdict(supply, "dryness")[0], expected)

    def test_a_hose_too_thin_for_the_source(self) -> None:
        thin = replace(SHORT, hose_length_m=30, hose_bore_mm=5)
        self.assertEqual(verdict(thin, "hose")[0], "short")


if __name__ == "__main__":
    unittest.main()
