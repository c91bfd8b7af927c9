"""A shop's own drawing, DXF or SVG, read for its closed contours, in mm.

Lines and circular arcs stay what they are; other curves become chords within a hundredth of a millimetre.
What is no contour (text, dimensions, fills) is left out and said so.
"""

import io
import math
import re
import warnings
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Any, Literal

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import Arc, Line, Move, Point
from orthotome.core.path.rings import JOIN_MM, MOST_POINTS, Ring, chained

if TYPE_CHECKING:
    from ezdxf.document import Drawing

MOST_BYTES = 8_000_000
CURVE_MM = 0.01  # farthest that a chord of a spline or an ellipse may lie from it
PIXELS_PER_INCH = 96.0  # of an SVG without a size of its own: what its standard says
Unit = Literal["mm", "in"]

_LEAST_MM = 1e-4  # shorter moves are dust of the drawing
_CURVES = {"LINE", "ARC", "CIRCLE", "LWPOLYLINE", "POLYLINE", "SPLINE", "ELLIPSE"}
_PER_MM = {
    "mm": 1.0,
    "cm": 10.0,
    "in": 25.4,
    "pt": 25.4 / 72,
    "pc": 25.4 / 6,
    "px": 25.4 / 96,
    "": 25.4 / 96,
}
# What the readers raise at a file whose numbers or structure are not what they should be.
_BADLY_WRITTEN = (ValueError, ArithmeticError, LookupError, TypeError, AttributeError, AssertionError)


@dataclass(frozen=True)
class Found:
    """The contours of a drawing, and what is to be said about how it was read."""

    rings: tuple[Ring, ...]
    notes: tuple[str, ...]


def read_drawing(content: bytes, unit: Unit | None = None) -> Found:
    """The contours of a DXF or SVG file. ``unit`` is that of a DXF that does not name its own.

    Raises TradeError saying what is wrong and where.
    """
    if len(content) > MOST_BYTES:
        raise TradeError("drawing", f"is over {MOST_BYTES // 1_000_000} MB: too large for a test part.")
    if not content.strip():
        raise TradeError("drawing", "is empty.")
    start = content.lstrip()[:400].lower()
    svg = start.startswith((b"<?xml", b"<svg", b"<!doctype svg", b"<!--", b"\xef\xbb\xbf<"))
    try:
        edges, notes = _svg_edges(content) if svg else _dxf_edges(content, unit)
    except _BADLY_WRITTEN as wrong:
        if isinstance(wrong, TradeError):
            raise
        raise TradeError("drawing", "holds a shape whose numbers make no sense.") from None
    kept = [m for m in edges if not _is_dust(m)]
    if not kept:
        raise TradeError("drawing", "holds no lines or curves that a torch could follow.")
    if len(kept) > MOST_POINTS:
        raise TradeError("drawing", "is too fine to be a test part: simplify its curves.")
    if any(not math.isfinite(v) for m in kept for v in (*m.start, *m.end)):
        raise TradeError("drawing", "holds a point that is not a number.")
    if _gaps_joined(kept):
        notes = [*notes, f"Ends less than {JOIN_MM:g} mm apart were joined."]
    return Found(tuple(chained(kept)), tuple(notes))


def _is_dust(move: Move) -> bool:
    across = move.end if isinstance(move, Line) else move.centre
    return math.dist(move.start, across) < _LEAST_MM


def _gaps_joined(edges: Iterable[Move]) -> bool:
    """Whether any end has no other at just its place, so that neighbours will be joined."""
    ends = Counter((round(p[0], 4), round(p[1], 4)) for m in edges for p in (m.start, m.end))
    return any(n % 2 for n in ends.values())


def _dxf_edges(content: bytes, unit: Unit | None) -> tuple[list[Move], list[str]]:
    import ezdxf  # noqa: PLC0415 (start-up time)
    from ezdxf.disassemble import recursive_decompose  # noqa: PLC0415
    from ezdxf.lldxf.const import DXFError  # noqa: PLC0415

    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", "replace")  # what older drawings are written in
    try:
        # Read strictly: a reader that repairs would change numbers without a word.
        drawing = ezdxf.read(io.StringIO(text))  # type: ignore[attr-defined]
        auditor = drawing.audit()
    except (DXFError, *_BADLY_WRITTEN):
        raise TradeError(
            "drawing", "is neither a DXF (in text, not binary) nor an SVG that can be read."
        ) from None
    if auditor.has_errors:
        first = auditor.errors[0].message
        raise TradeError("drawing", f"is damaged: {first}. Save it again as DXF R2010.")
    scale = _dxf_scale(drawing, unit)
    entities = list(recursive_decompose(drawing.modelspace()))
    # A drawing of Orthotome's own says which of its lines is the part.
    only_kept = [e for e in entities if e.dxf.get("layer", "0") == "KEPT"]
    edges: list[Move] = []
    left_out: Counter[str] = Counter()
    for entity in only_kept or entities:
        if entity.dxftype() in _CURVES:
            edges += _dxf_entity(entity, scale)
        else:
            left_out[entity.dxftype().lower()] += 1
    if only_kept:
        return edges, ["Only the layer KEPT was read."]
    return edges, [f"Left out: {n} × {kind}." for kind, n in sorted(left_out.items())]


