"""A trial as core thinks of it."""

from collections.abc import Sequence
from dataclasses import fields, replace

from sqlmodel import Session, col, select

from orthotome.core.book.start_rows import StartValues
from orthotome.core.torch.fittings import KINDS
from orthotome.core.trial.campaign import Campaign, Limits, Locked, Series, StartHow, Target
from orthotome.core.trial.opening import within_machine
from orthotome.formats.trial.campaign import campaign_from_file
from orthotome.store.book import recipes
from orthotome.store.log import gradings
from orthotome.store.log.cuts import LoggedCut, fittings_of, logged_cuts, series_names
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import CutRow, Trial
from orthotome.store.torch import fittings, sets
from orthotome.store.trial import trials

FROM_FILE = "file"
"""How a trial got its starting numbers where a campaign file brought them: the file does not say."""

_START = tuple(f.name for f in fields(StartValues))


def campaign_of(session: Session, found: Trial, cuts: Sequence[LoggedCut] | None = None) -> Campaign:
    """The trial as core thinks of it; struck cuts are left out."""
    of_set = sets.torch_set(session, found.torch_set_id)
    assert found.id is not None
    logged = logged_cuts(session, found.id) if cuts is None else cuts
    fastest = pages.settings(shop.table(session, found.table_id)).fastest_mm_min
    how: StartHow | None = None if found.start_how == FROM_FILE else found.start_how  # type: ignore[assignment]
    return Campaign(
        metal=found.metal,
        thickness_mm=found.thickness_mm,
        torch_set=replace(sets.torch_set_of(of_set, found.gas), starts=found.parts_starts),
        start=StartValues(**{name: getattr(found, name) for name in _START}),
        target=Target(found.bevel_deg, found.sides, found.dross_grade, found.priority),
        limits=within_machine(
            Limits(
                (found.speed_low_mm_min, found.speed_high_mm_min),
                (found.height_low_mm, found.height_high_mm),
            ),
            fastest,
        ),
        fastest_mm_min=fastest,
        cuts=tuple(c.cut for c in logged if c.counts),
        title=found.title,
        series_now=_series_now(session, found, logged),
        start_how=how,
        locked=_locked(session, found.id),
        grades=gradings.pairs(session),
    )


def _locked(session: Session, trial_id: int) -> Locked | None:
    recipe = trials.recipe_of(session, trial_id)
    if recipe is None:
        return None
    return Locked(**{f.name: getattr(recipe, f.name) for f in fields(Locked)})


MOST_EARLIER = 3  # the newest say most, and each is a judgement of its own when it is first asked for


def earlier_trials(session: Session, found: Trial) -> list[Trial]:
    """Trials that the same table cut with the same set before this one was opened, newest last.

    The newest of the same stock is always among them: what was proven of it says most.
    """
    counts = select(CutRow.id).where(CutRow.trial_id == Trial.id, col(CutRow.struck_out).is_(False))
    query = (
        select(Trial)
        .where(Trial.table_id == found.table_id, Trial.torch_set_id == found.torch_set_id)
        .where(col(Trial.id) < found.id, counts.exists())
        .order_by(col(Trial.id).desc())
    )
    stock = (Trial.metal == found.metal, Trial.thickness_mm == found.thickness_mm)
    same = list(session.exec(query.where(*stock).limit(1)))
    newest = [t for t in session.exec(query.limit(MOST_EARLIER)) if t not in same]
    chosen = [*same, *newest][:MOST_EARLIER]
    return sorted(chosen, key=lambda t: t.id or 0)


def with_history(session: Session, found: Trial, cuts: Sequence[LoggedCut] | None = None) -> Campaign:
    """The trial with what its table showed before.

    One that was told to stand on its own keeps the proof of the recipe that it was opened from: that is no earlier
    trial, it is where its numbers come from.
    """
    campaign = campaign_of(session, found, cuts)
    trials_before = [] if found.on_its_own else earlier_trials(session, found)
    history = [campaign_of(session, t) for t in trials_before]
    recipe = recipes.begun_from(session, found)
    if recipe is not None and recipe.trial_id not in [t.id for t in trials_before]:
        history.insert(0, campaign_from_file(recipes.file_of(recipe).evidence))
    if history and not campaign.cuts and campaign.series_now is None:
        campaign = replace(campaign, series_now=_fitted(session, found.table_id))
    return replace(campaign, history=tuple(replace(e, series_now=None, history=()) for e in history))


def _fitted(session: Session, table_id: int) -> Series:
    """What a trial begins with is what is fitted: a lean is remembered while the torch stays in its mount."""
    now = fittings.fitted(session, table_id)
    on_table = {kind: row.id for kind in KINDS if (row := getattr(now, kind)) is not None}
    names = series_names(session, set(on_table.values()))
    return Series(**{kind: names[of] for kind, of in on_table.items()})


def _series_now(session: Session, found: Trial, logged: Sequence[LoggedCut]) -> Series | None:
    """What is fitted now, where something was fitted since the last cut; else None.

    Fittings are numbered as they come, also those that a file brought: what is on the table has a higher
    number than the last cut's only where it was fitted after that cut was made, or taken in.
    """
    if not logged:
        return None
    last, now = logged[-1], fittings.fitted(session, found.table_id)
    newer = {
        kind: on_table.id
        for kind in KINDS
        if (on_table := getattr(now, kind)) is not None
        and on_table.id > (getattr(last.row, f"{kind}_id") or 0)
    }
    if not newer:
        return None
    names = series_names(session, fittings_of([c.row for c in logged]) | set(newer.values()))
    return replace(last.cut.series, **{kind: names[of] for kind, of in newer.items()})
