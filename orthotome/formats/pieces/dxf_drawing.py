"""The lines and curves of a DXF drawing that a viewer shows from above; what is not flat is refused.

Hidden is what is invisible, on a layer that is off or frozen, or in a block that was put on a frozen one.
"""

import io
import math
from collections import Counter
from collections.abc import Iterator
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import Arc, Line, Move, Point
from orthotome.core.path.rings import JOIN_MM
from orthotome.core.quantities import length, place
from orthotome.formats.pieces.curves import BADLY_WRITTEN, CURVE_MM, PER_MM, Unit, arc_or_line, bulged

if TYPE_CHECKING:
    from ezdxf.document import Drawing

_CURVES = {"LINE", "ARC", "CIRCLE", "LWPOLYLINE", "POLYLINE", "SPLINE", "ELLIPSE"}
_MOST_DEEP = 20  # of blocks in blocks
_MOST_ENTITIES = 100_000
_MOST_CHORDS = 20_000  # of one span of a spline
_FRAME_OF_SPLINE = 16  # flag of a vertex that only shapes the curve beside it
_FLAT = 1e-6
_LOOKS = 9  # along each span of a spline, to see how much it bends


def dxf_edges(content: bytes, unit: Unit | None) -> tuple[list[Move], list[str]]:
    """The moves of a DXF, in mm, and notes on how it was read."""
    drawing = _opened(content)
    scale, notes = _scale(drawing, unit)
    left_out: Counter[str] = Counter()
    _check_growth(drawing)
    shown = list(_shown(drawing, drawing.modelspace(), None, left_out))
    # A drawing of Orthotome's own says which of its lines is the part.
    kept = [e for e, layer in shown if layer == "KEPT"]
    if kept:
        left_out.clear()
        notes.append("Only the layer KEPT was read.")
    edges: list[Move] = []
    heights: list[tuple[float, Point]] = []
    for entity in kept or [e for e, _ in shown]:
        if entity.dxftype() not in _CURVES or _is_mesh(entity):
            left_out[entity.dxftype().lower()] += 1
            continue
        height, moves = _entity(entity, scale)
        heights.append((height, moves[0].start if moves else (0.0, 0.0)))
        edges += moves
    _check_flat(heights)
    return edges, [*notes, *(f"Left out: {n} × {what}." for what, n in sorted(left_out.items()))]


def _opened(content: bytes) -> "Drawing":
    import ezdxf  # noqa: PLC0415 (start-up time)
    from ezdxf.lldxf.const import DXFError  # noqa: PLC0415

    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", "replace")  # what older drawings are written in
    try:
        # Read strictly: a reader that repairs would change numbers without a word.
        drawing = ezdxf.read(io.StringIO(text))  # type: ignore[attr-defined]
        auditor = drawing.audit()
    except (DXFError, *BADLY_WRITTEN):
        raise TradeError(
            "drawing", "is neither a DXF (in text, not binary) nor an SVG that can be read."
        ) from None
    if auditor.has_errors:
        first = auditor.errors[0].message
        raise TradeError("drawing", f"is damaged: {first}. Save it again as DXF R2010.")
    return drawing


def _scale(drawing: "Drawing", unit: Unit | None) -> tuple[float, list[str]]:
    """(mm to the drawing's unit, what is to be said of it): the one that was named, or else the file's own."""
    from ezdxf import units  # noqa: PLC0415

    own = float(units.conversion_factor(drawing.units, units.MM)) if drawing.units else None  # type: ignore[arg-type]
    if unit is None:
        if own is None:
            raise TradeError(
                "unit", "the drawing does not name its unit: say whether it is mm or inches."
            )
        return own, []
    named = PER_MM[unit]
    if own is not None and not math.isclose(own, named):
        other = units.unit_name(drawing.units)
        return named, [f"Its numbers were taken as {unit}, as you said; the file itself says {other}."]
    return named, []


