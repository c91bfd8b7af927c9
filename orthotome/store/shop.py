"""The shop, its tables and its torch sets."""

from collections.abc import Sequence
from typing import Literal

from sqlmodel import Session, select

from orthotome.core.campaign import TorchSet
from orthotome.core.errors import TradeError
from orthotome.core.units import UNITS
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import CuttingTable, Shop, TorchSetRow, Trial


def the_shop(session: Session) -> Shop:
    """The one shop; an unnamed metric one where none was set up yet."""
    return session.get(Shop, 1) or Shop(name="")


def set_shop(
    session: Session, name: str | None, length_unit: str | None, speed_unit: str | None
) -> Shop:
    """Change what is given; the rest stays."""
    shop = the_shop(session)
    for field, unit, quantity in (
        ("length_unit", length_unit, "length"),
        ("speed_unit", speed_unit, "speed"),
    ):
        if unit is not None and unit not in UNITS[quantity]:
            raise TradeError(field, f"use one of {', '.join(UNITS[quantity])}.")
    shop.name = shop.name if name is None else name
    shop.length_unit = length_unit or shop.length_unit
    shop.speed_unit = speed_unit or shop.speed_unit
    session.add(shop)
    session.flush()
    return shop


def tables(session: Session) -> Sequence[CuttingTable]:
    """The shop's tables by name."""
    return session.exec(select(CuttingTable).order_by(CuttingTable.name)).all()


def table(session: Session, table_id: int) -> CuttingTable:
    """One table. Raises NotFound."""
    found = session.get(CuttingTable, table_id)
    if found is None:
        raise NotFound("There is no such table.", "table_id")
    return found


def add_table(session: Session, name: str, bed: str, torch_set_id: int | None) -> CuttingTable:
    """A new table; its name must be its own."""
    if session.exec(select(CuttingTable).where(CuttingTable.name == name)).first():
        raise Refused(f"There is a table named “{name}” already.", "name")
    if torch_set_id is not None:
        torch_set(session, torch_set_id)
    added = CuttingTable(name=name, bed=bed, torch_set_id=torch_set_id)
    session.add(added)
    session.flush()
    return added


def put_right(session: Session, table_id: int, what: Literal["parts", "mount"]) -> CuttingTable:
    """Note that the parts were changed, or the torch re-seated: a new series begins.

    The trial on the Bench is judged anew: what was learned of the old parts or mount is set apart.
    """
    found = table(session, table_id)
    if what == "parts":
        found.parts_series += 1
        found.starts_on_parts = 0
    else:
        found.mount_series += 1
    session.add(found)
    for trial in session.exec(select(Trial).where(Trial.table_id == table_id)):
        trial.revision += 1
        session.add(trial)
    session.flush()
    return found


def bench_trial(session: Session, table_id: int) -> Trial | None:
    """The trial on a table's Bench, if there is one."""
    query = select(Trial).where(Trial.table_id == table_id, Trial.on_bench)
    return session.exec(query).first()


def torch_sets(session: Session) -> Sequence[TorchSetRow]:
    """All torch sets, by amperage."""
    query = select(TorchSetRow).order_by(TorchSetRow.amperage_a, TorchSetRow.name)  # type: ignore[arg-type]
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
