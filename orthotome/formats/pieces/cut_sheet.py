"""A piece as a cut sheet on paper: what to dial, the drawing with numbers, boxes to write in, cautions.

The sheet is written with the fonts that every PDF reader has; a letter that they do not hold is replaced.
"""

import io
import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from orthotome.core.book.start_rows import StartValues
from orthotome.core.edge.edges import outward_normal_deg
from orthotome.core.path.paths import Arc, Line, Point, heading_rad, length_mm, point_along
from orthotome.core.pieces import CLIP_MM, Contour, Piece, PieceName, numbered_pieces
from orthotome.core.quantities import length, seconds, size, speed
from orthotome.formats.paper import PAGE_MARGIN_MM, PAGE_MM, in_letters

if TYPE_CHECKING:
    from fpdf import FPDF

_DRAWING_MM = (118.0, 104.0)
_STEEL, _BRONZE, _PALE = (31, 37, 41), (148, 84, 46), (217, 220, 221)

# What is read of each kind of piece, in the order of the boxes.
_BOXES: dict[PieceName, tuple[str, ...]] = {
    "square": ("travel 0", "travel 90", "travel 180", "travel 270", "scrap edge", "volts", "underside"),
    "round": (*(f"at {45 * i}" for i in range(8)), "volts", "underside"),
    "holes": ("top diameter", "bottom diameter", "pin through", "slug fell", "inside dross"),
    "start_end_ladder": ("tab at the end", "flat at the start", "gouge", "dropped?"),
    "pierce_ladder": ("through?", "crater", "spatter"),
    "corner": ("90 tooth", "60 tooth", "45 tooth", "zig-zag: slow from", "volts", "underside"),
    "long_strip": ("at the start", "in the middle", "at the end", "volts", "touched?", "underside"),
    "own_part": ("travel 0", "travel 90", "travel 180", "travel 270", "size", "underside"),
}
_STEPPED_INSIDE = ("strip_ladder", "height_ladder", "pierce_ladder")  # slots and stubs, not outlines
_BY_HEADING = ("square", "own_part", "long_strip")  # read by the way the torch went
_MOST_ROWS = 20  # of boxes: two pages at most
_STRIP_BOXES = ("right edge", "left edge", "volts", "dropped?", "underside", "lag")


@dataclass(frozen=True)
class SheetHead:
    """What stands at the top of the sheet."""

    title: str
    job: str
    torch_set: str
    cautions: tuple[str, ...]
    time: str
    address: str | None = None  # of the trial, for the code that leads back to it
    volts: str = ""  # that will be seen


def write_cut_sheet(piece: Piece, start: StartValues, head: SheetHead) -> bytes:
    """The sheet as a PDF, A4."""
    from fpdf import FPDF  # noqa: PLC0415 (start-up time)

    pdf = FPDF(format="A4", unit="mm")
    pdf.set_auto_page_break(auto=True, margin=PAGE_MARGIN_MM)
    pdf.set_margin(PAGE_MARGIN_MM)
    pdf.set_title(in_letters(head.title))
    pdf.add_page()
    _head(pdf, piece, head)
    below = _settings(pdf, piece, start, head)
    _drawing(pdf, piece)
    pdf.set_y(max(pdf.get_y(), below + 3))
    _boxes(pdf, piece)
    cautions_on(pdf, head.cautions)
    return bytes(pdf.output())


def _head(pdf: "FPDF", piece: Piece, head: SheetHead) -> None:
    if head.address:
        import segno  # noqa: PLC0415 (start-up time)

        picture = io.BytesIO()
        segno.make(head.address, error="m").save(picture, kind="png", scale=6, border=1)
        pdf.image(picture, x=PAGE_MM[0] - PAGE_MARGIN_MM - 26, y=PAGE_MARGIN_MM, w=26)
    pdf.set_text_color(*_STEEL)
    pdf.set_font("Helvetica", "B", 19)
    pdf.multi_cell(150, 8, in_letters(head.title), new_x="LMARGIN", new_y="NEXT")
    pdf.set_font("Helvetica", "", 11)
    pdf.multi_cell(150, 5.4, in_letters(f"{head.job}. {head.torch_set}."), new_x="LMARGIN", new_y="NEXT")
    pdf.multi_cell(150, 5.4, in_letters(f"Piece: {piece.title}."), new_x="LMARGIN", new_y="NEXT")
    pdf.set_y(max(pdf.get_y(), PAGE_MARGIN_MM + 28))


