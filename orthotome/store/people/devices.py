"""The devices of the shop's network that were let in, and who is signed on at each."""

import hashlib
import secrets
from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select

from orthotome.store import changes
from orthotome.store.clock import now
from orthotome.store.errors import NotFound
from orthotome.store.people.people import person
from orthotome.store.tables import DeviceRow, PersonRow

_TOKEN_BYTES = 32


@dataclass(frozen=True)
class LetIn:
    """A device that is let in, and who is signed on at it."""

    device_id: int
    device: str
    person: str | None
    role: str | None


def devices(session: Session) -> Sequence[DeviceRow]:
    """The devices that are let in, newest first."""
    query = select(DeviceRow).where(col(DeviceRow.revoked_at).is_(None))
    return session.exec(query.order_by(col(DeviceRow.id).desc())).all()


def pair(session: Session, name: str) -> tuple[DeviceRow, str]:
    """Let a device in: the row, and the token that it shows from now on. Only its digest is kept."""
    token = secrets.token_urlsafe(_TOKEN_BYTES)
    row = DeviceRow(name=name, token_hash=_digest(token))
    session.add(row)
    session.flush()
    changes.note(session, "paired", "device", row.id)
    return row, token


def revoke(session: Session, device_id: int) -> None:
    """Put a device out. Raises NotFound."""
    row = session.get(DeviceRow, device_id)
    if row is None or row.revoked_at is not None:
        raise NotFound("There is no such device: it was put out already.", "device_id")
    row.revoked_at, row.person_id = now(), None
    session.add(row)
    changes.note(session, "put out", "device", device_id)


def let_in(session: Session) -> dict[str, LetIn]:
    """All that are let in, by the digest of the token they show."""
    query = select(DeviceRow, PersonRow).join(PersonRow, isouter=True)
    found: dict[str, LetIn] = {}
    for device, who in session.exec(query.where(col(DeviceRow.revoked_at).is_(None))):
        found[device.token_hash] = LetIn(
            device.id or 0, device.name, who.name if who else None, who.role if who else None
        )
    return found


def shown(token: str, among: dict[str, LetIn]) -> LetIn | None:
    """The device that shows a token, if any of those let in does."""
    return among.get(_digest(token))


def sign_on(session: Session, device_id: int, person_id: int | None) -> None:
    """Somebody signs on at a device, or off."""
    row = session.get(DeviceRow, device_id)
    if row is None or row.revoked_at is not None:
        raise NotFound("This device was put out: pair it again.", "device_id")
    if person_id is not None:
        person(session, person_id)
    row.person_id, row.seen_at = person_id, now()
    session.add(row)


def _digest(token: str) -> str:
    # The token is as random as its digest: nothing slower is needed against guessing.
    return hashlib.sha256(token.encode()).hexdigest()
