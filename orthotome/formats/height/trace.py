"""``orthotome.trace_report``, version 1: what a trace of the arc voltage says."""

from typing import Literal

from orthotome.core.height import trace_report as core
from orthotome.core.height.events import EventKind, TraceEvent
from orthotome.formats.height.trace_csv import read_trace_csv
from orthotome.formats.reading import WrittenModel


class TraceEventFile(WrittenModel):
    """One event of a cut; times are the file's."""

    kind: EventKind
    from_s: float
    to_s: float
    peak_v: float
    height_mm: float | None


class TraceCutFile(WrittenModel):
    """One cut of a trace."""

    arc_on_s: float
    settled_s: float | None
    settled_mm: float | None
    end_s: float
    steady_v: float
    noise_v: float
    drift_v_per_m: float | None
    rms_v: float | None
    rms_mm: float | None
    events: tuple[TraceEventFile, ...]


class TraceRecommendFile(WrittenModel):
    """What height control should be told."""

    control_delay_s: float | None
    dead_band_v: float | None
    hold_below_speed_share: float | None
    crossing_jump_v: float | None


class TraceReportFile(WrittenModel):
    """The answer of ``orthotome trace``."""

    format: Literal["orthotome.trace_report"] = "orthotome.trace_report"
    version: Literal[1] = 1
    cuts: tuple[TraceCutFile, ...]
    recommend: TraceRecommendFile
    cannot_tell: tuple[str, ...]


def trace_text(data: bytes, known: core.BesideTrace) -> TraceReportFile:
    """The report of a CSV file. Raises FileError or TradeError in one sentence."""
    return report_to_file(core.read_trace(read_trace_csv(data), known))


def report_to_file(report: core.TraceReport) -> TraceReportFile:
    """The open file of a report, rounded to what a trace can mean."""
    r = report.recommend
    return TraceReportFile(
        cuts=tuple(cut_to_file(c) for c in report.cuts),
        recommend=TraceRecommendFile(
            control_delay_s=r.control_delay_s,
            dead_band_v=r.dead_band_v,
            hold_below_speed_share=_rounded(r.hold_below_speed_share, 2),
            crossing_jump_v=r.crossing_jump_v,
        ),
        cannot_tell=report.cannot_tell,
    )


def cut_to_file(c: core.TraceCut) -> TraceCutFile:
    """One cut, rounded."""
    return TraceCutFile(
        arc_on_s=round(c.arc_on_s, 3),
        settled_s=_rounded(c.settled_s, 3),
        settled_mm=_rounded(c.settled_mm, 1),
        end_s=round(c.end_s, 3),
        steady_v=round(c.steady_v, 2),
        noise_v=round(c.noise_v, 2),
        drift_v_per_m=_rounded(c.drift_v_per_m, 2),
        rms_v=_rounded(c.rms_v, 2),
        rms_mm=_rounded(c.rms_mm, 3),
        events=tuple(event_to_file(e) for e in c.events),
    )


def event_to_file(e: TraceEvent) -> TraceEventFile:
    """One event, rounded."""
    return TraceEventFile(
        kind=e.kind,
        from_s=round(e.from_s, 3),
        to_s=round(e.to_s, 3),
        peak_v=round(e.peak_v, 2),
        height_mm=_rounded(e.height_mm, 2),
    )


def _rounded(value: float | None, digits: int) -> float | None:
    return None if value is None else round(value, digits)
