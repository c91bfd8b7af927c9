"""The run-through as answers on the wire."""

import json
from typing import TYPE_CHECKING

from orthotome.api.ready import models
from orthotome.core.ready.run_through import GROUPS, ITEMS, OWN, Due, Every, ShopRules
from orthotome.store.ready.runs import Readiness
from orthotome.store.tables import (
    ReadinessAnswer,
    ReadinessRun,
)

if TYPE_CHECKING:
    pass


def ready(
    table_id: int,
    now_due: Readiness,
    all_of_it: Readiness,
    rules: ShopRules,
    last: ReadinessRun | None,
) -> models.ReadyAnswer:
    """The run-through of a table: what applies, what is due, what was answered."""
    due = {d.item.code for d in now_due.due}
    items = [_ready_item(d, d.item.code in due, now_due.answers.get(d.item.code)) for d in all_of_it.due]
    return models.ReadyAnswer(
        table_id=table_id,
        items=items,
        due=len(due),
        not_right=len(now_due.not_right),
        begun_at=now_due.run.begun_at if now_due.run else None,
        last_done_at=last.done_at if last else None,
        last_done_by=last.begun_by if last else "",
        dropped=[i.code for i in ITEMS if i.code in rules.dropped],
    )


def _ready_item(due: Due, is_due: bool, given: ReadinessAnswer | None) -> models.ReadyItem:
    item = due.item
    return models.ReadyItem(
        code=item.code,
        group=item.group,
        group_label=GROUPS[item.group],
        ask=item.ask,
        if_not=item.if_not,
        caution=item.caution,
        own=item.code.startswith(OWN),
        because=due.because,
        due=is_due,
        every=every(item.every),
        answer=given.answer if given else None,
        note=given.note if given else "",
        answered_by=given.answered_by if given else "",
    )


def every(of: Every) -> models.EveryModel:
    """How long an answer holds."""
    return models.EveryModel(period=of.period, number=of.number)


def ready_run(run: ReadinessRun, given: dict[str, ReadinessAnswer]) -> models.ReadyRun:
    """A run-through kept with a trial."""
    return models.ReadyRun(
        begun_at=run.begun_at,
        begun_by=run.begun_by,
        done_at=run.done_at,
        right=sum(a.answer in ("right", "acknowledged") for a in given.values()),
        not_right=[a.asked for a in given.values() if a.answer == "not_right"],
        skipped=json.loads(run.skipped),
    )
