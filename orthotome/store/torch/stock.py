"""Parts on the shelf."""

from collections.abc import Sequence

from sqlmodel import Session, select

from orthotome.store import changes
from orthotome.store.tables import StockRow


def stock(session: Session) -> Sequence[StockRow]:
    """All that is kept count of."""
    return session.exec(select(StockRow)).all()


def of_set(session: Session, torch_set_id: int | None) -> Sequence[StockRow]:
    """What is kept count of, of one set."""
    return session.exec(select(StockRow).where(StockRow.torch_set_id == torch_set_id)).all()


def take(session: Session, torch_set_id: int, part: str, pieces: int = 1) -> None:
    """Take parts off the shelf, where somebody counts them; a negative number lays them back."""
    row = session.get(StockRow, (torch_set_id, part))
    if row is not None:
        row.on_shelf = max(0, row.on_shelf - pieces)
        session.add(row)
        session.flush()


def put(
    session: Session, torch_set_id: int, part: str, *, on_shelf: int, least: int, cost: float | None
) -> StockRow:
    """Say how many lie there, how few there should be, and what one costs."""
    row = session.get(StockRow, (torch_set_id, part)) or StockRow(torch_set_id=torch_set_id, part=part)
    changes.note(session, "counted the shelf", "torch_set", torch_set_id, row.model_dump())
    row.on_shelf, row.least, row.cost = on_shelf, least, cost
    session.add(row)
    session.flush()
    return row
