"""Starting numbers: interpolation, refusals, coated and unknown metals."""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.book.start_rows import RowDetails, StartRow, StartValues, starting_numbers
from orthotome.core.stock.metals import METALS, is_expected


def row(thickness_mm: float, speed: float, delay: float = 0.5, metal: str = "mild_steel") -> StartRow:
    values = StartValues(speed, 120 + thickness_mm, 1.5, 3.8, delay, 1.2 + thickness_mm / 10)
    return StartRow(metal, thickness_mm, "70 A plate set", 70, "air", values, f"{thickness_mm:g}")


ROWS = [row(6, 2900, 0.3), row(10, 1650, 0.7), row(12, 1300, 0.9)]


def ask(thickness_mm: float, metal: str = "mild_steel", rows: list[StartRow] = ROWS):  # type: ignore[no-untyped-def]
    return starting_numbers(rows, metal=metal, thickness_mm=thickness_mm, torch_set="70 A plate set")


class GoodConductors(unittest.TestCase):
    def test_the_heat_of_copper_and_its_alloys_runs_away(self) -> None:
        self.assertEqual(
            {n for n, m in METALS.items() if m.conducts_well}, {"copper", "brass", "bronze"}
        )
        self.assertTrue(is_expected("aluminium"))
        self.assertFalse(is_expected("bronze"))


class BetweenRows(unittest.TestCase):
    def test_eight_between_six_and_ten(self) -> None:
        # Share in log: ln(8/6)/ln(10/6) = 0.56318; speed 2900*(1650/2900)^0.56318 = 2900*e^-0.31760 = 2110.9,
        # delay 0.3*(0.7/0.3)^0.56318 = 0.4835; straight share 0.5: volts 128, kerf 2.0.
        found = ask(8)
        assert found.values
        self.assertEqual(found.how, "interpolated")
        self.assertAlmostEqual(found.values.speed_mm_min, 2110.9, delta=0.1)
        self.assertAlmostEqual(found.values.pierce_delay_s, 0.4835, places=4)
        self.assertAlmostEqual(found.values.arc_voltage_v or 0, 128.0)
        self.assertAlmostEqual(found.values.kerf_mm, 2.0)
        self.assertEqual([r.source for r in found.rows], ["6", "10"])

    def test_zero_delay_is_a_value(self) -> None:
        found = ask(8, rows=[row(6, 2900, 0.0), row(10, 1650, 0.4)])
        assert found.values
        self.assertAlmostEqual(found.values.pierce_delay_s, 0.2)

    def test_far_apart_rows_warn(self) -> None:
        self.assertIn("far apart", " ".join(ask(6, rows=[row(3, 5000), row(12, 1300)]).warnings))

    @given(st.floats(6.1, 11.9), st.floats(6.1, 11.9))
    def test_thicker_is_never_faster(self, a: float, b: float) -> None:
        thin, thick = (ask(t).values for t in sorted((a, b)))
        assert thin and thick
        self.assertGreaterEqual(thin.speed_mm_min, thick.speed_mm_min - 1e-9)

    def test_rows_that_no_calliper_tells_apart_make_no_trend(self) -> None:
        # 1.519 mm is 16 gauge: beside a row of 1.5 mm it is another row, and no slope between the two.
        found = ask(1.52, rows=[row(1.5, 8000), row(1.519, 7000), row(3, 4000)])
        assert found.values
        self.assertEqual((found.how, found.values.speed_mm_min, found.warnings), ("row", 7000, ()))
        beyond = ask(11, rows=[row(6, 2900), row(10, 1650), row(10.001, 1200)])
        assert beyond.values
        self.assertEqual(beyond.how, "extended")
        self.assertLess(abs(beyond.values.speed_mm_min - 1000), 200)

    def test_rows_come_back_exactly(self) -> None:
        for r in ROWS:
            self.assertEqual((ask(r.thickness_mm).how, ask(r.thickness_mm).values), ("row", r.values))


rising = st.lists(st.floats(0.5, 60), min_size=2, max_size=8, unique_by=lambda t: round(t * 4))


