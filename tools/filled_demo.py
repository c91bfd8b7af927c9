"""The demo shop in a database, filled once: for all tests of a run, or for one process where none is at hand."""

import atexit
import os
import shutil
import sys
import tempfile
from functools import cache
from pathlib import Path

AT_HAND = "ORTHOTOME_FILLED_DEMO"
"""Names the file that a whole run shares; who begins with it takes a copy."""


@cache
def filled_demo() -> Path:
    """The demo shop's database: each demo server or shop of a test begins with a copy of it."""
    if at_hand := os.environ.get(AT_HAND):
        return Path(at_hand)
    folder = tempfile.mkdtemp()
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return fill(Path(folder) / "demo.sqlite")


def fill(path: Path) -> Path:
    """Fill it there."""
    from orthotome import demo  # noqa: PLC0415 (only where a demo is filled)
    from orthotome.store.database import Database  # noqa: PLC0415

    database = Database(path)
    demo.fill(database)
    database.close()
    return path


def think_of(path: Path) -> None:
    """Judge its trials in this process: whoever is forked from it has what each server of a fresh demo thinks of first."""
    from orthotome.desk.bench.judging import Judge, think_ahead  # noqa: PLC0415
    from orthotome.store.database import Database  # noqa: PLC0415

    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(shutil.copy(path, folder)))
        think_ahead(database, Judge())
        database.close()


if __name__ == "__main__":
    fill(Path(sys.argv[1]))
