"""What the fitted parts cost: by the shelf's prices and by what each has left."""

from collections.abc import Sequence

from sqlmodel import Session

from orthotome.core.torch.costs import Costs, costs
from orthotome.core.torch.forecast import in_tens, starts_left
from orthotome.core.torch.pit import LearnedLife
from orthotome.desk.torch.parts_now import PartNow, parts_now
from orthotome.store.database import once_a_question
from orthotome.store.torch import fittings, parts, stock


def cost_of_start(session: Session, table_id: int, life: LearnedLife) -> float | None:
    """What a start costs on the parts that are fitted, by the life of their electrode: the one answer of the Torch room and
    of every program. None where the shelf has no price of them."""

    def work() -> float | None:
        now = fittings.fitted(session, table_id)
        rows = parts.of_fitting(session, now.parts.id or 0)
        electrode = next(p for p in rows if p.part == "electrode")
        fitted = parts_now(session, rows, electrode.id or 0, life)
        return costs_now(session, now, life, fitted, None).per_start

    return once_a_question(session, ("cost of a start", table_id), work)


def costs_now(
    session: Session,
    now: fittings.Fitted,
    life: LearnedLife,
    fitted: Sequence[PartNow],
    speed_mm_min: float | None,
) -> Costs:
    """The costs of what is fitted; metres are at that speed, where one is known."""
    prices = {s.part: s.cost for s in stock.of_set(session, now.torch_set_id) if s.cost is not None}
    lives: dict[str, float] = {
        p.row.part: float(p.done.starts + in_tens(p.left.expected))
        for p in fitted
        if p.left is not None and p.done.starts + p.left.expected > 0
    }
    lives["electrode"] = float(life.starts + starts_left(life).expected)
    return costs(prices, lives, now.counts["electrode"], speed_mm_min)
