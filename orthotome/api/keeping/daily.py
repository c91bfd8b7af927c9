"""A backup each day, made by itself beside whatever the shop does."""

from datetime import UTC, datetime
from pathlib import Path
from threading import Event, Thread
from types import TracebackType

from orthotome.desk.working.journal import journal
from orthotome.store.keeping import backups
from orthotome.store.keeping.files import Unusable

_LOOK_EVERY_S = 600.0


class DailyBackups:
    """Looks every ten minutes whether the newest backup is a day old, from its start until it is left."""

    def __init__(self, database: Path) -> None:
        self._database = database
        self._ended = Event()
        self._thread = Thread(target=self._watch, daemon=True)
        self.trouble = ""
        """Why the last one could not be made, in words; empty where it could."""

    def __enter__(self) -> "DailyBackups":
        self._thread.start()
        return self

    def __exit__(
        self,
        _kind: type[BaseException] | None,
        _error: BaseException | None,
        _trace: TracebackType | None,
    ) -> None:
        self._ended.set()
        self._thread.join()

    def _watch(self) -> None:
        while not self._ended.is_set():
            self.look()
            self._ended.wait(_LOOK_EVERY_S)

    def look(self) -> None:
        """Make the day's backup if it is due."""
        try:
            if not backups.daily_is_due(self._database, datetime.now(UTC)):
                return
            made = backups.make(self._database, "daily")
        except Unusable as found:
            self.trouble = backups.in_words(found)
            journal.warning("daily backup: %s", self.trouble)
        except Exception:  # whatever it was: the next look is in ten minutes, and until then it is said
            self.trouble = "Orthotome made a mistake with it: what happened is in its journal."
            journal.exception("daily backup")
        else:
            self.trouble = ""
            journal.info("daily backup: %s", made.name)
