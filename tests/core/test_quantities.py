"""Units, gauges, squareness and measuring: worked by hand beside each case."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.edge.measuring import (
    angle_gauge_u_deg,
    cannot_judge,
    square_and_feeler_bevel,
    strip_widths_bevel,
)
from orthotome.core.edge.squareness import perpendicularity_mm, range_of_bevel, square_target
from orthotome.core.errors import TradeError
from orthotome.core.quantities import (
    INCH,
    METRIC,
    ShopUnits,
    degrees_between,
    in_steps,
    length,
    pressure,
    reach,
    size,
    slope,
    speaking,
    speed,
    speed_step_mm_min,
    temperature,
    thickness,
)
from orthotome.core.stock.gauges import GAUGE_INCHES, gauge_thickness_mm
from orthotome.core.units import UNITS, read_quantity


class ReadingWhatIsTyped(unittest.TestCase):
    def test_each_way_of_writing(self) -> None:
        cases = [
            ("95 ipm", "speed", "mm/min", 95 * 25.4),
            ("2.4 m/min", "speed", "mm/min", 2400),
            ("2,4 m/min", "speed", "mm/min", 2400),
            ("2400", "speed", "mm/min", 2400),
            ("95", "speed", "in/min", 2413),
            ("0.07 in", "length", "mm", 1.778),
            ('0.07"', "length", "mm", 1.778),
            ("60 thou", "length", "mm", 1.524),
            ("5/16", "length", "mm", 7.9375),
            ("1 1/4", "length", "mm", 31.75),
            ("1-1/4 in", "length", "mm", 31.75),
            ("14 ga", "length", "mm", 0.0747 * 25.4),
            ("−2.5", "angle", "deg", -2.5),
            ("500 ms", "time", "s", 0.5),
            ("80 psi", "pressure", "kPa", 80 * 6.894757),
            ("6.5 bar", "pressure", "kPa", 650),
            ("8 cfm", "flow", "l/min", 8 * 28.316847),
            ("12 m³/h", "flow", "l/min", 200),
            ("20 in/s2", "acceleration", "mm/s2", 508),
            ("0.5 m/s²", "acceleration", "mm/s2", 500),
        ]
        for text, quantity, unit, value in cases:
            with self.subTest(text):
                read = read_quantity(text, quantity, default_unit=unit, metal="mild_steel")
                self.assertAlmostEqual(read.value, value, places=9)

    def test_absurd_value_is_questioned_with_the_unit_that_fits(self) -> None:
        read = read_quantity("95", "speed", default_unit="mm/min", expected=2400)
        self.assertEqual(read.value, 95)  # never silently changed
        self.assertIn("95 in/min", read.question or "")
        self.assertIsNone(read_quantity("2300", "speed", default_unit="mm/min", expected=2400).question)

    def test_what_no_cut_can_be_is_questioned_without_any_row_to_go_by(self) -> None:
        said = read_quantity("2000", "speed", default_unit="in/min", means="cut_speed").question
        self.assertIn("2000 in/min is no usual cut speed", said or "")
        self.assertIn("Did you mean 2000 mm/min?", said or "")
        for text, unit, means in (("95", "in/min", "cut_speed"), ("6", "in/min", "cut_speed")):
            self.assertIsNone(read_quantity(text, "speed", default_unit=unit, means=means).question)

    def test_fractions_are_exact_and_temperatures_have_a_zero_of_their_own(self) -> None:
        self.assertEqual(read_quantity("3/8", "length", default_unit="in").value, 9.525)
        self.assertEqual(read_quantity("0.060", "length", default_unit="in").value, 1.524)
        self.assertEqual(read_quantity("41", "temperature", default_unit="F").value, 5.0)
        self.assertEqual(read_quantity("-4 °C", "temperature", default_unit="F").value, -4.0)

    def test_degrees_between_two_temperatures_have_no_zero(self) -> None:
        self.assertEqual(degrees_between(10), "10 °C")
        with speaking(INCH):
            self.assertEqual(degrees_between(10), "18 °F")  # and not 50, which is where 10 °C lie
            self.assertEqual(temperature(10), "50 °F")

    def test_refusals_name_the_field(self) -> None:
        for text in ("fast", "", "1/0", "95 kg", "1e5", "nan", "--3", "9" * 400):
            with self.subTest(text), self.assertRaises(TradeError) as refused:
                read_quantity(text, "speed", default_unit="mm/min", field="speed_mm_min")
            self.assertEqual(refused.exception.field, "speed_mm_min")

    def test_ten_and_sixteen_gauge_as_the_trade_has_them(self) -> None:
        said = {m: [round(gauge_thickness_mm(m, g) / 25.4, 4) for g in (10, 16)] for m in GAUGE_INCHES}
        self.assertEqual(said["mild_steel"], [0.1345, 0.0598])
        self.assertEqual(said["galvanized_steel"], [0.1382, 0.0635])
        self.assertEqual(said["stainless_steel"], [0.1406, 0.0625])
        self.assertEqual(said["aluminium"], [0.1019, 0.0508])

    def test_gauge_without_a_metal_is_refused(self) -> None:
        with self.assertRaises(TradeError):
            read_quantity("14 ga", "length", default_unit="mm")

    @given(st.sampled_from(["length", "speed"]), st.floats(0.001, 9999), st.data())
    def test_any_unit_reads_back(self, quantity: str, number: float, data: st.DataObject) -> None:
        unit = data.draw(st.sampled_from(sorted(UNITS[quantity])))
        read = read_quantity(f"{number:.6f} {unit}", quantity, default_unit="mm")
        self.assertAlmostEqual(read.value / UNITS[quantity][unit], number, delta=1e-6 * number + 1e-6)


class Saying(unittest.TestCase):
    @given(
        st.floats(-900, 900),
        st.floats(0.1, 3000),
        st.sampled_from([METRIC, INCH, ShopUnits("thou", "in/min")]),
    )
    def test_what_is_said_to_be_needed_is_never_less_and_hardly_more(
        self, low: float, across: float, units: ShopUnits
    ) -> None:
        with speaking(units):
            said, _, rest = reach(low, low + across).partition(" to ")
        per_mm = {"mm": 1.0, "in": 25.4, "thou": 0.0254}[units.length]
        first, last = float(said) * per_mm, float(rest.split()[0]) * per_mm
        self.assertLessEqual(first, low + 1e-3)
        self.assertGreaterEqual(last, low + across - 1e-3)
        self.assertLess((low - first) + (last - low - across), 0.6)


class Gauges(unittest.TestCase):
    def test_fourteen_gauge_is_another_thickness_for_each_metal(self) -> None:
        inches = {m: round(gauge_thickness_mm(m, 14) / 25.4, 4) for m in GAUGE_INCHES}
        self.assertEqual(
            inches,
            {
                "mild_steel": 0.0747,
                "galvanized_steel": 0.0785,
                "stainless_steel": 0.0781,
                "aluminium": 0.0641,
            },
        )

    def test_every_table_falls(self) -> None:
        for metal, table in GAUGE_INCHES.items():
            with self.subTest(metal):
                values = [table[number] for number in sorted(table)]
                self.assertEqual(values, sorted(values, reverse=True))
                self.assertEqual(len(set(values)), len(values))

    def test_no_guessing(self) -> None:
        for metal, number in (("copper", 14), ("galvanized_steel", 7), ("mild_steel", 21)):
            with self.subTest(metal), self.assertRaises(TradeError):
                gauge_thickness_mm(metal, number)


class Squareness(unittest.TestCase):
    def test_two_degrees_at_8_mm(self) -> None:
        # gap 8 tan 2° = 0.2794; strip at 8 mm is 0.6, so u = 6.8 tan 2° = 0.2375.
        # Range 2 allows 0.15 + 0.056 = 0.206, range 3 allows 0.48: range 3.
        target = square_target(8.0, bevel_deg=2.0)
        self.assertAlmostEqual(target.gap_mm, 0.2794, places=4)
        self.assertAlmostEqual(target.perpendicularity_mm, 0.2375, places=4)
        self.assertEqual(target.iso_range, 3)

    def test_range_3_on_thin_sheet_means_little(self) -> None:
        # 1.5 mm: strip 0.15, height 1.2, allowed 0.415: atan(0.415 / 1.2) = 19.08°.
        target = square_target(1.5, iso_range=3)
        self.assertAlmostEqual(target.bevel_deg, 19.08, places=2)
        self.assertIn("mean little", target.warning or "")

    @given(st.floats(3, 100), st.integers(1, 5))
    def test_ways_of_saying_it_convert(self, thickness_mm: float, iso_range: int) -> None:
        by_range = square_target(thickness_mm, iso_range=iso_range)
        again = square_target(thickness_mm, gap=by_range.gap_mm)
        self.assertAlmostEqual(again.bevel_deg, by_range.bevel_deg, places=9)
        self.assertEqual(range_of_bevel(by_range.bevel_deg - 1e-6, thickness_mm), iso_range)

    def test_one_way_only(self) -> None:
        for given_ways in ({}, {"bevel_deg": 2.0, "gap": 0.3}, {"gap": 0.0}, {"bevel_deg": 60.0}):
            with self.subTest(given_ways), self.assertRaises(TradeError):
                square_target(8.0, **given_ways)
        with self.assertRaises(TradeError):
            perpendicularity_mm(2.0, 120.0)  # the standard's strips end at 100 mm


class Measuring(unittest.TestCase):
    def test_calliper_cannot_judge_thin_strip(self) -> None:
        # 3 mm, widths ±0.05 mm: u(tan) = sqrt(2)*0.05/6 = 0.011785; over 1 + tan^2: 0.6745°, ±1.35° at 95 %.
        read = strip_widths_bevel(20.0, 20.2, 3.0)
        self.assertAlmostEqual(read.bevel_deg, math.degrees(math.atan(0.2 / 6)), places=9)
        self.assertAlmostEqual(read.u_deg, 0.6745, places=4)
        self.assertIsNotNone(cannot_judge(read.u_deg, 1.2))
        self.assertIsNone(cannot_judge(strip_widths_bevel(20.0, 20.2, 12.0).u_deg, 1.2))

    def test_feeler_keeps_the_sign(self) -> None:
        read = square_and_feeler_bevel(0.28, 8.0, undercut=True)
        self.assertAlmostEqual(read.bevel_deg, -2.0046, places=3)
        with self.assertRaises(TradeError):
            square_and_feeler_bevel(-0.1, 8.0, undercut=False)

    def test_gauge_is_worse_on_thin_edges(self) -> None:
        self.assertEqual(angle_gauge_u_deg(8.0), 0.4)
        self.assertAlmostEqual(angle_gauge_u_deg(2.5), 0.8)


class Said(unittest.TestCase):
    def test_an_inch_shop_hears_its_own_steps_and_stock(self) -> None:
        with speaking(INCH):
            self.assertEqual(speed(75 * 25.4), "75 in/min")
            self.assertEqual(length(0.060 * 25.4), "0.060 in")
            self.assertEqual(in_steps(2111.23, speed_step_mm_min(2111.23)), 83 * 25.4)
            self.assertEqual(thickness(0.0747 * 25.4, "mild_steel"), "14 ga (0.075 in)")
            self.assertEqual(thickness(9.525, "mild_steel"), "3/8 in")
            self.assertEqual(thickness(31.75), "1 1/4 in")
            self.assertEqual(thickness(1.9), "0.075 in")  # no gauge of no metal
            self.assertEqual(size(300, 200, up=True), "11.9 × 7.9 in")
            self.assertEqual(
                (pressure(620), temperature(5), slope(6.5)), ("90 psi", "41 °F", "165 V/in")
            )
        self.assertEqual((speed(2100), length(1.5), size(299.2, 200, up=True)),
                         ("2100 mm/min", "1.5 mm", "300 × 200 mm"))  # fmt: skip

    def test_what_is_spoken_ends_with_its_door(self) -> None:
        with speaking(INCH), speaking(METRIC):
            self.assertEqual(length(25.4), "25.4 mm")
        self.assertEqual(length(25.4), "25.4 mm")


if __name__ == "__main__":
    unittest.main()
