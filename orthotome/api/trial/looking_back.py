"""Looking back: two cuts side by side, who changed what, any list as a file, a trial on one page of paper."""

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response
from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.listing import ListForm, listed
from orthotome.api.log import answers as log_answers
from orthotome.api.routing import room
from orthotome.api.trial import models
from orthotome.api.wire import Id
from orthotome.core.edge.edges import good_side
from orthotome.core.errors import TradeError
from orthotome.core.log.compare import Shown, compared
from orthotome.core.log.history import was_in_words
from orthotome.core.log.says import what_it_says
from orthotome.core.quantities import thickness
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import underside_words, worst_judged_deg
from orthotome.formats.listing import Column
from orthotome.formats.pieces.trial_sheet import MOST_PHOTOS, SheetOfTrial, write_trial_sheet
from orthotome.store import changes
from orthotome.store.bench import campaigns, lines
from orthotome.store.book import recipes
from orthotome.store.errors import NotFound
from orthotome.store.log import cuts, photo_files, photos
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.shop import shop
from orthotome.store.tables import Trial
from orthotome.store.torch import fittings
from orthotome.store.trial import trials

router = room("trial")


@router.get("/compare")
def compare(
    session: Reading,
    one: Annotated[Id, Query()],
    other: Annotated[Id | None, Query()] = None,
    recipe: Annotated[Id | None, Query()] = None,
) -> models.CompareAnswer:
    """Two cuts side by side, of one trial or of two: what differs, and what of it matters.

    In the place of the other cut a recipe: then it is the last of those that prove it.
    """
    if other is None and recipe is None:
        raise TradeError("other", "say which cut, or which recipe, to hold it against.")
    other = _proving(session, recipe) if recipe is not None else other
    first, second = _shown(session, one), _shown(session, other or 0)
    return models.CompareAnswer(
        one=first[1], other=second[1], differences=list(compared(first[0], second[0]))
    )


def _proving(session: Session, recipe_id: int) -> int:
    """The last cut that proves a recipe. Raises NotFound where its cuts are not here."""
    row = recipes.recipe(session, recipe_id)
    passed = recipes.file_of(row).proof.passed_cuts
    made = cuts.logged_cuts(session, row.trial_id) if row.trial_id else []
    found = next((c.row.id for c in reversed(made) if c.cut.id in passed), None)
    if found is None:
        raise NotFound(f"The cuts that prove “{row.title}” are not here: it came from a file.", "recipe")
    return found


def _shown(session: Session, cut_id: int) -> tuple[Shown, models.ComparedCut]:
    trial, logged = cuts.cut_anywhere(session, cut_id)
    campaign, kind = campaigns.campaign_of(session, trial), log_answers.kind_of(logged)
    shown = Shown(campaign, logged.cut, kind, logged.looks)
    recipe = trials.recipe_of(session, trial.id or 0)
    answer = models.ComparedCut(
        trial_id=trial.id or 0,
        title=f"{thickness(trial.thickness_mm, trial.metal)} {metal_named(trial.metal).label}"
        f"{f', {trial.title}' if trial.title else ''}",
        table=shop.table(session, trial.table_id).name,
        recipe=f"{recipe.title}, revision {recipe.revision}" if recipe else None,
        thickness_mm=trial.thickness_mm,
        kerf_mm=logged.cut.kerf_mm or trial.kerf_mm,
        good_side=good_side(campaign.torch_set.swirl),
        cut=log_answers.cut(
            logged,
            campaign.torch_set,
            campaign.target,
            thickness_mm=trial.thickness_mm,
            photos=photos.of_cuts(session, [cut_id])[cut_id],
        ),
    )
    return shown, answer


@router.get("/trials/{trial_id}/cuts/{cut_id}/history")
def get_cut_history(trial_id: Id, cut_id: Id, session: Reading) -> list[models.ChangeAnswer]:
    """Who changed a cut, when, and what stood there before; newest first."""
    cuts.logged_cut(session, trial_id, cut_id)
    return [
        models.ChangeAnswer(
            at=change.at,
            by=change.by,
            act=change.act,
            was=list(was_in_words(changes.before_of(change))),
        )
        for change in changes.of(session, "cut", cut_id)
    ]


_Cut = tuple[Trial, LoggedCut]
_CUT_COLUMNS: tuple[Column[_Cut], ...] = (
    Column("cut", lambda r: r[1].row.number),
    Column("kind", lambda r: log_answers.kind_of(r[1])),
    Column("logged_at", lambda r: r[1].row.logged_at),
    Column("logged_by", lambda r: r[1].row.logged_by or None),
    Column("counts", lambda r: "yes" if r[1].counts else "no"),
    Column("speed_mm_min", lambda r: r[1].cut.speed_mm_min, "speed"),
    Column("cut_height_mm", lambda r: r[1].cut.cut_height_mm, "length"),
    Column("height_control", lambda r: r[1].cut.height_control),
    Column("arc_voltage_v", lambda r: r[1].cut.arc_voltage_v),
    Column("starts", lambda r: r[1].cut.starts),
    Column("through", lambda r: r[1].cut.through),
    Column("underside", lambda r: underside_words(r[1].cut)),
    Column("bevel_right_deg", lambda r: r[1].cut.mean_bevel_deg("right")),
    Column("bevel_left_deg", lambda r: r[1].cut.mean_bevel_deg("left")),
    Column(
        "edges",
        lambda r: (
            "; ".join(
                f"{e.side} {e.heading_deg:g}: {e.bevel_deg:+.1f} +-{2 * e.u_deg:.1f} ({e.method})"
                for e in r[1].cut.edges
            )
            or None
        ),
    ),
    Column("kerf_mm", lambda r: r[1].cut.kerf_mm, "length"),
    Column("lag_deg", lambda r: r[1].cut.lag_deg),
    Column(
        "looks",
        lambda r: (
            "; ".join(
                f"{k.item or 'whole'} {k.what}: {k.value if k.number is None else k.number}"
                for k in r[1].looks
            )
            or None
        ),
    ),
    Column("note", lambda r: r[1].row.note or None),
)


