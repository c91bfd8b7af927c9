"""Working a thing out once, however many ask for it."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from threading import Lock
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class KeptAnswers(Generic[K, V]):
    """The newest answers by their question; of several that ask for the same one, the first works it out."""

    def __init__(self, most_kept: int) -> None:
        self._most_kept = most_kept
        self._kept: OrderedDict[K, Future[V]] = OrderedDict()
        self._lock = Lock()

    def of(self, question: K, work_out: Callable[[], V]) -> V:
        """The answer to a question; what is raised in working it out is raised to all who wait, and not kept."""
        with self._lock:
            known = self._kept.get(question)
            if known is None:
                mine = self._kept[question] = Future()
                while len(self._kept) > self._most_kept:
                    self._kept.popitem(last=False)
            else:
                self._kept.move_to_end(question)
        if known is not None:
            return known.result()
        try:
            mine.set_result(work_out())
        except BaseException as failed:
            with self._lock:
                self._kept.pop(question, None)
            mine.set_exception(failed)
            raise
        return mine.result()
