"""A trace: arc voltage over time, with whatever else was recorded beside it, and its means over a while.

Samples come at any rate and with gaps, so that every mean is taken over *time* and never over a count of rows,
and never across a gap. What a trace does not hold (no feed, no Z) is ``None`` and stays unknown.
"""

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from orthotome.core.errors import TradeError

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

MOST_SAMPLES = 1_000_000
MOST_V = 600.0
"""More than any arc or open circuit of this trade; above it the column is something else. Assumption."""


@dataclass(frozen=True)
class Trace:
    """Samples in the order of time, each array of shape (n,). NaN in ``feed``, ``z``, ``set_point`` or ``control``
    is a cell that was empty; a column that was not recorded is None.

    ``control`` is 1 where height control was on, 0 where it was off.
    """

    time_s: Array
    volts_v: Array
    z_mm: Array | None = None
    feed_mm_min: Array | None = None
    set_point_v: Array | None = None
    control: Array | None = None

    def part(self, begin: int, end: int) -> "Trace":
        """The samples from ``begin`` up to ``end``."""
        names = ("z_mm", "feed_mm_min", "set_point_v", "control")
        cut = {n: None if (c := getattr(self, n)) is None else c[begin:end] for n in names}
        return Trace(self.time_s[begin:end], self.volts_v[begin:end], **cut)

    @cached_property
    def interval_s(self) -> float:
        """The usual time from one sample to the next."""
        steps = np.diff(self.time_s)
        return float(np.median(steps)) if len(steps) else 0.0

    @cached_property
    def gaps(self) -> Flags:
        """Where a sample does not follow on the one before: rows are missing. Shape (n,)."""
        steps = np.diff(self.time_s, prepend=self.time_s[:1])
        return np.asarray(steps > max(0.1, 5 * self.interval_s))

    def __len__(self) -> int:
        return len(self.time_s)


def checked(trace: Trace) -> Trace:
    """The trace without the rows that have no voltage. Raises TradeError where it is none: too long, time that
    runs backwards, volts that no arc has."""
    if len(trace) > MOST_SAMPLES:
        raise TradeError(
            "time_s",
            f"has {len(trace):,} rows, and at most {MOST_SAMPLES:,} are read: cut the file in parts.",
        )
    if not np.isfinite(trace.time_s).all():
        row = int(np.argmin(np.isfinite(trace.time_s))) + 1
        raise TradeError("time_s", f"is empty in row {row}: each row needs its time.")
    back = np.flatnonzero(np.diff(trace.time_s) < 0)
    if len(back):
        row = int(back[0]) + 2
        raise TradeError(
            "time_s",
            f"runs backwards at row {row} (from {trace.time_s[row - 2]:g} to {trace.time_s[row - 1]:g}): "
            "is it one recording, and is this its time?",
        )
    held = np.isfinite(trace.volts_v) & np.append(np.diff(trace.time_s) > 0, True)
    if not held.any():
        raise TradeError("arc_voltage_v", "holds no number.")
    kept = _only(trace, held)
    most = float(np.abs(kept.volts_v).max())
    if most > MOST_V:
        raise TradeError(
            "arc_voltage_v",
            f"goes to {most:g}, which no arc of this trade has: is it this column, and in volts?",
        )
    return kept


def _only(trace: Trace, held: Flags) -> Trace:
    names = ("time_s", "volts_v", "z_mm", "feed_mm_min", "set_point_v", "control")
    found = {n: c[held] for n in names if (c := getattr(trace, n)) is not None}
    return replace(trace, **found)


