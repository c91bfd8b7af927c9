"""The Book's starting rows: added, superseded, never overwritten."""

from collections.abc import Sequence
from dataclasses import asdict

from sqlmodel import Session, col, select

from orthotome.core.start_rows import StartingNumbers, StartRow, StartValues, starting_numbers
from orthotome.store.errors import NotFound, Refused
from orthotome.store.shop import torch_set
from orthotome.store.tables import BookRow, TorchSetRow


def rows(
    session: Session, metal: str | None = None, torch_set_id: int | None = None
) -> Sequence[tuple[BookRow, TorchSetRow]]:
    """Rows in force with their set, by metal, set and thickness."""
    query = select(BookRow, TorchSetRow).join(TorchSetRow).where(col(BookRow.superseded_by_id).is_(None))
    if metal is not None:
        query = query.where(BookRow.metal == metal)
    if torch_set_id is not None:
        query = query.where(BookRow.torch_set_id == torch_set_id)
    query = query.order_by(BookRow.metal, col(TorchSetRow.amperage_a), col(BookRow.thickness_mm))
    return session.exec(query).all()


def add_row(session: Session, row: BookRow, supersedes_id: int | None = None) -> BookRow:
    """Add a row; with ``supersedes_id`` it takes that row's place, which is kept behind it."""
    torch_set(session, row.torch_set_id)
    replaced = None
    if supersedes_id is not None:
        replaced = session.get(BookRow, supersedes_id)
        if replaced is None:
            raise NotFound("There is no such row to supersede.", "supersedes_id")
        if replaced.superseded_by_id is not None:
            raise Refused("That row has been superseded already: reload the Book.", "supersedes_id")
    session.add(row)
    session.flush()
    if replaced is not None:
        replaced.superseded_by_id = row.id
        session.add(replaced)
        session.flush()
    return row


def start_row(row: BookRow, fitted: TorchSetRow) -> StartRow:
    """A Book row as core thinks of it."""
    values = StartValues(**{name: getattr(row, name) for name in StartValues.__dataclass_fields__})
    return StartRow(
        row.metal, row.thickness_mm, fitted.name, fitted.amperage_a, row.gas, values, row.source
    )


def start(session: Session, metal: str, thickness_mm: float, torch_set_id: int) -> StartingNumbers:
    """Starting numbers from the rows in force. Raises NotFound for an unknown set."""
    fitted = torch_set(session, torch_set_id)
    found = [start_row(r, s) for r, s in rows(session, torch_set_id=torch_set_id)]
    return starting_numbers(
        found, metal=metal, thickness_mm=thickness_mm, torch_set=fitted.name, gas=fitted.gas
    )


def book_row(row: StartRow, torch_set_id: int, *, example: bool = False) -> BookRow:
    """A core row as a Book row of that set."""
    return BookRow(
        metal=row.metal,
        thickness_mm=row.thickness_mm,
        torch_set_id=torch_set_id,
        gas=row.gas,
        source=row.source,
        example=example,
        **asdict(row.values),
    )
