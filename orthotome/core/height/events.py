"""What happens along a cut, as its voltage shows it: corners, old kerfs, dives and climbs, strikes, the arc lost.

A departure is a stretch in which the mean over a short, a middling or a long while leaves the steady line by more
than chance would: short means find a crossed kerf of some hundredths of a second, long ones a slow climb. What it
*is* follows from the way it comes: voltage rises where the torch slows (corner) or where the arc loses metal (old
kerf, edge of the plate), and it follows the gap (dive, climb) otherwise. Where the feed was recorded it decides;
where not, the length and the shape of the rise do: a machine is through a corner in a few tenths of a second, a sheet
lifts slower, and an old kerf is up at once and down at once.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np

from orthotome.core.height.steady import ArcOn
from orthotome.core.height.trace import Array, Clock, Flags, Trace, filled, runs

EventKind = Literal["corner", "kerf_crossing", "dive", "climb", "strike", "arc_lost", "off_plate"]

EVENT_WORDS: dict[EventKind, str] = {
    "corner": "corner",
    "kerf_crossing": "old kerf crossed",
    "dive": "dive",
    "climb": "climb",
    "strike": "strike",
    "arc_lost": "arc lost",
    "off_plate": "off the plate",
}

GAP_MM = 0.5
"""A change of the gap that counts as a dive or a climb (contract)."""

SLOW_SHARE = 0.9
"""Share of the speed set below which a machine counts as slowed (as AT_SPEED of core.machine.motion)."""

_SCALES_S = (0.03, 0.06, 0.15, 0.4)
_TRIMMED_OVER_S, _PEAK_OVER_S, _GAP_OVER_S = 0.06, 0.03, 0.15
_SIGMAS = 4.8  # of a mean: a chance of one in a million each, for thousands of looks at a cut
_PEAK_SIGMAS = 4.0  # of a rise that is known to be none of chance already
_LEAST_V = 1.5
_CORNER_LEAST_V = 2.0
_CROSSING_S = 0.12  # an old kerf of 2 mm at a slow 1 m/min; at half height
_CROSSING_AT_SPEED_S = (
    0.25  # where the feed tells that it did not slow: no sheet lifts and falls in less
)
_CROSSING_V = 2.5
_WIDEST_KERF_MM = 4.0
_NARROWEST_KERF = 0.2  # of the widest: a shorter rise is a machine that hardly slowed
_QUICK_S = (
    0.42  # at half height: a machine has turned a corner in less, a sheet lifts in more; assumption
)
_STRIKE_V = 9.0
_STRIKE_SHARE = 0.7  # of the volts that stand for the whole cut height
_SUDDEN_S = 0.03
_OFF_PLATE_V = 25.0
"""An arc that stretches over an edge rises by 30 V and more; slowing down to a stop lifts the volts by up to 20. Assumption."""
FOLLOWS_S = 0.5
"""A dip so soon after a corner is the torch coming back from its dive."""
FOLLOWED: tuple[EventKind, ...] = ("corner", "kerf_crossing")
"""What lifts the volts with no change of the gap: height control follows them down. (Contract: no dive or climb is caused by these.)"""
_JOIN_S = 0.08
_MARGIN_S = 0.15


@dataclass(frozen=True)
class TraceEvent:
    """One event: times of the file, the farthest departure from the steady line, and the change of the gap
    (negative: closer; None where the volts were followed neither by Z nor by a slope)."""

    kind: EventKind
    from_s: float
    to_s: float
    peak_v: float
    height_mm: float | None = None


@dataclass(frozen=True)
class Along:
    """A cut's samples from where it has settled, with what its events are judged by."""

    trace: Trace  # of this cut alone
    clock: Clock
    off_line_v: Array
    noise_v: float
    settled: int
    slope_v_per_mm: float  # of this set, or a typical one
    slope_known: bool
    cut_height_mm: float | None
    speed_mm_min: float | None = None  # given, where no feed was recorded
    _means: dict[float, Array] = field(default_factory=dict)
    _scatters: dict[float, float] = field(default_factory=dict)

    def mean(self, over_s: float) -> Array:
        """Mean departure from the line over that long, about each sample."""
        if over_s not in self._means:
            self._means[over_s] = self.clock.mean(self.off_line_v, over_s)
        return self._means[over_s]

    def scatter_v(self, over_s: float) -> Array:
        """One sigma of such means, at each sample: what white noise would leave of it, or what they do scatter by (noise that
        lingers, waves of the sheet) where that is more."""
        if over_s not in self._scatters:
            means = self.mean(over_s)[self.settled :]
            seen = 1.4826 * float(np.median(np.abs(means - np.median(means)))) if len(means) else 0.0
            self._scatters[over_s] = seen
        return np.maximum(self.noise_v / np.sqrt(self.clock.count(over_s)), self._scatters[over_s])

    @cached_property
    def over_a_kerf_s(self) -> float:
        """How long the torch is over the widest of old kerfs; 0 where its speed is not known."""
        feed = filled(self.trace.feed_mm_min)
        known = self.speed_mm_min if feed is None else float(np.percentile(feed, 80))
        return 60 * _WIDEST_KERF_MM / known if known else 0.0

    def is_as_long_as_a_kerf(self, lasts_s: float) -> bool:
        """Whether a rise may be an old kerf by its length, one sample more or less; the speed is known."""
        least, most = _NARROWEST_KERF * self.over_a_kerf_s, self.over_a_kerf_s
        return least - self.trace.interval_s <= lasts_s <= most + self.trace.interval_s

    @cached_property
    def speed_share(self) -> Array | None:
        """Speed as a share of this cut's own full speed; None where the feed says nothing of slowing."""
        feed = filled(self.trace.feed_mm_min)
        if feed is None or len(feed) < 5:
            return None
        full = float(np.percentile(feed, 80))
        moving = feed > 0.02 * full
        if full <= 0 or float(feed[moving].min()) > 0.995 * full:
            return None  # the speed that was set, not the one that was run
        return feed / full


