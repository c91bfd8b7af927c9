"""Rows that break the trend: found, named with the slip that explains them, and nobody else accused."""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.book.start_rows import StartRow, StartValues
from orthotome.core.book.trend import trend_breaks

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


if __name__ == "__main__":
    unittest.main()
