"""Getting records back from a backup: all of it or nothing, and what was there is kept as a backup too."""

import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path

from filelock import FileLock, Timeout

from orthotome.store.database import Database
from orthotome.store.errors import Refused
from orthotome.store.keeping import backups
from orthotome.store.keeping.copying import copy_rows, one_transaction, taken_over
from orthotome.store.keeping.files import (
    RESTORING,
    Unusable,
    asking,
    beside,
    look_inside,
    put_in_place,
)
from orthotome.store.log import photo_files

_PATIENCE_S = 8.0


def restore(backup: Path, database: Path, *, while_open: bool = False) -> Path | None:
    """Put what a backup holds in the place of a database, open or not; where what was there now lies. Photos that lie
    beside the backup are copied where they are missing.

    The backup is opened and checked, and taken over into tables of the newest shape beside the database first. A
    database that is whole is overwritten in one transaction, in which its safety copy is made: whoever writes waits
    from there on, so that all that was acknowledged is in that copy, or comes after. One that is not whole is moved
    aside, which cannot be done ``while_open``: whoever has it open would go on writing to what was moved. Raises
    Refused in words where it cannot be done, also while another restore is under way, and then nothing is another.
    """
    with _one_at_a_time(database):
        backups.check_is_backup(backup)
        ready = database.with_name(f"{database.name}{RESTORING}")
        try:
            _bring_up(backup, ready)
            was = _put_in_place(ready, database, while_open=while_open)
            photo_files.copy_missing(backup.with_name("photos"), photo_files.folder_of(database))
            return was
        except (OSError, sqlite3.DatabaseError) as failed:
            raise Refused(
                f"Nothing was restored, and what was there is as it was: {failed}. Make room or look at the "
                "disk, and try again.",
                "backup",
            ) from None
        finally:
            for left in (ready, beside(ready, "-wal"), beside(ready, "-shm")):
                left.unlink(missing_ok=True)


@contextmanager
def _one_at_a_time(database: Path) -> Iterator[None]:
    folder = backups.folder_of(database)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    try:
        with FileLock(folder / ".restoring.lock", timeout=0):
            yield
    except Timeout:
        raise Refused(
            "Another restore is under way: wait until it is done, look at what it brought, and then ask again.",
            "backup",
        ) from None


def rescue(copied: Path, database: Path) -> Path | None:
    """Take what a database holds that was copied without its companion. Raises Refused in words."""
    whole = database.with_name(f"{database.name}.rescued")
    try:
        backups.copy_whole(copied, whole)
        if copied.resolve() == database.resolve():
            was = _move_aside(database)
            restore(whole, database)
            return was
        return restore(whole, database)
    except Unusable as found:
        raise Refused(backups.NOT_A_BACKUP[found.trouble], "copied") from None
    finally:
        whole.unlink(missing_ok=True)


def _bring_up(backup: Path, ready: Path) -> None:
    try:
        taken_over(backup, ready, look_inside(backup).shape)
    except Unusable as found:
        raise backups.refused(found) from None
    with closing(sqlite3.connect(ready)) as made:
        # Who was let in then is not let in now: devices are paired again after a restore.
        made.execute("DELETE FROM pin_try")
        made.execute("DELETE FROM device")
        made.commit()


def _put_in_place(ready: Path, database: Path, *, while_open: bool) -> Path | None:
    """Where what was there now lies."""
    if not database.exists():
        put_in_place(ready, database)
        return None
    try:
        if look_inside(database).is_older:
            backups.make(database, "before_update")
            Database(database).close()
        return _overwrite(database, ready)
    except Unusable as found:
        if found.trouble in ("full", "held", "read_only"):
            raise OSError(backups.in_words(found)) from None
        if while_open:
            raise Refused(
                "The records that are there are damaged: stop Orthotome, and restore with “orthotome restore” on "
                "the command line. Nothing was changed.",
                "backup",
            ) from None
    aside = _move_aside(database)
    put_in_place(ready, database)
    return aside


def _move_aside(database: Path) -> Path | None:
    there = [p for p in (database, beside(database, "-wal"), beside(database, "-shm")) if p.exists()]
    if not there:
        return None
    aside = backups.folder_of(database) / f"set-aside-{datetime.now(UTC):%Y%m%d-%H%M%S}"
    aside.mkdir(mode=0o700, parents=True, exist_ok=True)
    for path in there:
        shutil.move(path, aside / path.name)
    return aside


def _overwrite(database: Path, ready: Path) -> Path:
    """Write all rows over those of a database that may be open, and where its safety copy lies. Readers see the old ones
    until all are there, and writers wait from the safety copy on."""
    with asking(database, patience_s=_PATIENCE_S) as there:
        there.execute("PRAGMA synchronous=FULL")
        there.execute("ATTACH ? AS ready", (str(ready),))
        with one_transaction(there):
            kept = backups.make(database, "before_restore").path
            copy_rows(there, "ready")
        return kept
