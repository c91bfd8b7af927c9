"""What somebody who learns has passed, on one page of paper."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from orthotome.formats.paper import blank_page, in_letters, line

_TITLE_MM, _ROW_MM = 110.0, 6.5


@dataclass(frozen=True)
class Taken:
    """One exercise on the sheet; ``passed_on`` is None until it was passed."""

    title: str
    times: int
    passed_on: date | None


def write_learner_sheet(person: str, groups: Sequence[tuple[str, Sequence[Taken]]], at: date) -> bytes:
    """The page as a PDF, A4: each group of exercises with what was passed when."""
    pdf = blank_page("Practice sheet")
    pdf.set_auto_page_break(auto=True, margin=14)
    line(pdf, 22, "Practice sheet", bold=True)
    line(pdf, 12, f"{person or 'Name: ______________________'}, as of {at:%Y-%m-%d}")
    for words, taken in groups:
        passed = sum(t.passed_on is not None for t in taken)
        pdf.ln(4)
        line(pdf, 13, f"{words}: {passed} of {len(taken)} passed", bold=True)
        pdf.ln(1)
        for one in taken:
            pdf.set_font("Helvetica", "", 11)
            pdf.cell(_TITLE_MM, _ROW_MM, in_letters(one.title))
            pdf.cell(0, _ROW_MM, _said(one))
            pdf.ln(_ROW_MM)
    pdf.ln(4)
    line(
        pdf,
        9,
        "On simulated tables. It does not replace instruction at the machine: the equipment's manual, local codes and whoever "
        "answers for the table rule.",
    )
    return bytes(pdf.output())


def _said(one: Taken) -> str:
    if one.passed_on is not None:
        return f"passed {one.passed_on:%Y-%m-%d}"
    return "not yet" if one.times else "not taken"
