"""``./run bench abuse``: what the records and the server withstand, in figures.

The long form of what the suite checks in a short one: kills, damaged files, every kind of input, watchers.
"""

import http.client
import json
import os
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from urllib.parse import urlsplit

from tools.bench_restores import heavy, restores
from tools.browser import Server
from tools.damage import READERS, breaks
from tools.figures import say

KILLS = 200
DAMAGED_FILES = 100_000
WATCHERS = 20
WATCHED_S = 20.0
ASKED_EVERY_S = 2.0  # as the screens do
EXAMPLES = 140  # of each operation of the OpenAPI document


def main(words: list[str]) -> None:
    """All of it, or the parts named: watchers, files, starts, kills, inputs, restores, heavy."""
    parts = {
        "watchers": watchers,
        "files": files,
        "starts": starts,
        "kills": kills,
        "inputs": inputs,
        "restores": restores,
        "heavy": heavy,
    }
    for name in words or parts:
        parts[name]()


def watchers() -> None:
    """The same trial watched by one screen and by twenty, while a cut is logged each second."""
    found = {}
    for many in (1, WATCHERS):
        server = Server("--demo")
        try:
            found[many] = _watched(server.address, many)
        finally:
            server.close()
        told, opened = found[many]
        say(f"{many} watching: revision, p50", statistics.median(told), "ms")
        say(f"{many} watching: revision, p95", statistics.quantiles(told, n=20)[-1], "ms", "limit 50")
        say(f"{many} watching: Bench after a cut, p95", statistics.quantiles(opened, n=20)[-1], "ms")
    one, twenty = (statistics.quantiles(found[n][0], n=20)[-1] for n in (1, WATCHERS))
    say("revision p95, twenty watching over one", twenty / one, "x")


def _watched(address: str, many: int) -> tuple[list[float], list[float]]:
    """How long each revision and each Bench took, in ms, for so many screens that ask and look again."""
    told: list[float] = []
    opened: list[float] = []
    end = threading.Event()

    def watch() -> None:
        connection = http.client.HTTPConnection(urlsplit(address).netloc)
        last = None
        while not end.is_set():
            took, seen = _timed(connection, "/api/trials/3/revision")
            told.append(took)
            if seen != last:
                opened.append(_timed(connection, "/api/trials/3/bench")[0])
                last = seen
            end.wait(ASKED_EVERY_S)

    _timed(http.client.HTTPConnection(urlsplit(address).netloc), "/api/trials/3/bench")
    screens = [threading.Thread(target=watch) for _ in range(many)]
    for screen in screens:
        screen.start()
        time.sleep(ASKED_EVERY_S / many)
    writer = http.client.HTTPConnection(urlsplit(address).netloc)
    for n in range(int(WATCHED_S)):
        cut = _ask(writer, "POST", "/api/trials/3/simulated-cut", {})
        _ask(writer, "POST", "/api/trials/3/cuts", {**cut, "key": f"watched {n}"})
        time.sleep(1)
    end.set()
    for screen in screens:
        screen.join()
    return told, opened


def _timed(connection: http.client.HTTPConnection, path: str) -> tuple[float, bytes]:
    began = time.perf_counter()
    connection.request("GET", path)
    answer = connection.getresponse().read()
    return 1000 * (time.perf_counter() - began), answer


def _ask(
    connection: http.client.HTTPConnection, method: str, path: str, body: object
) -> dict[str, object]:
    connection.request(method, path, json.dumps(body), {"content-type": "application/json"})
    return dict(json.loads(connection.getresponse().read()))


def files() -> None:
    """Damaged files of every kind: read, or refused in a sentence."""
    each = DAMAGED_FILES // len(READERS)
    with ProcessPoolExecutor(os.cpu_count()) as many:
        found = list(many.map(breaks, READERS, [each] * len(READERS), range(len(READERS))))
    for kind, broken in zip(READERS, found, strict=True):
        say(f"{each} damaged files ({kind}): broke the reader", len(broken), "")
        for how, content in broken[:3]:
            print(f"   {how}: {content[:200]!r}")


def starts() -> None:
    """Every fault of a start, 25 kills in an upgrade, backups under seven writers, and their way back."""
    _tests("tests.store.test_keeping")


def kills() -> None:
    """SIGKILL in the middle of writes, so many times: what was acknowledged is there."""
    _tests("tests.store.test_kill", ORTHOTOME_KILLS=str(KILLS))


def inputs() -> None:
    """Every operation with any input: an answer of the document, never a 500."""
    _tests("tests.api.test_any_input", ORTHOTOME_EXAMPLES=str(EXAMPLES))


def _tests(module: str, **told: str) -> None:
    began = time.perf_counter()
    with tempfile.TemporaryDirectory() as folder:
        done = subprocess.run(
            [sys.executable, "-m", "unittest", module],
            env={**os.environ, **told, "TMPDIR": folder},
            cwd=Path(__file__).parents[1],
            capture_output=True,
            text=True,
            check=False,
        )
    print(done.stdout.strip() or done.stderr.strip()[-1500:])
    say(f"{module}: failed", float(done.returncode != 0), "", f"{time.perf_counter() - began:.0f} s")
