"""Moves as a file can write them: on its grid of decimals, every one still what it was meant to be.

Rounding is not harmless. An arc whose rounded end falls on its rounded start is read as a whole circle; a
centre rounded without its ends leaves two radii, and a controller refuses the arc or spirals. So points are
rounded first, and what they leave decides: nothing, a line where an arc is flatter than the grid tells, or an
arc whose centre is the point of the grid that gives both ends the same radius.
"""

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from itertools import product

from orthotome.core.path.paths import (
    Arc,
    Line,
    Move,
    Point,
    is_circle,
    length_mm,
    point_along,
    sweep_rad,
)


def on_grid(moves: Iterable[Move], step: float) -> Iterator[Move]:
    """The moves with every point on a grid of ``step``, each beginning where the one before it ends.

    What is shorter than the grid tells is left out. Only a circle that was meant as one ends at its start.
    """
    for move in moves:
        rounded = _line(move, step) if isinstance(move, Line) else _arc(move, step)
        if rounded is not None:
            yield rounded


def rounded(p: Point, step: float) -> Point:
    """The point of the grid nearest to ``p``; never minus zero."""
    return _to(p[0], step), _to(p[1], step)


def _to(value: float, step: float) -> float:
    decimals = round(-math.log10(step))
    return round(value, decimals) + 0.0


def _line(move: Line, step: float) -> Line | None:
    start, end = rounded(move.start, step), rounded(move.end, step)
    return None if start == end else Line(start, end)


def _arc(move: Arc, step: float) -> Move | None:
    start, end = rounded(move.start, step), rounded(move.end, step)
    whole = is_circle(move)
    sweep = abs(sweep_rad(move))
    if start == end and not whole:
        if sweep < math.pi:
            return None
        whole = True  # short of a circle by less than the grid tells
    radius = math.dist(move.start, move.centre)
    if sweep < math.pi and radius * (1 - math.cos(sweep / 2)) < step / 2:
        return Line(start, end)  # its bend is less than the grid tells
    centre = rounded(move.centre, step) if whole else _centre(move, start, end, step)
    written = replace(move, start=start, end=end, centre=centre)
    if centre == start or (not whole and abs(abs(sweep_rad(written)) - sweep) > math.pi):
        return Line(start, end) if start != end else None
    return written


_UNEQUAL = 1.5  # thousandths between the radii that are worth one of the middle


def _centre(move: Arc, start: Point, end: Point, step: float) -> Point:
    """The point of the grid by the true centre that leaves the arc where it was meant to be: its middle stays in place, and its
    ends are equally far from it, as nearly as the grid allows of both (a controller minds the second less)."""
    x, y = rounded(move.centre, step)
    near = [rounded((x + i * step, y + j * step), step) for i, j in product((0, -1, 1), repeat=2)]
    middle = point_along(move, length_mm(move) / 2)

    def off(c: Point) -> float:
        written = replace(move, start=start, end=end, centre=c)
        unequal = abs(math.dist(start, c) - math.dist(end, c))
        return max(unequal / _UNEQUAL, math.dist(middle, point_along(written, length_mm(written) / 2)))

    return min(near, key=off)
