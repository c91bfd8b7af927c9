"""Pieces that tell of the machine: a rectangle with a window, a circle each way round, a zig-zag to time, and holes drawn
as they must be to come out right."""

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from orthotome.core.edge.edges import Swirl
from orthotome.core.errors import TradeError
from orthotome.core.machine.hole_table import HoleTable
from orthotome.core.machine.run_up import telling_zig_zag
from orthotome.core.path.paths import Arc, Line, Point, is_circle, straight
from orthotome.core.path.rings import Ring, depths
from orthotome.core.pieces.batch import side_by_side, together
from orthotome.core.pieces.own_part import own_part
from orthotome.core.pieces.piece import PLATE_MARGIN_MM, Contour, Piece, PieceBasis
from orthotome.core.quantities import length, size, whole_size_mm

LEAST_RECTANGLE_MM, LARGEST_RECTANGLE_MM = 100.0, 2000.0
"""Of its shorter and of its longer side: a smaller one tells little, a larger one no tape reads finer. Assumption."""
_WINDOW_SHARE, _WINDOW_MM = 0.35, 100.0  # of the shorter side, and at most: what a calliper's jaws reach
CIRCLE_MM = 120.0  # across: a calliper's reach, and round enough for most tables to hold its speed
_STEP_MM = 10.0


def true_rectangle(basis: PieceBasis, sheet_mm: Point) -> Piece:
    """The largest rectangle that a sheet holds, with a square window in it: an outside and an inside along both axes.

    Raises TradeError where the sheet holds none that would tell anything.
    """
    tried = _rectangle(basis, 300.0, 300.0)
    around_x, around_y = (p - s for p, s in zip(tried.plate_mm, tried.size_mm, strict=True))
    width, height = sheet_mm[0] - around_x, sheet_mm[1] - around_y
    if min(width, height) < LEAST_RECTANGLE_MM:
        least = (LEAST_RECTANGLE_MM + around_x, LEAST_RECTANGLE_MM + around_y)
        raise TradeError(
            "sheet_x_mm",
            f"a sheet of {size(*sheet_mm)} holds no rectangle that tells anything: {size(*least, up=True)} is the least.",
        )
    return _rectangle(basis, _round_down(width), _round_down(height))


def _round_down(mm: float) -> float:
    """A round size that still fits, no larger than is of use."""
    mm = min(mm, LARGEST_RECTANGLE_MM)
    whole = whole_size_mm(_STEP_MM * math.floor(mm / _STEP_MM))
    return whole if whole <= mm else whole_size_mm(mm - 1.5 * _STEP_MM)


def _rectangle(basis: PieceBasis, width: float, height: float) -> Piece:
    window = whole_size_mm(min(_WINDOW_MM, _WINDOW_SHARE * min(width, height)))
    left, low = (width - window) / 2, (height - window) / 2
    rings = [_box(0.0, 0.0, width, height), _box(left, low, window, window)]
    return own_part(basis, rings, f"Rectangle {size(width, height)}, window {length(window)}")


def _box(x: float, y: float, width: float, height: float) -> Ring:
    corners = [(x, y), (x, y + height), (x + width, y + height), (x + width, y)]
    return Ring(tuple(Line(a, b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)))


def two_circles(basis: PieceBasis, diameter_mm: float = CIRCLE_MM) -> Piece:
    """A disc cut each way round: the first with its kept metal on the good side, the second against the swirl."""
    against: Swirl = "counter_clockwise" if basis.swirl == "clockwise" else "clockwise"
    turned = replace(basis, swirl=against)
    pieces = [_disc(b, diameter_mm) for b in (basis, turned)]
    both = together(pieces, side_by_side([p.plate_mm for p in pieces]), [1, 2])
    first = "clockwise" if basis.good == "right" else "counter-clockwise"
    other = "counter-clockwise" if basis.good == "right" else "clockwise"
    return replace(both, title=f"Two discs of {length(diameter_mm)}: no. 1 {first}, no. 2 {other}")


def _disc(basis: PieceBasis, diameter_mm: float) -> Piece:
    start = (diameter_mm / 2, 0.0)
    return own_part(
        basis, [Ring((Arc(start, start, (0.0, 0.0), True),))], f"Disc of {length(diameter_mm)}"
    )


def zig_zag(
    basis: PieceBasis, axis: Literal["x", "y"], speed_mm_min: float, guess_mm_s2: float | None = None
) -> tuple[Piece, int, float]:
    """Legs there and back along an axis, to be run with the torch off and timed; how many, and how long each."""
    legs, leg = telling_zig_zag(speed_mm_min, guess_mm_s2 or basis.acceleration_mm_s2)
    far = (leg, 0.0) if axis == "x" else (0.0, leg)
    points = [(PLATE_MARGIN_MM, PLATE_MARGIN_MM)]
    for n in range(1, legs + 1):
        dx, dy = far if n % 2 else (0.0, 0.0)
        points.append((PLATE_MARGIN_MM + dx, PLATE_MARGIN_MM + dy))
    name = f"{legs} legs of {length(leg)} along {axis.upper()}"
    run = Contour(name, basis.good, False, speed_mm_min, basis.cut_height_mm, (straight("cut", points),))
    note = "Torch off. Start the watch when it begins to move along, stop it when it stands."
    return Piece("own_part", f"Zig-zag to time: {name}", (run,), far, (), (note,)), legs, leg


def holes_fitted(rings: Sequence[Ring], table: HoleTable) -> tuple[list[Ring], list[str]]:
    """The round holes of a drawing drawn so that their smallest way through comes out as it was drawn, and what was changed.

    A round that holds metal is left as it is; so is a hole that would be no plasma hole. Raises TradeError where the holes
    that were tried had no room for the kerf.
    """
    if table.not_compensated is not None:
        raise TradeError("fit_holes", table.not_compensated)
    redrawn, said = [], []
    for ring, depth in zip(rings, depths(rings), strict=True):
        move = ring.moves[0]
        if depth % 2 == 0 or len(ring.moves) > 1 or not isinstance(move, Arc) or not is_circle(move):
            redrawn.append(ring)
            continue
        across = 2 * math.dist(move.start, move.centre)
        try:
            found = table.to_draw(across, "as_drawn")
        except TradeError as no_hole:
            redrawn.append(ring)
            said.append(no_hole.sentence)
            continue
        share = found.draw_mm / across
        (cx, cy), (x, y) = move.centre, move.start
        start = (cx + share * (x - cx), cy + share * (y - cy))
        redrawn.append(Ring((Arc(start, start, move.centre, move.clockwise),)))
        guess = "" if found.known else ", by what is usual"
        said.append(f"The hole of {length(across)} is drawn {length(found.draw_mm)}{guess}.")
    return redrawn, list(dict.fromkeys(said))
