"""The torch of a table in parts, gathered: histories, the pit, the trim, costs, and whom to suspect first."""

from datetime import timedelta

from sqlmodel import Session

from orthotome.api.torch import parts_answers as answers
from orthotome.api.torch import parts_models as models
from orthotome.api.torch.trim_answer import trim_answer
from orthotome.core.quantities import spoken
from orthotome.core.torch.costs import Costs, habit_says
from orthotome.core.torch.counts import SOURCE_WORDS
from orthotome.core.torch.fittings import PART_WORDS
from orthotome.core.torch.inspection import BEFORE_HANDS
from orthotome.core.torch.lives import shorter_than_the_shops
from orthotome.core.torch.suspects import (
    AFTER_A_COLLISION,
)
from orthotome.desk.bench.judging import Judge
from orthotome.desk.height.of_trial import of_trial
from orthotome.desk.torch.costs_now import costs_now
from orthotome.desk.torch.parts_now import parts_now
from orthotome.desk.torch.suspects_now import collided_at, suspects_now
from orthotome.store.clock import now as store_now
from orthotome.store.height import wear
from orthotome.store.shop import shop
from orthotome.store.tables import CounterRow, TorchSetRow
from orthotome.store.torch import counting, fittings, parts, sets, stock

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
    fitted = parts_now(session, rows, electrode.id or 0, life)
    lie = parts.lying(session, now.torch_set_id)
    collided = collided_at(session, table_id)
    speed = height.setting.speed_mm_min if height else None
    done = now.counts["electrode"]
    counter = counting.last_counter(session, table_id)
    return models.PartsAnswer(
        table=table.name,
        torch_set_id=now.torch_set_id,
        torch_set=of_set.name if of_set else None,
        fitting_id=now.parts.id or 0,
        fitted=answers.many(session, fitted),
        tray=answers.many(session, parts_now(session, lie, electrode.id or 0, life)),
        forecast=answers.forecast(
            electrode, life, belief.lives, shorter_than_the_shops(life, belief, done)
        ),
        costs=_costs_answer(costs_now(session, now, life, fitted, speed), of_set, done.off_plate),
        trim=None if height is None else trim_answer(height),
        suspects=[
            models.SuspectAnswer(**vars(s))
            for s in suspects_now(session, now, height, fitted, collided is not None)
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
