"""What is fitted on a table, and what it was used for since.

Changing the parts, re-seating the torch or re-wiring the signal begins something new: what was learned
with the old is set apart, and every trial of the table is judged anew.
"""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import func
from sqlmodel import Session, col, select

from orthotome.core.torch.counts import Counts, Source
from orthotome.core.torch.fittings import SINGLE_PARTS, FittingKind, Kept, Part, SinglePart
from orthotome.core.trial.table_door import FittedAnew
from orthotome.store import changes
from orthotome.store.database import once_a_question
from orthotome.store.errors import ChangedMeanwhile, NotFound, Refused
from orthotome.store.tables import (
    CutRow,
    CuttingTable,
    FittingRow,
    PlannedCut,
    SignalPathRow,
    SlugRow,
    TorchSetRow,
    Trial,
)
from orthotome.store.torch import counting, parts

_PREFIX = {"parts": "p", "mount": "m", "plate": "s", "signal": "g"}


@dataclass(frozen=True)
class Fitted:
    """What is on a table now. ``plate`` is None where no plate was ever named."""

    parts: FittingRow
    mount: FittingRow
    signal: FittingRow
    plate: FittingRow | None
    counts: Mapping[SinglePart, Counts]  # of every part that is in

    @property
    def starts(self) -> int:
        """Arc starts on the electrode: it is what wears first, and what moves the volts."""
        return self.counts["electrode"].starts

    @property
    def torch_set_id(self) -> int | None:
        """The set that the parts belong to; None where nobody noted it."""
        return self.parts.torch_set_id

    @property
    def part_counts(self) -> str:
        """Starts, arc time and endings off the plate of each part, as a record keeps them."""
        return json.dumps(
            {p: (c.starts, round(c.arc_on_s, 1), c.off_plate) for p, c in self.counts.items()}
        )

    @property
    def ids(self) -> dict[str, int | None]:
        """What a cut made now was made with, as its columns."""
        rows = {"parts": self.parts, "mount": self.mount, "signal": self.signal, "plate": self.plate}
        return {f"{kind}_id": row.id for kind, row in rows.items() if row is not None}


def fitted(session: Session, table_id: int) -> Fitted:
    """What is on a table now. Raises NotFound."""
    return once_a_question(
        session, ("fitted", table_id), lambda: fitted_on(session, [table_id])[table_id]
    )


def fitted_on(session: Session, table_ids: Sequence[int]) -> dict[int, Fitted]:
    """The same of several tables, in one query. Raises NotFound."""
    newest = (
        select(func.max(FittingRow.id))
        .where(col(FittingRow.table_id).in_(table_ids), col(FittingRow.from_file).is_(False))
        .group_by(col(FittingRow.table_id), col(FittingRow.kind))
    )
    now: dict[int, dict[str, FittingRow]] = {t: {} for t in table_ids}
    for row in session.exec(select(FittingRow).where(col(FittingRow.id).in_(newest))):
        now[row.table_id][row.kind] = row
    if any("parts" not in of for of in now.values()):
        raise NotFound("There is no such table.", "table_id")
    counts = parts.counts_of_fittings(session, [of["parts"].id or 0 for of in now.values()])
    return {
        t: Fitted(of["parts"], of["mount"], of["signal"], of.get("plate"), counts[of["parts"].id or 0])
        for t, of in now.items()
    }


def fitted_anew(
    session: Session, table_id: int, until: Mapping[FittingKind, int | None] | None = None
) -> FittedAnew:
    """What was fitted since the table was begun; with ``until`` as far as these fittings, as a cut was made with them."""
    query = select(FittingRow).where(
        FittingRow.table_id == table_id, col(FittingRow.from_file).is_(False)
    )
    rows = session.exec(query.order_by(col(FittingRow.id))).all()

    def since(kind: FittingKind) -> list[FittingRow]:
        last = until.get(kind) if until else None
        return [r for r in rows if r.kind == kind and (last is None or (r.id or 0) <= last)][1:]

    parts_anew: tuple[Part, ...] = tuple(r.part for r in since("parts"))
    return FittedAnew(parts_anew, len(since("mount")))


