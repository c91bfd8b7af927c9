"""``./run bench abuse restores heavy``: restores and kills under writers with outside programs beside them, and screens
while one device sends heavy drawings or holds connections open. Figures only; what must hold is in the suite."""

import contextlib
import http.client
import json
import random
import socket
import sqlite3
import statistics
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import closing
from pathlib import Path
from urllib.parse import urlsplit

from tests.api.test_budgets import nested_blocks
from tests.api.test_door import SERVED_AT, STRANGER
from tools.browser import Server
from tools.figures import say

ROUNDS, KILLS = 100, 50
_OUTSIDE = (
    "import sqlite3, sys; c = sqlite3.connect(sys.argv[1]); c.execute('SELECT * FROM shop'); c.close()"
)
_PAGES = ("/bench", "/api/trials/3/revision", "/api/shop")
_DEVICES, _SILENT = 12, 600


class Writers:
    """Three screens that log cuts as fast as they are answered, and what they were told is saved."""

    def __init__(self, server: Server) -> None:
        self.server = server
        self.acknowledged: list[str] = []
        self.held = 0  # answers that said: try again
        self._stop = threading.Event()
        self._threads = [threading.Thread(target=self._write, args=(w,)) for w in range(3)]

    def __enter__(self) -> "Writers":
        for thread in self._threads:
            thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._stop.set()
        for thread in self._threads:
            thread.join()

    def _write(self, who: int) -> None:
        n = 0
        while not self._stop.is_set():
            key = f"{who}-{time.time_ns()}-{n}"
            n += 1
            with contextlib.suppress(OSError, http.client.HTTPException):
                status, _ = asked(self.server, "POST", "/api/tables/1/facts", {"title": key})
                if status == 201:
                    self.acknowledged.append(key)
                else:
                    self.held += 1
                continue
            self._stop.wait(0.02)


def _a_shop() -> Server:
    """A fresh shop with one table."""
    server = Server()
    asked(server, "POST", "/api/tables", {"name": "First table"})
    return server


def asked(server: Server, method: str, path: str, body: object = None) -> tuple[int, bytes]:
    """One request of this machine's own, on a connection of its own."""
    connection = http.client.HTTPConnection(urlsplit(server.address).netloc)
    with closing(connection):
        sent = None if body is None else json.dumps(body)
        connection.request(method, path, sent, {"content-type": "application/json"} if sent else {})
        answer = connection.getresponse()
        return answer.status, answer.read()


def _titles(file: Path) -> set[str]:
    with closing(sqlite3.connect(file)) as db:
        return {title for (title,) in db.execute("SELECT title FROM table_fact")}


def restores() -> None:
    """Restores in the application, an outside program after each, and a true outside backup after each tenth."""
    server = _a_shop()
    found: set[str] = set()
    records = server.path / "orthotome.sqlite"
    try:
        name = json.loads(asked(server, "POST", "/api/backups")[1])["name"]
        _, whole = asked(server, "GET", f"/api/backups/{name}/file")
        done = 0
        with Writers(server) as writers:
            for n in range(ROUNDS):
                status, said = asked(server, "POST", f"/api/backups/{name}/restored")
                if status == 200:
                    done += 1
                    found |= _titles(server.path / "backups" / json.loads(said)["kept"])
                subprocess.run([sys.executable, "-c", _OUTSIDE, str(records)], check=True)
                if n % 10 == 9:
                    words = ["-m", "orthotome.cli", "backup", "--data", str(server.path)]
                    subprocess.run([sys.executable, *words], check=False, capture_output=True)
        found |= _titles(records)
        say(
            f"{done} of {ROUNDS} restores under three writers: acknowledged",
            len(writers.acknowledged),
            "",
        )
        say("   told to try again", writers.held, "")
        say(
            "   acknowledged and neither in the shop nor in a safety copy",
            len(set(writers.acknowledged) - found),
            "",
        )
        with closing(sqlite3.connect(records)) as db:
            print(f"   integrity: {db.execute('PRAGMA integrity_check').fetchone()[0]}")
    finally:
        server.close()
    for what, path in (("a backup", "/api/backups"), ("a restore", f"/api/backups/{name}/restored")):
        _killed(what, path, whole, name)


