"""Curves of an SVG under any transform are cut as a viewer shows them: held against points worked out from the words alone."""

import math
import random
import unittest

import numpy as np
from shapely.geometry import LineString, Point

from orthotome.core.path.paths import Arc, flattened, length_mm
from orthotome.formats.pieces.curves import CURVE_MM
from orthotome.formats.pieces.svg_drawing import svg_edges
from tests.enough import cases

Array = np.ndarray
DENSE = 4000


def circle(r: random.Random) -> tuple[str, Array]:
    x, y, radius = r.uniform(-20, 20), r.uniform(-20, 20), r.uniform(4, 40)
    t = np.linspace(0, 2 * np.pi, DENSE)
    return (
        f'<circle cx="{x}" cy="{y}" r="{radius}"/>',
        np.column_stack([x + radius * np.cos(t), y + radius * np.sin(t)]),
    )


def rounded(r: random.Random) -> tuple[str, Array]:
    w, h, rx, ry = r.uniform(20, 60), r.uniform(20, 60), r.uniform(1, 9), r.uniform(1, 9)
    corners = ((w - rx, ry, -90), (w - rx, h - ry, 0), (rx, h - ry, 90), (rx, ry, 180))
    rounds = []
    for cx, cy, begin in corners:
        a = np.radians(np.linspace(begin, begin + 90, DENSE // 4))
        rounds.append(np.column_stack([cx + rx * np.cos(a), cy + ry * np.sin(a)]))
    points = np.vstack(rounds)
    return f'<rect width="{w}" height="{h}" rx="{rx}" ry="{ry}"/>', np.vstack([points, points[:1]])


def arc(r: random.Random) -> tuple[str, Array]:
    """An elliptic arc of a path, from its centre: the words are worked out from that."""
    cx, cy, rx, ry = r.uniform(-9, 9), r.uniform(-9, 9), r.uniform(5, 40), r.uniform(5, 40)
    tilt, begin, sweep = r.uniform(0, 180), r.uniform(0, 6), r.choice([-1, 1]) * r.uniform(0.4, 5.8)
    t = np.linspace(begin, begin + sweep, DENSE)
    c, s = math.cos(math.radians(tilt)), math.sin(math.radians(tilt))
    x, y = rx * np.cos(t), ry * np.sin(t)
    points = np.column_stack([cx + c * x - s * y, cy + s * x + c * y])
    (x0, y0), (x1, y1) = points[0], points[-1]
    flags = f"{int(abs(sweep) > math.pi)} {int(sweep > 0)}"
    drawn = f'<path d="M{x0} {y0}A{rx} {ry} {tilt} {flags} {x1} {y1}Z"/>'
    return drawn, np.vstack([points, points[:1]])


def cubic(r: random.Random) -> tuple[str, Array]:
    p = np.array([[r.uniform(-50, 50), r.uniform(-50, 50)] for _ in range(4)])
    t = np.linspace(0, 1, DENSE)[:, None]
    points = (1 - t) ** 3 * p[0] + 3 * (1 - t) ** 2 * t * p[1] + 3 * (1 - t) * t**2 * p[2] + t**3 * p[3]
    words = " ".join(f"{x} {y}" for x, y in p[1:])
    return f'<path d="M{p[0][0]} {p[0][1]}C{words}Z"/>', np.vstack([points, points[:1]])


KINDS = (circle, rounded, arc, cubic)


class UnderTransforms(unittest.TestCase):
    def test_every_kind_of_curve_lies_where_a_viewer_shows_it(self) -> None:
        for n in cases(60, 1500):
            r = random.Random(n)
            kind = KINDS[n % len(KINDS)]
            words, points = kind(r)
            inner, outer = matrix(r, n // len(KINDS) % 4), matrix(r, n // 3 % 4)
            drawn = (
                '<svg xmlns="http://www.w3.org/2000/svg" width="400mm" height="400mm" viewBox="0 0 400 400">'
                f'<g transform="{in_words(outer)}"><g transform="{in_words(inner)}">{words}</g></g></svg>'
            )
            shown = through(outer, through(inner, points)) * (1, -1)
            edges, _ = svg_edges(drawn.encode(), None)
            truth = LineString(shown)
            for move in edges:
                along = [move.start, move.end]
                if isinstance(move, Arc):
                    along += flattened(move)
                else:
                    along.append(((along[0][0] + along[1][0]) / 2, (along[0][1] + along[1][1]) / 2))
                for at in along:
                    off = truth.distance(Point(at))
                    self.assertLess(off, 1.5 * CURVE_MM, f"{n}, {kind.__name__}: {drawn}")
            whole = sum(length_mm(m) for m in edges)
            self.assertAlmostEqual(
                whole / truth.length, 1, delta=0.002, msg=f"{n}: not all of it, or twice"
            )


def matrix(r: random.Random, how: int) -> tuple[float, ...]:
    """A turn alone, a mirrored one, a stretch, or any at all with its shear."""
    a = r.uniform(0, 6.28)
    c, s, k = math.cos(a), math.sin(a), r.uniform(0.5, 2)
    if how == 0:
        return (k * c, k * s, -k * s, k * c, r.uniform(-50, 50), r.uniform(-50, 50))
    if how == 1:
        return (k * c, k * s, k * s, -k * c, r.uniform(-50, 50), r.uniform(-50, 50))
    if how == 2:
        return (k, 0.0, 0.0, r.uniform(0.5, 2), 3.0, 4.0)
    return (1.0, r.uniform(-0.3, 0.3), r.choice([0.005, 0.02, r.uniform(-0.8, 0.8)]), 1.0, 5.0, 6.0)


def in_words(m: tuple[float, ...]) -> str:
    return f"matrix({' '.join(repr(v) for v in m)})"


def through(m: tuple[float, ...], points: Array) -> Array:
    a, b, c, d, e, f = m
    x, y = points[:, 0], points[:, 1]
    return np.column_stack([a * x + c * y + e, b * x + d * y + f])


if __name__ == "__main__":
    unittest.main()
