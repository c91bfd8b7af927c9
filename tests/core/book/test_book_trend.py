"""Rows that break the trend: found, named with the slip that explains them, and nobody else accused."""

import unittest
from dataclasses import replace
from typing import ClassVar

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.book.beginning import begin
from orthotome.core.book.start_rows import StartRow, StartValues, starting_numbers
from orthotome.core.book.trend import trend_breaks
from orthotome.core.choose.choosing import Feature, Machine, Process, judge_processes

THICKNESSES = (2.0, 3.0, 4.0, 6.0, 8.0, 10.0, 12.0)


def good(t: float) -> StartRow:
    """Made-up rows that run as rows run: speed as a power, volts and kerf straight."""
    values = StartValues(11_000 * t**-0.85, 112 + 1.6 * t, 1.5, 3.8, 0.06 * t, 1.2 + 0.07 * t)
    return StartRow("mild_steel", t, "70 A plate set", 70, "air", values, "made up")


ROWS = [good(t) for t in THICKNESSES]


def mistyped(index: int, **wrong: float) -> list[StartRow]:
    rows = list(ROWS)
    rows[index] = replace(rows[index], values=replace(rows[index].values, **wrong))
    return rows


class Trend(unittest.TestCase):
    def test_good_rows_accuse_nobody(self) -> None:
        self.assertEqual(trend_breaks(ROWS), ())

    def test_inches_a_minute_among_millimetres(self) -> None:
        # 11000 x 6^-0.85 = 2399 mm/min, typed as 94.4.
        found = trend_breaks(mistyped(3, speed_mm_min=94.4))
        self.assertEqual([(b.index, b.quantity) for b in found], [(3, "speed_mm_min")])
        self.assertIn("looks like inches", found[0].sentence)
        self.assertAlmostEqual(found[0].expected / 2399, 1, delta=0.03)

    def test_a_lost_digit_and_a_wrong_voltage_at_once(self) -> None:
        rows = mistyped(2, pierce_delay_s=0.024)
        rows[5] = replace(rows[5], values=replace(rows[5].values, arc_voltage_v=182.0))
        found = {(b.index, b.quantity): b.sentence for b in trend_breaks(rows)}
        self.assertEqual(set(found), {(2, "pierce_delay_s"), (5, "arc_voltage_v")})
        self.assertIn("a digit seems to be missing", found[2, "pierce_delay_s"])

    @given(st.integers(0, 6), st.sampled_from([1 / 25.4, 0.1, 10.0, 0.5, 2.0]))
    def test_whichever_row_is_wrong_it_alone_is_named(self, index: int, factor: float) -> None:
        speed = ROWS[index].values.speed_mm_min * factor
        self.assertEqual([b.index for b in trend_breaks(mistyped(index, speed_mm_min=speed))], [index])

    def test_three_rows_have_no_trend_and_missing_volts_are_no_zero(self) -> None:
        self.assertEqual(trend_breaks(mistyped(0, speed_mm_min=10)[:3]), ())
        unknown = [replace(r, values=replace(r.values, arc_voltage_v=None)) for r in ROWS]
        self.assertEqual(trend_breaks(unknown), ())

    def test_a_book_of_thousands_of_rows_still_names_the_one(self) -> None:
        rows = [good(1 + n / 200) for n in range(5000)]
        rows[3210] = replace(rows[3210], values=replace(rows[3210].values, kerf_mm=9.0))
        self.assertEqual([(b.index, b.quantity) for b in trend_breaks(rows)], [(3210, "kerf_mm")])

    def test_the_scatter_of_real_rows_is_no_break(self) -> None:
        wobble = (1.06, 0.95, 1.03, 0.97, 1.07, 0.94, 1.02)
        rows = [
            replace(r, values=replace(r.values, speed_mm_min=r.values.speed_mm_min * w))
            for r, w in zip(ROWS, wobble, strict=True)
        ]
        self.assertEqual(trend_breaks(rows), ())


class Begun(unittest.TestCase):
    """A row that the Book doubts is not begun with."""

    job: ClassVar = {"metal": "mild_steel", "thickness_mm": 6.0, "torch_set": "70 A plate set"}

    def test_it_is_left_out_and_that_is_said(self) -> None:
        rows = mistyped(3, speed_mm_min=94.4)
        self.assertEqual(starting_numbers(rows, **self.job).values.speed_mm_min, 94.4)  # type: ignore[union-attr]
        found = begin(rows, **self.job)
        self.assertEqual((found.how, [r.thickness_mm for r in found.rows]), ("interpolated", [4.0, 8.0]))
        assert found.values is not None
        self.assertAlmostEqual(found.values.speed_mm_min / 2399, 1, delta=0.02)
        self.assertIn("left out", found.warnings[0])
        self.assertIn("looks like inches", found.warnings[0])

    def test_one_that_was_held_against_its_source_counts_and_others_are_not_touched(self) -> None:
        rows = mistyped(3, speed_mm_min=94.4)
        rows[3] = replace(rows[3], right=True)
        self.assertEqual(begin(rows, **self.job).how, "row")
        elsewhere = begin(mistyped(3, speed_mm_min=94.4), **{**self.job, "thickness_mm": 10.0})
        self.assertEqual((elsewhere.how, elsewhere.warnings), ("row", ()))

    def test_where_nothing_is_left_it_is_refused_with_the_way_out(self) -> None:
        rows = mistyped(6, speed_mm_min=30.0)
        refused = begin(rows, **{**self.job, "thickness_mm": 13.5})
        self.assertIsNone(refused.values)
        self.assertIn("say that it is right", refused.warnings[0])

    def test_which_set_does_not_begin_with_it_either(self) -> None:
        process = Process("70 A plate set", 70, "air", "", tuple(mistyped(3, speed_mm_min=94.4)))
        (option,) = judge_processes(
            [process], metal="mild_steel", thickness_mm=6.0, machine=Machine(), feature=Feature(200, 50)
        )
        self.assertAlmostEqual((option.speed_mm_min or 0) / 2399, 1, delta=0.02)
        self.assertIn("left out", option.notes[0])


if __name__ == "__main__":
    unittest.main()
