"""From what a calliper, a square or a gauge shows to a signed bevel with its uncertainty.

Every reading carries a standard uncertainty (one sigma), and every method says when it cannot settle
the question. Default uncertainties are typical for a plasma edge and an ordinary hand; a shop that
has measured its own puts them in their place.
"""

import math
from dataclasses import dataclass

from orthotome.core.errors import TradeError

ANGLE_GAUGE_U_DEG = 0.4  # repeatability on a plasma edge, typical 0.3 to 0.5
ANGLE_GAUGE_THIN_MM = 5.0  # under this the gauge has little to sit on
CALLIPER_U_MM = 0.05  # one width with a shop calliper on a cleaned edge; assumption
FEELER_U_MM = 0.03  # half a leaf; assumption


@dataclass(frozen=True)
class Bevel:
    """A signed bevel in degrees with its standard uncertainty."""

    bevel_deg: float
    u_deg: float


def angle_gauge_u_deg(thickness_mm: float) -> float:
    """Standard uncertainty of an angle gauge on an edge of that thickness.

    Flat at its typical value down to 5 mm, then inversely with the height it can sit on.
    """
    _require_thickness(thickness_mm)
    return ANGLE_GAUGE_U_DEG * max(1.0, ANGLE_GAUGE_THIN_MM / thickness_mm)


def strip_widths_bevel(
    top_mm: float, bottom_mm: float, thickness_mm: float, u_width_mm: float = CALLIPER_U_MM
) -> Bevel:
    """Mean bevel of a strip's two edges: tan = (bottom - top) / (2 thickness).

    Both widths carry ``u_width_mm``, so the difference carries sqrt(2) of it. It is the mean of two
    edges: one alone is only known if the other's angle is.
    """
    _require_thickness(thickness_mm)
    tangent = (bottom_mm - top_mm) / (2 * thickness_mm)
    u_tangent = math.sqrt(2) * u_width_mm / (2 * thickness_mm)
    return _from_tangent(tangent, u_tangent)


def square_and_feeler_bevel(
    gap_mm: float, depth_mm: float, *, undercut: bool, u_gap_mm: float = FEELER_U_MM
) -> Bevel:
    """Bevel from the gap under a square over ``depth_mm``; ``undercut`` says which end gapes."""
    _require_thickness(depth_mm)
    if gap_mm < 0:
        raise TradeError("gap_mm", "a gap is never negative: say which end gapes instead.")
    return _from_tangent((-1 if undercut else 1) * gap_mm / depth_mm, u_gap_mm / depth_mm)


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


def _require_thickness(thickness_mm: float) -> None:
    if not thickness_mm > 0:
        raise TradeError("thickness_mm", "the thickness must be more than zero.")
