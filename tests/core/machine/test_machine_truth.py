"""Measured sizes: square or not, scale and kerf apart, a kerf fault before anything else, holes that fit."""

import json
import math
import random
import unittest
from pathlib import Path
from typing import Any

from orthotome.core.errors import TradeError
from orthotome.core.machine.hole_fit import fit_of, passes_says
from orthotome.core.machine.measured import Hole, Measured, Rectangle, Slot
from orthotome.core.machine.measures import judge_machine
from orthotome.core.machine.squareness import Spread, needed_diagonal_mm, skew_rad
from orthotome.core.quantities import INCH, speaking
from orthotome.formats.machine.measures import measure_text
from orthotome.formats.reading import FileError

EXAMPLE = Path(__file__).parents[3] / "docs/formats/machine_measures.example.json"


class Machine:
    """A machine that is as it is, and cuts what is drawn: written from the trade's sketch, not from the module."""

    def __init__(self, chance: random.Random, made_room: float) -> None:
        self.skew = chance.gauss(0, 0.002)
        self.scale = (1 + chance.gauss(0, 0.0006), 1 + chance.gauss(0, 0.0006))
        self.kerf = chance.uniform(1.3, 2.2)
        self.compensated = 1.7
        self.room = made_room * self.compensated  # 1 as it should be, 0 left out, -1 on the wrong side

    def corners(self, a: float, b: float) -> list[tuple[float, float]]:
        """Where the corners of an outside really lie: scaled, grown by what is left beside the kerf, leaning by the skew."""
        w, h = a * self.scale[0], b * self.scale[1]
        w, h = w + self.room - self.kerf, h + self.room - self.kerf
        s, c = math.sin(self.skew), math.cos(self.skew)
        return [(0.0, 0.0), (w, 0.0), (w + h * s, h * c), (h * s, h * c)]

    def rectangle(self, chance: random.Random, a: float, b: float, u: float) -> Rectangle:
        """Measured with errors."""
        p = self.corners(a, b)

        def read(i: int, j: int) -> float:
            return math.dist(p[i], p[j]) + chance.gauss(0, u)

        return Rectangle((a, b), read(0, 1), read(1, 2), read(0, 2), read(1, 3), u)

    def slot(self, chance: random.Random, n: float, u: float) -> Slot:
        """An inside in both axes, measured with errors."""
        size = [n * s - self.room + self.kerf + chance.gauss(0, u) for s in self.scale]
        return Slot(n, size[0], size[1], u)

    def cut(self, chance: random.Random) -> Measured:
        """A set of pieces of other sizes each time."""
        u = chance.choice((0.03, 0.05, 0.1))
        rectangles = [
            self.rectangle(chance, chance.uniform(250, 900), chance.uniform(200, 700), u)
            for _ in range(chance.randint(1, 2))
        ]
        slots = [self.slot(chance, chance.uniform(15, 60), u) for _ in range(chance.randint(1, 2))]
        return Measured(self.compensated, tuple(rectangles), tuple(slots), (), 1300.0, 6.0)


