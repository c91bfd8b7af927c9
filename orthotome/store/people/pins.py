"""PINs: how they are kept, which are refused, and how guessing at one is slowed down.

A try is counted as wrong before the PIN is looked at, in a transaction of its own, and put right after: so many tries at
once are no more than so many one after the other, and no writer waits while a PIN is worked out. Wrong ones count for one
device and one person: nobody's device locks another's person out of theirs. After five in a row none is looked at for five
minutes, then twice as long each time, up to a day: the ten thousand PINs of four digits take years.
"""

import threading
from collections.abc import Sequence
from datetime import timedelta
from itertools import pairwise

from sqlmodel import Session, col, select

from orthotome.store import changes
from orthotome.store.clock import now
from orthotome.store.errors import Refused, TooManyTries
from orthotome.store.people.people import person
from orthotome.store.tables import PinTryRow

MOST_WRONG = 5  # in a row
_LOCKED, _LONGEST = timedelta(minutes=5), timedelta(hours=24)
_AT_ONCE = threading.Semaphore(2)  # each takes tens of megabytes and of milliseconds


def begin_try(session: Session, device_id: int, person_id: int) -> str:
    """Count a try at a person's PIN from a device, as a wrong one for now; what the PIN is held against.

    Raises TooManyTries while none is looked at.
    """
    who, row = person(session, person_id), _row(session, device_id, person_id)
    if row.locked_until is not None and row.locked_until > now():
        left = row.locked_until - now()
        raise TooManyTries(
            f"Too many wrong PINs at this device: wait {_in_words(left)}, or ask a lead hand for a new one.",
            "pin",
        )
    row.wrong, row.in_a_row, row.last_at = row.wrong + 1, row.in_a_row + 1, now()
    if row.in_a_row >= MOST_WRONG:
        row.locked_until = now() + min(_LONGEST, _LOCKED * 2**row.rounds)
        row.in_a_row, row.rounds = 0, min(row.rounds + 1, 20)
    session.add(row)
    return who.pin_hash


def end_try(session: Session, device_id: int, person_id: int, *, right: bool) -> None:
    """The PIN was looked at: a right one clears what was counted, a wrong one stands and is noted."""
    row = _row(session, device_id, person_id)
    if right:
        row.wrong = row.in_a_row = row.rounds = 0
        row.locked_until = None
        session.add(row)
    else:
        changes.note(session, "wrong PIN", "person", person_id, {"device": device_id})


def wrong_at(session: Session) -> Sequence[PinTryRow]:
    """Where wrong PINs were tried and no right one since, the newest first."""
    query = select(PinTryRow).where(PinTryRow.wrong > 0)
    return session.exec(query.order_by(col(PinTryRow.last_at).desc())).all()


def forget_tries(
    session: Session, *, person_id: int | None = None, device_id: int | None = None
) -> None:
    """Somebody has a new PIN, or a device was put out: what was tried counts no more."""
    for row in session.exec(select(PinTryRow)).all():
        if person_id in (None, row.person_id) and device_id in (None, row.device_id):
            session.delete(row)
    session.flush()


def _row(session: Session, device_id: int, person_id: int) -> PinTryRow:
    query = select(PinTryRow).where(PinTryRow.device_id == device_id, PinTryRow.person_id == person_id)
    return session.exec(query).first() or PinTryRow(device_id=device_id, person_id=person_id)


def _in_words(left: timedelta) -> str:
    minutes = max(1, round(left.total_seconds() / 60))
    if minutes < 90:
        return "a minute" if minutes == 1 else f"{minutes} minutes"
    return f"{round(minutes / 60)} hours"


def is_right(pin_hash: str, pin: str) -> bool:
    """Whether a PIN is the one that is kept. Works for some tens of milliseconds, outside any transaction."""
    from argon2 import PasswordHasher  # noqa: PLC0415 (start-up time)
    from argon2.exceptions import InvalidHashError, VerifyMismatchError  # noqa: PLC0415

    with _AT_ONCE:
        try:
            return bool(PasswordHasher().verify(pin_hash, pin))
        except (VerifyMismatchError, InvalidHashError):
            return False


def hashed(pin: str) -> str:
    """A PIN as it is kept. Works as long. Raises Refused for one that anybody would try first."""
    from argon2 import PasswordHasher  # noqa: PLC0415 (start-up time)

    steps = {int(b) - int(a) for a, b in pairwise(pin)}
    if len(set(pin)) == 1 or steps in ({1}, {-1}) or pin[: len(pin) // 2] * 2 == pin:
        raise Refused(
            "That PIN is among the first that anybody tries: no row of digits, and none said twice.",
            "pin",
        )
    with _AT_ONCE:
        return PasswordHasher().hash(pin)
