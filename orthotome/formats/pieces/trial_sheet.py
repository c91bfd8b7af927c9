"""A trial on one page of paper, for a customer or a supplier's help line: settings, parts, volts, what was tried, and
pictures of it.

The kerf sections are drawn from the numbers; angles are drawn twice as large as they are, and the page says so.
"""

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from orthotome.core.quantities import length, plate, seconds, speed, volts
from orthotome.core.trial.campaign import Campaign, Cut, underside_words, worst_judged_deg
from orthotome.formats.paper import PAGE_MARGIN_MM, in_letters, line

if TYPE_CHECKING:
    from fpdf import FPDF

MOST_CUTS = 10  # the newest; the rest is in the trial's file
MOST_PHOTOS = 4
_STEEL, _PALE, _INK = (86, 96, 104), (217, 220, 221), (31, 37, 41)
_ANGLE_TIMES = 2.0
_COLUMNS = (
    (26.0, "cut, end-on"),
    (16.0, ""),
    (34.0, "speed, height"),
    (18.0, "volts"),
    (50.0, "edges"),
    (38.0, "underside"),
)
_ROW_MM = 14.0


@dataclass(frozen=True)
class SheetOfTrial:
    """What goes on the page. ``fitted`` names parts and starts, ``stands`` says how far it came, ``said`` what the
    pieces that were looked at for a thing of their own said."""

    campaign: Campaign
    table: str
    opened: datetime
    stands: str
    fitted: str
    said: Sequence[str] = ()
    photos: Sequence[bytes] = ()


def write_trial_sheet(sheet: SheetOfTrial) -> bytes:
    """The page as a PDF, A4, in the shop's units."""
    from fpdf import FPDF  # noqa: PLC0415 (start-up time)

    pdf = FPDF(format="A4", unit="mm")
    pdf.set_auto_page_break(auto=False)
    pdf.set_margin(PAGE_MARGIN_MM)
    campaign = sheet.campaign
    title = plate(campaign.thickness_mm, campaign.metal)
    pdf.set_title(in_letters(title))
    pdf.add_page()
    pdf.set_text_color(*_INK)
    line(pdf, 22, f"{title}{f', {campaign.title}' if campaign.title else ''}", bold=True)
    torch = campaign.torch_set
    line(
        pdf,
        11,
        f"{torch.name}, {torch.amperage_a:g} A, {torch.gas}, on the {sheet.table}. {sheet.fitted}",
    )
    line(pdf, 11, f"Opened {sheet.opened:%Y-%m-%d}. {sheet.stands}")
    pdf.ln(2)
    _begun_with(pdf, campaign)
    _tried(pdf, campaign)
    for sentence in sheet.said[:4]:
        line(pdf, 10, sentence)
    _pictures(pdf, sheet.photos)
    return bytes(pdf.output())


def _begun_with(pdf: "FPDF", campaign: Campaign) -> None:
    start = campaign.start
    told = (
        ("Speed", speed(start.speed_mm_min)),
        ("Cut height", length(start.cut_height_mm)),
        ("Arc voltage", "not known" if start.arc_voltage_v is None else volts(start.arc_voltage_v)),
        ("Pierce height", length(start.pierce_height_mm)),
        ("Pierce delay", seconds(start.pierce_delay_s)),
        ("Kerf", length(start.kerf_mm)),
    )
    line(pdf, 12, "Begun with", bold=True)
    width = (210.0 - 2 * PAGE_MARGIN_MM) / len(told)
    for style, size, texts in (("", 8.5, [n for n, _ in told]), ("B", 11, [v for _, v in told])):
        pdf.set_font("Helvetica", style, size)
        for text in texts:
            pdf.cell(width, 5.5, in_letters(text))
        pdf.ln(5.5)
    pdf.ln(3)


