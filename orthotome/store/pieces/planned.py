"""Pieces that were cut and wait to be read: the setting of each, by the number on it."""

import uuid
from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select

from orthotome.core.log.items import Item
from orthotome.core.pieces import PieceName
from orthotome.core.pieces.nesting import Rectangle
from orthotome.core.setting import Setting
from orthotome.core.torch.counts import Counts
from orthotome.formats.log.items import kept_items
from orthotome.store import changes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.height import traces
from orthotome.store.pieces import plates
from orthotome.store.tables import CutRow, PlannedCut
from orthotome.store.torch import fittings
from orthotome.store.trial import trials


@dataclass(frozen=True)
class PieceCut:
    """One piece of a batch as it was cut, and where on the plate."""

    number: int
    setting: Setting
    what: str
    kind: PieceName = "square"
    items: tuple[Item, ...] = ()
    pierces: int = 1
    arc_on_s: float = 0.0
    spot: Rectangle | None = None


def waiting(session: Session, trial_id: int) -> Sequence[PlannedCut]:
    """The pieces that were cut and not yet logged, in the order of their numbers."""
    logged = select(CutRow.key).where(CutRow.trial_id == trial_id)
    query = select(PlannedCut).where(
        PlannedCut.trial_id == trial_id,
        col(PlannedCut.struck_out).is_(False),
        col(PlannedCut.key).not_in(logged),
    )
    return session.exec(query.order_by(col(PlannedCut.number), col(PlannedCut.id))).all()


def note_cut(
    session: Session, trial_id: int, pieces: Sequence[PieceCut], plate_id: int | None
) -> list[PlannedCut]:
    """Remember pieces that were cut; on a plate, their places are taken from now on.

    Raises Refused where a number is already that of another piece of the trial.
    """
    found = trials.open_for_change(session, trial_id)
    given = select(PlannedCut.number).where(PlannedCut.trial_id == trial_id)
    logged = select(CutRow.number).where(CutRow.trial_id == trial_id)
    known = {*session.exec(given), *session.exec(logged)}
    rows, recorded = [], traces.spend(session, trial_id).starts
    for piece in pieces:
        if piece.number in known:
            raise Refused(
                f"Piece {piece.number} is already noted. If this is another one, its nicks mislead: log it by "
                "hand, with its own setting.",
                "first",
            )
        zone = None
        if plate_id is not None and piece.spot is not None:
            zone = plates.take(session, plate_id, piece.spot, piece.what)
        counted = min(recorded, piece.pierces)
        recorded -= counted
        done = Counts(piece.pierces - counted, 0.0 if counted else piece.arc_on_s)
        now = fittings.count(session, found.table_id, done, "piece")
        row = PlannedCut(
            trial_id=trial_id,
            key=str(uuid.uuid4()),
            number=piece.number,
            kind=piece.kind,
            items=kept_items(piece.items),
            **vars(piece.setting),
            parts_id=now.parts.id or 0,
            mount_id=now.mount.id or 0,
            signal_id=now.signal.id or 0,
            starts=now.starts,
            part_counts=now.part_counts,
            pierces=piece.pierces,
            arc_on_s=done.arc_on_s,
            zone_id=zone.id if zone else None,
            cut_by=changes.person(session),
        )
        session.add(row)
        rows.append(row)
    session.flush()
    trials.touch(session, found)
    return rows


def planned_cut(session: Session, trial_id: int, planned_id: int) -> PlannedCut:
    """A piece of a trial. Raises NotFound."""
    row = session.get(PlannedCut, planned_id)
    if row is None or row.trial_id != trial_id:
        raise NotFound("There is no such piece.", "planned_id")
    return row


def strike(session: Session, planned_id: int, *, out: bool) -> None:
    """Strike a piece out that was not cut after all, or put it back; its place goes with it."""
    row = session.get(PlannedCut, planned_id)
    if row is None:
        raise NotFound("There is no such piece.", "planned_id")
    found = trials.trial(session, row.trial_id)
    if row.struck_out != out:
        done = Counts(row.pierces, row.arc_on_s)
        fittings.uncount(session, row.parts_id, done if out else -done)
        changes.note(session, "not cut" if out else "cut after all", "planned_cut", planned_id)
    row.struck_out = out
    session.add(row)
    if row.zone_id is not None:
        zone = plates.zone(session, row.zone_id)
        zone.struck_out = out
        session.add(zone)
    trials.touch(session, found)
