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
from orthotome.core.pieces import Piece, PieceBasis, corner, own_part
from orthotome.formats.pieces.curves import Unit
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
        self.assertEqual(found.notes[0], "Left out: 1 × text.")
        half, ring, oval = math.pi * 72, math.pi * 100, math.pi * 32
        # The rounded corner: a quarter of 20 mm instead of a square of it.
        sheet = 120 * 80 - 400 + math.pi * 100
        for read, drawn in zip(areas(found.rings), sorted((half, ring, oval, sheet)), strict=True):
            self.assertAlmostEqual(read / drawn, 1, delta=0.0005)
        arcs = [sum(isinstance(m, Arc) for m in r.moves) for r in found.rings]
        self.assertEqual(sorted(arcs)[:3], [1, 1, 1])  # of the corner, the circle and the half round
        oval_of = found.rings[arcs.index(max(arcs))]
        self.assertEqual((max(arcs), abs(oval_of.area_mm2) < 102), (len(oval_of.moves), True))
        self.assertIn("lines and arcs became", found.notes[1])

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

    def test_what_a_viewer_does_not_show_is_not_read(self) -> None:
        drawing, space = dxf()
        space.add_lwpolyline([(0, 0), (90, 0), (90, 60), (0, 60)], close=True)
        for name, hide in (("OFF", "off"), ("FROZEN", "freeze")):
            getattr(drawing.layers.add(name), hide)()
            space.add_circle((20, 20), 5, dxfattribs={"layer": name})
        space.add_circle((40, 20), 5, dxfattribs={"invisible": 1})
        block = drawing.blocks.new("HOLE")
        block.add_circle((0, 0), 6)
        for layer in ("OFF", "FROZEN"):  # what lies on layer 0 in a block lies on the layer of the block
            space.add_blockref("HOLE", (60, 40), dxfattribs={"layer": layer})
        space.add_linear_dim(base=(0, 70), p1=(0, 60), p2=(90, 60)).render()
        found = read_drawing(text_of(drawing))
        self.assertEqual(len(found.rings), 1)
        self.assertEqual(
            found.notes,
            ("Left out: 1 × dimension.", "Left out: 1 × hidden block.", "Left out: 4 × hidden entity."),
        )
        self.assertEqual(found.measured.in_words, "Read: 90 mm × 60 mm, 1 outline, 0 holes.")

    def test_what_is_not_flat_is_refused_with_its_place(self) -> None:
        for at, draw in (
            (
                "X 7.00, Y 8.00",
                lambda s: s.add_circle((7, 8), 3, dxfattribs={"extrusion": (0, 0.6, 0.8)}),
            ),
            ("X 1.00, Y 2.00", lambda s: s.add_line((1, 2, 0), (9, 2, 4))),
            ("X 10.00, Y 8.00", lambda s: s.add_circle((7, 8, 12), 3)),
        ):
            drawing, space = dxf()
            space.add_lwpolyline([(0, 0), (90, 0), (90, 60), (0, 60)], close=True)
            draw(space)
            with self.subTest(at), self.assertRaisesRegex(TradeError, at):
                read_drawing(text_of(drawing))

    def test_the_unit_that_was_named_holds_and_the_files_own_is_said(self) -> None:
        drawing, space = dxf(units.MM)
        space.add_circle((0, 0), 1)
        found = read_drawing(text_of(drawing), "in")
        self.assertAlmostEqual(areas(found.rings)[0] / 645.16, math.pi, 2)
        self.assertEqual(
            found.notes,
            ("Its numbers were taken as in, as you said; the file itself says Millimeters.",),
        )

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
        self.assertEqual(found.notes[0], "Left out: 1 × text.")
        self.assertEqual(sorted(depths(found.rings)), [0, 1, 1])
        # Half a millimetre to a unit: 100 x 50 with corners of 10 mm; a hole of 10 mm radius.
        wanted = (100 * 50 - (4 - math.pi) * 100, math.pi * 100)
        read = areas(found.rings)
        self.assertAlmostEqual(read[2] / wanted[0], 1, places=3)
        self.assertIn(round(wanted[1]), [round(a) for a in read])
        hole = next(r for r in found.rings if isinstance(r.moves[0], Arc) and len(r.moves) == 1)
        # Y runs up here: the hole's upper edge lies 10 mm under the rounded part's.
        self.assertAlmostEqual(max(y for _, y in hole.points()), -15, delta=0.03)

    def test_it_is_what_a_viewer_shows(self) -> None:
        square = '<rect width="40" height="40"/>'
        shown = {
            # Two of ours to a millimetre; letterboxed, the smaller of the two scales holds.
            "frame": (self.svg(square), 400),
            "letterbox": (self.svg(square, 'width="400mm" height="100mm" viewBox="0 0 400 200"'), 400),
            "one side": (self.svg(square, 'width="200mm" viewBox="0 0 400 200"'), 400),
            "nested": (
                self.svg(f'<svg width="50" height="50" viewBox="0 0 100 100">{square}</svg>'),
                100,
            ),
            "link": (self.svg(f'<a href="#x">{square}</a>'), 400),
            "copy": (self.svg(f'<defs><g id="s">{square}</g></defs><use href="#s" x="9"/>'), 400),
            "choice": (self.svg(f"<switch>{square}<circle r='3'/></switch>"), 400),
            "style": (self.svg(f'<g style="transform:scale(2)">{square}</g>'), 1600),
            "class": (
                self.svg(f"<style>.b{{transform:scale(2)}}</style><g class='b'>{square}</g>"),
                1600,
            ),
            "unit": (self.svg(square, 'viewBox="0 0 400 200"'), 1600),
        }
        hidden = (
            f'<g style="display:none">{square}</g>',
            f'<g visibility="hidden">{square}</g>',
            '<rect width="9" height="9" fill="none"/>',
            '<rect width="9" height="9" opacity="0"/>',
            f"<symbol id='t'>{square}</symbol>",
            f"<mask id='m'>{square}</mask>",
            f"<clipPath id='c'>{square}</clipPath>",
        )
        for name, (content, area) in shown.items():
            with self.subTest(name):
                with_hidden = content.replace(b"</svg>", "".join(hidden).encode() + b"</svg>")
                unit: Unit | None = "mm" if name == "unit" else None
                for text in (content, with_hidden if content.count(b"</svg>") == 1 else content):
                    (read,) = areas(read_drawing(text, unit).rings)
                    self.assertAlmostEqual(read, area, places=2)

    def test_what_would_be_cut_otherwise_than_it_is_seen_is_refused(self) -> None:
        square = '<rect width="40" height="40"/>'
        for body, said in (
            (f'<g id="top" clip-path="url(#c)">{square}</g>', "behind a clip-path .id top."),
            (
                f'<g style="transform-origin:5px 5px;transform:rotate(3deg)">{square}</g>',
                "origin of its own",
            ),
            ('<path d="M0 0 L9 0 L9 9 z L bogus"/>', "makes no sense at “bogus”"),
            ('<path d="M0 0 L9 0 L9"/>', "too many or too few after “L”"),
            ('<use href="#nothing"/>', "copies “#nothing”, which is not in it"),
            ('<rect width="forty" height="40"/>', "not written as SVG"),
        ):
            with self.subTest(said), self.assertRaisesRegex(TradeError, said):
                read_drawing(self.svg(body))

    def test_what_counts_is_how_large_it_is_and_not_where_an_arcs_centre_lies(self) -> None:
        # A bar of 3 m whose long side is cambered with 60 m; and a small part drawn far from its zero.
        rise = 60_000 - math.sqrt(60_000**2 - 1500**2)
        bar = (
            '<svg xmlns="http://www.w3.org/2000/svg" width="3000mm" height="100mm" viewBox="0 0 3000 100">'
            f'<path d="M0 {rise}A60000 60000 0 0 1 3000 {rise}V90H0Z"/></svg>'
        )
        (ring,) = read_drawing(bar.encode()).rings
        (arc,) = [m for m in ring.moves if isinstance(m, Arc)]
        self.assertAlmostEqual(math.dist(arc.start, arc.centre), 60_000, delta=0.5)
        far = (
            '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="90mm" viewBox="0 0 90 90">'
            '<rect x="100000" width="90" height="60"/></svg>'
        )
        self.assertEqual(len(read_drawing(far.encode()).rings), 1)

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


