"""Every kind of piece, cut in shapely: what is left is the nominal part, pierced nowhere in kept metal."""

import math
import unittest
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, Point, Polygon, box, union_all
from shapely import Point as Spot

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import Arc, Line, Segment, straight, sweep_rad
from orthotome.core.pieces import (
    Contour,
    Piece,
    PieceBasis,
    check_plate,
    corner,
    height_ladder,
    holes,
    ladder_delays,
    ladder_heights,
    ladder_speeds,
    long_strip,
    overrun_mm,
    pierce_ladder,
    real_time,
    round_slug,
    square,
    start_end_ladder,
    strip_ladder,
)
from tests.enough import cases

any_setting = st.builds(
    PieceBasis,
    thickness_mm=st.floats(1, 25),
    kerf_mm=st.floats(0.8, 3.5),
    swirl=st.sampled_from(["clockwise", "counter_clockwise"]),
    speed_mm_min=st.floats(400, 6000),
    cut_height_mm=st.floats(1, 3),
)
PLATE = PieceBasis(8, 1.8, "clockwise", 2100, 1.5)


def pieces(s: PieceBasis) -> Iterator[Piece]:
    """One of each kind."""
    yield square(s, number=7)
    yield square(s, number=2, scrap_edge=True)
    yield corner(s, number=3)
    yield long_strip(s, 200, number=1)
    yield round_slug(s, number=11)
    yield holes(s, number=5)
    yield strip_ladder(s, ladder_speeds(s.speed_mm_min), number=11)
    yield height_ladder(s, ladder_heights(s.cut_height_mm, within=(0.8, 9)), number=2)
    yield pierce_ladder(s, ladder_delays(0.5), number=8)
    yield start_end_ladder(s)


def burnt(contour: Contour, kerf: float, *kinds: str) -> Polygon:
    """What the jet takes away along a contour, or along its segments of some kinds."""
    wanted = [s for s in contour.segments if not kinds or s.kind in kinds]
    return union_all([LineString(s.points).buffer(kerf / 2, quad_segs=48) for s in wanted])


def nominal(piece: Piece) -> list[Polygon]:
    return [Polygon(p.outline, p.holes) for p in piece.parts]


class CutOut(unittest.TestCase):
    @settings(max_examples=len(cases(12, 50)))
    @given(any_setting)
    def test_what_is_left_is_the_nominal_part_to_a_hundredth(self, s: PieceBasis) -> None:
        whole = (
            square(s, number=7),
            square(s, scrap_edge=True),
            corner(s),
            round_slug(s, number=11),
            holes(s, [40, 30], number=8),
            start_end_ladder(s),
        )
        for piece in whole:
            x1, y1 = piece.plate_mm
            gone = union_all([burnt(c, s.kerf_mm) for c in piece.contours])
            marked = [c for c in piece.contours if c.segments[-1].kind == "mark"]
            slits = union_all([burnt(c, s.kerf_mm, "mark", "lead_in") for c in marked])
            for part in nominal(piece):
                # A round jet leaves a fillet of half a kerf in inside corners: no cut is sharper.
                meant = part.buffer(s.kerf_mm / 2, quad_segs=48).buffer(-s.kerf_mm / 2, quad_segs=48)
                meant = meant.difference(slits)
                left = box(0, 0, x1, y1).difference(gone)
                inside = part.representative_point()
                (kept,) = [g for g in left.geoms if g.contains(inside)]
                self.assertLess(kept.hausdorff_distance(meant), 0.01, f"{piece.title} {s}")

    @settings(max_examples=len(cases(12, 50)))
    @given(any_setting)
    def test_nothing_is_burnt_of_a_kept_part_and_no_contour_starts_in_one(self, s: PieceBasis) -> None:
        for piece in pieces(s):
            slits = [c for c in piece.contours if any(x.kind == "mark" for x in c.segments)]
            for part in nominal(piece):
                core = part.buffer(-0.01)
                for c in piece.contours:
                    self.assertFalse(part.buffer(-0.01).contains(Point(c.pierce_at)), piece.title)
                    if c not in slits:
                        lost = core.intersection(burnt(c, s.kerf_mm)).area
                        self.assertLess(lost, 1e-3, f"{piece.title}: {c.name}, {s}")

    @settings(max_examples=len(cases(12, 50)))
    @given(any_setting)
    def test_kept_metal_lies_on_the_stated_side_of_every_cut(self, s: PieceBasis) -> None:
        for piece in pieces(s):
            if not piece.parts:
                continue
            kept = union_all(nominal(piece))
            meant = union_all([Polygon(p.outline, p.holes) for p in piece.parts if not p.scrap])
            for c in piece.contours:
                for begin, end in beside(c, s.kerf_mm):
                    self.assertTrue(kept.buffer(1e-6).contains(end), f"{piece.title}: {c.name}")
                    if not piece.kind.endswith("ladder"):  # a slot has a strip on either side
                        self.assertFalse(meant.contains(begin), f"{piece.title}: {c.name}")

    @given(any_setting)
    def test_inside_comes_before_outside_and_all_of_it_is_on_the_plate(self, s: PieceBasis) -> None:
        for piece in pieces(s):
            inside = [c.inside for c in piece.contours]
            self.assertEqual(sorted(inside, reverse=True), inside)
            x0, y0, x1, y1 = piece.extents_mm
            self.assertGreater(min(x0, y0), s.kerf_mm / 2)
            self.assertLess(max(x1 - piece.plate_mm[0], y1 - piece.plate_mm[1]), -s.kerf_mm / 2)


