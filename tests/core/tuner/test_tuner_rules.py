"""The tuner's rules, one worked case each: compass directions and bounds are written out as numbers."""

import math
import unittest
from dataclasses import replace

import numpy as np

from orthotome.core.edge.edges import far_side_heading_deg, good_side, outward_normal_deg
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import verdict_of
from orthotome.core.trial.campaign import Campaign, Cut, Dross, EdgeReading, Series, Target
from orthotome.core.trial.opening import height_stays
from orthotome.core.tuner.advise import _batch, advise, judge
from orthotome.core.tuner.chances import Candidates
from orthotome.core.tuner.evidence import proofs
from orthotome.core.tuner.history import learned_from
from orthotome.core.tuner.next_act import next_act
from orthotome.core.tuner.reasons import clean_band, ladder_at_the_end
from orthotome.core.tuner.voltage_model import VoltageModel
from tests.jobs import PLATE_JOB

HEADINGS = (0.0, 90.0, 180.0, 270.0)
CLEAN: tuple[Dross, ...] = ()


def square(
    number: int,
    bevels: float | tuple[float, float, float, float] = 0.0,
    speed: float = 2100,
    height: float = 1.5,
    **more: object,
) -> Cut:
    """A clean square that went through, its four kept edges read at these bevels."""
    read = bevels if isinstance(bevels, tuple) else (bevels,) * 4
    edges = tuple(EdgeReading("right", h, b, 0.4) for h, b in zip(HEADINGS, read, strict=True))
    said = {"edges": edges, "dross": CLEAN, "through": "full"} | more
    return Cut(f"c{number}", "square", speed, height, **said)  # type: ignore[arg-type]


def job(*cuts: Cut, **changes: object) -> Campaign:
    return replace(PLATE_JOB, cuts=cuts, **changes)  # type: ignore[arg-type]


class TheLadder(unittest.TestCase):
    def told(self, *strips: Cut) -> str:
        return judge(job(*strips)).advice.next_cuts[0].why

    def strip(self, n: int, speed: float, **more: object) -> Cut:
        given = {"through": "full", "dross": (), **more}
        return Cut(f"c{n}", "strip", speed, 1.5, **given)  # type: ignore[arg-type]

    def test_it_is_told_as_a_whole_and_not_by_its_last_strip(self) -> None:
        strips = [
            self.strip(1, 1700, dross=(Dross("low_speed", 2),)),
            self.strip(2, 2000),
            self.strip(3, 2300),
            self.strip(4, 3200, through="none", dross=None),
        ]
        self.assertIn("those from 2000 mm/min to 2300 mm/min came out clean", self.told(*strips))
        self.assertNotIn("go through", self.told(*strips))
        self.assertIn("No strip of the ladder came out clean", self.told(strips[0], strips[3]))

    def test_what_hung_on_did_not_fall_and_what_went_out_is_neither(self) -> None:
        for more, said in (
            ({"through": "partial"}, "In the last cut it hung on."),
            ({"through": "none", "dross": None}, "In the last cut it did not go through."),
            ({"arc_lost": True}, "In the last cut the arc went out."),
        ):
            self.assertIn(said, self.told(self.strip(1, 2100, **more)))


class CleanBand(unittest.TestCase):
    def strip(self, n: int, speed: float, grade: int = 0) -> Cut:
        kind = "low_speed" if speed < 2000 else "high_speed"
        dross = (Dross(kind, grade),) if grade else ()  # type: ignore[arg-type]
        return Cut(f"s{n}", "strip", speed, 1.5, through="full", dross=dross)

    def test_what_is_advised_lies_inside_it_and_is_told_from_the_strip_spoken_of(self) -> None:
        strips = [
            self.strip(n, v, g) for n, (v, g) in enumerate(((1500, 3), (1800, 0), (2150, 0), (2500, 2)))
        ]
        judgement = judge(job(*strips))
        act = next_act(judgement)
        self.assertEqual(clean_band(strips), (1800, 2150))
        self.assertTrue(1800 * 0.98 <= act.setting.speed_mm_min <= 2150 * 1.02, act.setting)
        self.assertEqual(act.was, Setting(2150, 1.5))  # and not the 2500 that was cut last

    def test_after_a_finer_set_the_band_is_the_finer_one(self) -> None:
        coarse = [self.strip(n, v, 0) for n, v in enumerate((1500, 1900, 2400))]
        finer = [self.strip(9 + n, v, g) for n, (v, g) in enumerate(((1750, 1), (1850, 0), (1950, 0)))]
        self.assertEqual(clean_band([*coarse, *finer]), (1850, 1950))
        self.assertEqual(ladder_at_the_end([*coarse, *finer]), tuple(finer))


