"""A piece as a cut sheet on paper: what to dial, the drawing with numbers, boxes to write in, cautions.

The sheet is written with the fonts that every PDF reader has; a letter that they do not hold is replaced.
"""

import io
import unicodedata
from dataclasses import dataclass
from typing import TYPE_CHECKING

from orthotome.core.book.start_rows import StartValues
from orthotome.core.pieces import Contour, Piece, PieceName, numbered_pieces

if TYPE_CHECKING:
    from fpdf import FPDF

_PAGE_MM, _MARGIN_MM = (210.0, 297.0), 14.0
_DRAWING_MM = (118.0, 104.0)
_STEEL, _BRONZE, _PALE = (31, 37, 41), (148, 84, 46), (217, 220, 221)

# What is read of each kind of piece, in the order of the boxes.
_BOXES: dict[PieceName, tuple[str, ...]] = {
    "square": ("travel 0", "travel 90", "travel 180", "travel 270", "scrap edge", "volts", "underside"),
    "round": ("at 0", "at 90", "at 180", "at 270", "volts", "underside"),
    "holes": ("top diameter", "bottom diameter", "pin through", "slug fell", "inside dross"),
    "start_end_ladder": ("tab at the end", "flat at the start", "gouge", "dropped?"),
    "pierce_ladder": ("through?", "crater", "spatter"),
    "corner": ("90 tooth", "60 tooth", "45 tooth", "zig-zag: slow from", "volts", "underside"),
    "long_strip": ("at the start", "in the middle", "at the end", "volts", "touched?", "underside"),
    "own_part": ("travel 0", "travel 90", "travel 180", "travel 270", "size", "underside"),
}
_STEPPED_INSIDE = ("strip_ladder", "height_ladder", "pierce_ladder")  # slots and stubs, not outlines
_MOST_ROWS = 20  # of boxes: two pages at most
_STRIP_BOXES = ("right edge", "left edge", "volts", "dropped?", "underside", "lag")


@dataclass(frozen=True)
class SheetHead:
    """What stands at the top of the sheet."""

    title: str
    job: str
    torch_set: str
    cautions: tuple[str, ...]
    address: str | None = None  # of the trial, for the code that leads back to it


def write_cut_sheet(piece: Piece, start: StartValues, head: SheetHead) -> bytes:
    """The sheet as a PDF, A4."""
    from fpdf import FPDF  # noqa: PLC0415 (start-up time)

    pdf = FPDF(format="A4", unit="mm")
    pdf.set_auto_page_break(auto=True, margin=_MARGIN_MM)
    pdf.set_margin(_MARGIN_MM)
    pdf.set_title(_plain(head.title))
    pdf.add_page()
    _head(pdf, piece, head)
    _settings(pdf, piece, start)
    _drawing(pdf, piece)
    _boxes(pdf, piece)
    _cautions(pdf, head.cautions)
    return bytes(pdf.output())


def _head(pdf: "FPDF", piece: Piece, head: SheetHead) -> None:
    if head.address:
        import segno  # noqa: PLC0415 (start-up time)

        picture = io.BytesIO()
        segno.make(head.address, error="m").save(picture, kind="png", scale=6, border=1)
        pdf.image(picture, x=_PAGE_MM[0] - _MARGIN_MM - 26, y=_MARGIN_MM, w=26)
    pdf.set_text_color(*_STEEL)
    pdf.set_font("Helvetica", "B", 19)
    pdf.multi_cell(150, 8, _plain(head.title), new_x="LMARGIN", new_y="NEXT")
    pdf.set_font("Helvetica", "", 11)
    pdf.multi_cell(150, 5.4, _plain(f"{head.job}. {head.torch_set}."), new_x="LMARGIN", new_y="NEXT")
    pdf.multi_cell(150, 5.4, _plain(f"Piece: {piece.title}."), new_x="LMARGIN", new_y="NEXT")
    pdf.set_y(max(pdf.get_y(), _MARGIN_MM + 28))


