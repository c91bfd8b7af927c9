"""Cheaper evidence first, what earlier campaigns teach, and when enough is enough."""

import math
import unittest
from dataclasses import replace

from orthotome.core.edge.edges import SQUARE_HEADINGS_DEG
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign, Cut, EdgeReading, Series, Target
from orthotome.core.tuner.advise import advise, judge
from orthotome.core.tuner.beliefs import trade_beliefs
from orthotome.core.tuner.history import beliefs_of, learned_from
from orthotome.core.tuner.unknowns import SWIRL
from orthotome.formats.trial.advice import advice_to_file
from orthotome.formats.trial.campaign import campaign_from_file, campaign_to_file, read_campaign
from orthotome.sim.families import FAMILIES, FamilyTable
from tests.core.tuner.test_tuner_rules import job, square
from tests.jobs import PLATE_JOB, PLATE_START

LEANING = (0.4, 4.4, 0.4, -3.6)  # 4 degrees toward the operator's left: what a 4-degree lean reads


class ReadAgain(unittest.TestCase):
    def test_a_reading_that_does_not_fit_is_asked_for_before_anything_is_named(self) -> None:
        odd = job(square(1, (0.3, 0.2, 5.0, 0.4)))
        advice = advise(odd)
        self.assertNotEqual(advice.status, "hand_off")
        asked = advice.read_again[0]
        self.assertEqual((asked.cut, asked.side, asked.heading_deg), ("c1", "right", 180.0))
        self.assertIn("cut to the left", asked.why)
        self.assertIn("+5.0°", asked.why)
        # Read again, it was a burr: nothing more is asked of that edge, and nothing leans.
        (cut,) = odd.cuts
        settled = replace(
            odd, cuts=(replace(cut, edges=(*cut.edges, EdgeReading("right", 180.0, 0.3, 0.4))),)
        )
        more = advise(settled)
        self.assertEqual([f.code for f in more.findings], [])
        self.assertGreater(judge(settled).passed[0], judge(odd).passed[0])

    def test_a_lean_of_one_square_is_read_again_and_of_two_is_named(self) -> None:
        once = advise(job(square(1, LEANING)))
        self.assertTrue(once.read_again)
        self.assertNotEqual(once.status, "hand_off")
        twice = advise(job(square(1, LEANING), square(2, LEANING)))
        self.assertEqual(twice.hand_off and twice.hand_off.code, "jet_lean")
        lean = twice.hand_off.numbers if twice.hand_off else {}
        # Edges cut away from you face left (180): +4 there, -4 on the right: the jet drifts to the left.
        self.assertAlmostEqual(lean["toward_deg"], 180.0, delta=5)
        self.assertAlmostEqual(lean["lean_deg"], 4.0, delta=0.4)

    def test_a_lean_is_read_again_where_it_shows_and_not_across_the_cut(self) -> None:
        kept = square(1, LEANING).edges
        scrap = EdgeReading("left", 0.0, 5.4, 0.4)  # swirl alone makes it differ most from the mean
        asked = advise(job(square(1, edges=(*kept, scrap)))).read_again
        self.assertEqual({(a.side, a.heading_deg) for a in asked}, {("right", 90.0), ("right", 270.0)})

    def test_a_piece_that_nobody_read_again_holds_nothing_up(self) -> None:
        odd = square(1, (0.3, 0.2, 5.0, 0.4))
        later = advise(job(odd, square(2, 0.3)))
        self.assertNotIn("c1", [r.cut for r in later.read_again])

    def test_at_most_eight_and_said_in_the_file(self) -> None:
        edges = tuple(
            EdgeReading(s, h, b, 0.4)
            for s, b in (("right", 6.0), ("left", -6.0))
            for h in SQUARE_HEADINGS_DEG
        )  # type: ignore[arg-type]
        advice = advise(job(square(1, edges=edges, dross=None), target=Target(2.0, "both")))
        self.assertLessEqual(len(advice.read_again), 8)
        file = advice_to_file(advise(job(square(1, (0.3, 0.2, 5.0, 0.4)))))
        self.assertEqual(file.read_again[0].cut, "c1")