def _settings(pdf: "FPDF", piece: Piece, start: StartValues, head: SheetHead) -> float:
    """What to dial, in large figures, beside the drawing; answers how far down the page it came."""
    top = pdf.get_y()
    outer = piece.contours[-1]
    stepped = [c for c in piece.contours if c.inside == (piece.kind in _STEPPED_INSIDE)]
    one_speed = len({c.speed_mm_min for c in stepped}) == 1
    one_height = len({c.cut_height_mm for c in stepped}) == 1
    lines = (
        ("Speed", speed(start.speed_mm_min) if one_speed else "see below"),
        ("Cut height", length(outer.cut_height_mm) if one_height else "see below"),
        ("Arc voltage", head.volts),
        ("Pierce height", length(start.pierce_height_mm)),
        ("Pierce delay", seconds(start.pierce_delay_s)),
        ("Kerf", length(start.kerf_mm)),
        ("Plate needed", size(*piece.plate_mm, up=True)),
        ("Pierces", f"{len(piece.contours)}"),
        ("Height control", "ON" if any(c.height_control for c in piece.contours) else "OFF"),
    )
    for name, value in lines:
        pdf.set_font("Helvetica", "", 9)
        pdf.cell(25, 9.6, name)
        pdf.set_font("Helvetica", "B", 12)
        pdf.cell(40, 9.6, in_letters(value), new_x="LMARGIN", new_y="NEXT")
    pdf.set_font("Helvetica", "", 8.5)
    for said in ("The kerf is already in the path", head.time, *piece.notes):
        pdf.multi_cell(62, 4, in_letters(f"{said}."), align="L", new_x="LMARGIN", new_y="NEXT")
    below = pdf.get_y()
    pdf.set_y(top)
    return below


def _drawing(pdf: "FPDF", piece: Piece) -> None:
    """The piece from above, to a stated scale, contours numbered at their pierce."""
    left, top = PAGE_MM[0] - PAGE_MARGIN_MM - _DRAWING_MM[0], pdf.get_y()
    width, height = piece.plate_mm
    scale = min(_DRAWING_MM[0] / width, _DRAWING_MM[1] / height, 1.0)

    def at(p: tuple[float, float]) -> tuple[float, float]:
        return left + p[0] * scale, top + (height - p[1]) * scale

    pdf.set_line_width(0.2)
    pdf.set_draw_color(*_PALE)
    pdf.rect(left, top, width * scale, height * scale)
    pdf.set_fill_color(*_PALE)
    for part in piece.parts:
        pdf.polygon([at(p) for p in part.outline], style="F")
    pdf.set_fill_color(255, 255, 255)
    for part in piece.parts:
        for hole in part.holes:
            pdf.polygon([at(p) for p in hole], style="F")
    for contour in piece.contours:
        for segment in contour.segments:
            pdf.set_draw_color(*(_STEEL if segment.kind in ("cut", "mark") else _BRONZE))
            pdf.polyline([at(p) for p in segment.points])
    pdf.set_font("Helvetica", "B", 8)
    for number, contour in enumerate(piece.contours, 1):
        if not any(s.kind == "mark" for s in contour.segments):
            x, y = at(contour.pierce_at)
            pdf.text(x + 0.8, y - 0.8, str(number))
    _ways(pdf, piece, at)
    pdf.set_font("Helvetica", "B", 14)
    for number, middle in numbered_pieces(piece):
        px, py = at(middle)
        pdf.text(px - 2, py + 2, str(number))
    pdf.set_font("Helvetica", "", 8)
    pdf.text(
        left, top + height * scale + 4, f"Scale 1:{1 / scale:.3g}. Zero: near left corner. Grey: kept."
    )
    pdf.set_y(max(top + height * scale + 9, top + 92))


def _ways(pdf: "FPDF", piece: Piece, at: Callable[[Point], Point]) -> None:
    """Which edge is which: an arrow of the travel and its heading on every side that is read, and the corner or
    slit that tells how the piece lay."""
    pdf.set_font("Helvetica", "B", 8)
    pdf.set_fill_color(*_STEEL)
    for contour in piece.contours:
        marked = any(s.kind == "mark" for s in contour.segments)
        for move in (m for s in contour.segments if s.kind in ("cut", "mark") for m in s.moves):
            if isinstance(move, Line) and length_mm(move) >= 2 * CLIP_MM and not marked:
                _arrow(pdf, at(move.start), at(move.end))
                if piece.kind in _BY_HEADING and not contour.inside:
                    _heading(pdf, move, at, contour)
    if piece.kind == "round":
        _round_headings(pdf, piece, at)
    for part in piece.parts:
        if piece.kind == "square" and not part.scrap:
            (x, y), _ = at(part.outline[2]), at(part.outline[3])
            pdf.set_font("Helvetica", "", 7)
            pdf.text(x - 12, y + 5, "clipped")


def _arrow(pdf: "FPDF", a: Point, b: Point) -> None:
    """An arrowhead in the middle of a stretch on the page."""
    long = math.dist(a, b)
    if long < 6:
        return
    ux, uy = (b[0] - a[0]) / long, (b[1] - a[1]) / long
    mx, my = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    tip, back = (mx + 1.6 * ux, my + 1.6 * uy), (mx - 1.4 * ux, my - 1.4 * uy)
    pdf.polygon(
        [tip, (back[0] - uy, back[1] + ux), (back[0] + uy, back[1] - ux)],
        style="F",
    )


