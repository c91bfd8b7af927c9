"""Recordings with known truth, made the way a table makes them: a torch that a drive moves over a sheet that waves.

Nothing here is shared with the reader of recordings (``orthotome.core.height``) or with the simulated table: the volts follow
from gap, speed and what lies under the jet; noise is white, coloured and hum; height is held or follows the volts. Truth is read
off the same volts without noise, as the contract words it.
"""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from orthotome.core.height.trace import Trace

Array = NDArray[np.float64]

RATES_HZ = (50.0, 100.0, 200.0)
NOISES_V = (0.5, 1.2)
KINDS = ("corner", "kerf_crossing", "dive", "climb", "strike", "arc_lost", "off_plate")
_STEP_S = 0.001
_CONTROL_AFTER_S = 0.8
_ENDINGS = ("plain", "plain", "arc_lost", "off_plate")


@dataclass(frozen=True)
class Happened:
    """One event as it was made."""

    kind: str
    from_s: float
    to_s: float


@dataclass(frozen=True)
class MadeCut:
    """What is true of one cut."""

    arc_on_s: float
    end_s: float
    settled_s: float
    steady_v: float
    sd_of_mean_v: float
    """Of the median of its steady samples, by its white and its coloured noise."""


@dataclass(frozen=True)
class Recording:
    """A recording, and all that is true of it; ``slope_v_per_mm`` and ``cut_height_mm`` are what the shop knows."""

    trace: Trace
    cuts: tuple[MadeCut, ...]
    happened: tuple[Happened, ...]
    slope_v_per_mm: float
    cut_height_mm: float
    speed_mm_min: float


@dataclass
class _Table:
    """What stays the same through a recording."""

    chance: np.random.Generator
    noise_v: float
    rate_hz: float
    steady_v: float = 0.0
    slope: float = 0.0
    height_mm: float = 0.0
    speed_mm_min: float = 0.0
    acceleration: float = 0.0
    open_v: float = 0.0
    slowing_v: float = 0.0
    coloured_share: float = 0.0
    coloured_s: float = 0.0
    hum_v: float = 0.0
    follows: bool = False
    happened: list[Happened] = field(default_factory=list)

    def drawn(self) -> "_Table":
        """With its own figures drawn."""
        draw = self.chance.uniform
        self.steady_v, self.slope = draw(95, 165), draw(4.0, 9.0)
        self.height_mm = draw(1.2, 3.8)
        self.speed_mm_min, self.acceleration = draw(900, 5200), draw(250, 1500)
        self.open_v, self.slowing_v = draw(235, 310), draw(9, 22)
        self.coloured_share, self.coloured_s = draw(0.2, 0.6), draw(0.008, 0.04)
        self.hum_v, self.follows = draw(0.0, 0.3), bool(self.chance.random() < 0.5)
        return self


def recording(case: int, *, noise_v: float, rate_hz: float) -> Recording:
    """The recording of that number: one to three cuts, with and without feed, Z and control."""
    chance = np.random.default_rng([case, 20260212])
    table = _Table(chance, noise_v, rate_hz).drawn()
    volts: list[Array] = []
    feed: list[Array] = []
    z: list[Array] = []
    on: list[Array] = []
    cuts: list[MadeCut] = []
    at = 0.0
    for _ in range(int(chance.integers(1, 4))):
        quiet = np.zeros(int(chance.uniform(0.3, 1.5) / _STEP_S))
        for column in (volts, feed, on):
            column.append(quiet)
        z.append(quiet + 25.0)
        at += len(quiet) * _STEP_S
        made, columns = _cut(table, at)
        for column, part in zip((volts, feed, z, on), columns, strict=True):
            column.append(part)
        cuts.append(made)
        at += len(columns[0]) * _STEP_S
    quiet = np.zeros(int(0.4 / _STEP_S))
    for column in (volts, feed, on):
        column.append(quiet)
    z.append(quiet + 25.0)
    whole = [np.concatenate(c) for c in (volts, feed, z, on)]
    trace = _sampled(table, whole, rate_hz)
    return Recording(
        trace, tuple(cuts), tuple(table.happened), table.slope, table.height_mm, table.speed_mm_min
    )


