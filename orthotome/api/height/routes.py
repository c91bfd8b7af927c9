"""The signal path of a table: as it was set, and as it is seen."""

from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.height import answers, models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.height.signal_path import SignalPath
from orthotome.core.height.volts import per_height_from, volts_for_height
from orthotome.desk.bench.judging import judged
from orthotome.formats.height.signal_path import SignalPathFile, examine_file
from orthotome.store.height import signal_paths
from orthotome.store.shop import shop

router = room("height")


@router.get("/tables/{table_id}/signal-paths")
def get_signal_paths(table_id: Id, session: Reading, judge: TheJudge) -> models.SignalPageAnswer:
    """The signal paths of a table, and what its Bench's cuts say of volts and height."""
    from orthotome.core.tuner.next_act import next_act  # noqa: PLC0415 (start-up time)

    paths = signal_paths.signal_paths(session, table_id)
    trial = shop.bench_trial(session, table_id)
    found, height, set_point = volts_for_height(()), 1.5, None
    if trial is not None:
        _, _, judgement = judged(session, trial.id or 0, judge)
        at = next_act(judgement).setting
        seen = judgement.volts_at(at)
        height, set_point = at.cut_height_mm, None if seen is None else round(seen[0], 1)
        found = judgement.here.found if judgement.here else found
    return models.SignalPageAnswer(
        paths=[answers.signal_path(p, newest=p is paths[0]) for p in paths],
        set_point_v=set_point,
        slope_v_per_mm=round(found.slope_v_per_mm, 2),
        slope_sd=round(found.slope_sd, 2),
        slope_from=per_height_from(found),
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
        row = signal_paths.set_signal_path(session, table_id, path, seen=seen, note=request.note)
        return answers.signal_path(row, newest=True)


@router.post("/signal-path")
def examine_signal_path(request: SignalPathFile) -> models.SignalExamined:
    """What a path will show and do, and which stage contradicts what was seen. Saves nothing."""
    return answers.examined(request, examine_file(request))
