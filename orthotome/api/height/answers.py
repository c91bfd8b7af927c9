"""Signal paths as answers on the wire."""

from typing import TYPE_CHECKING

from orthotome.api.height import models
from orthotome.core.height.signal_path import SignalPath, SignalReport
from orthotome.formats.height.signal_path import SignalPathFile, report_to_file
from orthotome.store.tables import (
    SignalPathRow,
)

if TYPE_CHECKING:
    pass


def signal_path(row: SignalPathRow, *, newest: bool) -> models.SignalPathAnswer:
    """A signal path of a table's history."""
    path = SignalPath(row.source_ratio, row.card_ratio, row.multiplier)
    return models.SignalPathAnswer(
        **row.model_dump(exclude={"table_id"}), gain=path.gain, in_force=newest
    )


def examined(asked: SignalPathFile, report: SignalReport) -> models.SignalExamined:
    """The report of a signal path, with the corrections that fit."""
    seen = asked.observed
    gain = None
    if seen is not None and seen.true_v and seen.screen_v is not None:
        gain = seen.screen_v / seen.true_v
    told = SignalPath(asked.source_ratio, asked.card_ratio, asked.multiplier)
    true_v = (seen.true_v if seen else None) or asked.set_point_v
    likely = report.explanations[0] if report.explanations else None
    faulty = likely is not None and likely.code != "none"
    return models.SignalExamined(
        volts_along=list(told.volts_along(true_v)),
        likely_volts_along=list(told.with_fault(likely).volts_along(true_v)) if faulty else None,  # type: ignore[arg-type]
        report=report_to_file(report),
        seen_gain=gain,
        corrections=[models.CorrectionAnswer(**vars(c)) for c in report.corrections],
    )
