"""Parts: counts and a source's counter, looking, whom to suspect, what a habit costs, and recipes that are watched."""

import unittest
from dataclasses import replace

import numpy as np

from orthotome.core.book.watching import Promise, SpotCheck, starts_between, watch
from orthotome.core.errors import TradeError
from orthotome.core.log.starts import work_of_ladder, work_of_piece
from orthotome.core.pieces.piece import PieceBasis
from orthotome.core.torch.costs import costs, habit_says
from orthotome.core.torch.counts import CounterReading, Counts, missed, shared
from orthotome.core.torch.fittings import SINGLE_PARTS
from orthotome.core.torch.inspection import PART_FACTS, judge_looks, pit_by_ball, pit_by_gauge
from orthotome.core.torch.lives import life_of, shorter_than_the_shops, span_left
from orthotome.core.torch.pit import learn
from orthotome.core.torch.set_point import since_proven, trim_now
from orthotome.core.torch.suspects import Pattern, dross_stays, first_suspects
from orthotome.core.torch.wear import LifeEntry, PartsLedger, belief_from

BASIS = PieceBasis(8.0, 1.8, "clockwise", 2100.0, 1.5)
PROMISE = Promise(limit_deg=2.0, proven_deg=0.5, dross_grade=1)


def worn(starts: int, v_per_1000: float = 9.0, pit_per_1000: float = 1.0) -> PartsLedger:
    """Parts that wore evenly, read every fifty starts."""
    return PartsLedger(
        1.5,
        128.0,
        6.5,
        1.5,
        0.6,
        tuple(
            LifeEntry(s, 15.0 * s, 0, pit_per_1000 * s / 1000, 0.04, 128 + v_per_1000 * s / 1000)
            for s in range(0, starts + 1, 50)
        ),
    )


class Counting(unittest.TestCase):
    """A start is an arc start."""

    def test_a_square_is_as_many_starts_as_its_program_pierces(self) -> None:
        """Outline and scrap bar, and a slit for 1; three slits for 7 (3 + 3 + 1); a slug has its slit; a hole is one."""
        one, seven = (work_of_piece("square", BASIS, n, 0.5) for n in (1, 7))
        self.assertEqual((one.starts, seven.starts), (3, 5))
        self.assertEqual(work_of_piece("square", BASIS, 1, 0.5, each=2).starts, 2 * one.starts)
        longer = work_of_piece("square", BASIS, 1, 1.5)
        self.assertAlmostEqual(longer.arc_on_s - one.arc_on_s, one.starts * 1.0, delta=0.11)
        self.assertGreater(work_of_piece("round", BASIS, 1, 0.5).starts, 1)
        self.assertEqual(work_of_piece("hole", BASIS, 1, 0.5), Counts(1))
        ladder = work_of_ladder([1800, 2100, 2400], BASIS, 1, 0.5)
        self.assertGreaterEqual(ladder.starts, 4)  # as many slots, and what cuts it loose

    def test_what_the_source_counted_more_is_what_was_missed(self) -> None:
        """60 by the source, 40 here: 20 were missed; fewer by the source is taken off; backwards is refused."""
        before, here = CounterReading(10_000, 5000.0), Counts(40, 500.0)
        self.assertEqual(missed(CounterReading(10_060, 5700.0), before, here), Counts(20, 200.0))
        self.assertEqual(missed(CounterReading(10_030), before, here).starts, -10)
        with self.assertRaises(TradeError):
            missed(CounterReading(9_999), before, here)

    def test_what_was_missed_is_shared_by_what_was_counted_and_nothing_is_lost(self) -> None:
        """Twenty over 30 and 10; seven over three alike; all on the last where nothing was counted."""
        self.assertEqual([c.starts for c in shared(Counts(20), [30, 10])], [15, 5])
        self.assertEqual(sum(c.starts for c in shared(Counts(7), [1, 1, 1])), 7)
        self.assertEqual([c.starts for c in shared(Counts(7), [0, 0])], [0, 7])


class Looking(unittest.TestCase):
    """What is seen on a part, and its pit."""

    def test_a_ball_in_the_pit_tells_its_depth(self) -> None:
        """40.00 to the rim, a 1.50 ball, 40.80 over it: 0.70 deep, to sqrt(2) * 0.03."""
        read = pit_by_ball(40.0, 40.8, 1.5, 1.5)
        self.assertAlmostEqual(read.pit_mm, 0.70)
        self.assertAlmostEqual(read.u_mm, 0.0424, delta=0.0001)

    def test_a_ball_that_cannot_have_lain_so_is_refused(self) -> None:
        """Below the rim; longer than both together; a pit deeper than the part."""
        for over in (39.9, 41.8):
            with self.assertRaises(TradeError) as refused:
                pit_by_ball(40.0, over, 1.5, 1.5)
            self.assertEqual(refused.exception.field, "over_ball_mm")
        with self.assertRaises(TradeError):
            pit_by_gauge(4.6, 1.5)

    def test_the_worst_of_what_is_seen_is_the_verdict(self) -> None:
        """A clean electrode near its limit; an oval bore beside a clean face; unknown words are refused."""
        self.assertEqual(judge_looks("electrode", {"body": "clean"}, (1.4, 1.5)).verdict, "rough_work")
        self.assertEqual(judge_looks("electrode", {"body": "clean"}, (1.5, 1.5)).verdict, "replace")
        nozzle = judge_looks("nozzle", {"face": "clean", "bore": "oval"}, None)
        self.assertEqual(nozzle.verdict, "replace")
        self.assertIn("twice round", nozzle.why)
        self.assertEqual(judge_looks("shield", {}, None).verdict, "not_known")
        for looks in ({"bore": "square"}, {"pit": "even"}):
            with self.assertRaises(TradeError):
                judge_looks("shield", looks, None)

    def test_every_part_has_its_looks_and_a_new_one_is_kept(self) -> None:
        """The first answer of each is how a new part looks."""
        self.assertEqual(tuple(PART_FACTS), SINGLE_PARTS)
        for part, facts in PART_FACTS.items():
            new = {look.what: look.seen[0].value for look in facts.looks}
            self.assertEqual(judge_looks(part, new, None).verdict, "keep")


