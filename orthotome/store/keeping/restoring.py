"""Getting records back from a backup: all of it or nothing, and what was there is kept as a backup too."""

import shutil
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from orthotome.store.database import Database
from orthotome.store.errors import Refused
from orthotome.store.keeping import backups
from orthotome.store.keeping.files import (
    Unusable,
    asking,
    beside,
    look_inside,
    new_file,
    put_in_place,
)
from orthotome.store.log import photo_files

_PATIENCE_S = 8.0


def restore(backup: Path, database: Path, *, while_open: bool = False) -> Path | None:
    """Put what a backup holds in the place of a database, open or not; where what was there now lies. Photos that lie
    beside the backup are copied where they are missing.

    The backup is opened, checked and brought up to the newest shape beside the database first. A database
    that is whole is overwritten in one transaction; one that is not is moved aside, which cannot be done
    ``while_open``: whoever has it open would go on writing to what was moved. Raises Refused in words where it
    cannot be done, and then nothing is another.
    """
    backups.check_is_backup(backup)
    ready = database.with_name(f"{database.name}.restoring")
    try:
        _bring_up(backup, ready)
        was = _keep_what_is_there(database, while_open=while_open)
        if database.exists():
            _overwrite(database, ready)
        else:
            put_in_place(ready, database)
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
    new_file(ready)
    with closing(sqlite3.connect(backup)) as source, closing(sqlite3.connect(ready)) as copy:
        source.backup(copy)
    Database(ready).close()
    with closing(sqlite3.connect(ready)) as made:
        # Who was let in then is not let in now: devices are paired again after a restore.
        made.execute("DELETE FROM device")
        made.commit()
        made.execute("PRAGMA journal_mode=DELETE")


def _keep_what_is_there(database: Path, *, while_open: bool) -> Path | None:
    try:
        look_inside(database)
        return backups.make(database, "before_restore").path
    except Unusable as found:
        if found.trouble in ("full", "held", "read_only"):
            raise OSError(backups.in_words(found)) from None
        if while_open:
            raise Refused(
                "The records that are there are damaged: stop Orthotome, and restore with “orthotome restore” on "
                "the command line. Nothing was changed.",
                "backup",
            ) from None
        return _move_aside(database)


def _move_aside(database: Path) -> Path | None:
    there = [p for p in (database, beside(database, "-wal"), beside(database, "-shm")) if p.exists()]
    if not there:
        return None
    aside = backups.folder_of(database) / f"set-aside-{datetime.now(UTC):%Y%m%d-%H%M%S}"
    aside.mkdir(mode=0o700, parents=True, exist_ok=True)
    for path in there:
        shutil.move(path, aside / path.name)
    return aside


def _overwrite(database: Path, ready: Path) -> None:
    """Write a whole database over one that may be open: readers see the old one until all is there."""
    with asking(database) as there:
        (mark,) = there.execute("PRAGMA user_version").fetchone()
    with closing(sqlite3.connect(ready)) as source:
        source.execute(f"PRAGMA user_version={int(mark)}")
        with closing(sqlite3.connect(database, timeout=_PATIENCE_S)) as target:
            source.backup(target)
