"""What routers ask for: a session to read, one to write, the judge, and a quick way to answer."""

from collections.abc import Callable, Iterator, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass
from typing import Annotated, Any, cast
from urllib.parse import unquote

from fastapi import Depends, Request
from fastapi.responses import Response
from pydantic import BaseModel
from sqlmodel import Session

from orthotome.api.practice_shop import PracticeShop
from orthotome.core.quantities import ShopUnits, speak
from orthotome.core.trial.table_door import TableDoor
from orthotome.desk.bench.judging import Judge
from orthotome.desk.bench.numbers import numbers_now
from orthotome.desk.height.live import Lines
from orthotome.desk.working.kept_answers import KeptAnswers
from orthotome.store.database import Database
from orthotome.store.height.trial_volts import NumbersNow
from orthotome.store.people.devices import LetIn
from orthotome.store.shop import shop

PERSON_HEADER = "orthotome-person"
MOST_OF_A_NAME = 80


@dataclass(frozen=True)
class SignedStore:
    """The database, with every change signed by the person who sent the request."""

    database: Database
    by: str

    def write(self) -> AbstractContextManager[Session]:
        """One change by that person."""
        return self.database.write(by=self.by)


async def _store(request: Request) -> SignedStore:
    # On the shop's network a name is what was signed on with, not what a request says of itself.
    device: LetIn | None = getattr(request.state, "device", None)
    said = request.headers.get(PERSON_HEADER, "")
    by = person_of(said) if device is None else device.person or device.device
    return SignedStore(request.app.state.database, by)


def person_of(header: str) -> str:
    """Who sent a request: a name, percent-encoded, since a header carries no umlauts."""
    return unquote(header).strip()[:MOST_OF_A_NAME]


def _read(request: Request) -> Iterator[Session]:
    with cast(Database, request.app.state.database).read() as session:
        yield session


async def _open_door(request: Request) -> Callable[[int], TableDoor]:
    return cast("Callable[[int], TableDoor]", request.app.state.open_door)


async def _judge(request: Request) -> Any:
    return request.app.state.judge


async def _benches(request: Request) -> Any:
    return request.app.state.benches


async def _parts(request: Request) -> Any:
    return request.app.state.parts


async def speak_the_shops_units(request: Request) -> None:
    """Every sentence of this request is said in the shop's units.

    In the request's own task, so that whatever works for it, on any thread, says them too.
    """
    state, database = request.app.state, cast(Database, request.app.state.database)
    counted, units = getattr(state, "units", (None, None))
    if counted != database.changes:
        counted = database.changes
        with database.read() as session:
            found = shop.the_shop(session)
            units = ShopUnits(found.length_unit, found.speed_unit)
        state.units = counted, units
    speak(cast(ShopUnits, units))


async def _lines(request: Request) -> Lines:
    return cast(Lines, request.app.state.lines)


async def _practice(request: Request) -> PracticeShop:
    return cast(PracticeShop, request.app.state.practice)


async def _revisions(request: Request) -> Any:
    return request.app.state.revisions


Store = Annotated[SignedStore, Depends(_store)]
Reading = Annotated[Session, Depends(_read)]
TheJudge = Annotated[Judge, Depends(_judge)]


def _numbers(judge: TheJudge) -> NumbersNow:
    return numbers_now(judge)


Numbers = Annotated[NumbersNow, Depends(_numbers)]
Benches = Annotated[KeptAnswers[tuple[int, int, ShopUnits, str], str], Depends(_benches)]
KeptParts = Annotated[KeptAnswers[tuple[int, int, ShopUnits], str], Depends(_parts)]
Revisions = Annotated[KeptAnswers[tuple[int, int], str], Depends(_revisions)]
TheLines = Annotated[Lines, Depends(_lines)]
ThePracticeShop = Annotated[PracticeShop, Depends(_practice)]
OpenDoor = Annotated[Callable[[int], TableDoor], Depends(_open_door)]


def many_as_they_are(answers: Sequence[BaseModel]) -> Response:
    """A long list as JSON at once."""
    return Response(f"[{','.join(a.model_dump_json() for a in answers)}]", media_type="application/json")


def as_it_is(answer: BaseModel) -> Response:
    """A large answer as JSON at once: built from its model, it need not be validated again."""
    return Response(answer.model_dump_json(), media_type="application/json")
