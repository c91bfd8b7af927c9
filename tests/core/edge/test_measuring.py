"""Measuring: every method's bevel and uncertainty worked by hand, and what each can settle before it is used."""

import math
import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.edge.instruments import (
    USUAL_INSTRUMENTS,
    Instrument,
    Method,
    repeatability,
    settling,
    u_deg,
    worked_out,
)
from orthotome.core.edge.measuring import (
    Bevel,
    angle_gauge_u_deg,
    hole_taper,
    kerf_from_size,
    reference_edge_bevel,
    square_and_feeler_bevel,
    strip_widths_bevel,
)
from orthotome.core.edge.on_photo import (
    bevel_on_photo,
    kerf_on_photo,
    lag_on_photo,
    scale_of,
)
from orthotome.core.errors import TradeError

USUAL: dict[Method, Instrument] = {i.method: i for i in USUAL_INSTRUMENTS}


class Methods(unittest.TestCase):
    def near(self, found: Bevel, bevel_deg: float, u: float) -> None:
        self.assertAlmostEqual(found.bevel_deg, bevel_deg, 3)
        self.assertAlmostEqual(found.u_deg, u, 3)

    def test_each_method_worked_by_hand(self) -> None:
        # Strip: tan = (30.1 - 29.6) / 16 = 0.03125; u = sqrt(2) 0.05 / 16 / (1 + 0.03125^2) = 0.004415.
        self.near(strip_widths_bevel(29.6, 30.1, 8.0, 0.05), 1.790, 0.253)
        # From a machined edge the same difference is one edge's own: 0.5 / 8, and twice as unsure.
        self.near(reference_edge_bevel(29.6, 30.1, 8.0, 0.05), 3.576, 0.504)
        # Gap 0.28 over 8: atan 0.035. u = 0.03 / 8 / (1 + 0.035^2).
        self.near(square_and_feeler_bevel(0.28, 8.0, undercut=False), 2.005, 0.215)
        self.near(square_and_feeler_bevel(0.28, 8.0, undercut=True), -2.005, 0.215)
        # A hole narrower at the bottom by 0.7 in 6 mm: its kept bottom sticks out, atan(0.7 / 12).
        self.near(hole_taper(24.8, 24.1, 6.0, 0.05), 3.338, 0.336)
        # Compensated 1.8, and the part is 0.1 too small: the kerf is 1.9.
        self.assertAlmostEqual(kerf_from_size(50.0, 49.9, 1.8), 1.9)
        self.assertEqual(angle_gauge_u_deg(8.0), 0.4)
        self.assertAlmostEqual(angle_gauge_u_deg(2.5), 0.8)  # half of what it needs to sit on

    def test_what_is_no_edge_is_refused_by_name(self) -> None:
        for field, act in {
            "gap_mm": lambda: square_and_feeler_bevel(-0.1, 8, undercut=False),
            "bottom_mm": lambda: strip_widths_bevel(10.0, 40.0, 8.0),  # more than 45 degrees
            "top_mm": lambda: reference_edge_bevel(0.0, 4.0, 8.0),
            "thickness_mm": lambda: hole_taper(10, 9, 0.0),
            "instrument": lambda: worked_out(USUAL["angle_gauge"], 1, 2, 8.0),
        }.items():
            with self.subTest(field), self.assertRaises(TradeError) as refused:
                act()
            self.assertEqual(refused.exception.field, field)

    @given(st.floats(-12, 12), st.floats(2, 40))
    def test_widths_of_a_known_strip_give_its_mean_bevel_back(self, bevel: float, mm: float) -> None:
        wider = 2 * mm * math.tan(math.radians(bevel))
        found, told = worked_out(USUAL["strip_widths"], 90.0, 90.0 + wider, mm)
        self.assertAlmostEqual(found.bevel_deg, bevel, 6)
        self.assertIn("at the bottom", told)


