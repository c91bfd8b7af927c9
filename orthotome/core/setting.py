"""What is dialled at the machine for one cut."""

from dataclasses import dataclass
from typing import Protocol

SPEED_RANGE_MM_MIN = (20.0, 60_000.0)
"""No table cuts slower or faster than this; limits are kept inside it."""

HEIGHT_RANGE_MM = (0.05, 40.0)
"""The same of cut height."""


class CutAt(Protocol):
    """Anything that says at which speed and height it was, or is to be, cut."""

    @property
    def speed_mm_min(self) -> float:
        """Speed, mm/min."""

    @property
    def cut_height_mm(self) -> float:
        """Cut height, mm."""


@dataclass(frozen=True, order=True)
class Setting:
    """One speed (mm/min) with one cut height (mm)."""

    speed_mm_min: float
    cut_height_mm: float

    @classmethod
    def of(cls, cut: CutAt) -> "Setting":
        """The setting of a cut, of starting numbers, or of anything else that was cut at one."""
        return cls(cut.speed_mm_min, cut.cut_height_mm)
