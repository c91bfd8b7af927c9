"""The signal path: every fault named from one pair of volts, the torch foretold, and its inverse."""

import unittest

from hypothesis import assume, given
from hypothesis import strategies as st

from orthotome.core.errors import TradeError
from orthotome.core.height.signal_path import (
    ONE_DIVISION,
    RAW_STOP,
    Observed,
    SignalPath,
    SignalReport,
    examine,
)
from orthotome.core.trouble.causes import FACTS

DIVIDED = SignalPath(50, 1, 50)  # the source divides by 50, the card passes, the controller multiplies


def seen(path: SignalPath, true_v: float, screen_v: float) -> SignalReport:
    return examine(path, Observed(true_v, screen_v), set_point_v=128, slope_v_per_mm=6.5)


def felt(path: SignalPath, behaviour: str) -> SignalReport:
    return examine(path, Observed(behaviour=behaviour), set_point_v=128, slope_v_per_mm=6.5)  # type: ignore[arg-type]


def named(report: SignalReport) -> tuple[str, str, float | None]:
    first = report.explanations[0]
    ratio = None if first.actual_ratio is None else round(first.actual_ratio, 2)
    return first.stage, first.code, ratio


class Faults(unittest.TestCase):
    def test_divided_twice(self) -> None:
        # 130 / 50 / 50 x 50 = 2.6: the card divides again. 128 x (1/0.02 - 1) / 6.5 = 965 mm: up and away.
        report = seen(DIVIDED, 130, 2.6)
        self.assertEqual(named(report), ("card", "divides_again", 50))
        self.assertEqual((report.torch, report.height_error_mm), ("flies_up", None))
        self.assertEqual((report.expected_screen_v, report.gain), (130, 1))
        # The runner-up shows the same: 130 / 50 x 1 = 2.6, a multiplier left at 1.
        self.assertEqual(report.explanations[1].stage, "multiplier")
        self.assertAlmostEqual(report.explanations[1].actual_ratio or 0, 1)
        self.assertIn("source alone divide", report.corrections[-1].what)

    def test_divided_by_the_source_though_the_card_is_to_divide(self) -> None:
        self.assertEqual(named(seen(SignalPath(1, 50, 50), 130, 2.6)), ("source", "divides_again", 50))

    def test_not_divided(self) -> None:
        # 130 / 1 / 1 x 50 = 6500 on a screen that can show it.
        report = seen(DIVIDED, 130, 6500)
        self.assertEqual(named(report), ("source", "does_not_divide", 1))
        self.assertEqual(report.torch, "dives")
        self.assertEqual(named(seen(SignalPath(1, 50, 50), 130, 6500)), ("card", "does_not_divide", 1))

    def test_not_divided_into_an_input_that_saturates(self) -> None:
        for full_scale in (300, 500, 999):
            self.assertEqual(named(seen(DIVIDED, 130, full_scale)), ("source", "does_not_divide", 1))
        low = seen(DIVIDED, 130, 90)
        self.assertNotIn("does_not_divide", [e.code for e in low.explanations])

    def test_two_divisions_told_and_one_undone(self) -> None:
        # 120 / 50 / 20 x 50 = 6, as told: the card divides again, or the multiplier should be 1000.
        report = seen(SignalPath(50, 20, 50), 120, 6)
        self.assertEqual(named(report), ("card", "divides_again", 20))
        self.assertEqual(report.explanations[1].stage, "multiplier")
        self.assertIn("1000", report.explanations[1].cure)

    def test_wrong_card_link(self) -> None:
        # 130 / 50 / 50 x 500 = 26 where 130 / 50 / 10 x 500 = 130 is told.
        self.assertEqual(named(seen(SignalPath(50, 10, 500), 130, 26)), ("card", "wrong_ratio", 50))

    def test_wrong_multiplier_as_told(self) -> None:
        # 130 / 50 x 20 = 52 is what the path as told must show: the multiplier does not undo the 50.
        report = seen(SignalPath(50, 1, 20), 130, 52)
        self.assertEqual(named(report), ("multiplier", "wrong_ratio", 20))
        self.assertEqual((report.expected_screen_v, report.gain, report.torch), (52, 0.4, "flies_up"))
        self.assertIn("multiplier to 50", report.explanations[0].cure)

    def test_wrong_multiplier_otherwise_than_told(self) -> None:
        self.assertEqual(named(seen(DIVIDED, 130, 52)), ("multiplier", "wrong_ratio", 20))

    def test_two_percent_off(self) -> None:
        # 128 x (1/1.02 - 1) / 6.5 = -0.386 mm, and 128 x (1/0.98 - 1) / 6.5 = +0.402 mm.
        low, high = seen(DIVIDED, 130, 132.6), seen(DIVIDED, 130, 127.4)
        self.assertEqual((low.torch, high.torch), ("rides_low", "rides_high"))
        self.assertAlmostEqual(low.height_error_mm or 0, -0.386, places=3)
        self.assertAlmostEqual(high.height_error_mm or 0, 0.402, places=3)
        self.assertEqual(named(low), ("source", "wrong_ratio", round(50 / 1.02, 2)))
        self.assertIn("multiplier to 51.02", high.explanations[0].cure)

    def test_open_wire(self) -> None:
        for screen_v in (0, 0.4):
            self.assertEqual(named(seen(DIVIDED, 130, screen_v))[:2], ("wiring", "open_or_shorted"))

    def test_right(self) -> None:
        report = seen(DIVIDED, 130, 130)
        self.assertEqual((report.explanations[0].code, report.torch), ("none", "holds"))
        self.assertEqual(report.corrections, ())

    def test_right_at_the_machine_and_wrong_on_paper(self) -> None:
        report = seen(SignalPath(50, 1, 20), 130, 130)
        self.assertEqual(named(report), ("source", "wrong_ratio", 20))
        self.assertIn("Change nothing at the machine", report.corrections[0].what)

    def test_no_chance_is_a_certainty_and_they_do_not_exceed_one(self) -> None:
        for screen_v in (0, 2.6, 13, 90, 130, 131, 400, 481, 6500):
            chances = [e.chance for e in seen(DIVIDED, 130, screen_v).explanations]
            self.assertTrue(chances and max(chances) < 0.99 and sum(chances) <= 1, (screen_v, chances))

    def test_where_raw_arc_voltage_may_be_about_the_only_correction_is_to_stop(self) -> None:
        for path, true_v, screen_v in (
            (DIVIDED, 130, 6500),  # nothing divides
            (SignalPath(1, 1, 50), 110.2, 5510),  # as told, and a multiplier of 1 would read right
            (SignalPath(1, 50, 50), 130, 130),  # reads right, with the arc's own voltage on the wire
            (SignalPath(1, 1, 50), 130, 130),  # reads right; whether source or card divides is not known
        ):
            report = seen(path, true_v, screen_v)
            with self.subTest(path=path):
                self.assertEqual([c.what for c in report.corrections], [RAW_STOP])
                self.assertTrue(any("Raw arc voltage" in c for c in report.cautions))
                for e in report.explanations:
                    raw = path.with_fault(e).source_ratio <= 1.5
                    self.assertEqual(e.cure == RAW_STOP, raw, e)

    def test_no_cure_of_a_double_division_takes_the_sources_divider_away(self) -> None:
        said = [c.what for c in seen(DIVIDED, 130, 2.6).corrections]
        self.assertTrue(all("source straight through" not in s for s in said), said)
        self.assertIn(ONE_DIVISION, FACTS["signal_divided_twice"].fix)
        self.assertEqual(FACTS["signal_not_divided"].fix, RAW_STOP)


