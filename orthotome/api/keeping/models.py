"""What goes over the wire of backups."""

from datetime import datetime
from typing import Literal

from orthotome.api.wire import Wire


class BackupAnswer(Wire):
    """A backup: when and why it was made, how large it is."""

    name: str
    made_at: datetime
    why: Literal["by_hand", "daily", "before_update", "before_restore", "brought_in"]
    bytes: int


class KeptAnswer(Wire):
    """The backups there are, newest first, where they lie, what keeps new ones from being made, and whether the clock
    can be believed."""

    folder: str
    trouble: str
    clock: str
    backups: list[BackupAnswer]


class RestoredAnswer(Wire):
    """What was restored, and the backup of what was there before."""

    restored: str
    kept: str | None
