"""What is fitted on a table, and what it was used for since.

Changing the parts, re-seating the torch or re-wiring the signal begins something new: what was learned
with the old is set apart, and every trial of the table is judged anew.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import func
from sqlmodel import Session, col, select

from orthotome.core.torch.fittings import PARTS, FittingKind, Part
from orthotome.store import changes
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

_PREFIX = {"parts": "p", "mount": "m", "plate": "s", "signal": "g"}


@dataclass(frozen=True)
class Fitted:
    """What is on a table now. ``plate`` is None where no plate was ever named."""

    parts: FittingRow
    mount: FittingRow
    signal: FittingRow
    plate: FittingRow | None = None

    @property
    def starts(self) -> int:
        """Arc starts on the parts."""
        return self.parts.starts

    @property
    def torch_set_id(self) -> int | None:
        """The set that the parts belong to; None where nobody noted it."""
        return self.parts.torch_set_id


def fitted(session: Session, table_id: int) -> Fitted:
    """What is on a table now. Raises NotFound."""
    return fitted_on(session, [table_id])[table_id]


def fitted_on(session: Session, table_ids: Sequence[int]) -> dict[int, Fitted]:
    """The same of several tables, in one query. Raises NotFound."""
    query = select(FittingRow).where(
        col(FittingRow.table_id).in_(table_ids), col(FittingRow.from_file).is_(False)
    )
    now: dict[int, dict[str, FittingRow]] = {t: {} for t in table_ids}
    for row in session.exec(query.order_by(col(FittingRow.id))):
        now[row.table_id][row.kind] = row
    if any("parts" not in of for of in now.values()):
        raise NotFound("There is no such table.", "table_id")
    return {t: Fitted(of["parts"], of["mount"], of["signal"], of.get("plate")) for t, of in now.items()}


def fit(
    session: Session,
    table_id: int,
    kind: FittingKind,
    *,
    part: Part = "set",
    torch_set_id: int | None = None,
    starts: int = 0,
    arc_on_s: float = 0.0,
    instead_of: int | None = None,
) -> FittingRow:
    """Fit something on a table; it may have starts behind it. A part changed singly keeps the set.

    Raises ChangedMeanwhile where something else than ``instead_of`` was fitted by now.
    """
    if session.get(CuttingTable, table_id) is None:
        raise NotFound("There is no such table.", "table_id")
    if torch_set_id is not None and session.get(TorchSetRow, torch_set_id) is None:
        raise NotFound("There is no such torch set.", "torch_set_id")
    if instead_of is not None:
        _check_still_fitted(session, table_id, kind, instead_of)
    if part != "set" and kind != "parts":
        raise Refused("Only torch parts are changed singly.", "part")
    if kind == "parts" and torch_set_id is None:
        torch_set_id = fitted(session, table_id).torch_set_id
    row = _begin(
        session,
        table_id,
        kind,
        part=part,
        torch_set_id=torch_set_id,
        starts=starts,
        arc_on_s=arc_on_s,
    )
    changes.note(session, f"fitted {kind}", "fitting", row.id)
    judge_anew(session, table_id)
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
    _begin(session, table_id, "parts", torch_set_id=torch_set_id)
    _begin(session, table_id, "mount")
    _begin(session, table_id, "signal")


def _begin(
    session: Session,
    table_id: int,
    kind: FittingKind,
    *,
    part: Part = "set",
    torch_set_id: int | None = None,
    starts: int = 0,
    arc_on_s: float = 0.0,
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
        starts_then=starts,
        arc_on_then_s=arc_on_s,
        starts=starts,
        arc_on_s=arc_on_s,
    )
    session.add(row)
    session.flush()
    return row


def take_back(session: Session, fitting_id: int) -> None:
    """Undo a fitting that nothing was cut with yet: what was there before is fitted again.

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
    used = row.starts > row.starts_then or session.exec(newer).first() is not None
    if used or _cut_with(session, fitting_id):
        raise Refused("Something was cut with it since: fit what is there now instead.", "fitting_id")
    changes.note(session, f"took back {row.kind}", "fitting", fitting_id, row.model_dump())
    session.delete(row)
    session.flush()
    judge_anew(session, row.table_id)


def _cut_with(session: Session, fitting_id: int) -> bool:
    """Whether any cut, logged or waiting, or any slug was made with it, or volts were read through it."""
    logged = (CutRow.parts_id, CutRow.mount_id, CutRow.plate_id, CutRow.signal_id)
    waiting = (PlannedCut.parts_id, PlannedCut.mount_id, PlannedCut.signal_id)
    return any(
        session.exec(select(column).where(col(column) == fitting_id)).first() is not None
        for column in (*logged, *waiting, SlugRow.mount_id, SignalPathRow.fitting_id)
    )


def count(session: Session, table_id: int, pierces: int, arc_on_s: float | None = None) -> Fitted:
    """Count so many arc starts, and the time the arc was on where it is known, on what is fitted now."""
    now = fitted(session, table_id)
    for row in worn_with(session, now.parts):
        _add(session, row, pierces, arc_on_s or 0.0)
    return now


def uncount(session: Session, parts_id: int, pierces: int) -> None:
    """Take starts off the parts that they were counted on; a negative number puts them back."""
    row = session.get(FittingRow, parts_id)
    assert row is not None
    for worn in worn_with(session, row):
        _add(session, worn, -pierces, 0.0)


def worn_with(session: Session, parts: FittingRow) -> list[FittingRow]:
    """The fittings that wear together while ``parts`` is the newest: of each part the last one fitted
    before it, back to the whole set."""
    query = select(FittingRow).where(
        FittingRow.table_id == parts.table_id,
        FittingRow.kind == "parts",
        FittingRow.from_file == parts.from_file,
        col(FittingRow.id) <= (parts.id or 0),
    )
    found: dict[str, FittingRow] = {}
    for row in session.exec(query.order_by(col(FittingRow.id).desc())):
        found.setdefault(row.part, row)
        if row.part == "set" or len(found) == len(PARTS):
            break
    return list(found.values())


def _add(session: Session, row: FittingRow, pierces: int, arc_on_s: float) -> None:
    row.starts = max(row.starts_then, row.starts + pierces)
    row.arc_on_s += arc_on_s
    session.add(row)
    session.flush()


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


def starts_of_table(session: Session, table_id: int) -> int:
    """Arc starts of a table since it was added, whatever parts were fitted."""
    counted = func.sum(col(FittingRow.starts) - col(FittingRow.starts_then))
    query = select(counted).where(
        FittingRow.table_id == table_id,
        FittingRow.kind == "parts",
        FittingRow.part == "set",
        col(FittingRow.from_file).is_(False),
    )
    return session.exec(query).one() or 0
