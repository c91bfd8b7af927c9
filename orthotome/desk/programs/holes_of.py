"""How a program's holes come out, by the holes that were tried with its setting."""

from dataclasses import dataclass

from sqlmodel import Session

from orthotome.core.machine.hole_fit import drawn_across_mm
from orthotome.formats.programs.report import ProgramReport
from orthotome.store.height.trial_volts import NumbersNow
from orthotome.store.machine import holes
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow


@dataclass(frozen=True)
class HoleComesOut:
    """A hole by its line: drawn so wide, so wide where a pin goes through, give or take ``sd_mm``."""

    line: int
    drawn_mm: float
    through_mm: float
    sd_mm: float


def holes_of(session: Session, row: ProgramRow, numbers: NumbersNow) -> list[HoleComesOut]:
    """The holes of a program near which one was tried; none without a setting."""
    setting = programs.setting_of(session, row, numbers)
    if setting.job is None:
        return []
    kerf_mm = setting.job.setting.kerf_mm
    plate = holes.Plate(setting.set_name, setting.metal, setting.job.thickness_mm, kerf_mm)
    tried = holes.table_of(session, row.table_id, plate)
    drawn = [
        (contour.line, drawn_across_mm(contour.size_mm, kerf_mm))
        for contour in ProgramReport.model_validate_json(row.report).contours
        if contour.kind == "hole"
    ]
    return [
        HoleComesOut(line, across_mm, *tried.through(across_mm))
        for line, across_mm in drawn
        if tried.known(across_mm)
    ]
