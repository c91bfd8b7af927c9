"""``orthotome.program_report``, version 1: what a program is, what was found in it, what could not be told."""

import math
from typing import Literal

from pydantic import Field

from orthotome.core.edge.edges import Side
from orthotome.core.programs.check import Checked
from orthotome.core.programs.contours import Kind, Turns
from orthotome.core.programs.corrections import LineChanged
from orthotome.core.programs.findings import Code, Severity
from orthotome.formats.reading import WrittenModel


class ContourReport(WrittenModel):
    """One cut. ``line`` is that of its torch-on word, ``size_mm`` that of the path without leads."""

    line: int
    kind: Kind
    turns: Turns | None
    kept_side: Side | None
    closed: bool
    size_mm: tuple[float, float]
    lead_in_mm: float
    overrun_mm: float
    lead_out_mm: float
    feed_mm_min: float | None
    share_at_speed: float
    blind_mm: float | None


class FindingReport(WrittenModel):
    """One thing found."""

    code: Code
    line: int
    severity: Severity
    why: str
    fix: str


class WrittenReport(WrittenModel):
    """One correction in the copy; ``line`` is the original's."""

    line: int
    was: str
    now: str
    why: str


class ProgramReport(WrittenModel):
    """The whole answer."""

    format: Literal["orthotome.program_report"] = "orthotome.program_report"
    version: Literal[1] = 1
    units: Literal["mm", "in"]
    pierces: int
    cut_mm: float
    seconds: float
    extents_mm: tuple[float, float, float, float] | None
    share_at_speed: float
    contours: tuple[ContourReport, ...]
    findings: tuple[FindingReport, ...]
    cannot_tell: tuple[str, ...] = Field(description="what was not checked, and what would tell")
    written: tuple[WrittenReport, ...] | None = None


def report_to_file(checked: Checked, written: tuple[LineChanged, ...] | None = None) -> ProgramReport:
    """The open file of what was found, and of what was put right in a copy."""
    extents = checked.extents_mm
    return ProgramReport(
        units=checked.program.units,
        pierces=checked.pierces,
        cut_mm=round(checked.cut_mm, 1),
        seconds=round(checked.time.seconds, 1),
        extents_mm=None if extents is None else tuple(round(v, 3) + 0.0 for v in extents),
        share_at_speed=round(checked.time.whole_share, 3),
        contours=tuple(_contours(checked)),
        findings=tuple(
            FindingReport(code=p.code, line=p.line, severity=p.severity, why=p.why, fix=p.fix)
            for p in checked.problems
        ),
        cannot_tell=checked.cannot_tell,
        written=None
        if written is None
        else tuple(WrittenReport(line=w.line, was=w.was, now=w.now, why=w.why) for w in written),
    )


def _contours(checked: Checked) -> list[ContourReport]:
    found = []
    for contour, share, blind in zip(
        checked.contours, checked.time.share_at_speed, checked.blind_mm, strict=True
    ):
        feed = contour.feed_mm_min
        found.append(
            ContourReport(
                line=contour.line,
                kind=contour.kind,
                turns=contour.turns,
                kept_side=contour.kept_side,
                closed=contour.closed,
                size_mm=(round(contour.size_mm[0], 3), round(contour.size_mm[1], 3)),
                lead_in_mm=round(contour.lead_in_mm, 3),
                overrun_mm=round(contour.overrun_mm, 3),
                lead_out_mm=round(contour.lead_out_mm, 3),
                feed_mm_min=None if math.isnan(feed) else round(feed, 2),
                share_at_speed=round(share, 3),
                blind_mm=None if blind is None else round(blind, 1),
            )
        )
    return found
