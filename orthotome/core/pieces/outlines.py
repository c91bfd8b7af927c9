"""Pieces with an outline: the square, the corners, and the long strip."""

import math
from dataclasses import replace

from orthotome.core.errors import TradeError
from orthotome.core.paths import Point
from orthotome.core.pieces.piece import (
    CLIP_MM,
    Part,
    Piece,
    PieceName,
    PieceSetting,
    clipped_rectangle,
    nick_marks,
    outside_contour,
    placed,
)

CORNER_ANGLES_DEG = (90, 60, 45)  # of the teeth of the corner piece


def square_size_mm(thickness_mm: float) -> float:
    """A side that a gauge can sit on and that lets speed settle: 40 mm, more on plate."""
    return max(40.0, 5.0 * thickness_mm)


def square(setting: PieceSetting, size_mm: float | None = None, number: int = 0) -> Piece:
    """A square with one clipped corner, cut along 0, 90, 180 and 270 degrees, kept inside.

    The clipped corner is the one away from the operator on the right. With the good side on the
    right of travel the outside runs clockwise; else the other way round.
    """
    side = square_size_mm(setting.thickness_mm) if size_mm is None else size_mm
    if side < 3 * CLIP_MM:
        raise TradeError("size_mm", f"a test square needs at least {3 * CLIP_MM:g} mm to be read.")
    outline = clipped_rectangle(side, side)
    return _outlined("square", f"{side:g} mm square", outline, setting, number)


def long_strip(setting: PieceSetting, length_mm: float = 400.0, number: int = 0) -> Piece:
    """A long strip for a warped sheet: it proves height control, which is on for this one piece."""
    width = max(25.0, 3.0 * setting.thickness_mm)
    outline = clipped_rectangle(length_mm, width)
    strip = _outlined("long_strip", f"{length_mm:g} mm strip", outline, setting, number)
    *marks, loop = strip.contours
    return replace(strip, contours=(*marks, replace(loop, height_control=True)))


def corner(setting: PieceSetting, number: int = 0) -> Piece:
    """A bar with three teeth of 90, 60 and 45 degrees: how height control and acceleration do in detail."""
    depth = max(18.0, 2.5 * setting.thickness_mm)
    gap = max(10.0, 2 * setting.kerf_mm + setting.thickness_mm)
    teeth: list[Point] = []
    x = gap
    for angle in CORNER_ANGLES_DEG:
        half = depth * math.tan(math.radians(angle / 2))
        teeth += [(x, depth), (x + half, 2 * depth), (x + 2 * half, depth)]
        x += 2 * half + gap
    outline = ((0.0, 0.0), (0.0, depth), *teeth, (x, depth), (x, 0.0))
    return _outlined("corner", "corners of 90, 60 and 45 degrees", outline, setting, number)


def _outlined(
    kind: PieceName, title: str, outline: tuple[Point, ...], setting: PieceSetting, number: int
) -> Piece:
    marks = nick_marks(number, outline, setting)
    contour = outside_contour(title, outline, setting)
    contours, parts = placed([*marks, contour], [Part(outline)])
    xs, ys = [p[0] for p in outline], [p[1] for p in outline]
    size = (max(xs) - min(xs), max(ys) - min(ys))
    return Piece(kind, title, contours, size, parts)
