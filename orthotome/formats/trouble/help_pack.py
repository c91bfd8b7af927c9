"""One page and one file for a supplier or a friend: what is fitted and set, what was seen, asked and tried, what it may be."""

import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from orthotome.formats.paper import PAGE_MARGIN_MM, PAGE_MM, blank_page, in_letters, line

if TYPE_CHECKING:
    from fpdf import FPDF


@dataclass(frozen=True)
class HelpPack:
    """Everything that is on the page: pairs of a question and its answer, and of a cause and its chance."""

    table: str
    at: datetime
    complaint: str
    setting: Sequence[tuple[str, str]]
    told: Sequence[tuple[str, str]]
    known: Sequence[tuple[str, str]]
    tried: Sequence[tuple[str, str]]
    causes: Sequence[tuple[str, float]]
    health: Sequence[tuple[str, str]]
    solved: Sequence[str]
    pictures: Sequence[tuple[str, bytes]] = ()


_ACROSS = 2  # pictures side by side
_GAP_MM = 4.0


def write_help_page(pack: HelpPack) -> bytes:
    """The page as a PDF, A4, in the shop's units."""
    pdf = blank_page(f"Trouble: {pack.complaint}")
    pdf.set_auto_page_break(auto=True, margin=14)
    line(pdf, 20, pack.complaint, bold=True)
    line(pdf, 11, f"On the {pack.table}, {pack.at:%Y-%m-%d}.")
    for title, pairs in (
        ("Set and fitted", pack.setting),
        ("What was seen", pack.told),
        ("What the records know", pack.known),
        ("What was tried", pack.tried),
        ("The machine", pack.health),
    ):
        if not pairs:
            continue
        pdf.ln(3)
        line(pdf, 12, title, bold=True)
        for name, value in pairs:
            line(pdf, 10, f"{name} {value}")
    pdf.ln(3)
    line(pdf, 12, "What it may be, by what is known", bold=True)
    for cause, chance in pack.causes:
        line(pdf, 10, f"{cause}: {max(1, round(100 * chance))} in 100")
    if pack.solved:
        pdf.ln(3)
        line(pdf, 12, "Solved here before", bold=True)
        for case in pack.solved:
            line(pdf, 10, case)
    _write_pictures(pdf, pack.pictures)
    return bytes(pdf.output())


def _write_pictures(pdf: "FPDF", pictures: Sequence[tuple[str, bytes]]) -> None:
    """Pictures in rows, each with what it shows above it."""
    width = (PAGE_MM[0] - 2 * PAGE_MARGIN_MM - (_ACROSS - 1) * _GAP_MM) / _ACROSS
    for at, (words, picture) in enumerate(pictures):
        if at % _ACROSS == 0:
            if pdf.get_y() + 0.8 * width > PAGE_MM[1] - PAGE_MARGIN_MM:
                pdf.add_page()
            pdf.ln(4)
            top = pdf.get_y()
        x = PAGE_MARGIN_MM + (at % _ACROSS) * (width + _GAP_MM)
        pdf.set_font("Helvetica", "", 10)
        pdf.text(x, top + 4, in_letters(words)[:60])
        pdf.image(io.BytesIO(picture), x=x, y=top + 6, w=width, h=0.75 * width, keep_aspect_ratio=True)
        pdf.set_y(top + 6 + 0.75 * width)


def write_help_file(pack: HelpPack, campaign_json: str) -> bytes:
    """A ZIP of the page, the trial as an open campaign file (empty where there is none), and the pictures whole."""
    written = io.BytesIO()
    with zipfile.ZipFile(written, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("trouble.pdf", write_help_page(pack))
        if campaign_json:
            file.writestr("trial.json", campaign_json)
        for n, (_, picture) in enumerate(pack.pictures, start=1):
            file.writestr(f"picture-{n}.jpg", picture)
    return written.getvalue()
