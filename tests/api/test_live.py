"""The line of a table over real sockets: recorded, broken, misused; and kept whatever is killed."""

import asyncio
import contextlib
import json
import sqlite3
import subprocess
import sys
import time
import unittest
import urllib.request
from collections.abc import AsyncIterator, Iterator
from dataclasses import replace
from typing import Any
from unittest.mock import patch

from sqlalchemy.exc import OperationalError

from orthotome.core.height.loop import LoopSettings
from orthotome.desk.height.live import Lines, LiveLine, at_address
from orthotome.desk.height.live import LiveSample as Shown
from orthotome.desk.height.recording import end_broken_off, trace_of
from orthotome.formats.height.line import TrimLine
from orthotome.sim.line import TableLine
from orthotome.sim.live import Fault, LiveJob, LivePath, LiveSample, LiveTable
from orthotome.store.database import Database
from orthotome.store.height import lines as kept
from orthotome.store.height import traces
from orthotome.store.keeping import backups
from orthotome.store.keeping.restoring import restore
from orthotome.store.tables import LineRow
from orthotome.store.torch import fittings
from tests.shop import HALF_WAY, ShopOf
from tools.browser import Server

NORTH = 1
HELLO = {
    "format": "orthotome.line",
    "version": 1,
    "says": "hello",
    "name": "Bench of tests",
    "samples_per_s": 100,
    "can": ["trim"],
    "set_point_v": [60, 200],
}


def said(samples: list[LiveSample]) -> dict[str, Any]:
    return {
        "says": "samples",
        "at_s": [round(s.at_s, 3) for s in samples],
        "arc_voltage_v": [round(s.arc_voltage_v, 2) for s in samples],
        "set_point_v": [s.set_point_v for s in samples],
        "z_mm": [round(s.z_mm, 3) for s in samples],
        "feed_mm_min": [round(s.feed_mm_min, 1) for s in samples],
        "control_on": [int(s.control_on) for s in samples],
    }


def one_cut(
    length_mm: float = 120, rest_s: float = 6, *, fault: Fault | None = None, **job: Any
) -> list[LiveSample]:
    """A start with its cut, and rest after it."""
    table = LiveTable(faults=frozenset({fault} if fault else ()))
    seen = [table.idle() for _ in range(150)]
    paths = (LivePath(length_mm, ends_off_plate=job.pop("off_plate", False)),)
    seen += list(table.cut(LiveJob(2100, 1.5, 3.8, 0.3, 128.0, paths, **job)))
    return seen + [table.idle() for _ in range(round(100 * rest_s))]


def in_lines(samples: list[LiveSample], each: int = 10) -> list[bytes]:
    told = [said(samples[i : i + each]) for i in range(0, len(samples), each)]
    return [json.dumps(t).encode() + b"\n" for t in (HELLO, *told)]