class Settling(unittest.TestCase):
    def test_a_coarse_calliper_says_so_before_it_is_trusted(self) -> None:
        """At 3 mm, 0.1 mm of hand is 1.35 degrees a reading: (2 * 1.35 / 1.5)^2 = 3.2, so four repeats."""
        coarse = replace(USUAL["strip_widths"], repeatability=0.1)
        told = settling(coarse, USUAL_INSTRUMENTS, 3.0, 1.5)
        self.assertEqual((told.repeats, told.better), (4, "Photo"))
        self.assertIn("Read each edge 4 times", told.sentence)
        self.assertEqual(settling(coarse, (), 8.0, 2.0).repeats, 1)

    def test_a_step_is_as_uncertain_as_anything_within_it(self) -> None:
        """Anywhere within a whole step is as likely: a variance of step²/12 (JCGM 100, 4.3.7), beside the hand's."""
        self.assertAlmostEqual(Instrument("rule", "strip_widths", 1.0, 0.0).u(), 0.288675, places=6)
        both = Instrument("gauge", "angle_gauge", 0.6, 0.2)  # √(0.2²/4 + 0.6²/12) = √(0.01 + 0.03)
        self.assertAlmostEqual(both.u(repeats=4), 0.2, places=6)

    def test_a_step_is_not_averaged_away(self) -> None:
        """Steps of 1 mm are 0.29 mm each time: on 5 mm that is 2.3 degrees, and no repeats make it 2."""
        steps = Instrument("rule", "strip_widths", 1.0, 0.0)
        told = settling(steps, (), 5.0, 2.0)
        self.assertEqual((told.repeats, told.better), (None, None))
        self.assertIn("No number of repeats", told.sentence)
        self.assertAlmostEqual(u_deg(steps, 5.0, 9), u_deg(steps, 5.0))

    def test_five_repeats_of_one_edge(self) -> None:
        """1.0 1.2 0.9 1.1 1.3: squares 0.1 over 4; chi-squared of 4 at 97.5 and 2.5 %: 11.143 and 0.484."""
        found = repeatability([1.0, 1.2, 0.9, 1.1, 1.3])
        self.assertAlmostEqual(found.sd, math.sqrt(0.1 / 4))
        self.assertAlmostEqual(found.low, math.sqrt(0.1 / 11.1433), 4)
        self.assertAlmostEqual(found.high, math.sqrt(0.1 / 0.48442), 4)
        with self.assertRaises(TradeError):
            repeatability([1.0, 1.1, 1.2, 1.0])


class OnAPhoto(unittest.TestCase):
    TOP = ((100.0, 200.0), (900.0, 200.0))

    def test_signs_whichever_side_is_kept_and_however_the_camera_was_turned(self) -> None:
        """An edge whose bottom lies farther right sticks out of metal on its left, and is undercut on its right."""
        down = (900.0 + 1000 * math.tan(math.radians(3)), 1200.0)
        for turn in (0, 12, -35):
            with self.subTest(turn):
                top = [_turned(p, turn) for p in self.TOP]
                edge = [_turned(p, turn) for p in ((900.0, 200.0), down)]
                self.assertAlmostEqual(bevel_on_photo(top, edge, "left").bevel_deg, 3.0, 6)
                self.assertAlmostEqual(bevel_on_photo(top, edge, "right").bevel_deg, -3.0, 6)

    def test_uncertainty_of_two_lines(self) -> None:
        """Top face 800 long, edge 1000: sqrt(2) 3 / 800 and sqrt(2) 3 / 1000 radians, root of squares."""
        found = bevel_on_photo(self.TOP, ((900, 200), (900, 1200)), "left", 3.0)
        self.assertAlmostEqual(found.bevel_deg, 0.0)
        expected = math.degrees(math.sqrt(2) * 3 * math.hypot(1 / 800, 1 / 1000))
        self.assertAlmostEqual(found.u_deg, expected, 6)

    def test_a_line_that_trails_the_travel_is_lag_and_a_kerf_carries_its_scale(self) -> None:
        trails_right = ((500, 200), (500 - 600 * math.tan(math.radians(10)), 800))
        self.assertAlmostEqual(lag_on_photo(self.TOP, trails_right, "right").bevel_deg, 10.0, 6)
        self.assertAlmostEqual(lag_on_photo(self.TOP, trails_right, "left").bevel_deg, -10.0, 6)
        scale = scale_of(((0, 0), (1000, 0)), 20.0, 3.0)
        kerf = kerf_on_photo(((100, 50), (195, 50)), scale, 3.0)
        self.assertAlmostEqual(kerf.mm, 1.9)
        taps, known = math.sqrt(2) * 3 * 0.02, 1.9 * math.sqrt(2) * 3 / 1000
        self.assertAlmostEqual(kerf.u_mm, math.hypot(taps, known), 6)

    def test_taps_that_say_nothing_are_refused(self) -> None:
        for field, act in {
            "edge": lambda: bevel_on_photo(self.TOP, ((0, 0), (900, 10)), "left"),  # along the face
            "top": lambda: bevel_on_photo(((0, 0), (9, 0)), ((0, 0), (0, 900)), "left"),
            "known_mm": lambda: scale_of(((0, 0), (900, 0)), 0.0),
            "kerf": lambda: kerf_on_photo(((5, 5), (6, 5)), scale_of(((0, 0), (900, 0)), 10.0)),
        }.items():
            with self.subTest(field), self.assertRaises(TradeError) as refused:
                act()
            self.assertEqual(refused.exception.field, field)


def _turned(point: tuple[float, float], deg: float) -> tuple[float, float]:
    a = math.radians(deg)
    x, y = point
    return x * math.cos(a) - y * math.sin(a), x * math.sin(a) + y * math.cos(a)


if __name__ == "__main__":
    unittest.main()
