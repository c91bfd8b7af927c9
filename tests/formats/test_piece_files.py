"""The files of a piece, read by programs that share nothing with the writers."""

import io
import json
import math
import re
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import get_args

import ezdxf
from ezdxf import recover
from gcodeparser import parse_gcode_lines
from pydantic import ValidationError
from pypdf import PdfReader

from orthotome.core.machine.axis_map import AxisMap
from orthotome.core.path.paths import Arc, Move
from orthotome.core.pieces import Piece, PieceName, round_slug
from orthotome.core.pieces.piece import begun_at_rim
from orthotome.core.setting import Setting
from orthotome.formats.machine.profile import SHIPPED, OutputProfile
from orthotome.formats.pieces.gcode import write_gcode
from orthotome.formats.pieces.own_part import OwnPartFile, rings_from_file
from orthotome.formats.pieces.piece_set import basis_of, batch_of, piece_files, piece_of
from orthotome.formats.trial.campaign import read_campaign

ROOT = Path(__file__).parents[2]
CAMPAIGN = read_campaign((ROOT / "docs/formats/campaign.example.json").read_bytes())
KINDS: tuple[PieceName, ...] = tuple(k for k in get_args(PieceName) if k != "own_part")
PART = rings_from_file(
    OwnPartFile.model_validate_json((ROOT / "docs/formats/own_part.example.json").read_text())
)


def made() -> Iterator[Piece]:
    for kind in KINDS:
        yield piece_of(kind, CAMPAIGN)
    yield piece_of("own_part", CAMPAIGN, own=("gusset", PART))
    yield batch_of(CAMPAIGN, [Setting(2100, 1.5), Setting(2250, 1.5), Setting(1950, 1.3)], first=4)[0]


class Followed:
    """What a public parser reads in a program, followed as a machine would."""

    def __init__(self, program: str) -> None:
        self.paths: list[list[tuple[float, ...]]] = []
        self.feeds: set[float] = set()
        self.said: list[tuple[str, int]] = []
        at, scale, burning, feed = (0.0, 0.0), 1.0, False, 0.0
        for line in parse_gcode_lines(io.StringIO(program)):
            word, given = line.command, line.params
            self.said.append(word)
            if word == ("G", 20):
                scale = 25.4
            if word == ("M", 3):
                burning = True
                self.paths.append([at])
            if word == ("M", 5):
                burning = False
                if (
                    len(self.paths[-1]) == 1
                ):  # only pierced: by hand the arc goes out before the cut height
                    self.paths.pop()
            feed = given.get("F", feed)
            if word[0] != "G" or word[1] not in (0, 1, 2, 3) or not {"X", "Y"} & given.keys():
                continue
            begin, at = at, (scale * given.get("X", at[0]), scale * given.get("Y", at[1]))
            if burning:
                assert word[1] != 0, "a rapid with the torch on"
                self.feeds.add(round(scale * feed, 1))
                centre: tuple[float, ...] = ()
                if word[1] in (2, 3):
                    centre = (begin[0] + scale * given["I"], begin[1] + scale * given["J"], word[1])
                self.paths[-1].append((*at, *centre))


def meant(piece: Piece, *, chords: bool) -> list[list[tuple[float, ...]]]:
    """The piece's own path in the same form."""

    def step(move: Move) -> tuple[float, ...]:
        if isinstance(move, Arc):
            return (*move.end, *move.centre, 2 if move.clockwise else 3)
        return move.end

    paths = []
    for c in piece.contours:
        if chords:
            paths.append([c.pierce_at, *(p for s in c.segments for p in s.points[1:])])
        else:
            paths.append([c.pierce_at, *(step(m) for s in c.segments for m in s.moves)])
    return paths


