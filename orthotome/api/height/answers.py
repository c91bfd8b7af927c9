"""Signal paths, lines and recordings as answers on the wire."""

from collections.abc import Sequence

import numpy as np

from orthotome.api.height import models
from orthotome.core.height.events import EVENT_WORDS
from orthotome.core.height.signal_path import SignalPath, SignalReport
from orthotome.core.height.trace import Array, Drawn, Trace
from orthotome.core.height.trace_report import Recommend, TraceCut, TraceReport
from orthotome.desk.height.live import LiveLine
from orthotome.formats.height.signal_path import SignalPathFile, report_to_file
from orthotome.formats.height.trace import cut_to_file, event_to_file
from orthotome.store.tables import LineRow, SignalPathRow, TraceRow, TrimRow


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


def line(row: LineRow | None, live: LiveLine | None) -> models.LineAnswer:
    """The line of a table, as it is now."""
    hello = live.hello if live else None
    reach = hello.set_point_v if hello else None
    running = live.recording if live else None
    ended = live.summary if live else None
    none = "No line to this table: what its arc shows is not seen here."
    return models.LineAnswer(
        version=live.version if live else 0,
        state=live.state if live else "connecting" if row else "none",
        says=live.says if live else "Not watched yet." if row else none,
        host=row.host if row else "",
        port=row.port if row else 0,
        simulated=row.simulated if row else False,
        name=hello.name if hello else None,
        can=list(hello.can) if hello else [],
        least_set_point_v=reach[0] if reach else None,
        most_set_point_v=reach[1] if reach else None,
        refused=live.refused if live else "",
        doubt=live.doubt if live else "",
        dropped=live.dropped if live else 0,
        told=live.told if live else 0,
        recording=models.RecordingNow(
            trace_id=running.trace_id,
            kept=running.kept,
            starts=running.starts,
            arc_on_s=round(running.arc_on_s, 2),
        )
        if running
        else None,
        ended=models.RecordingEnded(**vars(ended) | {"noticed": [EVENT_WORDS[k] for k in ended.noticed]})
        if ended
        else None,
    )


def trim(row: TrimRow, says: str = "") -> models.TrimAnswer:
    """A trim as it was noted, with what is said of it as it is made."""
    return models.TrimAnswer(
        at_s=row.at_s,
        by_v=row.by_v,
        set_point_v=row.set_point_v,
        trimmed_at=row.trimmed_at,
        trimmed_by=row.trimmed_by,
        says=says,
    )


def trace_line(row: TraceRow, cut_number: int | None) -> models.TraceLine:
    """A recording in the list."""
    held = row.model_dump(exclude={"table_id", "spent", "speed_mm_min", "cut_height_mm"})
    return models.TraceLine(**held, cut_number=cut_number)


_GAIN_SAYS: dict[str | None, str] = {
    "lower": "The volts swing to and fro under control: lower the gain, or the loop hunts.",
    "raise": "The torch is long behind the sheet: raise the gain, or make Z faster.",
    "keep": "Neither hunting nor lagging: leave the gain as it is.",
    None: "Whether the gain is right is not told here: no cut under control is in it.",
}


def trace(
    row: TraceRow,
    cut_number: int | None,
    samples: Trace,
    report: TraceReport | None,
    trims: Sequence[TrimRow],
) -> models.TraceAnswer:
    """A recording with everything it says."""
    r = report.recommend if report else None
    told = vars(r) if r else dict.fromkeys(Recommend.__dataclass_fields__)
    nothing = ["Anything: no voltage is in it."]
    return models.TraceAnswer(
        line=trace_line(row, cut_number),
        begins_s=float(samples.time_s[0]) if len(samples) else 0.0,
        ends_s=float(samples.time_s[-1]) if len(samples) else 0.0,
        cuts=[_trace_cut(c) for c in report.cuts] if report else [],
        recommend=models.TraceRecommends(**told, gain_says=_GAIN_SAYS[told["gain"]]),
        cannot_tell=list(report.cannot_tell) if report else nothing,
        trims=[trim(t) for t in trims],
    )


def _trace_cut(c: TraceCut) -> models.TraceCutAnswer:
    file = cut_to_file(c)
    return models.TraceCutAnswer(
        **file.model_dump(exclude={"events"}),
        moves_s=c.moves_s,
        control_share=c.control_share,
        events=[
            models.TraceEventAnswer(**event_to_file(e).model_dump(), word=EVENT_WORDS[e.kind])
            for e in c.events
        ],
    )


def drawn(found: Drawn) -> models.DrawnAnswer:
    """A stretch to draw, rounded to what a screen shows."""

    def rounded(values: Array | None, digits: int) -> list[float | None] | None:
        if values is None:
            return None
        return [None if np.isnan(v) else round(float(v), digits) for v in values]

    return models.DrawnAnswer(
        at_s=[round(float(v), 4) for v in found.at_s],
        least_v=[round(float(v), 2) for v in found.least_v],
        most_v=[round(float(v), 2) for v in found.most_v],
        z_mm=rounded(found.z_mm, 3),
        feed_mm_min=rounded(found.feed_mm_min, 1),
        set_point_v=rounded(found.set_point_v, 2),
    )
