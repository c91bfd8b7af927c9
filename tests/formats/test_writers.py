"""The program and the drawing, read back by readers that share nothing with the writers."""

import math
import re
import unittest
from dataclasses import dataclass, field
from xml.etree import ElementTree

from orthotome.core.machine.axis_map import AxisMap
from orthotome.core.pieces import Piece, PieceBasis, ladder_speeds, square, strip_ladder
from orthotome.core.quantities import reach
from orthotome.formats.machine.profile import SHIPPED
from orthotome.formats.pieces.gcode import write_gcode
from orthotome.formats.pieces.svg import write_svg
from tests.jobs import PLATE_START

SETTINGS = [
    PieceBasis(8, 1.8, "clockwise", 2100, 1.5),
    PieceBasis(3, 1.4, "counter_clockwise", 3800, 1.2),
    PieceBasis(25, 3.2, "clockwise", 700, 2.5),
]


def pieces() -> list[tuple[PieceBasis, Piece]]:
    found = [(s, square(s)) for s in SETTINGS]
    return found + [(s, strip_ladder(s, ladder_speeds(s.speed_mm_min))) for s in SETTINGS]


@dataclass
class Machine:
    """A small machine: it follows G0, G1, G4, M3 and M5, and notes what it burnt."""

    x: float = 0.0
    y: float = 0.0
    z: float = 99.0
    feed: float = 0.0
    burning: bool = False
    paths: list[list[tuple[float, float]]] = field(default_factory=list)
    feeds: list[float] = field(default_factory=list)
    pierces: list[tuple[float, float, float]] = field(default_factory=list)
    waits: list[float] = field(default_factory=list)
    said: list[str] = field(default_factory=list)

    def run(self, program: str) -> "Machine":
        for line in program.splitlines():
            self.said += re.findall(r"\((.*)\)", line)
            words = dict(re.findall(r"([A-Z])(-?\d+(?:\.\d+)?)", re.sub(r"\(.*\)", "", line)))
            if words:
                self.obey(words)
        return self

    def obey(self, words: dict[str, str]) -> None:
        if words.get("M") == "3":
            self.burning = True
            self.pierces.append((self.x, self.y, self.z))
            self.paths.append([(self.x, self.y)])
        elif words.get("M") == "5":
            self.burning = False
        elif words.get("G") == "4":
            self.waits.append(float(words["P"]))
        elif words.get("G") in ("0", "1"):
            self.move(words)

    def move(self, words: dict[str, str]) -> None:
        self.feed = float(words.get("F", self.feed))
        before = (self.x, self.y)
        self.x, self.y = float(words.get("X", self.x)), float(words.get("Y", self.y))
        self.z = float(words.get("Z", self.z))
        if (self.x, self.y) != before:
            if self.burning:
                assert words["G"] == "1", "a rapid with the torch on"
                self.paths[-1].append((self.x, self.y))
                self.feeds.append(self.feed)
            else:
                assert words["G"] == "0" and self.z > 20, "moved over the plate with the torch down"


