"""Trials and their cuts: opening, logging, correcting, striking out, and reading them back."""

import json
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from sqlalchemy import func, literal
from sqlmodel import Session, col, delete, select

from orthotome.core.campaign import Campaign, Cut, Dross, EdgeReading, Limits, Series, Target, TorchSet
from orthotome.core.start_rows import StartingNumbers, StartValues
from orthotome.store import shop
from orthotome.store.errors import ChangedMeanwhile, NotFound, Refused
from orthotome.store.tables import (
    CutRow,
    CuttingTable,
    DrossRow,
    EdgeRow,
    LogDraft,
    PlannedCut,
    RecipeRow,
    TorchSetRow,
    Trial,
    now,
)

_PLAIN = [
    "piece",
    "speed_mm_min",
    "cut_height_mm",
    "arc_voltage_v",
    "set_point_v",
    "height_control",
    "starts",
    "through",
    "arc_lost",
    "kerf_mm",
    "lag_deg",
]
_START = tuple(StartValues.__dataclass_fields__)


@dataclass(frozen=True)
class LoggedCut:
    """A cut with its readings, and its row for who, when and which version."""

    row: CutRow
    cut: Cut


@dataclass(frozen=True)
class TrialLine:
    """A trial as a list shows it."""

    trial: Trial
    table: CuttingTable
    torch_set: TorchSetRow
    cuts: int
    last: LoggedCut | None
    recipe: RecipeRow | None


def open_trial(
    session: Session,
    *,
    table_id: int,
    torch_set_id: int,
    metal: str,
    thickness_mm: float,
    start: StartValues,
    found: StartingNumbers | None,
    target: Target,
    limits: Limits,
    title: str = "",
    gas: str = "",
    opened_by: str = "",
    to_bench: bool = True,
) -> Trial:
    """Open a trial and put it on its table's Bench."""
    shop.table(session, table_id)
    shop.torch_set(session, torch_set_id)
    trial = Trial(
        table_id=table_id,
        torch_set_id=torch_set_id,
        title=title,
        metal=metal,
        thickness_mm=thickness_mm,
        gas=gas,
        start_how=found.how if found else "typed",
        start_from=json.dumps(_origin(found)),
        opened_by=opened_by,
        **asdict(start),
        **asdict(target),
        **_limit_columns(limits),
    )
    session.add(trial)
    session.flush()
    if to_bench:
        put_on_bench(session, trial)
    return trial


def _origin(found: StartingNumbers | None) -> dict[str, object]:
    if found is None:
        return {"rows": [], "warnings": []}
    named = [{"metal": r.metal, "thickness_mm": r.thickness_mm, "source": r.source} for r in found.rows]
    return {"rows": named, "warnings": list(found.warnings)}


def _limit_columns(limits: Limits) -> dict[str, Any]:
    return {
        "speed_low_mm_min": limits.speed_mm_min[0],
        "speed_high_mm_min": limits.speed_mm_min[1],
        "height_low_mm": limits.cut_height_mm[0],
        "height_high_mm": limits.cut_height_mm[1],
    }


def put_on_bench(session: Session, trial: Trial) -> None:
    """Put a trial on its table's Bench in place of the one that is there."""
    before = shop.bench_trial(session, trial.table_id)
    if before is not None and before.id != trial.id:
        before.on_bench = False
        session.add(before)
    trial.on_bench = True
    session.add(trial)
    session.flush()


def trial(session: Session, trial_id: int) -> Trial:
    """One trial. Raises NotFound."""
    found = session.get(Trial, trial_id)
    if found is None:
        raise NotFound("There is no such trial.", "trial_id")
    return found


def recipe_of(session: Session, trial_id: int) -> RecipeRow | None:
    """The recipe a trial was locked as, if it was."""
    return session.exec(select(RecipeRow).where(RecipeRow.trial_id == trial_id)).first()


def retarget(session: Session, trial_id: int, revision: int, target: Target, limits: Limits) -> Trial:
    """Change what square means, or the limits; refused if the trial changed since it was read."""
    found = open_for_change(session, trial_id)
    if found.revision != revision:
        raise ChangedMeanwhile("The trial was changed on another screen.", "revision")
    for name, value in {**asdict(target), **_limit_columns(limits)}.items():
        setattr(found, name, value)
    touch(session, found)
    return found


