"""One seat of the torch: what was read in it agrees, or the jet moved between two readings.

A lean is of a seat. Where a later reading says another lean than those before it, by more than their errors allow,
the seat is no longer one: the newest is believed, both are shown, and the question is what happened between them.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from orthotome.core.edge.edges import Swirl, way_in_words
from orthotome.core.torch.alignment import KNOWN, Alignment, Mount, SlugReading, align

_DISAGREE = 3.3  # times the sd of a component; by chance in one of two hundred pairs
_FEWEST = 3  # readings on either side of a move: fewer tell no direction


@dataclass(frozen=True)
class Sitting:
    """What was read in one go: a slug, or a square."""

    at: datetime
    readings: tuple[SlugReading, ...]
    slug: bool = False


@dataclass(frozen=True)
class Moved:
    """How the jet stood before it moved, and when it was read to stand otherwise first."""

    before: Alignment
    at: datetime
    says: str


@dataclass(frozen=True)
class Seat:
    """How the jet stands by what is believed of a seat, the readings that say so, and whether it moved within it."""

    alignment: Alignment
    believed: tuple[SlugReading, ...]
    moved: Moved | None = None


def seat_of(sittings: Sequence[Sitting], swirl: Swirl, target_deg: float, mount: Mount) -> Seat | None:
    """How the jet stands in one seat; None where nothing was read. A move is looked for where a slug was read, and
    where squares follow one."""
    dated = sorted(sittings, key=lambda s: (s.at, s.slug))
    whole = _readings(dated)
    if not whole:
        return None
    splits = [
        (apart, n, before, after)
        for n in range(1, len(dated))
        if dated[n].slug or dated[n - 1].slug
        if (found := _apart(dated[:n], dated[n:], swirl, target_deg, mount)) is not None
        for apart, before, after in [found]
    ]
    if not splits:
        return Seat(align(whole, swirl, target_deg, mount), whole)
    _, n, before, after = max(splits, key=lambda s: s[0])
    at = dated[n].at
    return Seat(after, _readings(dated[n:]), Moved(before, at, _says(before, after)))


def _readings(sittings: Sequence[Sitting]) -> tuple[SlugReading, ...]:
    return tuple(r for s in sittings for r in s.readings)


def _apart(
    before: Sequence[Sitting], after: Sequence[Sitting], swirl: Swirl, target_deg: float, mount: Mount
) -> tuple[float, Alignment, Alignment] | None:
    """How many times their errors the leans before and after lie apart, with both; None where that may be chance."""
    was, now = _readings(before), _readings(after)
    if min(len(was), len(now)) < _FEWEST:
        return None
    a, b = (align(read, swirl, target_deg, mount) for read in (was, now))
    (ax, ay), (bx, by) = _components(a), _components(b)
    apart = math.hypot(ax - bx, ay - by) / math.hypot(a.sd_deg, b.sd_deg)
    return (apart, a, b) if apart > _DISAGREE else None


def _components(found: Alignment) -> tuple[float, float]:
    toward = math.radians(found.toward_deg)
    return found.lean_deg * math.cos(toward), found.lean_deg * math.sin(toward)


def _says(before: Alignment, after: Alignment) -> str:
    return (
        f"Was it knocked? Newest: {_lean(after)}. Before: {_lean(before)}. That is more apart than the gauge allows, and "
        "the newest is believed. If it was knocked or turned between them, begin a seat there; if not, read one more "
        "slug, and strike out what was read wrong."
    )


def _lean(found: Alignment) -> str:
    sure = KNOWN * found.sd_deg
    if found.lean_deg <= sure:
        return f"upright to {sure:.1f}°"
    return f"{found.lean_deg:.1f}° {way_in_words(found.toward_deg)}, known to {sure:.1f}°"
