"""What is asked about a recording before it is kept: figures that no table has are a column in another unit."""

import numpy as np

from orthotome.core.doubts import Doubt
from orthotome.core.height.steady import ARC_V
from orthotome.core.height.trace import Trace, filled, runs
from orthotome.core.quantities import acceleration, length, seconds, speed, volts
from orthotome.core.units import SENSE, UNITS

_SLOWEST_ROW_S, _QUICKEST_ROW_S = 1.0, 0.0002
_MOST_Z_MM = 400.0  # more than any torch of the trade is lifted. Assumption
_RUN_UP = (0.1, 0.9)  # of the full speed, between which it is measured


def doubts_of(trace: Trace) -> list[Doubt]:
    """The questions about its columns, by the names of the file."""
    asked = (_of_time(trace), _of_volts(trace), _of_feed(trace), _of_run_up(trace), _of_z(trace))
    return [found for found in asked if found is not None]


def _of_time(trace: Trace) -> Doubt | None:
    every = trace.interval_s
    if not every or _QUICKEST_ROW_S <= every <= _SLOWEST_ROW_S:
        return None
    unit = "in ms" if every > _SLOWEST_ROW_S else "in s"
    return Doubt("time_s", f"A row every {seconds(every)} shows nothing of a cut. Is the time {unit}?")


def _of_volts(trace: Trace) -> Doubt | None:
    burning = trace.volts_v[trace.volts_v > ARC_V]
    if not len(burning):
        return None
    level, (_, most) = float(np.median(burning)), SENSE["arc_voltage"]
    if level <= most:
        return None
    return Doubt(
        "arc_voltage_v", f"{volts(level)} for most of it is no arc of this trade. Is it this column?"
    )


def _full_speed(trace: Trace) -> float | None:
    """The speed it runs at for most of its cuts; None where it never moves, or no feed was recorded."""
    feed = filled(trace.feed_mm_min)
    if feed is None:
        return None
    moving = feed[(trace.volts_v > ARC_V) & (feed > 0)]
    return float(np.percentile(moving, 80)) if len(moving) else None


def _of_feed(trace: Trace) -> Doubt | None:
    full, (least, most) = _full_speed(trace), SENSE["cut_speed"]
    if full is None or least <= full <= most:
        return None
    meant = [u for u, mm_min in UNITS["speed"].items() if mm_min != 1 and least <= full * mm_min <= most]
    unit = f" Is it in {' or '.join(meant)}?" if meant else " Is it this column?"
    return Doubt("feed_mm_min", f"A feed of {speed(full)} is no cutting speed.{unit}")


def _of_run_up(trace: Trace) -> Doubt | None:
    """Of how fast it comes to speed: a feed in inches taken for millimetres is slow to do so, whatever its speed."""
    full, feed = _full_speed(trace), filled(trace.feed_mm_min)
    if full is None or feed is None:
        return None
    begins, ends = (share * full for share in _RUN_UP)
    found = []
    for begin, end in runs(feed > begins):
        fast = np.flatnonzero(feed[begin:end] >= ends)
        if begin and len(fast):
            took = float(trace.time_s[begin + fast[0]] - trace.time_s[begin - 1])
            found.append((ends - begins) / 60 / took)
    if not found or max(found) >= SENSE["acceleration"][0]:
        return None
    return Doubt(
        "feed_mm_min",
        f"It comes to speed at {acceleration(max(found))}, which is slower than any table. Is the feed in in/min, or the time in ms?",
    )


def _of_z(trace: Trace) -> Doubt | None:
    z = filled(trace.z_mm)
    if z is None or float(np.ptp(z)) <= _MOST_Z_MM:
        return None
    return Doubt(
        "z_mm",
        f"Z moves by {length(float(np.ptp(z)))}, farther than a torch is lifted. In which unit is it?",
    )
