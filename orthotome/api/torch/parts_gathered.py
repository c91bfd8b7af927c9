"""The torch of a table in parts, gathered: histories, the pit, the trim, costs, and whom to suspect first."""

from datetime import datetime, timedelta

from sqlmodel import Session, col, select

from orthotome.api.bench.judging import Judge
from orthotome.api.height.of_trial import TrialHeight, of_trial
from orthotome.api.height.wear import trim_answer
from orthotome.api.torch import parts_answers as answers
from orthotome.api.torch import parts_models as models
from orthotome.core.quantities import spoken
from orthotome.core.torch.costs import Costs, costs, habit_says
from orthotome.core.torch.counts import SOURCE_WORDS
from orthotome.core.torch.fittings import PART_WORDS
from orthotome.core.torch.forecast import starts_left
from orthotome.core.torch.inspection import BEFORE_HANDS
from orthotome.core.torch.lives import shorter_than_the_shops
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.torch.suspects import (
    AFTER_A_COLLISION,
    Pattern,
    Suspected,
    dross_stays,
    first_suspects,
)
from orthotome.store.clock import now as store_now
from orthotome.store.database import once_a_question
from orthotome.store.height import wear
from orthotome.store.log.lean import squares_of_seat
from orthotome.store.shop import shop
from orthotome.store.tables import CounterRow, CountRow, TorchSetRow
from orthotome.store.torch import counting, fittings, mounts, parts, sets, stock

_MONTH = timedelta(days=30)
_M_PER_FOOT = 0.3048


def parts_of_table(session: Session, table_id: int, judge: Judge) -> models.PartsAnswer:
    """Everything of a table's parts. Raises NotFound."""
    table, now = shop.table(session, table_id), fittings.fitted(session, table_id)
    rows = parts.of_fitting(session, now.parts.id or 0)
    electrode = next(p for p in rows if p.part == "electrode")
    bench = shop.bench_trial(session, table_id)
    height = of_trial(session, bench.id or 0, judge) if bench else None
    belief = wear.belief_of(session, electrode)
    life = height.life if height else wear.life_on(session, electrode, belief)
    of_set = None if now.torch_set_id is None else sets.torch_set(session, now.torch_set_id)
    fitted = answers.many(session, rows, electrode.id or 0, life)
    lie = parts.lying(session, now.torch_set_id)
    collided = _collided_at(session, table_id)
    done = now.counts["electrode"]
    counter = counting.last_counter(session, table_id)
    return models.PartsAnswer(
        table=table.name,
        torch_set_id=now.torch_set_id,
        torch_set=of_set.name if of_set else None,
        fitting_id=now.parts.id or 0,
        fitted=fitted,
        tray=answers.many(session, lie, electrode.id or 0, life),
        forecast=answers.forecast(
            electrode, life, belief.lives, shorter_than_the_shops(life, belief, done)
        ),
        costs=_costs_answer(_costs(session, now, life, height, fitted), of_set, done.off_plate),
        trim=None if height is None else trim_answer(height),
        suspects=[
            models.SuspectAnswer(**vars(s))
            for s in _suspects(session, now, height, fitted, collided is not None)
        ],
        counted_from=[
            models.CountedFrom(source=s, word=SOURCE_WORDS[s], starts=n)
            for s, n in counting.by_source(
                session, parts.fittings_of(session, electrode.id or 0)
            ).items()
        ],
        counter=None if counter is None else counter_answer(counter),
        collided_at=collided,
        after_a_collision=[models.StepModel(name=name, do=do) for name, do in AFTER_A_COLLISION],
        before_hands=BEFORE_HANDS,
    )


def counter_answer(row: CounterRow) -> models.CounterAnswer:
    """The source's own counter as it was read last."""
    return models.CounterAnswer.model_validate(row, from_attributes=True)


def _collided_at(session: Session, table_id: int) -> datetime | None:
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


