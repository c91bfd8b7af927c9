"""The life of the fitted electrode in the volts of one trial: the ledger that its set-point is forecast from."""

import json
import math
from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select

from orthotome.core.torch.counts import Counts
from orthotome.core.torch.lives import life_of
from orthotome.core.torch.pit import LearnedLife, learn
from orthotome.core.torch.wear import (
    LEVEL_SD_V,
    LIMIT_MM,
    PIT_U_MM,
    LifeEntry,
    PartsLedger,
    WearBelief,
    belief_from,
    checked,
)
from orthotome.store.database import once_a_question
from orthotome.store.tables import (
    CutRow,
    FittedPart,
    InspectionRow,
    PartRow,
    RecipeRow,
    SpotCheckRow,
    Trial,
)
from orthotome.store.torch import fittings, inspections, parts

_MOST_EARLIER = 8
_UNKNOWN_SD_V = 15.0  # of a level that no reading of other parts gives
_NEXT_SD_V = 1.0  # from one electrode to the next when new. Assumption
_USUAL_V = 125.0
_TOUCH = 0.5  # of the cut height, where the trial's limit is no lower than it


@dataclass(frozen=True)
class WearJob:
    """What a life is asked for: the trial whose volts they are, its height, what a millimetre is worth."""

    trial: Trial
    cut_height_mm: float
    slope_v_per_mm: float
    now: fittings.Fitted  # on its table
    speed_mm_min: float | None = None  # at which volts are asked for; None: as they were read
    by_ln_speed: float = 0.0

    def at_its_speed(self, volts_v: float, speed_mm_min: float) -> float:
        """Volts that were read at one speed, as they would be at the job's."""
        if self.speed_mm_min is None:
            return volts_v
        return volts_v + self.by_ln_speed * math.log(self.speed_mm_min / speed_mm_min)


@dataclass(frozen=True)
class _Volts:
    """Steady volts of one cut at a set height."""

    counts: Counts
    volts_v: float
    height_mm: float


def belief_of(session: Session, electrode: PartRow) -> WearBelief:
    """What is believed of an electrode from the shop's earlier ones of the set whose pits were measured."""
    return once_a_question(session, ("belief", electrode.id), lambda: _belief_of(session, electrode))


def _belief_of(session: Session, electrode: PartRow) -> WearBelief:
    query = (
        select(PartRow)
        .where(PartRow.part == "electrode", PartRow.torch_set_id == electrode.torch_set_id)
        .where(col(PartRow.id) != electrode.id)
        .order_by(col(PartRow.id).desc())
    )
    earlier = session.exec(query.limit(4 * _MOST_EARLIER)).all()
    seen = inspections.of_parts(session, [p.id or 0 for p in earlier])
    read = [p for p in earlier if any(i.pit_mm for i in seen[p.id or 0])][:_MOST_EARLIER]
    done = parts.counts_of(session, [p.id or 0 for p in read])
    lives = [
        learn(checked(pit_ledger(p, seen[p.id or 0], done[p.id or 0])))
        for p in read
        if _can_be(p, seen[p.id or 0], done[p.id or 0])
    ]
    return belief_from([life_of(x) for x in lives])


def _can_be(part: PartRow, seen: Sequence[InspectionRow], done: Counts) -> bool:
    """Whether readings of a part can have happened: one that was read wrong teaches nothing of others."""
    try:
        checked(pit_ledger(part, seen, done))
    except ValueError:
        return False
    return True


def pit_ledger(part: PartRow, seen: Sequence[InspectionRow], done: Counts) -> PartsLedger:
    """The ledger of an electrode by its pits alone: its volts are of no job."""
    return _ledger(part, seen, done, ())


def life_on(session: Session, part: PartRow, belief: WearBelief | None = None) -> LearnedLife:
    """The life of an electrode by its pits."""
    part_id = part.id or 0
    seen = inspections.of_parts(session, [part_id])[part_id]
    done = parts.counts_of(session, [part_id])[part_id]
    return learn(pit_ledger(part, seen, done), belief or belief_of(session, part))


def life_in(session: Session, job: WearJob) -> LearnedLife:
    """The life of the electrode that is fitted on a trial's table, by its pits and by the volts of that trial and of
    the checks of its recipe. Volts through an earlier signal path are left out."""
    now = job.now
    electrode = next(p for p in parts.of_fitting(session, now.parts.id or 0) if p.part == "electrode")
    read = _volts(session, job, now.signal.id or 0)
    level = (_USUAL_V if job.trial.arc_voltage_v is None else job.trial.arc_voltage_v, _UNKNOWN_SD_V)
    others = [i for i in read if i != electrode.id]
    if others:
        level = _level_of(session, job, others[-1], read[others[-1]], level)
    return _learned(session, job, electrode, read.get(electrode.id or 0, []), level)


def _level_of(
    session: Session, job: WearJob, part_id: int, read: list[_Volts], level: tuple[float, float]
) -> tuple[float, float]:
    """What the volts of another electrode say of this job's volts on new parts."""
    life = _learned(session, job, parts.part(session, part_id), read, level)
    v = life.ledger.set_point_v + life.level_v
    return float(v.mean()), float((v.var() + _NEXT_SD_V**2) ** 0.5)


