"""Setting the jet upright: signs and directions written out as an operator would check them."""

import json
import math
import subprocess
import sys
import unittest
from collections.abc import Sequence

import numpy as np

from orthotome.core.edge.edges import lean_bevel_deg, outward_normal_deg
from orthotome.core.errors import TradeError
from orthotome.core.torch.alignment import KNOWN, Mount, MountAxis, SlugReading, align

EIGHT = tuple(45.0 * i for i in range(8))
TWELVE = tuple(30.0 * i for i in range(12))
SIDE_TILT = MountAxis("side tilt", 0.0, 2.0)  # about +X: turned by +1 degree the exit goes away from you
FORE_AND_AFT = MountAxis("fore and aft", 90.0)  # about +Y: +1 degree takes the exit to the left


def read(
    lean: float, toward: float, headings: Sequence[float] = EIGHT, u: float = 0.05, **more: float
) -> list[SlugReading]:
    """Readings of a slug with process 2 and swirl 1, without error, on its good (right) side."""
    found = []
    for side, sign in (("right", -1), ("left", 1)) if more.get("both") else (("right", -1),):
        for h in headings:
            bevel = 2.0 + sign + lean_bevel_deg(lean, toward, outward_normal_deg(side, h))  # type: ignore[arg-type]
            found.append(SlugReading(side, h, bevel, u))  # type: ignore[arg-type]
    return found


def turns(readings: Sequence[SlugReading], *axes: MountAxis, itself: bool = False):  # type: ignore[no-untyped-def]
    return align(readings, "clockwise", 0.2, Mount(axes, itself))


class Lean(unittest.TestCase):
    def test_it_is_what_was_read_and_not_drawn_toward_nothing(self) -> None:
        for lean, toward in ((1.4, 130.0), (4.0, 300.0), (0.3, 15.0)):
            found = turns(read(lean, toward))
            self.assertAlmostEqual(found.lean_deg, lean, delta=0.02 * lean + 0.005)
            self.assertAlmostEqual(found.toward_deg, toward, delta=1.0)

    def test_process_is_told_only_where_both_sides_were_read(self) -> None:
        self.assertIsNone(turns(read(1.0, 90)).process_deg)
        self.assertAlmostEqual(turns(read(1.0, 90, both=True)).process_deg or 0, 2.0, delta=0.1)

    def test_one_wild_reading_turns_nothing_round(self) -> None:
        sound = read(1.4, 130.0, u=0.3)
        wild = [*sound[:2], SlugReading("right", 90.0, sound[2].bevel_deg - 4.5, 0.3), *sound[3:]]
        found = turns(wild)
        self.assertAlmostEqual(found.lean_deg, 1.4, delta=0.3)
        self.assertAlmostEqual(found.toward_deg, 130.0, delta=15.0)

    def test_uncertainty_covers_the_truth_as_often_as_it_says(self) -> None:
        random, inside, errors = np.random.default_rng(4), 0, []
        for _ in range(200):
            lean, toward = random.uniform(0.2, 3), random.uniform(0, 360)
            noisy = [
                SlugReading(
                    r.side, r.heading_deg, r.bevel_deg + random.normal(0, math.hypot(0.4, 0.3)), 0.4
                )
                for r in read(lean, toward, TWELVE)
            ]
            found = turns(noisy)
            at = np.array([lean * math.cos(math.radians(toward)), lean * math.sin(math.radians(toward))])
            said = math.radians(found.toward_deg)
            off = at - found.lean_deg * np.array([math.cos(said), math.sin(said)])
            errors.append(float(np.hypot(*off)))
            inside += errors[-1] <= KNOWN * found.sd_deg
        self.assertGreater(inside, 180)  # of 200; 190 are meant
        self.assertLess(float(np.median(errors)), 0.27)

    def test_how_many_more_readings_would_settle_it(self) -> None:
        few = turns([SlugReading("right", h, 1.0, 0.4) for h in (0.0, 90.0, 180.0, 270.0)])
        self.assertFalse(few.enough)
        self.assertEqual(few.corrections, ())  # no lean beyond what is not known
        again = [SlugReading("right", h, 1.0, 0.4) for h in TWELVE] * 8
        many = align(again, "clockwise", 0.5, Mount())
        self.assertTrue(many.enough)
        self.assertEqual(many.readings_needed, 0)
        self.assertGreater(few.readings_needed, 10)

    def test_a_mean_of_both_edges_says_nothing_of_the_lean_and_does_not_move_it(self) -> None:
        strips = [SlugReading("both", h, 2.0 + 0.6 * (h == 0.0), 0.05) for h in (0.0, 90.0)]
        self.assertGreater(turns(strips).sd_deg, 5)  # nothing is known of it
        self.assertAlmostEqual(turns([*read(1.4, 130.0), *strips]).lean_deg, 1.4, delta=0.05)

    def test_nothing_read_is_refused(self) -> None:
        with self.assertRaises(TradeError):
            turns([])


