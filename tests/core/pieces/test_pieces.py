"""Test pieces: size after the kerf is gone, kept side, headings, and starts in scrap."""

import math
import unittest
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.edge.edges import good_side, lean_bevel_deg, outward_normal_deg, square_as_cut_deg
from orthotome.core.errors import TradeError
from orthotome.core.pieces import CLIP_MM, PieceBasis, ladder_speeds, overrun_mm, square, strip_ladder

settings = st.builds(
    PieceBasis,
    thickness_mm=st.floats(1, 30),
    kerf_mm=st.floats(0.6, 4),
    swirl=st.sampled_from(["clockwise", "counter_clockwise"]),
    speed_mm_min=st.floats(400, 6000),
    cut_height_mm=st.just(1.5),
)


def signed_area(points: list[tuple[float, float]]) -> float:
    """Positive for a closed path that runs counter-clockwise (the shoelace formula)."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in pairwise([*points, points[0]])) / 2


class Square(unittest.TestCase):
    @given(settings)
    def test_kept_part_is_nominal_and_on_the_good_side(self, setting: PieceBasis) -> None:
        piece = square(setting, 60.0)
        (contour,) = piece.contours
        path = list(next(s for s in contour.segments if s.kind == "cut").points[:-1])
        # Clockwise with the kept metal inside has it on the right of travel.
        self.assertEqual("right" if signed_area(path) < 0 else "left", good_side(setting.swirl))
        # Area inside the path = kept part grown by half a kerf k with mitred corners:
        # (60 + 2k)^2 less the clipped triangle, whose leg is CLIP + k (2 - sqrt 2).
        k = setting.kerf_mm / 2
        leg = CLIP_MM + k * (2 - math.sqrt(2))
        self.assertAlmostEqual(abs(signed_area(path)), (60 + 2 * k) ** 2 - leg**2 / 2, places=6)

    @given(settings)
    def test_cut_along_the_four_headings_and_pierced_in_scrap_on_the_plate(
        self, setting: PieceBasis
    ) -> None:
        (contour,) = square(setting).contours
        cut = next(s for s in contour.segments if s.kind == "cut").points
        headings = [
            round(math.degrees(math.atan2(b[1] - a[1], b[0] - a[0]))) % 360 for a, b in pairwise(cut)
        ]
        # In the order in which the log asks for them; between two lies the clipped corner.
        straights = [h for h in headings if h % 90 == 0]
        self.assertEqual(straights, [*square_as_cut_deg(good_side(setting.swirl))])
        x, y = contour.pierce_at
        self.assertTrue(x < min(p[0] for p in cut) + 1e-9 or y < min(p[1] for p in cut) + 1e-9)
        self.assertGreater(min(x, y), 0)

    def test_too_small_to_read(self) -> None:
        with self.assertRaises(TradeError):
            square(PieceBasis(8, 1.8, "clockwise", 2100, 1.5), 20.0)


class StripLadder(unittest.TestCase):
    def test_slots_come_before_the_comb_and_reach_its_far_edge(self) -> None:
        setting = PieceBasis(8, 1.8, "clockwise", 2100, 1.5)
        piece = strip_ladder(setting, ladder_speeds(2100))
        *slots, comb = piece.contours
        self.assertEqual([s.speed_mm_min for s in slots], [1800, 1940, 2100, 2270, 2450])
        self.assertTrue(all(s.inside for s in slots) and not comb.inside)
        far = max(p[1] for s in comb.segments for p in s.points)
        for slot in slots:
            _, cut, past = slot.segments
            self.assertAlmostEqual(cut.end[1], far)
            self.assertAlmostEqual(past.length_mm, overrun_mm(setting))  # else the bottoms hang together

    def test_one_speed_is_no_ladder(self) -> None:
        with self.assertRaises(TradeError):
            strip_ladder(PieceBasis(8, 1.8, "clockwise", 2100, 1.5), (2100.0,))


class Directions(unittest.TestCase):
    def test_lean_on_the_four_edges_of_a_square(self) -> None:
        # A jet drifting 2° toward +X (0°). Kept right of heading 90: outward normal 180, so -2;
        # heading 270: normal 0, +2; headings 0 and 180 face 90 and 270: nothing.
        bevels = [
            round(lean_bevel_deg(2.0, 0.0, outward_normal_deg("right", h)), 9) + 0.0
            for h in (0, 90, 180, 270)
        ]
        self.assertEqual(bevels, [0.0, -2.0, 0.0, 2.0])
        self.assertEqual(outward_normal_deg("left", 0), 270)


if __name__ == "__main__":
    unittest.main()
