"""Whether a table is square and to scale, from pieces that were measured: judged while they are typed, and kept."""

from datetime import datetime
from typing import Annotated

from fastapi import Query
from pydantic import Field

from orthotome.api.depends import Reading, Store
from orthotome.api.routing import room
from orthotome.api.wire import Id, Wire
from orthotome.core.machine.adjusting import UNKNOWN_GANTRY, Gantry, adjusting
from orthotome.core.machine.measures import Code, judge_machine
from orthotome.formats.machine.measures import (
    MachineMeasuresFile,
    MachineReportFile,
    measured_of,
    report_of,
)
from orthotome.formats.reading import FileModel
from orthotome.store.machine import measured, pages
from orthotome.store.shop import shop
from orthotome.store.tables import MeasuredRow

router = room("machine")


class MachineFinding(Wire):
    """One thing found, with what proves it and what puts it right."""

    code: Code
    title: str
    why: str
    check: str
    cure: str


class AdjustingAnswer(Wire):
    """How it is put right on this machine. ``steps`` are those of the gantry's +X end, positive toward -Y."""

    steps: float | None
    steps_sd: float | None
    new_steps_per_mm_x: float | None
    new_steps_per_mm_y: float | None
    says: list[str]


class MachineJudged(Wire):
    """What measured pieces say, and how it is put right."""

    report: MachineReportFile
    findings: list[MachineFinding]
    adjusting: AdjustingAnswer


class KeepMeasured(FileModel):
    """Pieces that were measured, and what was done before they were cut."""

    measures: MachineMeasuresFile
    note: Annotated[str, Field(max_length=400)] = ""


class MeasuredAnswer(Wire):
    """A measurement that is kept, with what it says."""

    id: int
    measured_at: datetime
    measured_by: str
    note: str
    measures: MachineMeasuresFile
    judged: MachineJudged


def judged(measures: MachineMeasuresFile, gantry: Gantry = UNKNOWN_GANTRY) -> MachineJudged:
    """What pieces say. Raises TradeError, naming the field, for what no table can have cut."""
    found = judge_machine(measured_of(measures))
    todo = adjusting(found, gantry)
    return MachineJudged(
        report=report_of(found),
        findings=[
            MachineFinding(code=f.code, title=f.title, why=f.why, check=f.check, cure=f.cure)
            for f in found.findings
        ],
        adjusting=AdjustingAnswer(
            steps=todo.steps.value if todo.steps else None,
            steps_sd=todo.steps.sd if todo.steps else None,
            new_steps_per_mm_x=todo.new_steps_per_mm_x,
            new_steps_per_mm_y=todo.new_steps_per_mm_y,
            says=list(todo.says),
        ),
    )


def _answer(row: MeasuredRow) -> MeasuredAnswer:
    measures = measured.measures_of(row)
    return MeasuredAnswer(
        id=row.id or 0,
        measured_at=row.measured_at,
        measured_by=row.measured_by,
        note=row.note,
        measures=measures,
        judged=judged(measures),
    )


@router.post("/machine-measures/judged")
def judge_measures(
    measures: MachineMeasuresFile, session: Reading, table_id: Annotated[Id | None, Query()] = None
) -> MachineJudged:
    """What pieces say, while they are typed, and how that is put right on a table. Saves nothing."""
    gantry = UNKNOWN_GANTRY
    if table_id is not None:
        gantry = pages.settings(shop.table(session, table_id)).gantry()
    return judged(measures, gantry)


@router.get("/tables/{table_id}/measured")
def get_measured(table_id: Id, session: Reading) -> list[MeasuredAnswer]:
    """Measurements of a table, newest first."""
    return [_answer(row) for row in measured.measurements(session, table_id)]


@router.post("/tables/{table_id}/measured", status_code=201)
def keep_measured(table_id: Id, request: KeepMeasured, store: Store) -> MeasuredAnswer:
    """Keep a measurement: the next one is held against it."""
    judged(request.measures)  # what no table can have cut is refused before it is kept
    with store.write() as session:
        return _answer(measured.keep(session, table_id, request.measures, request.note))


@router.put("/measured/{measured_id}/struck", status_code=204)
def strike_measured(measured_id: Id, store: Store, out: Annotated[bool, Query()] = True) -> None:
    """Strike a measurement out, or put it back."""
    with store.write() as session:
        measured.strike(session, measured_id, out=out)
