"""Backups: one file that holds everything, opened and checked before it is called one.

A backup is made while the shop works. It is an ordinary database of the same shape, on its own: nothing
lies beside it. Its name says when it was made (UTC) and why.
"""

import re
import sqlite3
from collections.abc import Iterable, Iterator, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Literal, get_args

from filelock import FileLock

from orthotome.store.errors import NotFound, Refused
from orthotome.store.keeping.files import (
    MAKING,
    Unusable,
    asking,
    look_inside,
    new_file,
    put_in_place,
    sweep,
    trouble_of,
)
from orthotome.store.keeping.sealing import check_seal, seal

Why = Literal["by_hand", "daily", "before_update", "before_restore", "brought_in"]

_STAMP = "%Y%m%d-%H%M%S"
_NAME = re.compile(rf"orthotome-(\d{{8}}-\d{{6}})-({'|'.join(get_args(Why))})(-\d+)?\.backup")
_DAY = timedelta(days=1)
_CLOCKS_DIFFER = timedelta(minutes=10)
_KEPT_DAYS, _KEPT_WEEKS, _KEPT_MONTHS = 7, 8, 12
_KEPT_OF_A_KIND = 10


@dataclass(frozen=True)
class Backup:
    """A backup on disk."""

    path: Path
    made_at: datetime
    why: Why
    bytes: int

    @property
    def name(self) -> str:
        """Its file's name, by which it is asked for."""
        return self.path.name


def folder_of(database: Path) -> Path:
    """Where the backups of a database lie: beside it, those of the demo apart."""
    name = "backups" if database.stem == "orthotome" else f"{database.stem}-backups"
    return database.with_name(name)


def backups(database: Path) -> list[Backup]:
    """The backups of a database, newest first."""
    folder = folder_of(database)
    found = [_backup(path) for path in folder.iterdir()] if folder.is_dir() else []
    return sorted((b for b in found if b), key=lambda b: (b.made_at, b.name), reverse=True)


def _backup(path: Path) -> Backup | None:
    match = _NAME.fullmatch(path.name)
    if match is None:
        return None
    made_at = datetime.strptime(match[1], _STAMP).replace(tzinfo=UTC)
    return Backup(path, made_at, match[2], path.stat().st_size)  # type: ignore[arg-type]


def backup_named(database: Path, name: str) -> Backup:
    """One backup by its name. Raises NotFound."""
    for found in backups(database):
        if found.name == name:
            return found
    raise NotFound("There is no such backup: it may have been thinned out.", "name")


@contextmanager
def _naming(database: Path) -> Iterator[Path]:
    """The folder of a database's backups, while nobody else gives a name in it: no process and no thread."""
    folder = folder_of(database)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    with FileLock(folder / ".lock"):
        yield folder


def make(database: Path, why: Why, now: datetime | None = None) -> Backup:
    """A backup of a database, also while it is written to; opened and checked, or not kept.

    Raises Unusable where the database or the disk does not allow it.
    """
    try:
        with _naming(database) as folder:
            path = _free_name(folder, why, now or datetime.now(UTC))
            making = path.with_suffix(MAKING)
            try:
                copy_whole(database, making)
                put_in_place(making, path)
            finally:
                making.unlink(missing_ok=True)
            thin_out(database)
    except OSError as failed:
        raise Unusable("full", failed.strerror or "") from None
    made = _backup(path)
    assert made is not None
    return made


def tidy(database: Path) -> None:
    """Take away what a backup that was killed left half made."""
    if folder_of(database).is_dir():
        with _naming(database) as folder:
            sweep(folder, "orthotome-")


def _free_name(folder: Path, why: Why, now: datetime) -> Path:
    stem = f"orthotome-{now.strftime(_STAMP)}-{why}"
    tries = (folder / f"{stem}{f'-{n}' if n else ''}.backup" for n in range(1000))
    return next(path for path in tries if not path.exists())


def copy_whole(database: Path, target: Path) -> None:
    """Copy what a database holds at one moment into a file of its own, and check that file thoroughly."""
    new_file(target)
    with asking(database) as source, closing(sqlite3.connect(target)) as copy:
        source.backup(copy)
        # On its own: neither a log beside it nor the mark of a file that a program has open.
        copy.execute("PRAGMA journal_mode=DELETE")
        copy.execute("PRAGMA user_version=0")
        seal(copy)
    look_inside(target, thorough=True)


