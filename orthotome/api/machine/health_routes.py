"""A table's health on one page: what is known, since when, how sure, and what is due."""

from datetime import datetime

from fastapi.responses import Response

from orthotome.api.depends import Reading
from orthotome.api.routing import room
from orthotome.api.wire import Id, Wire
from orthotome.core.machine.health import Aspect, Standing
from orthotome.desk.machine import check_says
from orthotome.desk.machine.health import UPSETS, health_lines
from orthotome.formats.machine.health_sheet import write_health_sheet
from orthotome.formats.machine.table_page import TablePage
from orthotome.store.clock import now
from orthotome.store.machine import checks
from orthotome.store.shop import shop
from orthotome.store.tables import MachineCheckRow

router = room("machine")


class HealthLine(Wire):
    """One thing about a table."""

    aspect: Aspect
    label: str
    standing: Standing
    figure: str
    found_at: datetime | None
    found_by: str
    due_because: str
    tells: str


class UpsetAnswer(Wire):
    """Something that made figures due."""

    id: int
    kind: str
    title: str
    at: datetime
    by: str
    note: str


class HealthAnswer(Wire):
    """The whole page."""

    table: str
    lines: list[HealthLine]
    upsets: list[UpsetAnswer]


@router.get("/tables/{table_id}/health")
def get_health(table_id: Id, session: Reading) -> HealthAnswer:
    """What is known of a table, what is wrong or due first."""
    rows = checks.checks(session, table_id)
    return HealthAnswer(
        table=shop.table(session, table_id).name,
        lines=[
            HealthLine(
                aspect=line.aspect,
                label=line.label,
                standing=line.standing,
                figure=line.known.figure if line.known else "",
                found_at=line.known.at if line.known else None,
                found_by=line.known.by if line.known else "",
                due_because=line.due_because,
                tells=line.tells,
            )
            for line in health_lines(session, table_id)
        ],
        upsets=[_upset(r) for r in rows if r.kind in UPSETS],
    )


@router.get("/tables/{table_id}/health.pdf")
def get_health_sheet(table_id: Id, session: Reading) -> Response:
    """The page on paper."""
    rows = checks.checks(session, table_id)
    upsets = [_upset(r) for r in rows if r.kind in UPSETS]
    said = [f"{u.at:%Y-%m-%d}: {u.title}{f' ({u.note})' if u.note else ''}." for u in upsets]
    name = shop.table(session, table_id).name
    page = write_health_sheet(name, health_lines(session, table_id), said, now())
    return Response(page, media_type="application/pdf")


def _upset(row: MachineCheckRow) -> UpsetAnswer:
    title = check_says.said_of(checks.given_in(row), TablePage()).title
    return UpsetAnswer(
        id=row.id or 0, kind=row.kind, title=title, at=row.checked_at, by=row.checked_by, note=row.note
    )