class EnoughIsEnough(unittest.TestCase):
    def test_fastest_stops_at_what_is_proven_and_says_what_going_on_might_win(self) -> None:
        fast = Target(3.0, priority="fastest_in_tolerance")
        cuts = [square(n, 0.2, 1900) for n in range(1, 7)]
        advice = advise(job(*cuts, target=fast))
        self.assertEqual(advice.status, "square")
        self.assertEqual(advice.recommended and advice.recommended.speed_mm_min, 1900)
        (said,) = (f for f in advice.findings if f.code == "faster_possible")
        self.assertIn(f"{said.numbers['gain']:.0%} faster", said.why)
        self.assertGreater(said.numbers["gain"], 0.05)

    def test_the_fastest_of_what_is_proven_is_recommended(self) -> None:
        fast = Target(6.0, priority="fastest_in_tolerance")
        cuts = [square(n, 0.2, v) for n, v in enumerate((1900, 2200, 1900, 2200, 1900, 2200), 1)]
        self.assertEqual(judge(job(*cuts, target=fast)).advice.recommended.speed_mm_min, 2200)  # type: ignore[union-attr]

    def test_cuts_that_contradict_each_other_get_an_answer(self) -> None:
        apart = [square(n, (-1) ** n * 9.0) for n in range(1, 9)]
        self.assertIn(advise(job(*apart)).status, ("keep_cutting", "hand_off"))
        tiny = advise(job(*(square(n, 0.2) for n in range(1, 12)), target=Target(0.05)))
        self.assertEqual(tiny.status, "hand_off")


def earlier(seed: int, swirl_deg: float) -> Campaign:
    """A campaign of six squares on a table, both sides read."""
    table = FamilyTable.from_seed(seed, PLATE_START, 8.0, swirl_deg=swirl_deg, lean_deg=0.1)
    settings = [(1900, 1.3), (2100, 1.5), (2300, 1.5), (2000, 1.4), (2100, 1.3), (2200, 1.6)]
    cuts = [table.cut(n, "square", v, h, scrap_edges=4) for n, (v, h) in enumerate(settings, 1)]
    return replace(PLATE_JOB, cuts=tuple(cuts))