class Line(unittest.IsolatedAsyncioTestCase):
    """A table that says what a test tells it to, and the line that listens to it."""

    async def asyncSetUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.heard: list[bytes] = []
        self.scripts: list[list[bytes]] = []
        self.hold = asyncio.Event()
        self.server = await asyncio.start_server(self._speak, "127.0.0.1", 0)
        port = self.server.sockets[0].getsockname()[1]
        connect = at_address(LineRow(table_id=NORTH, host="127.0.0.1", port=port))
        self.line = LiveLine(self.shop.database, NORTH, connect)

    async def _speak(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        script = self.scripts.pop(0) if self.scripts else []
        with contextlib.suppress(ConnectionError, asyncio.CancelledError):
            for line in script:
                writer.write(line)
                await writer.drain()
                await asyncio.sleep(0.002)  # faster than it says: as what was held up on the way
            if not self.scripts:
                await self.hold.wait()
        writer.close()

    @contextlib.asynccontextmanager
    async def listening(self, *scripts: list[bytes]) -> AsyncIterator[None]:
        self.scripts = list(scripts)
        task = asyncio.create_task(self.line.run())
        try:
            yield
        finally:
            self.hold.set()
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task
            self.server.close()

    async def until(self, holds: Any) -> None:
        for _ in range(15_000):  # ends by what happens; this only ends a test that would never end
            if holds():
                return
            await asyncio.sleep(0.02)
        self.fail(f"never: {self.line.state}, {self.line.says}, {self.line.summary}")

    def kept(self) -> int:
        with self.shop.database.read() as session:
            (row,) = traces.traces(session, NORTH)
            return len(traces.samples(session, row.id or 0))

    async def test_a_cut_is_recorded_counted_and_read(self) -> None:
        with self.shop.database.read() as session:
            before = fittings.fitted(session, NORTH).counts["electrode"]
            starts, arc_s = before.starts, before.arc_on_s
        async with self.listening(in_lines(one_cut(off_plate=True))):
            await self.until(lambda: self.line.summary is not None)
            summary = self.line.summary
            assert summary
            self.assertEqual((summary.starts, summary.off_plate, summary.interrupted), (1, 1, ""))
            self.assertAlmostEqual(summary.steady_v or 0, 128, delta=1.0)
            with self.shop.database.read() as session:
                parts = fittings.fitted(session, NORTH).counts["electrode"]
                self.assertEqual(parts.starts, starts + 1)
                self.assertAlmostEqual(parts.arc_on_s - arc_s, summary.arc_on_s, places=2)
                (row,) = traces.traces(session, NORTH)
                self.assertEqual((row.trial_id, row.ended, row.samples), (HALF_WAY, True, self.kept()))

    async def test_a_line_that_breaks_in_mid_cut_keeps_what_came_and_comes_back(self) -> None:
        lines = in_lines(one_cut(400))
        async with self.listening(lines[:50], [lines[0]]):
            await self.until(lambda: self.line.summary is not None)
            assert self.line.summary
            self.assertIn("broke off in mid-cut", self.line.summary.interrupted)
            self.assertEqual(self.line.summary.starts, 1)
            # A second before the arc, and all since: of 490 samples the first 150 and 60 were silence.
            self.assertGreater(self.kept(), 280)
            await self.until(lambda: self.line.state == "silent")

    async def test_garbage_and_lines_of_50_mb_are_named(self) -> None:
        cases = [
            ([b"HTTP/1.1 200 OK\n"], "no line of orthotome.line"),
            ([b"x" * 50_000_000], "longer than 64 kB"),
            ([json.dumps(HELLO).encode() + b"\n", *[b'{"says": "samples"}\n'] * 300], "is missing"),
            (
                [json.dumps({**HELLO, "name": f"{n}"}).encode() + b"\n" for n in range(200)],
                "20 times a second",
            ),
        ]
        for script, words in cases:
            async with self.listening(script):
                await self.until(lambda: self.line.state == "broken")
                self.assertRegex(self.line.says, f"cannot be used: .*({words})")
            await self.server.wait_closed()
            self.server = await asyncio.start_server(self._speak, "127.0.0.1", 0)
            port = self.server.sockets[0].getsockname()[1]
            self.hold = asyncio.Event()
            self.line = LiveLine(
                self.shop.database,
                NORTH,
                at_address(LineRow(table_id=NORTH, host="127.0.0.1", port=port)),
            )
        self.server.close()

    async def test_a_sample_that_is_no_number_costs_itself_and_the_cut_goes_on(self) -> None:
        lines = in_lines(one_cut())
        told = json.loads(lines[60])
        volts = [float("nan"), 1e300, "x", *told["arc_voltage_v"][3:]]
        lines[60] = json.dumps({**told, "arc_voltage_v": volts}).encode() + b"\n"
        lines.insert(80, b"{ torn\n")
        async with self.listening(lines):
            await self.until(lambda: self.line.summary is not None)
            assert self.line.summary
            self.assertEqual((self.line.summary.starts, self.line.summary.interrupted), (1, ""))
            self.assertEqual(self.line.dropped, 4)

    async def test_what_cannot_be_kept_waits_and_is_kept_when_the_disk_is_well_again(self) -> None:
        failures, add = ["now", "again", "and again"], traces.add

        def full(*given: Any) -> None:
            if failures:
                failures.pop()
                raise OperationalError("INSERT", {}, sqlite_error(sqlite3.SQLITE_FULL))
            add(*given)

        with patch.object(traces, "add", full), self.assertLogs("orthotome", "WARNING") as logged:
            async with self.listening(in_lines(one_cut(600))):
                await self.until(lambda: self.line.summary is not None)
                assert self.line.summary
                self.assertEqual((self.line.summary.starts, self.line.summary.interrupted), (1, ""))
        self.assertEqual(len(logged.output), 3)
        self.assertIn("the disk is full or fails. It waits here", logged.output[0])
        self.assertGreater(self.kept(), 1500)  # of what came while it was ill nothing is missing

    async def test_a_mistake_of_ours_ends_no_line_and_what_could_not_be_counted_is_named(self) -> None:
        mistakes, take = [RuntimeError("ours")], LiveLine._take

        async def mistaken(line: LiveLine, told: Any) -> None:
            if line.recording and mistakes:
                raise mistakes.pop()
            await take(line, told)

        lines = in_lines(one_cut())

        def never(*_given: Any, **_words: Any) -> None:
            raise OperationalError("UPDATE", {}, sqlite_error(sqlite3.SQLITE_BUSY))

        with patch.object(LiveLine, "_take", mistaken), self.assertLogs("orthotome", "ERROR") as logged:
            async with self.listening(lines, lines):
                with patch.object(traces, "end", never):
                    await self.until(lambda: self.line.summary is not None)
                assert self.line.summary
                self.assertIn("Its 1 start and", self.line.summary.interrupted)
                self.assertIn("count them there by hand", self.line.summary.interrupted)
                first = self.line.summary
                await self.until(lambda: self.line.summary is not first)  # it has begun again by itself
        self.assertIn("it is begun again", logged.output[0])
        with self.shop.database.read() as session:
            self.assertEqual(traces.broken_off(session), [])

    async def test_around_a_restore_recordings_end_and_lines_begin_again(self) -> None:
        line, cut = self.line, in_lines(one_cut(900))
        port = self.server.sockets[0].getsockname()[1]
        with self.shop.database.write() as session:
            kept.set_line(session, NORTH, "127.0.0.1", port)
        self.scripts = [cut, cut]
        made = backups.make(self.shop.database.path, "by_hand")
        lines = Lines(self.shop.database)
        lines.begin()
        running = lines.running(NORTH)
        assert running is not None
        self.line = running
        await self.until(lambda: running.recording is not None and running.recording.kept > 100)
        async with lines.resting():
            before = await asyncio.to_thread(
                restore, made.path, self.shop.database.path, while_open=True
            )
        assert running.summary is not None and before is not None
        self.assertIn("put back to a backup", running.summary.interrupted)
        again = lines.running(NORTH)
        assert again is not None and again is not running
        self.line = again
        await self.until(lambda: again.summary is not None)
        with self.shop.database.read() as session:
            (row,) = traces.traces(session, NORTH)
            self.assertEqual((row.starts, row.interrupted), (1, ""))
        with Database(before).read() as session:  # what was recorded before is in the safety copy
            (row,) = traces.traces(session, NORTH)
            self.assertIn("put back to a backup", row.interrupted)
        self.hold.set()
        await lines.close()
        self.line = line
        self.server.close()

    async def test_volts_too_few_for_an_arc_are_doubted_recorded_and_counted_as_none(self) -> None:
        async with self.listening(in_lines(one_cut(fault="divided_twice"))):
            await self.until(lambda: self.line.summary is not None)
            summary = self.line.summary
            assert summary
            self.assertEqual((summary.starts, summary.arc_on_s, summary.steady_v), (0, 0.0, None))
            self.assertIn("too little for an arc", self.line.doubt)
            with self.shop.database.read() as session:
                (row,) = traces.traces(session, NORTH)
                highest = float(traces.samples(session, row.id or 0).volts_v.max())
            self.assertTrue(2 < highest < 4, highest)

    async def test_more_samples_a_second_than_are_taken(self) -> None:
        fast = [LiveSample(i / 100_000, 0.0, None, 25, 0, False) for i in range(6000)]
        async with self.listening(in_lines(fast, each=1000)):
            await self.until(lambda: self.line.state == "broken")
            self.assertIn("2,000 samples a second", self.line.says)

    async def test_a_trim_is_sent_to_the_table(self) -> None:
        table = TableLine(LiveTable(), pace=20)
        server = await table.serve("127.0.0.1", 0)
        port = server.sockets[0].getsockname()[1]
        line = LiveLine(
            self.shop.database, NORTH, at_address(LineRow(table_id=NORTH, host="127.0.0.1", port=port))
        )
        task = asyncio.create_task(line.run())
        self.line = line
        await self.until(lambda: line.hello is not None)
        loop = LoopSettings(128.0, 2, 1.5, 0.5, 40)
        table._running = table.table.cut(LiveJob(600, 1.5, 3.8, 0.3, 128.0, (LivePath(900),), loop))
        await self.until(lambda: (line.latest() or one_cut()[0]).set_point_v == 128.0)
        await line.say(TrimLine(by_v=0.5))
        await self.until(lambda: (line.latest() or one_cut()[0]).set_point_v == 128.5)
        task.cancel()
        with contextlib.suppress(asyncio.CancelledError):
            await task
        table._clock.cancel()
        server.close()
        self.server.close()


def sqlite_error(code: int) -> sqlite3.OperationalError:
    """As SQLite raises it."""
    error = sqlite3.OperationalError("of this test")
    error.sqlite_errorcode = code
    return error


@contextlib.contextmanager
def practice_table() -> Iterator[tuple["subprocess.Popen[str]", int]]:
    """``orthotome sim`` in a process of its own, so slow that a cut outlasts any pause of a busy machine."""
    words = [sys.executable, "-m", "orthotome.cli", "sim", "--port", "0", "--attached", "--pace", "0.2"]
    with subprocess.Popen(words, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        port = int(process.stdout.readline().rsplit(":", 1)[1])
        try:
            yield process, port
        finally:
            process.kill()


class Killed(unittest.TestCase):
    def test_the_table_and_then_the_server_killed_in_mid_cut(self) -> None:
        server = Server("--demo")
        self.addCleanup(server.close)

        def ask(path: str, method: str = "GET", body: Any = None) -> Any:
            data = None if body is None else json.dumps(body).encode()
            headers = {"content-type": "application/json"}
            request = urllib.request.Request(server.address + path, data, headers, method=method)
            with urllib.request.urlopen(request, timeout=600) as answer:
                return json.loads(answer.read() or b"null")

        def until(holds: Any) -> Any:
            for _ in range(3000):
                found = ask(f"/api/tables/{NORTH}/line")
                if holds(found):
                    return found
                time.sleep(0.1)
            raise AssertionError(found)

        def cut(port: int) -> int:
            ask(f"/api/tables/{NORTH}/line", "PUT", {"host": "127.0.0.1", "port": port})
            until(lambda f: f["state"] == "listening")
            ask(f"/api/tables/{NORTH}/line/run", "POST", {"kind": "long_strip", "control": False})
            # Its nick is the first start; the strip itself is the next, and long.
            now = until(lambda f: (f["recording"] or {}).get("starts", 0) > 1)
            return int(now["recording"]["kept"])

        with practice_table() as (table, port):
            kept = cut(port)
            table.kill()
            ended = until(lambda f: f["ended"] is not None)["ended"]
            self.assertIn("broke off in mid-cut", ended["interrupted"])
            (first,) = ask(f"/api/tables/{NORTH}/traces")
            self.assertGreaterEqual(first["samples"], kept)
        with practice_table() as (_, port):
            kept = cut(port)
            server.kill()
            server.start()
            newest = ask(f"/api/tables/{NORTH}/traces")[0]
            self.assertGreaterEqual(newest["samples"], kept)
            self.assertIn("Orthotome was stopped", newest["interrupted"])
            report = ask(f"/api/traces/{newest['id']}")
            self.assertTrue(report["cuts"])


class BrokenOff(unittest.TestCase):
    def test_what_ran_when_it_was_stopped_is_ended_and_counted_once(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        seen = one_cut(200, rest_s=0)
        for i in range(20, 50):  # a pilot arc before it, that never transferred: no start
            seen[i] = replace(seen[i], arc_voltage_v=255.0)
        shown = [
            Shown(i, s.at_s, s.arc_voltage_v, s.set_point_v, s.z_mm, s.feed_mm_min, 0, "steady")
            for i, s in enumerate(seen)
        ]
        with shop.database.write() as session:
            row = traces.begin(session, NORTH, "line", "left over")
            traces.add(session, row, trace_of(shown))
            starts = fittings.fitted(session, NORTH).starts
        for _ in range(2):
            end_broken_off(shop.database)
        with shop.database.read() as session:
            row = traces.trace(session, row.id or 0)
            self.assertEqual((row.ended, row.interrupted, row.starts), (True, traces.BROKEN_OFF, 1))
            self.assertEqual(fittings.fitted(session, NORTH).starts, starts + 1)


if __name__ == "__main__":
    unittest.main()
