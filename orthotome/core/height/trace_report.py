"""What a trace says: its cuts, what height control should be told, and what it cannot tell.

Recommendations, and where each comes from:

* ``control_delay_s`` (from arc on): the slowest settling of its cuts that no control drove, and a fifth more.
* ``dead_band_v`` (half width): two sigma of the fast noise, which the loop cannot cure (domain section 9).
* ``hold_below_speed_share``: the highest share of speed at which the slowing down alone lifts the volts out of the
  dead band, within the usual 80 to 95 %.
* ``crossing_jump_v``: half of the smallest old kerf crossed, and never within the noise.
* ``gain``: lower where the volts swing to and fro about the line while control is on; higher where they wander off
  for long.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from orthotome.core.fields import field_words
from orthotome.core.height import events as ev
from orthotome.core.height.events import Along, TraceEvent
from orthotome.core.height.steady import (
    ARC_V,
    ArcOn,
    SteadyLine,
    band_v,
    fast_noise_v,
    rough_settled,
    settled_s,
    slope_along,
    steady_line,
    told_apart,
)
from orthotome.core.height.timing import HOLD_SHARES, dead_band_v, hold_below, wakes_after_s
from orthotome.core.height.trace import Array, Clock, Flags, Trace, checked, filled, way_mm
from orthotome.core.height.trace_doubts import doubts_of
from orthotome.core.quantities import seconds
from orthotome.core.quantities import volts as in_volts

Gain = Literal["lower", "raise", "keep"]

TYPICAL_V_PER_MM = 6.5
"""Where neither the trace nor the shop says: only to tell what is an event (domain section 8: 4 to 10)."""

_JUMP_SIGMAS = 6.0
_FEW_HZ = 20.0
_WANDER_OVER_S = 0.3
_REST_S = 0.6  # the tail of settling, left out of the line
_ENOUGH_SHARE = (
    0.2  # of a cut, for what is steady of it: with less, the torch's way back is taken for steady too
)
_FEW_SAMPLES = 8  # of which no noise can be told
_SWING_PERIODS_S = (0.08, 2.5)
_LEAST_DRIFT_MM = 30.0
_DRIFT_WITHIN_V_PER_M = 10.0
_DRIFT_SIGMAS = 3.0
_LINGERS = 2.0  # noise of one sample lingers in the next ones: a slope is so much less sure. Assumption


@dataclass(frozen=True)
class TraceCut:
    """One cut of a trace. Times are the file's; what is not known is None."""

    arc_on_s: float
    settled_s: (
        float | None
    )  # also None where height control was on before: it says nothing of the arc's own rest
    settled_mm: float | None
    end_s: float
    steady_v: float
    noise_v: float
    drift_v_per_m: float | None
    rms_v: float | None
    rms_mm: float | None
    events: tuple[TraceEvent, ...]
    height_mm: float | None  # median of Z where it was recorded
    control_share: float | None  # share of its arc with height control on
    moves_s: float | None  # when the feed begins
    driven_to_rest: bool = False  # height control was on before the volts were at rest

    @property
    def arc_s(self) -> float:
        """How long the arc burned."""
        return self.end_s - self.arc_on_s


@dataclass(frozen=True)
class Recommend:
    """What height control should be told, each None where the trace does not say."""

    control_delay_s: float | None
    dead_band_v: float | None
    hold_below_speed_share: float | None
    crossing_jump_v: float | None
    gain: Gain | None


@dataclass(frozen=True)
class TraceReport:
    """Everything a trace says."""

    cuts: tuple[TraceCut, ...]
    recommend: Recommend
    cannot_tell: tuple[str, ...]
    pilots_s: tuple[float, ...] = ()  # how long each arc burned that never transferred

    @property
    def rest_after_s(self) -> float | None:
        """How long after its arc the slowest of the cuts was at rest by itself."""
        return max(
            (c.settled_s - c.arc_on_s for c in self.cuts if c.settled_s is not None), default=None
        )

    @property
    def noise_v(self) -> float | None:
        """The fast noise of its cuts, one sigma."""
        return _noise_v(self.cuts)


