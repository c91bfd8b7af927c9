"""A shop's hole table on one page of paper: what to draw for each bolt, in figures to be read at arm's length."""

from collections.abc import Sequence
from dataclasses import dataclass

from orthotome.core.quantities import length
from orthotome.formats.paper import blank_page, in_letters, line


@dataclass(frozen=True)
class HoleLine:
    """One bolt: what to draw so that it passes, with one sigma of the way through; ``draw_mm`` None: no plasma hole."""

    bolt: str
    draw_mm: float | None
    sd_mm: float | None
    known: bool
    sentence: str


def write_hole_sheet(
    title: str, table: str, holes: Sequence[HoleLine], says: Sequence[str], tried: int
) -> bytes:
    """The page as a PDF, A4, in the shop's units."""
    pdf = blank_page(f"Holes: {title}")
    line(pdf, 22, f"Holes: {title}", bold=True)
    line(
        pdf, 12, f"On the {table}. From {tried} {'hole' if tried == 1 else 'holes'} cut and tried here."
    )
    pdf.ln(4)
    for width, name in ((40.0, "so that it passes"), (50.0, "draw"), (40.0, "give or take"), (50.0, "")):
        pdf.set_font("Helvetica", "", 10)
        pdf.cell(width, 6, name, border="B")
    pdf.ln(8)
    for hole in holes:
        pdf.set_font("Helvetica", "B", 15)
        pdf.cell(40, 8, in_letters(hole.bolt))
        pdf.cell(
            50, 8, in_letters("drill it") if hole.draw_mm is None else in_letters(length(hole.draw_mm))
        )
        pdf.set_font("Helvetica", "", 11)
        pdf.cell(40, 8, "" if hole.sd_mm is None else in_letters(length(hole.sd_mm)))
        pdf.cell(50, 8, "" if hole.known or hole.draw_mm is None else "not tried: what is usual")
        pdf.ln(8)
    pdf.ln(3)
    for sentence in says:
        line(pdf, 11, sentence)
    return bytes(pdf.output())
