"""The day after the proof: the next trial of a job begins at what was proven, and stays there until a cut says
otherwise."""

import unittest
from dataclasses import replace

from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign, Limits, Series, Target
from orthotome.core.trial.opening import default_limits
from orthotome.core.tuner.advise import Judgement, judge
from orthotome.core.tuner.next_act import next_act
from orthotome.core.tuner.proven import as_strict, still_stands
from orthotome.sim.families import FamilyTable
from orthotome.sim.table import SimulatedTable
from tests.enough import cases
from tests.jobs import PLATE_JOB, PLATE_START, SHEET_JOB

_MOST_CUTS = 8
_FIRST_DAYS = cases(10, 60)


def tuned(job: Campaign, table: SimulatedTable) -> tuple[Campaign, Setting] | None:
    """A job cut as advised until it is square, and the setting that it was proven at; None where it never was."""
    for number in range(1, _MOST_CUTS + 1):
        advice = judge(job).advice
        if advice.status == "square":
            assert advice.recommended is not None
            return job, Setting.of(advice.recommended)
        if advice.status == "hand_off":
            return None
        asked = advice.next_cuts[0]
        cut = table.cut(number, asked.piece, asked.speed_mm_min, asked.cut_height_mm, starts=5 * number)
        job = replace(job, cuts=(*job.cuts, cut))
    return None


def first_day(seed: int, job: Campaign = PLATE_JOB) -> tuple[SimulatedTable, Campaign, Setting] | None:
    """A table of that seed with its first trial, cut until it is square."""
    make = FamilyTable if seed % 2 else SimulatedTable
    table = make.from_seed(seed, job.start, job.thickness_mm, lean_deg=0.3 * (seed % 4))
    found = tuned(job, table)
    return None if found is None else (table, *found)


def next_day(done: Campaign, recipe: Setting | None = None, **changes: object) -> Campaign:
    """The next trial of that job: on the row it began with, or opened from the recipe."""
    job = replace(done, cuts=(), history=(done,))
    if recipe is not None:
        start = replace(done.start, speed_mm_min=recipe.speed_mm_min, cut_height_mm=recipe.cut_height_mm)
        job = replace(job, start=start, limits=default_limits(start), start_how="recipe")
    return replace(job, **changes)  # type: ignore[arg-type]


def chance_at(judgement: Judgement, at: Setting) -> float:
    """The chance that a judgement gives one of its candidates."""
    all_of_them = zip(judgement.candidates.speed_mm_min, judgement.candidates.height_mm, strict=True)
    index = [Setting(float(v), float(h)) for v, h in all_of_them].index(at)
    return float(judgement.chances[index])


