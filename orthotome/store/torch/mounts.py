"""How a table's torch is mounted, and the round slugs read to set it upright."""

import json
from collections.abc import Sequence
from dataclasses import asdict

from sqlmodel import Session, col, select

from orthotome.core.torch.alignment import Mount, MountAxis, SlugReading
from orthotome.store import changes
from orthotome.store.errors import NotFound
from orthotome.store.tables import FittingRow, MountRow, SlugRow
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
    row = session.get(SlugRow, slug_id)
    if row is None or row.table_id != table_id:
        raise NotFound("There is no such slug.", "slug_id")
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


def mounts_of(session: Session, table_id: int) -> Sequence[FittingRow]:
    """Every seat that the torch of a table had here, newest first."""
    query = (
        select(FittingRow)
        .where(FittingRow.table_id == table_id, FittingRow.kind == "mount")
        .where(col(FittingRow.from_file).is_(False))
        .order_by(col(FittingRow.id).desc())
    )
    return session.exec(query).all()
