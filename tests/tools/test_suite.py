"""The suite itself: early decisions that are right, searches that end, changes that reach what imports them, workers that die."""

import random
import unittest
from pathlib import Path
from unittest.mock import patch

from tests import enough
from tests.enough import Share, while_new
from tools.suite import reach
from tools.suite.plan import Task, longest_first, pieces
from tools.suite.processors import Processors
from tools.suite.run import Run

CLAIM = Share(
    "coins", 0.9, refuted_below=0.75, refuted_above=0.985, at_least=0.85, at_most=0.95, most=300
)


@patch.object(enough, "LONG", new=False)
class DecidedEarly(unittest.TestCase):
    """Wald: each mistake about once in a hundred, in a third of the cases or fewer."""

    def refuted_and_mean(self, share: float) -> tuple[int, float]:
        refuted, drawn = 0, 0
        for seed in range(200):
            chance = random.Random(seed)
            seen: list[bool] = []

            def holds(_case: int, chance: random.Random = chance, seen: list[bool] = seen) -> bool:
                seen.append(chance.random() < share)
                return seen[-1]

            try:
                CLAIM.decide(unittest.TestCase(), holds)
            except AssertionError:
                refuted += 1
            drawn += len(seen)
        return refuted, drawn / 200

    def test_what_holds_is_held_and_what_fails_badly_is_refuted(self) -> None:
        for share, most_refuted, least_refuted in ((0.9, 6, 0), (0.7, 200, 196), (0.995, 200, 196)):
            refuted, mean = self.refuted_and_mean(share)
            self.assertTrue(least_refuted <= refuted <= most_refuted, (share, refuted))
            self.assertLess(mean, 100)

    def test_the_long_form_holds_all_of_them_against_the_bounds(self) -> None:
        slipped = [
            n % 5 != 0 for n in range(300)
        ]  # 0.8: too near for the short form's two errors, below 0.85 for the long
        long = patch.object(enough, "LONG", new=True)
        with long, patch.object(enough, "note"), self.assertRaises(AssertionError):
            CLAIM.decide(unittest.TestCase(), slipped.__getitem__)

    def test_a_search_goes_on_while_it_finds_something_new(self) -> None:
        found = while_new("numbers", lambda n: min(n, 30), patience=20, most=1000)
        self.assertEqual((len(found), sum(found.values())), (31, 51))


class Reach(unittest.TestCase):
    def reached(self, *files: str) -> list[str] | None:
        with patch.object(reach, "changed", return_value=tuple(map(Path, files))):
            return reach.tests_for("HEAD")

    def test_a_change_reaches_what_imports_it_and_what_names_it(self) -> None:
        gauges = self.reached("orthotome/core/stock/gauges.py") or []
        self.assertIn("tests.core.test_quantities", gauges)
        self.assertIn("tests.interface.test_screens", gauges)  # by the command that serves
        page = self.reached("frontend/src/main.tsx") or []
        self.assertEqual({m.split(".")[1] for m in page}, {"interface", "front_end"})
        self.assertIn(
            "tests.formats.test_files", self.reached("docs/formats/campaign.example.json") or []
        )
        self.assertEqual(self.reached("READ" + "ME.md"), [])  # in two, or it would be named here
        for may_be_anything in ("pyproject.toml", "orthotome/core/gone.py"):
            self.assertIsNone(self.reached(may_be_anything))


class Runs(unittest.TestCase):
    def test_a_long_class_is_run_test_by_test_and_the_longest_begins(self) -> None:
        tests = ["tests.core.a.Long.one", "tests.core.a.Long.two", "tests.core.a.Short.one"]
        took = {"tests.core.a.Long": 30.0, "tests.core.a.Short": 12.0, "tests.core.a.Long.two": 25.0}
        names = [task.name for task in longest_first(pieces(tests, took), took)]
        self.assertEqual(names, ["tests.core.a.Long.two", "tests.core.a.Short", "tests.core.a.Long.one"])

    def test_what_fails_dies_or_is_no_test_is_failed_and_the_rest_runs_on(self) -> None:
        run = Run(lambda: None)
        with patch("builtins.print"):
            run.add(
                [
                    Task("dies", "checks", ("sh", "-c", "kill -9 $PPID")),
                    Task("says no", "checks", ("false",)),
                    Task("tests.no.such", "core"),
                    Task("says yes", "checks", ("true",)),
                ]
            )
            record = run.finish()
        self.assertEqual(sorted(record.failed), ["dies", "says no", "tests.no.such"])
        self.assertIn("says yes", record.took_s)


class WhatTheMachineDid(unittest.TestCase):
    @patch("os.sysconf", return_value=100)
    def test_waiting_and_idling_are_not_work_and_steal_is_told_apart(self, _ticks: object) -> None:
        before = Processors.of("cpu  1000 200 300 90000 4000 50 60 700 8 9\ncpu0 1 2 3 4 5 6 7 8 9 10\n")
        self.assertEqual(before, Processors(busy_s=16.1, withheld_s=7.0))
        after = Processors.of("cpu  2000 200 300 99000 9000 50 60 1900 8 9\n")
        self.assertRegex(
            after.since(before), r"^The machine +10 s at work, 12 s withheld from it by others$"
        )


if __name__ == "__main__":
    unittest.main()