class Compass(unittest.TestCase):
    def test_an_edge_faces_from_the_kept_metal_into_the_kerf(self) -> None:
        # Travelling to the right (+X) with the part on the right, which is toward the operator, the edge
        # faces away from the operator (+Y).
        self.assertEqual([outward_normal_deg("right", h) for h in HEADINGS], [90, 180, 270, 0])
        self.assertEqual([outward_normal_deg("left", h) for h in HEADINGS], [270, 0, 90, 180])

    def test_the_far_side_is_cut_to_the_right_with_the_part_on_the_right(self) -> None:
        self.assertEqual((far_side_heading_deg("right"), far_side_heading_deg("left")), (0, 180))

    def test_clockwise_swirl_makes_the_right_side_the_squarer_one(self) -> None:
        self.assertEqual((good_side("clockwise"), good_side("counter_clockwise")), ("right", "left"))


class Steps(unittest.TestCase):
    def test_no_cut_goes_farther_than_a_quarter_in_speed_from_what_was_cut(self) -> None:
        far = job(square(1, 9.0), limits=replace(PLATE_JOB.limits, speed_mm_min=(400, 6000)))
        asked = advise(far).next_cuts[0]
        self.assertGreaterEqual(asked.speed_mm_min, 2100 * math.exp(-0.25) - 1)
        under = job(square(1, -9.0), limits=replace(PLATE_JOB.limits, speed_mm_min=(400, 6000)))
        self.assertLessEqual(advise(under).next_cuts[0].speed_mm_min, 2100 * math.exp(0.25) + 1)

    def test_no_cut_comes_down_or_goes_up_by_more_than_three_tenths_of_the_height(self) -> None:
        wide = replace(PLATE_JOB.limits, cut_height_mm=(0.3, 6.0))
        for bevel in (9.0, -9.0):
            asked = advise(job(square(1, bevel), limits=wide)).next_cuts[0]
            self.assertLessEqual(abs(asked.cut_height_mm - 1.5), 0.45 + 1e-9)

    def test_the_first_of_a_batch_is_what_is_advised_alone(self) -> None:
        for cuts in ((), (square(1, 4.0),), (square(1, -3.0), square(2, -1.0, 2300))):
            alone, together = advise(job(*cuts)).next_cuts, advise(job(*cuts), batch=4).next_cuts
            self.assertEqual(together[0], alone[0])

    def test_the_others_of_a_batch_cut_where_the_ones_before_are_likely_to_miss(self) -> None:
        # Chances to pass of four settings in three draws: the second is the first again, the fourth nearly the third.
        draws = np.array([[0.9, 0.9, 0.0], [0.9, 0.89, 0.0], [0.0, 0.0, 0.8], [0.0, 0.1, 0.7]])
        # After the first, of draws missed to (0.1, 0.1, 1): gains 0.18, 0.8, 0.71. After the third, (0.1, 0.1, 0.2): 0.18, 0.15.
        self.assertEqual(_batch(draws, 0, 4), [0, 2, 1, 3])
        self.assertEqual(_batch(draws, 3, 2), [3, 0])