def _cut(table: _Table, began_s: float) -> tuple[MadeCut, tuple[Array, Array, Array, Array]]:
    """One cut from the pilot arc to the end: what is true of it, and volts, feed, Z and control at each step."""
    chance = table.chance
    pilot_s, pierce_s, moves_s = (
        chance.uniform(0.05, 0.25),
        chance.uniform(0.2, 0.9),
        chance.uniform(5, 14),
    )
    ending = _ENDINGS[int(chance.integers(len(_ENDINGS)))]
    pierce = round(pierce_s / _STEP_S)
    way = round(moves_s / _STEP_S)
    t: Array = np.asarray(np.arange(pierce + way) * _STEP_S, dtype=float)
    share, corners = _speeds(table, pierce, way, stops=ending == "plain")
    gap, volts, taken = np.full(len(t), table.height_mm), np.zeros(len(t)), [*corners]
    _drop(table, gap, pierce)
    begun = pierce + round(1.6 / _STEP_S)
    free = _free_places(table, begun, len(t) - round(0.8 / _STEP_S), taken)
    true = [Happened("corner", *(began_s + pilot_s + i * _STEP_S for i in c)) for c in corners]
    for at in free:
        true.append(_happens(table, gap, volts, at, began_s + pilot_s))
    volts += (
        table.steady_v
        + table.slope * (gap - table.height_mm)
        + table.slowing_v * (1 - share) * (t > pierce_s)
    )
    drift = chance.uniform(-0.06, 0.06) * t
    volts += drift
    followed = _followed(table, volts - drift, pierce)
    volts += table.slope * followed
    after, volts = _ended(table, volts, ending, began_s + pilot_s, true)
    settled = _settled(table, volts - table.steady_v - drift, t, true, began_s + pilot_s)
    table.happened += [h for h in true if h.from_s > settled]
    still = _still(table, t + began_s + pilot_s, settled, true) & (share > 0.9)
    steady = table.steady_v + float(np.median(drift[still]))
    cut = MadeCut(
        began_s + pilot_s, began_s + pilot_s + t[-1], settled, steady, _sd_of_median(table, still)
    )
    pilot = np.full(round(pilot_s / _STEP_S), table.open_v)
    all_volts = np.concatenate([pilot, _noisy(table, volts), after])
    rest = len(all_volts) - len(pilot) - len(t)
    feed = np.concatenate([np.zeros(len(pilot)), share * table.speed_mm_min, np.zeros(rest)])
    lift = table.chance.normal(0, 0.003, len(t)) + followed + (gap[0] if table.follows else 0.0)
    z = np.concatenate([np.full(len(pilot), 4.0), 10 + lift, np.full(rest, 25.0)])
    on = np.concatenate(
        [np.zeros(len(pilot)), (t > pierce_s + _CONTROL_AFTER_S) * float(table.follows), np.zeros(rest)]
    )
    return cut, (all_volts, feed, z, on)


def _speeds(table: _Table, pierce: int, way: int, *, stops: bool) -> tuple[Array, list[tuple[int, int]]]:
    """Speed as a share of the full one at each step, and where it falls below nine tenths in between."""
    per_step = table.acceleration / (table.speed_mm_min / 60) * _STEP_S
    goal = np.ones(way)
    corners = []
    at = round(table.chance.uniform(2.2, 3.5) / _STEP_S)
    while at < way - round(2.0 / _STEP_S) and table.chance.random() < 0.75:
        goal[at] = table.chance.uniform(0.0, 0.45)
        corners.append(at)
        at += round(table.chance.uniform(1.8, 4.0) / _STEP_S)
    if stops:
        goal[-1] = 0.0
    share = np.minimum(goal, 1.0)
    share[0] = 0.0
    for i in range(1, way):
        share[i] = min(share[i], share[i - 1] + per_step)
    for i in range(way - 2, -1, -1):
        share[i] = min(share[i], share[i + 1] + per_step)
    found = []
    for c in corners:
        low = np.flatnonzero(share < 0.9)
        of = low[(low >= c - round(1.5 / per_step)) & (low <= c + round(1.5 / per_step))]
        found.append((pierce + int(of[0]), pierce + int(of[-1])))
    return np.concatenate([np.zeros(pierce), share]), found


