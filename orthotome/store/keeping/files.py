"""The files of a database: its companions beside it, readable by their owner only, and what is inside."""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from orthotome.store.database import SHAPES

OWNER_ONLY = 0o600
_PATIENCE_S = 2.0

RECEIVING, MAKING, RESTORING = ".receiving", ".making", ".restoring"
"""What files are called beside the records until they are whole: of a program that was killed they are left."""
IN_USE = 1
"""``user_version`` while a program has the file open: a file that says so, alone, is half of a copy."""

Trouble = Literal["missing", "empty", "foreign", "newer", "damaged", "held", "read_only", "bare", "full"]


class Unusable(Exception):  # noqa: N818 (what a file is, not what went wrong in us)
    """A database file that cannot be used; ``trouble`` says in which way."""

    def __init__(self, trouble: Trouble, detail: str = "") -> None:
        super().__init__(f"{trouble} {detail}".strip())
        self.trouble: Trouble = trouble
        self.detail = detail


@dataclass(frozen=True)
class Inside:
    """What a sound database file says of itself."""

    shape: str
    in_use: bool

    @property
    def is_older(self) -> bool:
        """Whether opening it brings it up to a newer shape."""
        return self.shape != SHAPES[-1]


def beside(path: Path, suffix: Literal["-wal", "-shm"]) -> Path:
    """The file that the database keeps beside itself while it is open."""
    return path.with_name(path.name + suffix)


def look_inside(path: Path, *, thorough: bool = False) -> Inside:
    """What a database file is, looked at without changing a record. Raises Unusable.

    SQLite alone opens it: a plain ``open`` and ``close`` in the process that serves the file would drop every lock that
    SQLite holds on it there, and an outside program would then take itself for the last one and tidy the log away.
    """
    try:
        if not path.stat().st_size:
            raise Unusable("empty")
        with asking(path) as connection:
            return _asked(connection, thorough)
    except FileNotFoundError:
        raise Unusable("missing") from None
    except OSError as failed:
        raise Unusable("read_only", failed.strerror or "") from None


@contextmanager
def asking(path: Path, *, patience_s: float = _PATIENCE_S) -> Iterator[sqlite3.Connection]:
    """A plain connection, closed afterwards; what SQLite says of the file becomes Unusable."""
    try:
        with closing(sqlite3.connect(path, timeout=patience_s, isolation_level=None)) as connection:
            yield connection
    except sqlite3.DatabaseError as failed:
        raise Unusable(trouble_of(failed), str(failed)) from None


def trouble_of(failed: sqlite3.DatabaseError) -> Trouble:
    """The kind of trouble, by SQLite's own code."""
    code = getattr(failed, "sqlite_errorcode", 0) & 0xFF
    return {
        sqlite3.SQLITE_BUSY: "held",
        sqlite3.SQLITE_LOCKED: "held",
        sqlite3.SQLITE_READONLY: "read_only",
        sqlite3.SQLITE_CANTOPEN: "read_only",
        sqlite3.SQLITE_PERM: "read_only",
        sqlite3.SQLITE_FULL: "full",
        sqlite3.SQLITE_IOERR: "full",
        sqlite3.SQLITE_NOTADB: "foreign",
    }.get(code, "damaged")  # type: ignore[return-value]


def _asked(connection: sqlite3.Connection, thorough: bool) -> Inside:
    check = "integrity_check" if thorough else "quick_check"
    found = [str(line) for (line,) in connection.execute(f"PRAGMA {check}")]
    if found != ["ok"]:
        raise Unusable("damaged", found[0])
    names = {name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type='table'")}
    if not names:
        raise Unusable("bare")
    shape = ""
    if "alembic_version" in names:
        (shape,) = connection.execute("SELECT version_num FROM alembic_version").fetchone() or ("",)
    if shape not in SHAPES:
        raise Unusable("newer" if "shop" in names and shape > SHAPES[-1] else "foreign")
    if thorough and (lost := connection.execute("PRAGMA foreign_key_check").fetchone()):
        raise Unusable("damaged", f"a row of {lost[0]} points to nothing")
    in_use = connection.execute("PRAGMA user_version").fetchone() == (IN_USE,)
    return Inside(shape, in_use)


def sweep(folder: Path, begins: str) -> None:
    """Take away what a program that was killed left half made in a folder, of the files that so begin; only while no
    other program makes such."""
    for left in folder.glob(f"{begins}*"):
        stem = left.name.removesuffix("-wal").removesuffix("-shm").removesuffix("-journal")
        if stem.endswith((RECEIVING, MAKING, RESTORING)) and left.is_file():
            left.unlink(missing_ok=True)


def for_owner_only(path: Path) -> None:
    """Make a database file and its companions readable by their owner only."""
    for file in (path, beside(path, "-wal"), beside(path, "-shm")):
        if file.exists():
            file.chmod(OWNER_ONLY)


def new_file(path: Path) -> None:
    """An empty file that only its owner can read, in the place of whatever was there."""
    path.unlink(missing_ok=True)
    os.close(os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, OWNER_ONLY))


def put_in_place(made: Path, path: Path) -> None:
    """Give a finished file its name: on disk before it is called that, whatever happens in between."""
    with made.open("rb") as file:
        os.fsync(file.fileno())
    made.replace(path)
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)
