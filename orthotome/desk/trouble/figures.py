"""The numbers that the records already have for a cause, so that the room that cures it is not entered empty-handed."""

from sqlmodel import Session

from orthotome.core.quantities import length, speed
from orthotome.core.trouble.causes import MEASURED_AS, OF_THE_SETTING, Cause
from orthotome.desk.bench.judging import Judge, judged
from orthotome.desk.height.of_trial import of_trial
from orthotome.desk.machine.health import health_lines
from orthotome.store.log.cuts import logged_cuts
from orthotome.store.shop import shop


class CauseFigures:
    """What is known of one table, gathered once for all causes that are shown."""

    def __init__(self, session: Session, table_id: int, judge: Judge) -> None:
        self._session, self._table_id, self._judge = session, table_id, judge
        self._health = {h.aspect: h for h in health_lines(session, table_id)}
        self._trial = shop.bench_trial(session, table_id)

    def of(self, cause: Cause) -> str:
        """A sentence with the figures; empty where there are none."""
        if cause in OF_THE_SETTING:
            return self._next_setting()
        if cause in ("set_point_not_raised", "set_point_wrong"):
            return self._trim()
        line = self._health.get(MEASURED_AS[cause]) if cause in MEASURED_AS else None
        if line is None or line.known is None:
            return ""
        at = f", {line.known.at:%Y-%m-%d}" if line.known.at else ""
        due = f" It is due again: {line.due_because}" if line.due_because else ""
        return f"{line.label}{at}: {line.known.figure.rstrip('.')}.{due}"

    def _next_setting(self) -> str:
        from orthotome.core.tuner.next_act import next_act  # noqa: PLC0415 (start-up time)

        if self._trial is None or not logged_cuts(self._session, self._trial.id or 0):
            return ""
        _, _, judgement = judged(self._session, self._trial.id or 0, self._judge)
        if judgement.advice.recommended is None:
            return ""
        setting = next_act(judgement).setting
        return (
            f"The Bench advises {speed(setting.speed_mm_min)} at {length(setting.cut_height_mm)} next."
        )

    def _trim(self) -> str:
        if self._trial is None:
            return ""
        return of_trial(self._session, self._trial.id or 0, self._judge).trim.says
