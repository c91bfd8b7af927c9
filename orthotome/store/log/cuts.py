"""Cuts of a trial: logging, correcting, striking out, and reading them back."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any, Literal, cast

from sqlalchemy import func
from sqlmodel import Session, col, select

from orthotome.core.doubts import INSISTED, Doubt
from orthotome.core.log.correction import CutCorrection
from orthotome.core.log.items import TELLS_THE_SETTING, Item, SheetKind
from orthotome.core.log.looks import Look
from orthotome.core.torch.counts import ONE_START, Counts
from orthotome.core.torch.fittings import KINDS
from orthotome.core.trial.campaign import Cut, Dross, DrossKind, EdgeReading, Series
from orthotome.formats.log.items import kept_items, read_items
from orthotome.store import changes
from orthotome.store.errors import ChangedMeanwhile, NotFound
from orthotome.store.height import traces
from orthotome.store.log import drafts
from orthotome.store.tables import (
    CutRow,
    DrossRow,
    EdgeRow,
    FittingRow,
    LookRow,
    PhotoRow,
    PlannedCut,
    Trial,
)
from orthotome.store.torch import fittings
from orthotome.store.trial import trials

_PLAIN = (
    "piece",
    "speed_mm_min",
    "cut_height_mm",
    "arc_voltage_v",
    "set_point_v",
    "height_control",
    "starts",
    "arc_on_s",
    "through",
    "arc_lost",
    "kerf_mm",
    "lag_deg",
)


@dataclass(frozen=True)
class LoggedCut:
    """A cut with its readings, its row for who, when and which version, and its readings' own ids.

    ``told`` is what was typed of each reading, where its bevel was worked out; ``looks`` what else was seen.
    """

    row: CutRow
    cut: Cut
    edge_ids: tuple[int, ...]
    told: tuple[str, ...] = ()
    looks: tuple[Look, ...] = ()

    @property
    def items(self) -> tuple[Item, ...]:
        """What there is to look at on it."""
        return read_items(self.row.items)

    @property
    def kind(self) -> SheetKind:
        """Which sheet it is read on."""
        return cast("SheetKind", self.row.kind or self.row.piece)

    @property
    def counts(self) -> bool:
        """Whether it says anything of speed and height: it was not struck out, nor cut for a thing of its own."""
        return not self.row.struck_out and self.row.kind in _TELLING


_TELLING = ("", "strip", *TELLS_THE_SETTING)


@dataclass(frozen=True)
class ToLog:
    """A cut to log, with all that was seen of it."""

    cut: Cut
    kind: str = ""
    told: Sequence[str] = ()
    looks: Sequence[Look] = ()
    items: Sequence[Item] = ()
    note: str = ""
    work: Counts = ONE_START  # that its piece took, by its program


def piece_waiting(session: Session, trial_id: int, key: str) -> PlannedCut | None:
    """The piece that waits to be read under a key."""
    query = select(PlannedCut).where(PlannedCut.trial_id == trial_id, PlannedCut.key == key)
    return session.exec(query).first()


def log_cut(
    session: Session, trial_id: int, key: str, made: ToLog, *, of: PlannedCut | None = None
) -> CutRow:
    """Log a cut, and count what its piece took. The same ``key`` again returns the cut logged first: a
    repeat is not a new cut.

    The key of a piece that waits to be read gives the cut that piece's number, its items, and the parts, mount
    and signal path that it was cut with, whatever is fitted by now; so does ``of``, but for the number, where a
    comb's other strips are logged with it.
    """
    cut, pierces = made.cut, made.work.starts
    again = select(CutRow).where(CutRow.trial_id == trial_id, CutRow.key == key)
    if (known := session.exec(again).first()) is not None:
        return known
    found = trials.open_for_change(session, trial_id)
    piece = piece_waiting(session, trial_id, key) or of
    items = kept_items(made.items)
    if piece is not None:
        whole = piece.key == key
        number = piece.number if whole else next_number(session, trial_id)
        starts, each, pierces = piece.starts, piece.part_counts, piece.pierces if whole else 0
        items = items if made.kind == "strip" else piece.items
        ids: dict[str, int | None] = {
            "parts_id": piece.parts_id,
            "mount_id": piece.mount_id,
            "signal_id": piece.signal_id,
        }
    else:
        recorded = traces.spend(session, trial_id)
        uncounted = max(0, pierces - recorded.starts)
        arc_on_s = 0.0 if recorded.starts else cut.arc_on_s or made.work.arc_on_s
        done = Counts(uncounted, arc_on_s, early_losses=int(cut.arc_lost and not recorded.starts))
        now = fittings.count(session, found.table_id, done, "cut")
        number, starts, each = next_number(session, trial_id), now.starts, now.part_counts
        ids = now.ids
    row = _new_row(found, cut, number, key, ids)
    row.logged_by, row.note, row.pierces = changes.person(session), made.note, pierces
    row.kind, row.items = made.kind, items
    row.starts, row.part_counts = starts if row.starts is None else row.starts, each
    session.add(row)
    session.flush()
    _write_readings(session, row, cut.edges, cut.dross, made.told)
    session.add_all(LookRow(cut_id=row.id or 0, **vars(look)) for look in made.looks)
    traces.belong_to(session, trial_id, row)
    taken = select(PhotoRow).where(PhotoRow.trial_id == trial_id, PhotoRow.log_key == key)
    for photo in session.exec(taken.where(col(PhotoRow.cut_id).is_(None))):
        photo.cut_id = row.id
        session.add(photo)
    session.flush()
    drafts.drop_draft(session, trial_id, key)
    trials.touch(session, found)
    return row


def is_logged(session: Session, trial_id: int, key: str) -> bool:
    """Whether a cut of that key stands already: sent again, it is asked about no more."""
    return (
        session.exec(select(CutRow.id).where(CutRow.trial_id == trial_id, CutRow.key == key)).first()
        is not None
    )


def note_insisted(session: Session, row: CutRow, doubts: Sequence[Doubt], cut: Cut) -> None:
    """Mark the numbers of a cut that were asked about and insisted on, once."""
    if not doubts:
        return
    told = {d.field: getattr(cut, d.field) for d in doubts}
    if "edges" in told:
        told["edges"] = [asdict(e) for e in cut.edges]
    known = [changes.before_of(c) for c in changes.of(session, "cut", row.id or 0) if c.act == INSISTED]
    if told not in known:
        changes.note(session, INSISTED, "cut", row.id, told)


def next_number(session: Session, trial_id: int) -> int:
    """The number of the next piece: after every cut logged and every piece cut, also those struck out:
    a number once given is never given again, since it is nicked into steel."""
    logged = select(func.max(CutRow.number)).where(CutRow.trial_id == trial_id)
    waits = select(func.max(PlannedCut.number)).where(PlannedCut.trial_id == trial_id)
    return 1 + max(session.exec(logged).one() or 0, session.exec(waits).one() or 0)


def take_in_cuts(session: Session, found: Trial, cuts: Sequence[Cut]) -> None:
    """Write the cuts of a campaign file into a trial just opened, with what the file says was fitted; the
    table's own starts stay."""
    named: dict[tuple[str, str], int | None] = {}
    for number, cut in enumerate(cuts, 1):
        for kind in KINDS:
            name = getattr(cut.series, kind)
            if (kind, name) not in named:
                named[kind, name] = fittings.from_file(session, found.table_id, kind, name).id
        ids = {f"{kind}_id": named[kind, getattr(cut.series, kind)] for kind in KINDS}
        row = _new_row(found, cut, number, f"file {number}", ids)
        row.name = cut.id
        session.add(row)
        session.flush()
        _write_readings(session, row, cut.edges, cut.dross)
    trials.touch(session, found)


