"""The line of a table over the wire: what it shows as it comes, trims, and where it listens."""

import asyncio
import json
from collections.abc import AsyncIterator, Sequence

from fastapi import Request
from fastapi.responses import StreamingResponse
from sqlmodel import Session

from orthotome.api.depends import SignedStore, Store, TheJudge, TheLines
from orthotome.api.door.network import STILL_LET_IN
from orthotome.api.height import answers, models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.errors import TradeError
from orthotome.core.height.trims import Trim, check_trim, says_of_trims
from orthotome.core.path.paths import bends_mm
from orthotome.core.pieces.piece import Contour
from orthotome.desk.height.live import Lines, LiveLine, columns
from orthotome.desk.pieces.next_piece import PieceAsked, next_piece
from orthotome.formats.height.line import RunControl, RunLine, RunPath, StopLine, TrimLine
from orthotome.store.height import lines as kept
from orthotome.store.height import readings, traces
from orthotome.store.shop import shop
from orthotome.store.tables import LineRow, TrimRow

router = room("height")

_TELLS_EACH_S = 0.1
_SAYS_IT_LIVES_S = 5.0
_ASKS_EACH = 5  # ticks: whether who listens is still let in


def _row(store: SignedStore, table_id: int) -> LineRow | None:
    with store.database.read() as session:
        return kept.line(session, table_id)


async def _line_of(store: SignedStore, lines: Lines, table_id: int) -> LiveLine:
    row = await asyncio.to_thread(_row, store, table_id)
    if row is None:
        raise TradeError("table_id", "has no line: say on the Height page where its table listens.")
    return lines.of(row)


@router.get("/tables/{table_id}/line")
async def get_line(table_id: Id, store: Store, lines: TheLines) -> models.LineAnswer:
    """The line of a table as it is. A simulated table begins to run when it is first watched."""
    row = await asyncio.to_thread(_row, store, table_id)
    if row is None:
        return answers.line(None, None)
    return answers.line(row, lines.running(table_id) if row.simulated else lines.of(row))


@router.put("/tables/{table_id}/line")
async def set_line(
    table_id: Id, request: models.LineRequest, store: Store, lines: TheLines
) -> models.LineAnswer:
    """Attach a table at its address, or let go of it."""
    if lines.only_simulated:
        raise TradeError("host", "a practice table is simulated: it listens at no address.")
    if request.port and not request.host:
        raise TradeError("host", "name the machine that the table’s line listens on, such as 127.0.0.1.")

    def write() -> LineRow | None:
        with store.write() as session:
            kept.set_line(session, table_id, request.host, request.port)
            return kept.line(session, table_id)

    row = await asyncio.to_thread(write)
    await lines.let_go(table_id)
    return answers.line(row, lines.of(row) if row is not None else None)


@router.get("/tables/{table_id}/line/stream", include_in_schema=False)
async def stream(table_id: Id, request: Request, store: Store, lines: TheLines) -> StreamingResponse:
    """What the table shows, as server-sent events: ``samples`` as columns, numbered by the last of them, and ``line``
    whenever its state, its recording or its summary changed. A listener that comes back names the number it has."""
    row = await asyncio.to_thread(_row, store, table_id)
    if row is None:
        raise TradeError("table_id", "has no line: say on the Height page where its table listens.")
    since = request.headers.get("last-event-id", "")
    number = int(since) if since.isascii() and since.isdigit() and len(since) < 16 else None
    told = _told(request, lines, row, number)
    headers = {"cache-control": "no-store", "x-accel-buffering": "no"}
    return StreamingResponse(told, media_type="text/event-stream", headers=headers)


async def _told(request: Request, lines: Lines, row: LineRow, since: int | None) -> AsyncIterator[str]:
    line: LiveLine | None = lines.of(row)
    assert line is not None
    at = max(0, line.told - 1500) if since is None or since > line.told else since
    version, quiet, ticks = -1, 0.0, 0
    still = request.scope.get("state", {}).get(STILL_LET_IN)
    while not lines.stopping:
        ticks += 1
        if still is not None and ticks % _ASKS_EACH == 0 and not await still():
            return  # the device was put out, its person signed off, or may no longer see this
        line = lines.running(row.table_id)
        if line is None:  # let go of: whoever still looks asks again
            return
        if at > line.told:
            at = 0  # another line took its place
        if version != line.version:
            version = line.version
            yield f"event: line\ndata: {answers.line(row, line).model_dump_json()}\n\n"
        fresh = line.since(at)
        if fresh:
            at = fresh[-1].n
            told = json.dumps(columns(fresh), separators=(",", ":"))
            yield f"id: {at}\nevent: samples\ndata: {told}\n\n"
        quiet = 0.0 if fresh else quiet + _TELLS_EACH_S
        if quiet >= _SAYS_IT_LIVES_S:
            quiet = 0.0
            yield ": here\n\n"
            if await request.is_disconnected():
                return
        await asyncio.sleep(_TELLS_EACH_S)


