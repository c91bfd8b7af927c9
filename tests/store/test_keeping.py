"""Nothing lost: backups hold everything, come back whole, and no folder is taken for what it is not."""

import os
import re
import signal
import sqlite3
import tempfile
import threading
import unittest
from contextlib import closing
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest.mock import patch

from filelock import FileLock
from typer.testing import CliRunner

from orthotome.cli import app
from orthotome.store.database import SHAPES, Database
from orthotome.store.errors import Refused, StartFault
from orthotome.store.keeping import backups, restoring
from orthotome.store.keeping.backups import Backup
from orthotome.store.keeping.opening import opened
from orthotome.store.keeping.sealing import SEAL
from orthotome.store.shop import shop
from orthotome.store.tables import CuttingTable
from tests.enough import cases
from tools.browser import filled_demo

OLD_SHOP = (Path(__file__).parent / "old_shop.sql").read_text()
KILLS_WHILE_UPGRADING = len(cases(8, 25))


def holds(path: Path) -> dict[str, list[tuple[object, ...]]]:
    """Every row of every table of a database file, but for the seal of a backup."""
    with closing(sqlite3.connect(path)) as db:
        names = [
            n for (n,) in db.execute("SELECT name FROM sqlite_master WHERE type='table' ORDER BY name")
        ]
        return {
            n: db.execute(f'SELECT * FROM "{n}" ORDER BY rowid').fetchall() for n in names if n != SEAL
        }


class InAFolder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "orthotome.sqlite"

    def shop_in_use(self) -> Database:
        """The demo's records, opened as a server opens them; closed when the test ends."""
        self.path.write_bytes(filled_demo().read_bytes())
        return self.enterContext(opened(self.path))

    def fault(self) -> str:
        with self.assertRaises(StartFault) as refused, opened(self.path):
            pass
        return str(refused.exception)


