"""What going on past a proven setting is worth: the arithmetic in view, and what is missing said."""

import unittest
from dataclasses import replace

from orthotome.core.quantities import INCH, speaking
from orthotome.core.trial.campaign import Target
from orthotome.core.tuner.advise import Judgement, judge
from orthotome.core.tuner.worth import Prices, worth_of_going_on
from tests.core.tuner.test_tuner_rules import job, square


def proven(priority: str) -> Judgement:
    """Three squares well inside at a slow setting, where faster is likely inside too."""
    wide = Target(6.0, priority=priority)  # type: ignore[arg-type]
    cuts = [square(n, 0.2, 1900) for n in (1, 2, 3, 4, 5, 6)]
    return judge(job(*cuts, target=wide))


class Worth(unittest.TestCase):
    def test_time_saved_a_metre_and_the_metres_that_pay_two_cuts_back(self) -> None:
        judged = proven("fastest_in_tolerance")
        self.assertEqual(judged.advice.status, "square")
        (faster,) = (f for f in judged.advice.findings if f.code == "faster_possible")
        said = worth_of_going_on(judged, Prices(60.0, 5.0))
        assert said is not None
        # An hour at 60 is 1 a minute: a metre costs 1000 / speed.
        saved = 1000 / 1900 - 1000 / faster.numbers["speed_mm_min"]
        self.assertIn(f"save about {saved:.3f} a metre", said)
        self.assertIn(f"paid back after some {float(f'{10 / saved:.2g}'):g} metres", said)
        with speaking(INCH):
            feet = worth_of_going_on(judged, Prices(60.0, 5.0))
        self.assertIn(f"save about {saved * 0.3048:.3f} a foot", feet or "")
        self.assertIn(f"some {float(f'{10 / saved / 0.3048:.2g}'):g} feet", feet or "")

    def test_clean_up_counts_against_the_dirtier_setting(self) -> None:
        said = worth_of_going_on(proven("fastest_in_tolerance"), Prices(60.0, 5.0, 1000.0))
        self.assertEqual(said, "It would cost more in clean-up than it saves in time.")

    def test_a_missing_price_is_asked_for_and_nothing_is_said_where_nothing_is_faster(self) -> None:
        judged = proven("fastest_in_tolerance")
        self.assertIn("what an hour costs", worth_of_going_on(judged, Prices()) or "")
        half = worth_of_going_on(judged, Prices(hour=48.0))
        self.assertIn("what a test cut costs", half or "")
        self.assertIsNone(worth_of_going_on(proven("square_first"), Prices(48.0, 5.0)))
        nothing = replace(judged, advice=replace(judged.advice, findings=()))
        self.assertIsNone(worth_of_going_on(nothing, Prices(48.0, 5.0)))


if __name__ == "__main__":
    unittest.main()
