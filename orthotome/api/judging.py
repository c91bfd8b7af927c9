"""Judgements of trials, kept while the trial stays as it is.

Two screens watching one trial ask often; the tuner need not think again until a cut is logged.
"""

from collections import OrderedDict
from threading import Lock

from orthotome.core.campaign import Campaign
from orthotome.core.tuner.advise import Judgement, judge

_MOST_KEPT = 32


class Judge:
    """Remembers the newest judgements by trial and revision."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[int, int], Judgement] = OrderedDict()
        self._lock = Lock()

    def judge(self, trial_id: int, revision: int, campaign: Campaign) -> Judgement:
        """The judgement of a trial at a revision; computed once for each."""
        key = (trial_id, revision)
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        judgement = judge(campaign)
        with self._lock:
            self._kept[key] = judgement
            while len(self._kept) > _MOST_KEPT:
                self._kept.popitem(last=False)
        return judgement