@dataclass(frozen=True)
class Change:
    """What is fitted: new parts, or with ``part_id`` one that was put aside; ``again`` takes a whole set as it came
    off. What comes off is kept as ``off`` says."""

    part: Part = "set"
    torch_set_id: int | None = None
    starts: int = 0
    arc_on_s: float = 0.0
    part_id: int | None = None
    again: bool = False
    off: Kept | None = None  # None: another set is kept, parts of the same are done with


def fit(
    session: Session,
    table_id: int,
    kind: FittingKind,
    change: Change = Change(),
    *,
    instead_of: int | None = None,
) -> FittingRow:
    """Fit something on a table. A part changed singly keeps the set.

    Raises ChangedMeanwhile where something else than ``instead_of`` was fitted by now.
    """
    if session.get(CuttingTable, table_id) is None:
        raise NotFound("There is no such table.", "table_id")
    if change.torch_set_id is not None and session.get(TorchSetRow, change.torch_set_id) is None:
        raise NotFound("There is no such torch set.", "torch_set_id")
    if instead_of is not None:
        _check_still_fitted(session, table_id, kind, instead_of)
    if kind != "parts":
        if change.part != "set":
            raise Refused("Only torch parts are changed singly.", "part")
        row = _begin(session, table_id, kind)
    else:
        row = _fit_parts(session, table_id, change)
    changes.note(session, f"fitted {kind}", "fitting", row.id)
    judge_anew(session, table_id)
    return row


def _fit_parts(session: Session, table_id: int, change: Change) -> FittingRow:
    now = fitted(session, table_id)
    set_id = change.torch_set_id if change.torch_set_id is not None else now.torch_set_id
    there = {p.part: p for p in parts.of_fitting(session, now.parts.id or 0)}
    if change.again:
        coming = parts.set_put_aside(session, set_id)
    elif change.part_id is not None:
        coming = [parts.put_aside(session, change.part_id, change.part)]
    else:
        kinds = SINGLE_PARTS if change.part == "set" else (change.part,)
        coming = [parts.new(session, k, set_id, change.starts, change.arc_on_s) for k in kinds]
    off = change.off or ("good" if change.again or set_id != now.torch_set_id else "scrap")
    for part in coming:
        if (comes_off := there.get(part.part)) is not None:
            comes_off.kept = off
            session.add(comes_off)
        there[part.part] = part
    row = _begin(session, table_id, "parts", part=change.part, torch_set_id=set_id)
    parts.belong(session, row, there.values())
    return row


def _check_still_fitted(session: Session, table_id: int, kind: FittingKind, seen: int) -> None:
    there = getattr(fitted(session, table_id), kind)
    if there is not None and there.id != seen:
        by = f" by {there.fitted_by}" if there.fitted_by else ""
        raise ChangedMeanwhile(
            f"That was noted on another screen{by} meanwhile. Nothing was noted twice: look at what is fitted "
            "now.",
            "instead_of",
        )


def begin_table(session: Session, table_id: int, torch_set_id: int | None) -> None:
    """What a new table starts with: nothing is known of what was on it before."""
    row = _begin(session, table_id, "parts", torch_set_id=torch_set_id)
    parts.belong(session, row, [parts.new(session, k, torch_set_id) for k in SINGLE_PARTS])
    _begin(session, table_id, "mount")
    _begin(session, table_id, "signal")


def say_set(session: Session, table_id: int, torch_set_id: int) -> None:
    """Whoever opens the first trial of a table where nobody noted a set says with it which one is in: the parts that are
    there are those of that set, and nothing begins anew."""
    now = fitted(session, table_id)
    if now.torch_set_id is not None:
        return
    for row in (now.parts, *parts.of_fitting(session, now.parts.id or 0)):
        row.torch_set_id = torch_set_id
        session.add(row)
    session.flush()
    changes.note(session, "said of fitted parts", "fitting", now.parts.id)


