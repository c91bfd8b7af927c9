"""Drawings read back: made by other programs' libraries, by hand, and by Orthotome itself."""

import contextlib
import io
import math
import re
import unittest
from pathlib import Path

import ezdxf
from ezdxf import units
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import Arc
from orthotome.core.path.rings import Ring, depths
from orthotome.core.pieces import PieceBasis, corner, own_part
from orthotome.formats.pieces.drawing import read_drawing
from orthotome.formats.pieces.dxf import write_dxf
from orthotome.formats.pieces.own_part import rings_from_file, rings_to_file
from orthotome.formats.pieces.piece_set import basis_of
from orthotome.formats.trial.campaign import read_campaign

ROOT = Path(__file__).parents[2]
CAMPAIGN = read_campaign((ROOT / "docs/formats/campaign.example.json").read_bytes())


def dxf(unit: int = units.MM) -> tuple["ezdxf.document.Drawing", "ezdxf.layouts.Modelspace"]:
    drawing = ezdxf.new("R2010", units=unit)
    return drawing, drawing.modelspace()


def text_of(drawing: "ezdxf.document.Drawing") -> bytes:
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def areas(rings: tuple[Ring, ...]) -> list[float]:
    return sorted(abs(r.area_mm2) for r in rings)


class Dxf(unittest.TestCase):
    def test_every_kind_of_curve_closes_and_keeps_its_arcs(self) -> None:
        drawing, space = dxf()
        space.add_lwpolyline([(0, 0, 0), (100, 0, 0.41421356), (120, 20, 0), (120, 80, 0), (0, 80, 0)],
                             format="xyb", close=True)  # fmt: skip
        space.add_circle((30, 40), 10)
        space.add_arc((70, 40), 12, 0, 180)
        space.add_line((58, 40), (82, 40))
        space.add_ellipse((100, 55), (8, 0), 0.5)
        space.add_text("not a contour")
        found = read_drawing(text_of(drawing))
        self.assertEqual(depths(found.rings).count(1), 3)
        self.assertEqual(found.notes, ("Left out: 1 × text.",))
        half, ring, oval = math.pi * 72, math.pi * 100, math.pi * 32
        # The rounded corner: a quarter of 20 mm instead of a square of it.
        sheet = 120 * 80 - 400 + math.pi * 100
        for read, drawn in zip(areas(found.rings), sorted((half, ring, oval, sheet)), strict=True):
            self.assertAlmostEqual(read / drawn, 1, delta=0.002)  # the oval's chords: 0.01 mm
        arcs = sum(isinstance(m, Arc) for r in found.rings for m in r.moves)
        self.assertEqual(arcs, 3)  # of the corner, the circle and the half round; the oval is chords

    def test_inches_blocks_and_mirrored_entities_come_out_in_mm(self) -> None:
        drawing, space = dxf(units.IN)
        block = drawing.blocks.new("HOLE")
        block.add_circle((0, 0), 0.5)
        space.add_blockref("HOLE", (2, 1))
        space.add_circle((-1, 1), 0.25, dxfattribs={"extrusion": (0, 0, -1)})  # mirrored: at X +1
        space.add_lwpolyline([(0, 0), (3, 0), (3, 2), (0, 2)], close=True)
        rings = read_drawing(text_of(drawing)).rings
        self.assertEqual(sorted(depths(rings)), [0, 1, 1])
        for read, drawn in zip(areas(rings), (math.pi / 16, math.pi / 4, 6), strict=True):
            self.assertAlmostEqual(read / 25.4**2 / drawn, 1, delta=0.002)

    def test_a_drawing_without_a_unit_asks_for_it(self) -> None:
        drawing, space = dxf(0)
        space.add_circle((0, 0), 1)
        with self.assertRaisesRegex(TradeError, "unit: the drawing does not name its unit"):
            read_drawing(text_of(drawing))
        self.assertAlmostEqual(areas(read_drawing(text_of(drawing), "in").rings)[0] / 645.16, math.pi, 2)

    def test_orthotomes_own_drawing_comes_back_as_the_same_part(self) -> None:
        setting = basis_of(CAMPAIGN)
        piece = corner(setting)
        found = read_drawing(write_dxf(piece).encode())
        self.assertEqual(found.notes, ("Only the layer KEPT was read.",))
        again = own_part(setting, found.rings, "corner")
        (was,), (now,) = piece.parts, again.parts
        self.assertAlmostEqual(Polygon(was.outline).area, Polygon(now.outline).area, places=6)