class TwoCauses(unittest.TestCase):
    def test_where_another_would_explain_it_as_well_it_is_said_what_tells_them_apart(self) -> None:
        shut = replace(PLATE_JOB.limits, speed_mm_min=(1950, 2250), cut_height_mm=(1.4, 1.6))
        slow = {"dross": (Dross("low_speed", 2),)}
        cuts = (square(1, -1.0, 2100, **slow), square(2, -1.0, 2250, **slow))
        handed = advise(job(*cuts, limits=shut)).hand_off
        assert handed is not None
        self.assertEqual(handed.code, "outside_limits")
        self.assertIn("the first cut there tells", handed.why)

    def test_a_certain_cause_stands_alone(self) -> None:
        leaning = [square(n, (0.4, 4.4, 0.4, -3.6)) for n in (1, 2)]
        handed = advise(job(*leaning)).hand_off
        assert handed is not None
        self.assertEqual(handed.code, "jet_lean")
        self.assertNotIn("as well", handed.why)


class Through(unittest.TestCase):
    def test_no_cut_is_advised_that_may_well_not_go_through(self) -> None:
        hung = [
            Cut(f"c{n}", "square", v, 1.5, through="partial", dross=None)
            for n, v in ((1, 2100), (2, 1900))
        ]
        judged = judge(job(*hung), batch=6)
        learned = judged.learned
        for cut in judged.advice.next_cuts:
            at = Candidates(np.array([cut.speed_mm_min]), np.array([cut.cut_height_mm]))
            _, through = learned.clean_and_through(at, 4)
            self.assertGreaterEqual(float(through.mean()), 0.8)
        self.assertLess(judged.advice.next_cuts[0].speed_mm_min, 1900)


class Unlisted(unittest.TestCase):
    """A metal that nothing is known of: its numbers are mild steel's, its voltage is unknown."""

    OWN = replace(PLATE_JOB, metal="shop alloy", start=replace(PLATE_JOB.start, arc_voltage_v=None))

    def test_the_first_plate_is_a_coarse_ladder_at_one_height(self) -> None:
        asked = advise(self.OWN, 5).next_cuts
        self.assertEqual([c.piece for c in asked], ["strip"] * 5)
        self.assertEqual({c.cut_height_mm for c in asked}, {1.5})
        steps = np.diff(np.log([c.speed_mm_min for c in asked]))
        self.assertTrue(np.allclose(steps, math.log(1.2), atol=0.01), steps)
        self.assertEqual([c.speed_mm_min for c in advise(self.OWN).next_cuts], [2100])
        self.assertIsNotNone(asked[0].heading_deg)

    def test_height_stays_until_a_cut_came_out_clean(self) -> None:
        slow = Cut("c1", "strip", 2100, 1.5, dross=(Dross("low_speed", 3),), through="full")
        asked = advise(replace(self.OWN, cuts=(slow,)), 4).next_cuts
        self.assertEqual({c.cut_height_mm for c in asked}, {1.5})
        self.assertGreater(asked[0].speed_mm_min, 2100)
        high = square(2, 4.0, 2300)
        self.assertLess(advise(replace(self.OWN, cuts=(slow, high))).next_cuts[0].cut_height_mm, 1.5)

    def test_of_a_metal_with_rows_height_is_free_from_the_first_cut_on(self) -> None:
        slow = Cut("c1", "strip", 2100, 1.5, dross=(Dross("low_speed", 3),), through="full")
        self.assertFalse(height_stays(job(slow)))
        self.assertTrue(height_stays(replace(self.OWN, cuts=(slow,))))

    def test_limits_that_shut_the_ladder_out_leave_one_strip_inside_them(self) -> None:
        shut = replace(self.OWN, limits=replace(PLATE_JOB.limits, speed_mm_min=(500, 900)))
        self.assertEqual([c.speed_mm_min for c in advise(shut, 5).next_cuts], [900])

    def test_it_is_believed_less_of(self) -> None:
        known, own = learned_from(PLATE_JOB), learned_from(self.OWN)
        self.assertGreater(own.draws[:, 0].std(), 1.4 * known.draws[:, 0].std())


