"""The database file: opening it, its pragmas, its migrations, and sessions to read and write.

Write-ahead log with ``synchronous=FULL``: once a commit returns, the change is on disk and a kill at
any moment loses nothing. Every change is one transaction that takes the write lock at its start.
"""

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TypeVar

from sqlalchemy import Connection, Engine, event, inspect, text
from sqlmodel import Session, create_engine

_BUSY_MS = 8000
_NO_LIMIT = 0
_MIGRATIONS = Path(__file__).parent / "migrations"

SHAPES = tuple(sorted(p.name.partition("_")[0] for p in (_MIGRATIONS / "versions").glob("[0-9]*.py")))
"""Every shape the database ever had, oldest first: the migrations are numbered, and named after it."""


def practice_records(shop_records: Path) -> Path:
    """Where the records of the practice tables are: beside the shop's."""
    return shop_records.with_name(f"{shop_records.stem}.practice{shop_records.suffix}")


_WORKED_OUT = "worked out"
T = TypeVar("T")


def once_a_question(session: Session, key: tuple[object, ...], work: Callable[[], T]) -> T:
    """What ``work`` finds, worked out once for all that one reading session asks: nothing changes while it reads. In a
    session that writes it is worked out each time."""
    kept: dict[tuple[object, ...], T] | None = session.info.get(_WORKED_OUT)
    if kept is None:
        return work()
    if key not in kept:
        kept[key] = work()
    return kept[key]


class Database:
    """One SQLite file, migrated to the newest shape when it is opened."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self.engine = _engine(path)
        self.changes = 0
        """How many changes were made since it was opened: while it stays, whatever was read is still so."""
        # A table that others point to is made anew under its own name: that is checked afterwards.
        with self.engine.execution_options(write=True, migrating=True).begin() as connection:
            _migrate(connection)

    @contextmanager
    def read(self) -> Iterator[Session]:
        """A session that sees one consistent state and changes nothing."""
        with Session(self.engine, info={_WORKED_OUT: {}}) as session:
            yield session

    @contextmanager
    def write(self, by: str = "") -> Iterator[Session]:
        """One change by a person: committed when the block ends, undone whole when it raises."""
        engine = self.engine.execution_options(write=True)
        with Session(engine, expire_on_commit=False, info={"by": by}) as session, session.begin():
            yield session
        self.changed()

    @contextmanager
    def quietly(self) -> Iterator[Session]:
        """A change that no answer depends on, such as samples that come all the time: it is not counted."""
        with (
            Session(self.engine.execution_options(write=True), expire_on_commit=False) as session,
            session.begin(),
        ):
            yield session

    def changed(self) -> None:
        """Count a change; whoever changes the records by another way says so here."""
        self.changes += 1

    def close(self) -> None:
        """Let go of the file."""
        self.engine.dispose()


def made_in_shape(path: Path, shape: str) -> None:
    """Give the file at ``path`` the empty tables that the database had in one of its ``SHAPES``."""
    engine = _engine(path)
    with engine.execution_options(write=True, migrating=True).begin() as connection:
        _migrate(connection, shape)
    engine.dispose()


def _engine(path: Path) -> Engine:
    # As many connections as there are requests at once: a request that waits for another's advice holds one.
    engine = create_engine(
        f"sqlite:///{path}", connect_args={"check_same_thread": False}, pool_size=_NO_LIMIT
    )

    @event.listens_for(engine, "connect")
    def _pragmas(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None  # transactions begin where we say, below
        for pragma in (
            f"busy_timeout={_BUSY_MS}",
            "journal_mode=WAL",
            "synchronous=FULL",
            "foreign_keys=ON",
        ):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _begin(connection: Connection) -> None:
        options = connection.get_execution_options()
        writing = options.get("write")
        enforced = "OFF" if options.get("migrating") else "ON"
        connection.exec_driver_sql(f"PRAGMA foreign_keys={enforced}")
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writing else "BEGIN")

    return engine


def _migrate(connection: Connection, to: str = SHAPES[-1]) -> None:
    if inspect(connection).has_table("alembic_version"):
        shape = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
        if shape == to:
            return
    from alembic import command  # noqa: PLC0415 (start-up time: only where there is work for it)
    from alembic.config import Config  # noqa: PLC0415

    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    config.attributes["connection"] = connection
    command.upgrade(config, to)
    broken = connection.exec_driver_sql("PRAGMA foreign_key_check").all()
    if broken:
        raise RuntimeError(f"the migration left {len(broken)} rows that point to nothing")