@dataclass(frozen=True)
class BesideTrace:
    """What is known beside the trace."""

    slope_v_per_mm: float | None = None
    cut_height_mm: float | None = None
    set_point_v: float | None = None
    speed_mm_min: float | None = None


def read_trace(trace: Trace, known: BesideTrace = BesideTrace()) -> TraceReport:
    """What a trace says. Raises TradeError where it is none."""
    trace = checked(trace)
    way = way_mm(trace, known.speed_mm_min)
    transferred, pilots = told_apart(trace)
    looks = [_Look.of(_Part.of(trace, arc, way), known) for arc in transferred]
    cuts = tuple(look.cut for look in looks)
    recommend = _recommend(looks)
    burned = tuple(float(trace.time_s[p.end - 1] - trace.time_s[p.begin]) for p in pilots)
    return TraceReport(cuts, recommend, tuple(_cannot_tell(trace, cuts, known, recommend)), burned)


@dataclass(frozen=True)
class _Part:
    """The samples of one arc, with the way gone along them."""

    trace: Trace
    after: Trace  # what follows it
    arc: ArcOn
    clock: Clock
    volts: Array
    run: Array  # mm of way, or seconds where no way is known
    way_known: bool

    @classmethod
    def of(cls, trace: Trace, arc: ArcOn, way: Array | None) -> "_Part":
        part = trace.part(arc.begin, arc.end)
        t = part.time_s
        run = t - t[0] if way is None else way[arc.begin : arc.end] - way[arc.begin]
        after = trace.part(arc.end, len(trace))
        return cls(part, after, arc, Clock.of(part), _bridged(part, arc), run, way is not None)

    def noise_v(self, kept: Flags | None = None) -> float:
        """The fast noise, of the kept samples alone."""
        if kept is None or kept.sum() <= 8:
            return fast_noise_v(self.clock, self.volts)
        return fast_noise_v(_clock_of(self.trace.time_s[kept]), self.volts[kept])


@dataclass(frozen=True)
class _Look:
    """One cut with what was worked out on the way to it."""

    cut: TraceCut
    along: Along
    clear: Flags  # settled, and no event

    @classmethod
    def of(cls, part: _Part, known: BesideTrace) -> "_Look":
        along, line, clear = _events_and_line(part, known)
        t, noise = part.trace.time_s, part.noise_v(clear)
        events = tuple(ev.events_of(along, part.arc, part.after))
        first = next((e.from_s for e in events if e.from_s > t[along.settled]), float(t[-1]) + 1)
        until = int(np.searchsorted(t, first, "left"))
        slow = part.clock.mean(along.off_line_v, _WANDER_OVER_S)
        wander = float(np.std(slow[clear])) if clear.any() else 0.0
        settled = settled_s(part.clock, along.off_line_v, noise, until, wander)
        cut = _cut(part, line, clear, settled, known.slope_v_per_mm)
        if settled is not None and _driven(part.trace, settled):
            cut = replace(cut, settled_s=None, settled_mm=None, driven_to_rest=True)
        # The fast part of what scatters is no more than all of it.
        fast = noise if cut.rms_v is None else min(noise, cut.rms_v)
        return cls(replace(cut, noise_v=fast, events=events), along, clear)


def _driven(part: Trace, settled: float) -> bool:
    """Whether height control was on at any time before the volts were at rest."""
    control = filled(part.control)
    return control is not None and bool((control[part.time_s < settled] > 0.5).any())


def _bridged(part: Trace, arc: ArcOn) -> Array:
    """The volts of a cut, moments without arc bridged: they are events, not a level."""
    volts = part.volts_v.copy()
    for lost, back in arc.dropouts:
        volts[lost - arc.begin : back - arc.begin] = volts[max(0, lost - arc.begin - 1)]
    return volts


def _clock_of(time_s: Array) -> Clock:
    return Clock.of(Trace(time_s, time_s))


