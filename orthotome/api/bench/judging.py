"""Judgements of trials, kept by the campaign that they judge.

Two screens watching one trial ask often; the tuner need not think again until something of the campaign
itself is another: a cut, a reading, the target, what is fitted.
"""

import gc
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import replace
from threading import Lock, Thread
from typing import TYPE_CHECKING

from sqlmodel import Session

from orthotome.core.quantities import ShopUnits, spoken
from orthotome.core.trial.campaign import Campaign
from orthotome.store.bench import campaigns
from orthotome.store.log.cuts import LoggedCut, logged_cuts
from orthotome.store.tables import Trial
from orthotome.store.trial import trials

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

_MOST_KEPT = 32


class Judge:
    """Remembers the newest judgements; of several that ask for the same one, the first works it out."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[Campaign, int, ShopUnits], Future[Judgement]] = OrderedDict()
        self._lock = Lock()

    def wake(self) -> None:
        """Load the tuner beside the first requests: its numerics take a second to import."""
        Thread(target=_wake, daemon=True).start()

    def judge(self, campaign: Campaign, batch: int = 1) -> "Judgement":
        """The judgement of a campaign, for so many cuts at once; computed once for each."""
        key = (campaign, batch, spoken())  # its sentences and its steps are the shop's
        with self._lock:
            known = self._kept.get(key)
            if known is None:
                mine = self._kept[key] = Future()
                while len(self._kept) > _MOST_KEPT:
                    self._kept.popitem(last=False)
            else:
                self._kept.move_to_end(key)
        if known is not None:
            return known.result()
        try:
            mine.set_result(_tuner()(campaign, batch))
        except BaseException as failed:
            with self._lock:
                self._kept.pop(key, None)
            mine.set_exception(failed)
            raise
        return mine.result()

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


def _wake() -> None:
    _tuner()
    # What is loaded now stays: the collector need not walk it again in the middle of a request.
    gc.collect()
    gc.freeze()


def _tuner() -> Callable[[Campaign, int], "Judgement"]:
    from orthotome.core.tuner.advise import judge  # noqa: PLC0415 (start-up time)

    return judge
