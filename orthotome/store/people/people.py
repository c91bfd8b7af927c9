"""The people of the shop: their names, their roles, and the PINs they sign on with."""

from collections.abc import Sequence
from typing import Literal

from sqlmodel import Session, col, select

from orthotome.store import changes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import DeviceRow, PersonRow

Role = Literal["operator", "lead_hand"]


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


def add_person(session: Session, name: str, role: Role, pin_hash: str) -> PersonRow:
    """Somebody new, or somebody who comes back. Raises Refused for a name that is taken."""
    known = session.exec(select(PersonRow).where(PersonRow.name == name)).first()
    if known is not None and not known.struck_out:
        raise Refused(f"There is a {name} already: tell the two apart.", "name")
    row = known or PersonRow(name=name, role=role, pin_hash="")
    row.role, row.pin_hash, row.struck_out = role, pin_hash, False
    session.add(row)
    session.flush()
    changes.note(session, "added", "person", row.id)
    return row


def change_person(
    session: Session, person_id: int, *, role: Role | None, pin_hash: str | None
) -> PersonRow:
    """Another role or another PIN. The last lead hand stays one."""
    row = person(session, person_id)
    if role is not None and role != row.role:
        _keep_a_lead_hand(session, row)
        changes.note(session, "role changed", "person", row.id, {"role": row.role})
        row.role = role
    if pin_hash is not None:
        row.pin_hash = pin_hash
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


def _keep_a_lead_hand(session: Session, row: PersonRow) -> None:
    others = [p for p in people(session) if p.role == "lead_hand" and p.id != row.id]
    if row.role == "lead_hand" and not others:
        raise Refused("Somebody must stay lead hand: make another one first.", "role")


def _sign_off_everywhere(session: Session, row: PersonRow) -> None:
    for device in session.exec(select(DeviceRow).where(DeviceRow.person_id == row.id)):
        device.person_id = None
        session.add(device)
