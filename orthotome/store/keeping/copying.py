"""Records of another file taken over row by row: known tables and columns, of the right kind, into tables of our own.

Whatever else the file has (triggers, views, indexes, tables that nobody knows) stays behind.
"""

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from sqlalchemy import Boolean, Column, DateTime, Float, Integer, LargeBinary, TypeDecorator
from sqlmodel import SQLModel

from orthotome.store import tables as _tables  # noqa: F401 (they register themselves)
from orthotome.store.database import Database, made_in_shape
from orthotome.store.keeping.files import Unusable, new_file
from orthotome.store.keeping.sealing import quoted, tables_of
from orthotome.store.row import JsonText

_STEPS_AT_ONCE = 1_000_000
_MOST_STEPS = 2_000  # of a million: minutes of work; a file that asks for more was made to. Assumption
_KEPT_KINDS: dict[type, str] = {
    Boolean: "integer",
    Integer: "integer",
    Float: "real",
    LargeBinary: "blob",
}
_NAMED_BY_DIGEST = {"photo": ("digest",), "inspection": ("photo",)}
"""Columns that name a file beside the records."""


def taken_over(source: Path, target: Path, shape: str) -> None:
    """Make a database of the newest shape at ``target`` with the records of ``source``, which says of itself that it is
    of that ``shape``. Raises Unusable, naming what is wrong with which column of which table."""
    new_file(target)
    made_in_shape(target, shape)
    with closing(sqlite3.connect(target, isolation_level=None)) as copy:
        copy.execute("PRAGMA trusted_schema = OFF")
        copy.execute("ATTACH ? AS given", (str(source),))
        _check_known(copy, shape)
        with _bounded(copy):
            copy_rows(copy, "given")
        copy.execute("DETACH given")
    Database(target).close()
    with closing(sqlite3.connect(target)) as copy:
        copy.execute("PRAGMA journal_mode=DELETE")
        _check_kinds(copy)


def copy_rows(target: sqlite3.Connection, of: str) -> None:
    """Put the rows of the attached database ``of`` in the place of those of the same tables, in one transaction.

    Triggers that keep rows as they are rest meanwhile. Raises Unusable for rows that a table does not take.
    """
    with one_transaction(target):
        resting = target.execute(
            "SELECT name, sql FROM main.sqlite_master WHERE type='trigger'"
        ).fetchall()
        for name, _ in resting:
            target.execute(f"DROP TRIGGER {quoted(name)}")
        there = set(tables_of(target, of))
        for table in tables_of(target):
            target.execute(f"DELETE FROM main.{quoted(table)}")
            if table not in there:
                continue
            columns = ", ".join(quoted(c) for c in _columns(target, "main", table))
            try:
                target.execute(
                    f"INSERT INTO main.{quoted(table)} ({columns}) SELECT {columns} FROM {of}.{quoted(table)} NOT INDEXED"
                )
            except sqlite3.IntegrityError as refused:
                raise Unusable("damaged", f"{table}: {refused}") from None
        for _, made in resting:
            target.execute(made)


@contextmanager
def one_transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """All of it or nothing; within one that is under way already, part of that one."""
    if connection.in_transaction:
        yield
        return
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


def _columns(connection: sqlite3.Connection, schema: str, table: str) -> list[str]:
    """The columns of a table that are kept, and not worked out."""
    found = connection.execute(f"PRAGMA {schema}.table_xinfo({quoted(table)})")
    return [name for _, name, _, _, _, _, hidden in found if not hidden]


def _check_known(copy: sqlite3.Connection, shape: str) -> None:
    """Raise Unusable where a table lacks a column, or the file has what its shape did not have yet."""
    given = set(tables_of(copy, "given"))
    later = given & set(SQLModel.metadata.tables) - set(tables_of(copy))
    if later:
        raise Unusable(
            "damaged", f"it says that it is of shape {shape}, and holds the later {min(later)}"
        )
    for table in tables_of(copy):
        ours, theirs = set(_columns(copy, "main", table)), set(_columns(copy, "given", table))
        if table in given and ours != theirs:
            less, more = ours - theirs, theirs - ours
            told = f"lacks {min(less)}" if less else f"has {min(more)}, which shape {shape} had not"
            raise Unusable("damaged", f"{table} {told}")
        if table not in given:
            raise Unusable("damaged", f"{table} is missing")


@contextmanager
def _bounded(connection: sqlite3.Connection) -> Iterator[None]:
    """Whatever a foreign file asks for ends after so much work."""
    steps = 0

    def step() -> bool:
        nonlocal steps
        steps += 1
        return steps > _MOST_STEPS

    connection.set_progress_handler(step, _STEPS_AT_ONCE)
    try:
        yield
    except sqlite3.OperationalError as stopped:
        raise Unusable("damaged", str(stopped)) from None
    finally:
        connection.set_progress_handler(None, 0)


def _check_kinds(copy: sqlite3.Connection) -> None:
    """Raise Unusable for a word where a number is, for text that is no JSON where JSON is, for a row that points to
    nothing, and for a photo that is not named by a digest."""
    for table in SQLModel.metadata.sorted_tables:
        for column in table.columns:
            wrong = copy.execute(
                f"SELECT rowid FROM {quoted(table.name)} WHERE NOT ({_is_right(column)}) LIMIT 1"
            ).fetchone()
            if wrong:
                raise Unusable(
                    "damaged", f"{column.name} of row {wrong[0]} of {table.name} cannot be that"
                )
    if lost := copy.execute("PRAGMA foreign_key_check").fetchone():
        raise Unusable("damaged", f"a row of {lost[0]} points to nothing")


def _is_right(column: Column[object]) -> str:
    """What is true in SQL of every value that a column may hold."""
    name = quoted(column.name)
    empty = f"{name} IS NULL OR " if column.nullable else ""
    if isinstance(column.type, JsonText):
        return f"{empty}(typeof({name}) = 'text' AND ({name} = '' OR json_valid({name})))"
    of_type = column.type.impl_instance if isinstance(column.type, TypeDecorator) else column.type
    if isinstance(of_type, DateTime):
        return f"{empty}(typeof({name}) = 'text' AND julianday({name}) IS NOT NULL)"
    kind = next((k for of, k in _KEPT_KINDS.items() if isinstance(of_type, of)), "text")
    kinds = "('integer', 'real')" if kind == "real" else f"('{kind}')"
    right = f"typeof({name}) IN {kinds}"
    if column.name in _NAMED_BY_DIGEST.get(column.table.name, ()):
        digest = f"({name} = '' OR (length({name}) = 64 AND {name} NOT GLOB '*[^0-9a-f]*'))"
        return f"{empty}({right} AND {digest})"
    return f"{empty}{right}"
