"""Logging cuts, correcting them, striking them out, and half-typed logs."""

from collections.abc import Sequence
from typing import Annotated, Any, cast

from fastapi import APIRouter, Query
from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.log import answers, models
from orthotome.api.wire import Id
from orthotome.core.edge.edges import Side
from orthotome.core.errors import TradeError
from orthotome.core.log.correction import Correction
from orthotome.core.log.sheet import STRIP_ANSWERS, LogSheet, log_sheet
from orthotome.core.log.starts import pierces_of_ladder, pierces_of_piece
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign, Cut, Dross, EdgeReading, PieceKind
from orthotome.core.trial.opening import opening_ladder
from orthotome.formats.pieces.piece_set import basis_of, nicked
from orthotome.store.bench import campaigns
from orthotome.store.log import cuts, drafts
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import LogDraft
from orthotome.store.trial import trials

router = APIRouter(tags=["log"])

_AGAIN = r"^(\s*(right|left) [0-9]{1,3}(\.[0-9]+)?\s*(,|$))*$"


@router.get("/trials/{trial_id}/log-sheet")
def get_log_sheet(
    trial_id: Id,
    session: Reading,
    piece: Annotated[PieceKind, Query()] = "square",
    cut_id: Annotated[Id | None, Query()] = None,
    again: Annotated[str, Query(pattern=_AGAIN, max_length=200)] = "",
) -> LogSheet:
    """The sheet that a piece is logged on, or that a logged cut is corrected on, with all it has.

    ``again`` names edges of the cut to read once more, as ``right 90, left 0``.
    """
    campaign = campaigns.campaign_of(session, trials.trial(session, trial_id))
    if cut_id is None:
        return log_sheet(campaign, piece)
    logged = cuts.logged_cut(session, trial_id, cut_id)
    edges = [e.split() for e in again.split(",") if e.strip()]
    asked = [(cast("Side", side), float(heading)) for side, heading in edges]
    return log_sheet(campaign, logged.cut.piece, logged.cut, logged.edge_ids, asked)


@router.post("/trials/{trial_id}/cuts", status_code=201)
def log_cut(trial_id: Id, request: models.NewCutRequest, database: Store) -> models.CutAnswer:
    """Log a cut. Once this has answered, the cut survives anything short of a broken disk."""
    with database.write() as session:
        campaign, number = _next(session, trial_id)
        pierces = pierces_of_piece(request.piece, basis_of(campaign), nicked(number))
        pierces *= _starts_each(session, trial_id)
        row = cuts.log_cut(
            session, trial_id, request.key, _cut(request), pierces=pierces, note=request.note
        )
        return _answer(session, trial_id, row.id or 0)


@router.post("/trials/{trial_id}/ladder", status_code=201)
def log_ladder(trial_id: Id, request: models.LadderRequest, database: Store) -> list[models.CutAnswer]:
    """Log the strips of the opening ladder that were looked at, in one change: all of them, or none.

    The first of them carries the starts of all that was cut with it.
    """
    with database.write() as session:
        campaign, number = _next(session, trial_id)
        ladder = opening_ladder(campaign.start, campaign.limits)
        speeds = [s.speed_mm_min for s in ladder]
        pierces = pierces_of_ladder(speeds, basis_of(campaign), nicked(number))
        pierces *= _starts_each(session, trial_id)
        pierces -= len(request.strips) - 1
        by_hand = _by_hand(session, trial_id)
        made = []
        for strip in request.strips:
            cut = _strip(strip, ladder, by_hand=by_hand)
            note, key = f"slot {strip.slot} of the coarse ladder", f"{request.key} {strip.slot}"
            made.append(cuts.log_cut(session, trial_id, key, cut, pierces=pierces, note=note))
            pierces = 1
        return [_answer(session, trial_id, row.id or 0) for row in made]


@router.patch("/trials/{trial_id}/cuts/{cut_id}")
def correct_cut(
    trial_id: Id, cut_id: Id, request: models.CutCorrection, database: Store
) -> models.CutAnswer:
    """Correct what is named of a logged cut; the rest stays as it is."""
    with database.write() as session:
        cuts.correct_cut(session, trial_id, cut_id, request.version, _correction(request))
        return _answer(session, trial_id, cut_id)


