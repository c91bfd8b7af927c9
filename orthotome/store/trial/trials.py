"""Trials: opening one, its target and limits, and which is on the Bench."""

import json
from dataclasses import asdict
from datetime import datetime
from typing import Any

from sqlmodel import Session, col, select

from orthotome.core.book.start_rows import StartingNumbers, StartValues
from orthotome.core.stock.hazards import check_metal
from orthotome.core.trial.campaign import (
    Limits,
    Target,
)
from orthotome.store import changes
from orthotome.store.errors import ChangedMeanwhile, NotFound, Refused
from orthotome.store.shop import shop
from orthotome.store.tables import (
    RecipeRow,
    RecipeWithdrawn,
    Trial,
)
from orthotome.store.torch import sets

PIERCES, KERF_MEASURED = "pierces", "kerf measured"
"""What is noted beside a trial that is told otherwise how to pierce, or another kerf."""


def open_trial(
    session: Session,
    *,
    table_id: int,
    torch_set_id: int,
    metal: str,
    thickness_mm: float,
    start: StartValues,
    found: StartingNumbers | None,
    target: Target,
    limits: Limits,
    title: str = "",
    gas: str = "",
    start_how: str = "",
    parts_starts: int | None = None,
    on_its_own: bool = False,
    to_bench: bool = True,
) -> Trial:
    """Open a trial and put it on its table's Bench. Raises TradeError for what is not to be cut."""
    check_metal(metal)
    shop.table(session, table_id)
    sets.torch_set(session, torch_set_id)
    trial = Trial(
        table_id=table_id,
        torch_set_id=torch_set_id,
        title=title,
        metal=metal,
        thickness_mm=thickness_mm,
        gas=gas,
        start_how=start_how or (found.how if found else "typed"),
        start_from=json.dumps(_origin(found)),
        opened_by=changes.person(session),
        parts_starts=parts_starts,
        on_its_own=on_its_own,
        **asdict(start),
        **asdict(target),
        **_limit_columns(limits),
    )
    session.add(trial)
    session.flush()
    if to_bench:
        put_on_bench(session, trial)
    return trial


def _origin(found: StartingNumbers | None) -> dict[str, object]:
    if found is None:
        return {"rows": [], "warnings": []}
    named = [{"metal": r.metal, "thickness_mm": r.thickness_mm, "source": r.source} for r in found.rows]
    return {"rows": named, "warnings": list(found.warnings)}


def _limit_columns(limits: Limits) -> dict[str, Any]:
    return {
        "speed_low_mm_min": limits.speed_mm_min[0],
        "speed_high_mm_min": limits.speed_mm_min[1],
        "height_low_mm": limits.cut_height_mm[0],
        "height_high_mm": limits.cut_height_mm[1],
    }


def put_on_bench(session: Session, trial: Trial) -> None:
    """Put a trial on its table's Bench in place of the one that is there."""
    before = shop.bench_trial(session, trial.table_id)
    if before is not None and before.id != trial.id:
        before.on_bench = False
        session.add(before)
    if not trial.on_bench:
        was = {"bench_trial_id": before.id} if before else {}
        changes.note(session, "put on the bench", "trial", trial.id, was)
    trial.on_bench = True
    session.add(trial)
    session.flush()


def trial(session: Session, trial_id: int) -> Trial:
    """One trial. Raises NotFound."""
    found = session.get(Trial, trial_id)
    if found is None:
        raise NotFound("There is no such trial.", "trial_id")
    return found


def recipe_of(session: Session, trial_id: int) -> RecipeRow | None:
    """The recipe a trial was locked as, if it was."""
    withdrawn = select(RecipeWithdrawn.recipe_id)
    query = select(RecipeRow).where(RecipeRow.trial_id == trial_id, col(RecipeRow.id).not_in(withdrawn))
    return session.exec(query).first()


def retarget(session: Session, trial_id: int, revision: int, target: Target, limits: Limits) -> Trial:
    """Change what square means, or the limits; refused if the trial changed since it was read."""
    found = open_for_change(session, trial_id)
    if found.revision != revision:
        raise ChangedMeanwhile("The trial was changed on another screen.", "revision")
    wanted = {**asdict(target), **_limit_columns(limits)}
    was = {name: getattr(found, name) for name, value in wanted.items() if getattr(found, name) != value}
    changes.note(session, "retargeted", "trial", trial_id, was)
    for name, value in wanted.items():
        setattr(found, name, value)
    touch(session, found)
    return found


def pierce(
    session: Session,
    trial_id: int,
    revision: int,
    pierce_delay_s: float | None = None,
    pierce_height_mm: float | None = None,
) -> Trial:
    """Pierce so long, or at that height, from now on; refused if the trial changed since it was read."""
    found = open_for_change(session, trial_id)
    if found.revision != revision:
        raise ChangedMeanwhile("The trial was changed on another screen.", "revision")
    given = {"pierce_delay_s": pierce_delay_s, "pierce_height_mm": pierce_height_mm}
    wanted = {name: value for name, value in given.items() if value is not None}
    changes.note(session, PIERCES, "trial", trial_id, {name: getattr(found, name) for name in wanted})
    for name, value in wanted.items():
        setattr(found, name, value)
    touch(session, found)
    return found


def pierces_since(session: Session, trial_id: int, quantity: str) -> datetime | None:
    """When a trial was last told otherwise how long or how high to pierce; None where it never was."""
    told = (c for c in changes.of(session, "trial", trial_id) if c.act == PIERCES)
    return next((c.at for c in told if quantity in changes.before_of(c)), None)


def kerf_was_measured(session: Session, trial_id: int) -> bool:
    """Whether the kerf that a trial makes room for was measured on a piece of its own."""
    return any(c.act == KERF_MEASURED for c in changes.of(session, "trial", trial_id))


def kerf_is(session: Session, trial_id: int, kerf_mm: float) -> Trial:
    """Make room for another kerf from now on, as measured. Raises Refused where the trial is locked."""
    found = open_for_change(session, trial_id)
    changes.note(session, KERF_MEASURED, "trial", trial_id, {"kerf_mm": found.kerf_mm})
    found.kerf_mm = kerf_mm
    touch(session, found)
    return found


def stand_alone(session: Session, trial_id: int, revision: int, *, alone: bool) -> Trial:
    """Leave out what the table's earlier trials taught, or take it along again."""
    found = open_for_change(session, trial_id)
    if found.revision != revision:
        raise ChangedMeanwhile("The trial was changed on another screen.", "revision")
    changes.note(session, "set on its own", "trial", trial_id, {"on_its_own": found.on_its_own})
    found.on_its_own = alone
    touch(session, found)
    return found


def open_for_change(session: Session, trial_id: int) -> Trial:
    """A trial that is not locked. Raises NotFound, or Refused where it is."""
    found = trial(session, trial_id)
    recipe = recipe_of(session, trial_id)
    if recipe is not None:
        raise Refused(
            f"This trial is locked as “{recipe.title}”, revision {recipe.revision}: its evidence "
            "stays as it is. Open a new trial to go on.",
            "trial_id",
        )
    return found


def touch(session: Session, found: Trial) -> None:
    """Count a change of a trial, by which other screens see that there is one."""
    found.revision += 1
    session.add(found)
    session.flush()
