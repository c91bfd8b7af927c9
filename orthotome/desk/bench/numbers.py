"""The one answer to what is to be dialled for a trial now, for every room that needs its numbers."""

from sqlmodel import Session

from orthotome.core.book.start_rows import StartValues
from orthotome.desk.bench.judging import Judge, judged
from orthotome.store.height.trial_volts import NumbersNow
from orthotome.store.tables import Trial


def numbers_now(judge: Judge) -> NumbersNow:
    """Asks the Bench."""
    from orthotome.core.tuner.next_act import dialled_now  # noqa: PLC0415 (start-up time)

    def now(session: Session, trial: Trial) -> StartValues:
        return dialled_now(judged(session, trial.id or 0, judge)[2])

    return now
