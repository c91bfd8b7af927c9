"""Two hundred drawings of a shop's own, made at random, against shapely: read, moved by half a kerf, and cut.

Outlines that bow gently inward, splines, ellipses, turned slots and small windows; nested, copied, turned and scaled in
SVG and in DXF, in millimetres and in inches.
"""

import math
import random
import unittest
from dataclasses import dataclass

import ezdxf
from ezdxf import units
from shapely import LineString, Polygon, affinity, box, unary_union
from shapely import Point as Spot

from orthotome.core.path.rings import Ring, depths
from orthotome.core.pieces import PieceBasis, own_part
from orthotome.formats.pieces.drawing import read_drawing
from tests.core.pieces.test_piece_geometry import burnt, nominal
from tests.enough import cases
from tests.formats.test_drawing import text_of

DRAWINGS = len(cases(50, 200))
Corners = list[tuple[float, float]]


@dataclass(frozen=True)
class Drawn:
    """A drawing with the part that it means, in mm."""

    content: bytes
    part: Polygon


def bowed(rng: random.Random) -> Corners:
    """A round that bows gently in and out, in chords: inside corners of less than a degree."""
    radius, depth, waves = rng.uniform(45, 80), rng.uniform(0.01, 0.12), rng.randint(2, 5)
    return [
        (
            radius * (1 + depth * math.sin(waves * t)) * math.cos(t),
            radius * (1 + depth * math.sin(waves * t)) * math.sin(t),
        )
        for t in (2 * math.pi * i / 360 for i in range(360))
    ]


def plain(rng: random.Random) -> Corners:
    """An angle with one inside corner."""
    a, b = rng.uniform(90, 130), rng.uniform(28, 40)
    return [
        (-a / 2, -a / 2),
        (a / 2, -a / 2),
        (a / 2, b - a / 2),
        (b, b),
        (b - a / 2, a / 2),
        (-a / 2, a / 2),
    ]


def window(rng: random.Random) -> tuple[str, tuple[float, ...], Polygon]:
    """(kind, numbers, shape) of a window about the middle."""
    kind = rng.choice(["ellipse", "slot", "square", "circle"])
    if kind == "ellipse":
        a, b = rng.uniform(6, 9), rng.uniform(4, 6)
        return kind, (a, b), affinity.scale(Spot(0, 0).buffer(1, quad_segs=180), a, b)
    if kind == "slot":
        long, r = rng.uniform(4, 10), rng.uniform(2.5, 4)
        return kind, (long, r), LineString([(-long / 2, 0), (long / 2, 0)]).buffer(r, quad_segs=120)
    if kind == "square":
        side = rng.uniform(6, 12)
        return kind, (side,), box(-side / 2, -side / 2, side / 2, side / 2)
    r = rng.uniform(3, 8)
    return kind, (r,), Spot(0, 0).buffer(r, quad_segs=180)


def in_svg_words(kind: str, v: tuple[float, ...]) -> str:
    """A window as SVG writes it."""
    if kind == "ellipse":
        return f'<ellipse rx="{v[0]}" ry="{v[1]}"/>'
    if kind == "circle":
        return f'<circle r="{v[0]}"/>'
    if kind == "square":
        return f'<rect x="{-v[0] / 2}" y="{-v[0] / 2}" width="{v[0]}" height="{v[0]}"/>'
    long, r = v
    return (
        f'<path d="M{-long / 2} {-r}h{long}a{r} {r} 0 0 1 0 {2 * r}h{-long}a{r} {r} 0 0 1 0 {-2 * r}z"/>'
    )


def in_svg(rng: random.Random, outline: Corners, turn: float, scale: float) -> Drawn:
    """The outline in a group that is turned and scaled, its windows copied from definitions, letterboxed."""
    shapes, holes = [], []
    for n, (x, y) in enumerate([(-22, -22), (-22, 8)]):
        kind, v, shape = window(rng)
        body = in_svg_words(kind, v)
        angle = rng.uniform(0, 180)
        shapes.append(
            f'<defs><g id="w{n}">{body}</g></defs><a><use href="#w{n}" '
            f'transform="translate({x} {y}) rotate({angle})"/></a>'
        )
        holes.append(affinity.translate(affinity.rotate(shape, angle, origin=(0, 0)), x, y))
    corners = " ".join(f"{x:.5f},{y:.5f}" for x, y in outline)
    hidden = '<g style="display:none"><rect x="-200" y="-200" width="9" height="9"/></g>'
    text = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="800mm" height="400mm" viewBox="0 0 400 400">'
        f'<svg x="100" y="100" width="200" height="200" viewBox="-100 -100 200 200">{hidden}'
        f'<g style="transform:rotate({turn}deg) scale({scale})"><polygon points="{corners}"/>'
        f"{''.join(shapes)}</g></svg></svg>"
    )
    return Drawn(
        text.encode(), affinity.scale(Polygon(outline, [h.exterior.coords for h in holes]), scale, scale)
    )