def _events_and_line(part: _Part, known: BesideTrace) -> tuple[Along, SteadyLine, Flags]:
    """The steady line and the events, found in turn: events are left out of the line, and are departures from it."""
    t, noise = part.trace.time_s, part.noise_v()
    clear = _at_speed(part.trace)
    if clear is None:
        clear = t >= t[0] + min(1.0, 0.6 * (t[-1] - t[0]))
    slope = known.slope_v_per_mm
    for _ in range(3):
        line = steady_line(t, part.run, part.volts, clear)
        off = part.volts - line.at(part.run)
        settled = rough_settled(part.clock, off, band_v(noise))
        along = Along(
            trace=part.trace,
            clock=part.clock,
            off_line_v=off,
            noise_v=noise,
            settled=len(t) - 1 if settled is None else settled,
            slope_v_per_mm=slope or TYPICAL_V_PER_MM,
            slope_known=slope is not None,
            cut_height_mm=known.cut_height_mm,
            speed_mm_min=known.speed_mm_min,
        )
        found = ev.events_of(along, part.arc, part.after)
        rests = t[along.settled]
        rests += min(_REST_S, 0.2 * (t[-1] - rests))
        free = (t >= rests) & ~_slowing_to_stop(along)
        wanted = free & ~ev.with_recovery(found, part.trace)
        if wanted.sum() < max(8, _ENOUGH_SHARE * free.sum()):
            wanted = free & ~ev.mask_of(found, t)
        if wanted.sum() < 8:
            break
        clear, noise = wanted, part.noise_v(wanted)
    return along, line, clear


def _at_speed(part: Trace) -> Flags | None:
    """Where the machine runs at this cut's full speed; None where the feed does not tell, or hardly ever does."""
    feed = filled(part.feed_mm_min)
    if feed is None or not float(feed.max()) > 0:
        return None
    fast = feed >= ev.SLOW_SHARE * float(np.percentile(feed[feed > 0], 80))
    begun = part.time_s >= part.time_s[0] + 0.1
    fast &= begun
    return fast if fast.sum() >= 8 else None


def _slowing_to_stop(along: Along) -> Flags:
    """The last stretch, where the machine slows down to stop or the volts rise to the end."""
    t, share = along.trace.time_s, along.speed_share
    last = np.zeros(len(t), dtype=bool)
    if share is not None:
        slow = share < ev.SLOW_SHARE
        if slow[-1]:
            last[len(t) - int(np.argmax(~slow[::-1])) :] = True
    last |= t > t[-1] - min(0.1, 0.05 * (t[-1] - t[0]))
    return last


def _cut(
    part: _Part, line: SteadyLine, clear: Flags, settled: float | None, slope: float | None
) -> TraceCut:
    """What is steady of a cut; its noise and its events are filled in beside it."""
    t = part.trace.time_s
    steady = float(np.median(part.volts[clear])) if clear.any() else line.level_v
    left = part.volts[clear] - steady
    told = settled is not None and clear.sum() > _FEW_SAMPLES
    rms = float(np.sqrt((left**2).mean())) if told else None
    z, control, feed = (filled(c) for c in (part.trace.z_mm, part.trace.control, part.trace.feed_mm_min))
    moving = None if feed is None else np.flatnonzero(feed > 0.02 * max(1.0, float(feed.max())))
    at_settling = (
        None if settled is None or not part.way_known else float(np.interp(settled, t, part.run))
    )
    return TraceCut(
        arc_on_s=float(t[0]),
        settled_s=settled,
        settled_mm=at_settling,
        end_s=float(t[-1]),
        steady_v=steady,
        noise_v=0.0,
        drift_v_per_m=_drift_v_per_m(part.run[clear], part.volts[clear]) if part.way_known else None,
        rms_v=rms,
        rms_mm=rms / slope if rms is not None and slope else None,
        events=(),
        height_mm=None if z is None or not clear.any() else float(np.median(z[clear])),
        control_share=None if control is None else float((control > 0.5).mean()),
        moves_s=None if moving is None or not len(moving) else float(t[moving[0]]),
    )


