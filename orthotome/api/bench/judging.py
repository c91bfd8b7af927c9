"""Judgements of trials, kept by the campaign that they judge.

Two screens watching one trial ask often; the tuner need not think again until something of the campaign
itself is another: a cut, a reading, the target, what is fitted.
"""

import gc
import multiprocessing
import os
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import replace
from threading import Lock, Thread
from typing import TYPE_CHECKING, Any, TypeVar

from sqlmodel import Session

from orthotome.api.journal import journal
from orthotome.api.once import Once
from orthotome.core.quantities import ShopUnits, speak, spoken
from orthotome.core.trial.campaign import Campaign, Cut
from orthotome.core.trial.questions import Question
from orthotome.store.bench import campaigns
from orthotome.store.log.cuts import LoggedCut, logged_cuts
from orthotome.store.tables import Trial
from orthotome.store.trial import trials

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

_MOST_KEPT = 32

T = TypeVar("T")
Think = Callable[[Campaign, int], "Judgement"]


class Judge:
    """Remembers the newest judgements; of several that ask for the same one, the first has it worked out.

    With a ``process_of_its_own`` the tuner thinks beside the server, which answers other screens meanwhile.
    """

    def __init__(self, *, process_of_its_own: bool = False) -> None:
        self._kept: Once[tuple[Campaign, int, ShopUnits], Judgement] = Once(_MOST_KEPT)
        self._apart = _TunerApart() if process_of_its_own else None

    def wake(self) -> None:
        """Load the tuner beside the first requests: its numerics take a second to import."""
        Thread(target=self._apart.wake if self._apart else _wake, daemon=True).start()

    def close(self) -> None:
        """End the process, if there is one."""
        if self._apart is not None:
            self._apart.close()

    def judge(self, campaign: Campaign, batch: int = 1) -> "Judgement":
        """The judgement of a campaign, for so many cuts at once; computed once for each."""
        think = self._apart.think if self._apart else _tuner()
        # Its sentences and its steps are the shop's.
        return self._kept.of((campaign, batch, spoken()), lambda: think(campaign, batch))

    def questions(self, campaign: Campaign, cut: Cut) -> tuple[Question, ...]:
        """What to look at again of a cut that is being read."""
        if self._apart:
            return self._apart.ask(campaign, cut)
        return _ask(campaign, cut, spoken())

    def without_the_last(self, campaign: Campaign) -> "Judgement | None":
        """The judgement before the last cut, which was mostly asked for then; None before the first."""
        if not campaign.cuts:
            return None
        return self.judge(replace(campaign, cuts=campaign.cuts[:-1]))


def judged(
    session: Session, trial_id: int, judge: Judge, batch: int = 1
) -> "tuple[Trial, list[LoggedCut], Judgement]":
    """A trial with all its cuts and the judgement of those that count. Raises NotFound."""
    found = trials.trial(session, trial_id)
    logged = logged_cuts(session, trial_id)
    return found, logged, judge.judge(campaigns.with_history(session, found, logged), batch)


class _TunerApart:
    """The tuner in a process of its own, begun again should it die."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._process = _begin()

    def wake(self) -> None:
        self._process.submit(_wake).result()

    def think(self, campaign: Campaign, batch: int) -> "Judgement":
        return self._done(_think, campaign, batch, spoken())

    def ask(self, campaign: Campaign, cut: Cut) -> tuple[Question, ...]:
        return self._done(_ask, campaign, cut, spoken())

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
        self._process.shutdown(cancel_futures=True)


def _begin() -> ProcessPoolExecutor:
    context = multiprocessing.get_context("forkserver")
    return ProcessPoolExecutor(1, mp_context=context, initializer=_end_with_the_server)


def _end_with_the_server() -> None:
    """A server that is killed cannot end this process: it watches for that itself."""
    server = multiprocessing.parent_process()
    assert server is not None

    def watch() -> None:
        server.join()
        os._exit(0)

    Thread(target=watch, daemon=True).start()


def _think(campaign: Campaign, batch: int, units: ShopUnits) -> "Judgement":
    speak(units)
    return _tuner()(campaign, batch)


def _ask(campaign: Campaign, cut: Cut, units: ShopUnits) -> tuple[Question, ...]:
    from orthotome.core.tuner.questions import questions  # noqa: PLC0415 (start-up time)

    speak(units)
    return questions(campaign, cut)


def _wake() -> None:
    _tuner()
    # What is loaded now stays: the collector need not walk it again in the middle of a request.
    gc.collect()
    gc.freeze()


def _tuner() -> Think:
    from orthotome.core.tuner.advise import judge  # noqa: PLC0415 (start-up time)

    return judge
