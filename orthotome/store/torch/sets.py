"""The shop's torch sets."""

from collections.abc import Sequence

from sqlmodel import Session, col, select

from orthotome.core.trial.campaign import TorchSet
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import TorchSetRow


def torch_sets(session: Session) -> Sequence[TorchSetRow]:
    """All torch sets, by amperage."""
    query = select(TorchSetRow).order_by(col(TorchSetRow.amperage_a), col(TorchSetRow.name))
    return session.exec(query).all()


def torch_set(session: Session, torch_set_id: int) -> TorchSetRow:
    """One torch set. Raises NotFound."""
    found = session.get(TorchSetRow, torch_set_id)
    if found is None:
        raise NotFound("There is no such torch set.", "torch_set_id")
    return found


def add_torch_set(session: Session, given: TorchSet) -> TorchSetRow:
    """A new set; its name must be its own."""
    if torch_set_named(session, given.name):
        raise Refused(f"There is a torch set named “{given.name}” already.", "name")
    added = TorchSetRow(name=given.name, amperage_a=given.amperage_a, gas=given.gas, swirl=given.swirl)
    session.add(added)
    session.flush()
    return added


def torch_set_named(session: Session, name: str) -> TorchSetRow | None:
    """The set of that name, if the shop has it."""
    return session.exec(select(TorchSetRow).where(TorchSetRow.name == name)).first()


def torch_set_of(row: TorchSetRow, gas: str = "") -> TorchSet:
    """A torch set as core thinks of it, on its own gas or the one chosen for a trial."""
    return TorchSet(row.name, row.amperage_a, gas or row.gas, row.swirl)
