"""A shop's own drawing, DXF or SVG, read for its closed contours, in mm: as a viewer would show it, or refused.

Lines and circular arcs stay what they are; other curves become arcs, within a hundredth of a millimetre.
What is no contour (text, dimensions, fills) or is hidden is left out and said so.
"""

import math
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from orthotome.core.errors import TradeError
from orthotome.core.path.fitting import arcs_fitted
from orthotome.core.path.paths import Line, Move, farthest_points
from orthotome.core.path.rings import JOIN_MM, MOST_POINTS, Ring, as_circle, chained, depths, extent
from orthotome.core.quantities import length
from orthotome.formats.pieces.curves import BADLY_WRITTEN, Unit
from orthotome.formats.pieces.dxf_drawing import dxf_edges
from orthotome.formats.pieces.svg_drawing import svg_edges

MOST_BYTES = 8_000_000
MOST_RINGS = 2_000
LARGEST_MM = 50_000.0  # across; no table is larger
FARTHEST_MM = 1e7  # from the drawing's zero: numbers keep their thousandths. Assumption
_MOST_MOVES = 3 * MOST_POINTS  # as curves are drawn in chords, before arcs are laid through them
_LEAST_MM = 1e-4  # shorter moves are dust of the drawing


@dataclass(frozen=True)
class DrawingRead:
    """The contours of a drawing, and what is to be said about how it was read."""

    rings: tuple[Ring, ...]
    notes: tuple[str, ...]
    measured: "Measured"


@dataclass(frozen=True)
class Measured:
    """What contours come to: how many of them enclose metal, how many are holes, and their extent in mm."""

    outlines: int
    holes: int
    size_mm: tuple[float, float]

    @property
    def in_words(self) -> str:
        """To be held against the drawing."""
        return (
            f"Read: {length(self.size_mm[0])} × {length(self.size_mm[1])}, {self.outlines} "
            f"{'outline' if self.outlines == 1 else 'outlines'}, {self.holes} "
            f"{'hole' if self.holes == 1 else 'holes'}."
        )


def measured(rings: Sequence[Ring]) -> Measured:
    """What the contours of a drawing come to."""
    holes = sum(d % 2 for d in depths(rings))
    return Measured(len(rings) - holes, holes, extent(rings))


def read_drawing(content: bytes, unit: Unit | None = None) -> DrawingRead:
    """The contours of a DXF or SVG file. ``unit``, where it is given, is that of the drawing's numbers, whatever
    the file says of itself.

    Raises TradeError saying what is wrong and where.
    """
    if len(content) > MOST_BYTES:
        raise TradeError("drawing", f"is over {MOST_BYTES // 1_000_000} MB: too large for a test part.")
    if not content.strip():
        raise TradeError("drawing", "is empty.")
    start = content.lstrip()[:400].lower()
    svg = start.startswith((b"<?xml", b"<svg", b"<!doctype svg", b"<!--", b"\xef\xbb\xbf<"))
    try:
        edges, notes = svg_edges(content, unit) if svg else dxf_edges(content, unit)
    except BADLY_WRITTEN as wrong:
        if isinstance(wrong, TradeError):
            raise
        raise TradeError("drawing", "holds a shape whose numbers make no sense.") from None
    kept = [m for m in edges if not _is_dust(m)]
    if not kept:
        hidden = f" {' '.join(notes)}" if notes else ""
        raise TradeError("drawing", f"holds no lines or curves that a torch could follow.{hidden}")
    if len(kept) > _MOST_MOVES:
        raise TradeError("drawing", "is too fine to be a test part: simplify its curves.")
    if any(not math.isfinite(v) for m in kept for v in (*m.start, *m.end)):
        raise TradeError("drawing", "holds a point that is not a number.")
    _check_size(kept)
    if _gaps_joined(kept):
        notes = [*notes, f"Ends less than {length(JOIN_MM)} apart were joined."]
    drawn = chained(kept)
    rings = tuple(_with_arcs(r) for r in drawn)
    notes = [*notes, *_fewer(drawn, rings)]
    if len(rings) > MOST_RINGS:
        raise TradeError(
            "drawing", f"holds {len(rings)} contours: more than {MOST_RINGS} are no test part."
        )
    return DrawingRead(rings, tuple(notes), measured(rings))


def _with_arcs(ring: Ring) -> Ring:
    """A circle in parts as one, and arcs in place of chords that follow one."""
    circle = as_circle(ring)
    return circle if circle is not ring else arcs_fitted(ring)


def _fewer(drawn: Sequence[Ring], rings: Sequence[Ring]) -> list[str]:
    """What became of curves in chords: what is cut is said beside what was drawn."""
    before, after = (sum(len(r.moves) for r in of) for of in (drawn, rings))
    return [f"{before} lines and arcs became {after}: curves are cut in arcs."] if after < before else []


def _check_size(moves: list[Move]) -> None:
    """Raise TradeError for what is larger than any table, or lies so far from its zero that its numbers lose their
    thousandths. An arc counts as far as it goes, and not by its centre: a camber of 60 m on a bar is ordinary."""
    points = [p for m in moves for p in farthest_points(m)]
    across = max(max(values) - min(values) for values in zip(*points, strict=True))
    if across > LARGEST_MM:
        raise TradeError("drawing", f"is {length(across)} across, more than any table: check its unit.")
    if (away := max(abs(v) for p in points for v in p)) > FARTHEST_MM:
        raise TradeError(
            "drawing", f"lies {length(away)} from its zero: move it nearer, and check its unit."
        )


def _is_dust(move: Move) -> bool:
    across = move.end if isinstance(move, Line) else move.centre
    return math.dist(move.start, across) < _LEAST_MM


def _gaps_joined(edges: Iterable[Move]) -> bool:
    """Whether any end has no other at just its place, so that neighbours will be joined."""
    ends = Counter((round(p[0], 3), round(p[1], 3)) for m in edges for p in (m.start, m.end))
    return any(n % 2 for n in ends.values())
