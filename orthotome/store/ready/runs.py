"""Run-throughs before cutting: who checked what, when, and what was skipped."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import cast

from sqlalchemy import func
from sqlmodel import Session, col, select

from orthotome.core.ready.run_through import (
    ITEMS,
    OWN,
    SESSION_H,
    Case,
    Due,
    Every,
    Group,
    Hook,
    Item,
    LastRight,
    ShopRules,
    held_for,
    run_through,
)
from orthotome.store import changes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import (
    CuttingTable,
    ReadinessAnswer,
    ReadinessRule,
    ReadinessRun,
    TorchSetRow,
    Trial,
    now,
)
from orthotome.store.torch import counting, fittings

HOLDS = ("right", "acknowledged")


@dataclass(frozen=True)
class Readiness:
    """A table's run-through now: what is due, what is answered, and the run the answers stand in."""

    case: Case
    due: tuple[Due, ...]
    answers: dict[str, ReadinessAnswer]
    run: ReadinessRun | None

    @property
    def ready(self) -> bool:
        """Whether everything due was answered and held right."""
        return not self.due

    @property
    def not_right(self) -> tuple[str, ...]:
        """Codes of what was found not right and is not put right yet."""
        return tuple(code for code, a in self.answers.items() if a.answer == "not_right")


def readiness(session: Session, table_id: int, *, whole: bool = False) -> Readiness:
    """What is due on a table before its Bench's trial is cut."""
    table = shop.table(session, table_id)
    trial = shop.bench_trial(session, table_id)
    case = _case(session, table, trial)
    run = _open_run(session, table_id)
    answers = answers_of(session, run) if run else {}
    held = held_for(case, _program(trial))
    due = run_through(case, _last_right(session, table, held), rules(session), whole=whole)
    asked = {d.item.code for d in due} if not whole else set()
    # What was right for another plate is no answer for this one.
    standing = {c: a for c, a in answers.items() if c not in asked or a.answer not in HOLDS}
    return Readiness(case, due, standing, run)


def answer(session: Session, table_id: int, code: str, given: str, *, note: str = "") -> Readiness:
    """Answer an item; the last answer stands. Raises Refused for a caution that is not acknowledged."""
    by, state = changes.person(session), readiness(session, table_id, whole=True)
    item = next((d.item for d in state.due if d.item.code == code), None)
    if item is None:
        raise NotFound("That item does not apply here.", "code")
    if item.caution and given not in ("acknowledged", "not_right"):
        raise Refused("A caution is acknowledged, or it is not right: it cannot be skipped.", "answer")
    run = state.run
    if run is None:
        trial = shop.bench_trial(session, table_id)
        run = ReadinessRun(table_id=table_id, trial_id=trial.id if trial else None, begun_by=by)
        session.add(run)
        session.flush()
    assert run.id is not None
    kept = state.answers.get(code) or ReadinessAnswer(run_id=run.id, code=code, asked="", answer="")
    kept.asked, kept.answer, kept.note, kept.answered_by = item.ask, given, note, by
    kept.answered_at, kept.starts = now(), counting.starts_of_table(session, table_id)
    program = _program(shop.bench_trial(session, table_id))
    kept.held_for = json.dumps(held_for(state.case, program))
    session.add(kept)
    session.flush()
    return readiness(session, table_id)


def finish(session: Session, table_id: int) -> ReadinessRun:
    """Call the run-through done; what was due and left is kept as skipped.

    Raises Refused while a caution is open, or something stands at "not right".
    """
    state = readiness(session, table_id)
    if state.run is None:
        raise Refused("Nothing was checked yet.", "table_id")
    cautions = [d for d in state.due if d.item.caution]
    if cautions:
        raise Refused("The cautions are acknowledged first: they cannot be skipped.", "table_id")
    if state.not_right:
        raise Refused("Something is still not right: put it right, or skip it by name.", "table_id")
    trial = shop.bench_trial(session, table_id)
    state.run.trial_id = trial.id if trial else state.run.trial_id
    state.run.done_at = now()
    state.run.skipped = json.dumps([d.item.ask for d in state.due])
    session.add(state.run)
    session.flush()
    return state.run


def runs_of_trial(session: Session, trial_id: int) -> Sequence[ReadinessRun]:
    """The run-throughs kept with a trial, newest first."""
    query = select(ReadinessRun).where(ReadinessRun.trial_id == trial_id)
    return session.exec(query.order_by(col(ReadinessRun.id).desc())).all()


def last_done(session: Session, table_id: int) -> ReadinessRun | None:
    """The newest run-through of a table that was called done."""
    query = select(ReadinessRun).where(
        ReadinessRun.table_id == table_id, col(ReadinessRun.done_at).is_not(None)
    )
    return session.exec(query.order_by(col(ReadinessRun.id).desc())).first()


