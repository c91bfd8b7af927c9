"""The guard on every number: what is asked about before it is kept, and which slip is named."""

import unittest
from dataclasses import replace

from orthotome.core.book.doubts import doubts_of_row, doubts_of_rows
from orthotome.core.book.start_rows import StartRow, StartValues
from orthotome.core.book.watching import Promise, SpotCheck, doubts_of_check
from orthotome.core.doubts import Doubt, Doubted, Likely, ask, doubt, slip
from orthotome.core.fields import field_words, named
from orthotome.core.log.doubts import doubts_of_cut
from orthotome.core.quantities import INCH, speaking, volts
from orthotome.core.trial.campaign import Cut, EdgeReading, Series
from tests.jobs import PLATE_JOB

NEAR_120 = Likely(106.0, 134.0, 119.8, "At this height 4 earlier cuts read about 119.8 V")


class Slips(unittest.TestCase):
    def test_each_slip_of_the_fingers_leads_back_to_what_was_meant(self) -> None:
        for typed, meant in (
            (1198.0, 119.8),  # the point lost
            (11.98, 119.8),
            (1119.8, 119.8),  # a digit twice
            (191.8, 119.8),  # two digits swapped
            (205.0, None),  # no one slip
            (62.0, None),
        ):
            found = slip(typed, NEAR_120)
            if meant is None:
                self.assertIsNone(found, typed)
            else:
                self.assertAlmostEqual(found, meant, delta=0.01)  # type: ignore[arg-type]
        in_inches = Likely(1000.0, 3000.0, 1500.0, "")
        self.assertAlmostEqual(slip(59.0, in_inches), 1498.6, delta=0.1)  # type: ignore[arg-type]

    def test_what_is_likely_is_never_asked_and_an_answer_is_asked_for_once(self) -> None:
        self.assertIsNone(doubt(128.0, NEAR_120, volts))
        asked = doubt(1198.0, NEAR_120, volts)
        self.assertEqual(
            asked,
            "1198 V again? At this height 4 earlier cuts read about 119.8 V. Did you mean 119.8 V?",
        )
        with self.assertRaises(Doubted) as held:
            ask([Doubt("arc_voltage_v", asked or "")], ())
        self.assertEqual(held.exception.field, "arc_voltage_v")
        ask([Doubt("arc_voltage_v", "")], ("arc_voltage_v",))


class Names(unittest.TestCase):
    def test_a_field_is_called_as_the_screens_call_it(self) -> None:
        for path, word in (
            ("arc_voltage_v", "Arc voltage"),
            ("cuts.3.edges.0.bevel_deg", "Bevel"),
            ("start.pierce_height_mm", "Pierce height"),
            ("settings.acceleration_mm_s2", "Acceleration"),
            ("slope_v_per_mm", "Slope"),
            ("torch_set_id", "Torch set"),
        ):
            self.assertEqual(field_words(path), word)
        self.assertEqual(
            named("arc_voltage_v", "must be 20 or more."), "Arc voltage must be 20 or more."
        )
        self.assertEqual(named("first", "Piece 3 is already noted."), "Piece 3 is already noted.")


class Cuts(unittest.TestCase):
    def asked(self, earlier: int = 4, **seen: object) -> list[str]:
        cuts = tuple(
            Cut(f"c{n}", "square", 2100, 1.5, arc_voltage_v=119.8 + 0.3 * n) for n in range(earlier)
        )
        cut = replace(Cut("now", "square", 2100, 1.5), **seen)  # type: ignore[arg-type]
        return [d.field for d in doubts_of_cut(replace(PLATE_JOB, cuts=cuts), cut)]

    def test_volts_are_held_against_the_earlier_cuts_brought_to_their_height(self) -> None:
        for v, asked in ((205.0, True), (62.0, True), (119.0, False), (130.0, False)):
            self.assertEqual(self.asked(arc_voltage_v=v), ["arc_voltage_v"] if asked else [], v)
        self.assertEqual(self.asked(arc_voltage_v=139.3, cut_height_mm=4.5), [])
        self.assertEqual(self.asked(arc_voltage_v=139.3), ["arc_voltage_v"])
        self.assertEqual(self.asked(0, arc_voltage_v=150.0), [])  # against the row, which says less
        self.assertEqual(self.asked(0, arc_voltage_v=205.0), ["arc_voltage_v"])

    def test_volts_through_another_signal_path_say_nothing(self) -> None:
        cuts = tuple(
            Cut(f"c{n}", "square", 2100, 1.5, arc_voltage_v=2.4, series=Series()) for n in (1, 2)
        )
        job = replace(PLATE_JOB, cuts=cuts, series_now=Series(signal="new"))
        self.assertEqual(doubts_of_cut(job, Cut("now", "square", 2100, 1.5, arc_voltage_v=127.0)), ())

    def test_a_kerf_a_steep_edge_and_a_lag(self) -> None:
        steep = EdgeReading("right", 0, 23.0, 0.4)
        self.assertEqual(self.asked(kerf_mm=15.7, edges=(steep,)), ["kerf_mm", "edges"])
        self.assertEqual(self.asked(kerf_mm=2.2, edges=(replace(steep, bevel_deg=-9.0),)), [])