def _learned(
    session: Session, job: WearJob, part: PartRow, read: list[_Volts], level: tuple[float, float]
) -> LearnedLife:
    part_id = part.id or 0
    seen = inspections.of_parts(session, [part_id])[part_id]
    done = parts.counts_of(session, [part_id])[part_id]
    return learn(_ledger(part, seen, done, read, job, level), belief_of(session, part))


def _ledger(  # noqa: PLR0917 (a ledger is of all that is known)
    part: PartRow,
    seen: Sequence[InspectionRow],
    done: Counts,
    read: Sequence[_Volts],
    job: WearJob | None = None,
    level: tuple[float, float] = (_USUAL_V, LEVEL_SD_V),
) -> PartsLedger:
    entries = [
        LifeEntry(i.starts, i.arc_on_s, i.off_plate, i.pit_mm, i.u_mm or PIT_U_MM)
        for i in seen
        if i.pit_mm is not None
    ]
    entries += [
        LifeEntry(
            v.counts.starts,
            v.counts.arc_on_s,
            v.counts.off_plate,
            None,
            PIT_U_MM,
            v.volts_v,
            v.height_mm,
        )
        for v in read
    ]
    entries.append(LifeEntry(done.starts, done.arc_on_s, done.off_plate))
    height = job.cut_height_mm if job else 1.5
    low = job.trial.height_low_mm if job else 0.5
    return PartsLedger(
        part.limit_mm or LIMIT_MM,
        level[0],
        job.slope_v_per_mm if job else 6.5,
        height,
        low if low < height else _TOUCH * height,
        _in_order([e for e in entries if e.starts <= done.starts]),
        level[1],
    )


def _in_order(entries: Sequence[LifeEntry]) -> tuple[LifeEntry, ...]:
    """Entries by their starts; a correction by the source's counter may leave the other totals a little out of step."""
    arc, off, found = 0.0, 0, []
    for e in sorted(entries, key=lambda e: (e.starts, e.arc_on_s)):
        arc, off = max(arc, e.arc_on_s), max(off, e.off_plate)
        found.append(LifeEntry(e.starts, arc, off, e.pit_mm, e.u_mm, e.arc_voltage_v, e.height_mm))
    return tuple(found)


def _volts(session: Session, job: WearJob, signal_id: int) -> dict[int, list[_Volts]]:
    """Steady volts at set heights of a trial and of the checks of its recipes, by electrode, oldest first."""
    cuts = select(CutRow).where(
        CutRow.trial_id == job.trial.id,
        CutRow.height_control == "off",
        CutRow.signal_id == signal_id,
        col(CutRow.arc_voltage_v).is_not(None),
        col(CutRow.struck_out).is_(False),
    )
    checks = (
        select(SpotCheckRow)
        .join(RecipeRow, col(RecipeRow.id) == col(SpotCheckRow.recipe_id))
        .where(
            RecipeRow.trial_id == job.trial.id,
            SpotCheckRow.signal_id == signal_id,
            col(SpotCheckRow.arc_voltage_v).is_not(None),
            col(SpotCheckRow.height_held).is_(False),
            col(SpotCheckRow.struck_out).is_(False),
        )
    )
    rows = [
        (
            r.parts_id,
            _counts_at(r.part_counts, r.starts),
            job.at_its_speed(r.arc_voltage_v or 0.0, r.speed_mm_min),
            r.cut_height_mm,
        )
        for r in session.exec(cuts.order_by(col(CutRow.id)))
    ]
    rows += [
        (r.parts_id, _counts_at(r.part_counts, r.starts), r.arc_voltage_v or 0.0, job.cut_height_mm)
        for r in session.exec(checks.order_by(col(SpotCheckRow.id)))
    ]
    of_fitting = _electrodes(session, {parts_id for parts_id, *_ in rows if parts_id is not None})
    found: dict[int, list[_Volts]] = {}
    for parts_id, counts, volts_v, height_mm in rows:
        electrode = of_fitting.get(parts_id or 0)
        if electrode is not None and counts is not None:
            found.setdefault(electrode, []).append(_Volts(counts, volts_v, height_mm))
    return found


def _counts_at(kept: str, starts: int | None) -> Counts | None:
    """What the electrode had done when a cut was made; of old cuts only its starts are known."""
    known = json.loads(kept).get("electrode")
    if known is not None:
        return Counts(int(known[0]), float(known[1]), int(known[2]))
    return None if starts is None else Counts(starts)


def _electrodes(session: Session, fitting_ids: set[int]) -> dict[int, int]:
    query = (
        select(FittedPart.fitting_id, PartRow.id)
        .join(PartRow, col(PartRow.id) == col(FittedPart.part_id))
        .where(PartRow.part == "electrode", col(FittedPart.fitting_id).in_(fitting_ids))
    )
    return {f: p or 0 for f, p in session.exec(query)}