def in_dxf(rng: random.Random, outline: Corners, turn: float, scale: float) -> Drawn:
    """The same in a block that is put in turned and scaled, in inches or millimetres."""
    inch = rng.random() < 0.5
    drawing = ezdxf.new("R2010", units=units.IN if inch else units.MM)
    block, unit = drawing.blocks.new("PART"), 25.4 if inch else 1.0

    def at(x: float, y: float) -> tuple[float, float]:
        return round(x / unit, 6), round(y / unit, 6)

    holes = []
    if rng.random() < 0.5:
        block.add_lwpolyline([(*at(x, y), 1e-15) for x, y in outline], format="xyb", close=True)
        edge = outline
    else:
        control = outline[:: max(1, len(outline) // 24)]
        block.add_spline().set_closed([(*at(x, y), 0) for x, y in control])
        edge = smooth(control)
    for x, y in [(-22, -22), (-22, 8)]:
        kind, v, shape = window(rng)
        angle = rng.uniform(0, 180)
        c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
        if kind == "ellipse":
            block.add_ellipse(at(x, y), (v[0] * c / unit, v[0] * s / unit), v[1] / v[0])
        elif kind == "circle":
            block.add_circle(at(x, y), v[0] / unit)
        elif kind == "square":
            h = v[0] / 2
            ends = [
                at(x + c * u - s * w, y + s * u + c * w) for u, w in ((-h, -h), (h, -h), (h, h), (-h, h))
            ]
            for a, b in zip(ends, [*ends[1:], ends[0]], strict=True):
                block.add_line(a, b)
        else:
            h, r = v[0] / 2, v[1]
            ends = [
                (*at(x + c * u - s * w, y + s * u + c * w), bulge)
                for u, w, bulge in ((-h, -r, 0), (h, -r, 1), (h, r, 0), (-h, r, 1))
            ]
            block.add_lwpolyline(ends, format="xyb", close=True)
        holes.append(affinity.translate(affinity.rotate(shape, angle, origin=(0, 0)), x, y))
    space = drawing.modelspace()
    space.add_blockref(
        "PART", (3, 4), dxfattribs={"rotation": turn, "xscale": scale, "yscale": scale, "zscale": scale}
    )
    drawing.layers.add("AWAY").off()
    space.add_circle((500, 500), 30, dxfattribs={"layer": "AWAY"})
    part = affinity.scale(Polygon(edge, [h.exterior.coords for h in holes]), scale, scale)
    return Drawn(text_of(drawing), part)


def smooth(control: Corners) -> Corners:
    """A closed uniform cubic spline by its textbook basis."""
    n, found = len(control), []
    for i in range(n):
        p = [control[(i + k) % n] for k in range(4)]
        for step in range(60):
            t = step / 60
            basis = ((1 - t) ** 3, 3 * t**3 - 6 * t**2 + 4, -3 * t**3 + 3 * t**2 + 3 * t + 1, t**3)
            x, y = (sum(b * q[axis] for b, q in zip(basis, p, strict=True)) / 6 for axis in (0, 1))
            found.append((x, y))
    return found


def shape_of(rings: tuple[Ring, ...]) -> Polygon:
    """The one part that rings mean."""
    loops = [r.points(0.002) for r in rings]
    outside = depths(rings).index(0)
    return Polygon(loops[outside], [loop for i, loop in enumerate(loops) if i != outside])


class OwnDrawings(unittest.TestCase):
    def test_each_is_read_and_cut_as_it_was_drawn(self) -> None:
        for seed in range(DRAWINGS):
            rng = random.Random(seed)
            outline = rng.choice([bowed, plain])(rng)
            turn, scale = rng.uniform(-180, 180), rng.uniform(0.9, 1.6)
            drawn = rng.choice([in_svg, in_dxf])(rng, outline, turn, scale)
            basis = PieceBasis(rng.uniform(1.5, 5), rng.uniform(0.9, 2.0), "clockwise", 2400, 1.5)
            with self.subTest(seed):
                found = read_drawing(drawn.content)
                read = shape_of(found.rings)
                self.assertAlmostEqual(read.area / drawn.part.area, 1, delta=2e-4)
                self.assertEqual(len(read.interiors), 2)
                piece = own_part(basis, found.rings, "own")
                self.assertEqual(piece.size_mm, found.measured.size_mm)  # one size, wherever it is said
                self.assert_cut(piece, basis, drawn.part.area)

    def assert_cut(self, piece: object, basis: PieceBasis, area: float) -> None:
        kerf = basis.kerf_mm
        gone = unary_union([burnt(c, kerf) for c in piece.contours])  # type: ignore[attr-defined]
        (part,) = nominal(piece)  # type: ignore[arg-type]
        self.assertAlmostEqual(part.area / area, 1, delta=3e-4)
        self.assertLess(part.intersection(gone).area, 0.004 * part.length)  # 4 um along its edges
        left = box(0, 0, *piece.plate_mm).difference(gone)  # type: ignore[attr-defined]
        (kept,) = [g for g in left.geoms if g.contains(part.representative_point())]
        # What a jet of this width can leave: inside corners keep its radius.
        meant = part.buffer(kerf / 2, quad_segs=48).buffer(-kerf / 2, quad_segs=48)
        self.assertLess(kept.hausdorff_distance(meant), 0.06)


if __name__ == "__main__":
    unittest.main()
