"""The signal path of a table: as it was set, and as it is seen."""

from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.height import answers, models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.height.signal_path import SignalPath
from orthotome.core.tuner.priors import VOLTS_PER_MM
from orthotome.formats.height.signal_path import SignalPathFile, examine_file
from orthotome.store.bench import campaigns
from orthotome.store.height import signal_paths
from orthotome.store.shop import shop

router = room("height")


@router.get("/tables/{table_id}/signal-paths")
def get_signal_paths(table_id: Id, session: Reading, judge: TheJudge) -> models.SignalPageAnswer:
    """The signal paths of a table, and what its Bench's cuts say of volts and height."""
    paths = signal_paths.signal_paths(session, table_id)
    trial = shop.bench_trial(session, table_id)
    slope, sd, told, set_point, height = *VOLTS_PER_MM, "typical: no cut here taught it yet", None, 1.5
    if trial is not None:
        height, set_point = trial.cut_height_mm, trial.arc_voltage_v
        campaign = campaigns.campaign_of(session, trial)
        volts = judge.judge(campaign).learned.volts
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
        row = signal_paths.set_signal_path(session, table_id, path, seen=seen, note=request.note)
        return answers.signal_path(row, newest=True)


@router.post("/signal-path")
def examine_signal_path(request: SignalPathFile) -> models.SignalExamined:
    """What a path will show and do, and which stage contradicts what was seen. Saves nothing."""
    return answers.examined(request, examine_file(request))