def _settings(pdf: "FPDF", piece: Piece, start: StartValues) -> None:
    """What to dial, in large figures, beside the drawing."""
    top = pdf.get_y()
    outer = piece.contours[-1]
    stepped = [c for c in piece.contours if c.inside == (piece.kind in _STEPPED_INSIDE)]
    one_speed = len({c.speed_mm_min for c in stepped}) == 1
    one_height = len({c.cut_height_mm for c in stepped}) == 1
    volts = "not known" if start.arc_voltage_v is None else f"{start.arc_voltage_v:g} V to be seen"
    lines = (
        ("Speed", f"{start.speed_mm_min:g} mm/min" if one_speed else "see below"),
        ("Cut height", f"{outer.cut_height_mm:g} mm" if one_height else "see below"),
        ("Arc voltage", volts),
        ("Pierce height", f"{start.pierce_height_mm:g} mm"),
        ("Pierce delay", f"{start.pierce_delay_s:g} s"),
        ("Kerf", f"{start.kerf_mm:g} mm"),
        ("Plate needed", f"{piece.plate_mm[0]:.0f} x {piece.plate_mm[1]:.0f} mm"),
        ("Arc time", f"{piece.seconds(start.pierce_delay_s):.0f} s, pierces: {len(piece.contours)}"),
        ("Height control", "ON" if any(c.height_control for c in piece.contours) else "OFF"),
    )
    for name, value in lines:
        pdf.set_font("Helvetica", "", 9)
        pdf.cell(25, 9.6, name)
        pdf.set_font("Helvetica", "B", 12)
        pdf.cell(40, 9.6, value, new_x="LMARGIN", new_y="NEXT")
    pdf.set_y(top)


def _drawing(pdf: "FPDF", piece: Piece) -> None:
    """The piece from above, to a stated scale, contours numbered at their pierce."""
    left, top = _PAGE_MM[0] - _MARGIN_MM - _DRAWING_MM[0], pdf.get_y()
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
    pdf.set_font("Helvetica", "B", 14)
    for number, middle in numbered_pieces(piece):
        px, py = at(middle)
        pdf.text(px - 2, py + 2, str(number))
    pdf.set_font("Helvetica", "", 8)
    pdf.text(
        left, top + height * scale + 4, f"Scale 1:{1 / scale:.3g}. Zero: near left corner. Grey: kept."
    )
    pdf.set_y(max(top + height * scale + 9, top + 92))


def _boxes(pdf: "FPDF", piece: Piece) -> None:
    """A row a contour that is read, with empty boxes; bevel positive where the bottom sticks out."""
    columns = _BOXES.get(piece.kind, _STRIP_BOXES)
    read = sorted((c for c in piece.contours if _is_read(c, piece)), key=lambda c: c.number or 0)
    left_out = len(read) - _MOST_ROWS
    if left_out > 0:  # the outside comes last, and is not left out
        read = [*read[: _MOST_ROWS - 1], read[-1]]
    widths = [46.0] + [(_PAGE_MM[0] - 2 * _MARGIN_MM - 46.0) / len(columns)] * len(columns)
    pdf.set_draw_color(*_STEEL)
    pdf.set_font("Helvetica", "B", 8)
    for text, w in zip(("", *columns), widths, strict=True):
        pdf.cell(w, 6, text, align="C")
    pdf.ln(6)
    for contour in read:
        pdf.set_font("Helvetica", "", 8)
        pdf.cell(widths[0], 11, _plain(_label(contour, piece)))
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
        return f"{contour.name}: {contour.speed_mm_min:g} mm/min"
    if piece.kind == "height_ladder":
        return f"{contour.name}: {contour.cut_height_mm:g} mm"
    if piece.kind == "pierce_ladder":
        return f"{contour.name}: {contour.pierce_delay_s:g} s"
    if piece.kind in ("holes", "own_part") and contour.inside:
        return f"{contour.name}: {contour.speed_mm_min:g} mm/min"
    settings = {(c.speed_mm_min, c.cut_height_mm) for c in piece.contours if _is_read(c, piece)}
    if len(settings) > 1 and piece.kind == "square":
        name = contour.name.split(":")[0]
        return f"{name}: {contour.speed_mm_min:g} mm/min at {contour.cut_height_mm:g} mm"
    return contour.name


def _cautions(pdf: "FPDF", cautions: tuple[str, ...]) -> None:
    pdf.ln(2)
    pdf.set_font("Helvetica", "B", 9)
    pdf.cell(0, 5, "Before the arc", new_x="LMARGIN", new_y="NEXT")
    pdf.set_font("Helvetica", "", 8.5)
    for text in cautions:
        pdf.multi_cell(0, 4.2, f"- {_plain(text)}", new_x="LMARGIN", new_y="NEXT")
    pdf.multi_cell(
        0,
        4.2,
        "The equipment's manual, local codes, and licensed electricians and gas fitters come first.",
        new_x="LMARGIN",
        new_y="NEXT",
    )


def _plain(text: str) -> str:
    """Text in the letters that the fonts hold; typographic signs become plain ones."""
    signs = {"“": '"', "”": '"', "’": "'", "–": "-", "—": "-", "→": "->", "≤": "<=", "−": "-"}
    swapped = "".join(signs.get(c, c) for c in text)
    return unicodedata.normalize("NFC", swapped).encode("latin-1", "replace").decode("latin-1")
