"""What routers ask for: a session to read, one to write, the judge, and a quick way to answer."""

from collections.abc import Iterator, Sequence
from typing import Annotated, cast

from fastapi import Depends, Request
from fastapi.responses import Response
from pydantic import BaseModel
from sqlmodel import Session

from orthotome.api.judging import Judge
from orthotome.store.database import Database


def _database(request: Request) -> Database:
    return cast(Database, request.app.state.database)


def _read(request: Request) -> Iterator[Session]:
    with _database(request).read() as session:
        yield session


def _judge(request: Request) -> Judge:
    return cast(Judge, request.app.state.judge)


Store = Annotated[Database, Depends(_database)]
Reading = Annotated[Session, Depends(_read)]
TheJudge = Annotated[Judge, Depends(_judge)]


def many_as_they_are(answers: Sequence[BaseModel]) -> Response:
    """A long list as JSON at once."""
    return Response(f"[{','.join(a.model_dump_json() for a in answers)}]", media_type="application/json")


def as_it_is(answer: BaseModel) -> Response:
    """A large answer as JSON at once: built from its model, it need not be validated again."""
    return Response(answer.model_dump_json(), media_type="application/json")
