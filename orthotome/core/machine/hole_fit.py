"""Whether a bolt goes through a hole as it came out, how far it tapers, and what to draw so that it fits."""

import math
from dataclasses import dataclass

from orthotome.core.machine.measured import Hole
from orthotome.core.quantities import length, spoken

TAPER_THAT_MATTERS_DEG = 1.0
"""Assumption: less is within what a plasma hole is."""
CLEARANCE_MM = 0.2
"""A bolt goes through by hand where the smallest way through is so much wider. Assumption."""
_SURE = 2.0
_OVAL_SIGMAS = 3.0
METRIC_BOLTS_MM = (3, 4, 5, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 42, 45, 48)
_INCH = {
    "1/8": 3.175, "3/16": 4.7625, "1/4": 6.35, "5/16": 7.9375, "3/8": 9.525, "7/16": 11.1125, "1/2": 12.7,
    "9/16": 14.2875, "5/8": 15.875, "3/4": 19.05, "7/8": 22.225, "1": 25.4, "1 1/8": 28.575, "1 1/4": 31.75, "1 1/2": 38.1,
}  # fmt: skip


@dataclass(frozen=True)
class HoleFit:
    """One hole. ``draw_mm`` is the diameter to draw so that its smallest way through comes out at the nominal one;
    ``taper_deg`` is positive where it narrows downward, and has one sigma; None: not read."""

    nominal_mm: float
    draw_mm: float | None
    taper_deg: float | None
    taper_sd_deg: float | None
    passes: str
    oval: bool

    @property
    def tapered(self) -> bool:
        """Whether its taper is there beyond doubt, and more than a plasma hole's."""
        if self.taper_deg is None or self.taper_sd_deg is None:
            return False
        return abs(self.taper_deg) > max(TAPER_THAT_MATTERS_DEG, _SURE * self.taper_sd_deg)


def fit_of(hole: Hole, thickness_mm: float | None) -> HoleFit:
    """What a hole's diameters say."""
    read = [d for d in (hole.top_mm, hole.bottom_mm, hole.other_mm) if d is not None]
    smallest = min(read, default=None)
    taper = sd = None
    if hole.top_mm is not None and hole.bottom_mm is not None and thickness_mm:
        taper = math.degrees(math.atan((hole.top_mm - hole.bottom_mm) / (2 * thickness_mm)))
        sd = math.degrees(math.sqrt(2) * hole.u_mm / (2 * thickness_mm))
    across = hole.top_mm if hole.top_mm is not None else hole.bottom_mm
    oval = (
        across is not None
        and hole.other_mm is not None
        and abs(across - hole.other_mm) > _OVAL_SIGMAS * math.sqrt(2) * hole.u_mm
    )
    draw = None if smallest is None else 2 * hole.nominal_mm - smallest
    return HoleFit(hole.nominal_mm, draw, taper, sd, passes_says(smallest, hole.u_mm), oval)


def inch_bolts() -> dict[str, float]:
    """Inch bolts by name, in mm."""
    return {f"{name} in": mm for name, mm in _INCH.items()}


def drawn_across_mm(path_mm: tuple[float, float], kerf_mm: float) -> float:
    """How wide a hole was drawn whose path measures so much across and along: the path lies half a kerf within it."""
    return sum(path_mm) / 2 + kerf_mm


def passes_says(smallest_mm: float | None, u_mm: float) -> str:
    """The largest bolt that goes through, in the shop's sizes."""
    if smallest_mm is None:
        return "Not read: what passes is not known."
    most = smallest_mm - max(CLEARANCE_MM, _SURE * u_mm)
    if not spoken().in_inches:
        fits = [size for size in METRIC_BOLTS_MM if size <= most]
        name = f"M{fits[-1]}" if fits else ""
    else:
        in_inches = [name for name, mm in inch_bolts().items() if mm <= most]
        name = in_inches[-1] if in_inches else ""
    if not name:
        return f"No bolt of the usual sizes passes: the smallest way through is {length(smallest_mm)}."
    return f"{name} and smaller pass"
