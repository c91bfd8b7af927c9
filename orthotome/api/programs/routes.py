"""Cutting programs: checked against what holds now, put right in a copy, and counted when they are run."""

import json
from typing import Annotated, Any

from fastapi import Path, Query
from fastapi.responses import Response

from orthotome.api.bodies import DRAWING_TYPES, PROGRAM_TYPES, DrawingBody, ProgramBody, takes
from orthotome.api.depends import Numbers, Reading, SignedStore, Store, as_it_is
from orthotome.api.programs import answers, models, ways
from orthotome.api.programs.findings import WithPrograms
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.errors import TradeError
from orthotome.core.machine.hole_fit import passes_says
from orthotome.core.quantities import duration
from orthotome.core.torch.counts import Counts
from orthotome.desk.programs.findings import ProgramFindings, copy_cut_otherwise, copy_put_right
from orthotome.desk.programs.holes_of import holes_of
from orthotome.desk.programs.ways import all_ways, split
from orthotome.desk.working.apart import Watch, apart
from orthotome.formats.pieces.drawing import read_drawing
from orthotome.formats.pieces.own_part import rings_to_file
from orthotome.formats.programs.picture import WorkedOut
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow
from orthotome.store.torch import fittings, sets

router = room("programs")

Key = Annotated[str, Path(min_length=8, max_length=64)]


@router.get("/tables/{table_id}/programs")
def get_programs(table_id: Id, session: Reading, found: WithPrograms) -> list[models.ProgramLine]:
    """The programs of a table, newest first."""
    return [
        answers.line(session, row, found.basis(session, row))
        for row in programs.programs(session, table_id)
    ]


@router.get("/tables/{table_id}/program-settings")
def get_program_settings(table_id: Id, session: Reading) -> list[models.SettingOffer]:
    """What a program may be checked against; what suits the fitted parts first."""
    fitted_id = fittings.fitted(session, table_id).torch_set_id
    fitted_set = sets.torch_set(session, fitted_id) if fitted_id else None
    offers = []
    for recipe_id, trial_id, title, name in programs.settings_offered(session, table_id):
        fitted = fitted_set is not None and name == fitted_set.name
        offers.append(
            models.SettingOffer(
                recipe_id=recipe_id, trial_id=trial_id, title=title, torch_set=name, fitted=fitted
            )
        )
    return sorted(offers, key=lambda o: not o.fitted)


@router.get("/programs/{program_id}/holes")
def get_program_holes(program_id: Id, session: Reading, numbers: Numbers) -> list[models.HoleComesOut]:
    """How a program's holes come out, by the holes that were tried with its setting; none where none near was tried."""
    row = programs.program(session, program_id)
    return [
        models.HoleComesOut(**vars(hole), passes=passes_says(hole.through_mm, hole.sd_mm))
        for hole in holes_of(session, row, numbers)
    ]


@router.post("/tables/{table_id}/programs", status_code=201, openapi_extra=takes(*PROGRAM_TYPES))
def add_program(
    table_id: Id,
    body: ProgramBody,
    session: Reading,
    database: Store,
    found: WithPrograms,
    *,
    asked: Annotated[models.ProgramQuery, Query()],
) -> models.ProgramLine:
    """Keep a program and check it against what is on the bench. A long one can be watched, and stopped, by its key."""
    row = programs.begun(session, table_id, asked.name, body)
    with found.watching(asked.watch) as watch:
        return _kept_all(session, [row], database, found, watch)[0]


@router.get("/program-readings/{key}")
def get_reading(key: Key, found: WithPrograms) -> models.ReadingAnswer:
    """How far a program is read; not begun, or over, where nothing is known of it."""
    watch = found.watched.get(key)
    return models.ReadingAnswer(share=watch.share if watch else None)


@router.delete("/program-readings/{key}", status_code=204)
def stop_reading(key: Key, found: WithPrograms) -> None:
    """Stop a program being read: nothing of it is kept."""
    if (watch := found.watched.get(key)) is not None:
        watch.stopped = True


