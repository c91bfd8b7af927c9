"""A sample of a running line."""

from dataclasses import dataclass

from orthotome.core.height.phases import Phase


@dataclass(frozen=True)
class LiveSample:
    """One sample as the screens get it; ``n`` counts from when Orthotome first heard of the line."""

    n: int
    at_s: float
    volts_v: float | None
    set_point_v: float | None
    z_mm: float | None
    feed_mm_min: float | None
    control: int | None
    phase: Phase
    too_few: bool = False  # volts for an arc, while it moves
