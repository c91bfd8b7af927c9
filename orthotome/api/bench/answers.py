"""The Bench as an answer on the wire."""

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, cast

from sqlmodel import Session

from orthotome.api.bench import models
from orthotome.api.log import models as log_models
from orthotome.api.log.answers import cut
from orthotome.api.trial import models as trial_models
from orthotome.api.trial.answers import earlier as earlier_trial
from orthotome.core.edge.instruments import USUAL_INSTRUMENTS, Instrument
from orthotome.core.height.volts import per_height_says
from orthotome.core.log.items import SheetKind
from orthotome.core.log.pierced import PierceAdvice
from orthotome.core.log.sheet import TITLES, log_sheet
from orthotome.formats.pieces.piece_set import nicked
from orthotome.formats.trial.advice import advice_to_file, expected_to_file
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.machine.pages import settings as settings_of
from orthotome.store.shop import shop
from orthotome.store.tables import (
    PhotoRow,
    PlannedCut,
    Trial,
)

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement


NO_PICTURES: Mapping[int, Sequence[PhotoRow]] = {}


def bench(
    shown: trial_models.TrialAnswer,
    logged: list[LoggedCut],
    judgement: "Judgement",
    *,
    waiting: Sequence[PlannedCut] = (),
    before: "Judgement | None" = None,
    earlier: Sequence[Trial] = (),
    worth: str | None = None,
    pierce: tuple[PierceAdvice, ...] = (),
    instruments: Sequence[Instrument] = USUAL_INSTRUMENTS,
    pictures: Mapping[int, Sequence[PhotoRow]] = NO_PICTURES,
) -> models.BenchAnswer:
    """A trial with its advice and the evidence for it; ``before`` is the judgement without its last cut."""
    from orthotome.core.tuner import evidence  # noqa: PLC0415 (start-up time)
    from orthotome.core.tuner.next_act import heading, next_act  # noqa: PLC0415
    from orthotome.core.tuner.taught import taught  # noqa: PLC0415

    advice, campaign = judgement.advice, judgement.learned.campaign
    act, handed = next_act(judgement), advice.hand_off
    return models.BenchAnswer(
        trial=shown,
        cuts=_cuts(logged, judgement, pictures),
        advice=advice_to_file(advice),
        heading=heading(judgement),
        findings=tuple(f for f in advice.findings if not handed or f.code != handed.code),
        hand_off=handed,
        parts=evidence.bevel_parts(judgement),
        chance_map=evidence.chance_map(judgement),
        proofs=evidence.proofs(judgement),
        per_height=per_height_says(judgement.here.found) if judgement.here else "",
        next_expected=expected_to_file(judgement.expected(act.setting)) if advice.next_cuts else None,
        earlier=[earlier_trial(t) for t in earlier],
        worth=worth,
        pierce=pierce,
        taught=taught(before, judgement) if before else None,
        log_sheet=log_sheet(campaign, instruments=instruments),
        now=act,
        read_again=_read_again(logged, judgement),
        waiting=[_waiting(w) for w in waiting],
    )


def _cuts(
    logged: Sequence[LoggedCut], judgement: "Judgement", pictures: Mapping[int, Sequence[PhotoRow]]
) -> list[log_models.CutAnswer]:
    from orthotome.core.tuner import evidence  # noqa: PLC0415 (start-up time)

    campaign = judgement.learned.campaign
    passed = dict(zip((c.id for c in campaign.cuts), judgement.passed, strict=True))
    doubts = evidence.doubts(judgement)
    return [
        cut(
            c,
            campaign.torch_set,
            campaign.target,
            passed.get(c.cut.id),
            doubts.get(c.cut.id, ()),
            thickness_mm=campaign.thickness_mm,
            photos=pictures.get(c.row.id or 0, ()),
        )
        for c in logged
    ]


def _read_again(logged: Sequence[LoggedCut], judgement: "Judgement") -> list[models.ReadAgainHere]:
    rows = {c.cut.id: c.row for c in logged}
    return [
        models.ReadAgainHere(
            cut_id=rows[r.cut].id or 0,
            number=rows[r.cut].number,
            side=r.side,
            heading_deg=r.heading_deg,
            why=r.why,
        )
        for r in judgement.advice.read_again
    ]


def _waiting(piece: PlannedCut) -> models.WaitingPiece:
    kind = cast("SheetKind", piece.kind or "square")
    of_row = set(models.WaitingPiece.model_fields) - {"nicks", "kind", "title"}
    return models.WaitingPiece(
        **piece.model_dump(include=of_row), nicks=nicked(piece.number), kind=kind, title=TITLES[kind]
    )


def worth(session: Session, table_id: int, judgement: "Judgement") -> str | None:
    """What going on past a proven setting would save, at the table's own prices."""
    from orthotome.core.tuner.worth import Prices, worth_of_going_on  # noqa: PLC0415 (start-up time)

    page = settings_of(shop.table(session, table_id))
    prices = Prices(page.hour_cost, page.test_cut_cost, page.clean_up_cost_m)
    return worth_of_going_on(judgement, prices)