class Turning(unittest.TestCase):
    def test_the_exit_moves_the_other_way_than_it_leans(self) -> None:
        # It leans away from the operator (90); side tilt +1 moves the exit that way, so turn it -1.5.
        (turn,) = turns(read(1.5, 90.0), SIDE_TILT).corrections
        self.assertEqual(turn.axis, "side tilt")
        self.assertAlmostEqual(turn.turn_deg, -1.5, delta=0.05)
        self.assertAlmostEqual(turn.move_mm or 0, -3.0, delta=0.1)
        self.assertIn("from the right of the table, turn the torch 1.5° clockwise", turn.why)
        self.assertIn("goes toward you", turn.why)

    def test_one_axis_leaves_what_it_cannot_reach(self) -> None:
        # 2 degrees toward 30: away from you 1.0, which side tilt cures; to the right 1.73, which it cannot.
        found = turns(read(2.0, 30.0), SIDE_TILT)
        self.assertAlmostEqual(found.corrections[0].turn_deg, -1.0, delta=0.05)
        self.assertAlmostEqual(found.left_over_deg, 2 * math.cos(math.radians(30)), delta=0.05)

    def test_turned_about_itself_first_one_axis_reaches_it_all(self) -> None:
        first, second = turns(read(2.0, 30.0), SIDE_TILT, itself=True).corrections
        self.assertEqual((first.axis, second.axis), ("itself", "side tilt"))
        self.assertAlmostEqual(first.turn_deg, 60.0, delta=2)  # from 30 round to 90, counter-clockwise
        self.assertAlmostEqual(second.turn_deg, -2.0, delta=0.05)
        self.assertEqual(turns(read(2.0, 30.0), SIDE_TILT, itself=True).left_over_deg < 0.01, True)
        # The shorter way: 130 back to 90, and the exit then moves toward the operator.
        back, tilt = turns(read(1.4, 130.0), SIDE_TILT, itself=True).corrections
        self.assertAlmostEqual(back.turn_deg, -40.0, delta=2)
        self.assertAlmostEqual(tilt.turn_deg, -1.4, delta=0.05)

    def test_two_axes_that_stand_askew_cure_all_of_it_and_too_small_a_turn_leaves_its_share(
        self,
    ) -> None:
        for about in (20.0, 35.0, 90.0, 150.0):
            for toward in range(0, 360, 15):
                axes = (SIDE_TILT, MountAxis("second", about))
                found = align(read(1.5, toward, TWELVE, u=0.3), "clockwise", 0.2, Mount(axes))
                said = math.radians(found.toward_deg)
                left = found.lean_deg * np.array([math.cos(said), math.sin(said)])
                for turn in found.corrections:
                    way = math.radians(next(a.moves_toward_deg for a in axes if a.name == turn.axis))
                    left += turn.turn_deg * np.array([math.cos(way), math.sin(way)])
                with self.subTest(about=about, toward=toward):
                    self.assertAlmostEqual(float(np.hypot(*left)), found.left_over_deg, places=6)
                    self.assertLess(found.left_over_deg, 0.1)  # two turns that no hand makes

    def test_two_axes_cure_it_without_turning_the_barrel(self) -> None:
        found = turns(read(2.0, 30.0), SIDE_TILT, FORE_AND_AFT, itself=True)
        by_axis = {t.axis: t.turn_deg for t in found.corrections}
        # Fore and aft +1 takes the exit to the left (180): it leans 1.73 to the right, so +1.73.
        self.assertAlmostEqual(by_axis["side tilt"], -1.0, delta=0.05)
        self.assertAlmostEqual(by_axis["fore and aft"], 1.73, delta=0.05)
        self.assertLess(found.left_over_deg, 0.01)

    def test_without_an_axis_the_lean_is_what_is_left(self) -> None:
        found = turns(read(2.0, 30.0), itself=True)
        self.assertEqual(found.corrections, ())
        self.assertAlmostEqual(found.left_over_deg, found.lean_deg)

    def test_what_is_smaller_than_its_uncertainty_is_not_advised(self) -> None:
        noisy = [SlugReading("right", r.heading_deg, r.bevel_deg, 0.6) for r in read(0.4, 90.0)]
        found = align(noisy, "clockwise", 0.2, Mount((SIDE_TILT,)))
        self.assertEqual((found.corrections, found.enough), ((), False))
        self.assertAlmostEqual(found.left_over_deg, found.lean_deg)


class Command(unittest.TestCase):
    def run_on(self, given: object) -> subprocess.CompletedProcess[str]:
        words = [sys.executable, "-m", "orthotome.cli", "align", "-"]
        return subprocess.run(
            words, input=json.dumps(given), capture_output=True, text=True, check=False
        )

    def test_a_file_is_answered_and_a_bad_one_refused_in_a_sentence(self) -> None:
        file = {"format": "orthotome.slug", "version": 1, "swirl": "clockwise", "target_deg": 0.5}
        readings = [vars(r) for r in read(1.5, 90.0)]
        mount = {"axes": [{"name": "side tilt", "about_deg": 0, "mm_per_deg": None}]}
        done = self.run_on({**file, "readings": readings, "mount": mount})
        answer = json.loads(done.stdout)
        self.assertEqual(
            (answer["format"], answer["corrections"][0]["axis"]), ("orthotome.alignment", "side tilt")
        )
        for wrong, word in (
            ({**file, "readings": []}, "readings"),
            ({**file, "readings": [{**readings[0], "bevel_deg": 95}]}, "bevel_deg"),
            ({**file, "readings": readings, "swirl": "both"}, "swirl"),
            ([], "file"),
        ):
            refused = self.run_on(wrong)
            self.assertEqual(refused.returncode, 2, refused.stdout)
            self.assertNotIn("Traceback", refused.stderr)
            self.assertEqual(len(refused.stderr.strip().splitlines()), 1, refused.stderr)
            if word != "file":
                self.assertIn(word, refused.stderr)


if __name__ == "__main__":
    unittest.main()
