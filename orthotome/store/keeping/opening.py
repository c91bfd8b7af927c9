"""Opening a shop's records: one program at a time, looked at first, backed up before they are changed.

Whatever stands in the way is said in one sentence with what to do; a folder that is not understood is
never taken for that of a new shop.
"""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from filelock import FileLock, Timeout

from orthotome.store.database import Database, practice_records
from orthotome.store.errors import StartFault
from orthotome.store.keeping import backups
from orthotome.store.keeping.files import (
    IN_USE,
    MAKING,
    Unusable,
    asking,
    beside,
    for_owner_only,
    look_inside,
    sweep,
)


@contextmanager
def opened(path: Path, *, afresh: bool = False) -> Iterator[Database]:
    """The database at ``path``, made where there is none, for this program alone until it ends.

    ``afresh`` throws away what is there: for examples only. Raises StartFault in words.
    """
    with held(path):
        if afresh:
            for records in (path, practice_records(path)):
                for file in (records, beside(records, "-wal"), beside(records, "-shm")):
                    file.unlink(missing_ok=True)
        yield from _open(path)


@contextmanager
def held(path: Path) -> Iterator[None]:
    """Keep every other Orthotome off the records at ``path``. Raises StartFault where one runs on them."""
    _usable_folder(path.parent)
    lock = FileLock(path.with_name(f".{path.name}.lock"), timeout=0)
    try:
        lock.acquire()
    except Timeout:
        raise StartFault(
            f"Orthotome is already running on {path}: use the one that runs, or stop it first."
        ) from None
    except OSError as failed:
        raise StartFault(_cannot_write(path.parent, failed)) from None
    try:
        yield
    finally:
        lock.release()


def _open(path: Path) -> Iterator[Database]:
    for begins in (f"{path.name}.", f".{path.name}."):
        sweep(path.parent, begins)
    backups.tidy(path)
    try:
        _examined(path)
        database = Database(path) if path.exists() else _made_new(path)
        for_owner_only(path)
        _mark(path, IN_USE)
    except Unusable as found:
        raise StartFault(_in_words(path, found)) from None
    except sqlite3.DatabaseError as failed:
        raise StartFault(_in_words(path, Unusable("full", str(failed)))) from None
    try:
        yield database
    finally:
        # Marked while the log beside it is still there: killed in between, it is no half copy.
        _mark(path, 0)
        database.close()


def _usable_folder(folder: Path) -> None:
    if folder.exists() and not folder.is_dir():
        raise StartFault(f"{folder} is a file, not a folder: name a folder with --data.")
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError as failed:
        raise StartFault(_cannot_write(folder, failed)) from None
    if not os.access(folder, os.W_OK | os.X_OK):
        raise StartFault(_cannot_write(folder, None))


def _cannot_write(folder: Path, failed: OSError | None) -> str:
    why = f" ({failed.strerror})" if failed is not None and failed.strerror else ""
    return (
        f"The folder {folder} cannot be written to{why}: give this user the right to, make room on its disk, "
        "or name another folder with --data."
    )


def _examined(path: Path) -> None:
    """Look before anything is opened to be changed; an older database is backed up here."""
    log = beside(path, "-wal")
    if not path.exists():
        if log.exists() and log.stat().st_size:
            raise StartFault(
                f"{log.name} is there without {path.name}, which it belongs to: bring the other file back "
                f"beside it, {_or_restore(path)}. Orthotome does not begin a new shop over it."
            )
        return
    if path.is_dir():
        raise StartFault(f"{path} is a folder, where the records' file should be: move it away.")
    alone = not log.exists()
    inside = look_inside(path)
    if inside.in_use and alone:
        raise StartFault(
            f"{path} was copied while Orthotome was running, without the file beside it: what was written "
            f"last is not in it. Use a backup: {_or_restore(path)}. If this is all there is, "
            f"“orthotome rescue {path} --data {path.parent}” takes what it holds."
        )
    if not os.access(path, os.W_OK):
        raise Unusable("read_only")
    with asking(path) as connection:
        connection.execute("BEGIN IMMEDIATE")
        connection.execute("ROLLBACK")
    if inside.is_older:
        backups.make(path, "before_update")


def _made_new(path: Path) -> Database:
    """A new database that gets its name once it is whole: a kill leaves none, or all of it."""
    making = path.with_name(f".{path.name}{MAKING}")  # what one that was killed left is swept away
    Database(making).close()
    making.replace(path)
    return Database(path)


def _mark(path: Path, mark: int) -> None:
    """Write into the file itself, not only into the log beside it, whether a program has it open."""
    with closing(sqlite3.connect(path)) as connection:
        connection.execute(f"PRAGMA user_version={mark}")
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def _or_restore(path: Path) -> str:
    """How to get the records back, naming the newest backup if there is one."""
    newest = next(iter(backups.backups(path)), None)
    if newest is None:
        return f"“orthotome restore FILE --data {path.parent}” takes a backup from wherever one is kept"
    return f"“orthotome restore {newest.path} --data {path.parent}” takes the newest one"


def _in_words(path: Path, found: Unusable) -> str:
    restore = _or_restore(path)
    return {
        "missing": f"{path} is gone.",
        "empty": f"{path} is empty, so its records are not there: {restore}.",
        "bare": f"{path} holds no records, and is no new shop: it may be half of a copy of a running one. "
        f"Use a backup: {restore}.",
        "foreign": f"{path} is not a database of Orthotome: move it away, or name another folder with --data.",
        "newer": f"{path} was written by a newer Orthotome than this one: start that version. Nothing was "
        "changed.",
        "damaged": f"{path} is damaged ({found.detail}) and was left as it is. Get the records back: {restore}.",
        "held": f"Another program has {path} open and does not let go: close it, and start again.",
        "read_only": f"{path} cannot be written to: give this user the right to, or look at the disk.",
        "full": f"The disk of {path} is full or fails ({found.detail}): make room, and start again.",
    }[found.trouble]
