"""Fitted parts: what each has done, looking at it, counting, collisions, and the shelf."""

from typing import Annotated

from fastapi import Query
from fastapi.responses import Response

from orthotome.api.bodies import (
    CSV_TYPES,
    JSON_TYPES,
    PICTURE_TYPES,
    CsvBody,
    JsonBody,
    PictureBody,
    takes,
)
from orthotome.api.depends import KeptParts, Reading, Store, TheJudge
from orthotome.api.listing import ListForm, listed
from orthotome.api.routing import room
from orthotome.api.torch import parts_answers as answers
from orthotome.api.torch import parts_models as models
from orthotome.api.torch.parts_page import counter_answer, parts_of_table, shelf
from orthotome.api.torch.trim_answer import trim_answer
from orthotome.api.wire import Id
from orthotome.core.errors import TradeError
from orthotome.core.quantities import length, spoken
from orthotome.core.torch.counts import CounterReading, Counts
from orthotome.core.torch.forecast import VERDICT_WORDS
from orthotome.core.torch.inspection import (
    PitReading,
    is_rough_work,
    judge_looks,
    pit_by_ball,
    pit_by_gauge,
    rough_work_says,
)
from orthotome.core.torch.wear import LIMIT_MM, PIT_U_MM, check_grows
from orthotome.desk.height.of_trial import of_trial
from orthotome.desk.torch.parts_now import parts_now
from orthotome.desk.working.apart import apart
from orthotome.formats.listing import Column
from orthotome.formats.log.photo import MEDIA_TYPE, read_photo
from orthotome.formats.reading import read_json
from orthotome.formats.torch.run import RunFile, counts_of
from orthotome.formats.torch.stock import read_stock
from orthotome.formats.torch.wear import ledger_to_file
from orthotome.store.height import readings, wear
from orthotome.store.log import photo_files
from orthotome.store.tables import PartRow
from orthotome.store.torch import counting, fittings, inspections, parts, sets, stock
from orthotome.store.trial import trials

router = room("torch")


@router.get("/parts/looks")
def get_looks() -> list[models.LooksAnswer]:
    """What to look at on each kind of part, in the order in which they go in."""
    return answers.looks()


@router.get("/torch-sets/put-aside")
def get_put_aside(session: Reading) -> list[models.PutAsideAnswer]:
    """Every set whose parts lie ready as they came off."""
    return [
        models.PutAsideAnswer(torch_set_id=s, starts=n) for s, n in parts.sets_put_aside(session).items()
    ]


@router.get("/tables/{table_id}/parts", response_model=models.PartsAnswer)
def get_parts(
    table_id: Id, session: Reading, judge: TheJudge, database: Store, kept: KeptParts
) -> Response:
    """The torch of a table in parts: what each has done and has left, and what wear does to the set-point; worked out
    once for all who watch."""
    question = table_id, database.database.changes, spoken()
    body = kept.of(question, lambda: parts_of_table(session, table_id, judge).model_dump_json())
    return Response(body, media_type="application/json")


@router.get("/torch-sets/{torch_set_id}/for-rough-work")
def get_for_rough_work(
    torch_set_id: Id,
    session: Reading,
    bevel_deg: Annotated[float, Query(ge=0, le=45)],
    dross_grade: Annotated[int, Query(ge=0, le=4)],
) -> models.RoughWorkAnswer:
    """What lies in the tray that will do for a job, where the job is rough; nothing for any other."""
    if not is_rough_work(bevel_deg, dross_grade):
        return models.RoughWorkAnswer(says="")
    rows = [p for p in parts.lying(session, torch_set_id) if p.kept == "rough_work"]
    done = parts.counts_of(session, [p.id or 0 for p in rows])
    lie = [(p.part, p.number, done[p.id or 0].starts) for p in rows]
    return models.RoughWorkAnswer(says=rough_work_says(lie))


@router.put("/parts/{part_id}/kept")
def keep_part(part_id: Id, request: models.KeepRequest, database: Store) -> models.PartAnswer:
    """Say where a part is that is not fitted, and how deep its pit may become."""
    with database.write() as session:
        row = parts.keep(session, part_id, request.kept, request.limit_mm)
        return _part(session, row)


def _part(session: Reading, row: PartRow) -> models.PartAnswer:
    electrode = row if row.part == "electrode" else parts.newest(session, "electrode")
    life = wear.life_on(session, electrode)
    return answers.many(session, parts_now(session, [row], electrode.id or 0, life))[0]


