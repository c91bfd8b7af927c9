"""Arcs in place of chords: near enough, fewer, and never in place of what was drawn as sides and corners."""

import math
import random
import unittest
from itertools import pairwise

import numpy as np
from shapely import Polygon

from orthotome.core.path.fitting import WITHIN_MM, arcs_fitted
from orthotome.core.path.paths import Arc, Line, length_mm
from orthotome.core.path.rings import Ring

Corners = list[tuple[float, float]]


def ring_of(corners: Corners) -> Ring:
    return Ring(tuple(Line(a, b) for a, b in pairwise([*corners, corners[0]])))


def off(fitted: Ring, drawn: Ring) -> float:
    """Farthest that either lies from the other."""
    a, b = (Polygon(r.points(0.0005)).exterior for r in (fitted, drawn))
    return max(a.hausdorff_distance(b), b.hausdorff_distance(a))


class Fitted(unittest.TestCase):
    def test_curves_in_chords_become_few_arcs_that_run_beside_them(self) -> None:
        for seed in range(40):
            rng = random.Random(seed)
            big, small, waves = rng.uniform(8, 200), rng.uniform(0.02, 0.2), rng.randint(2, 6)
            n = math.ceil(2 * math.pi / math.sqrt(8 * 0.0015 / (big * (1 + small * waves**2))))
            corners = [
                (big * (1 + small * math.sin(waves * t)) * math.cos(t), big * math.sin(t))
                for t in (2 * math.pi * (i + rng.random() * 0.2) / n for i in range(n))
            ]
            drawn = ring_of(corners)
            fitted = arcs_fitted(drawn)
            with self.subTest(seed):
                # A drawing's chords lie up to 0.002 mm inside of the curve, and an arc between the two.
                self.assertLess(off(fitted, drawn), WITHIN_MM + 0.002)
                self.assertLess(len(fitted.moves), 0.35 * len(drawn.moves))
                self.assertAlmostEqual(fitted.area_mm2 / drawn.area_mm2, 1, delta=1e-4)
                for before, after in pairwise([*fitted.moves, fitted.moves[0]]):
                    self.assertEqual(before.end, after.start)

    def test_sides_and_corners_stay_what_they_are(self) -> None:
        hexagon = [(40 * math.cos(t), 40 * math.sin(t)) for t in np.arange(6) * math.pi / 3]
        many_sided = [(60 * math.cos(t), 60 * math.sin(t)) for t in np.arange(48) * math.pi / 24]
        rack = [(x, y) for i in range(12) for x, y in ((8.0 * i, 0.0), (8.0 * i + 4, 3.0))]
        for corners in (hexagon, many_sided, [*rack, (96.0, 40.0), (0.0, 40.0)]):
            drawn = ring_of([(float(x), float(y)) for x, y in corners])
            fitted = arcs_fitted(drawn)
            self.assertEqual({*fitted.moves}, {*drawn.moves})

    def test_what_was_drawn_as_an_arc_is_left_alone(self) -> None:
        slot = Ring(
            (
                Line((0, 0), (30, 0)),
                Arc((30, 0), (30, 10), (30, 5), clockwise=False),
                Line((30, 10), (0, 10)),
                Arc((0, 10), (0, 0), (0, 5), clockwise=False),
            )
        )
        self.assertEqual({*arcs_fitted(slot).moves}, {*slot.moves})
        self.assertAlmostEqual(sum(map(length_mm, slot.moves)), 60 + 10 * math.pi)


if __name__ == "__main__":
    unittest.main()
