"""Several pieces on one plate: each where it was placed, in an order that spreads the heat."""

import math
from collections.abc import Sequence
from dataclasses import replace

from orthotome.core.path.paths import Point
from orthotome.core.pieces.nesting import Plate, Rectangle, nest
from orthotome.core.pieces.piece import Contour, Part, Piece

MOST_AT_ONCE = 12


def side_by_side(sizes_mm: Sequence[Point]) -> tuple[Rectangle, ...]:
    """Places in rows about as deep as they are wide, where no plate is chosen."""
    columns = math.ceil(math.sqrt(len(sizes_mm)))
    widest = max(w for w, _ in sizes_mm)
    return nest(sizes_mm, Plate(columns * widest, sum(h for _, h in sizes_mm)))


def spread_order(places: Sequence[Point]) -> list[int]:
    """An order in which each place lies far from the two before it, beginning with the first.

    Heat from the last cut would make the next one faster than it is: what lies beside waits.
    """
    order, left = [0], set(range(1, len(places)))
    while left:
        recent = [places[i] for i in order[-2:]]
        chosen = max(left, key=lambda i: (min(math.dist(places[i], p) for p in recent), -i))
        order.append(chosen)
        left.remove(chosen)
    return order


def together(pieces: Sequence[Piece], spots: Sequence[Rectangle], numbers: Sequence[int]) -> Piece:
    """All of them as one piece to program, each named by its number; within each, inside comes first."""
    contours: list[Contour] = []
    parts: list[Part] = []
    for i in spread_order([(s.x_mm, s.y_mm) for s in spots]):
        moved = pieces[i].moved(spots[i].x_mm, spots[i].y_mm)
        n = numbers[i]
        contours += [replace(c, name=f"no. {n}: {c.name}", number=n) for c in moved.contours]
        parts += moved.parts
    width = max(s.x_mm + s.width_mm for s in spots) - min(s.x_mm for s in spots)
    height = max(s.y_mm + s.height_mm for s in spots) - min(s.y_mm for s in spots)
    first = pieces[0]
    title = f"{len(pieces)} pieces, {first.title}"
    notes = tuple(dict.fromkeys(n for p in pieces for n in p.notes))
    return Piece(first.kind, title, tuple(contours), (width, height), tuple(parts), notes)