def _drop(table: _Table, gap: Array, pierce: int) -> None:
    """From pierce height to cut height: by a drive's ramp, or creeping in at the end."""
    over = table.height_mm * table.chance.uniform(0.6, 1.6)
    t = np.arange(len(gap) - pierce) * _STEP_S
    if table.chance.random() < 0.5:
        gone = np.clip(t / table.chance.uniform(0.08, 0.3), 0, 1)
        down = 1 - (3 * gone**2 - 2 * gone**3)
    else:
        down = np.exp(-t / table.chance.uniform(0.06, 0.22))
    gap[:pierce] += over
    gap[pierce:] += over * down


def _followed(table: _Table, volts: Array, pierce: int) -> Array:
    """What height control does of it in mm, where it follows the volts: down after a corner, and back again."""
    moved = np.zeros(len(volts))
    if not table.follows:
        return moved
    over_s, now = table.chance.uniform(0.15, 0.45), 0.0
    for i in range(pierce + round(_CONTROL_AFTER_S / _STEP_S), len(volts)):
        off = volts[i] + table.slope * now - table.steady_v
        now -= off / table.slope * _STEP_S / over_s
        moved[i] = now
    return moved


def _free_places(table: _Table, begin: int, end: int, taken: list[tuple[int, int]]) -> list[int]:
    """Where something may happen: at least a second from everything else."""
    found: list[int] = []
    away = round(1.1 / _STEP_S)
    for at in table.chance.integers(begin, max(begin + 1, end), size=int(table.chance.integers(0, 5))):
        clear = all(at < b - away or at > e + away for b, e in taken)
        if clear and begin + away // 2 < at < end - away // 2:
            found.append(int(at))
            taken.append((int(at), int(at)))
    return found


