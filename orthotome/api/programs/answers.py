"""Programs put into words for the screen."""

import json

from sqlmodel import Session

from orthotome.api.programs import models
from orthotome.core.programs.findings import verdict_says
from orthotome.core.programs.kept import fitted_says
from orthotome.core.programs.split import half_says
from orthotome.desk.programs.run_of import cost_of_run, gas_of_run_l, parts_say
from orthotome.formats.programs.picture import WorkedOut
from orthotome.formats.programs.report import ProgramReport, WrittenReport
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow


def program(
    session: Session, row: ProgramRow, basis: programs.Basis, found: WorkedOut
) -> models.ProgramAnswer:
    """The whole answer."""
    job, then = basis.against.job, programs.stand_then(row)
    cost, gas_l = cost_of_run(session, row, basis, found.report), gas_of_run_l(basis, found)
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
        parts_says=parts_say(basis, found),
        moved=list(then.moved(basis.stand)) if then else [],
        cost=cost.whole,
        cost_says=cost.says(found.parts),
        gas_l=None if gas_l is None else round(gas_l, 1),
        copy_of=row.copy_of,
        copies=[c.id for c in programs.copies_of(session, row.id or 0) if c.id],
        written=[WrittenReport(**vars(w)) for w in programs.written_in(row)],
        found=found,
    )


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
        cost=cost_of_run(session, row, basis, report).whole,
        share_at_speed=report.share_at_speed,
        copy_of=row.copy_of,
        moved=list(then.moved(basis.stand)) if then else [],
        checked_at=row.checked_at,
    )