def _drift_v_per_m(way_mm: Array, volts: Array) -> float | None:
    """How the steady voltage goes along the way; None where that is too short to tell."""
    if len(volts) <= _FEW_SAMPLES or float(np.ptp(way_mm)) < _LEAST_DRIFT_MM:
        return None
    slope = slope_along(way_mm, volts)
    off = way_mm - way_mm.mean()
    left = volts - volts.mean() - slope * off
    by_chance = _LINGERS * float(np.sqrt((left**2).mean() / (off**2).sum()))
    sure = 1000 * by_chance <= _DRIFT_WITHIN_V_PER_M or abs(slope) > _DRIFT_SIGMAS * by_chance
    return 1000 * slope if sure else None


def _recommend(looks: list[_Look]) -> Recommend:
    cuts = [look.cut for look in looks]
    waits = [c.settled_s - c.arc_on_s for c in cuts if c.settled_s is not None]
    noise = _noise_v(cuts)
    dead_band = None if noise is None else dead_band_v(noise)
    return Recommend(
        control_delay_s=wakes_after_s(max(waits)) if waits else None,
        dead_band_v=dead_band,
        hold_below_speed_share=_hold_share(looks, dead_band),
        crossing_jump_v=_crossing_jump_v(cuts, noise),
        gain=_gain(looks, dead_band),
    )


def _noise_v(cuts: Sequence[TraceCut]) -> float | None:
    noises = [c.noise_v for c in cuts if c.noise_v > 0]
    return float(np.median(noises)) if noises else None


def _hold_share(looks: list[_Look], dead_band: float | None) -> float | None:
    """Where slowing down alone takes the volts out of the dead band: off a line of volts over lost speed."""
    shares, volts = [], []
    for look in looks:
        share = look.along.speed_share
        if share is None:
            continue
        t = look.along.trace.time_s
        for e in look.cut.events:
            if e.kind == "corner":
                inside = (t >= e.from_s) & (t <= e.to_s)
                shares.append(1 - share[inside])
                volts.append(look.along.off_line_v[inside])
    if not shares or dead_band is None:
        return None
    lost, rise = np.concatenate(shares), np.concatenate(volts)
    if float((lost**2).sum()) <= 0:
        return None
    per_share = float((lost * rise).sum() / (lost**2).sum())
    if per_share <= 0:
        return HOLD_SHARES[0]
    return hold_below(dead_band, per_share)


def _crossing_jump_v(cuts: list[TraceCut], noise: float | None) -> float | None:
    if noise is None:
        return None
    least = max(1.0, np.ceil(2 * _JUMP_SIGMAS * noise) / 2)
    jumps = [e.peak_v for c in cuts for e in c.events if e.kind == "kerf_crossing"]
    return float(max(least, np.floor(min(jumps)) / 2) if jumps else least)


