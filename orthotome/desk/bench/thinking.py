"""The tuner at work, in the process that asks or in one of its own; that one imports the tuner and no part of the server."""

import gc
import multiprocessing
import os
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from threading import Lock, Thread
from typing import TYPE_CHECKING, Any, TypeVar

from orthotome.core.quantities import ShopUnits, speak, spoken
from orthotome.desk.working.journal import journal
from orthotome.desk.working.processes import PROCESSES

if TYPE_CHECKING:
    from orthotome.core.trial.campaign import Campaign, Cut
    from orthotome.core.trial.questions import Question
    from orthotome.core.tuner.advise import Judgement

T = TypeVar("T")
Think = Callable[["Campaign", int], "Judgement"]


class TunerApart:
    """The tuner in a process of its own, begun again should it die."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._process = _begin()

    def wake(self) -> None:
        """Have it ready before it is asked."""
        self._process.submit(wake).result()

    def think(self, campaign: "Campaign", batch: int) -> "Judgement":
        """The judgement of a campaign."""
        return self._done(_think, campaign, batch, spoken())

    def ask(self, campaign: "Campaign", cut: "Cut") -> "tuple[Question, ...]":
        """What to look at again of a cut."""
        return self._done(ask, campaign, cut, spoken())

    def _done(self, work: Callable[..., T], *given: Any) -> T:
        process = self._process
        try:
            return process.submit(work, *given).result()
        except BrokenProcessPool:
            journal.error("the tuner's process died: it is begun again")
            with self._lock:
                if self._process is process:
                    self._process = _begin()
            return self._process.submit(work, *given).result()

    def close(self) -> None:
        """End it."""
        self._process.shutdown(cancel_futures=True)


def _begin() -> ProcessPoolExecutor:
    return ProcessPoolExecutor(1, mp_context=PROCESSES, initializer=_end_with_the_server)


def _end_with_the_server() -> None:
    """A server that is killed cannot end this process: it watches for that itself."""
    server = multiprocessing.parent_process()
    assert server is not None

    def watch() -> None:
        server.join()
        os._exit(0)

    Thread(target=watch, daemon=True).start()


def _think(campaign: "Campaign", batch: int, units: ShopUnits) -> "Judgement":
    speak(units)
    return tuner()(campaign, batch)


def ask(campaign: "Campaign", cut: "Cut", units: ShopUnits) -> "tuple[Question, ...]":
    """What to look at again of a cut that is being read."""
    from orthotome.core.tuner.questions import questions  # noqa: PLC0415 (start-up time)

    speak(units)
    return questions(campaign, cut)


def wake() -> None:
    """Load the tuner."""
    tuner()
    # What is loaded now stays: the collector need not walk it again in the middle of a request.
    gc.collect()
    gc.freeze()


def tuner() -> Think:
    """The tuner, loaded when it is first asked for."""
    from orthotome.core.tuner.advise import judge  # noqa: PLC0415 (start-up time)

    return judge