@dataclass(frozen=True)
class Clock:
    """Times of samples with the stretches between gaps, for means over a while."""

    time_s: Array
    stretch: NDArray[np.int64]  # number of the stretch that a sample is in
    _windows: dict[float, tuple[NDArray[np.int64], NDArray[np.int64]]] = field(default_factory=dict)

    @classmethod
    def of(cls, trace: Trace) -> "Clock":
        """The clock of a trace."""
        return cls(trace.time_s, np.cumsum(trace.gaps))

    def window(self, over_s: float) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """First and one past the last sample within half of ``over_s`` of each, in its own stretch.

        At an end of a stretch the window is cut short on both sides alike, so that a mean belongs to its
        own moment and does not lag.
        """
        if over_s not in self._windows:
            self._windows[over_s] = self._window(over_s)
        return self._windows[over_s]

    def _window(self, over_s: float) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        t, first = self.time_s, np.searchsorted(self.stretch, self.stretch, "left")
        after = np.searchsorted(self.stretch, self.stretch, "right")
        room = np.minimum(t - t[first], t[after - 1] - t)
        half = np.minimum(over_s / 2, room) + 1e-9
        begin = np.maximum(np.searchsorted(t, t - half, "left"), first)
        end = np.minimum(np.searchsorted(t, t + half, "right"), after)
        return begin, end

    def mean(self, values: Array, over_s: float) -> Array:
        """The mean over that long about each sample."""
        begin, end = self.window(over_s)
        total = np.concatenate([[0.0], np.cumsum(values)])
        return np.asarray((total[end] - total[begin]) / (end - begin))

    def count(self, over_s: float) -> Array:
        """How many samples a mean over that long takes, at each sample."""
        begin, end = self.window(over_s)
        return np.asarray((end - begin).astype(float))


def way_mm(trace: Trace, speed_mm_min: float | None) -> Array | None:
    """Way gone at each sample, from the trace's first: by its feed, else at a steady speed; None where neither
    is known."""
    if trace.feed_mm_min is not None:
        feed = filled(trace.feed_mm_min)
        if feed is not None:
            steps = np.diff(trace.time_s)
            return np.concatenate([[0.0], np.cumsum((feed[1:] + feed[:-1]) / 120 * steps)])
    if speed_mm_min is None:
        return None
    return np.asarray((trace.time_s - trace.time_s[0]) * speed_mm_min / 60)


def filled(values: Array | None) -> Array | None:
    """A column with its empty cells at the last known value; None where no cell has one."""
    if values is None:
        return None
    known = np.isfinite(values)
    if not known.any():
        return None
    if known.all():
        return values
    last = np.maximum.accumulate(np.where(known, np.arange(len(values)), -1))
    at = np.where(last >= 0, last, int(np.argmax(known)))
    return np.asarray(values[at])


def runs(mask: Flags) -> list[tuple[int, int]]:
    """The stretches where a mask holds, as (first, one past the last)."""
    edge = np.diff(mask.astype(np.int8), prepend=0, append=0)
    return list(
        zip(np.flatnonzero(edge == 1).tolist(), np.flatnonzero(edge == -1).tolist(), strict=True)
    )


@dataclass(frozen=True)
class Drawn:
    """A stretch of a trace to draw: of each slice of time the least and the most volts in it, so that no peak is lost,
    and the means of the rest. Arrays of shape (slices,); None where nothing was recorded."""

    at_s: Array
    least_v: Array
    most_v: Array
    z_mm: Array | None
    feed_mm_min: Array | None
    set_point_v: Array | None


def drawn(trace: Trace, begin_s: float, end_s: float, slices: int) -> Drawn:
    """The stretch between two times in at most so many slices; slices without samples are left out."""
    first = int(np.searchsorted(trace.time_s, begin_s, "left"))
    part = trace.part(first, int(np.searchsorted(trace.time_s, end_s, "right")))
    held = np.isfinite(part.volts_v)
    t, volts = part.time_s[held], part.volts_v[held]
    if not len(t):
        nothing: Array = np.zeros(0)
        return Drawn(nothing, nothing, nothing, None, None, None)
    if len(t) <= slices:
        begins = np.arange(len(t))
    else:
        width = (end_s - begin_s) / slices
        begins = np.unique(np.searchsorted(t, begin_s + width * np.arange(slices), "left"))
        begins = begins[begins < len(t)]
    sizes = np.diff(np.append(begins, len(t)))

    def mean(column: Array | None) -> Array | None:
        values = filled(column)
        if values is None:
            return None
        return np.asarray(np.add.reduceat(values[held], begins) / sizes)

    return Drawn(
        at_s=np.asarray(np.add.reduceat(t, begins) / sizes),
        least_v=np.asarray(np.minimum.reduceat(volts, begins)),
        most_v=np.asarray(np.maximum.reduceat(volts, begins)),
        z_mm=mean(part.z_mm),
        feed_mm_min=mean(part.feed_mm_min),
        set_point_v=mean(part.set_point_v),
    )
