"""What is handed to who was not there, word for word: in both shops, and with what nobody read."""

import unittest
from dataclasses import replace

from orthotome.core.quantities import INCH, speaking
from orthotome.core.trial.campaign import Cut, Dross, EdgeReading
from orthotome.core.trial.in_a_line import begun_with, cut_says, not_proven_says
from tests.jobs import PLATE_JOB

UNREAD = Cut("a", "square", 2100, 1.5)
READ = replace(
    UNREAD,
    arc_voltage_v=127.64,
    edges=(
        EdgeReading("right", 0, 1.5, 0.4),
        EdgeReading("left", 0, -7.0, 0.4),
        EdgeReading("right", 90, -2.5, 0.4),
    ),
    dross=(Dross("low_speed", 1), Dross("top_spatter", 3)),
)


class InALine(unittest.TestCase):
    def test_a_cut_says_what_came_of_it_and_what_nobody_looked_at(self) -> None:
        self.assertEqual(
            cut_says(UNREAD), "2100 mm/min at 1.5 mm, volts not read, underside not looked at"
        )
        # The farthest edge by its size, with its sign; the grade is of what hangs below.
        self.assertEqual(
            cut_says(READ), "2100 mm/min at 1.5 mm, 127.6 V, worst edge -7.0°, dross grade 1"
        )
        self.assertIn("dross grade 0", cut_says(replace(READ, dross=())))

    def test_an_inch_shop_reads_its_own_units(self) -> None:
        with speaking(INCH):
            # 2100 / 25.4 = 82.7; 1.5 / 25.4 = 0.059; 3.8 / 25.4 = 0.150
            read = cut_says(UNREAD)
            said = begun_with(replace(PLATE_JOB, thickness_mm=7.9375))
        self.assertEqual(read, "83 in/min at 0.059 in, volts not read, underside not looked at")
        self.assertEqual(
            said,
            "5/16 in mild steel: 83 in/min, cut height 0.059 in, 128 V, pierce at 0.150 in for 0.5 s",
        )

    def test_volts_that_nobody_saw_are_not_known(self) -> None:
        start = replace(PLATE_JOB.start, arc_voltage_v=None)
        self.assertEqual(
            begun_with(replace(PLATE_JOB, start=start)),
            "8 mm mild steel: 2100 mm/min, cut height 1.5 mm, volts not known, pierce at 3.8 mm for 0.5 s",
        )

    def test_how_far_a_trial_came_is_by_the_edges_that_are_kept(self) -> None:
        self.assertEqual(
            not_proven_says(PLATE_JOB, [UNREAD]), "Not proven yet; 1 cut, no kept edge read."
        )
        # Clockwise swirl keeps the right: its worst is 2.5, and the left's 7 is of the skeleton.
        better = replace(READ, edges=(EdgeReading("right", 0, 0.75, 0.4),))
        self.assertIn("2 cuts, the best of them within 2.5", not_proven_says(PLATE_JOB, [UNREAD, READ]))
        self.assertIn("within 0.8 degrees", not_proven_says(PLATE_JOB, [READ, better]))


if __name__ == "__main__":
    unittest.main()