class AnyRows(unittest.TestCase):
    """Rows whose speed falls and whose delay and volts rise with thickness."""

    def rows(self, thicknesses: list[float]) -> list[StartRow]:
        return [row(t, 12_000 / (1 + t), 0.05 * i) for i, t in enumerate(sorted(thicknesses))]

    @given(rising, st.floats(0, 1), st.floats(0, 1))
    def test_between_monotone_rows_every_number_is_monotone(
        self, thicknesses: list[float], a: float, b: float
    ) -> None:
        rows = self.rows(thicknesses)
        thin, thick = rows[0].thickness_mm, rows[-1].thickness_mm
        low, high = (ask(thin + s * (thick - thin), rows=rows).values for s in sorted((a, b)))
        assert low and high
        self.assertGreaterEqual(low.speed_mm_min, high.speed_mm_min * (1 - 1e-9))
        self.assertLessEqual(low.pierce_delay_s, high.pierce_delay_s + 1e-9)
        self.assertLessEqual(low.arc_voltage_v or 0, (high.arc_voltage_v or 0) + 1e-9)
        self.assertLessEqual(low.kerf_mm, high.kerf_mm + 1e-9)

    @given(rising)
    def test_rows_come_back_exactly(self, thicknesses: list[float]) -> None:
        rows = self.rows(thicknesses)
        for r in rows:
            self.assertEqual(ask(r.thickness_mm, rows=rows).values, r.values)


class OtherProcesses(unittest.TestCase):
    def test_another_amperage_or_a_wet_plate_is_another_process(self) -> None:
        half = replace(row(8, 900), amperage_a=45)
        wet = replace(row(8, 1500), details=RowDetails(bed="water", water_level_mm=5))
        found = ask(8, rows=[*ROWS, half, wet])
        self.assertEqual((found.how, [r.thickness_mm for r in found.rows]), ("interpolated", [6, 10]))
        said = " ".join(found.warnings)
        self.assertIn("other amperages than 70 A", said)
        self.assertIn("water at the plate", said)

    def test_outside_what_the_source_calls_sensible(self) -> None:
        bounded = [replace(r, details=RowDetails(least_thickness_mm=9)) for r in ROWS]
        self.assertIn("sensible from 9 mm", " ".join(ask(8, rows=bounded).warnings))
        self.assertEqual(ask(10, rows=bounded).warnings, ())


class BeyondRows(unittest.TestCase):
    def test_up_to_15_percent_loudly_then_refused(self) -> None:
        self.assertEqual(ask(13.8).how, "extended")
        self.assertIn("Beyond the rows", ask(13.8).warnings[0])
        self.assertEqual((ask(13.9).how, ask(13.9).values), ("refused", None))
        self.assertEqual(ask(5.1).how, "extended")
        self.assertEqual(ask(5.0).how, "refused")

    def test_never_from_a_single_row(self) -> None:
        self.assertEqual(ask(10.2, rows=[row(10, 1650)]).how, "refused")


class OtherMetals(unittest.TestCase):
    def test_coated_steel_takes_base_rows_with_its_fume(self) -> None:
        found = ask(10, "galvanized_steel")
        self.assertEqual((found.how, found.values), ("row", ROWS[1].values))
        self.assertIn("Zinc", found.warnings[-1])

    def test_metal_without_rows_starts_from_steel_without_volts(self) -> None:
        brass, own = ask(10, "brass"), ask(10, "shop_alloy")
        assert brass.values and own.values
        self.assertEqual(brass.how, "analogue")
        self.assertIsNone(brass.values.arc_voltage_v)
        self.assertLess(brass.values.speed_mm_min, 0.7 * own.values.speed_mm_min)
        self.assertEqual(own.values, replace(ROWS[1].values, arc_voltage_v=None))

    def test_two_gases_must_be_told_apart(self) -> None:
        mixed = [*ROWS, replace(row(8, 2000), gas="nitrogen")]
        self.assertIn("choose the gas", ask(8, rows=mixed).warnings[0])

    def test_no_rows_at_all(self) -> None:
        self.assertEqual(ask(8, rows=[row(3, 4000, metal="aluminium")]).how, "refused")


if __name__ == "__main__":
    unittest.main()
