"""Nesting: nothing overlaps, nothing leaves the plate, and what does not fit says what would."""

import time
import unittest
from itertools import combinations

from hypothesis import given
from hypothesis import strategies as st
from shapely import box

from orthotome.core.errors import TradeError
from orthotome.core.nesting import Plate, Rectangle, nest, place
from orthotome.core.pieces import PieceSetting, square

rectangles = st.builds(
    Rectangle, st.floats(0, 250), st.floats(0, 150), st.floats(5, 120), st.floats(5, 120)
)
plates = st.builds(
    Plate,
    st.floats(100, 400),
    st.floats(100, 300),
    st.floats(0, 12),
    st.lists(rectangles, max_size=6).map(tuple),
)


def area(r: Rectangle):  # type: ignore[no-untyped-def]
    return box(r.x_mm, r.y_mm, r.x_mm + r.width_mm, r.y_mm + r.height_mm)


class Nesting(unittest.TestCase):
    @given(plates, st.lists(st.tuples(st.floats(10, 90), st.floats(10, 90)), min_size=1, max_size=8))
    def test_no_piece_overlaps_another_a_taken_zone_or_the_edge(
        self, plate: Plate, sizes: list[tuple[float, float]]
    ) -> None:
        try:
            spots = nest(sizes, plate)
        except TradeError:
            return
        m = plate.margin_mm
        inside = box(m, m, plate.width_mm - m, plate.height_mm - m).buffer(1e-3)
        for spot, (width, height) in zip(spots, sizes, strict=True):
            self.assertEqual((spot.width_mm, spot.height_mm), (width, height))
            self.assertTrue(inside.contains(area(spot)))
            for zone in plate.taken:
                self.assertLess(area(spot).intersection(area(zone)).area, 1e-2)
        for a, b in combinations(spots, 2):
            self.assertLess(area(a).intersection(area(b)).area, 1e-2)

    @given(plates, st.floats(10, 90), st.floats(10, 90))
    def test_a_place_is_found_wherever_the_corners_leave_one(
        self, plate: Plate, width: float, height: float
    ) -> None:
        # An empty plate that is large enough always has one; so has any plate with a free near corner.
        m = plate.margin_mm
        bare = Plate(plate.width_mm, plate.height_mm, m)
        fits = width + 2 * m <= plate.width_mm and height + 2 * m <= plate.height_mm
        self.assertEqual(place((width, height), bare) is not None, fits)
        corner = Rectangle(m, m, width, height)
        if fits and not any(corner.overlaps(t) for t in plate.taken):
            self.assertEqual(place((width, height), plate), corner)

    def test_twelve_squares_beside_a_clamp(self) -> None:
        piece = square(PieceSetting(8, 1.8, "clockwise", 2100, 1.5))
        plate = Plate(300, 250, 5, (Rectangle(0, 0, 60, 40),))
        began = time.perf_counter()
        spots = nest([piece.plate_mm] * 12, plate)
        print(f"\n12 squares nested in {1000 * (time.perf_counter() - began):.1f} ms")
        self.assertEqual(len(set(spots)), 12)

    def test_what_does_not_fit_says_what_would(self) -> None:
        with self.assertRaisesRegex(TradeError, "4 of 5 fit; no free place of 50 × 50 mm is left"):
            nest([(50, 50)] * 5, Plate(100, 100))
        with self.assertRaisesRegex(TradeError, "needs 120 × 50 mm clear of the edge"):
            nest([(120, 50)], Plate(100, 100))


if __name__ == "__main__":
    unittest.main()