@router.post("/parts/{part_id}/looked")
def judge_part(part_id: Id, request: models.InspectRequest, session: Reading) -> models.JudgedAnswer:
    """What looks and pit come to, before they are noted. Saves nothing."""
    return _judged(session, parts.part(session, part_id), request)[1]


@router.post("/parts/{part_id}/inspections", status_code=201)
def inspect_part(
    part_id: Id, request: models.InspectRequest, database: Store
) -> models.InspectionAnswer:
    """Note a part as it was looked at, at the counts that it has."""
    with database.write() as session:
        pit, judged_as = _judged(session, parts.part(session, part_id), request)
        told = ""
        if request.ball is not None:
            b = request.ball
            told = (
                f"a ball of {length(b.ball_mm)}: {length(b.rim_mm)} to the rim, {length(b.over_ball_mm)} "
                "over the ball"
            )
        seen = inspections.ToNote(
            request.looks, pit, told, request.verdict or judged_as.verdict, request.note
        )
        return answers.inspection(inspections.note(session, part_id, request.key, seen))


def _judged(
    session: Reading, row: PartRow, request: models.InspectRequest
) -> tuple[PitReading | None, models.JudgedAnswer]:
    limit = row.limit_mm or LIMIT_MM
    if row.part != "electrode" and (request.pit_mm is not None or request.ball is not None):
        raise TradeError("pit_mm", "only an electrode has a pit.")
    pit = None
    if request.ball is not None:
        b = request.ball
        pit = pit_by_ball(b.rim_mm, b.over_ball_mm, b.ball_mm, limit)
    elif request.pit_mm is not None:
        pit = pit_by_gauge(request.pit_mm, limit)
    if pit is not None:
        read = [
            i
            for i in inspections.of_parts(session, [row.id or 0])[row.id or 0]
            if i.pit_mm is not None and i.key != request.key
        ]
        if read:
            field = "over_ball_mm" if request.ball is not None else "pit_mm"
            last = read[-1].pit_mm or 0.0, read[-1].u_mm or PIT_U_MM
            check_grows(field, (pit.pit_mm, pit.u_mm), last)
    found = judge_looks(row.part, request.looks, (pit.pit_mm, limit) if pit else None)
    return pit, models.JudgedAnswer(
        pit_mm=round(pit.pit_mm, 3) if pit else None,
        u_mm=round(pit.u_mm, 3) if pit else None,
        verdict=found.verdict,
        verdict_word=VERDICT_WORDS[found.verdict],
        why=found.why,
    )


@router.put("/inspections/{inspection_id}/struck")
def strike_inspection(
    inspection_id: Id, database: Store, *, out: bool = True
) -> models.InspectionAnswer:
    """Strike an inspection out, or put it back."""
    with database.write() as session:
        return answers.inspection(inspections.strike(session, inspection_id, out=out))


@router.put("/inspections/{inspection_id}/photo", openapi_extra=takes(*PICTURE_TYPES))
def add_inspection_photo(
    inspection_id: Id, body: PictureBody, database: Store
) -> models.InspectionAnswer:
    """The photo that shows it: turned upright, written anew, without where it was taken."""
    with database.database.read() as session:  # a picture of nothing is not worth reading
        inspections.inspection(session, inspection_id)
    found = apart("photo", read_photo, body)
    digest = photo_files.keep(photo_files.folder_of(database.database.path), found)
    with database.write() as session:
        return answers.inspection(inspections.add_photo(session, inspection_id, digest))


@router.get("/inspections/{inspection_id}/photo")
def get_inspection_photo(inspection_id: Id, session: Reading, database: Store) -> Response:
    """The picture of an inspection."""
    digest = inspections.inspection(session, inspection_id).photo
    folder = photo_files.folder_of(database.database.path)
    return Response(photo_files.content_of(folder, digest, "picture"), media_type=MEDIA_TYPE)


@router.post("/tables/{table_id}/counts", status_code=201)
def count_run(
    table_id: Id, request: models.CountRequest, database: Store, judge: TheJudge
) -> models.PartsAnswer:
    """Count a run that nothing counted on the parts that are fitted."""
    given = request.model_dump(exclude={"note"})
    with database.write() as session:
        fittings.count(session, table_id, Counts(**given), "typed", request.note)
        return parts_of_table(session, table_id, judge)


@router.post("/tables/{table_id}/counts/piece", status_code=201, openapi_extra=takes(*JSON_TYPES))
def count_piece(
    table_id: Id, body: JsonBody, database: Store, judge: TheJudge, times: Id = 1
) -> models.PartsAnswer:
    """Count the run of a piece file, so many times: its pierces, and its arc time at the speeds it says."""
    file = apart("piece", read_json, RunFile, body)
    done = counts_of(file, times)
    with database.write() as session:
        fittings.count(session, table_id, done, "piece", file.title)
        return parts_of_table(session, table_id, judge)


