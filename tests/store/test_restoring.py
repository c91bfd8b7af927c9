"""A restore stops the world: nothing that was acknowledged is lost, nothing planted travels, nothing half stays."""

import os
import sqlite3
import subprocess
import sys
import threading
import unittest
from collections.abc import Callable
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest.mock import patch

from orthotome.store.database import Database
from orthotome.store.errors import Refused
from orthotome.store.keeping import backups, restoring
from orthotome.store.keeping.opening import opened
from orthotome.store.keeping.sealing import SEAL
from orthotome.store.shop import shop
from orthotome.store.tables import CuttingTable
from tests.store.test_keeping import InAFolder, holds

OUTSIDE = (
    "import sqlite3, sys; c = sqlite3.connect(sys.argv[1]); c.execute('SELECT * FROM shop'); c.close()"
)


class Restored(InAFolder):
    def test_nothing_done_to_the_file_makes_an_outside_program_the_last_one(self) -> None:
        database = self.shop_in_use()
        made = backups.make(self.path, "by_hand")
        log = self.path.with_name(self.path.name + "-wal")
        again = self.folder / "again.backup"
        again.write_bytes(made.path.read_bytes())
        for what, operate in {
            "a backup": lambda: backups.make(self.path, "daily"),
            "a restore": lambda: restoring.restore(made.path, self.path, while_open=True),
            "one brought in": lambda: backups.bring_in(self.path, again),
            "a look": lambda: backups.daily_is_due(self.path, datetime.now(UTC)),
        }.items():
            operate()
            with database.write() as session:
                shop.set_shop(session, f"After {what}", None, None)
            subprocess.run([sys.executable, "-c", OUTSIDE, str(self.path)], check=True)
            self.assertTrue(log.exists(), f"after {what} an outside program tidied the log away")
            self.assertEqual(holds(self.path)["shop"][0][1], f"After {what}")

    def test_whatever_three_writers_were_told_is_saved_is_in_the_shop_or_in_the_safety_copy(
        self,
    ) -> None:
        database = self.shop_in_use()
        made = backups.make(self.path, "by_hand")
        acknowledged: list[str] = []
        stop = threading.Event()

        def write(who: int) -> None:
            n = 0
            while not stop.is_set():
                with database.write() as session:
                    session.add(CuttingTable(name=f"table {who}-{n}"))
                acknowledged.append(f"table {who}-{n}")
                n += 1

        writers = [threading.Thread(target=write, args=(w,)) for w in range(3)]
        for w in writers:
            w.start()
        copies = []
        for n in range(4):
            while len(acknowledged) < 15 * (n + 1):
                stop.wait(0.001)
            copies.append(restoring.restore(made.path, self.path, while_open=True))
        stop.set()
        for w in writers:
            w.join()
        files = [self.path, *(c for c in copies if c)]
        there = {row[1] for file in files for row in holds(file)["cutting_table"]}
        self.assertEqual(set(acknowledged) - there, set())

    def test_one_restore_at_a_time(self) -> None:
        self.shop_in_use()
        made = backups.make(self.path, "by_hand")
        refused: list[str] = []

        def meanwhile(database: Path, why: backups.Why) -> backups.Backup:
            with self.assertRaises(Refused) as second:
                restoring.restore(made.path, self.path, while_open=True)
            refused.append(second.exception.sentence)
            return make(database, why)

        make = backups.make
        with patch.object(restoring.backups, "make", meanwhile):
            restoring.restore(made.path, self.path, while_open=True)
        self.assertIn("Another restore is under way", refused[0])
        self.assertEqual(len(holds(self.path)["trial"]), 3)

    def test_killed_anywhere_in_a_restore_the_shop_is_as_it_was_or_restored_and_nothing_is_left_over(
        self,
    ) -> None:
        with opened(self.path) as database, database.write() as session:
            shop.set_shop(session, "Then", None, None)
        made = backups.make(self.path, "by_hand")
        with opened(self.path) as database, database.write() as session:
            shop.set_shop(session, "Now", None, None)
        steps = (
            "check_is_backup",
            "_bring_up",
            "_put_in_place",
            "copy_rows",
            "photo_files.copy_missing",
        )
        seen = set()
        for step in steps:
            pid = os.fork()
            if pid == 0:
                self.killed_in(step, made.path)
            self.assertEqual(os.waitpid(pid, 0)[1], 9, step)
            with opened(self.path):
                pass
            seen.add(holds(self.path)["shop"][0][1])
            self.assertEqual([p.name for p in self.folder.iterdir() if "restoring" in p.name], [], step)
        self.assertEqual(seen, {"Now", "Then"})

    def killed_in(self, step: str, backup: Path) -> None:
        """Restore, and die as soon as that step is done but for what follows it."""
        where = {"check_is_backup": backups, "photo_files.copy_missing": restoring.photo_files}
        name = step.rpartition(".")[2]
        of = where.get(step, restoring)
        done: Callable[..., object] = getattr(of, name)

        def then_killed(*args: object, **kwargs: object) -> None:
            done(*args, **kwargs)
            os.kill(os.getpid(), 9)

        with patch.object(of, name, then_killed), opened(self.path):
            restoring.restore(backup, self.path, while_open=True)
        os._exit(1)