def log_cut(session: Session, trial_id: int, key: str, cut: Cut, *, by: str, note: str) -> CutRow:
    """Log a cut. The same ``key`` again returns the cut logged first: a repeat is not a new cut.

    The key of a piece that waits to be read gives the cut that piece's number, and the parts, mount and
    signal path that it was cut with, whatever is fitted by now.
    """
    again = select(CutRow).where(CutRow.trial_id == trial_id, CutRow.key == key)
    if (known := session.exec(again).first()) is not None:
        return known
    found = open_for_change(session, trial_id)
    cut_before = select(PlannedCut).where(PlannedCut.trial_id == trial_id, PlannedCut.key == key)
    piece = session.exec(cut_before).first()
    if piece is not None:
        series = Series(parts=piece.parts, mount=piece.mount, signal=piece.signal)
        number, starts = piece.number, piece.starts
    else:
        series, starts = count_start(session, found.table_id)
        number = next_number(session, trial_id)
    row = _new_row(found, replace(cut, series=series), number, key)
    row.logged_by, row.note = by, note
    if row.starts is None:
        row.starts = starts
    session.add(row)
    session.flush()
    _write_readings(session, row, cut)
    session.exec(delete(LogDraft).where(col(LogDraft.trial_id) == trial_id))
    touch(session, found)
    return row


def count_start(session: Session, table_id: int) -> tuple[Series, int]:
    """Count one cut on the parts fitted now: (what is fitted, cuts on these parts with this one)."""
    table = shop.table(session, table_id)
    table.starts_on_parts += 1
    session.add(table)
    return _fitted_now(table), table.starts_on_parts


def uncount_start(session: Session, table_id: int, parts: str, *, by: int = 1) -> None:
    """Take a cut that was none off the count, if those parts are still fitted; ``by`` -1 puts it back."""
    table = shop.table(session, table_id)
    if _fitted_now(table).parts == parts:
        table.starts_on_parts = max(0, table.starts_on_parts - by)
        session.add(table)


def next_number(session: Session, trial_id: int) -> int:
    """The number of the next piece: after all cuts logged and all pieces that wait."""
    logged = select(func.max(CutRow.number)).where(CutRow.trial_id == trial_id)
    waits = select(func.max(PlannedCut.number)).where(
        PlannedCut.trial_id == trial_id, col(PlannedCut.struck_out).is_(False)
    )
    return 1 + max(session.exec(logged).one() or 0, session.exec(waits).one() or 0)


def take_in_cuts(session: Session, found: Trial, cuts: Sequence[Cut]) -> None:
    """Write the cuts of a campaign file into a trial just opened; the table's starts stay."""
    for number, cut in enumerate(cuts, 1):
        row = _new_row(found, cut, number, cut.id)
        session.add(row)
        session.flush()
        _write_readings(session, row, cut)
    touch(session, found)


def correct_cut(
    session: Session, trial_id: int, cut_id: int, version: int, cut: Cut, *, by: str, note: str
) -> CutRow:
    """Correct a logged cut; refused if somebody corrected it since ``version`` was read."""
    found = open_for_change(session, trial_id)
    row = _cut_row(session, trial_id, cut_id, version)
    for name in _PLAIN:
        if name != "starts":  # starts happened when it was cut
            setattr(row, name, getattr(cut, name))
    row.dross_looked_at, row.logged_by, row.note = cut.dross is not None, by, note
    row.version += 1
    for readings in (EdgeRow, DrossRow):
        session.exec(delete(readings).where(col(readings.cut_id) == cut_id))
    session.add(row)
    _write_readings(session, row, cut)
    touch(session, found)
    return row


def strike_cut(session: Session, trial_id: int, cut_id: int, version: int, *, out: bool) -> CutRow:
    """Strike a cut out of the evidence, or put it back."""
    found = open_for_change(session, trial_id)
    row = _cut_row(session, trial_id, cut_id, version)
    row.struck_out = out
    row.version += 1
    session.add(row)
    touch(session, found)
    return row


