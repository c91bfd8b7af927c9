"""One recording of a line: kept part by part while it runs, counted and read when it ends."""

import asyncio
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from sqlalchemy.exc import DatabaseError, DBAPIError

from orthotome.core.errors import TradeError
from orthotome.core.height.events import EventKind
from orthotome.core.height.trace import Array, Trace, filled, runs
from orthotome.core.height.trace_report import BesideTrace, TraceReport, read_trace
from orthotome.core.torch.counts import Counts
from orthotome.desk.height.live_sample import LiveSample
from orthotome.desk.working.journal import journal
from orthotome.store.database import Database
from orthotome.store.errors import NotFound, StoreError
from orthotome.store.height import traces
from orthotome.store.keeping.files import trouble_of
from orthotome.store.tables import TraceRow

NOT_KEPT = (DatabaseError, StoreError, OSError)
"""What is raised where the records cannot be written to: held, full, or no longer those that were begun."""
_KEEP_EACH_S = 0.5
_TRY_AGAIN_S = (1.0, 2.0, 5.0, 10.0)
MOST_WAITING = (
    240_000  # samples that wait to be kept: two minutes of the fastest line. What is older is let go
)
_OVER_AFTER_S = 4.0
LONGEST_S = 3 * 3600.0


@dataclass(frozen=True)
class Summary:
    """What a recording came to: what belongs into the log, and what was noticed."""

    trace_id: int
    starts: int
    arc_on_s: float
    off_plate: int
    steady_v: float | None
    spread_v: float | None
    settled_after_s: float | None
    noticed: tuple[EventKind, ...]
    interrupted: str


class Recording:
    """A recording that runs."""

    def __init__(self, database: Database, table_id: int, name: str) -> None:
        self._database, self._table_id, self._name = database, table_id, name
        self._row: TraceRow | None = None
        self._waiting: list[LiveSample] = []
        self._begun_at_s = self._arc_at_s = self._kept_at_s = 0.0
        self.kept = 0
        self.starts = 0
        self.burning = False
        self.arc_on_s = 0.0
        self._before: LiveSample | None = None
        self._let_go = 0  # samples that could not wait any longer
        self._failed, self._again_at_s = 0, 0.0

    @property
    def trace_id(self) -> int:
        """Its number in the records."""
        return (self._row.id or 0) if self._row else 0

    def begin(self, lead: Sequence[LiveSample]) -> None:
        """Begin it, with what came just before the arc. It is in the records once something is kept of it."""
        self._begun_at_s = lead[0].at_s if lead else -1.0
        self._waiting = list(lead)

    def _begin(self) -> TraceRow:
        with self._database.write() as session:
            return traces.begin(session, self._table_id, "line", self._name or "recording")

    async def take(self, fresh: Sequence[LiveSample]) -> None:
        """Take samples, and keep what has come since half a second."""
        if self._begun_at_s < 0 and fresh:
            self._begun_at_s = fresh[0].at_s
        self._waiting.extend(fresh)
        for sample in fresh:
            self._follow(sample)
        at_s = fresh[-1].at_s
        if self._row is None or at_s - self._waiting[0].at_s >= _KEEP_EACH_S:
            if self._failed and at_s < self._again_at_s:
                return
            try:
                await self.keep()
                self._failed = 0
            except NOT_KEPT:
                self._again_at_s = at_s + _TRY_AGAIN_S[min(self._failed, len(_TRY_AGAIN_S) - 1)]
                self._failed += 1
                raise

    def _follow(self, sample: LiveSample) -> None:
        burns = sample.phase != "idle"
        if burns and not self.burning:
            self.starts += 1
        if burns or sample.too_few:
            self._arc_at_s = sample.at_s
        if burns and self.burning and self._before is not None:
            self.arc_on_s += max(0.0, sample.at_s - self._before.at_s)
        self.burning, self._before = burns, sample

    async def keep(self) -> bool:
        """Put what has come on disk; whether there was any."""
        if not self._waiting:
            return False
        part, self._waiting = self._waiting, []
        keeping = asyncio.ensure_future(asyncio.to_thread(self._keep, part))
        try:
            await asyncio.shield(keeping)
        except asyncio.CancelledError:
            # Told to stop in the midst of it: what was begun is carried out, or waits.
            await asyncio.wait([keeping])
            self._settle(part, kept=keeping.exception() is None)
            raise
        except BaseException:
            self._settle(part, kept=False)
            raise
        self._settle(part, kept=True)
        return True

    def _settle(self, part: list[LiveSample], *, kept: bool) -> None:
        if kept:
            self.kept += len(part)
            return
        waits = [*part, *self._waiting]
        self._waiting = waits[-MOST_WAITING:]
        self._let_go += len(waits) - len(self._waiting)

    def is_gone(self, failed: Exception) -> bool:
        """Whether it could not be kept since the records no longer know it."""
        return isinstance(failed, NotFound) and self._row is not None

    def _keep(self, part: Sequence[LiveSample]) -> None:
        if self._row is None:
            self._row = self._begin()
        with self._database.quietly() as session:
            traces.add(session, traces.trace(session, self.trace_id), trace_of(part))

    def is_over(self, at_s: float) -> bool:
        """Whether the arc has been out long enough, or it has run longer than anybody cuts."""
        return (
            not self.burning and at_s - self._arc_at_s > _OVER_AFTER_S
        ) or at_s - self._begun_at_s > LONGEST_S

    async def end(self, interrupted: str) -> Summary:
        """End it: the rest is kept, the starts are counted, and it is read."""
        await self.keep()
        if self._row is None:  # stopped before it had begun
            return summary_of(0, Counts(0, 0.0, 0), None, interrupted)
        if self._let_go:
            interrupted = f"{interrupted} {self._let_go} samples could not be kept.".strip()
        return await asyncio.to_thread(
            ended, self._database, self.trace_id, self.starts, self.arc_on_s, interrupted
        )

    def lost(self, interrupted: str) -> Summary:
        """What it came to where it could not be ended in the records: what must be counted by hand is named."""
        said = (
            f"{interrupted} Its {self.starts} {'start' if self.starts == 1 else 'starts'} and {self.arc_on_s:.0f} s of arc "
            "could not be kept: if they are not under Torch, Parts in a minute, count them there by hand."
        )
        return summary_of(
            self.trace_id, Counts(self.starts, round(self.arc_on_s, 2), 0), None, said.strip()
        )