def answers_of(session: Session, run: ReadinessRun) -> dict[str, ReadinessAnswer]:
    """The answers of a run by item."""
    query = select(ReadinessAnswer).where(ReadinessAnswer.run_id == run.id)
    return {a.code: a for a in session.exec(query.order_by(col(ReadinessAnswer.id)))}


def rules(session: Session) -> ShopRules:
    """What the shop changed of the run-through."""
    dropped, every, own = set(), {}, []
    for r in session.exec(select(ReadinessRule).order_by(ReadinessRule.code)):
        timed = Every(r.period, r.number) if r.period else None
        if r.dropped:
            dropped.add(r.code)
        elif r.ask is not None:
            group = cast(Group, r.room or "machine")
            own.append(Item(r.code, group, r.ask, r.if_not or "", timed or Every("session")))
        elif timed:
            every[r.code] = timed
    return ShopRules(frozenset(dropped), every, tuple(own))


def set_rule(session: Session, code: str, *, dropped: bool, every: Every | None) -> None:
    """Drop, re-time or bring back an item. Raises Refused for a caution."""
    known = {i.code: i for i in ITEMS}
    rule = session.get(ReadinessRule, code)
    if code not in known and rule is None:
        raise NotFound("There is no such item.", "code")
    if code in known and known[code].caution:
        raise Refused("A caution cannot be dropped or put off, only acknowledged.", "code")
    rule = rule or ReadinessRule(code=code)
    rule.dropped = dropped
    if every is not None:
        rule.period, rule.number = every.period, every.number
    session.add(rule)
    session.flush()


def add_own(session: Session, ask: str, if_not: str, group: str, every: Every) -> str:
    """Add an item of the shop's own; its code."""
    codes = session.exec(select(ReadinessRule.code).where(col(ReadinessRule.code).startswith(OWN))).all()
    code = f"{OWN}{max((int(c.removeprefix(OWN)) for c in codes), default=0) + 1}"
    session.add(
        ReadinessRule(
            code=code, ask=ask, if_not=if_not, room=group, period=every.period, number=every.number
        )
    )
    session.flush()
    return code


def _case(session: Session, table: CuttingTable, trial: Trial | None) -> Case:
    """The job on the Bench at this table; the fitted set and mild steel where none is."""
    on_table = fittings.fitted(session, table.id or 0).torch_set_id
    set_id = trial.torch_set_id if trial else on_table
    fitted = session.get(TorchSetRow, set_id) if set_id else None
    written = pages.settings(table)
    return Case(
        metal=trial.metal if trial else "mild_steel",
        thickness_mm=trial.thickness_mm if trial else 0.0,
        torch_set=fitted.name if fitted else "right parts set",
        amperage_a=fitted.amperage_a if fitted else 0.0,
        gas=(trial.gas if trial else "") or (fitted.gas if fitted else "air"),
        bed=table.bed,
        height_control=written.height_control,
        touch_off=written.touch_off,
        starting=written.starting,
        arc_signal=written.arc_signal,
        switches_itself_on=written.switches_itself_on,
    )


def _open_run(session: Session, table_id: int) -> ReadinessRun | None:
    """The run that answers go into: the newest, unless it is from an earlier session."""
    query = select(ReadinessRun).where(ReadinessRun.table_id == table_id)
    newest = session.exec(query.order_by(col(ReadinessRun.id).desc())).first()
    if newest is None or newest.done_at is not None:
        return None
    return newest if _hours_since(newest.begun_at) < SESSION_H else None


def _program(trial: Trial | None) -> str:
    """What names the programs that are run: those of one trial are the same few pieces."""
    return f"trial {trial.id}" if trial else ""


def _last_right(session: Session, table: CuttingTable, held: Mapping[Hook, str]) -> dict[str, LastRight]:
    of_table = select(func.max(ReadinessAnswer.id)).join(ReadinessRun)
    newest = of_table.where(ReadinessRun.table_id == table.id).group_by(col(ReadinessAnswer.code))
    query = select(ReadinessAnswer).where(col(ReadinessAnswer.id).in_(newest))
    starts = counting.starts_of_table(session, table.id or 0)
    return {
        a.code: LastRight(
            _hours_since(a.answered_at),
            max(0, starts - a.starts),
            _changed(json.loads(a.held_for), held),
        )
        for a in session.exec(query)
        if a.answer in HOLDS
    }


def _changed(then: Mapping[str, str], now_held: Mapping[Hook, str]) -> frozenset[Hook]:
    """What is another since; of an answer that does not say what it was given for, all may be."""
    return frozenset(hook for hook, held in now_held.items() if then.get(hook) != held)


def _hours_since(then: datetime) -> float:
    aware = then if then.tzinfo else then.replace(tzinfo=now().tzinfo)
    return (now() - aware) / timedelta(hours=1)