def correct_cut(
    session: Session, trial_id: int, cut_id: int, version: int, correction: CutCorrection
) -> CutRow:
    """Change what a correction names of a cut and leave the rest; what stood there is noted.

    Refused if somebody corrected the cut since ``version`` was read.
    """
    found = trials.open_for_change(session, trial_id)
    row = _cut_row(session, trial_id, cut_id, version)
    before: dict[str, Any] = {name: getattr(row, name) for name in correction.fields}
    for name, value in correction.fields.items():
        setattr(row, name, value)
    if correction.dross is not None:
        before["dross"] = _correct_dross(session, row, correction.dross)
    edges = [_correct_edge(session, row, *change) for change in correction.edges]
    if edges:
        before["edges"] = edges
    looks = [_correct_look(session, row, look) for look in correction.looks]
    if looks:
        before["looks"] = looks
    if before:
        row.version += 1
        changes.note(session, "corrected", "cut", cut_id, before)
    session.add(row)
    trials.touch(session, found)
    return row


def _correct_dross(
    session: Session, row: CutRow, wanted: Mapping[DrossKind, int] | Literal["not_looked"]
) -> Any:
    """Set the grades of the kinds named (0 takes a kind away), or "not looked at"; what stood there."""
    was = session.exec(select(DrossRow).where(DrossRow.cut_id == row.id)).all()
    told = [{"kind": d.kind, "grade": d.grade} for d in was] if row.dross_looked_at else None
    row.dross_looked_at = wanted != "not_looked"
    for known in was:
        if isinstance(wanted, str) or known.kind in wanted:
            session.delete(known)
    for kind, grade in () if isinstance(wanted, str) else wanted.items():
        if grade > 0:
            session.add(DrossRow(cut_id=row.id or 0, kind=kind, grade=grade))
    session.flush()
    return told


