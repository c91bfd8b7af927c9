"""A table's own page: its settings, and what nobody wrote down."""

import json
from collections.abc import Sequence
from datetime import datetime
from typing import Any

from sqlalchemy.orm import defer
from sqlmodel import Session, col, select

from orthotome.core.ready.run_through import Bed
from orthotome.core.trial.opening import Table
from orthotome.formats.machine.table_page import TablePage
from orthotome.formats.reading import read_json
from orthotome.store import changes
from orthotome.store.errors import ChangedMeanwhile, NotFound
from orthotome.store.shop import shop
from orthotome.store.tables import ChangeRow, CuttingTable, TableFact


def settings(table: CuttingTable) -> TablePage:
    """The settings of a table."""
    return read_json(TablePage, table.settings)


def for_trial(session: Session, table_id: int) -> Table:
    """What opening a trial needs of a table's page."""
    table = shop.table(session, table_id)
    written = settings(table)
    return Table(
        table.bed,
        written.gases,
        written.arc_signal,
        written.height_by_hand,
        written.fastest_mm_min,
        written.air.delivery_l_min,
        written.acceleration_mm_s2,
    )


def change_settings(
    session: Session,
    table_id: int,
    changed: dict[str, Any],
    bed: Bed | None,
    version: int | None = None,
) -> TablePage:
    """Change what is given, leave the rest: two screens that change other things do not collide.

    Raises ChangedMeanwhile where what is given was changed since ``version`` of the page was read, and
    FileError naming the field where the whole no longer holds together.
    """
    table = shop.table(session, table_id)
    if version is not None:
        _check_unchanged(session, table, {*changed, *({"bed"} if bed else ())}, version)
    kept = json.loads(table.settings)
    air = {**kept.get("air", {}), **changed.get("air", {})}
    axes = {"x_runs", "y_runs"} & changed.keys()
    unproved = {"axes_proved": False} if axes and "axes_proved" not in changed else {}
    together = {**kept, **changed, **unproved, "air": air}
    file = read_json(TablePage, json.dumps(together))
    was = {name: kept.get(name) for name in changed} | ({"bed": table.bed} if bed else {})
    changes.note(session, "page changed", "cutting_table", table_id, was | {"version": table.version})
    table.version += 1
    table.settings = file.model_dump_json(exclude_none=True)
    table.bed = bed or table.bed
    session.add(table)
    session.flush()
    return file


def changed_at(session: Session, table_id: int, names: set[str]) -> datetime | None:
    """When any of these of a table's page was changed last; None where nobody changed them since it was begun."""
    for change in changes.of(session, "cutting_table", table_id):
        if change.act == "page changed" and names & changes.before_of(change).keys():
            return change.at
    return None


def _check_unchanged(session: Session, table: CuttingTable, names: set[str], version: int) -> None:
    query = select(ChangeRow).where(
        ChangeRow.of == "cutting_table", ChangeRow.of_id == table.id, ChangeRow.act == "page changed"
    )
    for change in session.exec(query.order_by(col(ChangeRow.id).desc()).limit(table.version - version)):
        before = json.loads(change.before)
        if before.get("version", 0) >= version and names & before.keys():
            by = f" by {change.by}" if change.by else ""
            raise ChangedMeanwhile(
                f"That was changed on another screen{by} since this one read it. Nothing was overwritten: "
                "look at what it says now, then change it if it is still wrong.",
                "version",
            )


def facts(session: Session, table_id: int) -> Sequence[TableFact]:
    """What was noted of a table, newest first; photos are fetched one by one."""
    shop.table(session, table_id)
    query = select(TableFact).where(TableFact.table_id == table_id, col(TableFact.struck_out).is_(False))
    newest = query.order_by(col(TableFact.id).desc())
    return session.exec(newest.options(defer(TableFact.photo))).all()  # type: ignore[arg-type]


def fact(session: Session, fact_id: int) -> TableFact:
    """One fact. Raises NotFound."""
    found = session.get(TableFact, fact_id)
    if found is None:
        raise NotFound("There is no such note.", "fact_id")
    return found


def add_fact(session: Session, table_id: int, title: str, told: str) -> TableFact:
    """Note something about a table."""
    shop.table(session, table_id)
    added = TableFact(table_id=table_id, title=title, told=told, noted_by=changes.person(session))
    session.add(added)
    session.flush()
    return added