class Program(unittest.TestCase):
    def test_each_piece_in_each_shipped_profile_is_the_piece_when_read_back(self) -> None:
        for piece in made():
            for name, profile in SHIPPED.items():
                with self.subTest(f"{piece.kind} {name}"):
                    read = Followed(write_gcode(piece, CAMPAIGN.start, profile=profile))
                    cut = piece
                    if not profile.sets_height:  # by hand the cut begins at the rim of the pierced hole
                        rims = tuple(begun_at_rim(c, CAMPAIGN.start.kerf_mm) for c in piece.contours)
                        cut = replace(piece, contours=rims)
                    drawn = meant(cut, chords=profile.arcs == "segments")
                    self.assertEqual(len(read.paths), len(drawn))
                    for burnt, path in zip(read.paths, drawn, strict=True):
                        for a, b in zip(burnt, path, strict=True):
                            self.assertEqual(len(a), len(b))
                            self.assertLess(math.dist(a[:2], b[:2]), 0.001)
                            self.assertLess(math.dist(a[2:], b[2:]), 0.002)
                    speeds = {round(c.speed_of(s), 1) for c in piece.contours for s in c.segments}
                    self.assertEqual(read.feeds, speeds)

    def test_arcs_turn_the_other_way_on_a_mirrored_table(self) -> None:
        piece = round_slug(basis_of(CAMPAIGN))
        for axes, same in ((AxisMap("away", "left"), True), (AxisMap("left", "away"), False)):
            here = Followed(write_gcode(piece, CAMPAIGN.start)).paths[-1][2]
            there = Followed(write_gcode(piece, CAMPAIGN.start, axes=axes)).paths[-1][2]
            self.assertEqual(here[4] == there[4], same)
            self.assertLess(math.dist(axes.to_frame(*there[2:4]), here[2:4]), 0.002)

    def test_words_of_the_profiles(self) -> None:
        strip, square = piece_of("long_strip", CAMPAIGN), piece_of("square", CAMPAIGN)
        controlled = SHIPPED["metric-height-control"]
        program = write_gcode(strip, CAMPAIGN.start, profile=controlled)
        on, off = program.index("\nM76"), program.rindex("\nM77")
        self.assertLess(on, off)
        for fixed in (
            write_gcode(strip, CAMPAIGN.start, profile=controlled, dry_run=True),
            write_gcode(square, CAMPAIGN.start, profile=controlled),
        ):
            self.assertNotIn("M76", fixed)
            self.assertLess(fixed.index("\nM77\n"), fixed.index("\nG0 "))  # off, before anything moves
        by_hand = write_gcode(square, CAMPAIGN.start, profile=SHIPPED["by-hand"])
        self.assertNotRegex(by_hand, r"(?m)^G\d.*Z")
        words = [w for w in by_hand.split("\n") if re.match(r"M[035]$|G0 X", w)][:10]
        # Raised before every rapid; pierce height, pierce, arc out, to the rim, cut height, cut.
        self.assertEqual(words[:8], ["M0", words[1], "M0", "M3", "M5", words[5], "M0", "M3"])
        self.assertEqual(words[8:], ["M5", "M0"])
        numbered = write_gcode(square, CAMPAIGN.start, profile=SHIPPED["segments-only"])
        self.assertRegex(numbered, r"(?m)^N\d+ G4 P500$")

    def test_height_control_is_held_over_the_short_ends_and_let_go_before_the_torch_is_off(self) -> None:
        strip = piece_of("long_strip", CAMPAIGN)
        words = {"height_on": "M52 P1", "height_off": "M52 P0"}
        held = {"height_hold": "M53 P1", "height_follow": "M53 P0"}
        plain = OutputProfile(name="x", **words)
        program = write_gcode(strip, CAMPAIGN.start, profile=OutputProfile(name="x", **words, **held))
        said = [line for line in program.splitlines() if line[:3] in ("M52", "M53", "M3", "M5")]
        self.assertEqual(
            said,
            # Short end, long side, clip and short end, long side back.
            ["M52 P0", "M3", "M52 P1", "M53 P1", "M53 P0", "M53 P1", "M53 P0", "M52 P0", "M5"],
        )
        # Without words for it, control is off over the short ends.
        off_and_on = [
            x for x in write_gcode(strip, CAMPAIGN.start, profile=plain).split() if x[0] == "P"
        ]
        self.assertEqual(off_and_on.count("P1"), 2)
        self.assertEqual(off_and_on.count("P0"), 3)  # and once before anything

    def test_the_surface_is_found_before_each_pierce(self) -> None:
        profile = OutputProfile(name="x", touch_off=("G38.2 Z-30 F300", "G92 Z0"))
        lines = write_gcode(piece_of("square", CAMPAIGN), CAMPAIGN.start, profile=profile).splitlines()
        for at, line in enumerate(lines):
            if line == "M3":
                self.assertEqual(lines[at - 3 : at - 1], ["G38.2 Z-30 F300", "G92 Z0"])

    def test_a_profile_that_cannot_be_trusted_is_refused(self) -> None:
        for wrong, words in (
            ({"torch_off": " "}, "never says torch off"),
            ({"torch_on": "M5"}, "word of its own"),
            ({"height_on": "M52 P1"}, "switched off again"),
            ({"decimals": 2}, "strays from the piece"),
            ({"units": "in", "decimals": 4}, "strays from the piece"),
            ({"sets_height": False}, "stop for the hand"),
            (
                {"height_on": "M52 P1", "height_off": "M52 P0", "height_hold": "M53"},
                "both words or neither",
            ),
            ({"height_hold": "M53", "height_follow": "M54"}, "only what is switched on can be held"),
        ):
            with self.subTest(words), self.assertRaisesRegex(ValidationError, words):
                OutputProfile.model_validate({"name": "x", **wrong})


