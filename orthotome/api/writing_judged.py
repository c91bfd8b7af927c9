"""Changes that need a judgement: it is thought of before the write lock is taken, so nobody waits for it."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

from sqlmodel import Session

from orthotome.api.depends import SignedStore
from orthotome.desk.bench.judging import Judge, judged
from orthotome.store.bench import campaigns
from orthotome.store.log.cuts import logged_cuts
from orthotome.store.tables import Trial
from orthotome.store.trial import trials

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement


@contextmanager
def writing_judged(
    store: SignedStore, trial_id: int, judge: Judge, batch: int = 1
) -> "Iterator[tuple[Session, Trial, Judgement]]":
    """One change to a trial for which its judgement is needed: thought of before the write lock is taken.

    Raises NotFound.
    """
    while True:
        with store.database.read() as reading:
            _, _, judgement = judged(reading, trial_id, judge, batch)
        with store.write() as session:
            found = trials.trial(session, trial_id)
            now = campaigns.with_history(session, found, logged_cuts(session, trial_id))
            if now.weighed == judgement.learned.campaign:
                yield session, found, judgement
                return