def events_of(cut: Along, arc: ArcOn, after: Trace) -> list[TraceEvent]:
    """The events of a cut in order of time. ``after`` are the samples that follow its end."""
    found = [e for begin, end in _departures(cut) if (e := _kind_of(cut, begin, end)) is not None]
    found += _slowed_without_a_rise(cut, found)
    found += _strikes(cut)
    found = _without_follow_ons(sorted(found, key=lambda e: e.from_s), cut)
    t = cut.trace.time_s
    for lost, back in arc.dropouts:
        depth = float(cut.off_line_v[lost - arc.begin : back - arc.begin].min())
        found.append(
            TraceEvent("arc_lost", float(t[lost - arc.begin]), float(t[back - arc.begin]), depth)
        )
    if arc.lost:  # a step to an open circuit is no stretching over an edge
        found = [e for e in found if e.kind != "off_plate"]
    stretched = any(e.kind == "off_plate" for e in found)
    if arc.lost or (not stretched and _lost_at_the_end(cut, after)):
        end = float(t[-1])
        found.append(TraceEvent("arc_lost", end, end, float(cut.off_line_v[-1])))
    return sorted(found, key=lambda e: e.from_s)


def _departures(cut: Along) -> list[tuple[int, int]]:
    """Stretches away from the line, first sample and one past the last, each of one sign."""
    found: list[tuple[int, int]] = []
    for sign in (1.0, -1.0):
        away = np.zeros(len(cut.trace), dtype=bool)
        near = np.zeros(len(cut.trace), dtype=bool)
        for over in _SCALES_S:
            mean = sign * cut.mean(over)
            sigma = cut.scatter_v(over)
            away |= mean > np.maximum(_LEAST_V, _SIGMAS * sigma)
            near |= mean > np.maximum(0.35 * _LEAST_V, 1.2 * sigma)
        away[: cut.settled] = False
        # What hangs on to the settling is its tail.
        wide = [(b, e) for b, e in runs(near | away) if b >= cut.settled and away[b:e].any()]
        found += _joined(cut.trace.time_s, wide, _JOIN_S)
    return sorted(found)


def _joined(time_s: Array, stretches: list[tuple[int, int]], within_s: float) -> list[tuple[int, int]]:
    joined: list[tuple[int, int]] = []
    for begin, end in stretches:
        if joined and time_s[begin] - time_s[joined[-1][1] - 1] <= within_s:
            joined[-1] = (joined[-1][0], end)
        else:
            joined.append((begin, end))
    return joined