def _suspects(
    session: Session,
    now: fittings.Fitted,
    height: TrialHeight | None,
    fitted: list[models.PartAnswer],
    collided: bool,
) -> tuple[Suspected, ...]:
    from orthotome.core.tuner.evidence import bevel_parts  # noqa: PLC0415 (start-up time)

    behind = None
    if height is not None and height.trim.told_v is not None and height.life.volts:
        behind = (height.trim.now_v or 0.0) - height.trim.told_v
    split = bevel_parts(height.judgement) if height is not None else None
    electrode = next(p for p in fitted if p.part == "electrode")
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


def cost_of_start(session: Session, table_id: int, life: LearnedLife) -> float | None:
    """What a start costs on the parts that are fitted, by the life of their electrode: the one answer of the Torch room and
    of every program. None where the shelf has no price of them."""

    def work() -> float | None:
        now = fittings.fitted(session, table_id)
        rows = parts.of_fitting(session, now.parts.id or 0)
        electrode = next(p for p in rows if p.part == "electrode")
        fitted = answers.many(session, rows, electrode.id or 0, life)
        return _costs(session, now, life, None, fitted).per_start

    return once_a_question(session, ("cost of a start", table_id), work)


def _costs(
    session: Session,
    now: fittings.Fitted,
    life: LearnedLife,
    height: TrialHeight | None,
    fitted: list[models.PartAnswer],
) -> Costs:
    prices = {s.part: s.cost for s in stock.of_set(session, now.torch_set_id) if s.cost is not None}
    lives: dict[str, float] = {
        p.part: float(p.counts.starts + p.left.expected)
        for p in fitted
        if p.left is not None and p.counts.starts + p.left.expected > 0
    }
    lives["electrode"] = float(life.starts + starts_left(life).expected)
    speed = height.setting.speed_mm_min if height else None
    return costs(prices, lives, now.counts["electrode"], speed)


def _costs_answer(found: Costs, of_set: TorchSetRow | None, endings: int) -> models.CostsAnswer:
    needs, feet = "", spoken().in_inches
    if of_set is None:
        needs = "No torch set is noted for this table: say which is fitted."
    elif found.per_start is None:
        needs = f"Say on the shelf what the parts of the {of_set.name} cost: then a start has its price."
    return models.CostsAnswer(
        per_start=found.per_start,
        per_run=None if found.per_metre is None else found.per_metre * (_M_PER_FOOT if feet else 1.0),
        run_word="a foot" if feet else "a metre",
        per_ending=found.per_ending,
        habit=found.habit,
        habit_says=habit_says(endings, found.habit_electrodes),
        needs=needs,
    )


def shelf(session: Session) -> models.StockAnswer:
    """The shelf, set by set, with what the last thirty days used."""
    known = {(s.torch_set_id, s.part): s for s in stock.stock(session)}
    used = parts.used_since(session, store_now() - _MONTH)
    lines = []
    for of_set in sets.torch_sets(session):
        for part, word in list(PART_WORDS.items())[1:]:
            key = (of_set.id or 0, str(part))
            kept = known.get(key)
            lines.append(
                models.StockLine(
                    torch_set_id=key[0],
                    torch_set=of_set.name,
                    part=part,
                    word=word,
                    on_shelf=kept.on_shelf if kept else None,
                    least=kept.least if kept else None,
                    cost=kept.cost if kept else None,
                    used_month=used.get(key, 0),
                    short=bool(kept and kept.on_shelf < kept.least),
                )
            )
    priced = [line.used_month * line.cost for line in lines if line.cost is not None and line.used_month]
    unpriced = sum(line.used_month for line in lines if line.cost is None)
    says = f"{sum(line.used_month for line in lines)} parts were fitted new in the last thirty days"
    says += f"; {unpriced} of them have no price." if unpriced else "."
    return models.StockAnswer(lines=lines, month_cost=sum(priced) if priced else None, month_says=says)
