"""A trial of any length: the newest cuts are weighed, and it is said."""

import unittest
from dataclasses import replace
from itertools import cycle, islice

from orthotome.core.trial.campaign import MOST_WEIGHED
from orthotome.core.tuner.advise import judge
from orthotome.sim.table import SimulatedTable
from tests.jobs import PLATE_JOB


class Long(unittest.TestCase):
    def test_the_advice_of_a_thousand_cuts_is_that_of_the_newest_and_says_so(self) -> None:
        table = SimulatedTable.from_seed(3, PLATE_JOB.start, PLATE_JOB.thickness_mm)
        some = [
            table.cut(n, "square", speed_mm_min=2000.0 + 40 * n, cut_height_mm=1.5) for n in range(6)
        ]
        cuts = tuple(replace(c, id=f"c{n}") for n, c in enumerate(islice(cycle(some), 1000)))
        long = judge(replace(PLATE_JOB, cuts=cuts))
        short = judge(replace(PLATE_JOB, cuts=cuts[-MOST_WEIGHED:]))
        self.assertEqual(long.advice.recommended, short.advice.recommended)
        self.assertEqual(long.advice.status, short.advice.status)
        (said,) = [f for f in long.advice.findings if f.code == "only_newest"]
        self.assertIn("Of 1000 cuts the newest 120 are weighed", said.why)
        self.assertFalse([f for f in short.advice.findings if f.code == "only_newest"])
        self.assertEqual(long.passed, short.passed)


if __name__ == "__main__":
    unittest.main()