def _begin(
    session: Session,
    table_id: int,
    kind: FittingKind,
    *,
    part: Part = "set",
    torch_set_id: int | None = None,
) -> FittingRow:
    query = select(FittingRow.id).where(
        FittingRow.table_id == table_id, FittingRow.kind == kind, col(FittingRow.from_file).is_(False)
    )
    number = 1 + len(session.exec(query).all())
    row = FittingRow(
        table_id=table_id,
        kind=kind,
        part=part,
        torch_set_id=torch_set_id,
        name=f"{_PREFIX[kind]}{number}",
        fitted_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def take_back(session: Session, fitting_id: int) -> int:
    """Undo a fitting that nothing was cut with yet: what was there before is fitted again. Returns the number of its table.

    Raises Refused for any but the newest, or once something was cut with it.
    """
    row = session.get(FittingRow, fitting_id)
    if row is None:
        raise NotFound("There is no such fitting.", "fitting_id")
    newer = select(FittingRow.id).where(
        FittingRow.table_id == row.table_id, FittingRow.kind == row.kind, col(FittingRow.id) > fitting_id
    )
    older = select(FittingRow.id).where(
        FittingRow.table_id == row.table_id,
        FittingRow.kind == row.kind,
        col(FittingRow.from_file).is_(False),
        col(FittingRow.id) < fitting_id,
    )
    if row.from_file or session.exec(older).first() is None:
        raise Refused("Nothing was fitted before it: fit what is there now instead.", "fitting_id")
    if session.exec(newer).first() is not None:
        raise Refused("Something else was fitted after it: undo that first.", "fitting_id")
    if counting.counted_on(session, fitting_id) or _cut_with(session, fitting_id):
        raise Refused("Something was cut with it since: fit what is there now instead.", "fitting_id")
    changes.note(session, f"took back {row.kind}", "fitting", fitting_id, row.model_dump())
    parts.part_from(session, fitting_id)
    session.delete(row)
    session.flush()
    judge_anew(session, row.table_id)
    return row.table_id


def _cut_with(session: Session, fitting_id: int) -> bool:
    """Whether any cut, logged or waiting, or any slug was made with it, or volts were read through it."""
    logged = (CutRow.parts_id, CutRow.mount_id, CutRow.plate_id, CutRow.signal_id)
    waiting = (PlannedCut.parts_id, PlannedCut.mount_id, PlannedCut.signal_id)
    return any(
        session.exec(select(column).where(col(column) == fitting_id)).first() is not None
        for column in (*logged, *waiting, SlugRow.mount_id, SignalPathRow.fitting_id)
    )


def count(session: Session, table_id: int, counted: Counts, source: Source, note: str = "") -> Fitted:
    """Count what was done with what is fitted now; what is fitted, with that."""
    row = fitted(session, table_id).parts
    if counted:
        counting.add(session, row, counted, source, note)
    return fitted(session, table_id)


def uncount(session: Session, fitting_id: int, counted: Counts) -> None:
    """Take back what was counted on some parts; less than nothing puts it back."""
    row = session.get(FittingRow, fitting_id)
    assert row is not None
    counting.add(session, row, -counted, "not_cut")


def from_file(session: Session, table_id: int, kind: FittingKind, name: str) -> FittingRow:
    """Something that a campaign file names: it was never fitted here, and cuts point to it."""
    row = FittingRow(
        table_id=table_id,
        kind=kind,
        name=name,
        from_file=True,
        fitted_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def judge_anew(session: Session, table_id: int) -> None:
    """Tell every screen that watches a trial of the table to look again."""
    for trial in session.exec(select(Trial).where(Trial.table_id == table_id)):
        trial.revision += 1
        session.add(trial)
    session.flush()