@router.put("/trials/{trial_id}/cuts/{cut_id}/struck")
def strike_cut(
    trial_id: Id, cut_id: Id, request: models.StrikeRequest, database: Store
) -> models.CutAnswer:
    """Strike a cut out of the evidence, or put it back."""
    with database.write() as session:
        cuts.strike_cut(session, trial_id, cut_id, request.version, out=request.out)
        return _answer(session, trial_id, cut_id)


@router.get("/trials/{trial_id}/draft")
def get_draft(trial_id: Id, session: Reading) -> models.DraftAnswer:
    """The half-typed log of the trial."""
    trials.trial(session, trial_id)
    found = drafts.draft(session, trial_id)
    if found is None:
        return models.DraftAnswer(body=None, saved_at=None)
    return _draft(found)


@router.put("/trials/{trial_id}/draft")
def save_draft(trial_id: Id, request: models.DraftBody, database: Store) -> models.DraftAnswer:
    """Keep a half-typed log; refused where another screen keeps one that was not seen."""
    with database.write() as session:
        return _draft(
            drafts.save_draft(session, trial_id, request.body, key=request.key, version=request.version)
        )


def _draft(row: LogDraft) -> models.DraftAnswer:
    return models.DraftAnswer.model_validate(row, from_attributes=True)


@router.delete("/trials/{trial_id}/draft", status_code=204)
def drop_draft(trial_id: Id, database: Store) -> None:
    """Forget the half-typed log."""
    with database.write() as session:
        drafts.drop_draft(session, trial_id)


def _next(session: Session, trial_id: int) -> tuple[Campaign, int]:
    found = trials.trial(session, trial_id)
    return campaigns.campaign_of(session, found), cuts.next_number(session, trial_id)


def _starts_each(session: Session, trial_id: int) -> int:
    """Arc starts that each pierce takes by the table's way of writing programs."""
    table = shop.table(session, trials.trial(session, trial_id).table_id)
    profile = pages.settings(table).profile
    return profile.starts_each if profile else 1


def _by_hand(session: Session, trial_id: int) -> bool:
    table = shop.table(session, trials.trial(session, trial_id).table_id)
    return pages.settings(table).height_by_hand


def _strip(strip: models.StripLook, ladder: Sequence[Setting], *, by_hand: bool) -> Cut:
    look = STRIP_ANSWERS.get(strip.answer)
    if look is None:
        raise TradeError("strips", f"“{strip.answer}” is none of {', '.join(STRIP_ANSWERS)}.")
    if strip.slot > len(ladder):
        raise TradeError("strips", f"the ladder has {len(ladder)} slots: there is no slot {strip.slot}.")
    return Cut(
        id="",
        piece="strip",
        **vars(ladder[strip.slot - 1]),
        height_control="by_hand" if by_hand else "off",
        arc_voltage_v=strip.arc_voltage_v,
        through=look.through,
        dross=None if look.dross is None else tuple(Dross(k, g) for k, g in look.dross),
    )


def _answer(session: Session, trial_id: int, cut_id: int) -> models.CutAnswer:
    campaign = campaigns.campaign_of(session, trials.trial(session, trial_id), ())
    return answers.cut(cuts.logged_cut(session, trial_id, cut_id), campaign.torch_set, campaign.target)


def _cut(request: models.CutRequest) -> Cut:
    plain = request.model_dump(exclude={"key", "note", "edges", "dross"})
    dross = request.dross
    return Cut(
        id="",
        **plain,
        edges=tuple(EdgeReading(**vars(e)) for e in request.edges),
        dross=None if dross is None else tuple(Dross(d.kind, d.grade) for d in dross),
    )


def _correction(request: models.CutCorrection) -> Correction:
    readings = {"version", "edges", "dross", "dross_looked_at"}
    fields: dict[str, Any] = {
        name: getattr(request, name) for name in request.model_fields_set - readings
    }
    dross: Any = request.dross
    if "dross_looked_at" in request.model_fields_set:
        dross = request.dross or {} if request.dross_looked_at else "not_looked"
    edges = tuple((c.id, EdgeReading(**vars(c.edge)) if c.edge else None) for c in request.edges)
    return Correction(fields, edges, dross)
