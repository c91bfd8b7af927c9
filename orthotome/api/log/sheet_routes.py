"""The sheet that a piece is read on, bevels worked out from what was read, and what to look at again."""

from collections.abc import Sequence
from typing import Annotated, cast

from fastapi import Query
from sqlmodel import Session

from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.log import models
from orthotome.api.log.cut_as_told import cut_of
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.edge.edges import Side
from orthotome.core.edge.instruments import Instrument, worked_out
from orthotome.core.log.items import Item, SheetKind, items_of
from orthotome.core.log.sheet import LoggedBefore, LogSheet, log_sheet
from orthotome.core.trial.campaign import Campaign
from orthotome.core.trial.opening import nothing_known, opening_ladder
from orthotome.core.trial.questions import Question
from orthotome.formats.log.items import read_items
from orthotome.formats.pieces.piece_set import piece_of
from orthotome.formats.reading import TINY
from orthotome.store.bench import campaigns
from orthotome.store.errors import NotFound
from orthotome.store.log import cuts
from orthotome.store.machine import instruments
from orthotome.store.pieces import planned
from orthotome.store.trial import trials

router = room("log")

_AGAIN = r"^(\s*(right|left) [0-9]{1,3}(\.[0-9]+)?\s*(,|$))*$"


@router.get("/trials/{trial_id}/log-sheet")
def get_log_sheet(
    trial_id: Id,
    session: Reading,
    store: Store,
    *,
    kind: Annotated[SheetKind, Query()] = "square",
    cut_id: Annotated[Id | None, Query()] = None,
    planned_id: Annotated[Id | None, Query()] = None,
    again: Annotated[str, Query(pattern=_AGAIN, max_length=200)] = "",
) -> LogSheet:
    """The sheet that a piece is logged on, or that a logged cut is corrected on, with all it has.

    ``planned_id`` is a piece that waits to be read; ``again`` names edges of the cut to read once more, as
    ``right 90, left 0``.
    """
    campaign = campaigns.campaign_of(session, trials.trial(session, trial_id))
    tools = instruments.instruments(session, store.by)
    if cut_id is not None:
        return _sheet_of_cut(session, campaign, trial_id, cut_id, again=again, tools=tools)
    if planned_id is not None:
        piece = planned.planned_cut(session, trial_id, planned_id)
        of: SheetKind = cast("SheetKind", piece.kind or "square")
        return log_sheet(campaign, of, items=read_items(piece.items), instruments=tools)
    return log_sheet(campaign, kind, items=usual_items(campaign, kind), instruments=tools)


def _sheet_of_cut(
    session: Session,
    campaign: Campaign,
    trial_id: int,
    cut_id: int,
    *,
    again: str,
    tools: Sequence[Instrument],
) -> LogSheet:
    logged = cuts.logged_cut(session, trial_id, cut_id)
    edges = [e.split() for e in again.split(",") if e.strip()]
    asked = [(cast("Side", side), float(heading)) for side, heading in edges]
    known = LoggedBefore(logged.cut, logged.edge_ids, logged.told, logged.looks)
    kind = logged.kind
    return log_sheet(campaign, kind, known, again=asked, items=logged.items, instruments=tools)


def usual_items(campaign: Campaign, kind: SheetKind) -> tuple[Item, ...]:
    """What there is to look at on such a piece cut at the starting numbers, where nobody noted how it was cut."""
    if kind in ("strip", "hole", "own_part"):
        return ()
    if kind == "strip_ladder" and nothing_known(campaign):
        coarse = opening_ladder(campaign.start, campaign.limits)
        return tuple(Item(n, f"slot {n}", **vars(setting)) for n, setting in enumerate(coarse, 1))
    return items_of(piece_of(kind, campaign), campaign.start.kerf_mm)  # type: ignore[arg-type]


@router.get("/trials/{trial_id}/bevel")
def get_bevel(
    trial_id: Id,
    session: Reading,
    store: Store,
    *,
    instrument: Annotated[str, Query(min_length=1, max_length=200)],
    first_mm: Annotated[float, Query(ge=0, le=10_000, allow_inf_nan=False)],
    second_mm: Annotated[float, Query(ge=TINY, le=10_000, allow_inf_nan=False)],
    undercut: Annotated[bool, Query()] = False,
) -> models.BevelAnswer:
    """A bevel from two lengths read with an instrument: top and bottom width, or gap and depth."""
    found = trials.trial(session, trial_id)
    tool = next((i for i in instruments.instruments(session, store.by) if i.name == instrument), None)
    if tool is None:
        raise NotFound("There is no such instrument: it may have been taken off the list.", "instrument")
    bevel, told = worked_out(tool, first_mm, second_mm, found.thickness_mm, undercut=undercut)
    return models.BevelAnswer(**vars(bevel), method=tool.method, told=told)


@router.post("/trials/{trial_id}/log-questions")
def ask(trial_id: Id, request: models.CutRequest, session: Reading, judge: TheJudge) -> list[Question]:
    """What to look at again of a piece that is being read: swapped sides first, then readings that do not fit."""
    campaign = campaigns.with_history(session, trials.trial(session, trial_id))
    return list(judge.questions(campaign, cut_of(request)))
