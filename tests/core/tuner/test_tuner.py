"""The tuner against simulated tables whose truth it cannot see."""

import unittest
from dataclasses import replace

from orthotome.core.quantities import INCH, METRIC, speaking
from orthotome.core.trial.campaign import Campaign, Dross, EdgeReading, Limits, Series, Target
from orthotome.core.tuner.advise import advise, judge
from orthotome.core.tuner.next_act import next_act
from orthotome.sim.table import SimulatedTable
from tests.enough import Share, note
from tests.jobs import PLATE_JOB, PLATE_LIMITS, PLATE_START, SHEET_JOB, Outcome, tune


def table(seed: int, job: Campaign = PLATE_JOB, **hidden: float) -> SimulatedTable:
    return SimulatedTable.from_seed(seed, job.start, job.thickness_mm, **hidden)


class FiftyTables(unittest.TestCase):
    def test_a_true_square_on_nearly_all_and_almost_no_false_calls(self) -> None:
        called: list[Outcome] = []

        def square_and_true(case: int) -> bool:
            job = (PLATE_JOB, SHEET_JOB)[case % 2]
            outcome = tune(job, table(1000 + case // 2, job))
            if outcome.advice.status != "square":
                return False
            called.append(outcome)
            return outcome.true_chance >= 0.85

        ends = Share("Tables that end square, and are", 0.98, refuted_below=0.8, at_least=0.9, most=50)
        ends.decide(self, square_and_true)
        false = sum(o.true_chance < 0.85 for o in called)
        mean_cuts = sum(o.cuts for o in called) / len(called)
        note("Tables called square that are not", str(false), len(called), "at most 2")
        note("Cuts until square, mean", f"{mean_cuts:.1f}", len(called), "less than 6")
        self.assertLessEqual(false, 2)
        self.assertLess(mean_cuts, 6)


class HandOff(unittest.TestCase):
    """Faults that no speed or height cures, each on five tables: named, and never tuned away."""

    def named(self, job: Campaign, **hidden: float) -> list[str]:
        codes = []
        for seed in range(5):
            outcome = tune(job, table(seed, job, **hidden))
            codes.append(outcome.advice.hand_off.code if outcome.advice.hand_off else "")
        return codes

    def test_jet_lean_with_its_direction(self) -> None:
        self.assertEqual(self.named(PLATE_JOB, lean_deg=3.0), ["jet_lean"] * 5)
        out = tune(PLATE_JOB, table(3, lean_deg=3.0, lean_toward_deg=140.0)).advice
        lean = next(f for f in out.findings if f.code == "jet_lean").numbers
        self.assertAlmostEqual(lean["lean_deg"], 3.0, delta=0.6)
        self.assertAlmostEqual(lean["toward_deg"], 140.0, delta=15)

    def test_a_lean_that_costs_the_target_says_what_its_cure_wins_before_more_squares(self) -> None:
        leaning = table(3, lean_deg=2.1, lean_toward_deg=90.0)
        job = PLATE_JOB
        for number in (1, 2):
            asked = advise(job).next_cuts[0]
            cut = leaning.cut(number, "square", asked.speed_mm_min, asked.cut_height_mm)
            job = replace(job, cuts=(*job.cuts, cut))
        advice = advise(job)
        (lean,) = (f for f in advice.findings if f.code == "jet_lean")
        self.assertGreater(lean.numbers["chance_upright"], lean.numbers["chance_as_it_stands"] + 0.3)
        self.assertRegex(
            lean.why, r"away from you, seen from .* Upright, 2° is reached about \d+ times in 10"
        )
        for cut_next in advice.next_cuts:
            self.assertIn("set it upright first", cut_next.why)
        straight = table(3, lean_deg=0.1)
        first = replace(PLATE_JOB, cuts=(straight.cut(1, "square", 2100, 1.5),))
        self.assertNotIn("upright first", advise(first).next_cuts[0].why)

    def test_oval_bore(self) -> None:
        self.assertEqual(self.named(PLATE_JOB, oval_deg=3.0), ["worn_parts"] * 5)

    def test_dross_at_every_speed(self) -> None:
        codes = self.named(PLATE_JOB, stubborn_grade=3)
        self.assertGreaterEqual(codes.count("worn_parts"), 4, codes)

    def test_both_sides_asked_square_past_the_swirl(self) -> None:
        job = replace(PLATE_JOB, target=Target(1.0, "both"))
        self.assertEqual(self.named(job, swirl_deg=2.0), ["target_too_tight"] * 5)

    def test_square_outside_the_limits(self) -> None:
        job = replace(PLATE_JOB, limits=Limits((2000, 2200), (1.4, 1.6)))
        hidden = {"square_speed_mm_min": 3000.0, "clean_from_mm_min": 2500.0}
        codes = self.named(job, **hidden, clean_to_mm_min=3600.0, severs_to_mm_min=4800.0)
        self.assertGreaterEqual(codes.count("outside_limits"), 3, codes)
        self.assertNotIn("jet_lean", codes)

    def test_square_faster_than_the_table_runs_is_no_matter_of_widening(self) -> None:
        limits = Limits((1200, 1700), PLATE_LIMITS.cut_height_mm)
        job = replace(PLATE_JOB, limits=limits, fastest_mm_min=1700.0)
        hidden = {"square_speed_mm_min": 2300.0, "clean_from_mm_min": 2000.0, "clean_to_mm_min": 2700.0}
        advice = tune(job, table(7, job, **hidden)).advice
        assert advice.hand_off is not None
        self.assertEqual(advice.hand_off.code, "outside_limits")
        self.assertIn("faster than this table runs (1700 mm/min)", advice.hand_off.why)

    def test_readings_too_coarse(self) -> None:
        job = replace(PLATE_JOB, target=Target(1.0))
        cuts = [replace(table(7), reading_u_deg=1.2).cut(n, "square", 2100, 1.5) for n in (1, 2, 3)]
        advice = advise(replace(job, cuts=tuple(cuts)))
        self.assertEqual(advice.hand_off and advice.hand_off.code, "measurement_too_coarse")

    def test_good_and_bad_side_swapped(self) -> None:
        for seed in range(5):
            swapped = table(seed, swirl_deg=-1.5)
            self.assertEqual(getattr(tune(PLATE_JOB, swapped).advice.hand_off, "code", ""), "wrong_side")


def square_cut(number: int, bevel_deg: float = 0.0, **changes: object):  # type: ignore[no-untyped-def]
    cut = table(1).cut(number, "square", 2100, 1.5)
    edges = tuple(EdgeReading("right", h, bevel_deg, 0.4) for h in (0.0, 90.0, 180.0, 270.0))
    return replace(cut, edges=edges, dross=(), through="full", **changes)


class StopRule(unittest.TestCase):
    def proven(self, *cuts: object) -> str:
        return advise(replace(PLATE_JOB, cuts=tuple(cuts))).status  # type: ignore[arg-type]

    def test_lucky_once_is_not_proven_and_three_times_is(self) -> None:
        cuts = [square_cut(n, 0.6) for n in (1, 2, 3)]
        self.assertIn(self.proven(cuts[0]), ("keep_cutting", "confirm"))
        self.assertEqual(self.proven(*cuts), "square")

    def test_nothing_unlooked_at_counts_as_passed(self) -> None:
        unlooked = [square_cut(n) for n in (1, 2, 3)]
        unlooked = [replace(c, dross=None) for c in unlooked]
        self.assertNotEqual(self.proven(*unlooked), "square")
        strips = [replace(square_cut(n), piece="strip") for n in (1, 2, 3)]
        self.assertNotEqual(self.proven(*strips), "square")
        spattered = [replace(c, dross=(Dross("top_spatter", 3),)) for c in unlooked]
        self.assertEqual(self.proven(*spattered), "square")  # reported, and does not count

    def test_a_parts_change_ends_the_proof(self) -> None:
        before = [square_cut(n, series=Series(parts="p1")) for n in (1, 2, 3)]
        after = square_cut(4, 3.5, series=Series(parts="p2"))
        self.assertEqual(self.proven(*before), "square")
        self.assertNotEqual(self.proven(*before, after), "square")


class Advice(unittest.TestCase):
    def test_never_outside_the_limits_and_the_same_twice(self) -> None:
        for seed in range(4):
            job = PLATE_JOB
            for n in range(1, 4):
                first, again = advise(job, batch=4), advise(job, batch=4)
                self.assertEqual(first, again)
                for cut in first.next_cuts:
                    self.assertTrue(1200 <= cut.speed_mm_min <= 3400)
                    self.assertTrue(0.8 <= cut.cut_height_mm <= 3.2)
                job = replace(job, cuts=(*job.cuts, table(seed).cut(n, "square", 1500, 2.5)))

    def test_the_units_of_the_shop_say_the_advice_and_do_not_choose_it(self) -> None:
        for seed, job in ((422, SHEET_JOB), (423, PLATE_JOB), (31, SHEET_JOB), (32, PLATE_JOB)):
            simulated, campaign = table(seed, job), job
            for made in range(1, 4):
                with speaking(METRIC):
                    metric = judge(campaign)
                with speaking(INCH):
                    inch = judge(campaign)
                at, there = next_act(metric).setting, next_act(inch).setting
                with self.subTest(seed=seed, cut=made):
                    self.assertEqual(metric.advice.status, inch.advice.status)
                    # No more apart than half a step of the coarser dial: 1 in/min, 0.002 in.
                    self.assertLessEqual(abs(at.speed_mm_min - there.speed_mm_min), 12.71)
                    self.assertLessEqual(abs(at.cut_height_mm - there.cut_height_mm), 0.0255)
                cut = simulated.cut(made, "square", at.speed_mm_min, at.cut_height_mm, starts=5 * made)
                campaign = replace(campaign, cuts=(*campaign.cuts, cut))

    def test_a_batch_spreads_over_settings(self) -> None:
        job = replace(PLATE_JOB, cuts=(table(2).cut(1, "square", 1700, 2.2),))
        settings = {(n.speed_mm_min, n.cut_height_mm) for n in advise(job, batch=4).next_cuts}
        self.assertEqual(len(settings), 4)

    def test_steep_positive_bevel_asks_for_slower_or_lower(self) -> None:
        job = replace(PLATE_JOB, cuts=(square_cut(1, 4.0),))
        next_cut = advise(job).next_cuts[0]
        self.assertTrue(next_cut.speed_mm_min < 2100 or next_cut.cut_height_mm < 1.5)
        self.assertIn("stand out at the bottom by 4.0°", next_cut.why)

    def test_priorities_choose_faster_settings(self) -> None:
        # Nobody looked underneath, so nothing has passed yet: what is likely to is chosen among.
        cuts = (replace(table(3).cut(1, "square", 1900, 1.5), dross=None),)
        speeds = {}
        for priority in ("square_first", "fastest_in_tolerance"):
            target = Target(4.0, priority=priority)  # type: ignore[arg-type]
            best = advise(replace(PLATE_JOB, cuts=cuts, target=target)).recommended
            assert best
            speeds[priority] = best.speed_mm_min
        self.assertGreater(speeds["fastest_in_tolerance"], speeds["square_first"])

    def test_missing_voltage_is_not_invented(self) -> None:
        start = replace(PLATE_START, arc_voltage_v=None)
        cut = replace(table(1).cut(1, "square", 2100, 1.5), arc_voltage_v=None)
        unknown = advise(replace(PLATE_JOB, start=start, cuts=(cut,))).recommended
        assert unknown
        self.assertIsNone(unknown.arc_voltage_v)

    def test_volts_per_mm_ignores_controlled_cuts_and_another_signal_path(self) -> None:
        def fitted(*cuts: object) -> float:
            judged = judge(replace(PLATE_JOB, cuts=tuple(cuts)))  # type: ignore[arg-type]
            return judged.learned.volts.volts_per_mm[0]

        low, high = (replace(square_cut(n), cut_height_mm=h) for n, h in ((1, 1.0), (2, 2.0)))
        true = [replace(low, arc_voltage_v=124.0), replace(high, arc_voltage_v=134.0)]
        self.assertAlmostEqual(fitted(*true), 9.3, delta=0.4)  # 10 V/mm, pulled a little to 6.5
        held = [replace(c, height_control="set_point", set_point_v=124.0) for c in true]
        self.assertAlmostEqual(fitted(*held), 6.5)
        rewired = [replace(true[0], series=Series(signal="g1")), true[1]]
        self.assertLess(fitted(*rewired), 8.0)

    def test_limits_narrower_than_the_dial_are_kept(self) -> None:
        job = replace(PLATE_JOB, limits=Limits((2101, 2104), PLATE_LIMITS.cut_height_mm))
        self.assertTrue(2101 <= advise(job).next_cuts[0].speed_mm_min <= 2104)


if __name__ == "__main__":
    unittest.main()