def _tried(pdf: "FPDF", campaign: Campaign) -> None:
    """What was tried, newest last, each cut seen end-on."""
    shown = campaign.cuts[-MOST_CUTS:]
    left_out = len(campaign.cuts) - len(shown)
    newest = f", the newest {len(shown)} of {len(campaign.cuts)}" if left_out else ""
    line(pdf, 12, f"What was tried{newest}", bold=True)
    if not shown:
        line(pdf, 10, "Nothing was cut yet.")
        return
    pdf.set_font("Helvetica", "", 8.5)
    for width, name in _COLUMNS:
        pdf.cell(width, 5, name)
    pdf.ln(6)
    for cut in shown:
        _row(pdf, campaign, cut)
    line(
        pdf,
        8,
        "Bevel in degrees, + where the bottom of the kept part sticks out. Each reading is +- twice its standard "
        f"uncertainty. Angles in the drawings are {_ANGLE_TIMES:g} times too large; a side not drawn was not read.",
    )


def _row(pdf: "FPDF", campaign: Campaign, cut: Cut) -> None:
    top = pdf.get_y()
    _section(pdf, campaign, cut, PAGE_MARGIN_MM, top)
    worst = worst_judged_deg(cut, campaign.torch_set, campaign.target)
    edges = [f"{e.bevel_deg:+.1f} +-{2 * e.u_deg:.1f}" for e in cut.edges]
    height = f"{length(cut.cut_height_mm)}{', a guess' if cut.height_control == 'by_hand' else ''}"
    cells = (
        "",
        cut.id,
        f"{speed(cut.speed_mm_min)}\n{height}",
        "not read" if cut.arc_voltage_v is None else volts(cut.arc_voltage_v),
        f"worst kept {worst:+.1f}\n{', '.join(edges)}" if worst is not None else "not read",
        underside_words(cut),
    )
    x = PAGE_MARGIN_MM
    for (width, _), text in zip(_COLUMNS, cells, strict=True):
        pdf.set_xy(x, top + 1)
        pdf.set_font("Helvetica", "", 8)
        pdf.multi_cell(width - 1, 3.5, in_letters(text), align="L", max_line_height=3.5)
        x += width
    pdf.set_draw_color(*_PALE)
    pdf.line(PAGE_MARGIN_MM, top + _ROW_MM, 210 - PAGE_MARGIN_MM, top + _ROW_MM)
    pdf.set_xy(PAGE_MARGIN_MM, top + _ROW_MM)


def _section(pdf: "FPDF", campaign: Campaign, cut: Cut, x: float, y: float) -> None:
    """The cut seen end-on along the travel: the plate on either side where it was read."""
    wide, high, kerf = 22.0, 9.0, 3.0
    middle, top = x + wide / 2, y + 2
    pdf.set_fill_color(*_STEEL)
    for side, into in (("left", -1), ("right", 1)):
        bevel = cut.mean_bevel_deg(side)  # type: ignore[arg-type]
        inner, outer = middle + into * kerf / 2, middle + into * wide / 2
        if bevel is None:
            pdf.set_draw_color(*_STEEL)
            pdf.line(outer, top, inner, top)
            continue
        out = math.tan(math.radians(max(-30.0, min(30.0, bevel * _ANGLE_TIMES)))) * high
        pdf.polygon(
            [(outer, top), (inner, top), (inner - into * out, top + high), (outer, top + high)],
            style="F",
        )
    if cut.bottom_grade:
        pdf.set_fill_color(*_INK)
        for n in range(2 * cut.bottom_grade):
            pdf.ellipse(middle - kerf - 1.2 * n, top + high - 0.2, 1.4, 1.2, style="F")


def _pictures(pdf: "FPDF", photos: Sequence[bytes]) -> None:
    """Photos side by side, as large as the rest of the page allows."""
    if not photos:
        return
    pdf.ln(3)
    shown = photos[:MOST_PHOTOS]
    width = (210.0 - 2 * PAGE_MARGIN_MM - 4 * (len(shown) - 1)) / max(3, len(shown))
    room = 297.0 - PAGE_MARGIN_MM - pdf.get_y()
    if room < 20:
        return
    top = pdf.get_y()
    for n, photo in enumerate(shown):
        pdf.image(
            io.BytesIO(photo),
            x=PAGE_MARGIN_MM + n * (width + 4),
            y=top,
            w=width,
            h=min(room, 0.75 * width),
            keep_aspect_ratio=True,
        )