class Backups(InAFolder):
    def test_a_backup_under_seven_writers_holds_all_that_was_acknowledged_before_it(self) -> None:
        database = self.shop_in_use()
        acknowledged: list[str] = []
        stop = threading.Event()

        def write(who: int) -> None:
            n = 0
            while not stop.is_set():
                name = f"table {who}-{n}"
                with database.write() as session:
                    session.add(CuttingTable(name=name))
                acknowledged.append(name)
                n += 1

        writers = [threading.Thread(target=write, args=(w,)) for w in range(7)]
        for w in writers:
            w.start()
        made = []
        for _ in range(5):
            while len(acknowledged) < 10 * (1 + len(made)):
                stop.wait(0.001)
            before = list(acknowledged)
            made.append((before, backups.make(self.path, "by_hand")))
        stop.set()
        for w in writers:
            w.join()
        for before, backup in made:
            rows = holds(backup.path)
            names = {row[1] for row in rows["cutting_table"]}
            self.assertLessEqual(set(before), names)
            self.assertEqual(len(rows["cut"]), len(holds(filled_demo())["cut"]))
            self.assertEqual(backup.path.stat().st_mode & 0o777, 0o600)
        self.assertEqual(
            [p.name for p in backups.folder_of(self.path).iterdir() if "-wal" in p.name], []
        )

    def test_what_a_backup_holds_comes_back_whole_under_open_screens_and_what_was_there_is_kept(
        self,
    ) -> None:
        database = self.shop_in_use()
        then = holds(self.path)
        made = backups.make(self.path, "by_hand")
        with database.write() as session:
            shop.set_shop(session, "Renamed by mistake", None, None)
        with database.read() as watching:
            self.assertEqual(shop.the_shop(watching).name, "Renamed by mistake")
            kept = restoring.restore(made.path, self.path)
        assert kept is not None
        self.assertEqual(holds(self.path), then)
        with database.write() as session:  # the same server goes on
            self.assertEqual(shop.the_shop(session).name, "Saltmarsh Forge (example shop)")
        self.assertEqual(holds(kept)["shop"][0][1], "Renamed by mistake")

    def test_a_damaged_backup_is_refused_in_words_and_changes_nothing(self) -> None:
        self.shop_in_use()
        good = backups.make(self.path, "by_hand").path.read_bytes()
        then = holds(self.path)
        middle = bytearray(good)
        middle[len(good) // 2 : len(good) // 2 + 6000] = b"\xff" * 6000
        for what, content in {
            "is damaged": bytes(middle),
            "damaged, and": good[: len(good) // 2],
            "is empty": b"",
            "not a backup": b"a text",
        }.items():
            bad = self.folder / "bad.backup"
            bad.write_bytes(content)
            with self.assertRaises(Refused) as refused:
                restoring.restore(bad, self.path)
            self.assertIn(what, refused.exception.sentence)
            self.assertEqual(holds(self.path), then)
        self.assertEqual(list(self.folder.glob("*restoring*")), [])

    def test_records_that_are_damaged_are_moved_aside_but_never_from_under_a_running_shop(self) -> None:
        with opened(self.path):
            pass
        made = backups.make(self.path, "by_hand")
        torn = bytearray(self.path.read_bytes())
        torn[8192:16384] = b"\xff" * 8192
        self.path.write_bytes(torn)
        with self.assertRaises(Refused) as refused:
            restoring.restore(made.path, self.path, while_open=True)
        self.assertIn("stop Orthotome", refused.exception.sentence)
        self.assertEqual(self.path.read_bytes(), torn)
        self.assertIn(f"orthotome restore {made.path} --data {self.folder}", self.fault())
        aside = restoring.restore(made.path, self.path)
        assert aside is not None
        self.assertEqual((aside / self.path.name).read_bytes(), torn)
        self.assertEqual(holds(self.path)["alembic_version"], [(SHAPES[-1],)])

    def test_the_oldest_are_thinned_out_and_the_reasons_kept_apart(self) -> None:
        end = datetime(2026, 11, 25, 6, tzinfo=UTC)
        one = Backup(self.path, end, "daily", 1)
        daily = [replace(one, made_at=end - timedelta(days=n)) for n in range(500)]
        by_hand = [replace(one, made_at=end - timedelta(days=n), why="by_hand") for n in range(14)]
        kept = backups.kept([*daily, *by_hand])
        ages = sorted((end - b.made_at).days for b in kept if b.why == "daily")
        self.assertEqual(ages[:7], [0, 1, 2, 3, 4, 5, 6])
        self.assertEqual(ages[7:14], [10, 17, 24, 25, 31, 38, 45])  # Sundays, and the last of October
        self.assertEqual(len(ages), 7 + 7 + 10)
        self.assertEqual(sum(b.why == "by_hand" for b in kept), 10)

    def test_the_commands_back_up_a_running_shop_and_restore_a_stopped_one(self) -> None:
        run = CliRunner().invoke
        data = ["--data", str(self.folder)]
        with opened(self.path) as database:
            with database.write() as session:
                shop.set_shop(session, "Before", None, None)
            made = run(app, ["backup", str(self.folder / "stick.backup"), *data])
            self.assertEqual(made.exit_code, 0, made.output)
            running = run(app, ["restore", str(self.folder / "stick.backup"), *data])
            self.assertEqual(running.exit_code, 2)
            self.assertIn("already running", running.stderr)
            with database.write() as session:
                shop.set_shop(session, "After", None, None)
        done = run(app, ["restore", str(self.folder / "stick.backup"), *data])
        self.assertEqual(done.exit_code, 0, done.output)
        self.assertEqual(holds(self.path)["shop"][0][1], "Before")


class Starts(InAFolder):
    def test_half_of_a_copy_is_not_taken_for_a_new_shop_and_gives_what_it_holds(self) -> None:
        database = self.shop_in_use()
        with database.write() as session:
            shop.set_shop(session, "Written last", None, None)
        alone, bare = self.folder / "a" / "orthotome.sqlite", self.folder / "b" / "orthotome.sqlite"
        log = self.folder / "c" / "orthotome.sqlite-wal"
        for there in (alone, bare, log):
            there.parent.mkdir()
        alone.write_bytes(self.path.read_bytes())
        log.write_bytes(self.path.with_name(self.path.name + "-wal").read_bytes())
        with closing(sqlite3.connect(bare)) as made:
            made.execute("PRAGMA journal_mode=WAL")
        for path, said in (
            (alone, "copied while"),
            (bare, "no new shop"),
            (log, "without orthotome.sqlite"),
        ):
            self.path = path.with_name("orthotome.sqlite")
            size = path.stat().st_size
            self.assertIn(said, self.fault())
            self.assertEqual(path.stat().st_size, size)
        done = CliRunner().invoke(app, ["rescue", str(alone), "--data", str(alone.parent)])
        self.assertEqual(done.exit_code, 0, done.output)
        self.assertEqual(len(holds(alone)["trial"]), 3)

    def test_every_fault_is_a_sentence_that_says_what_to_do(self) -> None:
        good = filled_demo().read_bytes()
        torn = good[:20_000] + b"\xa5" * 30_000 + good[50_000:]
        foreign = self.folder / "foreign.sqlite"
        with closing(sqlite3.connect(foreign)) as other:
            other.execute("CREATE TABLE invoices (id)")
        newer = self.folder / "newer.sqlite"
        newer.write_bytes(good)
        with closing(sqlite3.connect(newer)) as made:
            made.execute("UPDATE alembic_version SET version_num = '9999'")
            made.commit()
        for said, content in {
            "is damaged": torn,
            "is empty": b"",
            "is not a database of Orthotome": b"Dear shop, " * 900,
            "move it away, or name another folder": foreign.read_bytes(),
            "newer Orthotome": newer.read_bytes(),
        }.items():
            self.path.write_bytes(content)
            self.assertIn(said, self.fault())
            self.assertEqual(self.path.read_bytes(), content)
        self.path.write_bytes(good)
        with patch("orthotome.store.keeping.opening.os.access", return_value=False):
            self.assertIn("cannot be written to", self.fault())
        self.path.unlink()
        self.path.mkdir()
        self.assertIn("is a folder", self.fault())
        self.path = self.path / "x" / "orthotome.sqlite"
        (self.path.parent).write_text("a file")
        self.assertIn("is a file, not a folder", self.fault())

    def test_one_program_at_a_time_and_never_a_fresh_demo_under_a_running_one(self) -> None:
        database = self.shop_in_use()
        with self.assertRaises(StartFault) as refused, opened(self.path, afresh=True):
            pass
        self.assertIn("already running", str(refused.exception))
        with database.read() as session:
            self.assertTrue(shop.the_shop(session).example)
        other = self.folder / "other.sqlite"
        other.write_bytes(filled_demo().read_bytes())
        with closing(sqlite3.connect(other, isolation_level=None)) as holder:
            holder.execute("BEGIN IMMEDIATE")
            self.path = other
            self.assertIn("does not let go", self.fault())
        with FileLock(self.folder / ".other.sqlite.lock"):
            self.assertIn("already running", self.fault())

    def test_a_kill_leaves_records_that_open_and_the_file_is_its_owners_only(self) -> None:
        pid = os.fork()
        if pid == 0:
            with opened(self.path) as database:
                with database.write() as session:
                    shop.set_shop(session, "Written before the kill", None, None)
                os.kill(os.getpid(), signal.SIGKILL)
        os.waitpid(pid, 0)
        with opened(self.path) as database, database.read() as session:
            self.assertEqual(shop.the_shop(session).name, "Written before the kill")
            for file in self.folder.glob("orthotome.sqlite*"):
                self.assertEqual(file.stat().st_mode & 0o077, 0, file)


class Upgrades(InAFolder):
    def test_killed_anywhere_in_an_upgrade_it_is_whole_and_was_backed_up_before(self) -> None:
        with closing(sqlite3.connect(self.path)) as old:
            old.executescript(OLD_SHOP)
        content = self.path.read_bytes()
        before = holds(self.path)
        statements = self.upgrade_in_a_fork(None)
        self.assertGreater(statements, KILLS_WHILE_UPGRADING)
        with opened(self.path):
            pass
        whole = self.without_times()
        for n in range(KILLS_WHILE_UPGRADING):
            for file in self.folder.glob("orthotome.sqlite*"):
                file.unlink()
            self.path.write_bytes(content)
            self.upgrade_in_a_fork(1 + n * (statements - 1) // (KILLS_WHILE_UPGRADING - 1))
            with opened(self.path):
                pass
            self.assertEqual(self.without_times(), whole)
        self.assertIn(f"'alembic_version': [('{SHAPES[-1]}',)]", whole)
        newest = backups.backups(self.path)[0]
        self.assertEqual((newest.why, holds(newest.path)), ("before_update", before))

    def without_times(self) -> str:
        """All that the records hold, but for when: what is fitted was noted at the moment of the upgrade."""
        return re.sub(r"\d{4}-\d\d-\d\d \d\d:\d\d:\d\d(\.\d+)?", "then", str(holds(self.path)))

    def upgrade_in_a_fork(self, kill_at: int | None) -> int:
        """Open the records in another process, killed at that statement; how many statements it ran."""
        reading, writing = os.pipe()
        pid = os.fork()
        if pid == 0:
            count = 0
            connect = sqlite3.connect

            def traced(_statement: str) -> None:
                nonlocal count
                count += 1
                if count == kill_at:
                    os.kill(os.getpid(), signal.SIGKILL)

            def traced_connect(*args: object, **kwargs: object) -> sqlite3.Connection:
                made = connect(*args, **kwargs)  # type: ignore[call-overload]
                made.set_trace_callback(traced)
                return made  # type: ignore[no-any-return]

            sqlite3.connect = sqlite3.dbapi2.connect = traced_connect  # type: ignore[assignment]
            with opened(self.path):
                pass
            os.write(writing, str(count).encode())
            os._exit(0)
        os.close(writing)
        os.waitpid(pid, 0)
        with os.fdopen(reading) as said:
            return int(said.read() or 0)


if __name__ == "__main__":
    unittest.main()
