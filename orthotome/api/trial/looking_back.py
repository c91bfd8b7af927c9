"""Looking back: two cuts side by side, who changed what, any list as a file, a trial on one page of paper."""

from typing import Annotated

from fastapi import Query
from fastapi.responses import Response

from orthotome.api.depends import Reading, Store
from orthotome.api.listing import ListForm, listed
from orthotome.api.log import answers as log_answers
from orthotome.api.routing import room
from orthotome.api.trial import models
from orthotome.api.wire import Id
from orthotome.core.edge.edges import good_side
from orthotome.core.errors import TradeError
from orthotome.core.log.compare import compared
from orthotome.core.log.history import was_in_words
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import underside_words
from orthotome.desk.trial.looking_back import CutShown, cut_shown, proving_cut, sheet_of_trial
from orthotome.formats.listing import Column
from orthotome.formats.pieces.trial_sheet import write_trial_sheet
from orthotome.store import changes
from orthotome.store.bench import lines
from orthotome.store.log import cuts, photo_files
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.tables import Trial
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
    other = proving_cut(session, recipe) if recipe is not None else other
    first, second = cut_shown(session, one), cut_shown(session, other or 0)
    return models.CompareAnswer(
        one=_side(first), other=_side(second), differences=list(compared(first.shown, second.shown))
    )


def _side(of: CutShown) -> models.ComparedCut:
    campaign = of.shown.campaign
    return models.ComparedCut(
        trial_id=of.trial.id or 0,
        title=of.title,
        table=of.table,
        recipe=of.recipe,
        thickness_mm=of.trial.thickness_mm,
        kerf_mm=of.kerf_mm,
        good_side=good_side(campaign.torch_set.swirl),
        cut=log_answers.cut(
            of.logged,
            campaign.torch_set,
            campaign.target,
            thickness_mm=of.trial.thickness_mm,
            photos=of.photos,
        ),
    )


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
    Column("kind", lambda r: r[1].kind),
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
    folder = photo_files.folder_of(database.database.path)
    content = write_trial_sheet(sheet_of_trial(session, trial_id, folder))
    headers = {"content-disposition": f'inline; filename="trial-{trial_id}.pdf"'}
    return Response(content, media_type="application/pdf", headers=headers)
