"""Programs put into words for the screen; the checking itself is done in a process apart."""

import json
from collections.abc import Callable

from sqlmodel import Session

from orthotome.api.programs import models
from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import AxisMap
from orthotome.core.programs.against import Against
from orthotome.core.programs.check import check
from orthotome.core.programs.corrections import Correction
from orthotome.core.programs.findings import Code, verdict_says
from orthotome.core.programs.kept import fitted_says
from orthotome.core.programs.parts_last import parts_last_says
from orthotome.core.programs.remade import remake_for
from orthotome.core.programs.run_costs import RunCosts, run_costs
from orthotome.core.programs.split import half_says
from orthotome.core.torch.forecast import starts_left
from orthotome.desk.torch.costs_now import cost_of_start
from orthotome.desk.working.apart import Watch, apart
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.programs.correcting import corrected
from orthotome.formats.programs.picture import WorkedOut, worked_out
from orthotome.formats.programs.remaking import rewritten
from orthotome.formats.programs.report import ProgramReport, WrittenReport
from orthotome.formats.programs.rs274 import NoProgram, read_program, refusal
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow

MOST_CPU_S = 120
"""For a program of 50 MB; who waits for it sees how far it is, and can stop it."""


def _checked(
    content: bytes,
    profile: OutputProfile,
    axes: AxisMap,
    against: Against,
    progress: Callable[[float], None] | None = None,
) -> str:
    try:
        program = read_program(content, profile, axes, progress)
        if progress is not None:
            progress(1.0)
        return worked_out(check(program, against)).model_dump_json()
    except NoProgram as wrong:
        raise refusal(wrong) from None


def _corrected(
    content: bytes, profile: OutputProfile, axes: AxisMap, against: Against
) -> tuple[bytes, tuple[Correction, ...]]:
    try:
        copy = corrected(content, profile, against, axes)
    except NoProgram as wrong:
        raise refusal(wrong) from None
    return copy.content, copy.written


def _remade(
    content: bytes,
    profile: OutputProfile,
    axes: AxisMap,
    against: Against,
    asked: list[tuple[Code, int]],
) -> tuple[bytes, tuple[Correction, ...], str]:
    if against.job is None:
        raise TradeError(
            "program", "give a recipe or a trial to check against: kerf and swirl come from it."
        )
    wanted = [remake_for(code, contour, against.job) for code, contour in asked]
    try:
        copy = rewritten(content, profile, against, axes, [w for w in wanted if w is not None])
    except NoProgram as wrong:
        raise refusal(wrong) from None
    return copy.content, copy.written, worked_out(copy.checked).model_dump_json()


def remade_apart(
    content: bytes, basis: programs.Basis, request: models.RemadeRequest
) -> tuple[bytes, tuple[Correction, ...], WorkedOut]:
    """A copy with contours cut otherwise: its text, what was written, how it looks. Raises TradeError or FileError."""
    asked = [(a.code, a.contour) for a in request.asked]
    copy, written, text = apart(
        "program", _remade, content, basis.profile, basis.axes, basis.against, asked
    )
    return copy, written, WorkedOut.model_validate_json(text)


def check_apart(content: bytes, basis: programs.Basis, watch: Watch | None = None) -> WorkedOut:
    """A program checked in a process apart. Raises TradeError or FileError."""
    given = (content, basis.profile, basis.axes, basis.against)
    text = apart("program", _checked, *given, watch=watch, most_cpu_s=MOST_CPU_S)
    return WorkedOut.model_validate_json(text)


def correct_apart(content: bytes, basis: programs.Basis) -> tuple[bytes, tuple[Correction, ...]]:
    """A copy put right, and what was written into it. Raises TradeError or FileError."""
    return apart("program", _corrected, content, basis.profile, basis.axes, basis.against)