class Brought(InAFolder):
    def planted(self, *statements: str, sealed: bool = False) -> Path:
        """A backup as a hostile or a tired hand left it."""
        made = self.folder / "made.backup"
        made.write_bytes(self.good)
        with closing(sqlite3.connect(made, isolation_level=None)) as file:
            for statement in (*([] if sealed else [f"DROP TABLE {SEAL}"]), *statements):
                file.execute(statement)
        return made

    def setUp(self) -> None:
        super().setUp()
        self.shop_in_use()
        self.good = backups.make(self.path, "by_hand").path.read_bytes()
        self.then = holds(self.path)

    def test_neither_triggers_nor_views_nor_tables_of_others_travel(self) -> None:
        hostile = self.planted(
            "CREATE TABLE planted (x)",
            "CREATE VIEW seen AS SELECT * FROM shop",
            "CREATE TRIGGER back AFTER DELETE ON device BEGIN INSERT INTO planted VALUES (1); END",
            "CREATE INDEX slow ON cut (abs(number))",
            "PRAGMA page_size = 512",
            "VACUUM",
            "INSERT INTO device SELECT * FROM device",
        )
        before = self.schema()
        restoring.restore(hostile, self.path, while_open=True)
        self.assertEqual(self.schema(), before)
        self.assertEqual(holds(self.path), self.then)

    def schema(self) -> list[tuple[object, ...]]:
        with closing(sqlite3.connect(self.path)) as file:
            return file.execute(
                "SELECT type, name, sql FROM sqlite_master ORDER BY type, name"
            ).fetchall()

    def test_what_no_backup_of_ours_holds_is_refused_by_its_name_before_anything_moves(self) -> None:
        for named, statement in {
            "settings of row 1 of cutting_table": "UPDATE cutting_table SET settings = '{no json' WHERE id = 1",
            "speed_mm_min of row 1 of cut": "UPDATE cut SET speed_mm_min = 'fast' WHERE id = 1",
            "cut lacks note": "ALTER TABLE cut DROP COLUMN note",
            "spot_check is missing": "DROP TABLE spot_check",
            "logged_at of row 1 of cut": "UPDATE cut SET logged_at = 'Tuesday' WHERE id = 1",
            "points to nothing": "UPDATE cut SET trial_id = 900 WHERE id = 1",
            "shape 0014, and": "UPDATE alembic_version SET version_num = '0014'",
            "cut has colour": "ALTER TABLE cut ADD COLUMN colour",
        }.items():
            with self.subTest(named), self.assertRaises(Refused) as refused:
                restoring.restore(self.planted(statement), self.path, while_open=True)
            self.assertIn(named, refused.exception.sentence)
            self.assertEqual(holds(self.path), self.then)
        self.assertEqual([b.why for b in backups.backups(self.path)], ["by_hand"])

    def test_a_photo_is_named_by_a_digest_and_never_by_a_path(self) -> None:
        hostile = self.planted(self.with_photo("../../outside"))
        with self.assertRaises(Refused) as refused:
            restoring.restore(hostile, self.path, while_open=True)
        self.assertIn("digest of row", refused.exception.sentence)

    def with_photo(self, digest: str) -> str:
        """The statement that adds a photo of that name to the first trial."""
        with closing(sqlite3.connect(self.path)) as file:
            columns = file.execute("PRAGMA table_info(photo)").fetchall()
            (trial,) = file.execute("SELECT id FROM trial LIMIT 1").fetchone()
        told = {"trial_id": trial, "digest": digest, "added_at": "2026-11-25 06:00:00"}
        usual = {
            name: 0 if kind in ("INTEGER", "FLOAT", "BOOLEAN") else "" for _, name, kind, *_ in columns
        }
        names = [name for _, name, _, needed, *_ in columns if needed and name != "id"]
        values = ", ".join(repr(told.get(n, usual[n])) for n in names)
        return f"INSERT INTO photo ({', '.join(names)}) VALUES ({values})"

    def test_one_letter_that_differs_breaks_the_seal(self) -> None:
        changed = self.planted("UPDATE cut SET note = note || '.' WHERE id = 1", sealed=True)
        with self.assertRaises(Refused) as refused:
            backups.bring_in(self.path, changed)
        self.assertIn("does not hold what it was made with", refused.exception.sentence)

    def test_four_brought_in_at_once_are_four(self) -> None:
        files = [self.folder / f"{n}.receiving" for n in range(4)]
        for file in files:
            file.write_bytes(self.good)
        names: list[str] = []
        bring = [
            threading.Thread(target=lambda f=f: names.append(backups.bring_in(self.path, f).name))  # type: ignore[misc]
            for f in files
        ]
        for b in bring:
            b.start()
        for b in bring:
            b.join()
        self.assertEqual(len(set(names)), 4)
        self.assertEqual(len(backups.backups(self.path)), 5)


