"""A table's health on one page of paper, for whoever mends it."""

from collections.abc import Sequence
from datetime import datetime

from orthotome.core.machine.health import HealthLine, Standing
from orthotome.formats.paper import blank_page, in_letters, line

_SAID: dict[Standing, str] = {
    "good": "good",
    "look": "look",
    "wrong": "WRONG",
    "due": "due",
    "not_known": "not known",
}


def write_health_sheet(
    table: str, lines: Sequence[HealthLine], upsets: Sequence[str], at: datetime
) -> bytes:
    """The page as a PDF, A4, in the shop's units."""
    pdf = blank_page(f"Health of the {table}")
    line(pdf, 22, f"Health of the {table}", bold=True)
    line(pdf, 11, f"As known on {at:%Y-%m-%d}.")
    pdf.ln(3)
    for known in lines:
        pdf.set_font("Helvetica", "B", 12)
        pdf.cell(70, 6, in_letters(known.label))
        pdf.cell(28, 6, _SAID[known.standing])
        pdf.set_font("Helvetica", "", 10)
        found = known.known
        when = "" if found is None else f"{found.at:%Y-%m-%d}" if found.at else "date not known"
        pdf.cell(0, 6, in_letters(f"{when}{f', {found.by}' if found and found.by else ''}"))
        pdf.ln(6)
        if found is not None:
            line(pdf, 10, found.figure)
        if known.due_because:
            line(pdf, 10, known.due_because)
        if known.standing in ("due", "not_known"):
            line(pdf, 10, known.tells)
        pdf.ln(2.4)
    for said in upsets:
        line(pdf, 10, said)
    line(
        pdf,
        9,
        "Isolate the source and the machine and lock them out before hands go near drives, torch or cabinets; the equipment's "
        "manual and local codes rule.",
    )
    return bytes(pdf.output())
