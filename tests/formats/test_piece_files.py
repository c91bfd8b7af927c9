"""The files of a piece, read by programs that share nothing with the writers."""

import io
import json
import math
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path

import ezdxf
from ezdxf import recover
from gcodeparser import parse_gcode_lines
from pydantic import ValidationError
from pypdf import PdfReader

from orthotome.core.axis_map import AxisMap
from orthotome.core.paths import Arc, Move
from orthotome.core.pieces import Piece, round_slug
from orthotome.formats.campaign import read_campaign
from orthotome.formats.gcode import write_gcode
from orthotome.formats.piece_set import piece_files, piece_of, setting_of
from orthotome.formats.profile import SHIPPED, OutputProfile

ROOT = Path(__file__).parents[2]
CAMPAIGN = read_campaign((ROOT / "docs/formats/campaign.example.json").read_bytes())
KINDS = (
    "strip_ladder",
    "height_ladder",
    "pierce_ladder",
    "start_end_ladder",
    "square",
    "round",
    "holes",
    "corner",
    "long_strip",
)


def made() -> Iterator[Piece]:
    for kind in KINDS:
        yield piece_of(kind, CAMPAIGN)


class Followed:
    """What a public parser reads in a program, followed as a machine would."""

    def __init__(self, program: str) -> None:
        self.paths: list[list[tuple[float, ...]]] = []
        self.feeds: set[float] = set()
        self.said: list[tuple[str, int]] = []
        at, scale, burning = (0.0, 0.0), 1.0, False
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
            if word[0] != "G" or word[1] not in (0, 1, 2, 3) or not {"X", "Y"} & given.keys():
                continue
            begin, at = at, (scale * given.get("X", at[0]), scale * given.get("Y", at[1]))
            if burning:
                assert word[1] != 0, "a rapid with the torch on"
                self.feeds.add(round(scale * given["F"], 1))
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
                    drawn = meant(piece, chords=profile.arcs == "segments")
                    self.assertEqual(len(read.paths), len(drawn))
                    for burnt, path in zip(read.paths, drawn, strict=True):
                        for a, b in zip(burnt, path, strict=True):
                            self.assertEqual(len(a), len(b))
                            self.assertLess(math.dist(a[:2], b[:2]), 0.001)
                            self.assertLess(math.dist(a[2:], b[2:]), 0.002)
                    speeds = {round(c.speed_of(s), 1) for c in piece.contours for s in c.segments}
                    self.assertEqual(read.feeds, speeds)

    def test_arcs_turn_the_other_way_on_a_mirrored_table(self) -> None:
        piece = round_slug(setting_of(CAMPAIGN))
        for axes, same in ((AxisMap("away", "left"), True), (AxisMap("left", "away"), False)):
            here = Followed(write_gcode(piece, CAMPAIGN.start)).paths[-1][2]
            there = Followed(write_gcode(piece, CAMPAIGN.start, axes=axes)).paths[-1][2]
            self.assertEqual(here[4] == there[4], same)
            self.assertLess(math.dist(axes.to_frame(*there[2:4]), here[2:4]), 0.002)

    def test_words_of_the_profiles(self) -> None:
        strip, square = piece_of("long_strip", CAMPAIGN), piece_of("square", CAMPAIGN)
        controlled = SHIPPED["metric-height-control"]
        program = write_gcode(strip, CAMPAIGN.start, profile=controlled)
        on, off = program.index("M52 P1"), program.index("M52 P0")
        self.assertLess(on, off)
        self.assertNotIn("M52", write_gcode(strip, CAMPAIGN.start, profile=controlled, dry_run=True))
        self.assertNotIn("M52", write_gcode(square, CAMPAIGN.start, profile=controlled))
        by_hand = write_gcode(square, CAMPAIGN.start, profile=SHIPPED["by-hand"])
        self.assertNotRegex(by_hand, r"(?m)^G\d.*Z")
        self.assertLess(by_hand.index("\nM0\n"), by_hand.index("\nM3\n"))
        numbered = write_gcode(square, CAMPAIGN.start, profile=SHIPPED["segments-only"])
        self.assertRegex(numbered, r"(?m)^N\d+ G4 P500$")

    def test_a_profile_that_cannot_be_trusted_is_refused(self) -> None:
        for wrong, words in (
            ({"torch_off": " "}, "never says torch off"),
            ({"torch_on": "M5"}, "word of its own"),
            ({"height_on": "M52 P1"}, "switched off again"),
            ({"decimals": 2}, "strays from the piece"),
            ({"units": "in", "decimals": 4}, "strays from the piece"),
            ({"sets_height": False}, "stop for the hand"),
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

    def test_what_does_not_fit_or_is_not_meant_writes_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "none"
            for words, said in (
                (["long_strip", "--plate", "300x200"], "needs"),
                (["square", "--speeds", "1900,2100"], "speeds: belong to a strip ladder"),
                (["circle"], "there is no piece “circle”"),
                (["square", "--profile", "mine"], "there is no profile “mine”"),
                (["strip_ladder", "--speeds", "fast"], "write numbers with commas"),
                (["strip_ladder", "--speeds", "1900"], "2 to 12 steps"),
            ):
                with self.subTest(said):
                    done = self.run_it(*words, "--out", str(out))
                    self.assertEqual((done.returncode, done.stdout), (2, ""))
                    self.assertIn(said, done.stderr)
                    self.assertFalse(out.exists())


if __name__ == "__main__":
    unittest.main()
