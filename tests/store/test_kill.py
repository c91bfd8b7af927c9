"""SIGKILL at random moments while cuts are being logged: what was acknowledged is there.

The server is a real one over a real file. It is forked after the slow imports, so that fifty of its
deaths take seconds; each death is followed by a new server on the same file.
"""

import http.client
import json
import os
import random
import signal
import socket
import sqlite3
import subprocess
import tempfile
import time
import unittest
from pathlib import Path

import uvicorn

from orthotome import demo
from orthotome.api.app import create_app
from orthotome.store.database import Database
from tests.shop import CUT, JUST_OPENED

KILLS = 50


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


def log_until_dead(port: int, name: str) -> list[str]:
    """Log cuts one after the other; the keys that were acknowledged before the server died."""
    acknowledged: list[str] = []
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=5)
    for n in range(10_000):
        key = f"{name}-{n}"
        body = json.dumps({**CUT, "key": key})
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
            return acknowledged
        if answer.status == 201:
            acknowledged.append(key)
    return acknowledged


def wait_for(port: int) -> None:
    for _ in range(400):
        try:
            socket.create_connection(("127.0.0.1", port), 0.2).close()
        except OSError:
            time.sleep(0.02)
        else:
            return
    raise TimeoutError("the server did not come up")


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
                wait_for(port)
                after = 0.2 + 0.35 * chance.random()
                killer = subprocess.Popen(["sh", "-c", f"sleep {after:.3f}; kill -KILL {pid}"])
                acknowledged += log_until_dead(port, f"kill-{n}")
                killer.wait()
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
            self.assertGreater(len(acknowledged), 2 * KILLS)
            self.assertEqual(set(acknowledged) - keys, set())
            self.assertEqual(whole, 0, "a cut was saved without all its edges")
            self.assertEqual(kept.execute("PRAGMA integrity_check").fetchone()[0], "ok")


if __name__ == "__main__":
    unittest.main()
