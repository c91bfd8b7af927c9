"""A checked program as a picture: its path on the sheet with the speed that is really reached, and what was found where."""

import math
from itertools import pairwise
from typing import Literal

import numpy as np

from orthotome.core.machine.motion import AT_SPEED
from orthotome.core.programs.check import Checked
from orthotome.core.programs.corrections import WITHOUT_JUDGEMENT
from orthotome.core.programs.findings import Code, Problem, Severity, verdict_says
from orthotome.core.programs.program import (
    FEED,
    KIND,
    RAPID,
    X0,
    X1,
    Y0,
    Y1,
    Array,
    as_points,
    lengths_mm,
)
from orthotome.core.programs.remade import WITH_JUDGEMENT
from orthotome.core.programs.run_costs import counts_of_run, parts_of
from orthotome.formats.programs.report import ContourReport, ProgramReport, report_to_file
from orthotome.formats.reading import WrittenModel

Band = Literal["at_speed", "slow", "crawling"]
"""Nine tenths of the set speed and more; less; less than half."""
_HALF = 0.5
_MOST_POINTS = 60_000
_MOST_SHOWN = 2_000  # of findings; the rest are counted


class Stroke(WrittenModel):
    """A stretch of one contour, run at one pace. ``lead`` is what is no part of the contour."""

    contour: int
    band: Band
    lead: bool
    seconds: float
    points: list[tuple[float, float]]


class Shown(WrittenModel):
    """One finding, with its place."""

    code: Code
    title: str
    line: int
    severity: Severity
    why: str
    fix: str
    at: tuple[float, float] | None
    contour: int | None
    by_itself: bool  # a copy can be rid of it at a tap
    on_request: bool  # its contour can be cut otherwise, drawn before it is written


class WorkedOut(WrittenModel):
    """All that a screen shows of a program, but for where it is kept."""

    report: ProgramReport
    verdict: str
    contours: list[ContourReport]
    findings: list[Shown]
    more_findings: int
    strokes: list[Stroke]
    rapids: list[tuple[float, float, float, float]]
    lines: int
    arc_s: float
    off_plate: int
    parts: int
    moves_off_s: list[float]
    """When the torch moves off after each pierce, counted from the first line."""


def worked_out(checked: Checked) -> WorkedOut:
    """The picture of a checked program."""
    report = report_to_file(checked)
    motions = checked.program.motions
    rapid = motions[(motions[:, KIND] == RAPID) & (lengths_mm(motions) > 0.05)]
    counts = counts_of_run(checked)
    by = [p.severity for p in checked.problems]
    return WorkedOut(
        report=report,
        verdict=verdict_says(by.count("stop"), by.count("look")),
        contours=list(report.contours),
        findings=[
            Shown(
                code=p.code,
                title=p.title,
                line=p.line,
                severity=p.severity,
                why=p.why,
                fix=p.fix,
                at=p.at,
                contour=p.contour,
                on_request=_on_request(checked, p),
                by_itself=p.code in WITHOUT_JUDGEMENT and checked.program.straight_through,
            )
            for p in checked.problems[:_MOST_SHOWN]
        ],
        more_findings=max(0, len(checked.problems) - _MOST_SHOWN),
        strokes=_strokes(checked),
        rapids=[tuple(round(float(v), 2) for v in row) for row in rapid[:20_000, [X0, Y0, X1, Y1]]],
        lines=checked.program.lines,
        arc_s=round(counts.arc_on_s, 1),
        off_plate=counts.off_plate,
        parts=parts_of(checked.contours),
        moves_off_s=_moves_off_s(checked),
    )


def _moves_off_s(checked: Checked) -> list[float]:
    """When each contour's cutting begins: its arc has struck and the pierce delay is over."""
    delays = [0.0 if math.isnan(c.run.delay_s) else c.run.delay_s for c in checked.contours]
    return [round(s + d, 2) for s, d in zip(checked.time.strikes_s, delays, strict=True)]


def _on_request(checked: Checked, problem: Problem) -> bool:
    """Whether what was found can be drawn put right: a contour that the controller compensates cannot."""
    if problem.code not in WITH_JUDGEMENT or problem.contour is None:
        return False
    plain = checked.program.straight_through and checked.program.absolute
    return plain and not checked.contours[problem.contour].compensated


def _strokes(checked: Checked) -> list[Stroke]:
    """Every contour in stretches of one pace, with no more points than a screen can use."""
    total = sum(len(c.motions) for c in checked.contours)
    x0, y0, x1, y1 = checked.extents_mm or (0.0, 0.0, 1.0, 1.0)
    within = max(x1 - x0, y1 - y0, 1.0) / (4000 if total < _MOST_POINTS else 800)
    found = []
    for i, contour in enumerate(checked.contours):
        feeds = contour.motions[:, FEED]
        with np.errstate(invalid="ignore"):
            share = np.nan_to_num(checked.time.peaks_mm_min[i] / feeds, nan=1.0)
        bands = np.where(share >= AT_SPEED - 1e-6, 2, np.where(share >= _HALF, 1, 0))
        keys = bands * 2 + contour.in_part
        edges = [0, *(np.flatnonzero(np.diff(keys)) + 1), len(keys)]
        for a, b in pairwise(edges):
            names: tuple[Band, Band, Band] = ("crawling", "slow", "at_speed")
            lead = not bool(contour.in_part[a])
            points = _thinned(as_points(contour.motions[a:b], within)[0], within)
            seconds = round(float(checked.time.motion_s[i][a:b].sum()), 3)
            found.append(
                Stroke(contour=i, band=names[bands[a]], lead=lead, seconds=seconds, points=points)
            )
    return found


def _thinned(points: Array, within_mm: float) -> list[tuple[float, float]]:
    """Points that lie nearer to the one before than a screen can show are left out, but for the last."""
    if len(points) > 400:
        way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
        kept = np.concatenate([[True], np.diff(np.floor(way / max(within_mm, 1e-6))) > 0])
        kept[-1] = True
        points = points[kept]
    return [(round(float(x), 2), round(float(y), 2)) for x, y in points]
