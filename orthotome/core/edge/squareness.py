"""What "square" means: degrees, a gap against a square, or a range of ISO 9013.

ISO 9013 gives the perpendicularity tolerance ``u`` in mm for thickness ``a`` in mm, measured over
the edge less a strip ``delta_a`` at the top and at the bottom. For a straight-sided edge
``u = (a - 2 delta_a) tan|bevel|``. A gap against a square uses the full thickness:
``gap = a tan|bevel|``. A bowed edge has a larger ``u`` than its mean angle says.
"""

import math
from dataclasses import dataclass

from orthotome.core.errors import TradeError

# Perpendicularity tolerance u = constant + factor * a (ISO 9013, the table of ranges).
ISO_9013_RANGES: dict[int, tuple[float, float]] = {
    1: (0.05, 0.003),
    2: (0.15, 0.007),
    3: (0.4, 0.01),
    4: (0.8, 0.02),
    5: (1.2, 0.035),
}

# Strip left out at each face: up to this thickness, this much (ISO 9013). At 3 mm and under it is a
# tenth of the thickness.
_STRIPS = ((6.0, 0.3), (10.0, 0.6), (20.0, 1.0), (40.0, 1.5), (100.0, 2.0))

# Over this many degrees a range says nothing an operator would call square. Assumption: the worst
# edge anybody tunes towards.
_MEANINGLESS_DEG = 6.0


def strip_mm(thickness_mm: float) -> float:
    """Height of the strip ``delta_a`` left out at the top and at the bottom of the edge."""
    _require_thickness(thickness_mm)
    if thickness_mm <= 3.0:
        return 0.1 * thickness_mm
    for up_to, strip in _STRIPS:
        if thickness_mm <= up_to:
            return strip
    raise TradeError("thickness_mm", "the ranges of the standard end at 100 mm.")


def gap_mm(bevel_deg: float, thickness_mm: float) -> float:
    """Gap against a square over the full thickness, for a straight edge at ``bevel_deg``."""
    return thickness_mm * math.tan(math.radians(abs(bevel_deg)))


def bevel_of_gap_deg(gap: float, thickness_mm: float) -> float:
    """Angle of a straight edge that shows ``gap`` mm against a square over the full thickness."""
    _require_thickness(thickness_mm)
    return math.degrees(math.atan2(gap, thickness_mm))


def perpendicularity_mm(bevel_deg: float, thickness_mm: float) -> float:
    """ISO 9013 ``u`` of a straight edge at ``bevel_deg``."""
    return (thickness_mm - 2 * strip_mm(thickness_mm)) * math.tan(math.radians(abs(bevel_deg)))


def range_tolerance_mm(iso_range: int, thickness_mm: float) -> float:
    """Largest ``u`` that range allows at that thickness."""
    if iso_range not in ISO_9013_RANGES:
        raise TradeError("iso_range", "ISO 9013 has ranges 1 to 5.")
    _require_thickness(thickness_mm)
    constant, factor = ISO_9013_RANGES[iso_range]
    return constant + factor * thickness_mm


def bevel_of_range_deg(iso_range: int, thickness_mm: float) -> float:
    """Largest angle of a straight edge inside that range at that thickness."""
    height = thickness_mm - 2 * strip_mm(thickness_mm)
    return math.degrees(math.atan2(range_tolerance_mm(iso_range, thickness_mm), height))


def range_of_bevel(bevel_deg: float, thickness_mm: float) -> int | None:
    """Best (lowest) range a straight edge at that angle falls in; None past range 5."""
    u_mm = perpendicularity_mm(bevel_deg, thickness_mm)
    for iso_range in ISO_9013_RANGES:
        if u_mm <= range_tolerance_mm(iso_range, thickness_mm) + 1e-9:
            return iso_range
    return None


@dataclass(frozen=True)
class SquareTarget:
    """One target, said in each of the three ways, with a warning where one of them means little."""

    bevel_deg: float
    gap_mm: float
    perpendicularity_mm: float
    iso_range: int | None
    warning: str | None


def square_target(
    thickness_mm: float,
    *,
    bevel_deg: float | None = None,
    gap: float | None = None,
    iso_range: int | None = None,
) -> SquareTarget:
    """The same target as degrees, gap and range; give exactly one of the three.

    Raises TradeError if none or several are given, or the one given is not positive.
    """
    given = [x for x in (bevel_deg, gap, iso_range) if x is not None]
    if len(given) != 1:
        raise TradeError("target", "give degrees, a gap or a range: one of the three.")
    if given[0] <= 0:
        raise TradeError("target", "the target must be more than zero: no cut is perfectly square.")
    if gap is not None:
        bevel_deg = bevel_of_gap_deg(gap, thickness_mm)
    elif iso_range is not None:
        bevel_deg = bevel_of_range_deg(iso_range, thickness_mm)
    assert bevel_deg is not None
    if bevel_deg >= 45:
        raise TradeError("target", f"{bevel_deg:.0f}° is no target for a square edge: stay under 45°.")
    warning = None
    if iso_range is not None and bevel_deg > _MEANINGLESS_DEG:
        warning = (
            f"At this thickness range {iso_range} allows {bevel_deg:.0f}°: on thin sheet the ranges "
            "mean little. Give degrees or a gap."
        )
    return SquareTarget(
        bevel_deg,
        gap_mm(bevel_deg, thickness_mm),
        perpendicularity_mm(bevel_deg, thickness_mm),
        range_of_bevel(bevel_deg, thickness_mm),
        warning,
    )


def _require_thickness(thickness_mm: float) -> None:
    if not thickness_mm > 0:
        raise TradeError("thickness_mm", "the thickness must be more than zero.")