@router.post("/tables/{table_id}/counter", status_code=201)
def read_counter(table_id: Id, request: models.CounterRequest, database: Store) -> models.CounterAnswer:
    """What the source's own counter shows: what it counted more corrects the sum, and both are kept."""
    now = CounterReading(request.starts, request.arc_on_s)
    with database.write() as session:
        fittings.fitted(session, table_id)
        return counter_answer(counting.read_counter(session, table_id, now, set_back=request.set_back))


@router.post("/tables/{table_id}/collisions", status_code=201)
def note_collision(table_id: Id, database: Store, judge: TheJudge) -> models.PartsAnswer:
    """Note a collision: it is counted, and a new seat of the torch begins, of which no lean is known."""
    with database.write() as session:
        fittings.count(session, table_id, Counts(collisions=1), "collision")
        fittings.fit(session, table_id, "mount")
        return parts_of_table(session, table_id, judge)


@router.get("/trials/{trial_id}/trim")
def get_set_point_trim(trial_id: Id, session: Reading, judge: TheJudge) -> models.SetPointTrimAnswer:
    """What a trial's set-point needs on the parts as they are now."""
    return trim_answer(of_trial(session, trial_id, judge))


@router.get("/trials/{trial_id}/parts-ledger.json")
def get_parts_ledger(trial_id: Id, session: Reading, judge: TheJudge) -> Response:
    """What is known of the fitted electrode in the volts of a trial, as an open file."""
    file = ledger_to_file(of_trial(session, trial_id, judge).life)
    headers = {"content-disposition": 'attachment; filename="parts-ledger.json"'}
    return Response(file.model_dump_json(indent=1), media_type="application/json", headers=headers)


_MOST_V, _LEAST_V = 400.0, 20.0


@router.post("/trials/{trial_id}/trim", status_code=201)
def raise_set_point(
    trial_id: Id, request: models.RaiseRequest, database: Store, judge: TheJudge
) -> models.SetPointTrimAnswer:
    """Raise, or lower, the set-point that is told; what was told before is kept. A locked recipe stays as it was."""
    with database.write() as session:
        found = of_trial(session, trial_id, judge)
        told = found.trim.told_v
        if told is None:
            raise TradeError("by_v", f"there is no set-point to trim: {found.trim.says}")
        to = told + request.by_v
        if not _LEAST_V <= to <= _MOST_V:
            raise TradeError(
                "by_v", f"{to:g} V is past what a source’s arc has: {_LEAST_V:g} to {_MOST_V:g} V."
            )
        control = readings.control_of(found.row) if found.row else found.would("measured")
        given = {**vars(control), "set_point_v": round(to, 2)}
        readings.tell_control(session, trial_id, type(control)(**given), found.starts)
        trials.touch(session, found.trial)
        return trim_answer(of_trial(session, trial_id, judge))


@router.get("/stock")
def get_stock(session: Reading) -> models.StockAnswer:
    """The shelf, and what the last thirty days used."""
    return shelf(session)


@router.put("/stock")
def put_stock(request: models.StockRequest, database: Store) -> models.StockAnswer:
    """Say how many of a part lie there, how few there should be, and what one costs."""
    with database.write() as session:
        sets.torch_set(session, request.torch_set_id)
        stock.put(session, **request.model_dump())
        return shelf(session)


_COLUMNS: tuple[Column[models.StockLine], ...] = (
    Column("torch_set", lambda s: s.torch_set),
    Column("part", lambda s: s.part),
    Column("on_shelf", lambda s: s.on_shelf),
    Column("least", lambda s: s.least),
    Column("cost", lambda s: s.cost),
    Column("used_in_30_days", lambda s: s.used_month),
)


@router.get("/stock.{form}")
def get_stock_file(form: ListForm, session: Reading) -> Response:
    """The shelf as a list."""
    return listed(form, "stock", _COLUMNS, shelf(session).lines)


@router.post("/stock/csv", openapi_extra=takes(*CSV_TYPES))
def take_in_stock(body: CsvBody, database: Store) -> models.TakenInAnswer:
    """Take a list of the shelf in, as it is written out; one bad line and nothing is taken in."""
    with database.write() as session:
        names = {s.name: s.id or 0 for s in sets.torch_sets(session)}
        lines = read_stock(body, names)
        for line in lines:
            stock.put(session, **vars(line))
        return models.TakenInAnswer(lines=len(lines))