@router.get("/programs/{program_id}", response_model=models.ProgramAnswer)
def get_program(program_id: Id, session: Reading, found: WithPrograms) -> Response:
    """A program, checked against what holds now."""
    row = programs.program(session, program_id)
    basis = found.basis(session, row)
    return as_it_is(answers.program(session, row, basis, found.in_program(row, basis)))


@router.put("/programs/{program_id}/against", response_model=models.ProgramAnswer)
def check_against(
    program_id: Id,
    request: models.ProgramRequest,
    session: Reading,
    database: Store,
    found: WithPrograms,
) -> Response:
    """Check against another setting or sheet, or once more against what holds now."""
    if (request.sheet_x_mm is None) != (request.sheet_y_mm is None):
        raise TradeError("sheet_x_mm", "a sheet has two sizes: give both, or neither.")
    if request.recipe_id is not None and request.trial_id is not None:
        raise TradeError("recipe_id", "check against a recipe or a trial, not both.")
    changed = request.model_dump(exclude={"version"})
    return _checked_anew(session, program_id, request.version, database, found, changed=changed)


@router.put("/programs/{program_id}/nominal", response_model=models.ProgramAnswer)
def type_sizes(
    program_id: Id,
    request: models.NominalRequest,
    session: Reading,
    database: Store,
    found: WithPrograms,
) -> Response:
    """Say what sizes contours ought to come out at, where there is no drawing to lay over."""
    sizes = {str(s.contour): (s.x_mm, s.y_mm) for s in request.sizes}
    changed = {"nominal": json.dumps(sizes)}
    return _checked_anew(session, program_id, request.version, database, found, changed=changed)


@router.post(
    "/programs/{program_id}/drawing",
    response_model=models.ProgramAnswer,
    openapi_extra=takes(*DRAWING_TYPES),
)
def lay_drawing_over(
    program_id: Id,
    body: DrawingBody,
    session: Reading,
    database: Store,
    found: WithPrograms,
    *,
    asked: Annotated[models.DrawingQuery, Query()],
) -> Response:
    """Lay the part's drawing over a program, for its kerf."""
    rings = apart("drawing", read_drawing, body, asked.unit).rings
    drawing = {"drawing": rings_to_file(rings).model_dump_json(), "drawing_name": asked.name}
    return _checked_anew(session, program_id, asked.version, database, found, changed=drawing)


@router.post("/programs/{program_id}/copies", status_code=201)
def put_right(
    program_id: Id, session: Reading, database: Store, found: WithPrograms
) -> models.ProgramLine:
    """A copy with what needs no judgement put right; the original is kept."""
    row = programs.program(session, program_id)
    copy = copy_put_right(row, found.basis(session, row))
    if not copy.written:
        raise TradeError("program", "nothing in it can be put right without your judgement.")
    return _kept_all(session, [programs.copy_of(row, copy.content, copy.written)], database, found)[0]


@router.get("/programs/{program_id}/ways", response_model=ways.WaysAnswer)
def get_program_ways(program_id: Id, session: Reading, found: WithPrograms) -> Response:
    """Cut whole with its own set, with another, or split between two: time and cost beside each other."""
    row = programs.program(session, program_id)
    basis = found.basis(session, row)
    return as_it_is(ways.answer(all_ways(session, row, basis), basis.hour_cost))


@router.post("/programs/{program_id}/split", status_code=201)
def split_program(
    program_id: Id,
    request: ways.SplitRequest,
    session: Reading,
    database: Store,
    found: WithPrograms,
) -> list[models.ProgramLine]:
    """The program as two that share a zero, in the order in which they are cut; the original is kept."""
    row = programs.program(session, program_id)
    made = split(session, row, found.basis(session, row), request.torch_set_id)
    return _kept_all(session, made, database, found)


