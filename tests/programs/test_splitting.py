"""A program split between two sets: what goes with which, and that both halves leave the drawing's parts."""

import random
import unittest
from dataclasses import replace

from shapely import Polygon

from orthotome.core.book.start_rows import StartValues
from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import FRAME
from orthotome.core.programs.check import Checked, check
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob, Table
from orthotome.core.programs.split import CHANGE_OF_PARTS_S, SetToCut, ways_to_cut
from orthotome.core.programs.split import Ways as Split
from orthotome.formats.machine.profile import SHIPPED
from orthotome.formats.programs.rs274 import read_program
from orthotome.formats.programs.splitting import TwoSets, halves
from tests.enough import cases
from tests.programs import making

FINE = PlateJob(6.0, StartValues(1500, 118, 1.3, 3.0, 0.35, 1.2), 40, "clockwise")
HEAVY = PlateJob(6.0, StartValues(3800, 136, 2.0, 4.6, 0.8, 2.1), 105, "counter_clockwise")
OWN = PlateJob(
    6.0,
    StartValues(making.SPEED, 128, making.CUT_Z, making.PIERCE_Z, making.DELAY, making.KERF),
    making.AMPS,
    "clockwise",
)


def held(table: Table | None = None) -> CheckedAgainst:
    """What the made programs are held against; without their drawing, which two programs share."""
    return CheckedAgainst(OWN, table or Table(acceleration_mm_s2=making.ACCELERATION), making.SHEET)


def strays(half: Checked, kerf_mm: float, nominal: list[Polygon]) -> float:
    """How far the edges that a half leaves lie from the drawing's, at the worst place of round and inside contours."""
    worst = 0.0
    for contour in half.contours:
        grown = kerf_mm / 2 * (-1 if contour.kind == "outside" else 1)
        edge = Polygon(contour.loop).buffer(grown, join_style="mitre", quad_segs=64)
        nearest = min(
            nominal, key=lambda r: abs(r.area - edge.area) + r.centroid.distance(edge.centroid)
        )
        if contour.kind == "outside":  # its corners are rounded, so that sizes are compared
            sizes = zip(edge.bounds, nearest.bounds, strict=True)
            worst = max(worst, *(abs(a - b) for a, b in sizes))
        else:
            worst = max(worst, edge.exterior.hausdorff_distance(nearest.exterior))
    return worst


class Halves(unittest.TestCase):
    """Two programs that share a zero."""

    def test_both_check_clean_against_their_own_set_and_leave_the_drawings_parts(self) -> None:
        tried = 0
        for seed in cases(16, 48):
            dialect = making.DIALECTS[seed % 8]
            job = making.made(random.Random(300 + seed))
            text = making.written(job, dialect).encode()
            profile = SHIPPED[dialect.profile]
            found = check(read_program(text, profile), held())
            detail = {i for i, c in enumerate(found.contours) if c.kind != "outside"}
            rest = frozenset(range(len(found.contours))) - detail
            other, to_other = (FINE, frozenset(detail)) if seed % 3 else (HEAVY, rest)
            two = TwoSets("own set", OWN, "other set", other, to_other)
            made = halves(text, profile, held(), FRAME, two)
            nominal = [Polygon(p) for p in job.nominal]
            with self.subTest(seed=seed, dialect=dialect.name, other=other.amperage_a):
                tried += 1
                self.assertEqual(made.other_is_first, other is FINE)
                for half, first in ((made.first, True), (made.second, False)):
                    with_other = first == made.other_is_first
                    kerf = other.setting.kerf_mm if with_other else making.KERF
                    self.assertEqual([(p.code, p.line, p.why) for p in half.checked.problems], [])
                    self.assertLess(strays(half.checked, kerf, nominal), 0.02)
                counts = [len(h.checked.contours) for h in (made.first, made.second)]
                self.assertEqual(sum(counts), len(found.contours))
        self.assertEqual(tried, len(cases(16, 48)))

    def test_words_of_the_other_set_stand_in_its_half_and_both_begin_alike(self) -> None:
        job = making.made(random.Random(2))
        text = making.written(job, making.Dialect())
        detail = frozenset(i for i, c in enumerate(job.cuts) if c.kind != "outside")
        two = TwoSets("own (set)", OWN, "fine set", FINE, detail)
        made = halves(text.encode(), SHIPPED["metric"], held(), FRAME, two)
        first, second = made.first.content.decode(), made.second.content.decode()
        self.assertIn("1 of 2, with the fine set, then change the parts", first)
        self.assertIn("2 of 2, with the own [set], after the change of parts", second)
        self.assertEqual({a.value for a in made.first.checked.program.amperes}, {40.0})
        self.assertEqual({c.run.cut_height_mm for c in made.first.checked.contours}, {1.3})
        for word in ("G21", "G90"):
            self.assertTrue(word in first and word in second)

    def test_what_cannot_be_taken_apart_is_refused_in_a_sentence(self) -> None:
        job = making.made(random.Random(3))
        two = TwoSets("own", OWN, "fine", FINE, frozenset([0]))
        steps = making.written(job, making.DIALECTS[8]).encode()
        with self.assertRaises(TradeError) as loops:
            halves(steps, SHIPPED["metric"], held(), FRAME, two)
        self.assertIn("sub-programs", loops.exception.sentence)
        plain = making.written(job, making.Dialect()).encode()
        with self.assertRaises(TradeError) as nothing:
            halves(plain, SHIPPED["metric"], held(), FRAME, replace(two, to_other=frozenset()))
        self.assertIn("nothing to split", nothing.exception.sentence)

    def test_the_controllers_compensation_keeps_its_kerf_and_is_never_turned(self) -> None:
        square = "G0 X{0} Y0\nM3\nG4 P0.5\nG41 D1\nG1 X{1} Y0 F2400\nX{1} Y50\nX{2} Y50\nX{2} Y0\nX{1} Y0\nX{1} Y2\nG40\nM5\n"
        text = f"G21 G90\n{square.format(-8, 0, 80)}{square.format(92, 100, 180)}M30\n".encode()
        two = TwoSets("own", OWN, "fine", FINE, frozenset([0]))
        first = halves(text, SHIPPED["metric"], held(), FRAME, two).first.content.decode()
        self.assertIn("the control's kerf at 1.2 mm", first)
        with self.assertRaises(TradeError) as turned:
            halves(text, SHIPPED["metric"], held(), FRAME, replace(two, other=HEAVY))
        self.assertIn("swirls the other way", turned.exception.sentence)