class Good(unittest.TestCase):
    """Drawings that a jet can cut, and that a reader in a hurry would refuse."""

    SHEET = PieceBasis(1.5, 1.2, "clockwise", 2400, 1.5)

    def cut(self, drawing: "ezdxf.document.Drawing") -> Piece:
        return own_part(self.SHEET, read_drawing(text_of(drawing)).rings, "good")

    def test_small_windows_are_entered_from_their_middle(self) -> None:
        drawing, space = dxf()
        space.add_lwpolyline([(0, 0), (90, 0), (90, 60), (0, 60)], close=True)
        space.add_lwpolyline(
            [(20, 20), (26, 20), (26, 26), (20, 26)], close=True
        )  # 6 mm in 1.5 mm plate
        at = [
            (60 + 4 * math.cos(t), 30 + 4 * math.sin(t)) for t in (math.pi * i / 60 for i in range(120))
        ]
        space.add_lwpolyline(at, close=True)  # a round hole in chords
        half = [(44, 30, 1), (36, 30, 1)]  # and one in two halves
        space.add_lwpolyline(half, format="xyb", close=True)
        piece = self.cut(drawing)
        starts = [c.pierce_at for c in piece.contours if c.inside]
        x, y = piece.parts[0].outline[0]
        middles = [(23, 23), (40, 30), (60, 30)]
        for mx, my in middles:
            near = min(math.dist((px - x, py - y), (mx, my)) for px, py in starts)
            self.assertLess(near, 0.06)

    def test_dust_slivers_and_bulges_of_nothing_are_no_contour_of_their_own(self) -> None:
        drawing, space = dxf()
        corners = [(0, 0, 1e-15), (90, 0, -1e-15), (90, 60, 0), (89.98, 60, 0), (0, 60, 1e-16)]
        space.add_lwpolyline(corners, format="xyb", close=True)
        space.add_line((20, 20), (40, 20.3))  # an inside corner of less than a degree
        space.add_line((40, 20.3), (60, 20.1))
        space.add_line((60, 20.14), (60, 40))  # a gap of 0.04 mm
        space.add_line((60, 40), (20, 40))
        space.add_line((20, 40), (20, 20))
        piece = self.cut(drawing)
        self.assertEqual([c.inside for c in piece.contours], [True, False])
        self.assertAlmostEqual(Polygon(piece.parts[0].outline).area, 5400, delta=1)


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
