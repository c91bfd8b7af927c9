"""The people of the shop: their names, their roles, and the PINs they sign on with."""

from collections.abc import Sequence
from datetime import timedelta
from typing import Literal

from sqlmodel import Session, col, select

from orthotome.store import changes
from orthotome.store.clock import now
from orthotome.store.errors import NotFound, Refused, TooManyTries
from orthotome.store.tables import DeviceRow, PersonRow

Role = Literal["operator", "lead_hand"]

_MOST_WRONG = 5  # in a row
_LOCKED = timedelta(minutes=5)


def people(session: Session) -> Sequence[PersonRow]:
    """Who may sign on, by name."""
    query = select(PersonRow).where(col(PersonRow.struck_out).is_(False))
    return session.exec(query.order_by(PersonRow.name)).all()


def person(session: Session, person_id: int) -> PersonRow:
    """One person. Raises NotFound."""
    found = session.get(PersonRow, person_id)
    if found is None or found.struck_out:
        raise NotFound("There is nobody of that name here.", "person_id")
    return found


def add_person(session: Session, name: str, role: Role, pin: str) -> PersonRow:
    """Somebody new, or somebody who comes back. Raises Refused for a name that is taken."""
    known = session.exec(select(PersonRow).where(PersonRow.name == name)).first()
    if known is not None and not known.struck_out:
        raise Refused(f"There is a {name} already: tell the two apart.", "name")
    row = known or PersonRow(name=name, role=role, pin_hash="")
    row.role, row.pin_hash, row.struck_out = role, _hashed(pin), False
    row.wrong_pins, row.locked_until = 0, None
    session.add(row)
    session.flush()
    changes.note(session, "added", "person", row.id)
    return row


def change_person(session: Session, person_id: int, *, role: Role | None, pin: str | None) -> PersonRow:
    """Another role or another PIN. The last lead hand stays one."""
    row = person(session, person_id)
    if role is not None and role != row.role:
        _keep_a_lead_hand(session, row)
        changes.note(session, "role changed", "person", row.id, {"role": row.role})
        row.role = role
    if pin is not None:
        row.pin_hash, row.wrong_pins, row.locked_until = _hashed(pin), 0, None
        changes.note(session, "PIN changed", "person", row.id)
        _sign_off_everywhere(session, row)
    session.add(row)
    session.flush()
    return row


def strike_person(session: Session, person_id: int) -> None:
    """Somebody who left: signed off everywhere at once. What they did keeps their name."""
    row = person(session, person_id)
    _keep_a_lead_hand(session, row)
    row.struck_out = True
    changes.note(session, "struck out", "person", row.id)
    _sign_off_everywhere(session, row)
    session.add(row)
    session.flush()


def check_pin(session: Session, person_id: int, pin: str) -> bool:
    """Whether the PIN is right; wrong ones are counted, and past five in a row none is looked at for a while.

    Raises TooManyTries in that while.
    """
    from argon2 import PasswordHasher  # noqa: PLC0415 (start-up time)
    from argon2.exceptions import VerifyMismatchError  # noqa: PLC0415

    row = person(session, person_id)
    if row.locked_until is not None and row.locked_until > now():
        raise TooManyTries(
            "Too many wrong PINs: wait five minutes, or ask a lead hand for a new one.", "pin"
        )
    right = True
    try:
        PasswordHasher().verify(row.pin_hash, pin)
    except VerifyMismatchError:
        right = False
    row.wrong_pins = 0 if right else row.wrong_pins + 1
    if row.wrong_pins >= _MOST_WRONG:
        row.locked_until, row.wrong_pins = now() + _LOCKED, 0
    session.add(row)
    return right


def _hashed(pin: str) -> str:
    from argon2 import PasswordHasher  # noqa: PLC0415 (start-up time)

    return PasswordHasher().hash(pin)


def _keep_a_lead_hand(session: Session, row: PersonRow) -> None:
    others = [p for p in people(session) if p.role == "lead_hand" and p.id != row.id]
    if row.role == "lead_hand" and not others:
        raise Refused("Somebody must stay lead hand: make another one first.", "role")


def _sign_off_everywhere(session: Session, row: PersonRow) -> None:
    for device in session.exec(select(DeviceRow).where(DeviceRow.person_id == row.id)):
        device.person_id = None
        session.add(device)
