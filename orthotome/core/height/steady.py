"""The cuts of a trace: where the arc transfers, when its voltage has settled, and how steady it is then.

* An arc is on while the voltage is above half of its own steady voltage; an open circuit stands far above it
  before the arc transfers and after it was lost, and does not count. An arc that stands so high throughout, beside
  others that cut, never transferred: it is no cut.
* The steady line is the median level of the cut, with its drift along the way; what events (see ``events``)
  cover is left out of it, and what lies farther from it than its own scatter explains.
* The voltage has *settled* at the first moment from which the mean over 50 ms stays within the larger of 1 V and
  two of its own noise of that line until the first event. That moment is read off a curve fitted to the way down,
  since means over 50 ms of noisy volts cross a line some hundredths of a second early or late.
"""

from dataclasses import dataclass

import numpy as np

from orthotome.core.height.trace import Array, Clock, Flags, Trace, runs

ARC_V = 20.0
"""Below this no arc of the trade burns. Assumption."""

_SETTLES_OVER_S = 0.05  # contract
_SETTLED_V = 1.0  # contract
_OPEN_CIRCUIT = 1.6  # times the steady voltage: not transferred yet. Assumption
_LOST_OVER_V = 55.0  # so far above its level, and at once, an arc was lost. Assumption
OPEN_CIRCUIT_OVER_V = 80.0
"""So far above a cut's own level no arc of it burns: the circuit is open. Assumption."""
_STEP_SAMPLES = (
    2  # in which a lost arc steps to there; a stretched one takes a tenth of a second and more
)
_PILOT_SHARE, _PILOT_S = (
    1.35,
    1.5,
)  # of the other cuts' level, and no longer: an arc that never transferred. Assumptions
_FAR_SIGMAS = 4.0
_SAME_CUT_S = 0.15  # the arc does not come back by a pierce in less. Assumption
_SHORTEST_S = 0.1
_FAST_OVER_S = 0.25
_DWELL_S = 0.3
_LONG_DWELL_S = 1.0
_CHANCE_SIGMAS = 2.5
_LEAST_FOR_DRIFT_S = 2.0
_DRIFT_SIGMAS = 3.0


@dataclass(frozen=True)
class ArcOn:
    """One arc: samples ``begin`` up to ``end`` of the trace; ``dropouts`` are moments inside it without arc. ``lost``: it
    ended in a step to an open circuit."""

    begin: int
    end: int
    dropouts: tuple[tuple[int, int], ...] = ()
    lost: bool = False


def told_apart(trace: Trace) -> tuple[list[ArcOn], list[ArcOn]]:
    """The arcs of a trace that transferred, in order, and those that never did: short ones far above the level of the
    others."""
    found = _all_arcs(trace)
    levels = [_rough_level(trace.volts_v[a.begin : a.end]) for a in found]
    cuts: list[ArcOn] = []
    pilots: list[ArcOn] = []
    for i, arc in enumerate(found):
        others = levels[:i] + levels[i + 1 :]
        lasts = float(trace.time_s[arc.end - 1] - trace.time_s[arc.begin])
        high = bool(others) and levels[i] > max(
            _PILOT_SHARE * float(np.median(others)), float(np.median(others)) + OPEN_CIRCUIT_OVER_V / 2
        )
        (pilots if high and lasts < _PILOT_S else cuts).append(arc)
    return cuts, pilots


def _all_arcs(trace: Trace) -> list[ArcOn]:
    burning = trace.volts_v > ARC_V
    if not burning.any():
        return []
    found = []
    for begin, end, dropouts in _joined(trace, runs(burning)):
        volts = trace.volts_v[begin:end]
        half = _rough_level(volts) / 2
        on = np.flatnonzero(volts > half)
        first = begin + _transferred(volts, 2 * half)
        last, lost = _burned_until(volts, begin, begin + int(on[-1]) + 1)
        if last > first and trace.time_s[last - 1] - trace.time_s[first] >= _SHORTEST_S:
            inside = tuple(d for d in dropouts if first < d[0] < last)
            found.append(ArcOn(first, last, inside, lost))
    return found