class Passed(unittest.TestCase):
    """A cut passed when its own edges, not the readings of them, were inside on every side."""

    def chance(self, *cuts: Cut, target: Target | None = None) -> float:
        return judge(job(*cuts, target=target or PLATE_JOB.target)).passed[-1]

    def test_near_the_limit_it_is_left_open_and_proves_nothing(self) -> None:
        cuts = [square(n, 1.65) for n in (1, 2, 3)]
        self.assertTrue(0.62 < self.chance(*cuts) < 0.88, self.chance(*cuts))
        judged = judge(job(*cuts))
        self.assertNotEqual(judged.advice.status, "square")
        self.assertEqual(judged.passed_at(Setting(2100, 1.5)), ())
        self.assertEqual([verdict_of(p) for p in (0.89, 0.9, 0.29)], ["maybe", "passed", "no"])
        self.assertGreater(self.chance(*(square(n, 0.3) for n in (1, 2, 3))), 0.97)

    def test_one_good_piece_is_luck_unless_the_table_is_known(self) -> None:
        once = job(square(1, 0.1, edges=square(1, 0.1).edges * 3), target=Target(4.0))
        judged = judge(once)
        self.assertGreater(judged.advice.recommended.probability_pass, 0.95)  # type: ignore[union-attr]
        self.assertEqual(judged.advice.status, "confirm")
        self.assertIn("A second square: one good piece is luck", [p.text for p in proofs(judged)])
        known = job(*(square(n, 0.3) for n in (1, 2, 3, 4)), target=Target(4.0))
        self.assertEqual(advise(replace(once, history=(known,))).status, "square")

    def test_one_edge_outside_is_enough_to_fail(self) -> None:
        out = square(1, (0.0, 0.0, 0.0, 2.9))
        self.assertLess(self.chance(out), 0.5)
        # Read once more it is no slip of the gauge.
        twice = replace(out, edges=(*out.edges, EdgeReading("right", 270.0, 2.8, 0.4)))
        self.assertLess(self.chance(twice), 0.1)

    def test_whether_it_went_through_is_doubted_where_nobody_noted_it(self) -> None:
        known, unknown = square(1, 0.3, 2600), square(1, 0.3, 2600, through=None)
        self.assertLess(self.chance(unknown), self.chance(known) - 0.001)
        for through in ("partial", "none"):
            self.assertEqual(self.chance(square(1, 0.3, through=through)), 0.0)
        self.assertEqual(self.chance(square(1, 0.3, arc_lost=True)), 0.0)

    def test_dross_worse_than_allowed_fails_it_and_spatter_does_not(self) -> None:
        worse = square(1, 0.3, dross=(Dross("low_speed", 2),))
        self.assertEqual(self.chance(worse), 0.0)
        self.assertGreater(self.chance(worse, target=Target(2.0, dross_grade=2)), 0.5)
        self.assertGreater(self.chance(square(1, 0.3, dross=(Dross("top_spatter", 4),))), 0.5)

    def test_the_other_side_counts_only_where_it_is_asked_for(self) -> None:
        kept = square(1, 0.2)
        other = (EdgeReading("left", 0.0, 3.4, 0.4),)
        both = replace(kept, edges=(*kept.edges, *other))
        self.assertGreater(self.chance(both), 0.8)
        self.assertLess(self.chance(both, target=Target(2.0, "both")), 0.1)

    def test_an_edge_read_twice_is_one_edge(self) -> None:
        """Its two readings share what that edge has of its own; readings of two edges do not."""
        edges = (
            EdgeReading("right", 0.0, 0.1, 0.4),
            EdgeReading("right", 90.0, 0.2, 0.4),
            EdgeReading("right", 0.0, 0.3, 0.4),
            EdgeReading("left", 0.0, 0.4, 0.4),
        )
        model = learned_from(job(replace(square(1), edges=edges))).bevel
        self.assertEqual(
            model.readings.same_edge.tolist(), [[1, 0, 1, 0], [0, 1, 0, 0], [1, 0, 1, 0], [0, 0, 0, 1]]
        )


