"""A shop's own part, cut in shapely: contours found, inside told from outside, kerf and leads added."""

import math
import random
import unittest
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, Polygon, box, union_all
from shapely import Point as Spot

from orthotome.core.errors import TradeError
from orthotome.core.path.offsetting import offset_left
from orthotome.core.path.paths import Arc, Line, Move, Point, backwards
from orthotome.core.path.rings import Ring, chained, depths
from orthotome.core.pieces import PieceBasis, own_part
from tests.core.pieces.test_piece_geometry import any_setting, burnt, nominal

PLATE = PieceBasis(8, 1.8, "clockwise", 2100, 1.5)


def lines(*points: Point) -> list[Move]:
    """A closed chain of lines through these points."""
    return [Line(a, b) for a, b in zip(points, [*points[1:], points[0]], strict=True)]


def circle(x: float, y: float, r: float) -> list[Move]:
    return [Arc((x + r, y), (x + r, y), (x, y), clockwise=False)]


def slot(x: float, y: float, length: float, r: float) -> list[Move]:
    """Two straights and two half rounds, counter-clockwise."""
    a, b, c, d = (x, y - r), (x + length, y - r), (x + length, y + r), (x, y + r)
    return [
        Line(a, b),
        Arc(b, c, (x + length, y), clockwise=False),
        Line(c, d),
        Arc(d, a, (x, y), clockwise=False),
    ]


def bracket(size: float, radius: float) -> list[Move]:
    """An L with one rounded outer corner and a rounded inner one."""
    s, r, m = size, radius, size / 2
    return [
        Line((0, 0), (s - r, 0)),
        Arc((s - r, 0), (s, r), (s - r, r), clockwise=False),
        Line((s, r), (s, m)),
        Line((s, m), (m + r, m)),
        Arc((m + r, m), (m, m + r), (m + r, m + r), clockwise=True),
        Line((m, m + r), (m, s)),
        Line((m, s), (0, s)),
        Line((0, s), (0, 0)),
    ]


class CutOut(unittest.TestCase):
    @settings(max_examples=40)
    @given(any_setting, st.integers(0, 2**32))
    def test_what_is_left_is_the_drawing_to_a_hundredth(self, s: PieceBasis, seed: int) -> None:
        t = s.thickness_mm
        size, hole = 12 * t + 60, max(2 * t, 3 * s.kerf_mm, 8)
        drawn = bracket(size, 6 + t) + circle(0.25 * size, 0.25 * size, hole / 2)
        drawn += slot(0.55 * size, 0.25 * size, hole, hole / 2)
        random.Random(seed).shuffle(drawn)  # a drawing has no order
        rings = chained([backwards(e) if (seed >> i) & 1 else e for i, e in enumerate(drawn)])
        self.assertEqual(sorted(depths(rings)), [0, 1, 1])
        piece = own_part(s, rings, "bracket")
        gone = union_all([burnt(c, s.kerf_mm) for c in piece.contours])
        (part,) = nominal(piece)
        left = box(0, 0, *piece.plate_mm).difference(gone)
        (kept,) = [g for g in left.geoms if g.contains(part.representative_point())]
        meant = part.buffer(s.kerf_mm / 2, quad_segs=48).buffer(-s.kerf_mm / 2, quad_segs=48)
        self.assertLess(kept.hausdorff_distance(meant), 0.01)
        for c in piece.contours:
            self.assertFalse(part.contains(Spot(c.pierce_at)), c.name)
        self.assertEqual([c.inside for c in piece.contours], [True, True, False])
        self.assertEqual(piece.contours[0].kept_side, s.good)

    def test_a_part_in_the_hole_of_another_is_cut_first(self) -> None:
        rings = chained(
            lines((0, 0), (0, 200), (200, 200), (200, 0))
            + lines((40, 40), (160, 40), (160, 160), (40, 160))
            + lines((70, 70), (130, 70), (130, 130), (70, 130))
            + circle(100, 100, 10)
        )
        self.assertEqual(sorted(depths(rings)), [0, 1, 2, 3])
        piece = own_part(PLATE, rings, "frame")
        self.assertEqual([len(p.holes) for p in piece.parts], [1, 1])
        # Its hole, the part itself, and only then the hole that it would drop out of with.
        self.assertEqual([c.inside for c in piece.contours], [True, False, True, False])
        areas = [Polygon([p for s in c.segments[1:] for p in s.points]).area for c in piece.contours]
        self.assertEqual(areas, sorted(areas))
        speeds = [c.speed_mm_min for c in piece.contours]
        self.assertEqual(speeds, [1050, 2100, 2100, 2100])  # 20 mm is a hole in 8 mm plate, 120 is none


@st.composite
def stars(draw: st.DrawFn) -> list[Move]:
    """A polygon round a point, its corners at random distances: sharp and blunt, in and out."""
    count = draw(st.integers(5, 14))
    reach = draw(st.lists(st.floats(60, 110), min_size=count, max_size=count))
    at = [
        (r * math.cos(2 * math.pi * i / count), r * math.sin(2 * math.pi * i / count))
        for i, r in enumerate(reach)
    ]
    return lines(*at)


