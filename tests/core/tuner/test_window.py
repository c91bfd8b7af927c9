"""What if, and what the last cut taught: against the chances themselves, and on cuts that surprise."""

import unittest
from dataclasses import replace

import numpy as np

from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Cut
from orthotome.core.tuner.advise import judge
from orthotome.core.tuner.evidence import doubts, proofs
from orthotome.core.tuner.taught import taught
from orthotome.core.tuner.window import what_if
from tests.core.tuner.test_tuner_rules import job, square


class WhatIf(unittest.TestCase):
    def test_it_answers_with_the_chance_that_advice_would_give(self) -> None:
        judgement = judge(job(square(1, (0.9, 1.2, 1.1, 1.0))))
        best = judgement.advice.recommended
        assert best is not None
        answer = what_if(judgement, Setting.of(best))
        self.assertAlmostEqual(answer.chance, best.probability_pass, 12)
        self.assertEqual(answer.expected, best.expected)
        self.assertTrue(answer.inside_limits)

    def test_the_curve_passes_through_what_was_read_and_widens_away_from_it(self) -> None:
        judgement = judge(job(*(square(n, 1.0) for n in (1, 2, 3))))
        points = what_if(judgement, Setting(2100, 1.5)).along_speed.points
        at = int(np.abs(np.array([p.at for p in points]) - 2100).argmin())
        width = [p.high_deg - p.low_deg for p in points]
        self.assertAlmostEqual(points[at].bevel_deg, 1.0, delta=0.25)
        self.assertLess(points[at].low_deg, 1.0)
        self.assertGreater(points[at].high_deg, 1.0)
        self.assertGreater(min(width[0], width[-1]), 2 * width[at])
        # It is of the next cut, whose own spread is in it: 90 in 100 lie within 3.3 standard deviations.
        self.assertGreater(width[at], 3.2 * float(judgement.learned.cut_spread.mean()))

    def test_marks_lie_on_the_line_only_where_they_were_cut(self) -> None:
        high = square(2, 3.0, height=2.2)
        answer = what_if(judge(job(square(1, 1.0), high)), Setting(2100, 1.5))
        self.assertEqual([m.on_it for m in answer.along_speed.marks], [True, False])
        self.assertEqual([m.on_it for m in answer.along_height.marks], [True, True])

    def test_it_names_what_would_spoil_it_and_says_when_it_lies_outside(self) -> None:
        judgement = judge(job(square(1, (0.2, 0.0, -0.2, 0.1))))
        fast = what_if(judgement, Setting(4 * 2100, 1.5))
        self.assertIn("outside this trial's limits", fast.why)
        self.assertFalse(fast.inside_limits)
        self.assertLess(fast.chance, 0.1)
        high = what_if(judgement, Setting(2100, 2.6))
        self.assertIn("edges out of square", high.why)


class Taught(unittest.TestCase):
    def told(self, *cuts: Cut) -> str:
        now = job(*cuts)
        return taught(judge(replace(now, cuts=cuts[:-1])), judge(now))

    def test_a_cut_as_expected_and_one_that_is_not(self) -> None:
        first = [square(n, (0.4, 0.5, 0.6, 0.5)) for n in (1, 2, 3)]
        self.assertIn("came as expected", self.told(*first, square(4, 0.5)))
        surprise = self.told(*first, square(4, (-3.0, -2.8, -3.2, -3.0)))
        self.assertIn("more undercut than expected", surprise)
        self.assertIn("−3.0°", surprise)
        self.assertIn("chance went down", surprise)

    def test_a_lean_that_shows_is_named(self) -> None:
        said = self.told(square(1, 0.5), square(2, (2.6, 0.5, -1.6, 0.5)))
        self.assertIn("the jet's lean", said)

    def test_what_was_not_read_taught_no_bevel(self) -> None:
        self.assertIn("Nothing was read", self.told(square(1, edges=())))
        hung = square(1, edges=(), through="partial")
        self.assertIn("It hung on", self.told(hung))


class Doubts(unittest.TestCase):
    def test_the_wild_reading_is_doubted_and_no_other(self) -> None:
        cuts = (square(1, (0.5, 0.6, 0.4, 0.5)), square(2, (0.5, 0.4, 0.6, 4.9)))
        found = doubts(judge(job(*cuts)))
        self.assertGreater(found["c2"][3], 0.9)
        self.assertLess(max(*found["c1"], *found["c2"][:3]), 0.2)

    def test_a_square_that_nobody_turned_over_is_what_is_missing(self) -> None:
        unseen = proofs(judge(job(square(1, 0.1, dross=None))))
        self.assertEqual(unseen[0].text, "A square whose underside was looked at")
        self.assertNotIn("underside", proofs(judge(job(square(1, 0.1))))[0].text)


if __name__ == "__main__":
    unittest.main()