def _trimmed(cut: Along, begin: int, end: int) -> tuple[int, int, float]:
    """A departure cut down to where it is over a quarter of its peak, and that peak (of a mean of three samples,
    or over the least time that tells noise from it)."""
    mean = cut.mean(max(_TRIMMED_OVER_S, 2.1 * cut.trace.interval_s))[begin:end]
    sign = np.sign(mean[np.argmax(np.abs(mean))])
    over = np.flatnonzero(mean * sign > np.abs(mean).max() / 4)
    sharp = sign * cut.mean(max(_PEAK_OVER_S, 2.1 * cut.trace.interval_s))[begin:end]
    return begin + int(over[0]), begin + int(over[-1]) + 1, float(sign * sharp.max())


def _half_width_s(cut: Along, begin: int, end: int, peak: float) -> float:
    """Time over half of the peak, samples counted as their own interval."""
    mean = cut.off_line_v[begin:end] * np.sign(peak) > abs(peak) / 2
    return float(mean.sum()) * cut.trace.interval_s


def _jumps(cut: Along, begin: int, end: int) -> bool:
    """Whether a short rise goes up and down at once, as over an old kerf, rather than climbs to a peak and falls:
    a block and a peak of every place and width are laid over it, and the block fits better."""
    margin = end - begin
    begin, end = max(0, begin - margin), min(len(cut.trace), end + margin)
    step = max(1, (end - begin) // 60)
    y = cut.clock.mean(cut.off_line_v, step * cut.trace.interval_s)[begin:end:step]
    at = np.arange(len(y))
    first, last = (i.ravel() for i in np.meshgrid(at, at, indexing="ij"))
    first, last = first[last >= first], last[last >= first]
    middle, half = (first + last)[:, None] / 2, (last - first + 2)[:, None] / 2
    block = (at >= first[:, None]) & (at <= last[:, None])
    peak = np.maximum(0.0, 1 - np.abs(at - middle) / half)
    return _gain_of(block.astype(float), y) > _gain_of(peak, y)


def _gain_of(shapes: Array, y: Array) -> float:
    """How much of the square of ``y`` the best of these shapes takes away."""
    return float(((shapes @ y) ** 2 / (shapes**2).sum(axis=1)).max())


def _kind_of(cut: Along, begin: int, end: int) -> TraceEvent | None:
    """What a departure is; None where it is the end of a cut like any other, or too small to say."""
    begin, end, peak = _trimmed(cut, begin, end)
    t = cut.trace.time_s
    at_the_end = t[-1] - t[end - 1] < max(0.05, 2.5 * cut.trace.interval_s)
    share = cut.speed_share
    slowed = share is not None and float(share[begin:end].min()) < 0.95
    if peak > 0 and at_the_end:
        return _at_the_end(cut, begin, end, slowed=slowed)
    kind = _risen(cut, begin, end, peak, slowed=slowed) if peak > 0 else _fallen(cut, begin, end)
    if kind is None:
        return None
    if kind in ("dive", "climb"):
        peak = _slow_peak(cut, begin, end)
    if kind == "corner" and share is not None:
        begin, end = _slow_stretch(share, begin, end)
    height = _gap_change_mm(cut, kind, begin, end, peak)
    return TraceEvent(kind, float(t[begin]), float(t[end - 1]), peak, height)


def _risen(cut: Along, begin: int, end: int, peak: float, *, slowed: bool) -> EventKind | None:
    width, share = _half_width_s(cut, begin, end, peak), cut.speed_share
    if slowed:
        return "corner"
    # One sample alone has no shape; where the feed stayed, a short rise can be nothing else.
    single = width <= 1.6 * cut.trace.interval_s
    if share is None and cut.over_a_kerf_s and not cut.is_as_long_as_a_kerf(width):
        short = width <= _QUICK_S and peak >= _CORNER_LEAST_V
        return "corner" if short else _climbed(cut, begin, end)
    at_speed = share is not None and width <= max(
        _CROSSING_S, min(cut.over_a_kerf_s, _CROSSING_AT_SPEED_S)
    )
    if single or at_speed:
        return _crossed(cut, begin, end, peak)
    if width <= max(_CROSSING_S, cut.over_a_kerf_s) and _jumps(cut, begin, end):
        return _crossed(cut, begin, end, peak)
    if share is None and width <= _QUICK_S and peak >= _CORNER_LEAST_V:
        return "corner"
    return _climbed(cut, begin, end)


def _crossed(cut: Along, begin: int, end: int, peak: float) -> EventKind | None:
    over = max(_PEAK_OVER_S, 2.1 * cut.trace.interval_s)
    least = _PEAK_SIGMAS * float(cut.scatter_v(over)[begin:end].max())
    return "kerf_crossing" if peak >= max(_CROSSING_V, least) else None


def _climbed(cut: Along, begin: int, end: int) -> EventKind | None:
    return "climb" if _slow_peak(cut, begin, end) / cut.slope_v_per_mm > GAP_MM else None


def _fallen(cut: Along, begin: int, end: int) -> EventKind | None:
    return "dive" if -_slow_peak(cut, begin, end) / cut.slope_v_per_mm > GAP_MM else None


def _slow_peak(cut: Along, begin: int, end: int) -> float:
    """The farthest that a departure goes in a mean over a while: a gap does not change in hundredths of a second, and
    the highest of many short means is mostly noise."""
    mean = cut.mean(_GAP_OVER_S)[begin:end]
    return float(mean[np.argmax(np.abs(mean))])


def _at_the_end(cut: Along, begin: int, end: int, *, slowed: bool) -> TraceEvent | None:
    """The last rise before the arc ends: stretched over an edge, or only the machine slowing down to stop."""
    top = float(cut.off_line_v[begin:end].max())
    plain = cut.speed_share is None or slowed
    stretched = top > _OFF_PLATE_V if plain else top > max(_LEAST_V, 5 * cut.noise_v)
    rising = float(cut.off_line_v[end - 3 : end].mean()) > 0.6 * top
    if not (stretched and rising):
        return None
    t = cut.trace.time_s
    return TraceEvent("off_plate", float(t[begin]), float(t[end - 1]), top)


def _slow_stretch(share: Array, begin: int, end: int) -> tuple[int, int]:
    """The slowed stretch that a rise belongs to: from where the speed falls to where it is back."""
    slow = runs(share < SLOW_SHARE)
    met = [(b, e) for b, e in slow if b < end and e > begin]
    if not met:
        return begin, end
    return met[0][0], met[-1][1]


def _slowed_without_a_rise(cut: Along, found: list[TraceEvent]) -> list[TraceEvent]:
    """Corners that the feed shows and the volts do not: between the run-up and the last slowing down."""
    share = cut.speed_share
    if share is None:
        return []
    t, more = cut.trace.time_s, []
    for begin, end in runs(share < SLOW_SHARE):
        inside = begin > cut.settled and end < len(share)
        seen = any(e.from_s <= t[end - 1] and e.to_s >= t[begin] for e in found)
        if inside and not seen and float(share[begin:end].min()) > 0:
            part = cut.mean(_TRIMMED_OVER_S)[begin:end]
            peak = float(part[np.argmax(np.abs(part))])
            height = _gap_change_mm(cut, "corner", begin, end, peak)
            more.append(TraceEvent("corner", float(t[begin]), float(t[end - 1]), peak, height))
    return more


def _strikes(cut: Along) -> list[TraceEvent]:
    """Volts that fall within some hundredths of a second to what no gap explains: nozzle or shield on the plate."""
    t, off = cut.trace.time_s, cut.off_line_v
    whole = 0.0 if cut.cut_height_mm is None else cut.cut_height_mm * cut.slope_v_per_mm
    depth = max(_STRIKE_V, 6 * cut.noise_v, _STRIKE_SHARE * whole)
    low = off < -depth
    low[: cut.settled] = False
    found = []
    for begin, end in _joined(t, runs(low), _JOIN_S):
        ends = t[-1] - t[end - 1] < max(_SUDDEN_S, 2.5 * cut.trace.interval_s)
        before = np.flatnonzero(t < t[begin] - max(_SUDDEN_S, 1.5 * cut.trace.interval_s))
        soon = int(np.searchsorted(t, t[begin] + _SUDDEN_S, "right"))
        fell = (
            float(off[before[-1]]) - float(off[begin : max(soon, begin + 2)].min())
            if len(before)
            else 0.0
        )
        if fell > 0.6 * depth and not ends:
            found.append(
                TraceEvent("strike", float(t[begin]), float(t[end - 1]), float(off[begin:end].min()))
            )
    return found


def _without_follow_ons(found: list[TraceEvent], cut: Along) -> list[TraceEvent]:
    """The events without the dips that a corner or an old kerf leaves behind, and without the dive that a strike is."""
    causes = [e for e in found if e.kind in FOLLOWED]
    strikes = [e for e in found if e.kind == "strike"]
    control = cut.trace.control
    held = control is not None and not (np.nan_to_num(control, nan=1.0) > 0.5).any()
    kept = []
    for e in found:
        follows = not held and any(c.from_s <= e.from_s <= c.to_s + FOLLOWS_S for c in causes)
        if e.kind in ("dive", "climb") and follows:
            continue
        same = any(s.from_s - 0.05 <= e.from_s and e.to_s <= s.to_s + 0.05 for s in strikes)
        if e.kind == "dive" and same:
            continue
        kept.append(e)
    return kept


def _gap_change_mm(cut: Along, kind: EventKind, begin: int, end: int, peak: float) -> float | None:
    """Change of the gap, negative closer.

    In a corner and over an old kerf the volts rise with no change of the gap, and height control follows them
    down: what Z did beside its way along the sheet is the change of the gap; without Z, what the control would do of
    the volts. Where Z went the way of the volts it followed the sheet, and where no control was on it followed
    nothing: neither tells. A dive or climb is read off the volts themselves.
    """
    by_z = _z_change_mm(cut, begin, end)
    if kind in ("dive", "climb"):
        if cut.slope_known:
            return peak / cut.slope_v_per_mm
        return by_z if by_z is not None and by_z * peak > 0 else None
    control = cut.trace.control
    if control is not None and not (control[begin:end] > 0.5).any():
        return None  # nothing followed: what Z does is the sheet's or the program's
    if by_z is not None:
        return by_z if by_z * peak <= 0 else None
    return -peak / cut.slope_v_per_mm if cut.slope_known else None


def _z_change_mm(cut: Along, begin: int, end: int) -> float | None:
    """The farthest that Z went from where it was about the event, up to a little after it: from a line between just before
    and when it is back, since on a warped sheet Z goes along with the sheet."""
    z = filled(cut.trace.z_mm)
    if z is None:
        return None
    t = cut.trace.time_s
    before = z[(t >= t[begin] - 0.25) & (t < t[begin])]
    until = int(np.searchsorted(t, t[end - 1] + 0.15, "right"))
    if not len(before) or until <= begin:
        return None
    back = (t >= t[end - 1] + FOLLOWS_S) & (t < t[end - 1] + FOLLOWS_S + 0.25)
    about = (t >= t[begin] - 0.25) & (t < t[begin]) | back
    line = (
        np.polyfit(t[about] - t[begin], z[about], 1) if back.any() else [0.0, float(np.median(before))]
    )
    change = z[begin:until] - np.polyval(line, t[begin:until] - t[begin])
    return float(change[np.argmax(np.abs(change))])


def _lost_at_the_end(cut: Along, after: Trace) -> bool:
    """Whether the arc went out by itself: the machine ran on at speed, as the feed beside or after it shows."""
    share = cut.speed_share
    if share is None or share[-1] < 0.5:
        return False
    feed = filled(after.feed_mm_min)
    if feed is None:
        return False
    t = after.time_s
    soon = t <= cut.trace.time_s[-1] + max(0.2, 3 * cut.trace.interval_s)
    full = float(np.percentile(filled(cut.trace.feed_mm_min), 80))  # type: ignore[arg-type]
    return bool(soon.any() and float(feed[soon].max()) > 0.5 * full and share[-1] > 0.8)


def mask_of(events: Iterable[TraceEvent], time_s: Array, *, after_s: float = _MARGIN_S) -> Flags:
    """Samples that events cover, with a little on either side, or longer after."""
    covered = np.zeros(len(time_s), dtype=bool)
    for e in events:
        covered |= (time_s >= e.from_s - _MARGIN_S) & (time_s <= e.to_s + after_s)
    return covered


def with_recovery(events: Iterable[TraceEvent], trace: Trace) -> Flags:
    """Samples that events cover and in which the torch comes back from where it followed them: no part of what is steady.
    Where height is known to be held it followed nothing."""
    held = trace.control is not None and not (np.nan_to_num(trace.control, nan=1.0) > 0.5).any()
    return mask_of(events, trace.time_s, after_s=_MARGIN_S if held else FOLLOWS_S)
