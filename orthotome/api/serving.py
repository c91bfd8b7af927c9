"""Running the server: on this machine, and where it is asked for on the shop's network too."""

import asyncio
import contextlib
import json
import os
import signal
import socket
import sys
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from threading import Thread
from types import FrameType
from typing import Any

import uvicorn
from fastapi import FastAPI

from orthotome.api.app import FRONT_END, create_app
from orthotome.api.connections import BoundedProtocol, bounded_handshakes, room_for_connections
from orthotome.api.door.addresses import addresses, names
from orthotome.api.door.network import NetworkDoor
from orthotome.api.guard import Guard
from orthotome.api.keeping.daily import DailyBackups
from orthotome.desk.bench.judging import Judge, think_ahead
from orthotome.desk.working import budgets
from orthotome.desk.working.journal import keep_journal
from orthotome.store.database import Database
from orthotome.store.errors import StartFault
from orthotome.store.keeping.opening import opened

_ADDRESS_IN_USE = "Port {port} is in use, by another Orthotome or another program: stop it, or choose another port with {flag}."
_ONLY_THIS_USER = 0o077
_HEAD_BYTES = 64_000


@dataclass(frozen=True)
class Lan:
    """Where the shop's network is served: ``host`` is one address of this machine, or all of them."""

    host: str = "0.0.0.0"
    port: int = 8438


def serve(
    path: Path,
    port: int,
    *,
    reset: bool = False,
    prepare: Callable[[Database], None] | None = None,
    lan: Lan | None = None,
) -> None:
    """Open (or make) the database and serve until stopped: to this machine, and with ``lan`` to its network.

    ``reset`` throws it away first; ``prepare`` is given it before anyone can ask. Raises StartFault in words.
    """
    if not (FRONT_END / "index.html").exists():
        raise StartFault("The pages are not built yet: run “./run setup” once, and start again.")
    os.umask(_ONLY_THIS_USER)
    # The records are closed in order, whoever stops the program.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    with contextlib.ExitStack() as held:
        listener = held.enter_context(listening_on(port))
        lan_listener = (
            held.enter_context(listening_on(lan.port, lan.host, "--lan-port")) if lan else None
        )
        database = held.enter_context(opened(path, afresh=reset))
        if prepare is not None:
            prepare(database)
        keep_journal(path.parent)
        judge = Judge(process_of_its_own=True)
        app = create_app(database, judge=judge)
        Thread(target=think_ahead, args=(database, judge), daemon=True).start()
        app.state.daily = held.enter_context(DailyBackups(database.path))
        print(f"Orthotome is at http://127.0.0.1:{listener.getsockname()[1]}", flush=True)
        servers: list[tuple[socket.socket, uvicorn.Server]] = [
            (listener, StoppingServer(app, config_of(app)))
        ]
        if lan is not None and lan_listener is not None:
            servers.append((lan_listener, on_the_network(app, database, lan, lan_listener, path.parent)))
        room_for_connections()
        loop = servers[0][1].config.get_loop_factory() or asyncio.new_event_loop
        factory = partial(bounded_handshakes, loop)
        with contextlib.suppress(KeyboardInterrupt), asyncio.Runner(loop_factory=factory) as runner:
            runner.run(_all(servers))


async def _all(servers: list[tuple[socket.socket, uvicorn.Server]]) -> None:
    await asyncio.gather(*(server.serve(sockets=[listener]) for listener, server in servers))


def on_the_network(
    app: FastAPI, database: Database, lan: Lan, listener: socket.socket, folder: Path
) -> uvicorn.Server:
    """The server of the shop's network, over TLS and behind the door; says where it is and how to know it."""
    from orthotome.api.door.certificate import certificate, fingerprint  # noqa: PLC0415 (start-up time)

    port = listener.getsockname()[1]
    found = addresses(lan.host)
    if not found:
        raise StartFault("This machine has no address on a network: connect it, or start without --lan.")
    called = names(lan.host)
    certified, key, authority = certificate(folder, called)
    network = app.state.network
    network.addresses = tuple(f"https://{address}:{port}" for address in found)
    network.fingerprint, network.certificate = fingerprint(certified), authority
    print(
        f"On the shop's network: {' or '.join(network.addresses)}\n"
        "  A device that comes there for the first time warns that it does not know this machine. Compare the\n"
        f"  fingerprint of the certificate it shows with this one before you go on:\n  {network.fingerprint}\n"
        "  Then open Shop on this machine, and show a pairing code.",
        flush=True,
    )
    door = Guard(NetworkDoor(app, database, network.pairing), called)
    return StoppingServer(
        app, config_of(door, ssl_certfile=str(certified), ssl_keyfile=str(key), lifespan="off")
    )


class StoppingServer(uvicorn.Server):
    """A server that, told to stop, ends what never ends by itself: the streams of live cuts."""

    def __init__(self, app: FastAPI, config: uvicorn.Config) -> None:
        super().__init__(config)
        self._app = app

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """Told to stop."""
        self._app.state.lines.stopping = True
        self._app.state.practice.stop_streams()
        budgets.stop()
        super().handle_exit(sig, frame)


def config_of(app: Any, **more: Any) -> uvicorn.Config:
    """How every address is answered: quietly, with limits."""
    return uvicorn.Config(
        app,
        log_config=None,
        access_log=False,
        server_header=False,
        http=BoundedProtocol,  # over the one of its two parsers that bounds the head of a request
        h11_max_incomplete_event_size=_HEAD_BYTES,
        ws="none",
        **more,
    )


@contextlib.contextmanager
def listening_on(port: int, host: str = "127.0.0.1", flag: str = "--port") -> Iterator[socket.socket]:
    """A socket on the port, already listening: whoever reads the address may connect at once, and waits its
    turn. 0 takes a free one. Raises StartFault where the port is taken."""
    # The protocol is named: only then does the event loop send small answers at once.
    with socket.socket(proto=socket.IPPROTO_TCP) as listener:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((host, port))
            listener.listen(128)
        except OSError:
            raise StartFault(_ADDRESS_IN_USE.format(port=port, flag=flag)) from None
        yield listener


def openapi_text() -> str:
    """The OpenAPI document as the front end's client is made from."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "empty.sqlite")
        document = create_app(database).openapi()
        database.close()
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"