def _shown(
    drawing: "Drawing", entities: Any, outer: str | None, left_out: Counter[str], deep: int = 0
) -> Iterator[tuple[Any, str]]:
    """Each entity that is seen with its layer, blocks opened; one of a block on layer 0 lies on its block's."""
    for entity in entities:
        layer = entity.dxf.get("layer", "0")
        layer = outer if layer == "0" and outer is not None else layer
        block = entity.dxftype() == "INSERT"
        if entity.dxf.get("invisible", 0) or _is_hidden(drawing, layer, only_frozen=block):
            left_out["hidden entity" if not block else "hidden block"] += 1
        elif not block:
            yield entity, layer
        elif deep >= _MOST_DEEP:
            raise TradeError("drawing", f"holds blocks in blocks more than {_MOST_DEEP} deep.")
        else:
            for one in entity.multi_insert() if entity.mcount > 1 else [entity]:
                yield from _shown(drawing, one.virtual_entities(), layer, left_out, deep + 1)


def _check_growth(drawing: "Drawing") -> None:
    """Raise TradeError where the blocks of a drawing, opened, would hold more than anybody draws, before any is opened."""
    sizes: dict[str, float] = {}

    def size(entities: Any, deep: int) -> float:
        total = 0.0
        for entity in entities:
            if entity.dxftype() != "INSERT":
                total += 1
                continue
            name = str(entity.dxf.get("name", ""))
            if deep >= _MOST_DEEP:
                raise TradeError("drawing", f"holds blocks in blocks more than {_MOST_DEEP} deep.")
            if name not in sizes:
                block = drawing.blocks.get(name)
                sizes[name] = 0.0 if block is None else size(block, deep + 1)
            total += 1 + max(1, entity.mcount) * sizes[name]
        return total

    if size(drawing.modelspace(), 0) > _MOST_ENTITIES:
        raise TradeError(
            "drawing",
            f"holds more than {_MOST_ENTITIES:,} lines and arcs once its blocks are opened: no test part does.",
        )


def _is_hidden(drawing: "Drawing", name: str, *, only_frozen: bool) -> bool:
    """Whether a layer's entities are not seen; a block on a layer that is off is seen where its parts are not on it."""
    if not drawing.layers.has_entry(name):
        return False
    layer = drawing.layers.get(name)
    return bool(layer.is_frozen() or (layer.is_off() and not only_frozen))


def _is_mesh(entity: Any) -> bool:
    return entity.dxftype() == "POLYLINE" and bool(entity.is_poly_face_mesh or entity.is_polygon_mesh)


def _check_flat(heights: list[tuple[float, Point]]) -> None:
    """Raise TradeError where contours lie at several heights: seen from above they are not what they are."""
    if not heights:
        return
    lowest = min(h for h, _ in heights)
    height, at = max(heights)
    if height - lowest > JOIN_MM:
        raise TradeError(
            "drawing",
            f"is not flat: what begins at {place(*at)} lies {length(height - lowest)} above the rest. Move all of "
            "it to one height.",
        )


def _entity(entity: Any, scale: float) -> tuple[float, list[Move]]:
    """(height over the drawing's plane, moves) of one entity: lines and arcs as such, anything else as chords."""
    kind = entity.dxftype()
    in_space = _points_in_space(entity, scale)
    if in_space is not None:
        return _level(in_space, scale), _chained(in_space, scale)
    mirrored = _is_mirrored(entity, scale)
    if kind in ("LWPOLYLINE", "POLYLINE"):
        return _polyline(entity, scale, mirrored)
    height, centre = (
        _raised(entity.dxf.center[2], scale, mirrored),
        _at(entity.dxf.center, scale, mirrored),
    )
    if kind == "CIRCLE":
        at = (centre[0] + float(entity.dxf.radius) * scale, centre[1])
        return height, [Arc(at, at, centre, clockwise=False)]
    start, end = (_at(p, scale) for p in (entity.start_point, entity.end_point))
    return height, [arc_or_line(start, end, centre, clockwise=mirrored)]


def _points_in_space(entity: Any, scale: float) -> list[Any] | None:
    """The points of what is not drawn in a plane of its own; None of what is."""
    kind = entity.dxftype()
    if kind == "LINE":
        return [entity.dxf.start, entity.dxf.end]
    if kind == "SPLINE":
        return _spline_points(entity.construction_tool(), CURVE_MM / scale)
    if kind == "ELLIPSE":
        return list(entity.flattening(CURVE_MM / scale))
    if kind == "POLYLINE" and entity.is_3d_polyline:
        points = list(entity.points())
        return [*points, points[0]] if entity.is_closed else points
    return None