def _dxf_scale(drawing: "Drawing", unit: Unit | None) -> float:
    """Millimetres to the drawing's unit. Raises TradeError where neither it nor the user names one."""
    from ezdxf import units  # noqa: PLC0415

    if drawing.units:
        return float(units.conversion_factor(drawing.units, units.MM))  # type: ignore[arg-type]
    if unit is None:
        raise TradeError("unit", "the drawing does not name its unit: say whether it is mm or inches.")
    return _PER_MM[unit]


def _dxf_entity(entity: Any, scale: float) -> Iterator[Move]:
    """The moves of one entity: lines and arcs as such, anything else as chords."""
    kind, flat = entity.dxftype(), entity.dxf.get("extrusion", (0, 0, 1))[2] > 0

    def at(p: Any) -> Point:
        return float(p[0]) * scale, float(p[1]) * scale

    if kind == "LINE":
        yield Line(at(entity.dxf.start), at(entity.dxf.end))
    elif kind == "CIRCLE" and flat:
        (x, y), r = at(entity.dxf.center), float(entity.dxf.radius) * scale
        yield Arc((x + r, y), (x + r, y), (x, y), clockwise=False)
    elif kind == "ARC" and flat:
        ends = at(entity.start_point), at(entity.end_point)
        yield Arc(*ends, at(entity.dxf.center), clockwise=False)
    elif kind in ("LWPOLYLINE", "POLYLINE") and flat and not _in_space(entity):
        for part in entity.virtual_entities():
            yield from _dxf_entity(part, scale)
    else:
        from ezdxf.path import make_path  # noqa: PLC0415

        points = [at(p) for p in make_path(entity).flattening(CURVE_MM / scale)]
        yield from (Line(a, b) for a, b in pairwise(points))


def _in_space(entity: Any) -> bool:
    return entity.dxftype() == "POLYLINE" and not entity.is_2d_polyline


def _svg_edges(content: bytes) -> tuple[list[Move], list[str]]:
    from xml.etree.ElementTree import ParseError  # noqa: PLC0415 (start-up time)

    from svgpathtools import Document  # noqa: PLC0415

    if b"<!ENTITY" in content:
        raise TradeError(
            "drawing", "defines entities of its own, which is refused: save it as plain SVG."
        )
    try:
        # A warning means that a part of a shape was passed over: what is left would be another drawing.
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            document = Document.from_svg_string(content.decode("utf-8-sig"))
            paths = document.paths()
    except UnicodeDecodeError:
        raise TradeError("drawing", "is not text in UTF-8.") from None
    except ParseError as wrong:
        raise TradeError("drawing", f"is not a whole SVG: {wrong}.") from None
    except (Warning, *_BADLY_WRITTEN):
        raise TradeError("drawing", "holds a shape that is not written as SVG writes it.") from None
    root = document.root
    scale, foot, note = _svg_scale(dict(root.attrib))
    edges = [edge for path in paths for segment in path for edge in _svg_segment(segment, scale, foot)]
    texts = sum(1 for e in root.iter() if str(e.tag).endswith(("}text", "}image", "}use")))
    left_out = [f"Left out: {texts} × text, image or copy."] if texts else []
    return edges, [*note, *left_out]


def _svg_scale(said: dict[str, str]) -> tuple[float, float, list[str]]:
    """(mm to the drawing's own unit, where its lower edge lies in that unit, what is to be said of it).

    The unit is taken from its width and what of it is shown.
    """
    box = [float(v) for v in re.findall(r"[-+.\deE]+", said.get("viewBox", ""))[:4]]
    foot = box[1] + box[3] if len(box) == 4 else 0.0
    match = re.fullmatch(
        r"\s*([\d.]+(?:[eE][-+]?\d+)?)\s*(mm|cm|in|pt|pc|px)?\s*", said.get("width", "")
    )
    if match and float(match[1]) > 0:
        unit = match[2] or ""
        width_mm = float(match[1]) * _PER_MM[unit]
        scale = width_mm / box[2] if len(box) == 4 and box[2] > 0 else _PER_MM[unit]
        if unit in ("mm", "cm", "in", "pt", "pc"):
            return scale, foot, []
    else:
        scale = _PER_MM["px"]
    note = f"It names no size in mm or inches: {PIXELS_PER_INCH:.0f} of its units were taken as an inch."
    return scale, foot, [note]


def _svg_segment(segment: Any, scale: float, foot: float) -> Iterator[Move]:
    """A segment's moves; an SVG's Y runs down, ours up from its lower edge."""

    def at(p: complex) -> Point:
        return float(p.real) * scale, (foot - float(p.imag)) * scale

    kind, start, end = type(segment).__name__, at(segment.start), at(segment.end)
    if kind == "Line":
        yield Line(start, end)
        return
    if kind == "Arc" and math.isclose(segment.radius.real, segment.radius.imag, rel_tol=1e-6):
        yield Arc(start, end, at(segment.center), clockwise=bool(segment.sweep))
        return
    bend = scale * (abs(segment.start - segment.end) + segment.length(error=1e-3))
    count = max(8, min(400, math.ceil(math.sqrt(bend / CURVE_MM))))
    points = [at(segment.point(i / count)) for i in range(count + 1)]
    yield from (Line(a, b) for a, b in pairwise(points))