class AnyFirstDay(unittest.TestCase):
    def test_the_next_trial_begins_at_the_recipe_likely_to_pass_and_one_check_proves_it(self) -> None:
        begun = again = passed = 0
        for seed in (40 + n for n in _FIRST_DAYS):
            made = first_day(seed, SHEET_JOB if seed % 3 == 0 else PLATE_JOB)
            if made is None:
                continue
            table, done, recipe = made
            for day in (next_day(done), next_day(done, recipe)):
                judgement = judge(day)
                advice = judgement.advice
                self.assertEqual(next_act(judgement).setting, recipe, seed)
                self.assertEqual((advice.status, advice.hand_off), ("confirm", None), seed)
                self.assertGreater(chance_at(judgement, recipe), 0.75, seed)
                begun += chance_at(judgement, recipe) > 0.83
            check = table.cut(_MOST_CUTS + 1, "square", recipe.speed_mm_min, recipe.cut_height_mm)
            checked = judge(replace(next_day(done, recipe), cuts=(check,)))
            if checked.passed[0] >= 0.9:
                passed += 1
                self.assertEqual(next_act(checked).setting, recipe, seed)
                self.assertIn(checked.advice.status, ("confirm", "square"), seed)
                again += checked.advice.status == "square"
        self.assertGreater(passed, len(_FIRST_DAYS) // 2)
        self.assertGreaterEqual(begun, 1.6 * passed)  # of two beginnings each
        self.assertGreaterEqual(again, 0.6 * passed)


class OneFirstDay(unittest.TestCase):
    table: SimulatedTable
    done: Campaign
    recipe: Setting

    @classmethod
    def setUpClass(cls) -> None:
        made = first_day(44)
        assert made is not None
        cls.table, cls.done, cls.recipe = made

    def first(self, day: Campaign) -> Setting:
        return next_act(judge(day)).setting

    def test_what_is_believed_of_it_hangs_on_no_starting_numbers(self) -> None:
        chances = []
        for share in (0.85, 1.0, 1.15):
            start = replace(
                PLATE_START, speed_mm_min=round(2100 * share), cut_height_mm=1.5 + (share - 1)
            )
            chances.append(chance_at(judge(next_day(self.done, start=start)), self.recipe))
        self.assertLess(max(chances) - min(chances), 0.06, chances)

    def test_a_check_that_fails_ends_it_and_a_look_at_nothing_does_not(self) -> None:
        day = next_day(self.done, self.recipe)
        good = self.table.cut(20, "square", self.recipe.speed_mm_min, self.recipe.cut_height_mm)
        off = tuple(replace(e, bevel_deg=e.bevel_deg + 5.0) for e in good.edges)
        failed = replace(day, cuts=(replace(good, edges=off),))
        self.assertIsNone(judge(failed).proven)
        self.assertNotEqual(self.first(failed), self.recipe)
        unseen = replace(day, cuts=(replace(good, edges=(), dross=None, through="full"),))
        self.assertEqual(self.first(unseen), self.recipe)

    def test_checks_that_pass_never_end_it_and_one_made_with_other_parts_says_nothing(self) -> None:
        day = next_day(self.done, self.recipe)
        good = self.table.cut(20, "square", self.recipe.speed_mm_min, self.recipe.cut_height_mm)
        self.assertTrue(still_stands(replace(day, cuts=(good,) * 5), self.recipe, (0.97,) * 5, 0.96))
        self.assertFalse(still_stands(replace(day, cuts=(good,) * 5), self.recipe, (0.6,) * 5, 0.8))
        worn = replace(good, series=Series("worn"))
        failed = replace(day, cuts=(worn,), series_now=Series("worn"))
        self.assertFalse(still_stands(failed, self.recipe, (0.0,), 0.7))
        changed = replace(failed, series_now=Series("new"))
        self.assertTrue(still_stands(changed, self.recipe, (0.0,), 0.7))

    def test_new_parts_and_another_mount_make_it_less_sure_and_are_said(self) -> None:
        at = {
            name: judge(next_day(self.done, self.recipe, series_now=series))
            for name, series in (
                ("same", Series()),
                ("parts", Series("new")),
                ("mount", Series("", "new")),
            )
        }
        sure = {name: chance_at(judgement, self.recipe) for name, judgement in at.items()}
        self.assertLess(sure["parts"], sure["same"] - 0.1)
        self.assertLess(sure["mount"], sure["same"] - 0.02)
        self.assertIn("the parts changed", at["parts"].advice.next_cuts[0].why)
        self.assertEqual(next_act(at["parts"]).setting, self.recipe)

    def test_of_another_job_a_stricter_target_or_outside_the_limits_it_is_no_beginning(self) -> None:
        row = Setting.of(PLATE_START)
        self.assertNotEqual(row, self.recipe)
        for other in (
            {"metal": "aluminium"},
            {"thickness_mm": 10.0},
            {"torch_set": replace(PLATE_JOB.torch_set, gas="oxygen")},
            {"target": Target(1.0)},
            {"limits": Limits((self.recipe.speed_mm_min + 10, 3400), (0.8, 3.2))},
        ):
            self.assertIsNone(judge(next_day(self.done, **other)).proven, other)
        looser = next_day(self.done, target=Target(3.0, dross_grade=2))
        self.assertEqual(self.first(looser), self.recipe)

    def test_typed_numbers_come_first_with_what_was_proven_beside_them(self) -> None:
        typed = judge(next_day(self.done, start_how="typed"))
        self.assertEqual(next_act(typed).setting, Setting.of(PLATE_START))
        (beside,) = (f for f in typed.advice.findings if f.code == "proven_elsewhere")
        self.assertEqual(beside.numbers["speed_mm_min"], self.recipe.speed_mm_min)

    def test_a_trial_that_was_never_square_proves_nothing(self) -> None:
        begun = replace(self.done, cuts=self.done.cuts[:1])
        self.assertIsNone(judge(next_day(begun)).proven)


class Strictness(unittest.TestCase):
    def test_what_meets_one_target_meets_a_looser_one(self) -> None:
        then = Target(2.0, "both", 1)
        for now, met in (
            (Target(2.0, "both", 1), True),
            (Target(2.5, "good", 2), True),
            (Target(1.5, "both", 1), False),
            (Target(2.0, "both", 0), False),
        ):
            self.assertEqual(as_strict(then, now), met, now)
        self.assertFalse(as_strict(replace(then, sides="good"), then))
