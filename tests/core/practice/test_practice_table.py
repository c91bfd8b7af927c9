"""Exercises at a simulated table: a master passes them, nobody passes by luck, and what is wrong has to be put right."""

import unittest
from dataclasses import replace

from orthotome.core.errors import TradeError
from orthotome.core.practice.at_the_arc import (
    cause_of,
    departure_mm,
    judge_arc_end,
    masters_arc,
    read_run,
)
from orthotome.core.practice.at_the_table import MastersWay, judge_end, masters_way
from orthotome.core.practice.hidden import HIDDEN
from orthotome.core.practice.table_exercises import (
    ARC_EXERCISES,
    ARC_WAY_MM,
    EVERY_EXERCISE,
    TABLE_EXERCISES,
    TableExercise,
    table_exercise,
)
from orthotome.core.setting import Setting
from orthotome.core.trial.table_door import FittedAnew, JobAtTable
from orthotome.core.tuner.advise import judge
from orthotome.sim.practice import (
    EVERYTHING_ANEW,
    PracticeDoor,
    arc_run,
    live_faults,
    practice_table,
    square_setting,
    true_chance,
)

AS_FOUND = FittedAnew()


def masters(exercise: TableExercise) -> MastersWay:
    return masters_way(exercise, PracticeDoor(exercise), judge, lambda s, a: true_chance(exercise, s, a))


class AtTheTable(unittest.TestCase):
    def test_a_master_passes_every_exercise_and_the_row_alone_passes_none(self) -> None:
        self.assertEqual({e.hidden for e in EVERY_EXERCISE}, set(HIDDEN))
        for exercise in TABLE_EXERCISES:
            with self.subTest(exercise.code):
                row = Setting.of(exercise.told_start)
                self.assertLess(true_chance(exercise, row, EVERYTHING_ANEW), 0.3)
                way = masters(exercise)
                self.assertEqual(way.claim, exercise.thing.ends)
                self.assertLess(way.cuts, exercise.most_cuts + 1)
                if way.claim == "square":
                    cut = [s for s in way.steps if s.setting is not None]
                    self.assertGreater(cut[-1].known or 0.0, 0.8)
                    self.assertGreater(
                        true_chance(exercise, square_setting(exercise), EVERYTHING_ANEW), 0.95
                    )

    def test_what_is_hidden_keeps_square_out_of_reach_until_the_right_thing_is_fitted(self) -> None:
        right = {
            "leaning_torch": FittedAnew((), 1),
            "oval_nozzle": FittedAnew(("nozzle",)),
            "worn_parts": FittedAnew(("nozzle",)),
            "wrong_ring": FittedAnew(("swirl_ring",)),
        }
        wrong = FittedAnew(("electrode", "shield"))
        for exercise in TABLE_EXERCISES:
            if not exercise.thing.can_be_cured:
                continue
            with self.subTest(exercise.code):
                self.assertFalse(exercise.thing.is_cured(wrong))
                self.assertTrue(exercise.thing.is_cured(right[exercise.hidden]))
                best = square_setting(exercise)
                cured = true_chance(exercise, best, right[exercise.hidden])
                self.assertGreater(cured, true_chance(exercise, best, wrong) + 0.5)

    def test_the_scrap_is_squarer_with_a_ring_of_the_other_hand(self) -> None:
        exercise = table_exercise("scrap-is-square")

        def kept_less_scrap(anew: FittedAnew) -> float:
            table = practice_table(exercise, anew)
            kept, scrap = (
                abs(sum(table.edge_bevel_deg(table.truth.swirl_deg, side, h) for h in (0.0, 90.0, 180.0, 270.0)))
                for side in ("right", "left")
            )  # fmt: skip
            return kept - scrap

        self.assertGreater(kept_less_scrap(AS_FOUND), 0.5)
        self.assertLess(kept_less_scrap(FittedAnew(("set",))), -0.5)

    def test_the_end_is_judged_by_the_truth(self) -> None:
        plain, lean, tight = (
            table_exercise(c) for c in ("square-in-five", "one-way-bad", "half-a-degree")
        )
        self.assertTrue(judge_end(plain, "square", 5, 0.97, AS_FOUND).passed)
        for claim, cuts, chance, words in (
            ("square", 6, 0.97, "6 cuts where 5 were allowed"),
            ("square", 3, 0.4, "passes 40 times in 100"),
            ("square", 0, None, "nothing was cut"),
            ("worn_parts", 3, 0.4, "could be cut square"),
        ):
            how = judge_end(plain, claim, cuts, chance, AS_FOUND)
            self.assertFalse(how.passed)
            self.assertIn(words, how.sentence)
        still = judge_end(lean, "square", 3, 0.97, AS_FOUND)
        self.assertEqual((still.passed, "still there" in still.sentence), (False, True))
        named = judge_end(lean, "jet_lean", 3, 0.0, AS_FOUND)
        self.assertEqual((named.passed, "can be put right here" in named.sentence), (False, True))
        self.assertTrue(judge_end(tight, "target_too_tight", 3, 0.02, AS_FOUND).passed)
        with self.assertRaises(TradeError):
            judge_end(plain, "tired", 3, 0.9, AS_FOUND)

    def test_a_number_is_the_same_table_for_two_people(self) -> None:
        with self.assertRaises(TradeError):
            table_exercise("1000000")
        numbered = [table_exercise(str(n)) for n in range(40)]
        self.assertGreater(len({e.hidden for e in numbered}), 4)
        for exercise in numbered[:8]:
            self.assertEqual(exercise, table_exercise(exercise.code))
            job_cut = [
                practice_table(e, AS_FOUND).cut(1, "square", 2000, 1.6)
                for e in (exercise, replace(exercise))
            ]
            self.assertEqual(*job_cut)
            self.assertEqual(masters(exercise).claim, "square", exercise.code)


