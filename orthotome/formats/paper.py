"""What every page of paper shares: its margin, the letters that its fonts hold, and a line of text."""

import unicodedata
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fpdf import FPDF

PAGE_MM, PAGE_MARGIN_MM = (210.0, 297.0), 14.0


def in_letters(text: str) -> str:
    """Text in the letters that the fonts hold; typographic signs become plain ones."""
    signs = {"“": '"', "”": '"', "’": "'", "–": "-", "—": "-", "→": "->", "≤": "<=", "−": "-"}
    swapped = "".join(signs.get(c, c) for c in text)
    return unicodedata.normalize("NFC", swapped).encode("latin-1", "replace").decode("latin-1")


def blank_page(title: str) -> "FPDF":
    """An A4 page to write on."""
    from fpdf import FPDF  # noqa: PLC0415 (start-up time)

    pdf = FPDF(format="A4", unit="mm")
    pdf.set_auto_page_break(auto=False)
    pdf.set_margin(PAGE_MARGIN_MM)
    pdf.set_title(in_letters(title))
    pdf.add_page()
    return pdf


def line(pdf: "FPDF", size: float, text: str, *, bold: bool = False) -> None:
    """A paragraph over the whole width, in points."""
    pdf.set_font("Helvetica", "B" if bold else "", size)
    pdf.multi_cell(0, 0.45 * size, in_letters(text), align="L", new_x="LMARGIN", new_y="NEXT")
