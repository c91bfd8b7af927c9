"""The seal of a backup: a digest of all that its tables hold, so that one letter that differs is found out.

SQLite finds pages that are torn, and not a digit that was changed. A backup that was made before there were seals has
none, and is taken as it is.
"""

import hashlib
import sqlite3

from orthotome.store.keeping.files import Unusable

SEAL = "backup_seal"


def seal(backup: sqlite3.Connection) -> None:
    """Write the digest of everything else into the file."""
    backup.execute(f"DROP TABLE IF EXISTS {SEAL}")
    backup.execute(f"CREATE TABLE {SEAL} (sha256 TEXT NOT NULL)")
    backup.execute(f"INSERT INTO {SEAL} VALUES (?)", (_digest(backup),))
    backup.commit()


def check_seal(backup: sqlite3.Connection) -> None:
    """Raise Unusable where a sealed file holds anything but what it was sealed with."""
    if SEAL not in tables_of(backup):
        return
    if backup.execute(f"SELECT sha256 FROM {SEAL}").fetchall() != [(_digest(backup),)]:
        raise Unusable("damaged", "it does not hold what it was made with")


def tables_of(connection: sqlite3.Connection, schema: str = "main") -> list[str]:
    """The names of the tables that somebody made in a file, in alphabetical order; no view and no virtual one."""
    found = connection.execute(
        f"SELECT name FROM {schema}.sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\'"
        " AND sql NOT LIKE 'CREATE VIRTUAL%' ORDER BY name"
    )
    return [name for (name,) in found]


def _digest(backup: sqlite3.Connection) -> str:
    found = hashlib.sha256()
    for name in tables_of(backup):
        if name == SEAL:
            continue
        rows = backup.execute(f"SELECT * FROM {quoted(name)} NOT INDEXED ORDER BY rowid")
        found.update(repr((name, [c[0] for c in rows.description])).encode())
        for row in rows:
            found.update(repr(row).encode("utf-8", "surrogatepass"))
    return found.hexdigest()


def quoted(name: str) -> str:
    """A name as SQL takes it, whatever letters it has."""
    return '"' + name.replace('"', '""') + '"'
