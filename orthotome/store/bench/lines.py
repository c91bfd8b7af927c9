"""Trials as a list shows them."""

from dataclasses import dataclass

from sqlalchemy import func, literal
from sqlmodel import Session, col, select

from orthotome.store.log.cuts import LoggedCut, with_readings
from orthotome.store.tables import (
    CutRow,
    CuttingTable,
    RecipeRow,
    RecipeWithdrawn,
    TorchSetRow,
    Trial,
)


@dataclass(frozen=True)
class TrialLine:
    """A trial as a list shows it."""

    trial: Trial
    table: CuttingTable
    torch_set: TorchSetRow
    cuts: int
    last: LoggedCut | None
    recipe: RecipeRow | None


def trial_lines(session: Session, sought: str = "", most: int = 60) -> tuple[list[TrialLine], int]:
    """Trials, newest first, with their last cut and their recipe, and how many there are in all.

    ``sought`` words must each stand in the title, the metal, the table's name or the set's. The
    number of queries does not grow with the list.
    """
    query = (
        select(Trial, CuttingTable, TorchSetRow)
        .join(CuttingTable, col(CuttingTable.id) == col(Trial.table_id))
        .join(TorchSetRow, col(TorchSetRow.id) == col(Trial.torch_set_id))
    )
    metal, gap = func.replace(col(Trial.metal), "_", " "), literal(" ")
    told = col(Trial.title) + gap + metal + gap + col(CuttingTable.name) + gap + col(TorchSetRow.name)
    described = func.lower(told)
    for word in sought.lower().split():
        query = query.where(described.contains(word, autoescape=True))
    total = session.exec(select(func.count()).select_from(query.subquery())).one()
    found = session.exec(query.order_by(col(Trial.id).desc()).limit(most)).all()
    ids = [t.id for t, _, _ in found]
    mine = col(CutRow.trial_id).in_(ids) & col(CutRow.struck_out).is_(False)
    counted = session.exec(
        select(CutRow.trial_id, func.count(), func.max(CutRow.id))
        .where(mine)
        .group_by(col(CutRow.trial_id))
    ).all()
    count = {trial_id: n for trial_id, n, _ in counted}
    newest = select(CutRow).where(col(CutRow.id).in_([last for _, _, last in counted]))
    last = {c.row.trial_id: c for c in with_readings(session, session.exec(newest).all())}
    locked_of = select(RecipeRow).where(
        col(RecipeRow.trial_id).in_(ids), col(RecipeRow.id).not_in(select(RecipeWithdrawn.recipe_id))
    )
    locked = session.exec(locked_of).all()
    recipes = {r.trial_id: r for r in locked}
    lines = [
        TrialLine(t, m, s, count.get(t.id or 0, 0), last.get(t.id or 0), recipes.get(t.id))
        for t, m, s in found
    ]
    return lines, total
