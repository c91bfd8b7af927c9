"""Judgements of trials, kept while the trial stays as it is.

Two screens watching one trial ask often; the tuner need not think again until a cut is logged.
"""

import gc
from collections import OrderedDict
from collections.abc import Callable
from threading import Lock, Thread
from typing import TYPE_CHECKING

from orthotome.core.campaign import Campaign, NextCut

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

_MOST_KEPT = 32


class Judge:
    """Remembers the newest judgements by trial and revision."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[int, int, int], Judgement] = OrderedDict()
        self._lock = Lock()

    def wake(self) -> None:
        """Load the tuner beside the first requests: its numerics take a second to import."""
        Thread(target=_wake, daemon=True).start()

    def judge(self, trial_id: int, revision: int, campaign: Campaign, batch: int = 1) -> "Judgement":
        """The judgement of a trial at a revision, for so many cuts at once; computed once for each."""
        key = (trial_id, revision, batch)
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        judgement = _tuner()(campaign, batch)
        with self._lock:
            self._kept[key] = judgement
            while len(self._kept) > _MOST_KEPT:
                self._kept.popitem(last=False)
        return judgement


def _wake() -> None:
    _tuner()
    # What is loaded now stays: the collector need not walk it again in the middle of a request.
    gc.collect()
    gc.freeze()


def _tuner() -> Callable[[Campaign, int], "Judgement"]:
    from orthotome.core.tuner.advise import judge  # noqa: PLC0415 (start-up time)

    return judge


def next_cut(judgement: "Judgement") -> NextCut:
    """The cut to make now: what is advised, else the recommended setting once more."""
    if judgement.advice.next_cuts:
        return judgement.advice.next_cuts[0]
    campaign, best = judgement.learned.campaign, judgement.advice.recommended
    # After a hand-off the last setting is cut again, once its cause is put right.
    again = best or (campaign.cuts[-1] if campaign.cuts else campaign.start)
    return NextCut("square", again.speed_mm_min, again.cut_height_mm, "")


def next_settings(judgement: "Judgement", count: int) -> list[tuple[float, float]]:
    """(speed, height) of so many cuts at once: what is advised, and from the first again.

    Where fewer settings are worth a cut than pieces are asked for, the same setting cut twice tells how
    much it spreads.
    """
    asked = judgement.advice.next_cuts or (next_cut(judgement),)
    chosen = [asked[i % len(asked)] for i in range(count)]
    return [(c.speed_mm_min, c.cut_height_mm) for c in chosen]