def _joined(
    trace: Trace, burning: list[tuple[int, int]]
) -> list[tuple[int, int, list[tuple[int, int]]]]:
    """Stretches of arc, those joined that a short loss parts."""
    joined: list[tuple[int, int, list[tuple[int, int]]]] = []
    for begin, end in burning:
        if joined and trace.time_s[begin] - trace.time_s[joined[-1][1] - 1] < _SAME_CUT_S:
            first, last, lost = joined[-1]
            joined[-1] = (first, end, [*lost, (last, begin)])
        else:
            joined.append((begin, end, []))
    return joined


def _burned_until(volts: Array, begin: int, last: int) -> tuple[int, bool]:
    """One past the last sample of the arc, without the open circuit that may stand after it, and whether it was lost: a
    step within a sample or two from its own level to there, and no ramp over an edge."""
    level, until = _rough_level(volts), last - begin
    plateau = _stands_from(volts[:until], level + _LOST_OVER_V)
    if plateau is None:
        return last, False
    before = volts[max(0, plateau - _STEP_SAMPLES - 3) : max(1, plateau - _STEP_SAMPLES + 1)]
    if float(np.median(before)) < level + _LOST_OVER_V / 5:
        end = plateau
        while end > 1 and volts[end - 1] > level + _LOST_OVER_V / 3:
            end -= 1  # the sample on its way up
        return begin + end, True
    torn = _stands_from(volts[:until], level + OPEN_CIRCUIT_OVER_V)
    return last if torn is None else begin + torn, False


