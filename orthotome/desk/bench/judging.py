"""Judgements of trials, kept by the campaign that they judge.

Two screens watching one trial ask often; the tuner need not think again until something of the campaign
itself is another: a cut, a reading, the target, what is fitted. They are kept by all of what they are worked out from,
and so for the process and not for one shop.
"""

import contextlib
from dataclasses import replace
from threading import Thread
from typing import TYPE_CHECKING

from sqlmodel import Session

from orthotome.core.quantities import ShopUnits, speak, spoken
from orthotome.core.trial.campaign import Campaign, Cut
from orthotome.core.trial.questions import Question
from orthotome.desk.bench.thinking import TunerApart, ask, tuner, wake
from orthotome.desk.working.kept_answers import KeptAnswers
from orthotome.store.bench import campaigns
from orthotome.store.database import Database, once_a_question
from orthotome.store.height.trial_volts import here
from orthotome.store.log.cuts import LoggedCut, logged_cuts
from orthotome.store.shop import shop
from orthotome.store.tables import Trial
from orthotome.store.trial import trials

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

_MOST_KEPT = 32


_kept: "KeptAnswers[tuple[Campaign, int, ShopUnits], Judgement]" = KeptAnswers(_MOST_KEPT)


class Judge:
    """Remembers the newest judgements; of several that ask for the same one, the first has it worked out.

    With a ``process_of_its_own`` the tuner thinks beside the server, which answers other screens meanwhile.
    """

    def __init__(self, *, process_of_its_own: bool = False) -> None:
        self._apart = TunerApart() if process_of_its_own else None

    def wake(self) -> None:
        """Load the tuner beside the first requests: its numerics take a second to import."""
        Thread(target=self._apart.wake if self._apart else wake, daemon=True).start()

    def close(self) -> None:
        """End the process, if there is one."""
        if self._apart is not None:
            self._apart.close()

    def judge(self, campaign: Campaign, batch: int = 1) -> "Judgement":
        """The judgement of a campaign, for so many cuts at once; computed once for each."""
        think = self._apart.think if self._apart else tuner()
        # Its sentences and its steps are the shop's.
        return _kept.of((campaign, batch, spoken()), lambda: think(campaign, batch))

    def questions(self, campaign: Campaign, cut: Cut) -> tuple[Question, ...]:
        """What to look at again of a cut that is being read."""
        if self._apart:
            return self._apart.ask(campaign, cut)
        return ask(campaign, cut, spoken())

    def without_the_last(self, campaign: Campaign) -> "Judgement | None":
        """The judgement before the last cut, which was mostly asked for then; None before the first."""
        if not campaign.cuts:
            return None
        return self.judge(replace(campaign, cuts=campaign.cuts[:-1]))


def judged(
    session: Session, trial_id: int, judge: Judge, batch: int = 1
) -> "tuple[Trial, list[LoggedCut], Judgement]":
    """A trial with all its cuts and the judgement of those that count. Raises NotFound."""
    question = "judged", trial_id, judge, batch
    return once_a_question(session, question, lambda: _judged(session, trial_id, judge, batch))


def _judged(
    session: Session, trial_id: int, judge: Judge, batch: int
) -> "tuple[Trial, list[LoggedCut], Judgement]":
    found = trials.trial(session, trial_id)
    logged = logged_cuts(session, trial_id)
    judgement = judge.judge(campaigns.with_history(session, found, logged), batch)
    from orthotome.core.tuner.advise import seen_here  # noqa: PLC0415 (loaded while the other process thinks)
    from orthotome.core.tuner.next_act import next_act  # noqa: PLC0415

    return found, logged, seen_here(judgement, here(session, found, next_act(judgement).setting).volts)


def think_ahead(database: Database, judge: Judge) -> None:
    """Think of what stands on the benches, which is what the first screen asks for, while it loads its page."""
    Thread(
        target=tuner, daemon=True
    ).start()  # what a Bench needs of the tuner in this process, meanwhile
    # Nobody waits for it: whoever asks for one that cannot be judged is told why.
    with contextlib.suppress(Exception), database.read() as session:
        found = shop.the_shop(session)
        speak(ShopUnits(found.length_unit, found.speed_unit))
        for table in shop.tables(session):
            on_bench = shop.bench_trial(session, table.id or 0)
            if on_bench is not None:
                _, _, judgement = judged(session, on_bench.id or 0, judge)
                judge.without_the_last(judgement.learned.campaign)