class Simulated(unittest.TestCase):
    """Five hundred sets of measurements with errors."""

    def test_nine_in_ten_of_the_truths_lie_in_their_ranges(self) -> None:
        chance = random.Random(17)
        held = {"skew": 0, "scale": 0, "kerf": 0}
        for _ in range(500):
            machine = Machine(chance, 1.0)
            judged = judge_machine(machine.cut(chance))
            x, kerf, skew = judged.sizes.scale_x, judged.sizes.kerf_mm, judged.skew_deg
            assert x is not None and kerf is not None and skew is not None
            for name, told, truth in (
                ("skew", skew, math.degrees(machine.skew)),
                ("scale", x, machine.scale[0]),
                ("kerf", kerf, machine.kerf),
            ):
                held[name] += abs(told.value - truth) <= 1.645 * told.sd
        for name, n in held.items():
            self.assertTrue(430 <= n <= 470, f"{name}: {n} of 500")

    def test_a_kerf_fault_is_named_and_nothing_else_is_blamed_for_it(self) -> None:
        chance = random.Random(18)
        for made_room, code in ((0.0, "kerf_not_compensated"), (-1.0, "kerf_wrong_side")):
            named = blamed = 0
            for _ in range(250):
                machine = Machine(chance, made_room)
                machine.skew, machine.scale = 0.0, (1.0, 1.0)
                judged = judge_machine(machine.cut(chance))
                codes = {f.code for f in judged.findings}
                named += code in codes
                blamed += bool(codes & {"gantry_skew", "scale", "kerf_differs"})
                assert judged.sizes.kerf_mm is not None
                self.assertAlmostEqual(
                    judged.sizes.kerf_mm.value, machine.kerf, delta=5 * judged.sizes.kerf_mm.sd
                )
            self.assertGreaterEqual(named, 248, code)
            self.assertLessEqual(blamed, 3, code)

    def test_what_is_right_is_left_alone_and_what_is_off_is_said(self) -> None:
        chance = random.Random(19)
        alarms = missed = 0
        for _ in range(200):
            machine = Machine(chance, 1.0)
            machine.skew, machine.scale, machine.kerf = 0.0, (1.0, 1.0), machine.compensated
            codes = {f.code for f in judge_machine(machine.cut(chance)).findings}
            alarms += bool(codes & {"gantry_skew", "scale", "kerf_differs", "kerf_not_compensated"})
            machine.skew, machine.scale = 0.004, (1.004, 1.0)
            codes = {f.code for f in judge_machine(machine.cut(chance)).findings}
            missed += not {"gantry_skew", "scale"} <= codes
        self.assertLessEqual(alarms, 6)
        self.assertLessEqual(missed, 2)

    def test_the_correction_makes_it_square_within_its_own_uncertainty(self) -> None:
        chance = random.Random(20)
        within = 0
        for _ in range(200):
            machine = Machine(chance, 1.0)
            correction = judge_machine(machine.cut(chance)).drive_correction
            assert correction is not None
            # The +X end goes toward -Y by the correction: the gantry turns clockwise, and the skew goes by as much.
            machine.skew -= correction.mm.value / 1300.0
            within += abs(machine.skew) * 1300.0 <= 1.645 * correction.mm.sd
        self.assertTrue(170 <= within <= 190, within)


