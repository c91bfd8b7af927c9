"""Which cuts teach volts per millimetre, and what height control was told."""

import json
from dataclasses import dataclass

from sqlmodel import Session, col, select

from orthotome.core.height.after_square import Control
from orthotome.core.height.volts import HeightReading, thickness_class
from orthotome.store import changes
from orthotome.store.tables import ControlRow, CutRow, Trial
from orthotome.store.torch import fittings


@dataclass(frozen=True)
class Readings:
    """Fixed-height volts of a set, a metal and a class of thickness on one table, oldest first.

    ``other_signal`` were measured through another signal path, ``controlled`` under height control: neither tells
    volts per millimetre.
    """

    taken: tuple[HeightReading, ...]
    cuts: tuple[CutRow, ...]
    other_signal: int
    controlled: int


def readings(session: Session, trial: Trial) -> Readings:
    """The readings that teach a trial's volts per millimetre; those of the trial itself come last."""
    low, high = thickness_class(trial.thickness_mm)
    query = (
        select(CutRow, Trial)
        .join(Trial, col(CutRow.trial_id) == col(Trial.id))
        .where(
            Trial.table_id == trial.table_id,
            Trial.torch_set_id == trial.torch_set_id,
            Trial.metal == trial.metal,
            col(Trial.thickness_mm) >= low,
            col(Trial.thickness_mm) < high,
            col(CutRow.arc_voltage_v).is_not(None),
            col(CutRow.struck_out).is_(False),
        )
        .order_by(col(CutRow.trial_id) == trial.id, col(CutRow.id))
    )
    rows = session.exec(query).all()
    fixed = [(c, t) for c, t in rows if c.height_control == "off"]
    now = fittings.fitted(session, trial.table_id).signal.id
    same = [(c, t) for c, t in fixed if c.signal_id in (now, None)]
    return Readings(
        taken=tuple(
            HeightReading(
                c.cut_height_mm,
                c.arc_voltage_v or 0.0,
                c.speed_mm_min,
                f"{t.id}/{c.parts_id}",
                c.starts,
                nozzle_starts=_nozzle_starts(c),
                job=str(t.id),
            )
            for c, t in same
        ),
        cuts=tuple(c for c, _ in same),
        other_signal=len(fixed) - len(same),
        controlled=len(rows) - len(fixed),
    )


def _nozzle_starts(cut: CutRow) -> int | None:
    known = json.loads(cut.part_counts).get("nozzle")
    return None if known is None else int(known[0])


def told_control(session: Session, trial_id: int) -> ControlRow | None:
    """What height control is told in a trial; None where nothing was chosen."""
    query = select(ControlRow).where(ControlRow.trial_id == trial_id)
    return session.exec(query.order_by(col(ControlRow.id).desc())).first()


def tell_control(session: Session, trial_id: int, control: Control, at_starts: int | None) -> ControlRow:
    """Choose what height control is told; what was chosen before is kept."""
    row = ControlRow(
        trial_id=trial_id, **vars(control), at_starts=at_starts, chosen_by=changes.person(session)
    )
    session.add(row)
    session.flush()
    return row


def control_of(row: ControlRow) -> Control:
    """As core thinks of it."""
    return Control(**{name: getattr(row, name) for name in Control.__dataclass_fields__})
