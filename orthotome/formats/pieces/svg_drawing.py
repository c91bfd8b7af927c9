"""The lines and curves of an SVG drawing, as a viewer shows them; what cannot be read so is refused.

Shapes, what transforms come to, nested and copied drawings are the reader's work (svgelements). Beforehand the tree is put
right where a viewer does what that reader does not: shapes that are only there to be used elsewhere, choices, and a
size of which one side is left out. Curves are put through their transform here, point by point: the reader's own
arcs come out wrong under shear.
"""

import io
import math
import re
from collections import Counter
from collections.abc import Iterator
from copy import deepcopy
from typing import Any
from xml.etree.ElementTree import Element, ParseError, tostring

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import Line, Move, Point
from orthotome.core.quantities import place
from orthotome.formats.pieces.curves import BADLY_WRITTEN, PER_MM, Unit, arc_or_line, chords

PIXELS_PER_INCH = 96.0  # of an SVG without a size of its own: what its standard says

_NAMESPACE = "{http://www.w3.org/2000/svg}"
_XLINK = "{http://www.w3.org/1999/xlink}href"
_MOST_DEEP = 40  # of shapes in groups in copies
_MOST_COPIED = 100_000
_PASSED_ON = {"style", "class", "display", "visibility", "fill", "stroke", "opacity"}
_ONLY_USED = {"symbol", "mask", "marker", "clipPath", "pattern", "filter"}
_SIZE = re.compile(r"\s*(\d*\.?\d+(?:[eE][-+]?\d+)?)\s*(mm|cm|in|pt|pc|px)?\s*")
_ARGUMENTS = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}
_NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
_LENGTH = re.compile(rf"{_NUMBER}\s*(?:mm|cm|in|pt|pc|px|em|ex|%)?")
_TRANSFORM = re.compile(
    r"(?:\s*(?:matrix|translate[XY]?|scale[XY]?|rotate|skew[XY]?)\s*"
    rf"\((?:\s*{_NUMBER}(?:px|mm|cm|in|pt|deg|rad|grad|turn|%)?[\s,]*)+\)[\s,]*)+"
)
_SHAPES = {"rect", "circle", "ellipse", "line", "svg", "use"}
_NUMBERS = ("x", "y", "width", "height", "rx", "ry", "cx", "cy", "r", "x1", "y1", "x2", "y2")
_TOKEN = re.compile(rf"[\s,]*(?:([A-Za-z])|({_NUMBER}))")


def svg_edges(content: bytes, unit: Unit | None) -> tuple[list[Move], list[str]]:
    """The moves of an SVG, in mm, and notes on how it was read."""
    root = _tree(content)
    for element in root.iter():
        _refuse_unreadable(element)
    _put_right(root)
    scale, notes = _scale(root, unit)
    from svgelements import SVG, Path, Shape  # noqa: PLC0415 (start-up time)

    try:
        drawing = SVG.parse(io.StringIO(tostring(root, "unicode")), reify=False, ppi=PIXELS_PER_INCH)
        elements = list(drawing.elements())
    except BADLY_WRITTEN:
        raise TradeError("drawing", "holds a shape that is not written as SVG writes it.") from None
    edges: list[Move] = []
    left_out: Counter[str] = Counter()
    for element in elements:
        if isinstance(element, Shape):
            if _is_seen(element):
                path = Path(element)
                shown = _Shown(path.transform, scale)
                edges += [m for s in path for m in _moves(s, shown)]
            else:
                left_out["shape that is not seen"] += 1
        elif type(element).__name__ in ("Text", "Image"):
            left_out[type(element).__name__.lower()] += 1
    return edges, [*notes, *(f"Left out: {n} × {what}." for what, n in sorted(left_out.items()))]


