"""Nesting: nothing overlaps, nothing leaves the plate, and what does not fit says what would."""

import time
import unittest
from dataclasses import replace
from itertools import combinations

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon, box, union_all

from orthotome.core.errors import TradeError
from orthotome.core.pieces import Part, Piece, PieceBasis, spread_order, square, together
from orthotome.core.pieces.nesting import Plate, Rectangle, nest, place
from tests.core.pieces.test_piece_geometry import any_setting, burnt

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
        piece = square(PieceBasis(8, 1.8, "clockwise", 2100, 1.5))
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


class Batch(unittest.TestCase):
    @settings(max_examples=20)
    @given(any_setting, st.integers(2, 6), plates)
    def test_no_cut_of_one_piece_burns_another_or_a_taken_zone(
        self, s: PieceBasis, count: int, plate: Plate
    ) -> None:
        pieces = [square(s, number=n + 1, scrap_edge=n == 0) for n in range(count)]
        large = replace(plate, width_mm=3 * plate.width_mm, height_mm=3 * plate.height_mm)
        try:
            spots = nest([p.plate_mm for p in pieces], large)
        except TradeError:
            return
        batch = together(pieces, spots, range(1, count + 1))
        zones = union_all([area(z).buffer(-1e-3) for z in large.taken])
        kept = {i: [Polygon(p.outline) for p in moved(pieces[i], spots[i])] for i in range(count)}
        for c in batch.contours:
            gone = burnt(c, s.kerf_mm)
            own = int(c.name.split(":")[0].removeprefix("no. ")) - 1
            self.assertLess(gone.intersection(zones).area, 1e-3)
            for i, parts in kept.items():
                if i != own:
                    self.assertTrue(all(gone.disjoint(p) for p in parts), c.name)
        order = [(c.name.split(":")[0], c.inside) for c in batch.contours]
        for name in {n for n, _ in order}:
            inside = [i for n, i in order if n == name]
            self.assertEqual(inside, sorted(inside, reverse=True))

    def test_heat_is_spread(self) -> None:
        # Four in a row: the far end next, then the one farthest from both, the nearer number first.
        self.assertEqual(spread_order([(0, 0), (60, 0), (120, 0), (180, 0)]), [0, 3, 1, 2])
        self.assertEqual(spread_order([(0, 0)]), [0])


def moved(piece: Piece, spot: Rectangle) -> tuple[Part, ...]:
    return piece.moved(spot.x_mm, spot.y_mm).parts


if __name__ == "__main__":
    unittest.main()