class Clocks(InAFolder):
    def test_a_clock_that_was_ahead_does_not_end_the_days_backups(self) -> None:
        Database(self.path).close()
        now = datetime.now(UTC)
        backups.make(self.path, "daily", now + timedelta(days=900))
        self.assertTrue(backups.daily_is_due(self.path, now))
        self.assertIn("dated later than this machine's clock", backups.dated_ahead(self.path, now))
        backups.make(self.path, "daily", now - timedelta(hours=23))
        self.assertFalse(backups.daily_is_due(self.path, now))
        # The clock goes back over midnight: the next is due by the clock as it is, and overwrites none.
        earlier = now - timedelta(days=2)
        self.assertTrue(backups.daily_is_due(self.path, earlier))
        made = [backups.make(self.path, why, earlier) for why in ("by_hand", "by_hand", "daily")]
        self.assertEqual(len({b.name for b in made}), 3)
        self.assertEqual(len(backups.backups(self.path)), 5)

    def test_what_a_killed_program_left_half_made_is_swept_away_at_the_start_and_nothing_else(
        self,
    ) -> None:
        Database(self.path).close()
        folder = backups.make(self.path, "by_hand").path.parent
        left = [
            self.folder / f".{self.path.name}.x.receiving",
            self.folder / f"{self.path.name}.restoring-wal",
            folder / "orthotome-20261125-060000-daily.making",
        ]
        stays = self.folder / "notes.making"
        for file in (*left, stays):
            file.write_bytes(b"half")
        with opened(self.path):
            pass
        self.assertEqual([f for f in left if f.exists()], [])
        self.assertTrue(stays.exists())


if __name__ == "__main__":
    unittest.main()
