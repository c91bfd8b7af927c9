"""Measurements of a table: each kept as it was typed, the one before a correction and the one after it."""

from collections.abc import Sequence

from sqlmodel import Session, col, select

from orthotome.formats.machine.measures import MachineMeasuresFile
from orthotome.formats.reading import read_json
from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.shop import shop
from orthotome.store.tables import MeasuredRow


def measurements(session: Session, table_id: int) -> Sequence[MeasuredRow]:
    """Those of a table that count, newest first."""
    query = select(MeasuredRow).where(
        MeasuredRow.table_id == table_id, col(MeasuredRow.struck_out).is_(False)
    )
    return session.exec(query.order_by(col(MeasuredRow.id).desc())).all()


def measures_of(row: MeasuredRow) -> MachineMeasuresFile:
    """The pieces as they were typed."""
    return read_json(MachineMeasuresFile, row.measures)


def keep(session: Session, table_id: int, measures: MachineMeasuresFile, note: str) -> MeasuredRow:
    """Keep a measurement of a table."""
    shop.table(session, table_id)
    row = MeasuredRow(
        table_id=table_id,
        measures=measures.model_dump_json(exclude_none=True),
        note=note,
        measured_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def strike(session: Session, measured_id: int, *, out: bool) -> MeasuredRow:
    """Strike a measurement out, or put it back. Raises NotFound."""
    row = session.get(MeasuredRow, measured_id)
    if row is None:
        raise NotFound("There is no such measurement.", "measured_id")
    changes.note(session, "struck out" if out else "put back", "machine_measured", measured_id)
    row.struck_out = out
    session.add(row)
    return row