class Series_(unittest.TestCase):  # noqa: N801 (the trade's word is taken by the class it tests)
    def test_a_torch_seated_anew_ends_the_proof(self) -> None:
        cuts = [square(n, 0.3, series=Series("p1", "m1")) for n in (1, 2, 3)]
        self.assertEqual(advise(job(*cuts)).status, "square")
        # A target so wide that the next is sure to pass: what is missing is only that one did.
        wide = Target(12.0)
        self.assertEqual(advise(job(*cuts, target=wide)).status, "square")
        for now in (Series("p1", "m2"), Series("p2", "m1")):
            self.assertEqual(advise(job(*cuts, series_now=now, target=wide)).status, "confirm")

    def test_an_oval_bore_that_was_thrown_away_is_no_worn_part_now(self) -> None:
        oval = (3.0, -3.0, 3.0, -3.0)
        worn = [square(n, oval, series=Series("p1")) for n in (1, 2, 3)]
        found = [f.code for f in advise(job(*worn)).findings]
        handed = advise(job(*worn)).hand_off
        self.assertIn("worn_parts", [*found, handed.code if handed else ""])
        fresh = advise(job(*worn, square(4, 0.4, series=Series("p2"))))
        self.assertNotIn("worn_parts", [f.code for f in fresh.findings])
        self.assertIsNone(fresh.hand_off)

    def test_volts_read_with_other_parts_say_less(self) -> None:
        def at_start(*cuts: Cut) -> float:
            return VoltageModel(job(*cuts)).mean[0] - 128.0  # type: ignore[no-any-return]

        now = square(2, series=Series("p2"))
        same = at_start(square(1, arc_voltage_v=140.0, series=Series("p2")), now)
        other = at_start(square(1, arc_voltage_v=140.0, series=Series("p1")), now)
        # 12 V over, known to 0.7 V against a start known to 6: nearly all of it; to 5 V: about six tenths.
        self.assertAlmostEqual(same, 12 * 36 / (36 + 0.49), delta=0.3)
        self.assertAlmostEqual(other, 12 * 36 / (36 + 25.5), delta=0.3)

    def test_a_height_set_by_hand_is_a_guess_and_mostly_high(self) -> None:
        set_cut = [square(n, 2.0, height=h) for n, h in ((1, 1.2), (2, 1.8))]
        guessed = [replace(c, height_control="by_hand") for c in set_cut]
        known, unsure = learned_from(job(*set_cut)), learned_from(job(*guessed))
        here = Candidates(np.array([2100.0]), np.array([1.5]))
        self.assertGreater(unsure.process(here).std(), known.process(here).std() * 1.05)
        # The same bevel, cut higher than it says: at the height it says it would be less.
        self.assertLess(unsure.process(here).mean(), known.process(here).mean() - 0.2)
        self.assertIn("height_uncertain", [f.code for f in advise(job(*guessed)).findings])
        self.assertNotIn("height_uncertain", [f.code for f in advise(job(*set_cut)).findings])


class Window(unittest.TestCase):
    def test_square_and_clean_that_do_not_meet_are_said(self) -> None:
        """Square where it chunks, bottom out where it is clean: all heights alike."""
        chunks = (Dross("low_speed", 3),)
        cuts = []
        for n, height in enumerate((1.0, 1.5, 2.2)):
            cuts += [
                square(3 * n + 1, 0.0, 1700, height, dross=chunks),
                square(3 * n + 2, 3.5, 2150, height, dross=chunks),
                square(3 * n + 3, 7.0, 2700, height, dross=CLEAN),
            ]
        advice = advise(job(*cuts))
        said = [f.code for f in advice.findings]
        self.assertIn("window_misses_square", [*said, advice.hand_off.code if advice.hand_off else ""])
        meets = [square(n, 0.3, v) for n, v in ((1, 1900), (2, 2100), (3, 2200))]
        self.assertNotIn("window_misses_square", [f.code for f in advise(job(*meets)).findings])


if __name__ == "__main__":
    unittest.main()
