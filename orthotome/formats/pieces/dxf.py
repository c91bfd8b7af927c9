"""A piece as a DXF drawing, one millimetre a unit: kept edges, cuts, leads and marks on their own layers."""

import io
import math
from typing import TYPE_CHECKING

from orthotome.core.path.paths import Line, Move, Point, sweep_rad
from orthotome.core.pieces import Piece

if TYPE_CHECKING:
    from ezdxf.layouts.layout import Modelspace

# Layer and its colour by the drawing's own index: white, grey, red, blue.
LAYERS = {"KEPT": 7, "CUT": 8, "LEADS": 1, "MARKS": 5, "TEXT": 7}
_LAYER_OF = {"cut": "CUT", "lead_in": "LEADS", "overrun": "LEADS", "mark": "MARKS"}


def write_dxf(piece: Piece) -> str:
    """The drawing as DXF text."""
    import ezdxf  # noqa: PLC0415 (start-up time)
    from ezdxf import units  # noqa: PLC0415

    drawing = ezdxf.new("R2010", units=units.MM)  # type: ignore[attr-defined]
    for name, colour in LAYERS.items():
        drawing.layers.add(name, color=colour)
    space = drawing.modelspace()
    for part in piece.parts:
        for outline in (part.outline, *part.holes):
            space.add_lwpolyline(outline, close=True, dxfattribs={"layer": "KEPT"})
    for number, contour in enumerate(piece.contours, 1):
        for segment in contour.segments:
            for move in segment.moves:
                _draw(space, move, _LAYER_OF[segment.kind])
        text = space.add_text(str(number), height=3.0, dxfattribs={"layer": "TEXT"})
        text.set_placement(contour.pierce_at)
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()


def _draw(space: "Modelspace", move: Move, layer: str) -> None:
    attributes = {"layer": layer}
    if isinstance(move, Line):
        space.add_line(move.start, move.end, dxfattribs=attributes)
        return
    radius = math.dist(move.start, move.centre)
    if abs(sweep_rad(move)) > 2 * math.pi - 1e-9:
        space.add_circle(move.centre, radius, dxfattribs=attributes)
        return

    def angle(p: Point) -> float:
        return math.degrees(math.atan2(p[1] - move.centre[1], p[0] - move.centre[0]))

    first, last = (move.end, move.start) if move.clockwise else (move.start, move.end)
    space.add_arc(move.centre, radius, angle(first), angle(last), dxfattribs=attributes)
