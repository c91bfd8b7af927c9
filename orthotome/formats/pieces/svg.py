"""A piece as a drawing at true scale: kept metal hatched, path, travel, leads and pierces."""

import math
from collections.abc import Callable
from html import escape
from itertools import pairwise

from orthotome.core.path.paths import Line, Point, Segment, flattened
from orthotome.core.pieces import Contour, Part, Piece, numbered_pieces
from orthotome.core.quantities import length, seconds, speed

At = Callable[[Point], str]

_MARGIN_MM = 12.0
_STROKES = {
    "lead_in": 'stroke="#94542E" stroke-width="0.5" stroke-dasharray="1.6 1.1"',
    "cut": 'stroke="#1F2529" stroke-width="0.7"',
    "mark": 'stroke="#1F2529" stroke-width="0.7"',
    "overrun": 'stroke="#94542E" stroke-width="0.5" stroke-dasharray="1.6 1.1"',
}


def write_svg(piece: Piece) -> str:
    """The drawing as SVG text, one millimetre a millimetre, Y up as on the table."""
    x0, y0, x1, y1 = piece.extents_mm
    left, bottom = min(x0, 0.0) - _MARGIN_MM, min(y0, 0.0) - _MARGIN_MM
    width, height = x1 + _MARGIN_MM - left, y1 + _MARGIN_MM - bottom
    top = bottom + height

    def at(p: Point) -> str:
        return f"{p[0] - left:.3f} {top - p[1]:.3f}"

    body = [_part_fill(part, at) for part in piece.parts]
    for number, contour in enumerate(piece.contours, 1):
        # A square's bar of scrap has its square's setting, and needs no label.
        body += _contour(contour, number, at, numbered=piece.kind != "square")
    for number, middle in numbered_pieces(piece):
        x, y = at(middle).split()
        body.append(f'<text x="{x}" y="{y}" text-anchor="middle" font-size="7">{number}</text>')
    zero = at((0.0, 0.0)).split()
    body.append(
        f'<path d="M{zero[0]} {zero[1]}h5M{zero[0]} {zero[1]}v-5" stroke="#2F5796" '
        'stroke-width="0.6" fill="none"/>'
        f'<text x="{float(zero[0]) + 6:.1f}" y="{float(zero[1]) + 1:.1f}" fill="#2F5796">zero</text>'
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.2f}mm" height="{height:.2f}mm" '
        f'viewBox="0 0 {width:.3f} {height:.3f}" font-family="sans-serif" font-size="3.6">'
        f"<title>{escape(piece.title)}</title>"
        f'<rect width="100%" height="100%" fill="#FBFAF6"/>{"".join(body)}</svg>'
    )


def _part_fill(part: Part, at: At) -> str:
    """A kept part; its holes are left out by the even-odd rule."""
    rings = "".join(f"M{'L'.join(at(p) for p in ring)}Z" for ring in (part.outline, *part.holes))
    return f'<path d="{rings}" fill="#D9DCDD" fill-rule="evenodd" stroke="none"/>'


def _contour(contour: Contour, number: int, at: At, *, numbered: bool) -> list[str]:
    drawn = [
        f'<path d="M{"L".join(at(p) for p in s.points)}" fill="none" {_STROKES[s.kind]}/>'
        for s in contour.segments
    ]
    x, y = at(contour.pierce_at).split()
    drawn.append(f'<circle cx="{x}" cy="{y}" r="1.3" fill="#94542E"/>')
    worked = [s for s in contour.segments if s.kind in ("cut", "mark")]
    for segment in worked:
        drawn += [_arrow(a, b, at) for a, b in _stretches(segment)]
    if numbered and contour.inside and worked[-1].kind == "cut":
        end = at(worked[-1].end).split()
        drawn.append(
            f'<text x="{end[0]}" y="{float(end[1]) - 2:.1f}" text-anchor="middle">'
            f"{_label(contour, number)}</text>"
        )
    return drawn


def _label(contour: Contour, number: int) -> str:
    """What sets a contour apart from its neighbours."""
    if contour.pierce_delay_s is not None:
        return f"{number}: {seconds(contour.pierce_delay_s)}"
    return f"{number}: {speed(contour.speed_mm_min)} at {length(contour.cut_height_mm)}"


def _stretches(segment: Segment) -> list[tuple[Point, Point]]:
    """Where an arrow of the travel fits: long lines, and the middle of arcs."""
    found = []
    for move in segment.moves:
        points = [move.start, *flattened(move)]
        middle = len(points) // 2
        pairs = pairwise(points) if isinstance(move, Line) else [(points[middle - 1], points[middle])]
        arc = not isinstance(move, Line)
        found += [(a, b) for a, b in pairs if arc or math.dist(a, b) > 15]
    return found


def _arrow(a: Point, b: Point, at: At) -> str:
    """Arrowhead of the travel, in the middle of a stretch."""
    length = math.dist(a, b)
    ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
    mx, my = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    tip = (mx + 2.2 * ux, my + 2.2 * uy)
    left = (mx - 1.6 * ux - 1.3 * uy, my - 1.6 * uy + 1.3 * ux)
    right = (mx - 1.6 * ux + 1.3 * uy, my - 1.6 * uy - 1.3 * ux)
    return f'<path d="M{at(tip)}L{at(left)}L{at(right)}Z" fill="#1F2529"/>'
