"""Running the server on this machine, and printing where."""

import asyncio
import contextlib
import json
import os
import socket
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

import uvicorn
from fastapi import FastAPI

from orthotome.api.app import FRONT_END, create_app
from orthotome.api.bench.judging import Judge
from orthotome.api.journal import keep_journal
from orthotome.api.keeping.daily import DailyBackups
from orthotome.store.database import Database
from orthotome.store.errors import StartFault
from orthotome.store.keeping.opening import opened

_ADDRESS_IN_USE = "Port {port} is in use, by another Orthotome or another program: stop it, or choose another port with --port."
_ONLY_THIS_USER = 0o077
_HEAD_BYTES = 64_000


def serve(
    path: Path, port: int, *, reset: bool = False, prepare: Callable[[Database], None] | None = None
) -> None:
    """Open (or make) the database and serve until stopped. Only this machine can connect.

    ``reset`` throws it away first; ``prepare`` is given it before anyone can ask. Raises StartFault in words.
    """
    os.umask(_ONLY_THIS_USER)
    if not (FRONT_END / "index.html").exists():
        raise StartFault("The pages are not built yet: run “./run setup” once, and start again.")
    with listening_on(port) as listener, opened(path, afresh=reset) as database:
        if prepare is not None:
            prepare(database)
        keep_journal(path.parent)
        app = create_app(database, judge=Judge(process_of_its_own=True))
        with DailyBackups(database.path) as daily:
            app.state.daily = daily
            print(f"Orthotome is at http://127.0.0.1:{listener.getsockname()[1]}", flush=True)
            run(app, listener)


def run(app: FastAPI, listener: socket.socket) -> None:
    """Answer until stopped."""
    asyncio.run(uvicorn.Server(config_of(app)).serve(sockets=[listener]))


def config_of(app: object) -> uvicorn.Config:
    """How every address is answered: quietly, with limits."""
    return uvicorn.Config(
        app,  # type: ignore[arg-type]
        log_config=None,
        access_log=False,
        server_header=False,
        http="h11",  # the one of its two parsers that bounds the head of a request
        h11_max_incomplete_event_size=_HEAD_BYTES,
    )


@contextlib.contextmanager
def listening_on(port: int, host: str = "127.0.0.1") -> Iterator[socket.socket]:
    """A socket on the port, already listening: whoever reads the address may connect at once, and waits its
    turn. 0 takes a free one. Raises StartFault where the port is taken."""
    with socket.socket() as listener:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((host, port))
            listener.listen(128)
        except OSError:
            raise StartFault(_ADDRESS_IN_USE.format(port=port)) from None
        yield listener


def openapi_text() -> str:
    """The OpenAPI document as the front end's client is made from."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "empty.sqlite")
        document = create_app(database).openapi()
        database.close()
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"