class Drawings(unittest.TestCase):
    def test_every_dxf_is_clean_and_holds_the_piece_on_its_layers(self) -> None:
        for piece in made():
            with self.subTest(piece.kind):
                text = piece_files(piece, CAMPAIGN, SHIPPED["metric"])["piece.dxf"]
                drawing, auditor = recover.read(io.BytesIO(text))
                self.assertFalse(auditor.has_errors)
                self.assertEqual(drawing.units, ezdxf.units.MM)
                on = {e.dxf.layer for e in drawing.modelspace()}
                self.assertIn("CUT", on)
                kept = drawing.modelspace().query('LWPOLYLINE[layer=="KEPT"]')
                rings = sum(1 + len(p.holes) for p in piece.parts)
                self.assertEqual((len(kept), all(e.closed for e in kept)), (rings, True))

    def test_the_cut_sheet_says_what_to_dial_and_what_to_mind(self) -> None:
        for piece in made():
            with self.subTest(piece.kind):
                sheet = piece_files(piece, CAMPAIGN, SHIPPED["metric"])["piece.pdf"]
                pages = PdfReader(io.BytesIO(sheet)).pages
                self.assertLessEqual(len(pages), 2)
                text = " ".join(" ".join(p.extract_text() for p in pages).split())
                for words in ("2100 mm/min", "3.8 mm", "Filter shade 8", "never zero"):
                    self.assertIn(words, text)


class Command(unittest.TestCase):
    def run_it(self, *words: str) -> subprocess.CompletedProcess[str]:
        file = str(ROOT / "docs/formats/campaign.example.json")
        command = [sys.executable, "-m", "orthotome.cli", "piece", words[0], file, *words[1:]]
        return subprocess.run(command, capture_output=True, text=True, check=False)

    def test_six_files_with_the_listed_speeds(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "new" / "folder"
            done = self.run_it("strip_ladder", "--out", str(out), "--speeds", "1900,2100,2300")
            self.assertEqual((done.returncode, done.stderr), (0, ""))
            self.assertEqual(
                sorted(p.name for p in out.iterdir()),
                ["piece-dry.nc", "piece.dxf", "piece.json", "piece.nc", "piece.pdf", "piece.svg"],
            )
            file = json.loads((out / "piece.json").read_text())
            self.assertEqual(
                (file["format"], file["version"], file["pierces"]), ("orthotome.piece", 1, 4)
            )
            speeds = [c["speed_mm_min"] for c in file["contours"] if c["inside"]]
            self.assertEqual(speeds, [1900, 2100, 2300])
            self.assertNotIn("M3", (out / "piece-dry.nc").read_text().split())

    def test_a_drawing_of_ones_own(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            made, out = Path(folder) / "disc.dxf", Path(folder) / "out"
            drawing = ezdxf.new("R2010", units=0)
            drawing.modelspace().add_circle((0, 0), 1)
            drawing.modelspace().add_text("a disc of one inch radius")
            drawing.saveas(made)
            words = ("own_part", "--drawing", str(made), "--out", str(out))
            refused = self.run_it(*words)
            self.assertEqual((refused.returncode, out.exists()), (2, False))
            self.assertIn("does not name its unit", refused.stderr)
            done = self.run_it(*words, "--unit", "in")
            said = [
                "orthotome: Read: 50.8 mm × 50.8 mm, 1 outline, 0 holes.",
                "orthotome: Left out: 1 × text.",
            ]
            self.assertEqual((done.returncode, done.stderr.splitlines()), (0, said))
            file = json.loads((out / "piece.json").read_text())
            self.assertEqual(file["title"], "disc")
            self.assertAlmostEqual(file["size_mm"][0], 50.8, delta=0.005)

    def test_what_does_not_fit_or_is_not_meant_writes_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "none"
            for words, said in (
                (["long_strip", "--plate", "300x200"], "needs"),
                (["square", "--speeds", "1900,2100"], "speeds: belong to a strip ladder"),
                (["circle"], "there is no piece “circle”"),
                (["square", "--profile", "mine"], "there is no profile “mine”"),
                (["own_part"], "drawing: belongs to a part of your own"),
                (["strip_ladder", "--speeds", "fast"], "write numbers with commas"),
                (["strip_ladder", "--speeds", "1900"], "2 to 12 steps"),
                (
                    ["strip_ladder", "--speeds", "1900,1e9"],
                    "outside the trial's limits, 1200 mm/min to 3400 mm/min",
                ),
                (["height_ladder", "--heights", "0.0001,1.5"], "heights: 0 mm is outside"),
                (["pierce_ladder", "--delays", "0.5,500"], "500 s is outside what a pierce can take"),
            ):
                with self.subTest(said):
                    done = self.run_it(*words, "--out", str(out))
                    self.assertEqual((done.returncode, done.stdout), (2, ""))
                    self.assertIn(said, done.stderr)
                    self.assertFalse(out.exists())


if __name__ == "__main__":
    unittest.main()
