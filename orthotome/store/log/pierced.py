"""How a trial is to pierce from now on, by the pieces that were cut since it was told."""

from collections.abc import Sequence
from datetime import datetime

from sqlmodel import Session

from orthotome.core.book.start_rows import StartValues
from orthotome.core.log.pierced import PierceAdvice, Pierced, delay_advice, height_advice
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.trial import trials


def advised(
    session: Session,
    trial_id: int,
    logged: Sequence[LoggedCut],
    told: StartValues,
    thickness_mm: float,
) -> tuple[PierceAdvice, ...]:
    """What the pieces say against the pierce that is told; empty where nothing does."""
    delayed = _since(logged, trials.pierces_since(session, trial_id, "pierce_delay_s"))
    lifted = _since(logged, trials.pierces_since(session, trial_id, "pierce_height_mm"))
    found = (delay_advice(delayed, told, thickness_mm), height_advice(lifted, told))
    return tuple(f for f in found if f is not None)


def _since(logged: Sequence[LoggedCut], at: datetime | None) -> list[Pierced]:
    return [
        Pierced(c.row.number, c.row.kind or "square", c.items, c.looks)  # type: ignore[arg-type]
        for c in logged
        if not c.row.struck_out and (at is None or c.row.logged_at > at)
    ]
