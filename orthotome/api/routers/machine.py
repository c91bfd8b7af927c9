"""A table's own page, its air, its signal path, and what nobody wrote down."""

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from orthotome.api import answers
from orthotome.api import machine_models as models
from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.models import Id
from orthotome.core.air import cylinder_life, judge_air
from orthotome.core.axis_map import AxisMap, Direction
from orthotome.core.signal_path import SignalPath
from orthotome.core.tuner.priors import VOLTS_PER_MM
from orthotome.formats.reading import FileError
from orthotome.formats.signal_path import SignalPathFile, examine_file
from orthotome.formats.table_settings import AirFile
from orthotome.store import machine as store
from orthotome.store import shop
from orthotome.store import trials as trial_store
from orthotome.store.errors import NotFound

router = APIRouter(tags=["machine"])


@router.get("/tables/{table_id}/settings")
def get_settings(table_id: Id, session: Reading) -> models.SettingsAnswer:
    """A table's page."""
    return answers.settings(shop.table(session, table_id))


@router.patch("/tables/{table_id}/settings")
def change_settings(
    table_id: Id, request: models.SettingsChange, database: Store
) -> models.SettingsAnswer:
    """Change what is given of a table's page; a null takes it back to "not known"."""
    changed = request.settings.model_dump(mode="json", exclude_unset=True)
    with database.write() as session:
        store.change_settings(session, table_id, changed, request.bed)
        return answers.settings(shop.table(session, table_id))


@router.get("/axes")
def read_jogs(x_runs: Direction, y_runs: Direction) -> models.JogsAnswer:
    """What two jogs prove: which way X plus and Y plus moved the torch."""
    found = AxisMap(x_runs, y_runs)
    return models.JogsAnswer(sentence=found.in_words, mirrors=found.mirrors)


@router.post("/air")
def read_air(request: AirFile) -> list[models.AirFindingAnswer]:
    """Every question about an air supply with its answer in a sentence."""
    supply = request.supply()
    if supply is None:
        raise FileError(
            "need_l_min: the source's need comes first; its manual gives it in litres a minute."
        )
    return [models.AirFindingAnswer(**vars(f)) for f in judge_air(supply)]


@router.post("/cylinders")
def read_cylinders(request: models.CylinderRequest) -> models.CylinderAnswer:
    """How far cylinders carry a job."""
    return models.CylinderAnswer.model_validate(
        cylinder_life(**request.model_dump()), from_attributes=True
    )


@router.get("/tables/{table_id}/signal-paths")
def get_signal_paths(table_id: Id, session: Reading, judge: TheJudge) -> models.SignalPageAnswer:
    """The signal paths of a table, and what its Bench's cuts say of volts and height."""
    paths = store.signal_paths(session, table_id)
    trial = shop.bench_trial(session, table_id)
    slope, sd, told, set_point, height = *VOLTS_PER_MM, "typical: no cut here taught it yet", None, 1.5
    if trial is not None:
        height, set_point = trial.cut_height_mm, trial.arc_voltage_v
        campaign = trial_store.campaign_of(session, trial)
        volts = judge.judge(trial.id or 0, trial.revision, campaign).learned.volts
        slope, sd = volts.volts_per_mm
        taught = f"from {volts.taught_by} cuts at set height"
        told = taught if volts.taught_by else told
    return models.SignalPageAnswer(
        paths=[answers.signal_path(p, newest=p is paths[0]) for p in paths],
        set_point_v=set_point,
        slope_v_per_mm=round(slope, 2),
        slope_sd=round(sd, 2),
        slope_from=told,
        cut_height_mm=height,
    )


@router.post("/tables/{table_id}/signal-paths", status_code=201)
def set_signal_path(
    table_id: Id, request: models.SignalPathRequest, database: Store
) -> models.SignalPathAnswer:
    """Put a signal path in force. Volts from before are then another series."""
    path = SignalPath(request.source_ratio, request.card_ratio, request.multiplier)
    both = request.true_v is not None and request.screen_v is not None
    seen = (request.true_v or 0.0, request.screen_v or 0.0) if both else None
    with database.write() as session:
        row = store.set_signal_path(session, table_id, path, seen=seen, note=request.note, by=request.by)
        return answers.signal_path(row, newest=True)


@router.post("/signal-path")
def examine_signal_path(request: SignalPathFile) -> models.SignalExamined:
    """What a path will show and do, and which stage contradicts what was seen. Saves nothing."""
    return answers.examined(request, examine_file(request))


@router.get("/tables/{table_id}/facts")
def get_facts(table_id: Id, session: Reading) -> list[models.FactAnswer]:
    """What was noted of a table that its maker never wrote down."""
    return [answers.fact(f) for f in store.facts(session, table_id)]


@router.post("/tables/{table_id}/facts", status_code=201)
def add_fact(table_id: Id, request: models.FactRequest, database: Store) -> models.FactAnswer:
    """Note something about a table."""
    with database.write() as session:
        return answers.fact(store.add_fact(session, table_id, request.title, request.told, request.by))


@router.put("/facts/{fact_id}/photo", status_code=204)
async def put_photo(fact_id: Id, request: Request, database: Store) -> None:
    """A photo of it: PNG, JPEG or WebP, at most as large as a request may be."""
    body = await request.body()
    kind = store.photo_type(body)
    if kind is None:
        raise FileError("photo: is no PNG, JPEG or WebP picture.")
    with database.write() as session:
        found = store.fact(session, fact_id)
        found.photo, found.photo_type = body, kind
        session.add(found)


@router.get("/facts/{fact_id}/photo")
def get_photo(fact_id: Id, session: Reading) -> Response:
    """The photo of a note."""
    found = store.fact(session, fact_id)
    if found.photo is None:
        raise NotFound("There is no photo of that.", "fact_id")
    return Response(found.photo, media_type=found.photo_type)


@router.put("/facts/{fact_id}/struck", status_code=204)
def strike_fact(fact_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Strike a note out, or put it back."""
    with database.write() as session:
        found = store.fact(session, fact_id)
        found.struck_out = out
        session.add(found)
