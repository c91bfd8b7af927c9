"""The shop and its tables."""

from collections.abc import Sequence

from sqlmodel import Session, select

from orthotome.core.errors import TradeError
from orthotome.core.ready.run_through import Bed
from orthotome.core.units import UNITS
from orthotome.store import changes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import CuttingTable, Shop, Trial
from orthotome.store.torch import fittings
from orthotome.store.torch.sets import torch_set


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


def add_table(session: Session, name: str, bed: Bed, torch_set_id: int | None) -> CuttingTable:
    """A new table; its name must be its own."""
    if session.exec(select(CuttingTable).where(CuttingTable.name == name)).first():
        raise Refused(f"There is a table named “{name}” already.", "name")
    if torch_set_id is not None:
        torch_set(session, torch_set_id)
    added = CuttingTable(name=name, bed=bed)
    session.add(added)
    session.flush()
    fittings.begin_table(session, added.id or 0, torch_set_id)
    changes.note(session, "added", "cutting_table", added.id)
    return added


def bench_trial(session: Session, table_id: int) -> Trial | None:
    """The trial on a table's Bench, if there is one."""
    query = select(Trial).where(Trial.table_id == table_id, Trial.on_bench)
    return session.exec(query).first()