@router.get("/trials/{trial_id}/cuts.{form}")
def get_cuts_file(trial_id: Id, form: ListForm, session: Reading) -> Response:
    """The cuts of a trial as a list, struck ones too."""
    found = trials.trial(session, trial_id)
    rows = [(found, c) for c in cuts.logged_cuts(session, trial_id)]
    return listed(form, f"trial-{trial_id}-cuts", _CUT_COLUMNS, rows)


_TRIAL_COLUMNS: tuple[Column[lines.TrialLine], ...] = (
    Column("trial", lambda t: t.trial.id),
    Column("title", lambda t: t.trial.title or None),
    Column("metal", lambda t: metal_named(t.trial.metal).label),
    Column("thickness_mm", lambda t: t.trial.thickness_mm, "length"),
    Column("table", lambda t: t.table.name),
    Column("torch_set", lambda t: t.torch_set.name),
    Column("gas", lambda t: t.trial.gas or t.torch_set.gas),
    Column("opened_at", lambda t: t.trial.opened_at),
    Column("opened_by", lambda t: t.trial.opened_by or None),
    Column("cuts", lambda t: t.cuts),
    Column("recipe", lambda t: t.recipe.title if t.recipe else None),
    Column("last_speed_mm_min", lambda t: t.last.cut.speed_mm_min if t.last else None, "speed"),
    Column("last_cut_height_mm", lambda t: t.last.cut.cut_height_mm if t.last else None, "length"),
    Column("last_underside", lambda t: underside_words(t.last.cut) if t.last else None),
)


@router.get("/trials.{form}")
def get_trials_file(
    form: ListForm, session: Reading, sought: Annotated[str, Query(max_length=200)] = ""
) -> Response:
    """The trials that were sought as a list, newest first."""
    found, _ = lines.trial_lines(session, sought, _MOST_LISTED)
    return listed(form, "trials", _TRIAL_COLUMNS, found)


_MOST_LISTED = 5000


@router.get("/trials/{trial_id}/sheet.pdf")
def get_trial_sheet(trial_id: Id, session: Reading, database: Store) -> Response:
    """The trial on one page, to hand on: what it began with, the parts, what was tried, pictures."""
    found = trials.trial(session, trial_id)
    logged = cuts.logged_cuts(session, trial_id)
    campaign = campaigns.campaign_of(session, found, logged)
    table, fitted = shop.table(session, found.table_id), fittings.fitted(session, found.table_id)
    sheet = SheetOfTrial(
        campaign=campaign,
        table=table.name,
        opened=found.opened_at,
        stands=_stands(session, found, logged),
        fitted=f"Parts fitted now: {fitted.parts.name or 'not named'}, {fitted.starts} starts.",
        said=_said(logged, found.thickness_mm),
        photos=_thumbnails(session, logged, photo_files.folder_of(database.database.path)),
    )
    headers = {"content-disposition": f'inline; filename="trial-{trial_id}.pdf"'}
    return Response(write_trial_sheet(sheet), media_type="application/pdf", headers=headers)


def _stands(session: Session, found: Trial, logged: Sequence[LoggedCut]) -> str:
    recipe = trials.recipe_of(session, found.id or 0)
    if recipe is not None:
        return f"Proven, and locked as “{recipe.title}”, revision {recipe.revision}."
    made = [c for c in logged if c.counts]
    campaign = campaigns.campaign_of(session, found, logged)
    worst = [worst_judged_deg(c.cut, campaign.torch_set, campaign.target) for c in made]
    read = [w for w in worst if w is not None]
    if not read:
        return f"Not proven yet; {len(made)} cuts, no kept edge read."
    return f"Not proven yet; {len(made)} cuts, the best of them within {min(abs(w) for w in read):.1f} degrees."


def _said(logged: Sequence[LoggedCut], thickness_mm: float) -> list[str]:
    found = []
    for cut in logged:
        if not cut.row.struck_out:
            said = what_it_says(log_answers.kind_of(cut), cut.items, cut.looks, thickness_mm)
            found += [f"Piece {cut.row.number}: {s.sentence}" for s in said]
    return found


def _thumbnails(session: Session, logged: Sequence[LoggedCut], folder: Path) -> list[bytes]:
    """The newest photos, in the order in which they were taken."""
    kept = photos.of_cuts(session, [c.row.id for c in logged if not c.row.struck_out])
    newest = sorted((p for of in kept.values() for p in of), key=lambda p: p.id or 0)[-MOST_PHOTOS:]
    found = []
    for row in newest:
        try:
            found.append(photo_files.content_of(folder, row.digest, "thumbnail"))
        except NotFound:
            continue  # the pictures were not brought along: the page is still a page
    return found
