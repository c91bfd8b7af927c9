"""Recordings over the wire: taken in from files, read, drawn, and compared."""

import json
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response
from pydantic import TypeAdapter, ValidationError
from sqlmodel import Session

from orthotome.api.bodies import CSV_TYPES, CsvBody, takes
from orthotome.api.depends import Reading, Store, as_it_is
from orthotome.api.height import answers, models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.doubts import ask
from orthotome.core.errors import TradeError
from orthotome.core.height.trace import drawn
from orthotome.core.height.trace_doubts import doubts_of
from orthotome.core.height.trace_report import BesideTrace
from orthotome.core.height.volts import volts_for_height
from orthotome.core.units import UNITS
from orthotome.desk.height.recording import report_or_none
from orthotome.desk.working.apart import apart
from orthotome.formats.height.trace_csv import (
    QUANTITY_OF,
    ColumnMatch,
    beginning,
    read_checked_trace,
    suggested,
    write_trace_csv,
)
from orthotome.store.height import readings, traces
from orthotome.store.tables import CutRow, TraceRow, Trial

router = room("height")

_NOTHING: list[str] = []
_MATCHES = TypeAdapter(dict[str, models.ColumnMatchFile])


@router.post("/traces/headings", openapi_extra=takes(*CSV_TYPES))
def trace_headings(body: CsvBody) -> models.TraceHeadings:
    """The columns of a file, and which are likely what. Saves nothing."""
    layout = apart("file", beginning, body)
    match, asked = suggested(layout)
    return models.TraceHeadings(
        headings=layout.headings,
        rows=[list(row) for row in layout.rows],
        said=[*layout.said, *asked],
        suggested={
            n: models.ColumnMatchFile(heading=m.heading, unit=m.unit, times=m.times)
            for n, m in match.items()
        },
        units={name: list(UNITS.get(quantity, {})) for name, quantity in QUANTITY_OF.items()},
    )


@router.post("/tables/{table_id}/traces", status_code=201, openapi_extra=takes(*CSV_TYPES))
def take_in_trace(
    table_id: Id,
    body: CsvBody,
    database: Store,
    *,
    name: Annotated[str, Query(min_length=1, max_length=120)],
    match: Annotated[str, Query(max_length=4000)] = "",
    every_s: Annotated[float | None, Query(ge=0.0001, le=60)] = None,
    insisted: Annotated[list[str], Query(max_length=20)] = _NOTHING,
) -> models.TraceLine:
    """Take in a recording from a file; ``match`` names its columns, where they have other names, as JSON, and ``every_s`` is
    the time from row to row where no column holds it. Figures that no table has are asked about, until they are insisted on."""
    trace = apart("file", read_checked_trace, body, _match_of(match), every_s)
    ask(doubts_of(trace), insisted)
    with database.write() as session:
        row = traces.begin(session, table_id, "file", name)
        traces.add(session, row, trace)
        row.ended = True
        session.add(row)
        session.flush()
        return answers.trace_line(row, None)


def _match_of(text: str) -> dict[str, ColumnMatch] | None:
    if not text:
        return None
    try:
        found = _MATCHES.validate_python(json.loads(text))
    except (ValueError, ValidationError):
        raise TradeError("match", "is no match of columns: name a heading for each.") from None
    unknown = [name for name in found if name not in QUANTITY_OF]
    if unknown:
        raise TradeError("match", f"“{unknown[0]}” is nothing that a recording holds.")
    for column, m in found.items():
        if m.unit and m.unit not in UNITS.get(QUANTITY_OF[column], {}):
            raise TradeError(column, f"“{m.unit}” is not a unit of {QUANTITY_OF[column]}.")
    return {n: ColumnMatch(m.heading, m.unit, m.times) for n, m in found.items()}


@router.get("/tables/{table_id}/traces")
def get_traces(table_id: Id, session: Reading) -> list[models.TraceLine]:
    """The recordings of a table, newest first."""
    return [
        answers.trace_line(row, _cut_number(session, row)) for row in traces.traces(session, table_id)
    ]


def _cut_number(session: Session, row: TraceRow) -> int | None:
    cut = session.get(CutRow, row.cut_id) if row.cut_id is not None else None
    return cut.number if cut else None


@router.get("/traces/{trace_id}", response_model=models.TraceAnswer)
def get_trace(trace_id: Id, session: Reading) -> Response:
    """What a recording says."""
    row = traces.trace(session, trace_id)
    samples = traces.samples(session, trace_id)
    report = report_or_none(samples, _known(session, row))
    trims = traces.trims(session, trace_id)
    return as_it_is(answers.trace(row, _cut_number(session, row), samples, report, trims))


def _known(session: Session, row: TraceRow) -> BesideTrace:
    """What is known beside a recording: the table's volts per millimetre, the height, the speed."""
    trial = session.get(Trial, row.trial_id) if row.trial_id is not None else None
    slope = None
    if trial is not None:
        volts = volts_for_height(readings.readings(session, trial).taken)
        slope = volts.slope_v_per_mm if volts.taught else None
    return BesideTrace(slope, row.cut_height_mm, None, row.speed_mm_min)


@router.get("/traces/{trace_id}/trims")
def get_trims(trace_id: Id, session: Reading) -> list[models.TrimAnswer]:
    """The trims of a recording, that runs or has ended, in the order they were made."""
    traces.trace(session, trace_id)
    return [answers.trim(row) for row in traces.trims(session, trace_id)]


@router.get("/traces/{trace_id}/drawn", response_model=models.DrawnAnswer)
def get_drawn(
    trace_id: Id,
    session: Reading,
    begin_s: Annotated[float, Query(ge=-1e9, le=1e9)],
    end_s: Annotated[float, Query(ge=-1e9, le=1e9)],
    slices: Annotated[int, Query(ge=10, le=4000)] = 1200,
) -> Response:
    """A stretch of a recording to draw, no peak of it lost."""
    if not end_s > begin_s:
        raise TradeError("end_s", "must be later than begin_s.")
    traces.trace(session, trace_id)
    return as_it_is(answers.drawn(drawn(traces.samples(session, trace_id), begin_s, end_s, slices)))


@router.put("/traces/{trace_id}/struck", status_code=204)
def strike_trace(trace_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Strike a recording out, or put it back."""
    with database.write() as session:
        traces.strike_out(session, trace_id, struck_out=out)


@router.get("/traces/{trace_id}/csv")
def get_trace_csv(trace_id: Id, session: Reading) -> Response:
    """A recording as CSV, in the columns of ``orthotome trace``."""
    traces.trace(session, trace_id)
    text = write_trace_csv(traces.samples(session, trace_id))
    headers = {"content-disposition": f'attachment; filename="trace-{trace_id}.csv"'}
    return Response(text, media_type="text/csv", headers=headers)
