"""Running the server on this machine, and printing where."""

import json
import socket
import tempfile
from collections.abc import Callable
from pathlib import Path

import uvicorn

from orthotome.api.app import create_app
from orthotome.store.database import Database


def serve(
    path: Path, port: int, *, reset: bool = False, prepare: Callable[[Database], None] | None = None
) -> None:
    """Open (or make) the database and serve until stopped. Only this machine can connect.

    ``reset`` throws it away first; ``prepare`` is given it before anyone can ask.
    """
    if reset:
        for suffix in ("", "-wal", "-shm"):
            path.with_name(path.name + suffix).unlink(missing_ok=True)
    database = Database(path)
    if prepare is not None:
        prepare(database)
    listener = listen_on(port)
    print(f"Orthotome is at http://127.0.0.1:{listener.getsockname()[1]}", flush=True)
    config = uvicorn.Config(create_app(database), log_level="warning", server_header=False)
    uvicorn.Server(config).run(sockets=[listener])


def listen_on(port: int) -> socket.socket:
    """A socket on the port, or on a free one where it is taken."""
    listener = socket.socket()
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind(("127.0.0.1", port))
    except OSError:
        listener.bind(("127.0.0.1", 0))
    # Before the address is printed: whoever reads it may connect at once, and waits its turn.
    listener.listen(128)
    return listener


def openapi_text() -> str:
    """The OpenAPI document as the front end's client is made from."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "empty.sqlite")
        document = create_app(database).openapi()
        database.close()
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"