class SetPoint(unittest.TestCase):
    """The trim that wear asks for."""

    def test_a_trim_is_asked_for_when_it_is_due_and_says_what_comes_of_none(self) -> None:
        """600 starts at 9 V per 1000: 5.4 V, in halves; told so, nothing is due until a volt more has come."""
        life = learn(worn(600))
        due = trim_now(life, 128.0)
        self.assertAlmostEqual(due.by_v, 5.5, delta=0.5)
        self.assertIn("closer than was proven; left alone it touches at about", due.says)
        held = trim_now(life, 128.0 + due.by_v)
        self.assertEqual(held.by_v, 0.0)
        assert held.due_at_starts is not None
        self.assertAlmostEqual(held.due_at_starts, 600 + 1000 / 9, delta=70)

    def test_new_parts_under_a_raised_set_point_are_lowered(self) -> None:
        """A set-point of worn parts holds new ones too high."""
        new = trim_now(learn(worn(0)), 133.0)
        self.assertLess(new.by_v, -4.0)
        self.assertIn("too high", new.says)

    def test_a_sampled_set_point_needs_no_trim(self) -> None:
        """Whatever the wear."""
        self.assertEqual(trim_now(learn(worn(900)), 128.0, "sampled").by_v, 0.0)

    def test_a_recipe_says_what_its_volts_are_worth_since(self) -> None:
        """Proven at 300 starts with 130.7 V; at 600 they are worth 2.7 V more."""
        said = since_proven(learn(worn(600)), 130.7, 300)
        self.assertRegex(said, r"^\+2\.[4-9] V since it was proven.*: 300 starts\.$")


class Lives(unittest.TestCase):
    """What earlier parts say."""

    def test_a_part_without_a_pit_is_told_from_those_that_ended(self) -> None:
        """Five nozzles of about 800: at 300 about 500 are left; one life tells nothing."""
        left = span_left([760, 790, 800, 820, 850], 300)
        assert left is not None
        self.assertAlmostEqual(left.expected, 500, delta=60)
        self.assertLess(left.low, 300)
        self.assertIsNone(span_left([800], 300))

    def test_a_life_shorter_than_the_shops_is_said_with_its_evidence(self) -> None:
        """Four electrodes at 1 mm per 1000 starts, then one at 2.5: wet air, flow, rating, dragging."""
        belief = belief_from([life_of(learn(worn(1400)))] * 4)
        fast, usual = (learn(worn(500, pit_per_1000=p), belief) for p in (2.5, 1.0))
        said = shorter_than_the_shops(fast, belief, Counts(500, early_losses=20))
        self.assertIn("times as fast as the shop’s last 4", said)
        self.assertIn("20 arcs were lost early", said)
        self.assertEqual(shorter_than_the_shops(usual, belief, Counts(500)), "")

    def test_a_habit_has_its_price(self) -> None:
        """An electrode of 6 that lasts 1000 starts, a nozzle of 4 that lasts 800; 31 endings off the plate."""
        found = costs(
            {"electrode": 6.0, "nozzle": 4.0, "shield": 9.0},
            {"electrode": 1000.0, "nozzle": 800.0},
            Counts(500, 7500.0, off_plate=31),
            2000.0,
        )
        self.assertAlmostEqual(found.per_start or 0, 0.006 + 0.005)
        self.assertAlmostEqual(found.per_metre or 0, 0.011 / (15 / 60 * 2.0))
        self.assertAlmostEqual(found.habit or 0, 6.0 * found.habit_electrodes)
        self.assertGreater(found.habit_electrodes, 0.2)
        self.assertIsNone(costs({}, {}, Counts(), None).per_start)
        self.assertEqual(habit_says(31, 1.0), "31 endings off the plate: about one electrode.")
        self.assertEqual(habit_says(2, 0.05), "")


