"""What an edge is measured with: how fine it reads, how well a hand repeats it, and what it can settle.

An instrument has a *resolution* (the step it shows) and a *repeatability* (one sigma of one hand reading one
edge again). With n repeats its standard uncertainty is::

    u = sqrt(repeatability^2 / n + resolution^2 / 12)

since repeats average the hand out and not the step (a step is uniform between its neighbours: its variance is
a twelfth of its square). A method turns u into degrees on a thickness. It settles a target when its 95 %
interval, two of its standard uncertainties, is no wider than the target.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from orthotome.core.edge.measuring import (
    ANGLE_GAUGE_U_DEG,
    CALLIPER_U_MM,
    FEELER_U_MM,
    Bevel,
    angle_gauge_u_deg,
    reference_edge_bevel,
    square_and_feeler_bevel,
    strip_widths_bevel,
)
from orthotome.core.errors import TradeError
from orthotome.core.quantities import length

Method = Literal["angle_gauge", "strip_widths", "square_and_feeler", "reference_edge", "sizes", "photo"]
METHODS: tuple[Method, ...] = get_args(Method)

REPEATS_OF_A_CHECK = 5  # the fewest that tell anything of a spread
MOST_REPEATS = 9  # of one edge: past that another instrument is quicker; assumption
PHOTO_EDGE_PX = 1200.0  # that an edge fills of a photo taken for measuring; assumption


@dataclass(frozen=True)
class MethodFacts:
    """How a method is called, in what it reads, and what to mind."""

    label: str
    unit: Literal["deg", "mm", "px"]
    reads: str
    mind: str


METHOD_FACTS: dict[Method, MethodFacts] = {
    "angle_gauge": MethodFacts(
        "Angle gauge", "deg", "one edge", "Scrape the dross off first: a gauge on a bead reads the bead."
    ),
    "strip_widths": MethodFacts(
        "Calliper: top and bottom width",
        "mm",
        "the mean of two edges",
        "It averages the strip's two edges: one alone is not known from it. Clean both edges first.",
    ),
    "square_and_feeler": MethodFacts(
        "Square and feeler",
        "mm",
        "one edge",
        "Read the gap at the end that gapes, over the whole depth.",
    ),
    "reference_edge": MethodFacts(
        "Calliper from a machined edge",
        "mm",
        "one edge",
        "The edge across must be machined square: then the difference of the widths is this edge's own.",
    ),
    "sizes": MethodFacts(
        "Sizes and diagonals",
        "mm",
        "the mean of two opposite edges",
        "Sizes tell kerf, scale and squareness; top against bottom size is the mean of two edges.",
    ),
    "photo": MethodFacts(
        "Photo with a scale",
        "px",
        "one edge",
        "Hold the camera square to the end of the cut, with a rule in the plane of it.",
    ),
}


@dataclass(frozen=True)
class Instrument:
    """One instrument in one hand. ``resolution`` and ``repeatability`` are in its method's unit."""

    name: str
    method: Method
    resolution: float
    repeatability: float
    checked: bool = False  # by repeats of this hand, not assumed

    def u(self, repeats: int = 1) -> float:
        """Standard uncertainty of the mean of so many repeats, in the method's unit."""
        return math.sqrt(self.repeatability**2 / repeats + self.resolution**2 / 12)


USUAL_INSTRUMENTS: tuple[Instrument, ...] = (
    Instrument("Angle gauge", "angle_gauge", 0.1, ANGLE_GAUGE_U_DEG),
    Instrument("Calliper, two widths", "strip_widths", 0.01, CALLIPER_U_MM),
    Instrument("Calliper from a machined edge", "reference_edge", 0.01, CALLIPER_U_MM),
    Instrument("Square and feeler", "square_and_feeler", 0.05, FEELER_U_MM),
    Instrument("Photo", "photo", 1.0, 3.0),
    Instrument("Calliper, sizes", "sizes", 0.01, CALLIPER_U_MM),
)
"""What a shop has before it wrote its own down: typical figures, none of them checked. Source: the trade's
ranges for the gauge, assumptions for the rest."""


USUAL_TAPE = Instrument("Tape", "sizes", 1.0, 0.4)
"""What diagonals are read with that no calliper reaches; no instrument for an edge. Assumption."""


def u_deg(instrument: Instrument, thickness_mm: float, repeats: int = 1) -> float:
    """Standard uncertainty of a bevel near square, read so on that thickness, in degrees.

    Derivatives of each method's formula at zero bevel, both of whose widths carry u.
    """
    u = instrument.u(repeats)
    if instrument.method == "angle_gauge":
        return angle_gauge_u_deg(thickness_mm, u)
    if instrument.method == "photo":
        return math.degrees(math.sqrt(2) * u / PHOTO_EDGE_PX)
    per_mm = {
        "strip_widths": math.sqrt(2) / 2,
        "sizes": math.sqrt(2) / 2,
        "reference_edge": math.sqrt(2),
        "square_and_feeler": 1.0,
    }[instrument.method]
    return math.degrees(per_mm * u / thickness_mm)