class Svg(unittest.TestCase):
    def svg(self, body: str, size: str = 'width="200mm" height="100mm" viewBox="0 0 400 200"') -> bytes:
        return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'.encode()

    def test_shapes_paths_and_transforms_to_scale_and_the_right_way_up(self) -> None:
        found = read_drawing(
            self.svg(
                '<g transform="translate(20 10)"><rect width="200" height="100" rx="20"/>'
                '<circle cx="60" cy="40" r="20"/></g>'
                '<path d="M150 80 h40 v-20 q-20 -10 -40 0 Z"/><text>x</text>'
            )
        )
        self.assertEqual(found.notes, ("Left out: 1 × text.",))
        self.assertEqual(sorted(depths(found.rings)), [0, 1, 1])
        # Half a millimetre to a unit: 100 x 50 with corners of 10 mm; a hole of 10 mm radius.
        wanted = (100 * 50 - (4 - math.pi) * 100, math.pi * 100)
        read = areas(found.rings)
        self.assertAlmostEqual(read[2] / wanted[0], 1, places=3)
        self.assertIn(round(wanted[1]), [round(a) for a in read])
        hole = next(r for r in found.rings if isinstance(r.moves[0], Arc) and len(r.moves) == 1)
        # Y runs up here: the hole's upper edge lies 10 mm under the rounded part's.
        self.assertAlmostEqual(max(y for _, y in hole.points()), -15, delta=0.03)

    def test_a_drawing_in_pixels_says_what_was_taken_for_an_inch(self) -> None:
        found = read_drawing(self.svg('<rect width="96" height="96"/>', 'width="400" height="300"'))
        self.assertAlmostEqual(areas(found.rings)[0], 645.16, places=6)
        self.assertIn("96 of its units were taken as an inch", found.notes[0])


def _whole_dxf() -> str:
    drawing, space = dxf()
    space.add_lwpolyline([(0, 0, 0), (90, 0, 0.4), (90, 60, 0), (0, 60, 0)], format="xyb", close=True)
    space.add_circle((30, 30), 9)
    space.add_spline([(60, 20), (70, 30), (60, 40), (60, 20)])
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()


WHOLE = {
    "dxf": _whole_dxf(),
    "svg": '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 180 120">'
    '<g transform="rotate(10 90 60) scale(0.8)"><rect width="170" height="110" rx="9"/></g>'
    '<path d="M40 40 h40 v20 q-20 10 -40 0 Z"/><ellipse cx="120" cy="60" rx="20" ry="9"/></svg>',
}
damage = st.one_of(
    st.sampled_from(["-", "e9", "nan", "1e400", "\n", "0", "<", '"']), st.text(max_size=12)
)


class Refused(unittest.TestCase):
    def test_what_is_no_drawing_says_so(self) -> None:
        open_svg = (
            b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm"><path d="M0 0 L9 0 L9 9"/></svg>'
        )
        for content, said in (
            (b"", "is empty"),
            (b"hello", "neither a DXF"),
            (b"\x00\xff" * 500, "neither a DXF"),
            (b"<svg><path", "not a whole SVG"),
            (b'<?xml version="1.0"?><!DOCTYPE s [<!ENTITY a "b">]><svg/>', "entities of its own"),
            (b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M nonsense"/></svg>', "drawing"),
            (b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm"/>', "no lines or curves"),
            (
                b'<svg xmlns="http://www.w3.org/2000/svg"><rect transform="shift(3)" width="9" height="9"/></svg>',
                "not written as SVG",
            ),
            (open_svg, "open at X 0.00"),
            (b"x" * 8_000_001, "over 8 MB"),
        ):
            with self.subTest(said), self.assertRaisesRegex(TradeError, said):
                read_drawing(content)

    def test_a_number_that_is_broken_is_refused_and_not_repaired(self) -> None:
        whole = write_dxf(corner(PieceBasis(8, 1.8, "clockwise", 2100, 1.5)))
        kept = whole[whole.index("LWPOLYLINE") :]
        number = re.findall(r"(?m)^\d+\.\d{9,}$", kept)[0]
        for broken in (number[:4] + "x" + number[4:], "1e999", "nan"):
            with self.subTest(broken), self.assertRaises(TradeError):
                read_drawing(whole.replace(number, broken).encode())

    @settings(max_examples=60)
    @given(st.sampled_from(["dxf", "svg"]), st.lists(st.tuples(st.floats(0, 0.999), damage), min_size=1))
    def test_a_damaged_file_is_read_or_refused_in_words(
        self, kind: str, hurt: list[tuple[float, str]]
    ) -> None:
        text = WHOLE[kind]
        for where, what in hurt:
            at = int(where * len(text))
            text = text[:at] + what + text[at + len(what) // 2 :]
        with contextlib.suppress(TradeError):
            for ring in read_drawing(text.encode("utf-8", "replace"), "mm").rings:
                self.assertTrue(all(math.isfinite(v) for p in ring.points() for v in p))

    def test_the_open_file_is_its_own_inverse(self) -> None:
        found = read_drawing(write_dxf(corner(PieceBasis(8, 1.8, "clockwise", 2100, 1.5))).encode())
        again = rings_from_file(rings_to_file(found.rings))
        self.assertEqual(rings_to_file(again), rings_to_file(found.rings))
        self.assertEqual(len(again[0].moves), len(found.rings[0].moves))


if __name__ == "__main__":
    unittest.main()