def logged_cuts(session: Session, trial_id: int) -> list[LoggedCut]:
    """All cuts of a trial in order, struck ones too."""
    query = select(CutRow).where(CutRow.trial_id == trial_id).order_by(col(CutRow.number))
    return _with_readings(session, session.exec(query).all())


def logged_cut(session: Session, cut_id: int) -> LoggedCut:
    """One cut with its readings. Raises NotFound."""
    row = session.get(CutRow, cut_id)
    if row is None:
        raise NotFound("There is no such cut.", "cut_id")
    return _with_readings(session, [row])[0]


def campaign_of(session: Session, found: Trial, cuts: Sequence[LoggedCut] | None = None) -> Campaign:
    """The trial as core thinks of it; struck cuts are left out."""
    fitted = shop.torch_set(session, found.torch_set_id)
    assert found.id is not None
    logged = logged_cuts(session, found.id) if cuts is None else cuts
    return Campaign(
        metal=found.metal,
        thickness_mm=found.thickness_mm,
        torch_set=torch_set_of(fitted, found.gas),
        start=StartValues(**{name: getattr(found, name) for name in _START}),
        target=Target(found.bevel_deg, found.sides, found.dross_grade, found.priority),  # type: ignore[arg-type]
        limits=Limits(
            (found.speed_low_mm_min, found.speed_high_mm_min),
            (found.height_low_mm, found.height_high_mm),
        ),
        cuts=tuple(c.cut for c in logged if not c.row.struck_out),
        title=found.title,
        series_now=_series_now(session, found, logged),
    )


def _series_now(session: Session, found: Trial, logged: Sequence[LoggedCut]) -> Series | None:
    """What is fitted now, where something was changed since the last cut; else None."""
    if not logged:
        return None
    last, now = logged[-1].cut.series, _fitted_now(shop.table(session, found.table_id))
    taken_in = not last.parts.startswith("p") or not last.mount.startswith("m")
    fitted = replace(last, parts=now.parts, mount=now.mount, signal=now.signal)
    return fitted if fitted != last and not taken_in else None


def torch_set_of(row: TorchSetRow, gas: str = "") -> TorchSet:
    """A torch set as core thinks of it, on its own gas or the one chosen for a trial."""
    return TorchSet(row.name, row.amperage_a, gas or row.gas, row.swirl)  # type: ignore[arg-type]


def trial_lines(session: Session, sought: str = "", most: int = 60) -> tuple[list[TrialLine], int]:
    """Trials, newest first, with their last cut and their recipe, and how many there are in all.

    ``sought`` words must each stand in the title, the metal, the table's name or the set's. The
    number of queries does not grow with the list.
    """
    query = (
        select(Trial, CuttingTable, TorchSetRow)
        .join(CuttingTable, col(CuttingTable.id) == col(Trial.table_id))
        .join(TorchSetRow, col(TorchSetRow.id) == col(Trial.torch_set_id))
    )
    metal, gap = func.replace(col(Trial.metal), "_", " "), literal(" ")
    told = col(Trial.title) + gap + metal + gap + col(CuttingTable.name) + gap + col(TorchSetRow.name)
    described = func.lower(told)
    for word in sought.lower().split():
        query = query.where(described.contains(word, autoescape=True))
    total = session.exec(select(func.count()).select_from(query.subquery())).one()
    found = session.exec(query.order_by(col(Trial.id).desc()).limit(most)).all()
    ids = [t.id for t, _, _ in found]
    mine = col(CutRow.trial_id).in_(ids) & col(CutRow.struck_out).is_(False)
    counted = session.exec(
        select(CutRow.trial_id, func.count(), func.max(CutRow.id))
        .where(mine)
        .group_by(col(CutRow.trial_id))
    ).all()
    count = {trial_id: n for trial_id, n, _ in counted}
    newest = select(CutRow).where(col(CutRow.id).in_([last for _, _, last in counted]))
    last = {c.row.trial_id: c for c in _with_readings(session, session.exec(newest).all())}
    locked = session.exec(select(RecipeRow).where(col(RecipeRow.trial_id).in_(ids))).all()
    recipes = {r.trial_id: r for r in locked}
    lines = [
        TrialLine(t, m, s, count.get(t.id or 0, 0), last.get(t.id or 0), recipes.get(t.id))
        for t, m, s in found
    ]
    return lines, total


