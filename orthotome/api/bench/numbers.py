"""The one answer to what is to be dialled for a trial now, for every room that needs its numbers."""

from typing import Annotated

from fastapi import Depends
from sqlmodel import Session

from orthotome.api.bench.judging import Judge, judged
from orthotome.api.depends import TheJudge
from orthotome.core.book.start_rows import StartValues
from orthotome.store.height.here import NumbersNow
from orthotome.store.tables import Trial


def numbers_now(judge: Judge) -> NumbersNow:
    """Asks the Bench."""
    from orthotome.core.tuner.next_act import dialled_now  # noqa: PLC0415 (start-up time)

    def now(session: Session, trial: Trial) -> StartValues:
        return dialled_now(judged(session, trial.id or 0, judge)[2])

    return now


def _numbers(judge: TheJudge) -> NumbersNow:
    return numbers_now(judge)


Numbers = Annotated[NumbersNow, Depends(_numbers)]