class Suspects(unittest.TestCase):
    """The trim first, then the alignment, then parts."""

    def test_volts_up_at_the_same_height_point_at_the_trim(self) -> None:
        """And at nothing else."""
        trim, alignment, parts = first_suspects(
            Pattern(behind_v=2.5, leans_deg=0.2, scatter_deg=0.3, verdict="keep")
        )
        self.assertEqual((trim.points, alignment.points, parts.points), (True, False, False))

    def test_scatter_without_a_direction_and_dross_that_stays_point_at_parts(self) -> None:
        """The volts are where they were and opposite edges agree."""
        trim, alignment, parts = first_suspects(
            Pattern(behind_v=0.1, leans_deg=0.2, scatter_deg=1.4, dross_stays=True, verdict="keep")
        )
        self.assertEqual((trim.points, alignment.points, parts.points), (False, False, True))
        self.assertIn("every speed", parts.shows)

    def test_dross_stays_only_where_three_speeds_left_it(self) -> None:
        """One clean cut, or two speeds, clear the parts."""
        self.assertTrue(dross_stays([(1800, 3), (2100, 2), (2400, 3)], 1))
        self.assertFalse(dross_stays([(1800, 3), (2100, 1), (2400, 3)], 1))
        self.assertFalse(dross_stays([(1800, 3), (2100, 2), (2100, 3)], 1))

    def test_what_nobody_read_is_said_not_to_be_known(self) -> None:
        """Nothing is cleared that was not looked at; a collision points at the alignment."""
        self.assertEqual({s.points for s in first_suspects(Pattern())}, {None})
        self.assertTrue(first_suspects(Pattern(collided=True))[1].points)


class Watching(unittest.TestCase):
    """A proven recipe, checked now and then."""

    def checks(self, *bevels: float) -> list[SpotCheck]:
        """One every hundred starts."""
        return [SpotCheck(100 * (i + 1), b) for i, b in enumerate(bevels)]

    def test_edges_where_they_were_still_hold_and_one_wild_one_does_not_move_it(self) -> None:
        """Five near the proof; then one reading past the limit."""
        self.assertEqual(watch(PROMISE, self.checks(0.4, 0.7, 0.3, 0.6, 0.5), 500).state, "still_holds")
        self.assertNotEqual(watch(PROMISE, self.checks(0.4, 0.7, 0.3, 0.6, 2.3), 500).state, "moved")

    def test_a_drift_is_due_when_its_line_meets_the_limit(self) -> None:
        """0.2 degrees a hundred starts from 0.5: at 750 it stands at the limit of 2."""
        found = watch(PROMISE, self.checks(0.7, 0.9, 1.1, 1.3, 1.5, 1.6), 600)
        self.assertEqual(found.state, "drifting")
        assert found.due_at_starts is not None
        self.assertTrue(600 <= found.due_at_starts <= 1200, found.due_at_starts)

    def test_a_knock_is_a_step_and_asks_for_height_alone(self) -> None:
        """Three good, then three past the limit: it moved before the fourth; the trim that is behind is named."""
        found = watch(PROMISE, self.checks(0.5, 0.4, 0.6, 3.4, 3.2, 3.5), 600, trim_v=1.5)
        self.assertEqual((found.state, found.moved_since), ("moved", 400))
        self.assertIn("Re-tune only height: raise the set-point by 1.5 V first", found.says)

    def test_undercut_past_the_limit_is_moved_as_bottom_out_is(self) -> None:
        knocked = watch(PROMISE, self.checks(0.5, 0.4, 0.6, -3.4, -3.2, -3.5), 600)
        self.assertEqual((knocked.state, knocked.moved_since), ("moved", 400))
        falls = watch(PROMISE, self.checks(0.2, -0.1, -0.4, -0.7, -1.0, -1.2), 600)
        self.assertEqual(falls.state, "drifting")

    def test_dross_that_was_promised_away_is_moved_too(self) -> None:
        """The edges hold; what hangs below does not."""
        good = [replace(c, dross_grade=3) for c in self.checks(0.5)]
        self.assertEqual(watch(PROMISE, good, 100).state, "moved")

    def test_steady_recipes_are_seldom_called_moved_and_knocked_ones_nearly_always(self) -> None:
        """200 of each, read with a gauge that errs: 4 in 100 at the most, and 95 or more."""
        chance = np.random.default_rng(4)
        false, true = 0, 0
        for _ in range(200):
            noise = chance.normal(0, 0.55, 8)
            false += watch(PROMISE, self.checks(*(0.5 + noise)), 800).state == "moved"
            knocked = 0.5 + noise + np.where(np.arange(8) >= 5, 3.0, 0.0)
            true += watch(PROMISE, self.checks(*knocked), 800).state == "moved"
        self.assertLessEqual(false, 8)
        self.assertGreaterEqual(true, 190)

    def test_checks_come_oftener_where_parts_are_dear_and_wear_is_quick(self) -> None:
        """sqrt(2 c / (b rate)): four times the price halves the interval."""
        usual = starts_between(8.0, 20.0, 10.0, None)
        self.assertAlmostEqual(starts_between(8.0, 80.0, 10.0, None), usual / 2, delta=1)
        self.assertLess(starts_between(8.0, 20.0, 10.0, 200), 0.5 * usual)


if __name__ == "__main__":
    unittest.main()
