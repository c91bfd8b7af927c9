"""What one run of a program takes: money, gas, and starts of the parts that are fitted."""

from sqlmodel import Session

from orthotome.core.programs.parts_last import parts_last_says
from orthotome.core.programs.run_costs import RunCosts, run_costs
from orthotome.core.torch.forecast import starts_left
from orthotome.desk.torch.costs_now import cost_of_start
from orthotome.formats.programs.picture import WorkedOut
from orthotome.formats.programs.report import ProgramReport
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow


def cost_of_run(
    session: Session, row: ProgramRow, basis: programs.Basis, report: ProgramReport
) -> RunCosts:
    """What one run costs."""
    per_start = program_start_cost(session, row, basis)
    return run_costs(report.pierces, report.seconds, per_start, basis.hour_cost)


def program_start_cost(session: Session, row: ProgramRow, basis: programs.Basis) -> float | None:
    """What a start costs on the parts: by the shelf and by how those that are fitted wear where the setting's set is on, by
    the set's own figures otherwise."""
    if basis.life is None:
        return basis.per_start
    by_shelf = cost_of_start(session, row.table_id, basis.life)
    return basis.per_start if by_shelf is None else by_shelf


def gas_of_run_l(basis: programs.Basis, found: WorkedOut) -> float | None:
    """The gas that a run takes, in litres; None where the setting does not say what flows."""
    return None if basis.gas_l_min is None else basis.gas_l_min * found.arc_s / 60


def parts_say(basis: programs.Basis, found: WorkedOut) -> str:
    """Whether the fitted parts last the program, where they are the setting's; that they are others is said already."""
    if basis.life is None:
        return ""
    outlines = [c.closed and c.kind == "outside" for c in found.contours]
    left = starts_left(basis.life)
    return parts_last_says(outlines, found.report.pierces, left, measured=basis.life.pits > 0)