def _correct_edge(
    session: Session, row: CutRow, edge_id: int | None, wanted: EdgeReading | None, told: str
) -> dict[str, Any]:
    """Add a reading, change one, or take one away; what stood there."""
    if edge_id is None:
        assert wanted is not None
        session.add(EdgeRow(cut_id=row.id or 0, **asdict(wanted), told=told))
        return {"added": asdict(wanted)}
    edge = session.get(EdgeRow, edge_id)
    if edge is None or edge.cut_id != row.id:
        raise NotFound("There is no such reading on this cut.", "edges")
    was = edge.model_dump(exclude={"cut_id"})
    if wanted is None:
        session.delete(edge)
    else:
        for name, value in (*asdict(wanted).items(), ("told", told)):
            setattr(edge, name, value)
        session.add(edge)
    session.flush()
    return was


def _correct_look(session: Session, row: CutRow, wanted: Look) -> dict[str, Any]:
    """Set what was seen of one thing, or take it away where nothing was; what stood there."""
    there = select(LookRow).where(
        LookRow.cut_id == row.id, LookRow.item == wanted.item, LookRow.what == wanted.what
    )
    kept = session.exec(there).first()
    was = {"value": kept.value, "number": kept.number} if kept else {"value": None, "number": None}
    if wanted.value is None and wanted.number is None:
        if kept is not None:
            session.delete(kept)
    else:
        look = kept or LookRow(cut_id=row.id or 0, item=wanted.item, what=wanted.what)
        look.value, look.number = wanted.value, wanted.number
        session.add(look)
    session.flush()
    return {"item": wanted.item, "what": wanted.what, **was}


def strike_cut(session: Session, trial_id: int, cut_id: int, version: int, *, out: bool) -> CutRow:
    """Strike a cut out of the evidence, or put it back."""
    found = trials.open_for_change(session, trial_id)
    row = _cut_row(session, trial_id, cut_id, version)
    row.struck_out = out
    row.version += 1
    session.add(row)
    changes.note(session, "struck out" if out else "put back", "cut", cut_id)
    trials.touch(session, found)
    return row


def logged_cuts(session: Session, trial_id: int) -> list[LoggedCut]:
    """All cuts of a trial in order, struck ones too."""
    query = select(CutRow).where(CutRow.trial_id == trial_id).order_by(col(CutRow.number))
    return with_readings(session, session.exec(query).all())


def logged_cut(session: Session, trial_id: int, cut_id: int) -> LoggedCut:
    """One cut of a trial with its readings. Raises NotFound."""
    return with_readings(session, [_row_of(session, trial_id, cut_id)])[0]


def cut_anywhere(session: Session, cut_id: int) -> tuple[Trial, LoggedCut]:
    """A cut of any trial, with that trial. Raises NotFound."""
    row = session.get(CutRow, cut_id)
    if row is None:
        raise NotFound("There is no such cut.", "cut_id")
    return trials.trial(session, row.trial_id), with_readings(session, [row])[0]


