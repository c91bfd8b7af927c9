"""What was found out about a table, and what upset it."""

from collections.abc import Sequence

from pydantic import TypeAdapter
from sqlmodel import Session, col, select

from orthotome.formats.machine.checks import CheckFile
from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.shop import shop
from orthotome.store.tables import MachineCheckRow

_FILE: TypeAdapter[CheckFile] = TypeAdapter(CheckFile)


def checks(session: Session, table_id: int) -> Sequence[MachineCheckRow]:
    """Those of a table that count, newest first."""
    query = select(MachineCheckRow).where(
        MachineCheckRow.table_id == table_id, col(MachineCheckRow.struck_out).is_(False)
    )
    return session.exec(query.order_by(col(MachineCheckRow.id).desc())).all()


def given_in(row: MachineCheckRow) -> CheckFile:
    """What was typed."""
    return _FILE.validate_json(row.given, strict=False)


def keep(session: Session, table_id: int, given: CheckFile, note: str = "") -> MachineCheckRow:
    """Keep something that was found out. Raises NotFound."""
    shop.table(session, table_id)
    row = MachineCheckRow(
        table_id=table_id,
        kind=given.kind,
        given=given.model_dump_json(exclude_none=True),
        note=note,
        checked_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def strike(session: Session, check_id: int, *, out: bool) -> MachineCheckRow:
    """Strike it out, or put it back. Raises NotFound."""
    row = session.get(MachineCheckRow, check_id)
    if row is None:
        raise NotFound("There is no such check.", "check_id")
    changes.note(session, "struck out" if out else "put back", "machine_check", check_id)
    row.struck_out = out
    session.add(row)
    return row