def _happens(table: _Table, gap: Array, volts: Array, at: int, zero_s: float) -> Happened:
    """An old kerf, a wave of the sheet or a strike about there, laid into the gap or the volts."""
    chance = table.chance
    # Under control a wave is flattened and a strike lifts the torch: what is left of either has no one name.
    kinds = ("kerf_crossing",) if table.follows else ("kerf_crossing", "kerf_crossing", *KINDS[2:5])
    kind = kinds[int(chance.integers(len(kinds)))]
    if kind == "kerf_crossing":
        lasts = round(60 * chance.uniform(1.4, 3.2) / table.speed_mm_min / _STEP_S)
        shape = np.clip(1.25 * np.sin(np.pi * (np.arange(lasts) + 0.5) / lasts), 0, 1)
        volts[at : at + lasts] += chance.uniform(max(5.0, 6 * table.noise_v), 16) * shape
    elif kind == "strike":
        lasts = round(chance.uniform(0.05, 0.25) / _STEP_S)
        volts[at : at + lasts] -= max(13.0, 0.9 * table.slope * table.height_mm)
    else:
        lasts = round(chance.uniform(0.7, 1.1) / _STEP_S)
        sign = -1 if kind == "dive" else 1
        least = max(0.75, (2.5 + 3 * table.noise_v) / table.slope)
        deep = chance.uniform(least, max(least, 0.7 * table.height_mm) if kind == "dive" else 2.5)
        shape = np.sin(np.pi * np.arange(lasts) / lasts) ** 2
        gap[at - lasts // 2 : at - lasts // 2 + lasts] += sign * deep * shape
        at -= lasts // 2
    return Happened(kind, zero_s + at * _STEP_S, zero_s + (at + lasts) * _STEP_S)


def _ended(
    table: _Table, volts: Array, ending: str, zero_s: float, true: list[Happened]
) -> tuple[Array, Array]:
    """What the volts do after the cut, and the cut's own volts with its end."""
    end_s = zero_s + len(volts) * _STEP_S
    if ending == "arc_lost":
        true.append(Happened("arc_lost", end_s, end_s))
        return np.full(round(table.chance.uniform(0.05, 0.4) / _STEP_S), table.open_v), volts
    if ending == "off_plate":
        lasts = round(table.chance.uniform(0.1, 0.3) / _STEP_S)
        volts = volts.copy()
        volts[-lasts:] += np.linspace(0, table.chance.uniform(30, 70), lasts)
        true.append(Happened("off_plate", end_s - lasts * _STEP_S, end_s))
    return np.zeros(0), volts


def _noisy(table: _Table, volts: Array) -> Array:
    """With white noise (laid on by the sampling), coloured noise and hum."""
    chance, n = table.chance, len(volts)
    keep = np.exp(-_STEP_S / table.coloured_s)
    steps = chance.normal(0, table.noise_v * table.coloured_share * np.sqrt(1 - keep**2), n)
    coloured = np.empty(n)
    last = 0.0
    for i in range(n):
        last = keep * last + steps[i]
        coloured[i] = last
    return np.asarray(
        volts + coloured + table.hum_v * np.sin(2 * np.pi * 100.3 * np.arange(n) * _STEP_S)
    )


def _settled(table: _Table, off: Array, t: Array, true: list[Happened], zero_s: float) -> float:
    """As the contract words it, without noise: the mean over 50 ms of what is off the steady line is in the band from
    then until the first event."""
    first = min([h.from_s - zero_s for h in true if h.from_s - zero_s > 1.0], default=float(t[-1]) - 0.3)
    fast = table.noise_v * np.sqrt(1 - table.coloured_share**2)
    band, half = max(1.0, 2 * fast), round(0.025 / _STEP_S)
    total = np.concatenate([[0.0], np.cumsum(off)])
    mean = (total[2 * half :] - total[: -2 * half]) / (2 * half)
    until = max(1, round(first / _STEP_S) - 2 * half)
    outside = np.flatnonzero(np.abs(mean[:until]) > band)
    return zero_s + float(t[half + int(outside[-1]) + 1] if len(outside) else 0.0)


def _still(table: _Table, at_s: Array, settled_s: float, true: list[Happened]) -> NDArray[np.bool_]:
    """Where nothing happens and nothing comes back from what happened."""
    still = at_s > settled_s + 0.6
    for h in true:
        still &= (at_s < h.from_s - 0.15) | (at_s > h.to_s + (0.5 if table.follows else 0.15))
    return still


def _sd_of_median(table: _Table, still: NDArray[np.bool_]) -> float:
    """Coloured noise is worth one sample in twice the time that it lingers; a median scatters by a quarter more than a mean."""
    lasts_s = max(1.0, float(still.sum())) * _STEP_S
    white = table.noise_v**2 * (1 - table.coloured_share**2) / (lasts_s * table.rate_hz)
    coloured = (table.noise_v * table.coloured_share) ** 2 * min(1.0, 2 * table.coloured_s / lasts_s)
    return float(1.25 * np.sqrt(white + coloured))


def _sampled(table: _Table, whole: list[Array], rate_hz: float) -> Trace:
    """As it is written down: at a rate, with a little jitter and white noise; some columns are not recorded."""
    chance = table.chance
    volts, feed, z, on = whole
    count = int(len(volts) * _STEP_S * rate_hz) - 1
    t = np.arange(count) / rate_hz + chance.uniform(-0.1, 0.1, count) / rate_hz
    at = np.clip((t / _STEP_S).astype(int), 0, len(volts) - 1)
    white = table.noise_v * np.sqrt(1 - table.coloured_share**2)
    seen = volts[at] + np.where(
        volts[at] > 1, chance.normal(0, white, count), chance.normal(0, 0.05, count)
    )
    with_feed, with_z = chance.random() < 0.7, chance.random() < 0.6
    return Trace(
        t - t[0],
        np.round(seen, 2),
        z_mm=np.round(z[at], 3) if with_z else None,
        feed_mm_min=np.round(feed[at], 0) if with_feed else None,
        control=on[at] if with_feed else None,
    )