def _gain(looks: list[_Look], dead_band: float | None) -> Gain | None:
    """Which way the loop's gain is off, from the stretches under control; None where none is known to be."""
    verdicts: list[Gain] = []
    for look in looks:
        control = filled(look.along.trace.control)
        if control is None or dead_band is None:
            continue
        share = look.along.speed_share
        # A loop that hunts never settles: then from its first third on.
        begins = min(look.along.settled, len(control) // 3)
        under = (control > 0.5) & (np.arange(len(control)) >= begins)
        if share is not None:
            under &= share >= ev.SLOW_SHARE
        # Under a corner or an old kerf the volts rise whatever the gain, and the torch comes back from where it followed them.
        caused = [e for e in look.cut.events if e.kind in ev.FOLLOWED]
        under &= ~ev.mask_of(caused, look.along.trace.time_s, after_s=ev.FOLLOWS_S)
        if under.sum() < 50:
            continue
        if _swings(look, under, dead_band):
            verdicts.append("lower")
            continue
        wandered = any(e.kind in ("dive", "climb") and e.to_s - e.from_s > 0.8 for e in look.cut.events)
        verdicts.append("raise" if wandered else "keep")
    order: tuple[Gain, ...] = ("lower", "raise", "keep")
    return next((verdict for verdict in order if verdict in verdicts), None)


def _swings(look: _Look, under: Flags, dead_band: float) -> bool:
    """Whether the volts swing to and fro: their mean over a short while goes out of the dead band on both sides,
    again and again, with one period."""
    clock = _clock_of(look.along.trace.time_s[under])
    slow = clock.mean(look.along.off_line_v[under], 0.06)
    high, low = slow > 0.7 * dead_band, slow < -0.7 * dead_band
    side = np.where(high, 1, np.where(low, -1, 0))
    turns = side[side != 0]
    changes = int((np.diff(turns) != 0).sum()) if len(turns) else 0
    lasts = float(clock.time_s[-1] - clock.time_s[0])
    if changes < 6:
        return False
    return _SWING_PERIODS_S[0] <= 2 * lasts / changes <= _SWING_PERIODS_S[1]


def _cannot_tell(
    trace: Trace, cuts: tuple[TraceCut, ...], known: BesideTrace, recommend: Recommend
) -> list[str]:
    """A sentence for each thing asked that this trace cannot show, and why."""
    if not cuts:
        return [_no_arc(trace)]
    said = []
    rate = 1 / trace.interval_s if trace.interval_s > 0 else 0.0
    if 0 < rate < _FEW_HZ:
        said.append(
            f"At {rate:.3g} samples a second, settling and crossed kerfs are told no finer than "
            f"{seconds(trace.interval_s)}: record {_FEW_HZ:g} or more."
        )
    if cuts[0].arc_on_s <= trace.time_s[0]:
        said.append(
            "When the first arc came, and how long after it the volts were at rest: it burns already when the recording "
            "begins."
        )
    said += [f"Whether {field_words(d.field)} is in its unit: {d.sentence}" for d in doubts_of(trace)]
    said += _cannot_tell_of_columns(trace, known)
    for i, cut in enumerate(cuts, 1):
        if cut.driven_to_rest:
            said.append(
                f"When the arc of cut {i} is at rest by itself: height control was on before that. A cut with control off "
                "for its first seconds tells."
            )
        elif cut.settled_s is None:
            said.append(
                f"When cut {i} settles: it is over, or disturbed, before its voltage comes to rest."
            )
        elif cut.drift_v_per_m is None and cut.settled_mm is not None:
            said.append(f"How far the voltage of cut {i} drifts along the way: it is too short to tell.")
    if not any(e.kind == "kerf_crossing" for c in cuts for e in c.events):
        said.append(
            "How far the voltage jumps over an old kerf: none was crossed; the jump named here only stands clear of "
            "the noise."
        )
    if recommend.hold_below_speed_share is None and trace.feed_mm_min is not None:
        said.append(
            "Below which share of speed to hold height: no corner with its feed is in it; cut a piece with corners."
        )
    if trace.gaps.any():
        where = trace.time_s[int(np.argmax(trace.gaps))]
        said.append(
            f"What happened while rows are missing: the first gap ends at {seconds(float(where))}."
        )
    return said


def _cannot_tell_of_columns(trace: Trace, known: BesideTrace) -> list[str]:
    said = []
    if filled(trace.feed_mm_min) is None:
        way = "" if known.speed_mm_min else ", how far the voltage drifts and settles along the way"
        said.append(
            f"Which rises are the machine slowing down, below which share of speed to hold height{way}: no feed was "
            "recorded; rises are told by their length and shape. Nor is an arc lost at the end told from one switched off."
        )
    if known.slope_v_per_mm is None:
        beside = "Z tells what the torch did" if filled(trace.z_mm) is not None else "no Z was recorded"
        said.append(
            f"Height for volts: no volts for height were given, and {beside}. A height ladder would tell."
        )
    if filled(trace.control) is None:
        said.append(
            "Whether height control was on before the volts were at rest, and whether its gain is right: no such column was "
            "recorded."
        )
    elif filled(trace.set_point_v) is None and known.set_point_v is None:
        said.append(
            "How far the torch held off its set-point: the set-point was neither recorded nor given."
        )
    return said


def _no_arc(trace: Trace) -> str:
    most = float(trace.volts_v.max())
    if most > ARC_V:
        return "Anything of a cut: no arc in it lasts a tenth of a second."
    return (
        f"Anything of a cut: the voltage never goes above {in_volts(most)}, which is no arc. If this is the divided "
        "signal, multiply it by the ratio of its divider first."
    )
