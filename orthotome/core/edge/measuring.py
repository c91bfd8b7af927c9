"""From what a calliper, a square, a gauge or a photo shows to a signed bevel with its uncertainty.

Bevel is positive where the bottom of the kept metal sticks out beyond its top. Every reading carries a
standard uncertainty (one sigma), carried through to the angle by the first derivative of its formula.
Default uncertainties are typical for a plasma edge and an ordinary hand; an instrument that was checked
(``core.edge.instruments``) puts its own in their place.
"""

import math
from dataclasses import dataclass

from orthotome.core.errors import TradeError
from orthotome.core.quantities import length

ANGLE_GAUGE_U_DEG = 0.4  # repeatability on a plasma edge, typical 0.3 to 0.5
ANGLE_GAUGE_THIN_MM = 5.0  # under this the gauge has little to sit on
CALLIPER_U_MM = 0.05  # one width with a shop calliper on a cleaned edge; assumption
FEELER_U_MM = 0.03  # half a leaf; assumption
STEEPEST_DEG = 45.0  # no plasma edge that is still one leans farther


@dataclass(frozen=True)
class Bevel:
    """A signed bevel in degrees with its standard uncertainty."""

    bevel_deg: float
    u_deg: float


def angle_gauge_u_deg(thickness_mm: float, u_deg: float = ANGLE_GAUGE_U_DEG) -> float:
    """Standard uncertainty of an angle gauge on an edge of that thickness.

    ``u_deg`` is that on an edge it sits on well: so it stays down to 5 mm, then it grows inversely with the
    height that the gauge can sit on.
    """
    _require_thickness(thickness_mm)
    return u_deg * max(1.0, ANGLE_GAUGE_THIN_MM / thickness_mm)


def strip_widths_bevel(
    top_mm: float, bottom_mm: float, thickness_mm: float, u_width_mm: float = CALLIPER_U_MM
) -> Bevel:
    """Mean bevel of a strip's two edges: tan = (bottom - top) / (2 thickness).

    Both widths carry ``u_width_mm``, so the difference carries sqrt(2) of it. It is the mean of two
    edges: one alone is only known if the other's angle is.
    """
    _check_widths(top_mm, bottom_mm, thickness_mm, 2)
    tangent = (bottom_mm - top_mm) / (2 * thickness_mm)
    u_tangent = math.sqrt(2) * u_width_mm / (2 * thickness_mm)
    return _from_tangent(tangent, u_tangent)


def reference_edge_bevel(
    top_mm: float, bottom_mm: float, thickness_mm: float, u_width_mm: float = CALLIPER_U_MM
) -> Bevel:
    """Bevel of one edge across from a machined, square one: tan = (bottom - top) / thickness.

    Half as sure in width as the mean of two edges would be, and it is one edge's own.
    """
    _check_widths(top_mm, bottom_mm, thickness_mm, 1)
    return _from_tangent((bottom_mm - top_mm) / thickness_mm, math.sqrt(2) * u_width_mm / thickness_mm)


def square_and_feeler_bevel(
    gap_mm: float, depth_mm: float, *, undercut: bool, u_gap_mm: float = FEELER_U_MM
) -> Bevel:
    """Bevel from the gap under a square over ``depth_mm``; ``undercut`` says which end gapes."""
    _require_thickness(depth_mm)
    if gap_mm < 0:
        raise TradeError("gap_mm", "a gap is never negative: say which end gapes instead.")
    if gap_mm > depth_mm:
        raise TradeError(
            "gap_mm", f"a gap of {length(gap_mm)} over {length(depth_mm)} is no edge: read it again."
        )
    return _from_tangent((-1 if undercut else 1) * gap_mm / depth_mm, u_gap_mm / depth_mm)


def hole_taper(
    top_mm: float, bottom_mm: float, thickness_mm: float, u_mm: float = CALLIPER_U_MM
) -> Bevel:
    """Mean bevel of a hole's wall: tan = (top - bottom) / (2 thickness).

    The kept metal lies outside, so the signs of a strip are turned round: a hole narrower at the bottom has
    its kept bottom sticking out.
    """
    return strip_widths_bevel(bottom_mm, top_mm, thickness_mm, u_mm)


def kerf_from_size(nominal_mm: float, measured_mm: float, compensated_mm: float) -> float:
    """Kerf of an outside size: what was compensated, plus what the part is too small by.

    The path lies half the compensated kerf outside the drawing on either side.
    """
    return compensated_mm + nominal_mm - measured_mm


def cannot_judge(u_deg: float, target_deg: float) -> str | None:
    """A sentence where one reading is too coarse to judge the target, else None.

    The rule: a reading judges a limit when its 95 % interval is no wider than the limit itself.
    """
    if 2 * u_deg <= target_deg:
        return None
    return (
        f"One reading is ±{2 * u_deg:.1f}°, and the target is {target_deg:.1f}°: it cannot settle it "
        "alone. Read more edges, or use a finer gauge or a thicker piece."
    )


def _from_tangent(tangent: float, u_tangent: float) -> Bevel:
    # d(atan t)/dt = 1 / (1 + t^2)
    return Bevel(math.degrees(math.atan(tangent)), math.degrees(u_tangent / (1 + tangent**2)))


def _check_widths(top_mm: float, bottom_mm: float, thickness_mm: float, edges: int) -> None:
    _require_thickness(thickness_mm)
    for name, width in (("top_mm", top_mm), ("bottom_mm", bottom_mm)):
        if not width > 0:
            raise TradeError(name, "a width is more than zero: leave it out where it was not read.")
    most = edges * thickness_mm * math.tan(math.radians(STEEPEST_DEG))
    if abs(bottom_mm - top_mm) > most:
        raise TradeError(
            "bottom_mm",
            f"{length(bottom_mm)} at the bottom and {length(top_mm)} at the top would lean more than "
            f"{STEEPEST_DEG:.0f}° in {length(thickness_mm)} plate: read them again.",
        )


def _require_thickness(thickness_mm: float) -> None:
    if not thickness_mm > 0:
        raise TradeError("thickness_mm", "the thickness must be more than zero.")
