"""Spot checks of proven recipes: noted at the starts that the parts had, and what the chart runs along."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select

from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.tables import CountRow, RecipeRow, SpotCheckRow
from orthotome.store.torch import counting, fittings


@dataclass(frozen=True)
class ToNote:
    """What was read of one piece. None: not read."""

    bevel_deg: float | None = None
    u_deg: float | None = None
    arc_voltage_v: float | None = None
    height_held: bool = False
    kerf_mm: float | None = None
    dross_grade: int | None = None
    note: str = ""


def note(session: Session, recipe: RecipeRow, table_id: int, key: str, read: ToNote) -> SpotCheckRow:
    """Note a check of a recipe on its table; the same key twice is noted once."""
    known = noted(session, key)
    if known is not None:
        return known
    now = fittings.fitted(session, table_id)
    row = SpotCheckRow(
        key=key,
        recipe_id=recipe.id or 0,
        parts_id=now.parts.id or 0,
        signal_id=now.signal.id or 0,
        mount_id=now.mount.id or 0,
        starts=now.starts,
        part_counts=now.part_counts,
        of_table=counting.starts_of_table(session, table_id),
        read_by=changes.person(session),
        **vars(read),
    )
    session.add(row)
    session.flush()
    return row


def noted(session: Session, key: str) -> SpotCheckRow | None:
    """The check that was noted under a key."""
    return session.exec(select(SpotCheckRow).where(SpotCheckRow.key == key)).first()


def of_recipe(session: Session, recipe_id: int) -> Sequence[SpotCheckRow]:
    """The checks of a recipe in order, struck ones too."""
    query = select(SpotCheckRow).where(SpotCheckRow.recipe_id == recipe_id)
    return session.exec(query.order_by(col(SpotCheckRow.of_table), col(SpotCheckRow.id))).all()


def strike(session: Session, recipe_id: int, check_id: int, *, out: bool) -> None:
    """Strike a check out, or put it back. Raises NotFound."""
    row = session.get(SpotCheckRow, check_id)
    if row is None or row.recipe_id != recipe_id:
        raise NotFound("There is no such check.", "check_id")
    changes.note(session, "struck out" if out else "put back", "spot_check", check_id)
    row.struck_out = out
    session.add(row)
    session.flush()


def starts_of_table_at(session: Session, table_id: int, recipe: RecipeRow) -> int:
    """Starts that a table had when a recipe was locked."""
    query = select(CountRow.starts).where(
        CountRow.table_id == table_id, col(CountRow.counted_at) <= recipe.locked_at
    )
    return sum(session.exec(query))