@router.post("/programs/{program_id}/remade/preview", response_model=WorkedOut)
def draw_remade(
    program_id: Id, request: models.RemadeRequest, session: Reading, found: WithPrograms
) -> Response:
    """How a program would be cut with contours cut otherwise. Saves nothing."""
    row = programs.program(session, program_id)
    return as_it_is(copy_cut_otherwise(row, found.basis(session, row), request.pairs())[1])


@router.post("/programs/{program_id}/remade", status_code=201)
def write_remade(
    program_id: Id,
    request: models.RemadeRequest,
    session: Reading,
    database: Store,
    found: WithPrograms,
) -> models.ProgramLine:
    """A copy with contours cut otherwise, as it was drawn; the original is kept."""
    row = programs.program(session, program_id)
    copy, _ = copy_cut_otherwise(row, found.basis(session, row), request.pairs())
    return _kept_all(session, [programs.copy_of(row, copy.content, copy.written)], database, found)[0]


@router.get("/programs/{program_id}/text")
def get_program_text(program_id: Id, session: Reading) -> Response:
    """The program as a file, just as it came or was written."""
    row = programs.program(session, program_id)
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " ._-") else "_" for c in row.name)
    headers = {"content-disposition": f'attachment; filename="{plain}"'}
    return Response(programs.text_of(row), media_type="text/plain", headers=headers)


@router.get("/programs/{program_id}/report")
def get_program_report(program_id: Id, session: Reading, found: WithPrograms) -> Response:
    """The open report of a program."""
    row = programs.program(session, program_id)
    shown = found.in_program(row, found.basis(session, row))
    return Response(shown.report.model_dump_json(), media_type="application/json")


@router.post("/programs/{program_id}/runs")
def count_program_run(
    program_id: Id,
    request: models.ProgramRunRequest,
    session: Reading,
    database: Store,
    found: WithPrograms,
) -> models.ProgramRunAnswer:
    """Count a run on the parts that are fitted."""
    row = programs.program(session, program_id)
    one, n = found.in_program(row, found.basis(session, row)), request.times
    counts = Counts(n * one.report.pierces, n * one.arc_s, n * one.off_plate)
    with database.write() as writing:
        fittings.count(writing, row.table_id, counts, "program", row.name)
    return models.ProgramRunAnswer(
        starts=counts.starts,
        arc_on_s=counts.arc_on_s,
        says=f"{counts.starts} starts and {duration(counts.arc_on_s)} of arc counted on the parts.",
    )


@router.put("/programs/{program_id}/struck", status_code=204)
def strike_program(program_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Take a program off the list, or put it back."""
    with database.write() as session:
        row = programs.program(session, program_id)
        row.struck_out = out
        session.add(row)


def _kept_all(
    session: Reading,
    rows: list[ProgramRow],
    database: SignedStore,
    found: ProgramFindings,
    watch: Watch | None = None,
) -> list[models.ProgramLine]:
    """New programs, all checked before any is kept: what is no program leaves nothing behind."""
    bases = [found.basis(session, row) for row in rows]
    reports = [
        found.in_program(row, basis, watch).report for row, basis in zip(rows, bases, strict=True)
    ]
    with database.write() as writing:
        for row, basis, report in zip(rows, bases, reports, strict=True):
            programs.keep_report(writing, row, report, basis.stand)
        writing.flush()
        return [answers.line(writing, row, basis) for row, basis in zip(rows, bases, strict=True)]


def _checked_anew(
    session: Reading,
    program_id: int,
    version: int,
    database: SignedStore,
    found: ProgramFindings,
    *,
    changed: dict[str, Any],
) -> Response:
    """A program checked with something changed, which is then kept."""
    asked = ProgramRow(**programs.program(session, program_id).model_dump() | changed)
    basis = found.basis(session, asked)
    shown = found.in_program(asked, basis)
    with database.write() as writing:
        row = programs.change(writing, program_id, version, changed)
        programs.keep_report(writing, row, shown.report, basis.stand)
        writing.flush()
        return as_it_is(answers.program(writing, row, basis, shown))
