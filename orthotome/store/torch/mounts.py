"""How a table's torch is mounted, and the round slugs read to set it upright."""

import json
from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime

from sqlmodel import Session, col, select

from orthotome.core.torch.alignment import Mount, MountAxis, SlugReading
from orthotome.store import changes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import CutRow, FittingRow, MountRow, PlannedCut, SlugRow
from orthotome.store.torch import fittings


def mount_of(session: Session, table_id: int) -> MountRow:
    """How the torch of a table can be turned; as good as nothing is known where nobody said. Raises NotFound."""
    fittings.fitted(session, table_id)
    return session.get(MountRow, table_id) or MountRow(table_id=table_id)


def as_core(row: MountRow) -> Mount:
    """The same as core thinks of it."""
    return Mount(tuple(MountAxis(**a) for a in json.loads(row.axes)), row.turns_about_itself)


def describe(session: Session, table_id: int, mount: Mount, target_deg: float) -> MountRow:
    """Say how the torch can be turned, and how upright the jet is wanted."""
    row = mount_of(session, table_id)
    changes.note(session, "described the mount", "mount", table_id, row.model_dump())
    row.axes = json.dumps([asdict(a) for a in mount.axes])
    row.turns_about_itself = mount.turns_about_itself
    row.target_deg = target_deg
    session.add(row)
    session.flush()
    return row


def note_slug(
    session: Session, table_id: int, key: str, thickness_mm: float, readings: Sequence[SlugReading]
) -> SlugRow:
    """Note a slug as it was read, under what is mounted now; the same key twice is noted once."""
    known = session.exec(select(SlugRow).where(SlugRow.key == key)).first()
    if known is not None:
        return known
    mount_id = fittings.fitted(session, table_id).mount.id
    assert mount_id is not None
    row = SlugRow(
        key=key,
        table_id=table_id,
        mount_id=mount_id,
        thickness_mm=thickness_mm,
        readings=json.dumps([asdict(r) for r in readings]),
        read_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def strike_slug(session: Session, table_id: int, slug_id: int, *, out: bool) -> None:
    """Strike a slug out, or put it back. Raises NotFound."""
    row = _slug(session, table_id, slug_id)
    changes.note(session, "struck out" if out else "put back", "slug", slug_id)
    row.struck_out = out
    session.add(row)
    session.flush()


def slugs_of(session: Session, table_id: int) -> Sequence[SlugRow]:
    """Every slug of a table, newest first."""
    query = select(SlugRow).where(SlugRow.table_id == table_id).order_by(col(SlugRow.id).desc())
    return session.exec(query).all()


def slug_readings(row: SlugRow, piece: int) -> list[SlugReading]:
    """What was read of a slug, as one piece."""
    return [SlugReading(**{**r, "piece": piece}) for r in json.loads(row.readings)]


def begin_seat(session: Session, table_id: int, slug_id: int) -> FittingRow:
    """Begin a seat where a slug was read: the slug and all that was read and cut since are of the new one.

    Raises NotFound, and Refused for a slug of an earlier seat.
    """
    slug = _slug(session, table_id, slug_id)
    was = fittings.fitted(session, table_id).mount
    if slug.mount_id != was.id:
        raise Refused("That slug was read in an earlier seat: the seat ended there already.", "slug_id")
    row = fittings.fit(session, table_id, "mount")
    row.fitted_at = slug.read_at
    session.add(row)
    _belong(session, was.id, row.id, since=slug.read_at)
    return row


def end_seat(session: Session, table_id: int) -> None:
    """Undo that: what is of the newest seat is of the one before it again. Raises Refused where the newest was begun
    otherwise: the torch was really seated anew since."""
    seats = mounts_of(session, table_id)
    began = [s for s in slugs_of(session, table_id) if seats and s.mount_id == seats[0].id]
    if len(seats) < 2 or not any(s.read_at == seats[0].fitted_at for s in began):
        raise Refused(
            "The seat that it has now was not begun at a slug: nothing was undone.", "table_id"
        )
    newest, before = seats[0], seats[1]
    _belong(session, newest.id, before.id, since=None)
    fittings.take_back(session, newest.id or 0)


def _belong(session: Session, was: int | None, now: int | None, *, since: datetime | None) -> None:
    """What was read and cut in one seat is of another, from a moment on."""
    slugs = session.exec(select(SlugRow).where(SlugRow.mount_id == was)).all()
    cuts = session.exec(select(CutRow).where(CutRow.mount_id == was)).all()
    waiting = session.exec(select(PlannedCut).where(PlannedCut.mount_id == was)).all()
    moved: list[SlugRow | CutRow | PlannedCut] = [
        *(s for s in slugs if since is None or s.read_at >= since),
        *(c for c in cuts if since is None or c.logged_at > since),
        *(p for p in waiting if since is None or p.cut_at > since),
    ]
    for row in moved:
        row.mount_id = now
        session.add(row)
    session.flush()


def _slug(session: Session, table_id: int, slug_id: int) -> SlugRow:
    row = session.get(SlugRow, slug_id)
    if row is None or row.table_id != table_id:
        raise NotFound("There is no such slug.", "slug_id")
    return row


def mounts_of(session: Session, table_id: int) -> Sequence[FittingRow]:
    """Every seat that the torch of a table had here, newest first."""
    query = (
        select(FittingRow)
        .where(FittingRow.table_id == table_id, FittingRow.kind == "mount")
        .where(col(FittingRow.from_file).is_(False))
        .order_by(col(FittingRow.id).desc())
    )
    return session.exec(query).all()
