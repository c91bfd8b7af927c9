"""Whether a table is square and to scale, from pieces that were measured: judged while they are typed, and kept."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from orthotome.api.depends import Reading, Store
from orthotome.api.wire import Id
from orthotome.core.machine.measures import Code, judge_machine
from orthotome.formats.machine.measures import (
    MachineMeasuresFile,
    MachineReportFile,
    measured_of,
    report_of,
)
from orthotome.formats.reading import FileModel
from orthotome.store.machine import measured
from orthotome.store.tables import MeasuredRow

router = APIRouter(tags=["machine"])


class MachineFinding(BaseModel):
    """One thing found, with what proves it and what puts it right."""

    code: Code
    title: str
    why: str
    check: str
    cure: str


class MachineJudged(BaseModel):
    """What measured pieces say."""

    report: MachineReportFile
    findings: list[MachineFinding]


class KeepMeasured(FileModel):
    """Pieces that were measured, and what was done before they were cut."""

    measures: MachineMeasuresFile
    note: Annotated[str, Field(max_length=400)] = ""


class MeasuredAnswer(BaseModel):
    """A measurement that is kept, with what it says."""

    id: int
    measured_at: datetime
    measured_by: str
    note: str
    measures: MachineMeasuresFile
    judged: MachineJudged


def judged(measures: MachineMeasuresFile) -> MachineJudged:
    """What pieces say. Raises TradeError, naming the field, for what no table can have cut."""
    found = judge_machine(measured_of(measures))
    return MachineJudged(
        report=report_of(found),
        findings=[
            MachineFinding(code=f.code, title=f.title, why=f.why, check=f.check, cure=f.cure)
            for f in found.findings
        ],
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
def judge_measures(measures: MachineMeasuresFile) -> MachineJudged:
    """What pieces say, while they are typed. Saves nothing."""
    return judged(measures)


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