def row(thickness_mm: float, speed: float, delay: float = 0.5, v: float | None = 125.0) -> StartRow:
    values = StartValues(speed, v, 1.5, 3.8, delay, 1.8)
    return StartRow("mild_steel", thickness_mm, "45 A", 45, "air", values, "example")


class Rows(unittest.TestCase):
    BESIDE = (row(6.35, 80 * 25.4, 0.5), row(9.525, 48 * 25.4, 0.8))

    def test_a_row_is_held_against_the_rows_on_both_sides(self) -> None:
        with speaking(INCH):
            asked = doubts_of_row(row(7.94, 580 * 25.4, 6.0), self.BESIDE)
        self.assertEqual([d.field for d in asked], ["speed_mm_min", "pierce_delay_s"])
        self.assertIn("Did you mean 58 in/min?", asked[0].sentence)
        self.assertIn("Did you mean 0.6 s?", asked[1].sentence)
        self.assertEqual(doubts_of_row(row(7.94, 61 * 25.4, 0.6), self.BESIDE), ())

    def test_a_pierce_height_below_the_cut_height_is_asked_about(self) -> None:
        plain = row(7.94, 61 * 25.4, 0.6)
        low = replace(plain, values=replace(plain.values, cut_height_mm=1.5, pierce_height_mm=1.2))
        asked = [d for d in doubts_of_row(low, ()) if d.field == "pierce_height_mm"]
        self.assertEqual(len(asked), 1)
        self.assertIn("Are the two swapped?", asked[0].sentence)

    def test_one_row_beside_it_says_less_and_none_only_what_cutting_has(self) -> None:
        alone = self.BESIDE[:1]
        self.assertEqual(doubts_of_row(row(12.7, 35 * 25.4, 1.2), alone), ())
        self.assertEqual(
            [d.field for d in doubts_of_row(row(12.7, 350 * 25.4), alone)], ["speed_mm_min"]
        )
        with speaking(INCH):
            (asked,) = doubts_of_row(row(3.4, 1900 * 25.4, 0.2), ())
        self.assertIn("Did you mean 190 in/min?", asked.sentence)

    def test_all_rows_at_once_are_asked_about_as_each_of_them_is(self) -> None:
        pasted = [
            *self.BESIDE,
            row(7.94, 580 * 25.4, 6.0),
            replace(row(7.94, 1500), gas="oxygen"),
            row(12.7, 900),
        ]
        each = [(i, d) for i, r in enumerate(pasted) for d in doubts_of_row(r, pasted)]
        self.assertEqual(doubts_of_rows(pasted), each)
        self.assertIn(2, [i for i, _ in each])

    def test_another_process_is_no_neighbour(self) -> None:
        oxygen = tuple(replace(r, gas="oxygen") for r in self.BESIDE)
        self.assertEqual(doubts_of_row(row(7.94, 580, 0.6), oxygen), ())


class Checks(unittest.TestCase):
    def test_a_check_is_held_against_what_was_proven(self) -> None:
        promise = Promise(2.0, 0.6, 1)
        check = SpotCheck(0, -13.0, 0.4, 205.0, 15.7)
        fields = [d.field for d in doubts_of_check(promise, check, 119.8, 1.8)]
        self.assertEqual(fields, ["bevel_deg", "arc_voltage_v", "kerf_mm"])
        moved = SpotCheck(0, 4.8, 0.4, 126.0, 2.3)
        self.assertEqual(doubts_of_check(promise, moved, 119.8, 1.8), ())
        self.assertEqual(doubts_of_check(promise, SpotCheck(0, None), None, 1.8), ())


if __name__ == "__main__":
    unittest.main()
