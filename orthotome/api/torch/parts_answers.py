"""Fitted parts as answers: their histories, what they have left, and what it does to the set-point."""

import json
from collections.abc import Sequence

import numpy as np
from sqlmodel import Session

from orthotome.api.torch import parts_models as models
from orthotome.core.torch.fittings import KEPT_WORDS, PART_WORDS
from orthotome.core.torch.forecast import VERDICT_WORDS, in_tens, report_of
from orthotome.core.torch.inspection import PART_FACTS
from orthotome.core.torch.pit import LearnedLife
from orthotome.desk.torch.parts_now import PartNow
from orthotome.formats.torch.wear import StartsLeftFile
from orthotome.store.tables import InspectionRow, PartRow
from orthotome.store.torch import stock

_LINE = 16
_OF_DRAWS = 3  # one in so many is enough to draw with


def looks() -> list[models.LooksAnswer]:
    """What to look at on each kind of part, in the order in which they go in."""
    return [
        models.LooksAnswer(
            part=part,
            word=PART_WORDS[part],
            goes_in=facts.goes_in,
            looks=[
                models.PartLookModel(
                    what=look.what, ask=look.ask, seen=[models.SeenModel(**vars(s)) for s in look.seen]
                )
                for look in facts.looks
            ],
        )
        for part, facts in PART_FACTS.items()
    ]


def inspection(row: InspectionRow) -> models.InspectionAnswer:
    """A part as somebody looked at it."""
    known = row.model_dump(include=set(models.InspectionAnswer.model_fields) - {"looks"})
    return models.InspectionAnswer(**known, looks=json.loads(row.looks), has_photo=bool(row.photo))


def many(session: Session, found: Sequence[PartNow]) -> list[models.PartAnswer]:
    """Parts with their histories, and how many more lie on the shelf."""
    shelf = {(s.torch_set_id, s.part): s.on_shelf for s in stock.stock(session)}
    return [_part(part, shelf) for part in found]


def _part(part: PartNow, shelf: dict[tuple[int, str], int]) -> models.PartAnswer:
    row = part.row
    return models.PartAnswer(
        id=row.id or 0,
        part=row.part,
        word=PART_WORDS[row.part],
        number=row.number,
        counts=models.CountsModel(**vars(part.done)),
        kept=row.kept,
        kept_word=KEPT_WORDS[row.kept],  # type: ignore[index]
        goes_in=PART_FACTS[row.part].goes_in,
        limit_mm=row.limit_mm,
        left=_told(part.left),
        verdict=part.verdict,
        verdict_word=VERDICT_WORDS[part.verdict],
        says=part.says,
        inspections=[inspection(i) for i in reversed(part.seen)],
        on_shelf=shelf.get((row.torch_set_id or 0, row.part)),
    )


def _told(left: object) -> StartsLeftFile | None:
    if left is None:
        return None
    return StartsLeftFile(**{name: in_tens(n) for name, n in vars(left).items()})


def forecast(row: PartRow, life: LearnedLife, learnt_from: int, shorter: str) -> models.ForecastAnswer:
    """The electrode's pit with its line: as measured, as it is, and as it goes on."""
    report = report_of(life)
    last = life.starts + max(200, min(report.starts_left.high, 3 * max(300, life.starts)))
    past = np.linspace(0, life.starts, _LINE)[:-1] if life.starts else np.array([])
    shares = life.share_of_rise(past) * life.pit_mm[:, None] if len(past) else np.zeros((1, 0))
    line = [_line(s, shares[:, i]) for i, s in enumerate(past)]
    line += [
        _line(s, life.pit_mm + life.grown_mm(s - life.starts))
        for s in np.linspace(life.starts, last, _LINE)
    ]
    return models.ForecastAnswer(
        starts=life.starts,
        limit_mm=life.ledger.limit_mm,
        limit_known=row.limit_mm is not None,
        pit_mm=round(report.pit_mm.value, 2),
        sd_mm=round(report.pit_mm.sd, 2),
        left=_told(report.starts_left) or StartsLeftFile(expected=0, low=0, high=0),
        points=[
            models.PitPoint(starts=e.starts, pit_mm=e.pit_mm, u_mm=e.u_mm)
            for e in life.ledger.entries
            if e.pit_mm is not None
        ],
        line=line,
        learnt_from=learnt_from,
        shorter=shorter,
    )


def _line(starts: float, pits: "np.ndarray") -> models.PitLine:
    (low, high), mid = np.quantile(pits[::_OF_DRAWS], (0.05, 0.95)), float(pits.mean())  # as it is said
    return models.PitLine(
        starts=round(float(starts)), low_mm=round(low, 3), mid_mm=round(mid, 3), high_mm=round(high, 3)
    )
