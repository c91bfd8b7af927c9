"""What a plasma hole can be, and how fast it is cut: the one place for every room that draws, checks or promises holes.

Source: domain section 10.
"""

from orthotome.core.machine.motion import fastest_round_mm_min

SPEED_SHARE = 0.5
"""Speed of a hole as a share of the setting's: the middle of the trade's 40 to 60 %."""
LEAST_THICKNESSES, DOUBTFUL_THICKNESSES = 1.0, 1.5
"""Under the first it is no plasma hole, under the second a doubtful one: it comes out tapered."""
_LEAST_KERFS = 2.0  # a path across less than a kerf leaves no wall


def hole_speed_mm_min(speed_mm_min: float) -> float:
    """The speed of a hole at a setting's, where the machine holds it round."""
    return SPEED_SHARE * speed_mm_min


def least_hole_mm(thickness_mm: float, kerf_mm: float) -> float:
    """The smallest diameter that is a plasma hole at all."""
    return max(LEAST_THICKNESSES * thickness_mm, _LEAST_KERFS * kerf_mm)


def good_hole_mm(thickness_mm: float) -> float:
    """The smallest diameter that is no doubtful hole."""
    return DOUBTFUL_THICKNESSES * thickness_mm


def least_at_speed_mm(speed_mm_min: float, acceleration_mm_s2: float) -> float:
    """The smallest diameter that a machine runs round at a hole's speed; v^2 = a r."""
    wanted = hole_speed_mm_min(speed_mm_min)
    return 2 * (wanted / fastest_round_mm_min(1.0, acceleration_mm_s2)) ** 2