@router.post("/tables/{table_id}/line/trim", status_code=201)
async def trim(
    table_id: Id, request: models.TrimRequest, store: Store, lines: TheLines
) -> models.TrimAnswer:
    """Trim the set-point now; it is noted with its moment in the recording."""
    line = await _line_of(store, lines, table_id)
    now, hello = line.latest(), line.hello
    if hello is None or "trim" not in hello.can:
        raise TradeError(
            "by_v", "this table takes no trims from here: turn its set-point by hand, and note it."
        )
    if now is None or now.set_point_v is None or line.recording is None:
        raise TradeError("by_v", "height control is not on: there is no set-point to trim.")
    would = now.set_point_v + request.by_v
    low, high = hello.set_point_v or (20.0, 400.0)
    if not low <= would <= high:
        raise TradeError(
            "by_v", f"would make the set-point {would:.1f} V, and the table takes {low:g} to {high:g} V."
        )
    recording = line.recording
    check_trim(request.by_v, now.at_s, await asyncio.to_thread(_trims, store, recording.trace_id))
    await line.recording.keep()
    try:
        await line.say(TrimLine(by_v=request.by_v))
    except (OSError, TimeoutError):
        raise TradeError("by_v", "the table is not there any more: nothing was trimmed.") from None

    def write() -> models.TrimAnswer:
        with store.write() as session:
            made = _of(traces.trims(session, recording.trace_id))
            row = traces.trim(session, recording.trace_id, now.at_s, request.by_v, would)
            return answers.trim(row, _moves(session, table_id, [*made, Trim(now.at_s, request.by_v)]))

    return await asyncio.to_thread(write)


def _of(rows: Sequence[TrimRow]) -> list[Trim]:
    return [Trim(r.at_s, r.by_v) for r in rows]


def _trims(store: SignedStore, trace_id: int) -> list[Trim]:
    with store.database.read() as session:
        return _of(traces.trims(session, trace_id))


def _moves(session: Session, table_id: int, made: list[Trim]) -> str:
    """What is said of the trims so far where they lie inside the dead band that the control was told."""
    trial = shop.bench_trial(session, table_id)
    told = readings.told_control(session, trial.id or 0) if trial is not None else None
    return "" if told is None else says_of_trims(made, told.dead_band_v)


@router.post("/tables/{table_id}/line/stop", status_code=204)
async def stop(table_id: Id, store: Store, lines: TheLines) -> None:
    """Stop what a simulated table runs. A real table is stopped at the machine."""
    line = await _line_of(store, lines, table_id)
    await _ask(line, "stop", StopLine())


@router.post("/tables/{table_id}/line/run", status_code=202)
async def run(
    table_id: Id, request: models.RunRequest, store: Store, lines: TheLines, judge: TheJudge
) -> None:
    """Run a piece of the Bench's trial on a simulated table. A real table is started at the machine."""
    line = await _line_of(store, lines, table_id)
    job = await asyncio.to_thread(_job, store, judge, table_id, request)
    await _ask(line, "run", job)


async def _ask(line: LiveLine, word: str, asked: object) -> None:
    if line.hello is None or word not in line.hello.can:
        raise TradeError("table_id", "this table is started and stopped at the machine, not from here.")
    try:
        await line.say(asked)
    except (OSError, TimeoutError):
        raise TradeError("table_id", "the table is not there any more.") from None


def _job(store: SignedStore, judge: TheJudge, table_id: int, request: models.RunRequest) -> RunLine:
    with store.database.read() as session:
        trial = shop.bench_trial(session, table_id)
        if trial is None or trial.id is None:
            raise TradeError("table_id", "has no trial on its Bench: open one first.")
        piece = next_piece(session, trial.id, judge, PieceAsked(kind=request.kind))
        setting = piece.job.campaign.start
        told = readings.told_control(session, trial.id)
        # The live table is the one that the trial's cuts were made on: it shows their volts at that height.
        shown = piece.job.volts_at(setting)
        control = None
        if request.control and told is not None:
            control = RunControl(
                set_point_v=told.set_point_v,
                dead_band_v=told.dead_band_v,
                delay_s=told.control_delay_s,
                hold_below_share=told.hold_below_share,
                crossing_jump_v=told.crossing_jump_v,
            )
        elif request.control:
            raise TradeError("control", "choose first what height control is told, on the Height page.")
        return RunLine(
            speed_mm_min=setting.speed_mm_min,
            cut_height_mm=setting.cut_height_mm,
            pierce_height_mm=setting.pierce_height_mm,
            pierce_delay_s=setting.pierce_delay_s,
            steady_v=shown[0] if shown else 120.0,
            paths=tuple(_path(c) for c in piece.job.piece.contours),
            control=control,
            warp_mm=request.warp_mm,
            acceleration_mm_s2=piece.acceleration_mm_s2,
        )


def _path(contour: Contour) -> RunPath:
    """A contour as its length, with the bends that a machine slows down for."""
    moves = [m for s in contour.segments for m in s.moves]
    return RunPath(length_mm=contour.length_mm, corners_mm=bends_mm(moves))