class History(unittest.TestCase):
    def test_without_one_the_trades_priors_stand(self) -> None:
        self.assertEqual(beliefs_of(PLATE_JOB), trade_beliefs(PLATE_JOB))

    def test_swirl_and_spread_are_the_tables_also_in_another_metal(self) -> None:
        taught = beliefs_of(
            replace(PLATE_JOB, metal="aluminium", history=(earlier(3, 2.4), earlier(4, 2.4)))
        )
        plain = trade_beliefs(replace(PLATE_JOB, metal="aluminium"))
        self.assertGreater(taught.swirl[0], plain.swirl[0] + 0.5)
        self.assertLess(taught.swirl[1], plain.swirl[1] * 0.6)
        self.assertEqual((taught.process, taught.dross), (plain.process, plain.dross))
        self.assertEqual(taught.taught_by, 2)
        self.assertAlmostEqual(sum(w for _, w in taught.cut_spread), 1.0)

    def test_the_same_stock_also_teaches_where_square_lies(self) -> None:
        history = (earlier(3, 1.3),)
        here = beliefs_of(replace(PLATE_JOB, history=history))
        thin = beliefs_of(replace(PLATE_JOB, thickness_mm=2.0, history=history))
        self.assertLess(here.process[0][1], trade_beliefs(PLATE_JOB).process[0][1] * 0.6)
        self.assertEqual(thin.process, trade_beliefs(replace(PLATE_JOB, thickness_mm=2.0)).process)

    def test_a_lean_is_remembered_while_the_torch_stays_in_its_mount(self) -> None:
        on_m1 = tuple(replace(c, series=Series(mount="m1")) for c in earlier(3, 1.3).cuts)
        seated = replace(earlier(3, 1.3), cuts=on_m1)
        same = beliefs_of(replace(PLATE_JOB, history=(seated,), series_now=Series(mount="m1")))
        moved = beliefs_of(replace(PLATE_JOB, history=(seated,), series_now=Series(mount="m2")))
        self.assertLess(same.lean[0][1], 0.9 * moved.lean[0][1])
        self.assertEqual(moved.lean, trade_beliefs(PLATE_JOB).lean)

    def test_the_first_cut_starts_where_the_same_stock_was_square_and_nowhere_else(self) -> None:
        unproven = tuple(
            replace(c, dross=None) for c in earlier(3, 1.3).cuts
        )  # nobody looked underneath
        off = replace(earlier(3, 1.3), cuts=unproven)
        told = replace(PLATE_JOB, history=(off, off))
        first, plain = advise(told).next_cuts[0], advise(PLATE_JOB).next_cuts[0]
        self.assertNotEqual(Setting.of(first), Setting.of(plain))
        self.assertIn("earlier trials", first.why)
        sure, unsure = advise(told).recommended, advise(PLATE_JOB).recommended
        self.assertGreater(sure.probability_pass, unsure.probability_pass + 0.2)  # type: ignore[union-attr]
        typed = replace(told, start_how="typed")
        self.assertEqual(Setting.of(advise(typed).next_cuts[0]), Setting.of(PLATE_START))
        of_another = replace(told, metal="aluminium")
        self.assertEqual(Setting.of(advise(of_another).next_cuts[0]), Setting.of(PLATE_START))

    def test_what_it_says_of_square_is_carried_over_to_other_starting_numbers(self) -> None:
        known = earlier(3, 1.3)
        faster = replace(PLATE_START, speed_mm_min=PLATE_START.speed_mm_min * 1.25)
        here, there = (
            beliefs_of(replace(PLATE_JOB, start=s, history=(known,))) for s in (PLATE_START, faster)
        )
        # 25 % faster starting numbers lie where the earlier trial reads more bevel: by its slope times ln 1.25.
        slope = float(learned_from(known).draws[:, 1].mean())
        moved = there.process[0][0] - here.process[0][0]
        self.assertAlmostEqual(moved, slope * math.log(1.25), delta=0.5)
        self.assertGreater(moved, 1.0)

    def test_nothing_is_called_square_over_a_reading_of_the_last_piece_that_does_not_fit(self) -> None:
        good = [square(n, 0.3) for n in (1, 2, 3)]
        self.assertEqual(advise(job(*good)).status, "square")
        odd = advise(job(*good, square(4, (0.3, 0.2, 4.9, 0.3))))
        self.assertEqual((odd.status, odd.read_again[0].heading_deg), ("confirm", 180.0))

    def test_sides_in_doubt_before_ask_for_no_edge_before_the_first_cut(self) -> None:
        doubtful = replace(PLATE_JOB, history=(earlier(3, -0.6),))
        self.assertGreater(float((learned_from(doubtful).draws[:, SWIRL] < -0.3).mean()), 0.5)
        advice = advise(doubtful)
        self.assertEqual(advice.read_again, ())
        self.assertEqual(len(advice.next_cuts), 1)

    def test_a_file_carries_it_and_gives_it_back(self) -> None:
        told = replace(PLATE_JOB, history=(earlier(3, 1.3), earlier(4, 1.3)))
        again = read_campaign(campaign_to_file(told).model_dump_json())
        self.assertEqual((len(again.history), again.history[0].cuts), (2, told.history[0].cuts))
        self.assertEqual(advise(again), advise(told))
        proven = replace(told, start_how="recipe", series_now=Series("p2", "m1"))
        self.assertEqual(read_campaign(campaign_to_file(proven).model_dump_json()), proven)

    def test_what_no_file_says_was_changed_since_an_earlier_trial_is_unchanged(self) -> None:
        on_m1 = tuple(replace(c, series=Series(mount="m1")) for c in earlier(3, 1.3).cuts)
        told = replace(PLATE_JOB, history=(replace(PLATE_JOB, cuts=on_m1),))
        file = campaign_to_file(told)
        cut = campaign_to_file(replace(PLATE_JOB, cuts=(square(1),))).cuts[0]
        again = campaign_from_file(file.model_copy(update={"cuts": (cut,)}))
        self.assertEqual((told.current_series.mount, again.cuts[0].series.mount), ("m1", "m1"))


class Families(unittest.TestCase):
    def test_every_family_is_square_where_its_truth_says_and_answers_the_same_twice(self) -> None:
        for family in FAMILIES:
            table = replace(FamilyTable.from_seed(9, PLATE_START, 8.0), family=family)  # type: ignore[arg-type]
            t = table.truth
            at = Setting(t.square_speed_mm_min, t.square_height_mm)
            process = table.process_bevel_deg(at.speed_mm_min, at.cut_height_mm)
            self.assertAlmostEqual(process, t.swirl_deg, places=6)
            faster = table.process_bevel_deg(1.2 * at.speed_mm_min, at.cut_height_mm) - process
            higher = table.process_bevel_deg(at.speed_mm_min, at.cut_height_mm + 0.5) - process
            self.assertTrue(0.5 < faster < 4.5 and 0.4 < higher < 3.5, (family, faster, higher))
            one, other = (table.cut(1, "square", 2000, 1.5) for _ in range(2))
            self.assertEqual(one, other)
            self.assertIsInstance(one, Cut)


if __name__ == "__main__":
    unittest.main()
