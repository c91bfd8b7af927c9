"""Where each table says what its arc shows."""

from sqlmodel import Session, select

from orthotome.store import changes
from orthotome.store.shop import shop
from orthotome.store.tables import LineRow, now


def line(session: Session, table_id: int) -> LineRow | None:
    """The line of a table; a simulated table has one of its own unless it was told another."""
    table = shop.table(session, table_id)
    row = session.get(LineRow, table_id)
    if row is not None and row.port:
        return row
    return LineRow(table_id=table_id, simulated=True) if table.simulated_seed is not None else None


def lines(session: Session) -> list[LineRow]:
    """The lines of all tables that have one of their own."""
    return [row for row in session.exec(select(LineRow)).all() if row.port]


def set_line(session: Session, table_id: int, host: str, port: int) -> LineRow:
    """Attach a table at an address; a port of 0 lets go of it."""
    shop.table(session, table_id)
    row = session.get(LineRow, table_id) or LineRow(table_id=table_id)
    changes.note(session, "attached", "cutting_table", table_id, {"host": row.host, "port": row.port})
    row.host, row.port, row.simulated = host, port, False
    row.set_at, row.set_by = now(), changes.person(session)
    session.add(row)
    session.flush()
    return row
