"""SIGKILL in the middle of writes: what was acknowledged is there.

The server is a real one over a real file. It is forked after the slow imports, so that many of its
deaths take seconds; each death is followed by a new server on the same file.
"""

import http.client
import itertools
import json
import os
import random
import signal
import socket
import sqlite3
import tempfile
import threading
import time
import unittest
from pathlib import Path

import uvicorn

from orthotome import demo
from orthotome.api.app import create_app
from orthotome.store.database import Database
from tests.enough import cases
from tests.shop import CUT, JUST_OPENED

KILLS = int(os.environ.get("ORTHOTOME_KILLS", len(cases(8, 24))))  # ./run bench abuse asks for more


def forked_server(path: Path) -> tuple[int, int]:
    """(pid, port) of a server process over the database at ``path``."""
    listener = socket.socket()
    listener.bind(("127.0.0.1", 0))
    port = listener.getsockname()[1]
    pid = os.fork()
    if pid == 0:
        config = uvicorn.Config(create_app(Database(path)), log_level="critical")
        uvicorn.Server(config).run(sockets=[listener])
        os._exit(0)
    listener.close()
    return pid, port


def log_until_dead(port: int, name: str, pid: int, acknowledgements: int, later_s: float) -> list[str]:
    """Log cuts one after the other, and kill the server once so many are acknowledged, a moment into the
    next; the keys that were acknowledged before it died."""
    acknowledged: list[str] = []
    connection = http.client.HTTPConnection("127.0.0.1", port)
    killer = threading.Timer(later_s, os.kill, (pid, signal.SIGKILL))
    for n in itertools.count():
        key = f"{name}-{n}"
        body = json.dumps({**CUT, "key": key})
        if len(acknowledged) == acknowledgements and not killer.is_alive():
            killer.start()
        try:
            connection.request(
                "POST",
                f"/api/trials/{JUST_OPENED}/cuts",
                body,
                {"content-type": "application/json"},
            )
            answer = connection.getresponse()
            answer.read()
        except (OSError, http.client.HTTPException):
            killer.join()
            return acknowledged
        if answer.status == 201:
            acknowledged.append(key)
    raise AssertionError  # it counts until the server dies


def wait_for(port: int, pid: int) -> None:
    """Until the server listens; a server that died instead is said at once."""
    while True:
        try:
            socket.create_connection(("127.0.0.1", port)).close()
        except OSError:
            if os.waitpid(pid, os.WNOHANG)[0]:
                raise AssertionError("the server died before it listened") from None
            time.sleep(0.02)
        else:
            return


class Kill(unittest.TestCase):
    def test_no_acknowledged_cut_is_lost(self) -> None:
        chance = random.Random(7)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "shop.sqlite"
            database = Database(path)
            demo.fill(database)
            database.close()
            acknowledged: list[str] = []
            for n in range(KILLS):
                pid, port = forked_server(path)
                wait_for(port, pid)
                count, later_s = chance.randrange(1, 6), 0.03 * chance.random()
                acknowledged += log_until_dead(port, f"kill-{n}", pid, count, later_s)
                _, status = os.waitpid(pid, 0)
                self.assertEqual(os.WTERMSIG(status), signal.SIGKILL)
            kept = sqlite3.connect(path)
            self.addCleanup(kept.close)
            keys = {k for (k,) in kept.execute("SELECT key FROM cut")}
            whole = kept.execute(
                "SELECT count(*) FROM cut WHERE key LIKE 'kill-%' AND "
                "(SELECT count(*) FROM edge WHERE cut_id = cut.id) != 4"
            ).fetchone()[0]
            print(f"\n{KILLS} kills, {len(acknowledged)} cuts acknowledged")
            self.assertGreaterEqual(len(acknowledged), KILLS)
            self.assertEqual(set(acknowledged) - keys, set())
            self.assertEqual(whole, 0, "a cut was saved without all its edges")
            self.assertEqual(kept.execute("PRAGMA integrity_check").fetchone()[0], "ok")


if __name__ == "__main__":
    unittest.main()