class Stars(unittest.TestCase):
    @settings(max_examples=60)
    @given(stars(), st.floats(0.3, 3), st.booleans())
    def test_the_path_keeps_its_distance_everywhere_and_touches_it_on_every_side(
        self, drawn: list[Move], off: float, outward: bool
    ) -> None:
        (ring,) = chained(drawn)
        ring = ring if (ring.area_mm2 < 0) == outward else ring.reversed()
        path = LineString([*offset_left(ring, off).points(), offset_left(ring, off).start])
        edge = Polygon(ring.points())
        gap = path.distance(edge.exterior)
        self.assertAlmostEqual(gap, off, delta=0.03)  # arcs round sharp tips are chords here
        self.assertEqual(edge.contains(Spot(path.coords[0])), not outward)
        # Each side's middle has the path right beside it.
        for move in ring.moves:
            (x, y), (u, v) = move.start, move.end
            middle = Spot((x + u) / 2, (y + v) / 2)
            self.assertAlmostEqual(path.distance(middle), off, delta=0.03)


class Area(unittest.TestCase):
    def test_what_lies_between_an_arc_and_its_chord_counts(self) -> None:
        # Two straights of 40 mm, 12 mm apart, and two half rounds: 40 x 12 + pi 6^2.
        (ring,) = chained(slot(0, 0, 40, 6))
        self.assertAlmostEqual(ring.area_mm2, 480 + 36 * math.pi)
        self.assertAlmostEqual(ring.reversed().area_mm2, -480 - 36 * math.pi)


class Refused(unittest.TestCase):
    def test_what_cannot_be_cut_is_named_with_its_place(self) -> None:
        sheet = lines((0, 0), (0, 80), (80, 80), (80, 0))
        for drawn, said in (
            (
                sheet[:-1],
                r"open at X 0.00, Y 0.00 mm: the nearest other end is 80 mm away at X 80.00, Y 0.00",
            ),
            ([*sheet, Line((80, 0), (90, 0))], "3 lines meet at X 80.00, Y 0.00"),
            ([*sheet, *sheet], "4 lines meet"),
            (circle(0, 0, 20) * 2, "contours touch at X 20.00"),
            (sheet + circle(80, 40, 15), "contours cross at X 80.00"),
            (lines((0, 0), (80, 80), (80, 0), (0, 80)), r"contours cross at X 40.00, Y 40.00"),
            (sheet + circle(40, 40, 3), "no plasma hole in 8 mm plate. 8 mm is the least"),
            (sheet + lines((30, 30), (31.5, 30), (31.5, 60), (30, 60)), "too narrow for the kerf"),
            (sheet + lines((81, 0), (81, 80), (120, 80), (120, 0)), "too narrow for the kerf"),
            ([], "no closed contour"),
        ):
            with self.subTest(said), self.assertRaisesRegex(TradeError, said):
                own_part(PLATE, chained(drawn), "part")

    def test_ends_of_a_rounded_drawing_are_joined(self) -> None:
        sheet = lines((0, 0), (0, 80), (80, 80), (80, 0))
        (ring,) = chained([replace(m, start=(m.start[0] + 0.01, m.start[1])) for m in sheet])
        self.assertAlmostEqual(abs(ring.area_mm2), 6400, delta=2)


class Offset(unittest.TestCase):
    def test_corners_meet_arcs_stay_arcs_and_a_sharp_tip_is_gone_round(self) -> None:
        square = Ring(tuple(lines((0, 0), (0, 80), (80, 80), (80, 0))))
        out = offset_left(square, 1.0)
        self.assertEqual({(round(x), round(y)) for x, y in out.points()}, {
            (-1, -1), (-1, 81), (81, 81), (81, -1)})  # fmt: skip
        (ring,) = chained(circle(5, 5, 10))
        path = offset_left(ring.reversed(), 1.0)
        self.assertEqual([isinstance(m, Arc) for m in path.moves], [True])
        self.assertAlmostEqual(math.dist(path.start, (5, 5)), 11)
        self.assertAlmostEqual(math.dist(offset_left(ring, 1.0).start, (5, 5)), 9)
        needle = Ring(tuple(lines((0, 0), (0, 20), (60, 10))))
        reach = max(x for x, _ in offset_left(needle, 1.0).points())
        self.assertAlmostEqual(reach, 61, places=2)  # a mitre would go 6 mm beyond the tip

    def test_an_inside_radius_smaller_than_the_kerfs_half_is_left_out(self) -> None:
        sharp = offset_left(chained(bracket(80, 0.5))[0].reversed(), 0.9)
        self.assertEqual(sum(isinstance(m, Arc) for m in sharp.moves), 1)  # the outer one stays
        self.assertIn((40.9, 40.9), [(round(x, 6), round(y, 6)) for x, y in sharp.points()])

    def test_kerf_is_on_the_scrap_side_whatever_the_swirl(self) -> None:
        for swirl, side in (("clockwise", "right"), ("counter_clockwise", "left")):
            s = replace(PLATE, swirl=swirl)
            piece = own_part(s, chained(circle(0, 0, 30)), "disc")
            (loop,) = piece.contours
            self.assertEqual(loop.kept_side, side)
            radius = math.dist(loop.segments[1].start, loop.segments[1].moves[0].centre)  # type: ignore[union-attr]
            self.assertAlmostEqual(radius, 30.9)


if __name__ == "__main__":
    unittest.main()