class AtTheArc(unittest.TestCase):
    def test_a_master_finds_what_is_in_the_arc_and_a_sound_table_shows_none_of_it(self) -> None:
        for exercise in ARC_EXERCISES:
            with self.subTest(exercise.code):
                told, at = exercise.told_control, Setting.of(exercise.told_start)
                assert told is not None
                way = masters_arc(exercise, lambda c, e=exercise: arc_run(e, c), told)  # type: ignore[misc]
                self.assertEqual(way.claim, exercise.thing.ends)
                self.assertLessEqual(way.cuts, exercise.most_cuts)
                # The same table with nothing wrong: nothing is found, and it holds.
                sound = arc_run(exercise, replace(told, hold_below_share=0.9), frozenset())
                held = read_run(arc_run(exercise, None, frozenset()), at, ARC_WAY_MM)
                self.assertIsNone(cause_of(held, exercise.row_volts, at))
                self.assertLess(departure_mm(sound, at.cut_height_mm), 0.25)
                # As it begins it does not hold, for whoever says so.
                begun = departure_mm(arc_run(exercise, told), at.cut_height_mm)
                self.assertGreater(begun, 0.5)
                self.assertFalse(judge_arc_end(exercise, "holds", 1, begun, AS_FOUND).passed)
                self.assertTrue(judge_arc_end(exercise, exercise.thing.ends, 2, 0.2, AS_FOUND).passed)

    def test_what_shows_in_the_arc_goes_with_what_is_fitted_and_no_volts_are_made_up(self) -> None:
        worn, divided = table_exercise("dives-along"), table_exercise("up-and-away")
        new = FittedAnew(("electrode",))
        self.assertEqual(live_faults(worn, AS_FOUND), {"worn_electrode"})
        self.assertEqual(live_faults(worn, new), frozenset())
        self.assertEqual(live_faults(divided, FittedAnew(("set",), 1)), {"divided_twice"})
        job = JobAtTable(0, worn.told_start, 8.0, "clockwise", AS_FOUND)
        setting = Setting.of(worn.told_start)
        door = PracticeDoor(worn)
        self.assertIsNone(door.cut(job, 1, "square", setting, starts=1).arc_voltage_v)
        cured = door.cut(replace(job, anew=new), 1, "square", setting, starts=1)
        self.assertIsNotNone(cured.arc_voltage_v)
        # With the new electrode it holds, and to say so is right as well.
        self.assertTrue(judge_arc_end(worn, "holds", 3, 0.1, new).passed)
        self.assertFalse(judge_arc_end(worn, "holds", 3, 0.1, AS_FOUND).passed)

    def test_its_end_is_judged_by_the_truth(self) -> None:
        dips = table_exercise("dips-in-corners")
        for claim, runs, departs_mm, words in (
            ("wet_air", 2, 0.1, "It was not that"),
            ("holds", 2, 0.96, "leaves its height by 0.96 mm"),
            ("holds", 2, float("inf"), "goes out before the end"),
            ("holds", 2, None, "was told nothing"),
            ("holds", 0, 0.1, "nothing was run"),
            ("holds", 6, 0.1, "6 runs where 5 were allowed"),
        ):
            how = judge_arc_end(dips, claim, runs, departs_mm, AS_FOUND)
            self.assertFalse(how.passed)
            self.assertIn(words, how.sentence)
        self.assertTrue(judge_arc_end(dips, "holds", 5, 0.1, AS_FOUND).passed)
        with self.assertRaises(TradeError):
            judge_arc_end(dips, "square", 2, 0.1, AS_FOUND)


if __name__ == "__main__":
    unittest.main()
