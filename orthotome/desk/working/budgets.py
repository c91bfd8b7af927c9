"""What one request may take of the server, and how it hears that nobody waits for its answer any more.

Files from outside are read two at a time, in processes apart; a few more wait in line, and whoever comes after them is
told when to come back. So the threads that pages are answered from are never all waiting for a file.
"""

import contextlib
import threading
from collections.abc import Iterator
from contextvars import ContextVar

READ_AT_ONCE = 2
_MOST_IN_LINE = 6
_COMES_BACK_S = 10
_LOOKS_EVERY_S = 0.2

GONE: ContextVar[threading.Event | None] = ContextVar("GONE", default=None)
"""Of the request that is being answered: set once its client has left."""

_stopping = threading.Event()


class Busy(Exception):  # noqa: N818
    """There is more to do than there are hands: nothing was begun; ``comes_back_s`` says when to ask again."""

    def __init__(self, sentence: str, comes_back_s: int = _COMES_BACK_S) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.comes_back_s = comes_back_s


class Left(Exception):  # noqa: N818
    """Nobody waits for the answer any more: the work was dropped."""


def nobody_waits() -> bool:
    """Whether the client of this request has left, or the server is told to stop."""
    gone = GONE.get()
    return _stopping.is_set() or (gone is not None and gone.is_set())


def stop() -> None:
    """The server is told to stop: what is under way is dropped."""
    _stopping.set()


class InLine:
    """So many at once, so many in line after them."""

    def __init__(self, at_once: int = READ_AT_ONCE, most_in_line: int = _MOST_IN_LINE) -> None:
        self._hands = threading.Semaphore(at_once)
        self._most = at_once + most_in_line
        self._lock = threading.Lock()
        self._here = 0

    @contextlib.contextmanager
    def turn(self) -> Iterator[None]:
        """Wait for one's turn. Raises Busy where the line is long, Left where the client leaves it."""
        with self._lock:
            if self._here >= self._most:
                raise Busy(
                    f"{self._here} files are being read or wait for it: try again in {_COMES_BACK_S} seconds. Nothing "
                    "was kept."
                )
            self._here += 1
        try:
            while not self._hands.acquire(timeout=_LOOKS_EVERY_S):
                if nobody_waits():
                    raise Left
            try:
                yield
            finally:
                self._hands.release()
        finally:
            with self._lock:
                self._here -= 1