def why_not_kept(failed: Exception) -> str:
    """Why what comes cannot be put on disk, in a sentence."""
    trouble = (
        trouble_of(failed.orig)
        if isinstance(failed, DBAPIError) and isinstance(failed.orig, sqlite3.DatabaseError)
        else ""
    )
    why = {
        "held": "the records are held by another program",
        "full": "the disk is full or fails",
        "read_only": "the disk can only be read",
    }.get(trouble, "the records do not take it")
    return f"What comes cannot be kept: {why}. It waits here, and is tried again."


def trace_of(samples: Sequence[LiveSample]) -> Trace:
    """Samples as a trace; a column that the table has not is not there."""

    def column(name: str) -> Array | None:
        values = [getattr(s, name) for s in samples]
        if all(v is None for v in values):
            return None
        return np.array([np.nan if v is None else float(v) for v in values])

    times = np.array([s.at_s for s in samples])
    volts = column("volts_v")
    return Trace(
        times,
        np.full(len(samples), np.nan) if volts is None else volts,
        column("z_mm"),
        column("feed_mm_min"),
        column("set_point_v"),
        column("control"),
    )


def ended(database: Database, trace_id: int, starts: int, arc_on_s: float, interrupted: str) -> Summary:
    """End a recording in the records, and say what it came to."""
    with database.read() as session:
        row = traces.trace(session, trace_id)
        known = BesideTrace(cut_height_mm=row.cut_height_mm, speed_mm_min=row.speed_mm_min)
        report = report_or_none(traces.samples(session, trace_id), known)
    kinds = [e.kind for c in report.cuts for e in c.events] if report else []
    never = report.pilots_s if report else ()  # burned, and never cut: no starts of these parts
    starts, arc_on_s = max(0, starts - len(never)), max(0.0, arc_on_s - sum(never))
    counted = Counts(starts, round(arc_on_s, 2), kinds.count("off_plate"), kinds.count("arc_lost"))
    with database.write() as session:
        traces.end(session, trace_id, counted, interrupted=interrupted)
    return summary_of(trace_id, counted, report, interrupted)


def report_or_none(trace: Trace, known: BesideTrace) -> TraceReport | None:
    """What a recording says; None where there is nothing in it, or nothing that can be read."""
    if not len(trace) or not np.isfinite(trace.volts_v).any():
        return None
    try:
        return read_trace(trace, known)
    except TradeError as unreadable:
        journal.warning("a recording cannot be read: %s", unreadable)
        return None


def summary_of(trace_id: int, counted: Counts, report: TraceReport | None, interrupted: str) -> Summary:
    """What belongs into the log: the steady volts of its longest cuts, with their spread."""
    cuts = [c for c in report.cuts if c.settled_s is not None] if report else []
    weights = np.array([c.end_s - (c.settled_s or 0) for c in cuts])
    steady = float((weights * [c.steady_v for c in cuts]).sum() / weights.sum()) if cuts else None
    spread = (
        float(np.sqrt((weights * [(c.rms_v or c.noise_v) ** 2 for c in cuts]).sum() / weights.sum()))
        if cuts
        else None
    )
    noticed = dict.fromkeys(e.kind for c in report.cuts for e in c.events) if report else {}
    waits = [(c.settled_s or 0) - c.arc_on_s for c in cuts]
    return Summary(
        trace_id,
        counted.starts,
        counted.arc_on_s,
        counted.off_plate,
        None if steady is None else round(steady, 1),
        None if spread is None else round(spread, 1),
        round(max(waits), 2) if waits else None,
        tuple(noticed),
        interrupted,
    )


def control_in(trace: Trace) -> tuple[Literal["off", "set_point", "sampled"] | None, float | None]:
    """How height was held in a recording, and at which set-point: one that every start has for itself was sampled."""
    on = filled(trace.control)
    if on is None:
        return None, None
    under = on > 0.5
    if under.mean() < 0.05:
        return "off", None
    points = filled(trace.set_point_v)
    if points is None:
        return "set_point", None
    levels = points[under]
    firsts = [float(points[begin]) for begin, _ in runs(under)]
    apart = len(firsts) > 1 and max(firsts) - min(firsts) > 0 and len(set(firsts)) == len(firsts)
    return ("sampled", None) if apart else ("set_point", round(float(np.median(levels)), 1))


def end_broken_off(database: Database, table_id: int | None = None) -> None:
    """End what was running when Orthotome was stopped (of one table, or of all): starts and arc time are read from what
    was kept."""
    with database.read() as session:
        rows = traces.broken_off(session)
        left = [row.id or 0 for row in rows if table_id in (None, row.table_id)]
    for trace_id in left:
        with database.read() as session:
            report = report_or_none(traces.samples(session, trace_id), BesideTrace())
        # As they were counted while it ran: every arc that burned, also those that never cut.
        burned_s = [*(c.arc_s for c in report.cuts), *report.pilots_s] if report else []
        ended(database, trace_id, len(burned_s), sum(burned_s), traces.BROKEN_OFF)
