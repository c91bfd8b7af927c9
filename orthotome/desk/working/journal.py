"""The server's own journal: what went wrong and when, in a file beside the records that is turned over."""

import logging
from logging.handlers import RotatingFileHandler
from pathlib import Path

_LARGEST_BYTES, _KEPT = 1_000_000, 4

journal = logging.getLogger("orthotome")


def keep_journal(folder: Path) -> None:
    """Write the journal into ``folder``, and one line of each entry to the terminal."""
    file = RotatingFileHandler(
        folder / "orthotome.log", maxBytes=_LARGEST_BYTES, backupCount=_KEPT, encoding="utf-8"
    )
    file.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
    terminal = logging.StreamHandler()
    terminal.setFormatter(_OneLine("orthotome: %(message)s"))
    terminal.setLevel(logging.WARNING)
    for name in ("orthotome", "uvicorn.error"):
        logger = logging.getLogger(name)
        logger.handlers[:] = [file, terminal]
        logger.setLevel(logging.INFO)
        logger.propagate = False


class _OneLine(logging.Formatter):
    """Without the traceback, which is in the file."""

    def format(self, record: logging.LogRecord) -> str:
        """The first line of what is said, and the kind of error if there was one."""
        said = record.getMessage().partition("\n")[0]
        kind = record.exc_info[0] if record.exc_info else None
        return f"orthotome: {said}{f' {kind.__name__}: see orthotome.log.' if kind else ''}"
