"""Pairing: a code that stands on the serving machine's own screen for ten minutes lets one device in."""

import secrets
import time
from collections.abc import Callable
from dataclasses import dataclass
from threading import Lock

_LETTERS = "23456789ABCDEFGHJKMNPQRSTVWXYZ"  # none that is read for another
_LENGTH = 8
LIVES_S = 600.0
MOST_TRIES = 10


@dataclass(frozen=True)
class Code:
    """A code as it is shown, and how long it still lives."""

    code: str
    seconds_left: float


class Pairing:
    """At most one code at a time. It dies of use, of age, and of ten wrong tries from anywhere."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._lock = Lock()
        self._code = ""
        self._ends_at = 0.0
        self._tries_left = 0
        self.wrong = 0
        """How many wrong codes were tried since it was begun, from anywhere."""

    def begin(self) -> Code:
        """A new code in place of any before it."""
        with self._lock:
            self._code = "".join(secrets.choice(_LETTERS) for _ in range(_LENGTH))
            self._ends_at = self._clock() + LIVES_S
            self._tries_left = MOST_TRIES
            return Code(self._code, LIVES_S)

    def shown(self) -> Code | None:
        """The code that lives, if any."""
        with self._lock:
            return Code(self._code, self._ends_at - self._clock()) if self._lives() else None

    def end(self) -> None:
        """No device is let in any more."""
        with self._lock:
            self._tries_left = 0

    def accept(self, tried: str) -> bool:
        """Whether a device that says this is let in; the code is then used up."""
        with self._lock:
            if not self._lives():
                self.wrong += bool(tried)
                return False
            said = "".join(tried.upper().split()).replace("-", "")
            if secrets.compare_digest(said.encode(), self._code.encode()):
                self._tries_left = 0
                return True
            self._tries_left -= 1
            self.wrong += 1
            return False

    def _lives(self) -> bool:
        return self._tries_left > 0 and self._clock() < self._ends_at