def _killed(what: str, path: str, whole: bytes, name: str) -> None:
    """The server killed at any moment of it, under writers, and started again."""
    server = _a_shop()
    chance, unsound = random.Random(4), 0
    records = server.path / "orthotome.sqlite"
    folder = server.path / "backups"
    acknowledged: set[str] = set()
    found: set[str] = set()
    try:
        folder.mkdir(exist_ok=True)
        (folder / name).write_bytes(whole)
        for _ in range(KILLS):
            with Writers(server) as writers:

                def begin() -> None:
                    with contextlib.suppress(OSError, http.client.HTTPException):
                        asked(server, "POST", path)

                while len(writers.acknowledged) < 5:
                    time.sleep(0.01)
                begun = threading.Thread(target=begin)
                begun.start()
                time.sleep(chance.uniform(0.0, 0.6))
                server.kill()
                begun.join()
            server.start()
            acknowledged |= set(writers.acknowledged)
            copies = [f for f in folder.glob("*before_restore*.backup")]
            found = found.union(*(_titles(f) for f in copies)) | _titles(records)
            with closing(sqlite3.connect(records)) as db:
                unsound += db.execute("PRAGMA quick_check").fetchone() != ("ok",)
        say(f"{KILLS} kills during {what}: acknowledged", len(acknowledged), "")
        say("   lost", len(acknowledged - found), "")
        say("   records that were not sound", unsound, "")
    finally:
        server.close()


def heavy() -> None:
    """A page for this machine while other devices send nested drawings, and while a stranger holds connections."""
    server = Server("--demo", "--lan", "--lan-host", SERVED_AT, "--lan-port", "0")
    try:
        idle = _p95(server)
        say("a page, p95, idle", idle, "ms")
        drawing = nested_blocks(deep=4, each=30)  # as many entities as are read: 27,000 of them

        def send() -> None:
            connection = http.client.HTTPConnection(urlsplit(server.address).netloc)
            connection.request(
                "POST", "/api/own-parts?name=a", drawing, {"content-type": "image/vnd.dxf"}
            )
            connection.getresponse().read()

        with _beside(send, _DEVICES):
            say(
                f"   while {_DEVICES} send heavy drawings, over idle",
                _p95(server) / idle,
                "x",
                "limit 3",
            )
        port = int(
            json.loads(asked(server, "GET", "/api/network")[1])["addresses"][0].rpartition(":")[2]
        )
        held: list[socket.socket] = []
        for _ in range(_SILENT):
            with contextlib.suppress(OSError):
                held.append(socket.create_connection((SERVED_AT, port), source_address=(STRANGER, 0)))
        say(
            f"   while {len(held)} silent connections are open, over idle",
            _p95(server) / idle,
            "x",
            "limit 3",
        )
        for one in held:
            one.close()
    finally:
        server.close()


@contextlib.contextmanager
def _beside(work: Callable[[], None], many: int) -> Iterator[None]:
    stop = threading.Event()

    def again() -> None:
        while not stop.is_set():
            with contextlib.suppress(OSError, http.client.HTTPException):
                work()

    threads = [threading.Thread(target=again, daemon=True) for _ in range(many)]
    for thread in threads:
        thread.start()
    try:
        time.sleep(1)
        yield
    finally:
        stop.set()


def _p95(server: Server) -> float:
    took = []
    for n in range(150):
        began = time.perf_counter()
        asked(server, "GET", _PAGES[n % len(_PAGES)])
        took.append(1000 * (time.perf_counter() - began))
    return statistics.quantiles(took, n=20)[-1]