def _spline_points(spline: Any, within: float) -> list[Any]:
    """Points of a spline so close that no chord strays farther than that: h^2 / 8 times its second derivative.

    Only where all of its control points are at work, from its knot of the degree to that of its last control point: a
    closed one is drawn once round, not beyond.
    """
    import numpy as np  # noqa: PLC0415 (start-up time)
    from scipy.interpolate import BSpline  # noqa: PLC0415

    knots, degree = np.array(spline.knots()), int(spline.degree)
    control = np.array([tuple(p) for p in spline.control_points])
    weights = np.array(spline.weights()) if spline.is_rational else np.ones(len(control))
    curve = BSpline(knots, np.column_stack([control * weights[:, None], weights]), degree)
    found: list[Any] = []
    spans = np.unique(knots[degree : len(control) + 1])
    for low, high in pairwise(spans):
        looked = curve(np.linspace(low, high, _LOOKS))
        looked = looked[:, :3] / looked[:, 3:]
        bend = float(np.linalg.norm(np.diff(looked, 2, axis=0), axis=1).max()) * (_LOOKS - 1) ** 2
        count = math.sqrt(1.3 * bend / (8 * within))
        if not count < _MOST_CHORDS:
            raise TradeError(
                "drawing",
                f"holds a spline that takes more than {_MOST_CHORDS:,} lines to draw: none of a part does.",
            )
        count = max(2, math.ceil(count))
        here = curve(np.linspace(low, high, count, endpoint=False))
        found += [*(here[:, :3] / here[:, 3:])]
    last = curve(spans[-1])
    return [*found, last[:3] / last[3]]


def _polyline(entity: Any, scale: float, mirrored: bool) -> tuple[float, list[Move]]:
    """A flat polyline with its bulges."""
    if entity.dxftype() == "LWPOLYLINE":
        corners = [((x, y), b) for x, y, b in entity.get_points("xyb")]
        closed, elevation = bool(entity.closed), float(entity.dxf.elevation)
    else:
        vertices = [v for v in entity.vertices if not v.dxf.flags & _FRAME_OF_SPLINE]
        corners = [((v.dxf.location[0], v.dxf.location[1]), v.dxf.get("bulge", 0.0)) for v in vertices]
        closed = bool(entity.is_closed)
        elevation = float(vertices[0].dxf.location[2]) if vertices else 0.0
    points = [_at(p, scale, mirrored) for p, _ in corners]
    after = [*points[1:], points[0]] if closed else points[1:]
    sign = -1.0 if mirrored else 1.0
    moves = [
        bulged(a, b, sign * float(corner[1]))
        for a, b, corner in zip(points, after, corners, strict=False)
        if math.dist(a, b) > 1e-9
    ]
    return _raised(elevation, scale, mirrored), moves


def _at(p: Any, scale: float, mirrored: bool = False) -> Point:
    """A point; one of an entity that faces down has its X the other way."""
    return (-1 if mirrored else 1) * float(p[0]) * scale, float(p[1]) * scale


def _raised(z: float, scale: float, mirrored: bool) -> float:
    return (-1 if mirrored else 1) * float(z) * scale


def _chained(points: list[Any], scale: float) -> list[Move]:
    flat = [_at(p, scale) for p in points]
    return [Line(a, b) for a, b in pairwise(flat) if math.dist(a, b) > 1e-9]


def _level(points: list[Any], scale: float) -> float:
    """The one height of these points. Raises TradeError where they are not at one."""
    heights = [float(p[2]) * scale for p in points]
    if max(heights) - min(heights) > JOIN_MM:
        raise TradeError("drawing", _tilted(_at(points[0], scale)))
    return heights[0]


def _is_mirrored(entity: Any, scale: float) -> bool:
    """Whether an entity faces down. Raises TradeError where it faces aside."""
    x, y, z = entity.dxf.get("extrusion", (0.0, 0.0, 1.0))
    if abs(x) > _FLAT * abs(z) or abs(y) > _FLAT * abs(z):
        points = [entity.dxf.center] if entity.dxf.hasattr("center") else [(0.0, 0.0)]
        raise TradeError("drawing", _tilted(_at(points[0], scale)))
    return bool(z < 0)


def _tilted(at: Point) -> str:
    return f"is tilted or in 3-D by {place(*at)}: seen from above it is not what it is. Lay it flat."