class Symptoms(unittest.TestCase):
    def test_only_the_symptom(self) -> None:
        self.assertEqual(named(felt(DIVIDED, "flies_up"))[:2], ("card", "divides_again"))
        self.assertEqual(named(felt(DIVIDED, "dives"))[:2], ("source", "does_not_divide"))
        self.assertEqual(felt(DIVIDED, "rides_high").explanations[0].code, "wrong_ratio")
        self.assertEqual(felt(DIVIDED, "holds").explanations[0].code, "none")

    def test_a_symptom_alone_asks_for_volts_before_anything_is_turned(self) -> None:
        self.assertIn("pair of volts first", felt(DIVIDED, "rides_low").corrections[0].what)

    def test_nothing_seen_is_only_foretold(self) -> None:
        report = examine(SignalPath(50, 1, 20), None, set_point_v=128, slope_v_per_mm=6.5)
        self.assertEqual((report.expected_screen_v, report.torch), (51.2, "flies_up"))
        self.assertEqual(report.explanations, ())

    def test_riding_low_is_a_dive_where_it_touches(self) -> None:
        # gain 1.05: 128 x (1/1.05 - 1) / 6.5 = -0.94 mm; at 0.8 mm of cut height that is in the plate.
        high = examine(
            DIVIDED, Observed(100, 105), set_point_v=128, slope_v_per_mm=6.5, cut_height_mm=1.5
        )
        low = examine(
            DIVIDED, Observed(100, 105), set_point_v=128, slope_v_per_mm=6.5, cut_height_mm=0.8
        )
        self.assertEqual((high.torch, low.torch), ("rides_low", "dives"))
        self.assertEqual(high.height_error_mm, low.height_error_mm)

    def test_nonsense_is_refused_by_name(self) -> None:
        with self.assertRaisesRegex(TradeError, "slope_v_per_mm"):
            examine(DIVIDED, None, set_point_v=128, slope_v_per_mm=0)


ratios = st.sampled_from([1.0, 10.0, 16.0, 20.0, 25.0, 40.0, 50.0, 60.0, 80.0, 100.0])


class Inverse(unittest.TestCase):
    @given(ratios, st.sampled_from([1.0, 2.0, 5.0, 10.0]), st.floats(1, 2000), st.floats(30, 400))
    def test_the_path_is_its_own_inverse(
        self, source: float, card: float, multiplier: float, volts: float
    ) -> None:
        path = SignalPath(source, card, multiplier)
        self.assertAlmostEqual(path.true_v(path.screen_v(volts)), volts, places=9)

    @given(st.sampled_from([10.0, 20.0, 25.0, 40.0, 50.0, 80.0, 100.0]), ratios, st.floats(90, 180))
    def test_the_ratio_that_a_card_really_has_is_found_again(
        self, source: float, card: float, volts: float
    ) -> None:
        told, real = SignalPath(source, 1, source), SignalPath(source, card, source)
        assume(real.screen_v(volts) > 3)  # less is lost in an open wire's pick-up
        report = seen(told, volts, real.screen_v(volts))
        found = [e.actual_ratio for e in report.explanations if e.stage == "card"]
        if card == 1:
            self.assertEqual(report.explanations[0].code, "none")
        else:
            self.assertTrue(any(r is not None and abs(r / card - 1) < 0.03 for r in found), found)


if __name__ == "__main__":
    unittest.main()