def daily_is_due(database: Path, now: datetime) -> bool:
    """Whether the newest backup of any kind is a day old. One that is dated later than now was made while the clock was
    wrong, and says nothing of when the next is due."""
    newest = max((b.made_at for b in backups(database) if b.made_at <= now), default=None)
    return newest is None or now - newest >= _DAY


def dated_ahead(database: Path, now: datetime) -> str:
    """What to say of backups that are dated later than now, in a sentence; nothing where there is none."""
    ahead = [b for b in backups(database) if b.made_at > now + _CLOCKS_DIFFER]
    if not ahead:
        return ""
    many = "One backup is" if len(ahead) == 1 else f"{len(ahead)} backups are"
    return (
        f"{many} dated later than this machine's clock: it is wrong now, or was then. The days' backups go on by the "
        "clock as it is; set it right if it is not."
    )


def thin_out(database: Path) -> None:
    """Take away what need not be kept any longer."""
    now = datetime.now(UTC)
    found = [b for b in backups(database) if b.made_at <= now]  # of a wrong clock nothing is thrown away
    for unwanted in set(found) - kept(found):
        unwanted.path.unlink(missing_ok=True)


def kept(found: Iterable[Backup]) -> set[Backup]:
    """Which of some backups to keep.

    Of the daily ones the newest of each of seven days, eight weeks and twelve months; of those made for a
    reason the ten newest of each reason.
    """
    newest_first = sorted(found, key=lambda b: (b.made_at, b.name), reverse=True)
    daily = [b for b in newest_first if b.why == "daily"]
    keep: set[Backup] = set()
    for form, most in (("%Y-%j", _KEPT_DAYS), ("%G-%V", _KEPT_WEEKS), ("%Y-%m", _KEPT_MONTHS)):
        keep |= set(_newest_of_each(daily, form)[:most])
    for why in get_args(Why):
        if why != "daily":
            keep |= set([b for b in newest_first if b.why == why][:_KEPT_OF_A_KIND])
    return keep


def _newest_of_each(newest_first: Sequence[Backup], form: str) -> list[Backup]:
    first: dict[str, Backup] = {}
    for backup in newest_first:
        first.setdefault(backup.made_at.strftime(form), backup)
    return list(first.values())


def bring_in(database: Path, received: Path) -> Backup:
    """Keep a file that came from elsewhere as a backup, once it has been opened and found whole.

    Raises Refused in words where it is none.
    """
    check_is_backup(received)
    with _naming(database) as folder:
        path = _free_name(folder, "brought_in", datetime.now(UTC))
        put_in_place(received, path)
    made = _backup(path)
    assert made is not None
    return made


NOT_A_BACKUP = {
    "missing": "There is no such file.",
    "empty": "That file is empty: it is no backup.",
    "bare": "That file holds no records. It may be half of a copy of a running shop: use a backup that "
    "Orthotome made.",
    "foreign": "That is not a backup of Orthotome: its name ends in .backup.",
    "newer": "That backup was made by a newer Orthotome than this one: install that version first.",
    "damaged": "That backup is damaged, and nothing was restored from it{detail}: use another one.",
    "held": "Another program has that file open: close it, and try again.",
    "read_only": "That file cannot be read by this user.",
    "full": "The disk is full or fails: nothing was restored. Make room, and try again.",
}


def check_is_backup(path: Path) -> None:
    """Open a file and check all that it holds. Raises Refused in words."""
    try:
        inside = look_inside(path, thorough=True)
        with asking(path) as connection:
            check_seal(connection)
    except Unusable as found:
        raise refused(found) from None
    if inside.in_use:
        raise refused(Unusable("bare"))


def refused(found: Unusable) -> Refused:
    """Why a file is not taken for a backup, in words."""
    detail = f" ({found.detail})" if found.detail else ""
    return Refused(NOT_A_BACKUP[found.trouble].format(detail=detail), "backup")


def in_words(failed: sqlite3.DatabaseError | Unusable) -> str:
    """Why no backup could be made, for the operator."""
    trouble = failed.trouble if isinstance(failed, Unusable) else trouble_of(failed)
    if trouble in ("full", "read_only"):
        return "The disk is full or read-only: no backup was made. Make room, or look at the disk."
    if trouble == "damaged":
        return "The records could not be read whole: no backup was made. Restore the newest good one."
    return "The records are held by another program: no backup was made. Try again in a minute."
