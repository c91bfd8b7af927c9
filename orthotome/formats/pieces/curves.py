"""What the readers of drawings share: their units, how curves become moves, and what is left out."""

import math
from collections.abc import Callable, Iterator
from itertools import pairwise
from typing import Literal

from orthotome.core.path.paths import Arc, Line, Move, Point

CURVE_MM = 0.002  # farthest that a chord of a spline or an ellipse may lie from it, before arcs are laid through them
Unit = Literal["mm", "in"]
PER_MM: dict[str, float] = {
    "mm": 1.0,
    "cm": 10.0,
    "in": 25.4,
    "pt": 25.4 / 72,
    "pc": 25.4 / 6,
    "px": 25.4 / 96,
    "": 25.4 / 96,
}
# What the readers raise at a file whose numbers or structure are not what they should be.
BADLY_WRITTEN = (
    ValueError,
    ArithmeticError,
    LookupError,
    TypeError,
    AttributeError,
    AssertionError,
    RecursionError,
)
_FLAT_MM = 1e-4  # an arc that bends less is a line: its centre would be rounding


def arc_or_line(start: Point, end: Point, centre: Point, *, clockwise: bool) -> Move:
    """An arc that is less than a whole turn, or a line where it does not bend."""
    radius, half = math.dist(start, centre), math.dist(start, end) / 2
    flat = radius > half and radius - math.sqrt(radius**2 - half**2) < _FLAT_MM
    across = (end[0] - start[0]) * (centre[1] - start[1]) - (end[1] - start[1]) * (centre[0] - start[0])
    short_way = (across < 0) == clockwise  # its centre lies where the shorter arc's does
    return Line(start, end) if flat and short_way else Arc(start, end, centre, clockwise)


def bulged(start: Point, end: Point, bulge: float) -> Move:
    """From one point to another with a bulge: the tangent of a quarter of the angle, positive to the right."""
    chord = math.dist(start, end)
    if abs(bulge) * chord / 2 < _FLAT_MM:
        return Line(start, end)
    rise = (1 - bulge**2) / (4 * bulge)  # of the centre to the left of the chord, in chords
    x = (start[0] + end[0]) / 2 - rise * (end[1] - start[1])
    y = (start[1] + end[1]) / 2 + rise * (end[0] - start[0])
    return Arc(start, end, (x, y), clockwise=bulge < 0)


def chords(at: Callable[[float], Point], bend_mm: float) -> Iterator[Line]:
    """Chords of a curve over 0 to 1, whose second derivative is at most ``bend_mm``: within CURVE_MM.

    A chord over a step h of such a curve strays h^2 / 8 times that derivative.
    """
    count = max(4, min(2000, math.ceil(math.sqrt(bend_mm / (8 * CURVE_MM)))))
    yield from (Line(a, b) for a, b in pairwise([at(i / count) for i in range(count + 1)]))
