"""What the shop measures edges with: resolution, repeatability, and the five-repeat check."""

from typing import Annotated

from fastapi import Query
from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.machine import models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.edge.instruments import (
    METHOD_FACTS,
    USUAL_INSTRUMENTS,
    Instrument,
    repeatability,
    settling,
    u_deg,
)
from orthotome.store.machine import instruments
from orthotome.store.tables import InstrumentRow

router = room("machine")

Thickness = Annotated[float, Query(ge=0.2, le=160, allow_inf_nan=False)]
Target = Annotated[float, Query(ge=0.1, lt=45, allow_inf_nan=False)]


@router.get("/instruments")
def get_instruments(
    session: Reading, store: Store, thickness_mm: Thickness = 8.0, target_deg: Target = 2.0
) -> list[models.InstrumentAnswer]:
    """What may be in the hand, and what each settles on that thickness: the shop's own first, then the usual ones."""
    everything = instruments.instruments(session, store.by)
    rows = instruments.rows(session)
    own = {row.name: row for row in rows}
    return [
        _answer(
            session,
            tool,
            own.get(tool.name),
            settling(tool, everything, thickness_mm, target_deg).sentence,
            thickness_mm,
        )
        for tool in everything
    ]


def _answer(
    session: Session,
    tool: Instrument,
    row: InstrumentRow | None,
    says: str,
    thickness_mm: float,
) -> models.InstrumentAnswer:
    facts = METHOD_FACTS[tool.method]
    checks = instruments.checks(session, row.id or 0) if row else ()
    return models.InstrumentAnswer(
        id=row.id if row else None,
        version=row.version if row else 0,
        **vars(tool),
        unit=facts.unit,
        label=facts.label,
        reads=facts.reads,
        mind=facts.mind,
        u_deg=u_deg(tool, thickness_mm),
        says=says,
        checks=[
            models.CheckAnswer(
                id=c.id or 0,
                readings=instruments.readings_of(c),
                checked_at=c.checked_at,
                checked_by=c.checked_by,
                **vars(repeatability(instruments.readings_of(c))),
            )
            for c in checks
        ],
    )


@router.post("/instruments", status_code=201)
def add_instrument(request: models.InstrumentRequest, database: Store) -> models.InstrumentWritten:
    """Write an instrument down; what is left out of it is the usual of its method."""
    usual = next(u for u in USUAL_INSTRUMENTS if u.method == request.method)
    given = Instrument(
        request.name,
        request.method,
        usual.resolution if request.resolution is None else request.resolution,
        usual.repeatability if request.repeatability is None else request.repeatability,
    )
    with database.write() as session:
        row = instruments.write_down(session, given)
        return models.InstrumentWritten(id=row.id or 0, version=row.version)


@router.put("/instruments/{instrument_id}")
def change_instrument(
    instrument_id: Id, request: models.InstrumentChange, database: Store
) -> models.InstrumentWritten:
    """Change how fine it reads, and how well a hand repeats it."""
    with database.write() as session:
        row = instruments.change(
            session, instrument_id, request.version, request.resolution, request.repeatability
        )
        return models.InstrumentWritten(id=row.id or 0, version=row.version)


@router.put("/instruments/{instrument_id}/struck", status_code=204)
def strike_instrument(instrument_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Take an instrument off the list, or put it back."""
    with database.write() as session:
        instruments.strike(session, instrument_id, out=out)


@router.post("/instruments/{instrument_id}/checks", status_code=201)
def check_instrument(
    instrument_id: Id, request: models.CheckRequest, database: Store
) -> models.CheckAnswer:
    """Repeats of one edge by whoever is signed on: from then on that person's readings carry that spread."""
    with database.write() as session:
        row = instruments.check(session, instrument_id, request.readings)
        return models.CheckAnswer(
            id=row.id or 0,
            readings=list(request.readings),
            checked_at=row.checked_at,
            checked_by=row.checked_by,
            **vars(repeatability(request.readings)),
        )


@router.put("/instrument-checks/{check_id}/struck", status_code=204)
def strike_check(check_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Take a check out, or put it back."""
    with database.write() as session:
        instruments.strike_check(session, check_id, out=out)