def repeats_needed(instrument: Instrument, thickness_mm: float, target_deg: float) -> int | None:
    """The fewest repeats of one edge whose mean settles the target; None where no number of them does."""
    for repeats in range(1, MOST_REPEATS + 1):
        if 2 * u_deg(instrument, thickness_mm, repeats) <= target_deg:
            return repeats
    return None


@dataclass(frozen=True)
class Settling:
    """Whether an instrument can settle a target on a thickness, and what can where it does not.

    ``repeats`` is None where no number of repeats does; ``better`` names an instrument of the shop that does in
    one reading of one edge.
    """

    u_deg: float
    repeats: int | None
    better: str | None
    sentence: str


def settling(
    chosen: Instrument, others: Sequence[Instrument], thickness_mm: float, target_deg: float
) -> Settling:
    """What can be said before measuring: whether this settles it, how many repeats would, or what else does."""
    u = u_deg(chosen, thickness_mm)
    repeats = repeats_needed(chosen, thickness_mm, target_deg)
    said = f"{chosen.name}: one reading is ±{2 * u:.1f}° in {length(thickness_mm)}"
    if repeats == 1:
        return Settling(u, 1, None, f"{said}, which settles {target_deg:.1f}°.")
    better = min(
        (o for o in others if _settles_one_edge(o, thickness_mm, target_deg)),
        key=lambda o: u_deg(o, thickness_mm),
        default=None,
    )
    said += f": alone it does not settle {target_deg:.1f}°. "
    if repeats is not None:
        said += f"Read each edge {repeats} times"
    else:
        said += "No number of repeats would"
    said += f", or use {better.name.lower()}." if better else "."
    if repeats is None and better is None:
        said += " A finer instrument or a thicker piece would."
    return Settling(u, repeats, better.name if better else None, said)


def _settles_one_edge(instrument: Instrument, thickness_mm: float, target_deg: float) -> bool:
    one_edge = METHOD_FACTS[instrument.method].reads == "one edge"
    return one_edge and 2 * u_deg(instrument, thickness_mm) <= target_deg


@dataclass(frozen=True)
class Repeatability:
    """What repeats of one edge tell of instrument and hand: one sigma, with the 95 % range it may lie in."""

    sd: float
    low: float
    high: float
    count: int


def repeatability(readings: Sequence[float]) -> Repeatability:
    """The spread of repeats of one edge: the standard deviation about their mean (n - 1).

    Its range is from (n - 1) sd^2 / sigma^2 being chi-squared with n - 1 degrees of freedom: five readings know
    their spread from 0.6 to 2.9 times what they show. Raises TradeError for fewer than five.
    """
    from scipy.stats import chi2  # noqa: PLC0415 (start-up time)

    n = len(readings)
    if n < REPEATS_OF_A_CHECK:
        raise TradeError(
            "readings",
            f"{n} {'reading tells' if n == 1 else 'readings tell'} no spread: read the same edge "
            f"{REPEATS_OF_A_CHECK} times, taking the instrument off each time.",
        )
    mean = math.fsum(readings) / n
    squares = math.fsum((r - mean) ** 2 for r in readings)
    low, high = (math.sqrt(squares / float(chi2.ppf(p, n - 1))) for p in (0.975, 0.025))
    return Repeatability(math.sqrt(squares / (n - 1)), low, high, n)


def worked_out(
    instrument: Instrument,
    first_mm: float,
    second_mm: float,
    thickness_mm: float,
    *,
    undercut: bool = False,
) -> tuple[Bevel, str]:
    """The bevel of two lengths read with an instrument, and what was read in words.

    They are the width at the top and at the bottom; with a square and feeler the gap and the depth it was read
    over, and ``undercut`` says which end gapes. Raises TradeError for an instrument that reads no lengths.
    """
    u = instrument.u()
    if instrument.method == "square_and_feeler":
        bevel = square_and_feeler_bevel(first_mm, second_mm, undercut=undercut, u_gap_mm=u)
        end = "top" if not undercut else "bottom"
        return bevel, f"gap {length(first_mm)} over {length(second_mm)} at the {end}"
    widths = {
        "strip_widths": strip_widths_bevel,
        "sizes": strip_widths_bevel,
        "reference_edge": reference_edge_bevel,
    }
    method = widths.get(instrument.method)
    if method is None:
        raise TradeError("instrument", f"{instrument.name} reads an angle: type it as it is.")
    bevel = method(first_mm, second_mm, thickness_mm, u)
    return bevel, f"{length(first_mm)} at the top, {length(second_mm)} at the bottom"