def _stands_from(volts: Array, over_v: float) -> int | None:
    """From where the volts stand above that until they end; None where they do not, or do so for most of the cut: that
    is its level, or it is no cut."""
    high = volts > over_v
    if not high[-1] or high.all():
        return None
    begin = len(volts) - int(np.argmax(~high[::-1]))
    return begin if begin >= max(5, len(volts) // 4) else None


def _rough_level(volts: Array) -> float:
    """The level of a cut before more is known: the median of its later part."""
    return float(np.median(volts[len(volts) // 4 :]))


def _transferred(volts: Array, level: float) -> int:
    """The first sample of the transferred arc: above half of the level, and no longer the open circuit."""
    on = volts > level / 2
    opening = volts > _OPEN_CIRCUIT * level
    if opening[: max(3, len(volts) // 4)].any():
        head = opening.copy()
        head[len(volts) // 4 + 1 :] = False
        on[: int(np.flatnonzero(head)[-1]) + 1] = False
    return int(np.argmax(on))


def fast_noise_v(clock: Clock, volts: Array) -> float:
    """One sigma of the fast part: what is left beside its mean over a quarter of a second, taken from the middle
    of its spread so that jumps do not count."""
    over = max(_FAST_OVER_S, 5 * float(np.median(np.diff(clock.time_s))) if len(volts) > 1 else 0.0)
    taken = clock.count(over)
    enough = taken >= 3
    if enough.sum() < 5:
        return 0.0
    left = (volts - clock.mean(volts, over))[enough] / np.sqrt(1 - 1 / taken[enough])
    found = float(1.4826 * np.median(np.abs(left - np.median(left))))
    # A torch that bounces on the plate swings the volts to and fro; from one sample to the next they hardly move.
    steps = np.diff(volts)
    by_step = float(1.4826 * np.median(np.abs(steps)) / np.sqrt(2))
    return min(found, 3 * by_step) if by_step > 0 else found


@dataclass(frozen=True)
class SteadyLine:
    """The steady voltage along a cut: a level, and how it drifts along the way (or along time, where no way is
    known)."""

    level_v: float
    drift: float  # V per unit of ``along``
    middle: float

    def at(self, along: Array) -> Array:
        """The steady voltage there."""
        return self.level_v + self.drift * (along - self.middle)


def steady_line(time_s: Array, along: Array, volts: Array, kept: Flags) -> SteadyLine:
    """The line through the kept samples: their median, and the least-squares drift where they last long enough. What lies
    farther off than four of their own deviations is left out: a strike, a plateau, what no event covers yet."""
    x, v, t = along[kept], volts[kept], time_s[kept]
    near = _near(x, v)
    if near.sum() >= max(8, len(v) // 2):
        x, v, t = x[near], v[near], t[near]
    level, middle = float(np.median(v)), float(np.mean(x))
    spread = float(((x - middle) ** 2).sum())
    if t[-1] - t[0] < _LEAST_FOR_DRIFT_S or spread <= 0:
        return SteadyLine(level, 0.0, middle)
    drift = slope_along(x, v)
    left = v - v.mean() - drift * (x - middle)
    by_chance = float(np.sqrt((left**2).mean() / spread))
    return SteadyLine(level, drift if abs(drift) > _DRIFT_SIGMAS * by_chance else 0.0, middle)


def _near(x: Array, v: Array) -> Flags:
    """Samples within four median deviations of a line through medians of the first and the second half."""
    half = len(v) // 2
    if half < 4:
        return np.ones(len(v), dtype=bool)
    (x0, v0), (x1, v1) = (
        (float(np.median(x[p])), float(np.median(v[p]))) for p in (slice(0, half), slice(half, None))
    )
    slope = (v1 - v0) / (x1 - x0) if x1 > x0 else 0.0
    off = v - (v0 + slope * (x - x0))
    off -= np.median(off)
    scatter = 1.4826 * float(np.median(np.abs(off)))
    return np.abs(off) <= _FAR_SIGMAS * scatter if scatter > 0 else np.ones(len(v), dtype=bool)


def slope_along(along: Array, values: Array) -> float:
    """Least-squares slope of values along a way; 0 where there is none."""
    off = along - along.mean()
    spread = float((off**2).sum())
    return float((off * (values - values.mean())).sum() / spread) if spread > 0 else 0.0


def band_v(noise_v: float) -> float:
    """How near to steady counts as settled."""
    return max(_SETTLED_V, 2 * noise_v)


def rough_settled(clock: Clock, off_line_v: Array, band: float) -> int | None:
    """The first sample from which the mean stays in the band for a while; None where it never does."""
    inside = np.abs(clock.mean(off_line_v, _SETTLES_OVER_S)) <= band
    t = clock.time_s
    for begin, end in runs(inside):
        if end == len(t) or t[end - 1] - t[begin] >= _DWELL_S:
            return begin
    return None


def settled_s(
    clock: Clock, off_line_v: Array, noise_v: float, first_event: int, wander_v: float = 0.0
) -> float | None:
    """The moment from which the mean over 50 ms stays in the band until the first event.

    A wave of the sheet that leaves the band by itself, after the voltage had been in it for a second, does not
    unsettle it; nor does what chance alone adds to a mean of a few samples. Where the sheet's waves (``wander_v``, one
    sigma) never leave it in the band for a second, it has settled when it is among them. None where it never is.
    """
    band = band_v(noise_v)
    mean = clock.mean(off_line_v, _SETTLES_OVER_S)
    chance = _CHANCE_SIGMAS * noise_v / np.sqrt(clock.count(_SETTLES_OVER_S))
    wide = max(band, _CHANCE_SIGMAS * wander_v)
    stays = ((band, _LONG_DWELL_S), (band, 0.0), (wide, _LONG_DWELL_S), (wide, _DWELL_S))
    for within, dwell in stays:
        begin = _stays_from(clock, np.abs(mean) <= within + chance, dwell, first_event)
        if begin is not None:
            return (
                _crossing_s(clock, off_line_v, mean, within, begin) if begin else float(clock.time_s[0])
            )
    return None


def _stays_from(clock: Clock, inside: Flags, dwell_s: float, first_event: int) -> int | None:
    """The first sample of the first stay that lasts so long; with no such time, of a stay until the first event."""
    t = clock.time_s
    for begin, end in runs(inside[:first_event]):
        if (dwell_s and t[end - 1] - t[begin] >= dwell_s) or (not dwell_s and end == first_event):
            return begin
    return None


def _crossing_s(clock: Clock, off: Array, mean: Array, band: float, begin: int) -> float:
    """When the way into the band crosses it: off a fitted way in where one fits, else between two means."""
    t = clock.time_s
    while begin + 1 < len(t) and abs(float(mean[begin])) > band:
        begin += 1  # within chance of the band, and not in it yet
    a, b = abs(float(mean[begin - 1])), abs(float(mean[begin]))
    share = 0.0 if a <= b else min(1.0, (a - band) / (a - b))
    between = float(t[begin - 1] + share * (t[begin] - t[begin - 1]))
    fitted = _fitted_crossing_s(t, off, mean, band, between)
    return between if fitted is None else fitted


_COMES_IN_SHARE = 0.75  # of the farthest out: where it has begun to come in
_COMES_IN_FROM = (7.0, 4.0)
"""Bands: the farther out the surer, as long as it is one way in, and not the end of the run-up or of the drop."""
_LEAST_FROM = 1.5  # bands: a way in that is seen for less says nothing of its shape
_WAY_IN_S, _REST_AFTER_S = 1.0, 0.4
_FARTHEST_OFF_S = 0.15  # of the crossing between two means
_TAUS_S = np.geomspace(0.01, 1.5, 120)
_ENDS = np.linspace(0.0, 1.0, 120)[1:]
_FINE_S = 0.001
_UNFIT_SIGMAS = 3.0


def _fitted_crossing_s(t: Array, off: Array, mean: Array, band: float, near_s: float) -> float | None:
    """The crossing of ``band`` by the mean of a curve fitted about it, from some bands out: creeping in (an
    exponential), eased in by a drive (a square) or straight in. None where none fits."""
    before = np.flatnonzero((t >= near_s - _WAY_IN_S) & (t < near_s))
    if not len(before):
        return None
    sign = float(np.sign(mean[before[-1]])) or 1.0
    way = sign * mean[before]
    if way.max() < _LEAST_FROM * band:
        return None
    for bands in _COMES_IN_FROM:
        far = np.flatnonzero(way > min(bands * band, _COMES_IN_SHARE * way.max()))
        from_s = float(t[before[int(far[-1])]])
        near = (t >= from_s) & (t <= near_s + _REST_AFTER_S)
        x, y = t[near] - near_s, sign * off[near]
        if len(x) < 8 or (x < 0).sum() < 3:
            continue
        crossing, fits = _by_curve(x, y, band)
        if (fits or bands == _COMES_IN_FROM[-1]) and abs(crossing) <= _FARTHEST_OFF_S:
            return near_s + crossing
    return None


def _ways_in(at: Array, begin: float, end: float) -> Array:
    """Curves of each kind that come in from ``begin``, a row each: exponentials, squares and straight lines."""
    left = np.maximum(0.0, begin + (end - begin) * _ENDS[:, None] - at[None, :])
    return np.concatenate([np.exp(-(at - begin)[None, :] / _TAUS_S[:, None]), left**2, left])


def _by_curve(x: Array, y: Array, band: float) -> tuple[float, bool]:
    """Where the mean of the best curve crosses the band, as x; and whether what it leaves on the way in is noise."""
    curves = _ways_in(x, x[0], x[-1])
    heights = (curves @ y) / np.maximum((curves**2).sum(axis=1), 1e-12)
    left = np.where(heights > 0, ((y - heights[:, None] * curves) ** 2).sum(axis=1), np.inf)
    best = int(np.argmin(left))
    residual = y - heights[best] * curves[best]
    rest = residual[x >= 0.0]
    noise = float(np.sqrt((rest**2).mean())) if len(rest) else 0.0
    blocks = [b for b in np.array_split(residual[x < 0], 3) if len(b)]
    fits = all(abs(float(b.mean())) <= _UNFIT_SIGMAS * noise / np.sqrt(len(b)) for b in blocks)
    fine = np.arange(-2 * _FARTHEST_OFF_S, 2 * _FARTHEST_OFF_S, _FINE_S)
    half = round(_SETTLES_OVER_S / 2 / _FINE_S)
    total = np.concatenate([[0.0], np.cumsum(heights[best] * _ways_in(fine, x[0], x[-1])[best])])
    outside = np.flatnonzero((total[2 * half :] - total[: -2 * half]) / (2 * half) > band)
    return (float(fine[half + int(outside[-1])]) if len(outside) else -np.inf), fits