def program(
    session: Session, row: ProgramRow, basis: programs.Basis, found: WorkedOut
) -> models.ProgramAnswer:
    """The whole answer."""
    job, then = basis.against.job, programs.stand_then(row)
    cost = _cost(session, row, basis, found.report)
    return models.ProgramAnswer(
        id=row.id or 0,
        version=row.version,
        table_id=row.table_id,
        name=row.name,
        against=basis.title,
        recipe_id=row.recipe_id,
        trial_id=row.trial_id,
        torch_set_id=row.torch_set_id,
        thickness_mm=job.thickness_mm if job else None,
        sheet_x_mm=row.sheet_x_mm,
        sheet_y_mm=row.sheet_y_mm,
        drawing_name=row.drawing_name,
        nominal=[
            models.NominalSize(contour=i, x_mm=x, y_mm=y)
            for i, (x, y) in sorted(programs.nominal_of(row).items())
        ],
        half=row.half,
        half_says=half_says(row.half, basis.set_name),
        other_half=other.id if (other := programs.other_half(session, row)) else None,
        fitted_says=fitted_says(basis.set_name, basis.fitted, job.thickness_mm) if job else "",
        parts_says=_parts_says(basis, found),
        moved=list(then.moved(basis.stand)) if then else [],
        cost=cost.whole,
        cost_says=_cost_says(cost, found.parts),
        gas_l=None if basis.gas_l_min is None else round(basis.gas_l_min * found.arc_s / 60, 1),
        copy_of=row.copy_of,
        copies=[c.id for c in programs.copies_of(session, row.id or 0) if c.id],
        written=[WrittenReport(**vars(w)) for w in programs.written_in(row)],
        found=found,
    )


def _parts_says(basis: programs.Basis, found: WorkedOut) -> str:
    """Whether the fitted parts last the program, where they are the setting's; that they are others is said already."""
    if basis.life is None:
        return ""
    outlines = [c.closed and c.kind == "outside" for c in found.contours]
    left = starts_left(basis.life)
    return parts_last_says(outlines, found.report.pierces, left, measured=basis.life.pits > 0)


def line(session: Session, row: ProgramRow, basis: programs.Basis) -> models.ProgramLine:
    """A program in a list, as it was found when it was checked last."""
    report = ProgramReport.model_validate(json.loads(row.report))
    then = programs.stand_then(row)
    by = [f.severity for f in report.findings]
    return models.ProgramLine(
        id=row.id or 0,
        name=row.name,
        against=basis.title,
        verdict=verdict_says(by.count("stop"), by.count("look")),
        stops=by.count("stop"),
        looks=by.count("look"),
        notes=by.count("note"),
        pierces=report.pierces,
        cut_mm=report.cut_mm,
        seconds=report.seconds,
        cost=_cost(session, row, basis, report).whole,
        share_at_speed=report.share_at_speed,
        copy_of=row.copy_of,
        moved=list(then.moved(basis.stand)) if then else [],
        checked_at=row.checked_at,
    )


def _cost(session: Session, row: ProgramRow, basis: programs.Basis, report: ProgramReport) -> RunCosts:
    """What one run costs."""
    per_start = costs_of_start(session, row, basis)
    return run_costs(report.pierces, report.seconds, per_start, basis.hour_cost)


def costs_of_start(session: Session, row: ProgramRow, basis: programs.Basis) -> float | None:
    """What a start costs on the parts: by the shelf and by how those that are fitted wear where the setting's set is on, by
    the set's own figures otherwise."""
    if basis.life is None:
        return basis.per_start
    by_shelf = cost_of_start(session, row.table_id, basis.life)
    return basis.per_start if by_shelf is None else by_shelf


def _cost_says(cost: RunCosts, parts: int) -> str:
    """What a run's cost is of, or what would tell it."""
    known = [
        f"{what} {value:.2f}"
        for what, value in (("Parts", cost.parts), ("machine", cost.machine))
        if value is not None
    ]
    missing = [
        needs
        for needs, value in (
            ("the shelf does not say what the parts cost", cost.parts),
            ("the machine’s page does not say what an hour costs", cost.machine),
        )
        if value is None
    ]
    each = [f"{cost.whole / parts:.2f} a part"] if cost.whole is not None and parts > 1 else []
    return "; ".join([", ".join([*known, *each]), *missing] if known else missing) + "."
