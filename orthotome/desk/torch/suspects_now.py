"""When edges drift: whom to suspect first on a table, by all that is known of it."""

from collections.abc import Sequence
from datetime import datetime

from sqlmodel import Session, col, select

from orthotome.core.torch.suspects import Pattern, Suspected, dross_stays, first_suspects
from orthotome.desk.height.of_trial import TrialHeight
from orthotome.desk.torch.parts_now import PartNow
from orthotome.store.log.lean import squares_of_seat
from orthotome.store.tables import CountRow
from orthotome.store.torch import fittings, mounts


def collided_at(session: Session, table_id: int) -> datetime | None:
    """When the torch last collided, unless its lean was read in the seat that it has since."""
    query = select(CountRow.counted_at).where(CountRow.table_id == table_id, CountRow.collisions > 0)
    at = session.exec(query.order_by(col(CountRow.id).desc())).first()
    if at is None:
        return None
    mount = fittings.fitted(session, table_id).mount
    slugs = [
        s for s in mounts.slugs_of(session, table_id) if s.mount_id == mount.id and not s.struck_out
    ]
    return None if slugs or squares_of_seat(session, mount.id or 0) else at


def suspects_now(
    session: Session,
    now: fittings.Fitted,
    height: TrialHeight | None,
    fitted: Sequence[PartNow],
    collided: bool,
) -> tuple[Suspected, ...]:
    """The three suspects in the order in which they are asked."""
    from orthotome.core.tuner.evidence import bevel_parts  # noqa: PLC0415 (start-up time)

    behind = None
    if height is not None and height.trim.told_v is not None and height.life.volts:
        behind = (height.trim.now_v or 0.0) - height.trim.told_v
    split = bevel_parts(height.judgement) if height is not None else None
    electrode = next(p for p in fitted if p.row.part == "electrode")
    return first_suspects(
        Pattern(
            behind_v=behind,
            volts_known=height is not None and height.life.volts > 0,
            leans_deg=split.lean_deg if split else None,
            lean_known=bool(split and split.lean_told),
            scatter_deg=split.left_over_deg if split else None,
            dross_stays=height is not None and dross_stays(*_undersides(height, now.parts.name)),
            verdict=None if electrode.verdict == "not_known" else electrode.verdict,
            collided=collided,
        )
    )


def _undersides(height: TrialHeight, series: str) -> tuple[list[tuple[float, int]], int]:
    """Speed and worst dross of the cuts with these parts, and the dross that is allowed."""
    cuts = [c for c in height.campaign.cuts if c.series.parts == series]
    seen = [(c.speed_mm_min, c.bottom_grade) for c in cuts if c.bottom_grade is not None]
    return seen, height.campaign.target.dross_grade
