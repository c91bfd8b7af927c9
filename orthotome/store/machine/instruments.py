"""What the shop measures edges with, and how well each of its people repeats a reading with it."""

import json
from collections.abc import Sequence
from dataclasses import replace

from sqlmodel import Session, col, select

from orthotome.core.edge.instruments import USUAL_INSTRUMENTS, Instrument, repeatability
from orthotome.store import changes
from orthotome.store.errors import ChangedMeanwhile, NotFound, Refused
from orthotome.store.tables import InstrumentCheck, InstrumentRow


def rows(session: Session) -> Sequence[InstrumentRow]:
    """The shop's own instruments, in the order in which they were written down."""
    counts = select(InstrumentRow).where(col(InstrumentRow.struck_out).is_(False))
    return session.exec(counts.order_by(col(InstrumentRow.id))).all()


def instruments(session: Session, person: str) -> list[Instrument]:
    """What may be in the hand of a person: the shop's instruments, each as well as that person repeats it, then
    the usual ones of methods that the shop wrote nothing down for."""
    own = [instrument_of(session, row, person) for row in rows(session)]
    known = {i.method for i in own}
    return [*own, *(u for u in USUAL_INSTRUMENTS if u.method not in known)]


def instrument_of(session: Session, row: InstrumentRow, person: str) -> Instrument:
    """An instrument in one person's hand: by that person's newest check, or by what was written down."""
    plain = Instrument(row.name, row.method, row.resolution, row.repeatability)
    found = next((c for c in checks(session, row.id or 0) if c.checked_by == person), None)
    if found is None:
        return plain
    return replace(plain, repeatability=repeatability(readings_of(found)).sd, checked=True)


def checks(session: Session, instrument_id: int) -> Sequence[InstrumentCheck]:
    """Checks of an instrument that count, newest first."""
    query = select(InstrumentCheck).where(
        InstrumentCheck.instrument_id == instrument_id, col(InstrumentCheck.struck_out).is_(False)
    )
    return session.exec(query.order_by(col(InstrumentCheck.id).desc())).all()


def readings_of(check: InstrumentCheck) -> list[float]:
    """The repeats of a check, in the method's unit."""
    return [float(r) for r in json.loads(check.readings)]


def write_down(session: Session, given: Instrument) -> InstrumentRow:
    """Write an instrument down. Raises Refused where the shop has one of that name."""
    if any(r.name.casefold() == given.name.casefold() for r in rows(session)):
        raise Refused(f"The shop has a “{given.name}” already: give this one another name.", "name")
    row = InstrumentRow(
        name=given.name,
        method=given.method,
        resolution=given.resolution,
        repeatability=given.repeatability,
    )
    session.add(row)
    session.flush()
    changes.note(session, "written down", "instrument", row.id)
    return row


def change(
    session: Session, instrument_id: int, version: int, resolution: float, repeatability_: float
) -> InstrumentRow:
    """Change how fine an instrument reads and how well a hand repeats it. Raises NotFound, ChangedMeanwhile."""
    row = _row(session, instrument_id)
    if row.version != version:
        raise ChangedMeanwhile("This instrument was changed on another screen: look again.", "version")
    was = {"resolution": row.resolution, "repeatability": row.repeatability}
    row.resolution, row.repeatability = resolution, repeatability_
    row.version += 1
    session.add(row)
    changes.note(session, "changed", "instrument", instrument_id, was)
    return row


def strike(session: Session, instrument_id: int, *, out: bool) -> None:
    """Take an instrument off the list, or put it back. Raises NotFound."""
    row = _row(session, instrument_id)
    row.struck_out = out
    session.add(row)
    changes.note(session, "struck out" if out else "put back", "instrument", instrument_id)


def check(session: Session, instrument_id: int, readings: Sequence[float]) -> InstrumentCheck:
    """Keep repeats of one edge by the person who sends them. Raises NotFound, and TradeError for too few."""
    _row(session, instrument_id)
    repeatability(readings)
    row = InstrumentCheck(
        instrument_id=instrument_id,
        readings=json.dumps(list(readings)),
        checked_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row


def strike_check(session: Session, check_id: int, *, out: bool) -> None:
    """Take a check out, or put it back. Raises NotFound."""
    row = session.get(InstrumentCheck, check_id)
    if row is None:
        raise NotFound("There is no such check.", "check_id")
    row.struck_out = out
    session.add(row)


def _row(session: Session, instrument_id: int) -> InstrumentRow:
    row = session.get(InstrumentRow, instrument_id)
    if row is None:
        raise NotFound("There is no such instrument.", "instrument_id")
    return row