def save_draft(session: Session, trial_id: int, body: str) -> None:
    """Keep a half-typed log."""
    trial(session, trial_id)
    session.merge(LogDraft(trial_id=trial_id, body=body, saved_at=now()))


def draft(session: Session, trial_id: int) -> LogDraft | None:
    """The half-typed log of a trial, if there is one."""
    return session.get(LogDraft, trial_id)


def drop_draft(session: Session, trial_id: int) -> None:
    """Forget the half-typed log."""
    session.exec(delete(LogDraft).where(col(LogDraft.trial_id) == trial_id))


def open_for_change(session: Session, trial_id: int) -> Trial:
    """A trial that is not locked. Raises NotFound, or Refused where it is."""
    found = trial(session, trial_id)
    recipe = recipe_of(session, trial_id)
    if recipe is not None:
        raise Refused(
            f"This trial is locked as “{recipe.title}”, revision {recipe.revision}: its evidence "
            "stays as it is. Open a new trial to go on.",
            "trial_id",
        )
    return found


def _fitted_now(table: CuttingTable) -> Series:
    return Series(
        parts=f"p{table.parts_series}",
        mount=f"m{table.mount_series}",
        signal=f"g{table.signal_series}",
    )


def _new_row(found: Trial, cut: Cut, number: int, key: str) -> CutRow:
    assert found.id is not None
    return CutRow(
        trial_id=found.id,
        number=number,
        key=key,
        dross_looked_at=cut.dross is not None,
        **{name: getattr(cut, name) for name in _PLAIN},
        **asdict(cut.series),
    )


def _cut_row(session: Session, trial_id: int, cut_id: int, version: int) -> CutRow:
    row = session.get(CutRow, cut_id)
    if row is None or row.trial_id != trial_id:
        raise NotFound("There is no such cut in this trial.", "cut_id")
    if row.version != version:
        raise ChangedMeanwhile(
            f"Cut {row.number} was corrected on another screen"
            f"{f' by {row.logged_by}' if row.logged_by else ''}. Nothing was overwritten: look at "
            "what it says now, then save yours again if it is right.",
            "version",
        )
    return row


def touch(session: Session, found: Trial) -> None:
    """Count a change of a trial, by which other screens see that there is one."""
    found.revision += 1
    session.add(found)
    session.flush()


def _write_readings(session: Session, row: CutRow, cut: Cut) -> None:
    assert row.id is not None
    session.add_all(EdgeRow(cut_id=row.id, **asdict(e)) for e in cut.edges)
    session.add_all(DrossRow(cut_id=row.id, **asdict(d)) for d in cut.dross or ())
    session.flush()


def _with_readings(session: Session, rows: Sequence[CutRow]) -> list[LoggedCut]:
    ids = [r.id for r in rows]
    edges: dict[int, list[EdgeReading]] = defaultdict(list)
    for e in session.exec(select(EdgeRow).where(col(EdgeRow.cut_id).in_(ids)).order_by(col(EdgeRow.id))):
        edges[e.cut_id].append(
            EdgeReading(e.side, e.heading_deg, e.bevel_deg, e.u_deg, e.method)  # type: ignore[arg-type]
        )
    dross: dict[int, list[Dross]] = defaultdict(list)
    for d in session.exec(select(DrossRow).where(col(DrossRow.cut_id).in_(ids))):
        dross[d.cut_id].append(Dross(d.kind, d.grade))  # type: ignore[arg-type]
    return [LoggedCut(r, _cut(r, edges[r.id or 0], dross[r.id or 0])) for r in rows]


def _cut(row: CutRow, edges: list[EdgeReading], dross: list[Dross]) -> Cut:
    return Cut(
        id=f"c{row.number}",
        series=Series(row.parts, row.mount, row.plate, row.signal),
        edges=tuple(edges),
        dross=tuple(dross) if row.dross_looked_at else None,
        **{name: getattr(row, name) for name in _PLAIN},
    )