def with_readings(session: Session, rows: Sequence[CutRow]) -> list[LoggedCut]:
    """Cuts of one trial with their readings, and the names of what they were made with."""
    ids = [r.id for r in rows]
    edges: dict[int, list[EdgeRow]] = defaultdict(list)
    for e in session.exec(select(EdgeRow).where(col(EdgeRow.cut_id).in_(ids)).order_by(col(EdgeRow.id))):
        edges[e.cut_id].append(e)
    dross: dict[int, list[DrossRow]] = defaultdict(list)
    for d in session.exec(
        select(DrossRow).where(col(DrossRow.cut_id).in_(ids)).order_by(col(DrossRow.id))
    ):
        dross[d.cut_id].append(d)
    looks: dict[int, list[Look]] = defaultdict(list)
    for k in session.exec(select(LookRow).where(col(LookRow.cut_id).in_(ids)).order_by(col(LookRow.id))):
        looks[k.cut_id].append(Look(k.item, k.what, k.value, k.number))
    names = series_names(session, fittings_of(rows))
    return [_logged(r, names, edges[r.id or 0], dross[r.id or 0], tuple(looks[r.id or 0])) for r in rows]


def fittings_of(rows: Sequence[CutRow]) -> set[int | None]:
    """The ids of all that these cuts were made with."""
    return {getattr(r, f"{kind}_id") for r in rows for kind in KINDS}


def series_names(session: Session, wanted: set[int | None]) -> dict[int | None, str]:
    """The name of each fitting in one campaign; where two share one, the later says its number too."""
    query = select(FittingRow).where(col(FittingRow.id).in_(wanted)).order_by(col(FittingRow.id))
    # What a file names keeps its name, so that the file is written out as it was read.
    found = sorted(session.exec(query).all(), key=lambda f: not f.from_file)
    names: dict[int | None, str] = {None: ""}
    taken: set[tuple[str, str]] = set()
    for row in found:
        name = row.name if (row.kind, row.name) not in taken else f"{row.name} ({row.id})"
        taken.add((row.kind, name))
        names[row.id] = name
    return names


def _logged(
    row: CutRow,
    names: Mapping[int | None, str],
    edges: list[EdgeRow],
    dross: list[DrossRow],
    looks: tuple[Look, ...],
) -> LoggedCut:
    cut = Cut(
        id=row.name or f"c{row.number}",
        series=Series(*(names[getattr(row, f"{kind}_id")] for kind in KINDS)),
        edges=tuple(EdgeReading(e.side, e.heading_deg, e.bevel_deg, e.u_deg, e.method) for e in edges),
        dross=tuple(Dross(d.kind, d.grade) for d in dross) if row.dross_looked_at else None,
        **{name: getattr(row, name) for name in _PLAIN},
    )
    return LoggedCut(row, cut, tuple(e.id or 0 for e in edges), tuple(e.told for e in edges), looks)


def _new_row(found: Trial, cut: Cut, number: int, key: str, ids: Mapping[str, Any]) -> CutRow:
    assert found.id is not None
    return CutRow(
        trial_id=found.id,
        number=number,
        key=key,
        dross_looked_at=cut.dross is not None,
        **{name: getattr(cut, name) for name in _PLAIN},
        **ids,
    )


def _row_of(session: Session, trial_id: int, cut_id: int) -> CutRow:
    row = session.get(CutRow, cut_id)
    if row is None or row.trial_id != trial_id:
        raise NotFound("There is no such cut in this trial.", "cut_id")
    return row


def _cut_row(session: Session, trial_id: int, cut_id: int, version: int) -> CutRow:
    row = _row_of(session, trial_id, cut_id)
    if row.version != version:
        by = changes.last_by(session, "cut", cut_id)
        raise ChangedMeanwhile(
            f"Cut {row.number} was corrected on another screen{f' by {by}' if by else ''}. Nothing was "
            "overwritten: look at what it says now, then save yours again if it is right.",
            "version",
        )
    return row


def _write_readings(
    session: Session,
    row: CutRow,
    edges: Sequence[EdgeReading],
    dross: Sequence[Dross] | None,
    told: Sequence[str] = (),
) -> None:
    assert row.id is not None
    typed = told or [""] * len(edges)
    session.add_all(
        EdgeRow(cut_id=row.id, **asdict(e), told=t) for e, t in zip(edges, typed, strict=True)
    )
    session.add_all(DrossRow(cut_id=row.id, **asdict(d)) for d in dross or ())
    session.flush()
