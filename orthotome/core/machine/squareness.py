r"""Whether the gantry is square to its rails, from the diagonals of a rectangle, and what to do about it.

::

      d2 longer                 d1 longer: skew is positive
      +--------+                    +--------+
       \        \                  /        /       the far side leans toward +X,
        \        \                /        /        so the gantry's +X end stands too far toward +Y
         +--------+              +--------+
         zero                    zero

The skew is asin((d1^2 - d2^2) / (4 a b)) for sides a and b: sizes that are wrong by a kerf or a scale leave it alone.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from orthotome.core.machine.measured import Rectangle
from orthotome.core.quantities import length

SKEW_THAT_MATTERS_DEG = 0.057
"""1 mm over 1 m. Assumption: what a frame that is welded up notices."""
SURE_SIGMAS = 3.0
"""So many of its own sigmas off, an error is said to be there: once in 370 by chance."""


@dataclass(frozen=True)
class Spread:
    """A number with one sigma."""

    value: float
    sd: float

    @property
    def sure(self) -> bool:
        """Whether it is another than nought beyond doubt."""
        return abs(self.value) > SURE_SIGMAS * self.sd

    def times(self, factor: float) -> "Spread":
        """The same in another unit, or over a length."""
        return Spread(self.value * factor, self.sd * abs(factor))


def skew_rad(rectangles: Sequence[Rectangle]) -> Spread | None:
    """Skew from all rectangles, each weighed by how sure it is; None where no diagonal was measured."""
    found = [s for r in rectangles if (s := _skew_of(r)) is not None]
    if not found:
        return None
    weights = [1 / s.sd**2 for s in found]
    whole = sum(weights)
    mean = sum(w * s.value for w, s in zip(weights, found, strict=True)) / whole
    return Spread(mean, math.sqrt(1 / whole))


def _skew_of(r: Rectangle) -> Spread | None:
    a, b = r.sides_mm
    if r.d1_mm is not None and r.d2_mm is not None:
        share = (r.d1_mm**2 - r.d2_mm**2) / (4 * a * b)
        sd = r.u_mm * math.hypot(r.d1_mm, r.d2_mm) / (2 * a * b)
        return Spread(math.asin(max(-1.0, min(1.0, share))), sd)
    one = r.d1_mm if r.d1_mm is not None else r.d2_mm
    if one is None or r.x_mm is None or r.y_mm is None:
        return None
    # One diagonal alone, by the law of cosines: the sides' own errors count as well.
    sign = 1.0 if r.d1_mm is not None else -1.0
    share = sign * (one**2 - a**2 - b**2) / (2 * a * b)
    sd = r.u_mm * math.sqrt(one**2 + a**2 + b**2) / (a * b)
    return Spread(math.asin(max(-1.0, min(1.0, share))), sd)


def drive_correction_says(skew: Spread, correction_mm: float) -> str:
    """How the correction is made on a gantry with a motor at each end, or at its squaring stops."""
    sd = abs(correction_mm) * skew.sd / abs(skew.value) if skew.value else 0.0
    digits = 1 if sd >= 0.05 else 2
    far, give = round(abs(correction_mm), digits), round(sd, digits)
    if not skew.sure:
        return f"Leave it: {length(far)}, give or take {length(give)}, is not to be told from square."
    ends = ("+X", "−Y", "−X", "+Y") if correction_mm > 0 else ("+X", "+Y", "−X", "−Y")
    return (
        f"Move the gantry’s {ends[0]} end {length(far)}, give or take {length(give)}, toward {ends[1]}, or its {ends[2]} end as "
        f"far toward {ends[3]}; then cut and measure again."
    )


def needed_diagonal_mm(u_mm: float, least_skew_deg: float = SKEW_THAT_MATTERS_DEG) -> float:
    """The diagonal of a square piece whose diagonals, read with this uncertainty, show such a skew at two sigmas.

    For a square of side a, with diagonals of a * sqrt(2), the skew's sigma is u / a.
    """
    return 2 * u_mm / math.radians(least_skew_deg) * math.sqrt(2)
