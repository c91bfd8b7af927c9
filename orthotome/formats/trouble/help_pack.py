"""One page for a supplier or a friend: what is fitted and set, what was seen and asked, what it may be."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from orthotome.formats.paper import blank_page, line


@dataclass(frozen=True)
class HelpPack:
    """Everything that is on the page: pairs of a question and its answer, and of a cause and its chance."""

    table: str
    at: datetime
    complaint: str
    setting: Sequence[tuple[str, str]]
    told: Sequence[tuple[str, str]]
    known: Sequence[tuple[str, str]]
    causes: Sequence[tuple[str, float]]
    health: Sequence[tuple[str, str]]
    solved: Sequence[str]


def write_help_pack(pack: HelpPack) -> bytes:
    """The page as a PDF, A4, in the shop's units."""
    pdf = blank_page(f"Trouble: {pack.complaint}")
    pdf.set_auto_page_break(auto=True, margin=14)
    line(pdf, 20, pack.complaint, bold=True)
    line(pdf, 11, f"On the {pack.table}, {pack.at:%Y-%m-%d}.")
    for title, pairs in (
        ("Set and fitted", pack.setting),
        ("What was seen", pack.told),
        ("What the records know", pack.known),
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
    return bytes(pdf.output())