class Worked(unittest.TestCase):
    """By hand."""

    def test_the_example_is_what_the_arithmetic_says(self) -> None:
        report = measure_text(EXAMPLE.read_bytes())
        published = json.loads(EXAMPLE.with_name("machine_report.example.json").read_text())
        self.assertEqual(json.loads(report.model_dump_json()), published)
        # (361.0^2 - 360.1^2) / (4 * 299.97 * 199.95) = 0.0027053 rad; over 1300 mm 3.52 mm.
        assert report.skew_deg and report.drive_correction_mm and report.kerf_mm and report.scale_x
        self.assertAlmostEqual(report.skew_deg.value, 0.155, delta=0.001)
        self.assertAlmostEqual(report.skew_deg.sd, 0.024, delta=0.001)
        self.assertAlmostEqual(report.drive_correction_mm.value, 3.52, delta=0.02)
        self.assertIn("+X end 3.5 mm, give or take 0.6 mm, toward −Y", report.drive_correction_mm.why)
        # x: 300 e + d = -0.03 and 20 e - d = 0.03: e is 0, d is -0.03, and the kerf 1.8 + 0.03.
        self.assertAlmostEqual(report.scale_x.value, 1.0, delta=1e-6)
        self.assertAlmostEqual(report.kerf_mm.value, 1.83, delta=1e-6)
        hole = report.holes[0]
        self.assertEqual((hole.draw_mm, hole.passes), (25.9, "M22 and smaller pass"))
        self.assertAlmostEqual(hole.taper_deg or 0.0, math.degrees(math.atan(0.7 / 12)), delta=0.01)

    def test_a_longer_first_diagonal_is_a_far_side_that_leans_right(self) -> None:
        # Corners 0,0  300,0  300.6,200  0.6,200: leans 0.6 over 200 to the right, 0.003 rad.
        d1, d2 = math.hypot(300.6, 200), math.hypot(299.4, 200)
        skew = skew_rad([Rectangle((300, 200), 300, math.hypot(0.6, 200), d1, d2, 0.05)])
        assert skew is not None
        self.assertAlmostEqual(skew.value, 0.003, delta=1e-5)
        one = skew_rad([Rectangle((300, 200), 300, math.hypot(0.6, 200), None, d2, 0.05)])
        assert one is not None
        self.assertAlmostEqual(one.value, 0.003, delta=2e-5)
        self.assertGreater(one.sd, skew.sd)

    def test_one_outside_cannot_tell_scale_from_kerf_and_says_what_would(self) -> None:
        judged = judge_machine(Measured(1.8, (Rectangle((300, 200), 299.9, 199.9, None, None, 0.05),)))
        self.assertIsNone(judged.sizes.scale_x)
        self.assertIsNone(judged.sizes.kerf_mm)
        self.assertIsNone(judged.skew_deg)
        said = " ".join(judged.cannot_tell)
        for word in ("diagonals", "Scale of X", "slot"):
            self.assertIn(word, said)

    def test_even_one_outside_shows_that_no_room_was_made_for_the_kerf(self) -> None:
        judged = judge_machine(Measured(1.8, (Rectangle((300, 200), 298.2, 198.2, 358.1, 358.1, 0.05),)))
        self.assertEqual(judged.findings[0].code, "kerf_not_compensated")

    def test_a_piece_that_is_too_small_is_no_proof_of_square(self) -> None:
        judged = judge_machine(Measured(1.8, (Rectangle((80, 60), 80, 60, 100.1, 99.9, 0.2),)))
        self.assertIn("instrument_too_coarse", {f.code for f in judged.findings})
        u = 0.1
        side = needed_diagonal_mm(u) / math.sqrt(2)
        d = side * math.sqrt(2)
        needed = skew_rad([Rectangle((side, side), side, side, d, d, u)])
        assert needed is not None
        self.assertAlmostEqual(2 * math.degrees(needed.sd), 0.057, delta=1e-6)

    def test_holes_say_what_passes_in_the_shops_sizes_and_when_they_are_oval(self) -> None:
        self.assertEqual(passes_says(12.3, 0.05), "M12 and smaller pass")
        self.assertEqual(passes_says(12.1, 0.05), "M10 and smaller pass")
        with speaking(INCH):
            self.assertEqual(passes_says(13.0, 0.05), "1/2 in and smaller pass")
        self.assertTrue(fit_of(Hole(20, 20.0, None, 19.6, 0.05), 6.0).oval)
        self.assertFalse(fit_of(Hole(20, 20.0, None, 19.9, 0.05), 6.0).oval)
        self.assertIsNone(fit_of(Hole(20, 20.0, None, None, 0.05), 6.0).taper_deg)
        self.assertTrue(Spread(0.31, 0.1).sure)


class Refused(unittest.TestCase):
    """In a sentence that names the field."""

    def test_what_no_table_can_have_cut(self) -> None:
        for rectangle, field in (
            (Rectangle((300, 200), 11.81, 200, None, None, 0.1), "x_mm"),
            (Rectangle((300, 200), 300, 260, None, None, 0.1), "y_mm"),
            (Rectangle((300, 200), 300, 200, 370, 361, 0.1), "d1_mm"),
        ):
            with self.assertRaises(TradeError) as refused:
                judge_machine(Measured(1.8, (rectangle,)))
            self.assertEqual(refused.exception.field, field)

    def test_files_that_are_none(self) -> None:
        good: dict[str, Any] = json.loads(EXAMPLE.read_text())
        for change in (
            {"pieces": []},
            {"kerf_compensated_mm": -1},
            {"pieces": [{"kind": "circle", "nominal_mm": 3, "u_mm": 0.1}]},
            {"pieces": [{"kind": "slot", "nominal_mm": 20, "x_in": 0.79, "u_mm": 0.1}]},
        ):
            with self.assertRaises(FileError):
                measure_text(json.dumps(good | change).encode())


if __name__ == "__main__":
    unittest.main()