class Program(unittest.TestCase):
    def test_what_the_machine_burns_is_the_piece(self) -> None:
        for setting, piece in pieces():
            with self.subTest(f"{piece.title} {setting.thickness_mm}"):
                machine = Machine().run(write_gcode(piece, PLATE_START))
                drawn = [
                    [c.pierce_at, *(p for s in c.segments for p in s.points[1:])] for c in piece.contours
                ]
                self.assertEqual(len(machine.paths), len(drawn))
                for burnt, meant in zip(machine.paths, drawn, strict=True):
                    for a, b in zip(burnt, meant, strict=True):
                        self.assertLess(max(abs(a[0] - b[0]), abs(a[1] - b[1])), 0.001)
                speeds = {c.speed_mm_min for c in piece.contours}
                self.assertEqual(set(machine.feeds), speeds)
                self.assertEqual(set(machine.waits), {0.5})
                self.assertEqual({z for *_, z in machine.pierces}, {3.8})

    def test_a_dry_run_goes_the_same_way_with_the_torch_off(self) -> None:
        for _, piece in pieces():
            dry = write_gcode(piece, PLATE_START, dry_run=True)
            self.assertNotIn("M3", dry.split())
            moves = [x for x in dry.splitlines() if x.startswith("G1 X")]
            wet = [x for x in write_gcode(piece, PLATE_START).splitlines() if x.startswith("G1 X")]
            self.assertEqual(moves, wet)
            self.assertIn("DRY RUN", dry)

    def test_after_every_torch_on_something_waits_and_no_arc_is_asked_for_over_a_hole(self) -> None:
        for _, piece in pieces():
            for profile in SHIPPED.values():
                program = write_gcode(piece, PLATE_START, profile=profile)
                words = [re.sub(r"\(.*?\)|;.*", "", line).strip() for line in program.splitlines()]
                words = [re.sub(r"^N\d+ ", "", w) for w in words if w]
                at, pierced = "", None
                for i, word in enumerate(words):
                    if word.startswith(("G0 X", "G1 X", "G2 X", "G3 X")):
                        at = " ".join(word.split()[1:3])
                    if word != profile.torch_on:
                        continue
                    self.assertRegex(words[i + 1], r"^G4 P", f"{profile.name}: {words[i - 2 : i + 3]}")
                    if profile.sets_height:
                        continue
                    if pierced is None:
                        pierced = at
                        continue
                    # The second start: half a kerf along, at the rim, where there is metal to cross to.
                    (x, y), (px, py) = (
                        [float(w[1:]) / profile.per_mm for w in where.split()] for where in (at, pierced)
                    )
                    self.assertAlmostEqual(
                        math.hypot(x - px, y - py), PLATE_START.kerf_mm / 2, delta=0.01
                    )
                    pierced = None
        by_hand = write_gcode(pieces()[0][1], PLATE_START, profile=SHIPPED["by-hand"])
        stops = [line for line in by_hand.splitlines() if "Set the" in line or "Raise the" in line]
        self.assertTrue(all("Source off." in line for line in stops), stops)

    def test_on_a_table_with_other_axes_the_same_piece_is_burnt(self) -> None:
        # X plus away from the operator and Y plus to the left: turned, not mirrored.
        turned = AxisMap("away", "left")
        for _, piece in pieces():
            here = Machine().run(write_gcode(piece, PLATE_START))
            there = Machine().run(write_gcode(piece, PLATE_START, axes=turned))
            for mine, theirs in zip(here.paths, there.paths, strict=True):
                back = [turned.to_frame(x, y) for x, y in theirs]
                self.assertEqual(back, mine)
            self.assertIn("X plus runs away from you, Y plus to the left.", there.said)

    def test_comments_name_settings_zero_and_extents_and_hold_no_brackets(self) -> None:
        setting, piece = pieces()[0]
        machine = Machine().run(write_gcode(piece, PLATE_START, ("Frames (batch 2), “Ø 40”",)))
        told = " | ".join(machine.said)
        for words in (
            "Frames [batch 2]",
            "Zero",
            "Extents",
            "2100 mm/min at 1.5 mm",
            "kept metal on the right",
        ):
            self.assertIn(words, told)
        self.assertTrue(told.isascii())
        x0, y0, x1, y1 = piece.extents_mm
        self.assertIn(f"X {reach(x0, x1)}, Y {reach(y0, y1)}", told)
        self.assertGreater(min(x0, y0), 0)
        self.assertGreater(setting.kerf_mm, 0)


class Drawing(unittest.TestCase):
    def test_true_scale_and_every_contour_in_it(self) -> None:
        for _, piece in pieces():
            with self.subTest(piece.title):
                root = ElementTree.fromstring(write_svg(piece))
                box = [float(v) for v in root.attrib["viewBox"].split()]
                self.assertEqual(root.attrib["width"], f"{box[2]:.2f}mm")
                circles = root.findall(".//{*}circle")
                self.assertEqual(len(circles), len(piece.contours))
                numbers = [
                    float(v)
                    for p in root.findall(".//{*}path")
                    for v in re.findall(r"\d+\.\d{3}", p.attrib["d"])
                ]
                self.assertLessEqual(max(numbers), max(box[2:]))

    def test_piece_times_and_lengths(self) -> None:
        _, piece = pieces()[0]
        # 40 mm square, kerf 1.8: sides 41.8 with a clipped corner of leg L = 8 + 0.9 (2 - sqrt 2):
        # 4 * 41.8 - 2L + L sqrt 2, and the lead-in and overrun.
        leg = 8 + 0.9 * (2 - 2**0.5)
        lead = piece.contours[0].segments[0].points
        over = piece.contours[0].segments[-1].points
        extra = (lead[1][1] - lead[0][1]) + (over[0][0] - over[1][0])
        self.assertAlmostEqual(piece.cut_length_mm, 4 * 41.8 - leg * (2 - 2**0.5) + extra, places=6)
        self.assertAlmostEqual(piece.seconds(0.5), 0.5 + 60 * piece.cut_length_mm / 2100)


if __name__ == "__main__":
    unittest.main()