def _heading(pdf: "FPDF", move: Line, at: Callable[[Point], Point], contour: Contour) -> None:
    """The heading of a side, written on the kept metal."""
    way = heading_rad(move)
    inward = way + (-1 if contour.kept_side == "right" else 1) * math.pi / 2
    x, y = point_along(move, length_mm(move) / 2)
    px, py = at((x + 6 * math.cos(inward), y + 6 * math.sin(inward)))
    pdf.text(px - 2.5, py + 1, f"{math.degrees(way) % 360:.0f}")


def _round_headings(pdf: "FPDF", piece: Piece, at: Callable[[Point], Point]) -> None:
    """The travel at the eight places of a slug that are read."""
    arc = next(m for m in piece.contours[-1].segments[1].moves if isinstance(m, Arc))
    radius = math.dist(arc.start, arc.centre)
    for heading in range(0, 360, 45):
        normal = math.radians(outward_normal_deg(piece.contours[-1].kept_side, heading))
        reach = 0.78 * radius
        px, py = at((arc.centre[0] + reach * math.cos(normal), arc.centre[1] + reach * math.sin(normal)))
        pdf.text(px - 2, py + 1, f"{heading}")


def _boxes(pdf: "FPDF", piece: Piece) -> None:
    """A row a contour that is read, with empty boxes; bevel positive where the bottom sticks out."""
    columns = _BOXES.get(piece.kind, _STRIP_BOXES)
    read = sorted((c for c in piece.contours if _is_read(c, piece)), key=lambda c: c.number or 0)
    left_out = len(read) - _MOST_ROWS
    if left_out > 0:  # the outside comes last, and is not left out
        read = [*read[: _MOST_ROWS - 1], read[-1]]
    widths = [46.0] + [(PAGE_MM[0] - 2 * PAGE_MARGIN_MM - 46.0) / len(columns)] * len(columns)
    pdf.set_draw_color(*_STEEL)
    pdf.set_font("Helvetica", "B", 8)
    for text, w in zip(("", *columns), widths, strict=True):
        pdf.cell(w, 6, text, align="C")
    pdf.ln(6)
    for contour in read:
        pdf.set_font("Helvetica", "", 8)
        pdf.cell(widths[0], 11, in_letters(_label(contour, piece)))
        for w in widths[1:]:
            pdf.cell(w, 11, "", border=1)
        pdf.ln(11)
    pdf.set_font("Helvetica", "", 8)
    pdf.ln(1)
    pdf.multi_cell(
        0,
        4,
        "Bevel in degrees: + where the bottom of the kept part sticks out beyond its top, - where it is "
        "undercut. An empty box is not read, never zero."
        + (f" {left_out} more contours have no row here." if left_out > 0 else ""),
        new_x="LMARGIN",
        new_y="NEXT",
    )


def _is_read(contour: Contour, piece: Piece) -> bool:
    if any(s.kind == "mark" for s in contour.segments):
        return False
    if piece.kind == "own_part":
        return True
    ladder = piece.kind in _STEPPED_INSIDE or piece.kind == "holes"
    return contour.inside if ladder else not contour.inside


def _label(contour: Contour, piece: Piece) -> str:
    if piece.kind == "strip_ladder":
        return f"{contour.name.split(':')[0]}: {speed(contour.speed_mm_min)}"
    if piece.kind == "height_ladder":
        return f"{contour.name.split(':')[0]}: {length(contour.cut_height_mm)}"
    if piece.kind in ("holes", "own_part") and contour.inside:
        return f"{contour.name}: {speed(contour.speed_mm_min)}"
    settings = {(c.speed_mm_min, c.cut_height_mm) for c in piece.contours if _is_read(c, piece)}
    if len(settings) > 1 and piece.kind == "square":
        name = contour.name.split(":")[0]
        return f"{name}: {speed(contour.speed_mm_min)} at {length(contour.cut_height_mm)}"
    return contour.name


def cautions_on(pdf: "FPDF", cautions: tuple[str, ...]) -> None:
    """What to mind before the arc, once, and who comes first."""
    pdf.ln(2)
    pdf.set_font("Helvetica", "B", 9)
    pdf.cell(0, 5, "Before the arc", new_x="LMARGIN", new_y="NEXT")
    pdf.set_font("Helvetica", "", 8.5)
    for text in cautions:
        pdf.multi_cell(0, 4.2, f"- {in_letters(text)}", new_x="LMARGIN", new_y="NEXT")
    pdf.multi_cell(
        0,
        4.2,
        "The equipment's manual, local codes, and licensed electricians and gas fitters come first.",
        new_x="LMARGIN",
        new_y="NEXT",
    )
