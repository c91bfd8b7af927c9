"""Logging cuts, correcting them, striking them out, and half-typed logs."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.log import answers, models
from orthotome.api.log.cut_as_told import cut_of, edge_of
from orthotome.api.log.sheet_routes import usual_items
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.doubts import Doubt, ask
from orthotome.core.errors import TradeError
from orthotome.core.log.correction import CutCorrection
from orthotome.core.log.doubts import doubts_of_cut
from orthotome.core.log.items import SheetKind, counts_as
from orthotome.core.log.looks import Look, check_looks
from orthotome.core.log.sheet import STRIP_ANSWERS, TITLES, check_edges
from orthotome.core.log.starts import work_of_ladder, work_of_piece
from orthotome.core.setting import Setting
from orthotome.core.torch.counts import Counts
from orthotome.core.trial.campaign import Campaign, Cut, Dross
from orthotome.formats.log.items import read_items
from orthotome.formats.pieces.piece_set import basis_of, nicked
from orthotome.store.bench import campaigns
from orthotome.store.log import cuts, drafts, photos
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import LogDraft, PlannedCut
from orthotome.store.trial import trials

router = room("log")


@router.post("/trials/{trial_id}/cuts", status_code=201)
def log_cut(trial_id: Id, request: models.NewCutRequest, database: Store) -> models.CutAnswer:
    """Log a cut. Once this has answered, the cut survives anything short of a broken disk."""
    kind: SheetKind = request.kind or request.piece
    if counts_as(kind) != request.piece:
        raise TradeError("piece", f"a {kind.replace('_', ' ')} counts as a {counts_as(kind)}.")
    with database.write() as session:
        campaign, number = _next(session, trial_id)
        waits = cuts.piece_waiting(session, trial_id, request.key)
        items = read_items(waits.items) if waits else usual_items(campaign, kind)
        seen, cut = _looks(request.looks), cut_of(request)
        check_looks(kind, items, seen)
        check_edges(kind, cut.edges, campaign)
        doubts = doubts_of_cut(campaign, cut)
        if not cuts.is_logged(session, trial_id, request.key):
            ask(doubts, request.insisted)
        each, delay_s = _starts_each(session, trial_id), campaign.start.pierce_delay_s
        work = work_of_piece(request.piece, basis_of(campaign), nicked(number), delay_s, each)
        told = [e.told for e in request.edges]
        made = cuts.ToLog(cut, kind, told, seen, items, request.note, work)
        row = cuts.log_cut(session, trial_id, request.key, made)
        cuts.note_insisted(session, row, doubts, cut)
        return _answer(session, trial_id, row.id or 0)


@router.post("/trials/{trial_id}/ladder", status_code=201)
def log_ladder(trial_id: Id, request: models.LadderRequest, database: Store) -> list[models.CutAnswer]:
    """Log the slots of a ladder that were looked at, in one change: all of them, or none.

    The first of them carries the starts of all that was cut with it.
    """
    with database.write() as session:
        campaign, number = _next(session, trial_id)
        waits = cuts.piece_waiting(session, trial_id, request.key)
        rungs = _rungs(campaign, request, waits)
        each, delay_s = _starts_each(session, trial_id), campaign.start.pierce_delay_s
        speeds = [r.speed_mm_min for r in rungs]
        work = work_of_ladder(speeds, basis_of(campaign), nicked(number), delay_s, each)
        work = replace(work, starts=work.starts - len(request.strips) + 1)
        by_hand, logged = _by_hand(session, trial_id), []
        for i, strip in enumerate(request.strips):
            cut, seen = _strip(strip, rungs, by_hand=by_hand), _looks(strip.looks)
            check_looks("strip", (), seen)
            doubts = doubts_of_cut(campaign, cut)
            key = request.key if waits and not i else f"{request.key} {strip.slot}"
            if not cuts.is_logged(session, trial_id, key):
                ask(
                    [Doubt(f"strips.{strip.slot}.{d.field}", d.sentence) for d in doubts],
                    request.insisted,
                )
            of = _named(request, waits)
            told = [e.told for e in strip.edges]
            made = cuts.ToLog(
                cut, "strip", told, seen, (), f"slot {strip.slot} of {of}", work if not i else Counts(1)
            )
            row = cuts.log_cut(session, trial_id, key, made, of=waits)
            cuts.note_insisted(session, row, doubts, cut)
            logged.append(row)
        drafts.drop_draft(session, trial_id, request.key)
        return [_answer(session, trial_id, row.id or 0) for row in logged]


def _named(request: models.LadderRequest, waits: PlannedCut | None) -> str:
    """A ladder, as the note of each of its slots calls it."""
    title = TITLES[request.kind].lower()
    return f"{title}, piece {waits.number}" if waits else title


def _rungs(campaign: Campaign, request: models.LadderRequest, waits: PlannedCut | None) -> list[Setting]:
    """The setting of each slot of a ladder, as it was cut."""
    items = read_items(waits.items) if waits else usual_items(campaign, request.kind)
    return [Setting(i.speed_mm_min or 0.0, i.cut_height_mm or 0.0) for i in items]


@router.patch("/trials/{trial_id}/cuts/{cut_id}")
def correct_cut(
    trial_id: Id, cut_id: Id, request: models.CutCorrection, database: Store
) -> models.CutAnswer:
    """Correct what is named of a logged cut; the rest stays as it is."""
    with database.write() as session:
        logged, seen = cuts.logged_cut(session, trial_id, cut_id), _looks(request.looks)
        told = [look for look in seen if look.value is not None or look.number is not None]
        check_looks(logged.kind, logged.items, told)
        read = [edge_of(e.edge) for e in request.edges if e.edge]
        of = campaigns.campaign_of(session, trials.trial(session, trial_id), ())
        check_edges(logged.kind, read, of)
        cut, doubts = _corrected(session, trial_id, logged, request)
        ask(doubts, request.insisted)
        row = cuts.correct_cut(session, trial_id, cut_id, request.version, _correction(request))
        cuts.note_insisted(session, row, doubts, cut)
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


def _strip(strip: models.StripLook, rungs: Sequence[Setting], *, by_hand: bool) -> Cut:
    look = STRIP_ANSWERS.get(strip.answer) if strip.answer is not None else None
    if look is None and strip.answer is not None:
        raise TradeError("strips", f"“{strip.answer}” is none of {', '.join(STRIP_ANSWERS)}.")
    if strip.slot > len(rungs):
        raise TradeError("strips", f"the ladder has {len(rungs)} slots: there is no slot {strip.slot}.")
    seen = look.dross if look else None
    return Cut(
        id="",
        piece="strip",
        **vars(rungs[strip.slot - 1]),
        height_control="by_hand" if by_hand else "off",
        arc_voltage_v=strip.arc_voltage_v,
        through=look.through if look else None,
        edges=tuple(edge_of(e) for e in strip.edges),
        dross=None if seen is None else tuple(Dross(k, g) for k, g in seen),
    )


def _looks(seen: Sequence[models.LookBody]) -> list[Look]:
    return [Look(**k.model_dump()) for k in seen]


def _answer(session: Session, trial_id: int, cut_id: int) -> models.CutAnswer:
    campaign = campaigns.campaign_of(session, trials.trial(session, trial_id), ())
    return answers.cut(
        cuts.logged_cut(session, trial_id, cut_id),
        campaign.torch_set,
        campaign.target,
        thickness_mm=campaign.thickness_mm,
        photos=photos.of_cuts(session, [cut_id])[cut_id],
    )


def _corrected(
    session: Session, trial_id: int, logged: cuts.LoggedCut, request: models.CutCorrection
) -> tuple[Cut, tuple[Doubt, ...]]:
    """The cut with the numbers that a correction gives and no others, and what is doubted of them."""
    campaign, _ = _next(session, trial_id)
    others = replace(campaign, cuts=tuple(c for c in campaign.cuts if c.id != logged.cut.id))
    told = {n: getattr(request, n) for n in request.model_fields_set & set(_CORRECTED)}
    edges = tuple(edge_of(e.edge) for e in request.edges if e.edge)
    corrected = replace(logged.cut, **{**dict.fromkeys(_DOUBTED), **told}, edges=edges)
    return corrected, doubts_of_cut(others, corrected)


_DOUBTED = ("arc_voltage_v", "set_point_v", "kerf_mm", "lag_deg")
_CORRECTED = (*_DOUBTED, "speed_mm_min", "cut_height_mm", "height_control")


def _correction(request: models.CutCorrection) -> CutCorrection:
    readings = {"version", "edges", "looks", "dross", "dross_looked_at", "insisted"}
    fields: dict[str, Any] = {
        name: getattr(request, name) for name in request.model_fields_set - readings
    }
    dross: Any = request.dross
    if "dross_looked_at" in request.model_fields_set:
        dross = request.dross or {} if request.dross_looked_at else "not_looked"
    edges = tuple(
        (c.id, edge_of(c.edge) if c.edge else None, c.edge.told if c.edge else "") for c in request.edges
    )
    return CutCorrection(fields, edges, tuple(_looks(request.looks)), dross)