def _tree(content: bytes) -> Element:
    from defusedxml import DefusedXmlException  # noqa: PLC0415 (start-up time)
    from defusedxml.ElementTree import fromstring  # noqa: PLC0415

    try:
        root: Element = fromstring(content.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise TradeError("drawing", "is not text in UTF-8.") from None
    except ParseError as wrong:
        raise TradeError("drawing", f"is not a whole SVG: {wrong}.") from None
    except DefusedXmlException:
        raise TradeError(
            "drawing", "defines entities of its own, which is refused: save it as plain SVG."
        ) from None
    if _name(root) != "svg":
        raise TradeError("drawing", "is XML, but no SVG.")
    return root


def _name(element: Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _refuse_unreadable(element: Element) -> None:
    """Raise TradeError for what would be cut otherwise than it is seen."""
    name, said = _name(element), f"{element.get('style', '')};"
    if name == "path":
        _check_path(element.get("d", ""))
    _check_numbers(element, said)
    clipped = next((w for w in ("clip-path", "mask") if element.get(w) or f"{w}:" in said), None)
    if clipped and name not in ("svg", *_ONLY_USED) and element.get(clipped) != "none":
        raise TradeError(
            "drawing",
            f"hides part of a shape behind a {clipped}{_named(element)}: what is hidden would be cut. Cut the "
            "shape itself to what is to be seen.",
        )
    if element.get("transform-origin") or "transform-origin:" in said:
        raise TradeError(
            "drawing",
            f"turns a shape about an origin of its own{_named(element)}: flatten its transforms.",
        )
    if name == "symbol" and element.get("viewBox"):
        raise TradeError(
            "drawing", f"copies a symbol with a frame of its own{_named(element)}: unlink the copies."
        )


def _check_numbers(element: Element, style: str) -> None:
    """Raise TradeError for a number or a transform that a reader would take for nothing."""
    badly = TradeError(
        "drawing", f"holds a shape that is not written as SVG writes it{_named(element)}."
    )
    for word in _NUMBERS if _name(element) in _SHAPES else ():
        value = element.get(word, "0").strip()
        if value and value != "auto" and not _LENGTH.fullmatch(value):
            raise badly
    styled = re.search(r"(?:^|;)\s*transform\s*:([^;]*)", style)
    for turned in (element.get("transform", ""), styled[1] if styled else ""):
        if turned.strip() not in ("", "none") and not _TRANSFORM.fullmatch(turned):
            raise badly
    corners = element.get("points", "")
    if re.sub(rf"{_NUMBER}|[\s,]", "", corners) or len(re.findall(_NUMBER, corners)) % 2:
        raise badly


def _named(element: Element) -> str:
    return f" (id {element.get('id')})" if element.get("id") else ""


def _check_path(d: str) -> None:
    """Raise TradeError where a path's data stops making sense: a reader would leave out the rest in silence."""
    at, letter, numbers = 0, "", 0
    commands: list[tuple[str, int]] = []
    while at < len(d.rstrip()):
        found = _TOKEN.match(d, at)
        if found is None or (found[1] and found[1].upper() not in _ARGUMENTS):
            raise TradeError(
                "drawing", f"holds a path that makes no sense at “{d[at : at + 12].strip()}”."
            )
        at = found.end()
        if found[1]:
            commands.append((letter, numbers))
            letter, numbers = found[1].upper(), 0
        else:
            numbers += 1
    for command, count in [*commands[1:], (letter, numbers)] if letter else []:
        wanted = _ARGUMENTS[command]
        # The flags of an arc may be written without a space, so its numbers cannot be counted.
        if (command != "A" and (count % wanted if wanted else count)) or (wanted and not count):
            raise TradeError(
                "drawing", f"holds a path with a number too many or too few after “{command}”."
            )


def _put_right(root: Element) -> None:
    """The tree as the reader needs it."""
    for parent in list(root.iter()):
        for child in list(parent):
            if _name(child) in _ONLY_USED and _name(parent) != "defs":
                at = list(parent).index(child)
                parent.remove(child)
                shelf = Element(f"{_NAMESPACE}defs")
                shelf.append(child)
                parent.insert(at, shelf)
        if _name(parent) == "switch":
            shown = next((c for c in parent if _is_shown(c)), None)
            for child in list(parent):
                if child is not shown:
                    parent.remove(child)
    originals = {e.get("id"): e for e in root.iter() if e.get("id")}
    _copy_used(root, originals, 0, [_MOST_COPIED])
    for symbol in [e for e in root.iter() if _name(e) == "symbol"]:
        symbol.tag = f"{_NAMESPACE}g"


def _copy_used(
    parent: Element, originals: dict[str | None, Element], deep: int, left: list[int]
) -> None:
    """Put what is used in the place of each use; the reader would put what is defined in a drawing within the
    drawing through that one's frame twice. ``left`` holds how many shapes may still be copied."""
    if deep > _MOST_DEEP:
        raise TradeError("drawing", f"copies shapes within shapes more than {_MOST_DEEP} deep.")
    for at, child in enumerate(list(parent)):
        copied = child
        if _name(child) == "use":
            name = (child.get("href") or child.get(_XLINK) or "").strip()
            original = originals.get(name.removeprefix("#")) if name.startswith("#") else None
            if original is None:
                raise TradeError("drawing", f"copies “{name}”, which is not in it.")
            said = {k: v for k, v in child.attrib.items() if k in _PASSED_ON}
            moved = f"translate({child.get('x', '0')} {child.get('y', '0')})"
            said["transform"] = f"{child.get('transform', '')} {moved}"
            left[0] -= sum(1 for _ in original.iter())
            if left[0] < 0:
                raise TradeError(
                    "drawing", f"copies shapes more than {_MOST_COPIED:,} times: no test part does."
                )
            copied = Element(f"{_NAMESPACE}g", said)
            copied.append(deepcopy(original))
            parent[at] = copied
        if _name(child) != "defs":
            _copy_used(copied, originals, deep + 1, left)


def _is_shown(child: Element) -> bool:
    """Whether a viewer takes this one of a choice: one that asks nothing of it, or for English."""
    if not isinstance(child.tag, str) or child.get("requiredExtensions"):
        return False
    languages = child.get("systemLanguage")
    return languages is None or any(w.strip().lower().startswith("en") for w in languages.split(","))


def _scale(root: Element, unit: Unit | None) -> tuple[float, list[str]]:
    """(mm of one of the reader's pixels, what is to be said of it); fills in the side that is left out."""
    box = [float(v) for v in re.findall(_NUMBER, root.get("viewBox", ""))][:4]
    framed = len(box) == 4 and box[2] > 0 and box[3] > 0
    sides = [_SIZE.fullmatch(root.get(name, "")) for name in ("width", "height")]
    if unit is not None:
        if framed:
            root.set("width", str(box[2]))
            root.set("height", str(box[3]))
        else:
            for name in ("width", "height"):
                root.attrib.pop(name, None)
        physical = any(s and s[2] not in (None, "px") for s in sides)
        said = ["The unit of its numbers is the one you named, not the file's own."] if physical else []
        return PER_MM[unit], said
    if framed and (sides[0] is None) != (sides[1] is None):
        given, other = (0, 1) if sides[0] else (1, 0)
        known = sides[given]
        assert known is not None
        names = ("width", "height")
        root.set(names[other], f"{float(known[1]) * box[2 + other] / box[2 + given]}{known[2] or ''}")
    per_mm = 25.4 / PIXELS_PER_INCH
    if any(s and float(s[1]) > 0 and s[2] not in (None, "px") for s in sides):
        return per_mm, []
    return per_mm, [
        f"It names no size in mm or inches: {PIXELS_PER_INCH:.0f} of its units were taken as an inch."
    ]


def _is_seen(shape: Any) -> bool:
    """Whether a viewer would show it: not hidden, and with a line or a fill."""
    values = shape.values
    if values.get("visibility") in ("hidden", "collapse") or values.get("display") == "none":
        return False
    if _is_nothing(values.get("opacity")):
        return False
    line = shape.stroke is not None and shape.stroke.value is not None
    line = line and not _is_nothing(values.get("stroke-opacity"))
    fill = shape.fill is not None and shape.fill.value is not None
    fill = fill and not _is_nothing(values.get("fill-opacity"))
    return bool(line or fill)


def _is_nothing(value: object) -> bool:
    try:
        return value is not None and float(str(value)) == 0.0
    except ValueError:
        return False


class _Shown:
    """Where a shape's points are shown, in mm; an SVG's Y runs down, ours up."""

    def __init__(self, matrix: Any, scale: float) -> None:
        self._m = tuple(
            float(v) * scale for v in (matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f)
        )
        a, b, c, d, _, _ = self._m
        self.turns_over = a * d - b * c < 0
        both, apart = math.hypot(a + d, b - c), math.hypot(a - d, b + c)
        self.stretch = (both + apart) / 2
        """The most that a length grows."""
        self.keeps_round = min(both, apart) <= 1e-6 * max(both, apart)

    def at(self, p: Any) -> Point:
        """Where a point is shown."""
        a, b, c, d, e, f = self._m
        x, y = float(p.x), float(p.y)
        return a * x + c * y + e, -(b * x + d * y + f)


def _moves(segment: Any, shown: _Shown) -> Iterator[Move]:
    """A segment's moves."""
    kind = type(segment).__name__
    if kind == "Move" or segment.start is None or segment.end is None:
        return
    start, end = shown.at(segment.start), shown.at(segment.end)
    if not all(math.isfinite(v) for v in (*start, *end)):
        raise TradeError("drawing", "holds a point that is not a number.")
    if kind in ("Line", "Close"):
        yield Line(start, end)
    elif kind == "Arc":
        yield from _arc(segment, start, end, shown)
    else:
        control = [shown.at(p) for p in _controls(segment)]
        yield from chords(lambda t: shown.at(segment.point(t)), _most_bend(control))


def _arc(segment: Any, start: Point, end: Point, shown: _Shown) -> Iterator[Move]:
    rx, ry, sweep = float(segment.rx), float(segment.ry), float(segment.sweep)
    if min(rx, ry) <= 0:
        raise TradeError("drawing", f"holds an arc without a radius at {place(*start)}.")
    round_ = math.isclose(rx, ry, rel_tol=1e-6) and shown.keeps_round
    if round_ and abs(sweep) < 2 * math.pi - 1e-9:
        clockwise = (sweep > 0) != shown.turns_over
        yield arc_or_line(start, end, shown.at(segment.center), clockwise=clockwise)
        return
    yield from chords(lambda t: shown.at(segment.point(t)), max(rx, ry) * shown.stretch * sweep**2)


def _controls(segment: Any) -> list[Any]:
    if type(segment).__name__ == "CubicBezier":
        return [segment.start, segment.control1, segment.control2, segment.end]
    return [segment.start, segment.control, segment.end]


def _most_bend(control: list[Point]) -> float:
    """The most that a Bezier curve's second derivative can be: n (n - 1) times its control points' bends."""
    n = len(control) - 1
    bends = (
        math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1])
        for a, b, c in zip(control, control[1:], control[2:], strict=False)
    )
    return n * (n - 1) * max(bends)