def beside(contour: Contour, kerf: float) -> Iterator[tuple[Point, Point]]:
    """(a point on the scrap side, a point on the kept side) beside the middle of each cut move."""
    for segment in contour.segments:
        if segment.kind != "cut":
            continue
        straight_on = all(isinstance(m, Line) for m in segment.moves)
        for a, b in pairwise(segment.points):
            length = math.dist(a, b)
            if length < 3 * kerf and straight_on:
                continue  # in a corner the next side is nearer than a kerf
            off = (kerf / 2 + 0.06) * (1 if contour.kept_side == "right" else -1)
            nx, ny = (b[1] - a[1]) / length, -(b[0] - a[0]) / length
            mx, my = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
            if contour.name.startswith("slot") or contour.name == "comb":
                mx, my = a[0] + 0.8 * (b[0] - a[0]), a[1] + 0.8 * (b[1] - a[1])
                if contour.name == "comb":
                    continue  # its lower part holds the strips, and is not read
            yield Point(mx - off * nx, my - off * ny), Point(mx + off * nx, my + off * ny)


class Details(unittest.TestCase):
    def test_nicks_say_the_number_in_threes_and_ones(self) -> None:
        marks = [c for c in square(PLATE, number=7).contours if c.name.startswith("nick")]
        lengths = [round(c.segments[-1].length_mm, 1) for c in marks]
        self.assertEqual(lengths, [9.0, 9.0, 4.5])
        rightmost = max(c.pierce_at[0] for c in square(PLATE, number=11).contours)
        self.assertLess(rightmost, square(PLATE).contours[0].pierce_at[0] + 26)  # of 40 mm: room to read
        with self.assertRaises(TradeError):
            square(PLATE, number=12)

    @settings(max_examples=len(cases(12, 50)))
    @given(any_setting, st.integers(1, 11))
    def test_every_kind_is_numbered_by_nicks_that_touch_no_slot_stub_or_hole(
        self, s: PieceBasis, number: int
    ) -> None:
        for piece in (
            square(s, number=number),
            corner(s, number=number),
            long_strip(s, number=number),
            round_slug(s, number=number),
            holes(s, number=number),
            strip_ladder(s, ladder_speeds(s.speed_mm_min), number=number),
            height_ladder(s, ladder_heights(s.cut_height_mm, within=(0.8, 9)), number=number),
            pierce_ladder(s, ladder_delays(0.5), number=number),
        ):
            nicks = [c for c in piece.contours if c.name.startswith("nick")]
            told = [3 if c.segments[-1].length_mm > 6 else 1 for c in nicks]
            self.assertEqual(sum(told), number, piece.title)
            gone = union_all([burnt(c, s.kerf_mm) for c in nicks])
            for c in piece.contours[:-1]:
                if c not in nicks:
                    self.assertGreater(gone.distance(burnt(c, s.kerf_mm)), 1, f"{piece.title} {c.name}")

    @settings(max_examples=len(cases(12, 50)))
    @given(any_setting, st.integers(0, 11))
    def test_nothing_of_a_slug_lies_where_it_is_read(self, s: PieceBasis, number: int) -> None:
        piece = round_slug(s, number=number)
        (slug,) = nominal(piece)
        x, y, radius = slug.centroid.x, slug.centroid.y, piece.size_mm[0] / 2
        apart = radius * math.radians(22.5) - s.kerf_mm  # half-way to the next, and a slit's width
        for contour in piece.contours:
            # The pierce's splash ends before the rim.
            self.assertGreater(Spot(contour.pierce_at).distance(slug), 6 - 0.3, contour.name)
            starts = contour.segments[-1] if contour.segments[-1].kind == "mark" else contour.segments[0]
            at = starts.start if starts.kind == "mark" else starts.end
            overrun = [contour.segments[-1].end] if contour.segments[-1].kind == "overrun" else []
            for px, py in (at, *overrun):
                azimuth = math.atan2(py - y, px - x)
                read = min(
                    abs((azimuth - math.radians(45 * i) + math.pi) % (2 * math.pi) - math.pi)
                    for i in range(8)
                )
                self.assertGreater(read * radius, apart - 2 * overrun_mm(s), contour.name)
        with self.assertRaisesRegex(TradeError, "40 mm is the least"):
            round_slug(PLATE, 30)

    def test_thin_sheet_grows_until_its_sides_are_at_speed_or_says_that_they_cannot_be(self) -> None:
        # 150 mm/s at 500 mm/s2: to nine tenths and back takes 135^2 / 500 = 36.45 mm of each side.
        sheet = replace(PLATE, thickness_mm=1.5, kerf_mm=1.2, speed_mm_min=9000)
        grown = square(sheet)
        self.assertEqual(grown.size_mm, (92, 92))  # 36.45 / 92 = 40 %
        self.assertEqual(grown.notes, ())
        self.assertEqual(square(replace(sheet, speed_mm_min=2000)).size_mm, (40, 40))
        slow = square(replace(sheet, acceleration_mm_s2=150))  # 121.5 mm of 160
        self.assertIn("over the middle 38.5 mm of each 160 mm side only", slow.notes[0])
        never = square(replace(sheet, acceleration_mm_s2=100))
        self.assertIn(
            "never comes to 9000 mm/min on a 160 mm side: it is at 7589 mm/min", never.notes[0]
        )
        ladder = strip_ladder(sheet, [8000, 9000])
        length = ladder.contours[1].segments[1].length_mm
        self.assertGreater(length - 150**2 / 1000, 50)  # what is left at speed before it slows
        # A slug of 120 mm holds sqrt(100 x 60.6) = 77.8 mm/s.
        self.assertIn(
            "goes round at 4671 mm/min", round_slug(replace(sheet, acceleration_mm_s2=100)).notes[0]
        )

    def test_a_set_of_holes_is_four_even_on_sheet_and_no_faster_than_the_arcs_hold(self) -> None:
        sheet = replace(PLATE, thickness_mm=1, kerf_mm=1, speed_mm_min=9000)
        found = [c for c in holes(sheet).contours if c.inside]
        self.assertEqual([c.name[:6] for c in found], ["hole 1", "hole 2", "hole 3", "hole 4"])
        for c in found:
            arc = c.segments[1].moves[0]
            assert isinstance(arc, Arc)
            held = 60 * math.sqrt(500 * math.dist(arc.start, arc.centre))
            self.assertAlmostEqual(c.speed_mm_min, min(4500, held))

    def test_starts_and_ends_differ_from_the_usual_in_one_thing_each(self) -> None:
        # 8 mm x tan 12 degrees = 1.70 mm of overrun, 6 mm of splash and 35^2 / 1000 of run-up.
        loops = [c for c in start_end_ladder(PLATE).contours if not c.inside]
        overs = [sum(s.length_mm for s in c.segments if s.kind == "overrun") for c in loops]
        self.assertEqual([round(o, 2) for o in overs], [1.7, 1.7, 1.7, 0, 0.85, 3.4, 1.7])
        leads = [c.segments[0] for c in loops]
        self.assertEqual(
            [round(x.length_mm, 3) for x in leads], [7.225, 3.612, 7.225, 7.225, 7.225, 7.225, 7.225]
        )
        self.assertEqual([isinstance(x.moves[0], Arc) for x in leads].index(True), 2)
        ends = [c.segments[-1].speed_share for c in loops]
        self.assertEqual(ends, [1, 1, 1, 1, 1, 1, 0.6])

    def test_the_scrap_bar_comes_loose_and_shares_the_squares_far_cut(self) -> None:
        for swirl in ("clockwise", "counter_clockwise"):
            s = replace(PLATE, swirl=swirl)
            piece = square(s, scrap_edge=True)
            bar, loop = piece.contours
            self.assertTrue(bar.inside and not loop.inside)
            self.assertEqual(bar.segments[-1].speed_share, 0.6)
            main, scrap = nominal(piece)
            self.assertAlmostEqual(main.distance(scrap), s.kerf_mm)
            gone = union_all([burnt(c, s.kerf_mm) for c in piece.contours])
            left = box(0, 0, *piece.plate_mm).difference(gone)
            self.assertEqual(sum(1 for g in left.geoms if g.area > 1), 3)  # square, bar, skeleton

    def test_a_hole_is_entered_on_an_arc_at_half_speed_and_overrun(self) -> None:
        hole = holes(PLATE, [20]).contours[0]
        lead, cut, over = hole.segments
        self.assertEqual((hole.speed_mm_min, hole.height_control), (1050, False))
        self.assertIsInstance(lead.moves[0], Arc)
        self.assertAlmostEqual(cut.length_mm, math.pi * (20 - 1.8))
        self.assertEqual(
            (cut.speed_share, over.speed_share), (1, 1)
        )  # never slower along a finished wall
        self.assertAlmostEqual(over.length_mm, overrun_mm(PLATE))
        # Kept metal round a hole lies on the right of travel when it runs counter-clockwise.
        self.assertFalse(cut.moves[0].clockwise)  # type: ignore[union-attr]

    def test_too_small_a_hole_is_refused(self) -> None:
        with self.assertRaisesRegex(TradeError, "no plasma hole"):
            holes(PLATE, [7])

    def test_only_the_long_strip_tries_height_control(self) -> None:
        tried = {p.kind for p in pieces(PLATE) if any(c.height_control for c in p.contours)}
        self.assertEqual(tried, {"long_strip"})

    def test_a_plate_that_is_too_small_says_what_would_do(self) -> None:
        piece = long_strip(PLATE, 200)
        width, height = piece.plate_mm
        check_plate(piece, (width, height))
        with self.assertRaisesRegex(TradeError, "quarter round"):
            check_plate(piece, (height, width))
        with self.assertRaisesRegex(TradeError, r"needs \d+ × \d+ mm, and the plate is 50 × 50 mm"):
            check_plate(piece, (50, 50))

    def test_real_time_of_a_straight_and_of_a_circle(self) -> None:
        # 81 mm at 100 mm/s with 500 mm/s2: 0.2 s and 10 mm to speed and again to rest, 61 mm at speed in
        # 0.61 s: 1.01 s. To nine tenths, 90 mm/s, 8.1 mm at either end: four fifths at speed.
        line = Contour("line", "right", False, 6000, 1.5, (straight("cut", [(0, 0), (81, 0)]),))
        took = real_time(Piece("square", "line", (line,), (81, 0)), 0.5, 500)
        self.assertAlmostEqual(took.seconds, 1.51)
        self.assertAlmostEqual(took.share_at_speed, 0.8)
        # Round a right angle it stops: twice that.
        bent = straight("cut", [(0, 0), (81, 0), (81, 81)])
        corner = Contour("bend", "right", False, 6000, 1.5, (bent,))
        twice = real_time(Piece("square", "bend", (corner,), (81, 81)), 0.5, 500)
        self.assertAlmostEqual(twice.seconds, 2.52)
        # sqrt(500 x 8) = 63.2 mm/s: a circle of radius 8 is never at 90 mm/s.
        ring = Segment("cut", (Arc((8, 0), (8, 0), (0, 0), False),))
        small = Contour("ring", "right", True, 6000, 1.5, (ring,))
        slow = real_time(Piece("holes", "ring", (small,), (16, 16)), 0, 500)
        self.assertEqual(slow.share_at_speed, 0)
        peak = math.sqrt(500 * 8)
        self.assertAlmostEqual(slow.seconds, (2 * math.pi * 8 - peak**2 / 500) / peak + 2 * peak / 500)

    @given(any_setting, st.floats(100, 3000))
    def test_real_time_is_never_shorter_and_a_stiffer_machine_never_slower(
        self, s: PieceBasis, a: float
    ) -> None:
        for piece in (square(s), round_slug(s), holes(s)):
            here, stiffer = real_time(piece, 0.5, a), real_time(piece, 0.5, 2 * a)
            self.assertGreaterEqual(here.seconds, piece.seconds(0.5) - 1e-9)
            self.assertLessEqual(stiffer.seconds, here.seconds + 1e-9)
            self.assertGreaterEqual(stiffer.share_at_speed, here.share_at_speed - 1e-9)
            self.assertLessEqual(stiffer.share_at_speed, 1)

    def test_arcs(self) -> None:
        # A quarter of a circle of radius 10: 15.708 mm; a full one where it ends at its start.
        quarter = Segment("cut", (Arc((10, 0), (0, 10), (0, 0), False),))
        self.assertAlmostEqual(quarter.length_mm, 5 * math.pi)
        self.assertAlmostEqual(sweep_rad(Arc((10, 0), (0, 10), (0, 0), True)), -1.5 * math.pi)
        self.assertAlmostEqual(sweep_rad(Arc((10, 0), (10, 0), (0, 0), True)), -2 * math.pi)
        for x, y in quarter.points:
            self.assertAlmostEqual(math.hypot(x, y), 10)
        self.assertEqual(straight("cut", [(0, 0), (3, 4)]).moves, (Line((0, 0), (3, 4)),))


if __name__ == "__main__":
    unittest.main()
