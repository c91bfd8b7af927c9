"""A whole program checked: recognised, timed, and held against setting, parts, table, sheet and drawing."""

import math
from dataclasses import dataclass

from orthotome.core.programs import contour_checks, drawing_checks, setting_checks, sheet_checks
from orthotome.core.programs.checked_against import CheckedAgainst
from orthotome.core.programs.contours import ProgramContour, contours_of
from orthotome.core.programs.findings import Code, Problem, in_order
from orthotome.core.programs.program import Program, lengths_mm
from orthotome.core.programs.run_time import RunTime, run_time

_TRIED_BY_PIECES: frozenset[Code] = frozenset(
    (
        "hole_too_small",
        "never_at_speed",
        "arc_too_small",
        "lead_in_short",
        "overrun_missing",
        "lead_out_short",
        "crosses_old_kerf",
        "hole_too_fast",
        "against_swirl",
        "pierce_too_thick",
    )
)
"""What a test piece is there to try, or cannot have otherwise at its size: no fault of it."""


@dataclass(frozen=True, eq=False)
class Checked:
    """What a program is, what was found in it, and what could not be told."""

    program: Program
    contours: tuple[ProgramContour, ...]
    time: RunTime
    extents_mm: tuple[float, float, float, float] | None
    cut_mm: float
    problems: tuple[Problem, ...]
    cannot_tell: tuple[str, ...]
    blind_mm: tuple[float | None, ...]

    @property
    def pierces(self) -> int:
        """Arc starts, the stationary ones of a table set by hand as well."""
        return sum(1 for act in self.program.acts if act.kind == "torch_on")


def check(program: Program, against: CheckedAgainst) -> Checked:
    """Everything that can be said of a program. Raises TradeError where it holds more contours than any sheet."""
    job, table = against.job, against.table
    contours = contours_of(program, job.swirl if job else None)
    matches = None
    if against.drawing:
        kerf_mm = job.setting.kerf_mm if job else drawing_checks.USUAL_KERF_MM
        matches = drawing_checks.matched(contours, against.drawing, kerf_mm)
        contours = drawing_checks.told_by_drawing(contours, matches)
    if against.nominal:
        said = drawing_checks.typed(contours, against.nominal)
        matches = [said.get(i, m) for i, m in enumerate(matches or [None] * len(contours))]
    usual = job.setting.speed_mm_min if job else math.nan
    time = run_time(program, contours, table, usual if usual > 0 else 1000.0)
    found = _found(program, contours, against, time, matches)
    return Checked(
        program=program,
        contours=contours,
        time=time,
        extents_mm=sheet_checks.extents_mm(contours),
        cut_mm=float(sum(lengths_mm(c.motions).sum() for c in contours)),
        problems=in_order(found),
        cannot_tell=(*_cannot_tell(program, contours, against), *_not_drawn(contours, matches)),
        blind_mm=tuple(contour_checks.blind_mm(c, table, job) for c in contours),
    )


def _found(
    program: Program,
    contours: tuple[ProgramContour, ...],
    against: CheckedAgainst,
    time: RunTime,
    matches: list[drawing_checks.Drawn | None] | None,
) -> list[Problem]:
    """All problems, in no order."""
    job, table = against.job, against.table
    found = [*setting_checks.unread(program), *setting_checks.units(program)]
    found += setting_checks.torch(program, contours)
    found += setting_checks.heights(program, contours, job)
    if not program.dry_run:
        found += setting_checks.without_torch(program, contours)
    if job is not None:
        suspect = list(setting_checks.suspect_unit(program, contours, against))
        found += suspect
        found += setting_checks.amperage(program, job)
        found += setting_checks.pierce(program, contours, job)
        found += setting_checks.feeds(program, contours, job, unit_suspect=bool(suspect))
        found += setting_checks.delays(contours, job, test_piece=program.test_piece)
        found += contour_checks.direction(contours, job)
        found += contour_checks.leads(contours, job, table)
        found += contour_checks.ends(contours, job, table)
        found += contour_checks.holes(contours, job)
    found += contour_checks.order(contours)
    found += contour_checks.too_fast(contours, table)
    found += contour_checks.reach(contours, time.share_at_speed, job, table)
    if matches is not None:
        found += drawing_checks.kerf(contours, matches, job)
    if against.drawing and not any(p.code == "unit_suspect" for p in found):
        found += drawing_checks.unit_of_drawing(contours, against.drawing)
    found += contour_checks.compensation(contours, against)
    found += sheet_checks.on_sheet(contours, against)
    found += sheet_checks.arc_ends(contours, against)
    found += sheet_checks.crossings(contours)
    if program.test_piece:
        found = [p for p in found if p.code not in _TRIED_BY_PIECES]
    return found


def _not_drawn(
    contours: tuple[ProgramContour, ...], matches: list[drawing_checks.Drawn | None] | None
) -> list[str]:
    """Contours that the drawing laid over does not have."""
    strange = [c.line for c, m in zip(contours, matches or [], strict=False) if m is None and c.closed]
    if not strange:
        return []
    lines = ", ".join(map(str, strange[:6])) + (" and more" if len(strange) > 6 else "")
    return [f"The kerf of the cuts on lines {lines}: nothing says what size they are to come out at."]


def _cannot_tell(
    program: Program, contours: tuple[ProgramContour, ...], against: CheckedAgainst
) -> list[str]:
    """What was not checked, and what would tell."""
    said = list(program.doubts)
    if against.job is None:
        said.append(
            "Feed, pierce delay, heights, amperage and direction: give a recipe or a trial to check against."
        )
    closed = any(c.closed for c in contours)
    if closed and not (against.drawing or against.nominal) and not any(c.compensated for c in contours):
        said.append(
            "Whether the kerf is in the path: no G41 or G42 stands in it; lay the part's drawing over it, or type "
            "the sizes that it is to have."
        )
    if against.sheet_mm is None:
        said.append("Whether it lies on the sheet: give the sheet's size.")
    if against.table.acceleration_mm_s2 is None:
        said.append(
            "Speed really reached is for an ordinary acceleration: the table's own is not written down."
        )
    if against.job is not None and contours and not program.amperes:
        said.append("Amperage: the program does not name one.")
    if contours and not program.speaks_control and any(c.kind == "hole" for c in contours):
        said.append(
            "Height control in holes: no words for it were seen; the output profile names the table's own."
        )
    if against.table.height_delay_s is None:
        said.append("The blind distance: the table's height control delay is not written down.")
    return said
