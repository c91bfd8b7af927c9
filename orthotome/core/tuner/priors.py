"""What is believed before the first cut, each number with where it comes from and how sure it is.

The figures are typical ranges of the trade, wide enough that three or four readings outweigh them.
Speeds enter as ``x = ln(speed / start speed)``, heights as ``z = height - start height`` in mm.
"""

from dataclasses import dataclass

from orthotome.core.height import volts
from orthotome.core.torch import wear

# Process bevel at the starting numbers, deg. A manual's row is square to within a few degrees.
START_BEVEL = (0.0, 3.0)
# The same where the row is another metal's, and where low-speed dross then begins, in ln(speed): the speed itself is
# a guess that may be off by half. Assumption.
UNLISTED_START_BEVEL = (0.0, 5.0)
UNLISTED_LOW_START = (-0.16, 0.35)
# +20 % speed gives +1 to +3 deg: 5.5 to 16.5 deg per unit of ln(speed). Some hold that slower is
# always squarer and some the opposite, so the sign is left to the cuts: zero is two sigma away.
SPEED_SLOPE = (10.0, 5.0)
# +1 mm on 8 mm plate gives +1.5 to +5 deg.
HEIGHT_SLOPE = (3.2, 1.2)
# Bevel saturates and is not symmetric. Assumption: 30 % of speed or 1 mm off, the bend is worth
# well under a degree either way.
SPEED_BEND = (0.0, 8.0)
HEIGHT_BEND = (0.0, 0.6)
SPEED_HEIGHT_BEND = (0.0, 3.0)
# Half the difference between the sides; the good side is typically a few degrees the squarer.
SWIRL = (1.3, 1.3)
# Each component of the jet's lean, deg, of a well kept torch: under a degree.
LEAN = (0.0, 0.6)
# Two-fold pattern over direction (oval bore, or unequal axes), deg. Round parts have next to none.
TWOFOLD = (0.0, 0.35)
# One torch in eight was knocked and leans by some degrees (3 is seen), one in twelve has an oval bore: shares
# are assumptions, which two readings round a square outweigh.
KNOCKED_SHARE, KNOCKED_LEAN_SD = 0.12, 2.2
OVAL_SHARE, OVAL_SD = 0.08, 2.0
# The lean of an earlier mount, and the two-fold of earlier parts, which were changed for some reason.
EARLIER_LEAN, EARLIER_TWOFOLD = (0.0, 1.5), (0.0, 1.0)
# The swirl of earlier parts whose ring turned out to be of the other hand, deg: nothing is carried over. Assumption.
OTHER_HAND = (0.0, 3.0)
# What a change of parts or of plate does to the process bevel, deg. Assumption.
PARTS_CHANGE = (0.0, 1.0)
PLATE_CHANGE = (0.0, 0.4)

# What a hundred starts do to the process bevel, deg, and to the volts: core.torch's, as is the ledger of parts.
WEAR = wear.BEVEL_PER_100

# Spread of the bevel itself from cut to cut, and from edge to edge of one cut: a grid, weighed by the
# cuts. Assumption, from the repeatability the trade quotes for one setting (half a degree at the most); kept
# because the chances that come of it come true on simulated tables (docs/method.md).
CUT_SPREAD_DEG = ((0.1, 0.15), (0.2, 0.3), (0.3, 0.3), (0.42, 0.17), (0.6, 0.06), (0.85, 0.02))
EDGE_SPREAD_DEG = ((0.1, 0.3), (0.2, 0.34), (0.32, 0.25), (0.5, 0.09), (0.8, 0.02))
# How many times its stated uncertainty a gauge really errs: stated by the maker, used by a hand in a glove.
# Assumption.
GAUGE = ((0.75, 0.25), (1.0, 0.45), (1.4, 0.3))
# Heights that were not set by the machine: (bias, sd) in mm. Without touch-off an operator stays
# high for fear of a crash; sampling keeps what touch-off gave.
HEIGHT_ERROR_MM = {"off": (0.0, 0.0), "by_hand": (0.3, 0.5), "sampled": (0.0, 0.15)}

# Arc voltage: V at the start (sd); slope, speed and the reading's own noise are core.height's.
START_VOLTAGE_SD_V = 6.0
UNKNOWN_VOLTAGE = (125.0, 30.0)
VOLTS_PER_MM = volts.PER_MM
VOLTS_PER_LN_SPEED = volts.BY_LN_SPEED
VOLTS_PER_1000_STARTS = wear.PER_1000
VOLTAGE_NOISE_V = volts.NOISE_V
VOLTAGE_PARTS_CHANGE_V = 5.0


def slope_scale(thickness_mm: float) -> float:
    """How much steeper bevel answers than at 8 mm: slopes are larger on thin metal.

    Assumption: with the square root of thickness, held between 0.6 and 2.
    """
    return float(min(2.0, max(0.6, (8.0 / thickness_mm) ** 0.5)))


@dataclass(frozen=True)
class DrossPrior:
    """Where the dross window lies before the first cut, in ln(speed) from the starting speed."""

    low_start: tuple[float, float]  # where low-speed dross begins
    log_width: tuple[float, float]  # ln of the window's width
    log_grades: tuple[float, float]  # ln of grades gained per unit of ln(speed) outside it
    low_per_mm: tuple[float, float]  # how the low threshold moves per mm of height
    high_per_mm: tuple[float, float]  # and the high one: too high builds fast dross up
    log_sever_gap: tuple[float, float]  # ln of the gap from the window's end to "not through"
    stubborn: float  # chance that there is dross no speed clears


# Narrow for thin stainless and aluminium, wide for mild steel of 6 to 12 mm; widths and rates are
# assumptions of about a factor of two.
_NARROW = frozenset({"stainless_steel", "aluminium", "copper", "brass", "bronze"})


def dross_prior(metal: str, thickness_mm: float) -> DrossPrior:
    """The dross window expected for a metal and thickness."""
    narrow = metal in _NARROW or thickness_mm < 3.0
    return DrossPrior(
        low_start=(-0.16, 0.2),
        log_width=(-1.35 if narrow else -0.95, 0.45),
        log_grades=(2.4, 0.45),
        low_per_mm=(-0.03, 0.08),
        high_per_mm=(-0.08, 0.08),
        log_sever_gap=(-1.4, 0.8),
        stubborn=0.10 if metal in _NARROW else 0.05,
    )
