"""What routers ask for: a session to read, one to write, and the judge."""

from collections.abc import Iterator
from typing import Annotated, cast

from fastapi import Depends, Request
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
