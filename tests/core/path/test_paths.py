"""Paths: cut in two, flattened, turned; and the time a machine takes over them."""

import math
import unittest
from dataclasses import replace
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.machine.motion import AT_SPEED
from orthotome.core.path.paths import (
    TOLD_APART_MM,
    Arc,
    Line,
    Segment,
    farthest_points,
    flattened,
    heading_rad,
    length_mm,
    point_along,
    straight,
    sweep_rad,
    turn_rad,
    turned,
)
from orthotome.core.pieces import Contour, Piece, played, real_time
from orthotome.core.pieces.timing import legs

places = st.tuples(st.floats(-200, 200), st.floats(-200, 200))
shares = st.floats(0.01, 0.99)


@st.composite
def arcs(draw: st.DrawFn) -> Arc:
    """An arc of 2 to 300 mm radius, from a degree to a full circle, either way round."""
    centre, radius = draw(places), draw(st.floats(2, 300))
    begin, sweep = draw(st.floats(-math.pi, math.pi)), draw(st.floats(0.02, 2 * math.pi))
    clockwise = draw(st.booleans())
    start = (centre[0] + radius * math.cos(begin), centre[1] + radius * math.sin(begin))
    end = turned(start, centre, -sweep if clockwise else sweep)
    return Arc(start, end, centre, clockwise)


class Splitting(unittest.TestCase):
    @given(arcs(), shares)
    def test_two_parts_are_as_long_as_the_whole_and_meet(self, move: Arc, share: float) -> None:
        start = move.start
        moves = (move,) if start == move.end else (move, Line(move.end, start))
        segment = Segment("cut", moves)
        at = share * segment.length_mm
        nearest_end = min(at, segment.length_mm - at)
        if any(length_mm(m) < 3 * TOLD_APART_MM for m in moves) or nearest_end < 2 * TOLD_APART_MM:
            return
        before, after = segment.split(at)
        # By a joint it is parted there, so that no sliver is left.
        self.assertAlmostEqual(before.length_mm, at, delta=1.01 * TOLD_APART_MM)
        self.assertTrue(
            all(length_mm(m) > 0.99 * TOLD_APART_MM for half in (before, after) for m in half.moves)
        )
        self.assertAlmostEqual(before.length_mm + after.length_mm, segment.length_mm, places=6)
        self.assertEqual((before.end, after.end), (after.start, segment.end))

    def test_neither_part_is_empty(self) -> None:
        line = straight("cut", [(0, 0), (10, 0)])
        for at in (0.0, 10.0, -1.0):
            with self.assertRaises(ValueError):
                line.split(at)

    @given(arcs(), shares)
    def test_a_point_along_lies_on_the_arc_at_its_share_of_the_sweep(
        self, move: Arc, share: float
    ) -> None:
        point = point_along(move, share * length_mm(move))
        self.assertAlmostEqual(
            math.dist(point, move.centre), math.dist(move.start, move.centre), delta=1e-6
        )
        passed = sweep_rad(replace(move, end=point))
        self.assertAlmostEqual(passed, share * sweep_rad(move), places=6)

    @given(arcs(), st.sampled_from([0.002, 0.02, 0.5]))
    def test_no_chord_strays_farther_than_it_may(self, move: Arc, within: float) -> None:
        radius = math.dist(move.start, move.centre)
        for a, b in pairwise([move.start, *flattened(move, within)]):
            middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
            self.assertLess(radius - math.dist(middle, move.centre), within + 1e-6)

    @given(arcs())
    def test_the_box_of_an_arc_is_that_of_all_its_points(self, move: Arc) -> None:
        box, all_of_it = farthest_points(move), [move.start, *flattened(move, 0.0005)]
        for axis in (0, 1):
            for most in (min, max):
                far = most(p[axis] for p in box)
                self.assertAlmostEqual(far, most(p[axis] for p in all_of_it), delta=0.001)

    @given(arcs())
    def test_the_heading_turns_by_the_sweep(self, move: Arc) -> None:
        turn = turn_rad(heading_rad(move), heading_rad(move, move.end))
        self.assertAlmostEqual(math.cos(turn), math.cos(sweep_rad(move)), places=6)
        self.assertAlmostEqual(math.sin(turn), math.sin(sweep_rad(move)), places=6)


class Running(unittest.TestCase):
    @given(arcs(), st.floats(300, 12_000), st.floats(50, 5000), st.sampled_from([1.0, 0.6]))
    def test_legs_cover_the_path_and_never_break_the_machines_laws(
        self, move: Arc, speed: float, a: float, share: float
    ) -> None:
        on = turned(move.end, move.centre, math.pi)  # a corner after the arc: there it stops
        segments = (Segment("cut", (move,), share), straight("overrun", (move.end, on)))
        contour = Contour("c", "right", False, speed, 1.5, segments)
        found = list(legs(contour, a))
        self.assertAlmostEqual(sum(leg.length_mm for leg in found), contour.length_mm, places=3)
        holds = math.sqrt(a * math.dist(move.start, move.centre))
        for leg in found:
            fastest = max(leg.begins_mm_s, leg.ends_mm_s)
            limit = speed / 60 * (share if leg.kind == "cut" else 1.0)
            self.assertLessEqual(fastest, limit + 1e-6)
            if isinstance(leg.move, Arc):
                self.assertLessEqual(fastest, holds + 1e-6)
            change = abs(leg.ends_mm_s**2 - leg.begins_mm_s**2)
            self.assertLessEqual(change, 2 * a * leg.length_mm + 1e-3)
            slow = min(leg.begins_mm_s, leg.ends_mm_s) < AT_SPEED * limit - 1e-6
            self.assertEqual(leg.slow, slow)
        for one, other in pairwise(found):
            self.assertLess(math.dist(one.move.end, other.move.start), 1e-6)
            self.assertAlmostEqual(one.ends_mm_s, other.begins_mm_s, delta=0.2)  # rounding legs left out
        self.assertEqual((found[0].begins_mm_s, found[-1].ends_mm_s), (0.0, 0.0))

    @given(arcs(), st.floats(300, 12_000), st.floats(50, 5000), st.floats(0, 3))
    def test_what_is_played_takes_the_real_time_and_ends_where_the_path_does(
        self, move: Arc, speed: float, a: float, delay: float
    ) -> None:
        contour = Contour("c", "right", False, speed, 1.5, (Segment("cut", (move,)),))
        piece = Piece("round", "arc", (contour, contour), (1, 1))
        runs = played(piece, delay, a)
        self.assertAlmostEqual(runs[-1][-1].at_s, real_time(piece, delay, a).seconds, places=6)
        self.assertLess(math.dist(runs[0][-1].at, move.end), 1e-4)
        times = [s.at_s for run in runs for s in run]
        self.assertEqual(times, sorted(times))
        # With a known rapid, the way back to the next pierce takes its time as well.
        later = played(piece, delay, a, fastest_mm_min=6000)[1][0].at_s
        self.assertAlmostEqual(later - runs[0][-1].at_s, math.dist(move.end, move.start) / 100, places=3)


if __name__ == "__main__":
    unittest.main()