class Ways(unittest.TestCase):
    """Whole with one set, whole with the other, or split."""

    def ways(self, acceleration: float, slot: float = 8.0) -> Split:
        """A plate of 400 by 200 with sixteen square slots, on a table of that acceleration."""
        lines = ["G21", "G90", "G91.1"]
        for n in range(16):
            x, y = 30 + 40 * (n % 8), 40 + 60 * (n // 8)
            middle = x + slot / 2
            lines += [f"G0 X{middle} Y{y + slot / 2}", "M3", "G4 P0.5", f"G1 X{middle} Y{y} F2400"]
            corners = (x + slot, y), (x + slot, y + slot), (x, y + slot), (x, y), (middle + 1, y)
            lines += [f"G1 X{a} Y{b}" for a, b in corners] + ["M5"]
        lines += ["G0 X-10 Y50", "M3", "G4 P0.5", "G1 X0 Y50 F2400"]
        lines += [f"G1 X{a} Y{b}" for a, b in ((0, 200), (400, 200), (400, 0), (0, 0), (0, 52))]
        text = "\n".join([*lines, "M5", "M30"]).encode()
        table = Table(acceleration_mm_s2=acceleration)
        found = check(read_program(text, SHIPPED["metric"]), held(table))
        own, fine = SetToCut("plate set", OWN, 0.1, 150), SetToCut("fine set", FINE, 0.05, 90)
        return ways_to_cut(found, own, fine, table, 60.0)

    def test_what_never_reaches_speed_goes_to_the_slower_set_and_the_outline_stays(self) -> None:
        # 40 mm/s needs v^2/a = 6.4 mm from rest to rest: a side of 8 mm is at nine tenths of it for 8 - 0.81 * 6.4 mm,
        # 35 %. 25 mm/s needs 2.5 mm: 75 % of a side, and some less of the one that the lead-in comes to.
        ways = self.ways(250.0)
        assert ways.split is not None
        first, second = ways.split.stages
        self.assertEqual((first.torch_set, second.torch_set), ("fine set", "plate set"))
        self.assertEqual((first.contours, second.contours), (tuple(range(16)), (16,)))
        self.assertEqual(ways.to_other, tuple(range(16)))
        self.assertAlmostEqual(first.share_at_speed, 0.72, delta=0.04)
        self.assertGreater(ways.split.share_at_speed, ways.own.share_at_speed + 0.1)
        self.assertEqual(ways.split.changes, 1)
        self.assertAlmostEqual(ways.split.seconds, first.seconds + second.seconds + CHANGE_OF_PARTS_S)
        # A minute of the machine is 1.00; a start 0.10 or 0.05.
        cost = ways.split.seconds / 60 + 16 * 0.05 + 0.1
        self.assertAlmostEqual(ways.split.cost(60.0) or 0.0, cost)
        self.assertIn("16 contours fall short of speed with the plate set", ways.says)
        self.assertAlmostEqual(first.gas_l or 0.0, 90 * first.arc_s / 60)

    def test_a_table_that_holds_the_speed_needs_no_split(self) -> None:
        ways = self.ways(4000.0)
        self.assertIsNone(ways.split)
        self.assertIn("no split", ways.says)
        self.assertLess(ways.own.seconds, ways.other.seconds)

    def test_a_price_that_is_not_known_is_no_nought(self) -> None:
        self.assertIsNone(self.ways(250.0).own.cost(None))


if __name__ == "__main__":
    unittest.main()
