"""What is found out about a table beside its measured pieces: judged while it is typed, and kept."""

from datetime import datetime
from typing import Annotated

from fastapi import Query
from pydantic import Field
from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.routing import room
from orthotome.api.wire import Id, Wire
from orthotome.core.edge.instruments import USUAL_TAPE
from orthotome.core.errors import TradeError
from orthotome.core.machine.run_up import RunUp, acceleration_by_feed, holds_says
from orthotome.desk.machine.check_says import CheckSaid, said_of
from orthotome.formats.machine.checks import CheckFile
from orthotome.formats.reading import FileModel
from orthotome.store.height import traces
from orthotome.store.machine import checks, instruments, pages
from orthotome.store.shop import shop
from orthotome.store.tables import MachineCheckRow

router = room("machine")


class KeepCheck(FileModel):
    """Something that was found out, or that upset the table."""

    check: CheckFile
    note: Annotated[str, Field(max_length=400)] = ""


class KeptCheck(Wire):
    """A check that is kept, with what it says."""

    id: int
    checked_at: datetime
    checked_by: str
    note: str
    check: CheckFile
    said: CheckSaid


class JudgeCheck(FileModel):
    """A check as it is typed, and whose table it is of."""

    table_id: Id
    check: CheckFile


class SizeInstrument(Wire):
    """What sizes are read with, in the hand of whoever asks; ``u_mm`` is one sigma."""

    name: str
    u_mm: float
    checked: bool
    last_check: datetime | None


class RampsAnswer(Wire):
    """An acceleration that a recording shows, and what it means at its speed."""

    value_mm_s2: float | None
    low_mm_s2: float
    high_mm_s2: float | None
    why: str
    holds: str


@router.post("/machine-checks/judged")
def judge_check(request: JudgeCheck, session: Reading) -> CheckSaid:
    """What it says, while it is typed. Saves nothing."""
    return said_of(request.check, pages.settings(shop.table(session, request.table_id)))


@router.get("/tables/{table_id}/checks")
def get_checks(table_id: Id, session: Reading) -> list[KeptCheck]:
    """What was found out about a table, newest first."""
    return [_kept(session, row) for row in checks.checks(session, table_id)]


@router.post("/tables/{table_id}/checks", status_code=201)
def keep_check(table_id: Id, request: KeepCheck, store: Store) -> KeptCheck:
    """Keep it; what no machine can do is refused."""
    with store.write() as session:
        said_of(request.check, pages.settings(shop.table(session, table_id)))
        return _kept(session, checks.keep(session, table_id, request.check, request.note))


@router.put("/machine-checks/{check_id}/struck", status_code=204)
def strike_machine_check(check_id: Id, store: Store, out: Annotated[bool, Query()] = True) -> None:
    """Strike it out, or put it back."""
    with store.write() as session:
        checks.strike(session, check_id, out=out)


def _kept(session: Session, row: MachineCheckRow) -> KeptCheck:
    given = checks.given_in(row)
    return KeptCheck(
        id=row.id or 0,
        checked_at=row.checked_at,
        checked_by=row.checked_by,
        note=row.note,
        check=given,
        said=said_of(given, pages.settings(shop.table(session, row.table_id))),
    )


@router.get("/traces/{trace_id}/run-up")
def get_run_up(trace_id: Id, session: Reading) -> RampsAnswer:
    """The acceleration that a recording's feed shows, where it holds one."""
    trace = traces.samples(session, trace_id)
    if trace.feed_mm_min is None:
        raise TradeError("feed_mm_min", "the recording holds no feed: time a zig-zag instead.")
    found: RunUp = acceleration_by_feed(trace.time_s, trace.feed_mm_min)
    feeds = trace.feed_mm_min[trace.feed_mm_min == trace.feed_mm_min]
    holds = holds_says(found.value_mm_s2 or found.low_mm_s2, float(feeds.max()))
    return RampsAnswer(
        value_mm_s2=found.value_mm_s2,
        low_mm_s2=found.low_mm_s2,
        high_mm_s2=found.high_mm_s2,
        why=found.why,
        holds=holds,
    )


@router.get("/size-instruments")
def get_size_instruments(session: Reading, store: Store) -> list[SizeInstrument]:
    """What sizes and diagonals are read with: the shop's own, each as this person repeats it, and what is usual."""
    own = {row.name: row for row in instruments.rows(session)}
    known = [i for i in instruments.instruments(session, store.by) if i.method == "sizes"]
    found = []
    for tool in (*known, USUAL_TAPE):
        row = own.get(tool.name)
        dates = [c.checked_at for c in instruments.checks(session, row.id or 0)] if row else []
        found.append(
            SizeInstrument(
                name=tool.name,
                u_mm=round(tool.u(), 4),
                checked=tool.checked,
                last_check=max(dates, default=None),
            )
        )
    return found
