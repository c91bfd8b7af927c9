"""Whether the torch comes to the height that it is told, after its first touch of the plate."""

from dataclasses import dataclass

from orthotome.core.quantities import length

HEIGHT_THAT_MATTERS_MM = 0.1
"""Assumption: about half a degree of bevel on thin plate."""
FEELER_U_MM = 0.05
"""One sigma of feelers slid under a torch. Assumption."""


@dataclass(frozen=True)
class Touched:
    """The height that was told, and the gap that a feeler found under the torch, with one sigma."""

    told_mm: float
    found_mm: float
    u_mm: float

    @property
    def off_mm(self) -> float:
        """Higher than told is positive."""
        return self.found_mm - self.told_mm

    @property
    def wrong(self) -> bool:
        """Whether it is off beyond what the feeler explains, and by what matters."""
        return abs(self.off_mm) > max(HEIGHT_THAT_MATTERS_MM, 2 * self.u_mm)


def touched_says(touched: Touched, offset_mm: float | None) -> str:
    """What to do about it; ``offset_mm`` is the touch-off's own, where it is written down."""
    if not touched.wrong:
        return f"It stands where it is told, within {length(max(2 * touched.u_mm, HEIGHT_THAT_MATTERS_MM))}."
    way = "higher" if touched.off_mm > 0 else "lower"
    offset = "change the touch-off’s offset by as much"
    if offset_mm is not None:
        offset = f"if the touch is a switch’s, its offset of {length(offset_mm)} is off by as much"
    return (
        f"It stands {length(abs(touched.off_mm))} {way} than it is told, at every pierce and cut: {offset}, and look at the clip and the "
        "plate under the touch; then try again."
    )
