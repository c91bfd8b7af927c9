"""Where pieces go on the scrap there is: beside each other, clear of clamps, slats and old cuts.

A plate is a rectangle with its zero at the near left corner. What is taken is a list of rectangles: no-go
zones, and where earlier pieces were cut. Pieces are not turned: their directions are what is read. Each goes
to the free place nearest the operator, then farthest left (bottom-left placement), found among the corners
that the taken rectangles make.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import Point
from orthotome.core.quantities import size

_TOUCH_MM = 1e-6


@dataclass(frozen=True)
class Rectangle:
    """A rectangle by its near left corner and its size, in mm."""

    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float

    def overlaps(self, other: "Rectangle") -> bool:
        """Whether the two share area; touching is not sharing."""
        apart_x = (
            self.x_mm + self.width_mm <= other.x_mm + _TOUCH_MM
            or other.x_mm + other.width_mm <= self.x_mm + _TOUCH_MM
        )
        apart_y = (
            self.y_mm + self.height_mm <= other.y_mm + _TOUCH_MM
            or other.y_mm + other.height_mm <= self.y_mm + _TOUCH_MM
        )
        return not (apart_x or apart_y)


@dataclass(frozen=True)
class Plate:
    """A plate with its edge to keep clear, and what of it is taken."""

    width_mm: float
    height_mm: float
    margin_mm: float = 0.0
    taken: tuple[Rectangle, ...] = ()

    @property
    def free_share(self) -> float:
        """Roughly how much is left: one less what is taken, overlaps counted twice."""
        lost = sum(t.width_mm * t.height_mm for t in self.taken)
        return max(0.0, 1 - lost / (self.width_mm * self.height_mm))


def place(size_mm: Point, plate: Plate) -> Rectangle | None:
    """The free place for a piece of that size, or None where there is none."""
    width, height = size_mm
    m = plate.margin_mm
    xs = sorted({m, *(t.x_mm + t.width_mm for t in plate.taken)})
    ys = sorted({m, *(t.y_mm + t.height_mm for t in plate.taken)})
    for y in ys:
        if y + height > plate.height_mm - m + _TOUCH_MM:
            break
        for x in xs:
            if x < m - _TOUCH_MM or x + width > plate.width_mm - m + _TOUCH_MM:
                continue
            spot = Rectangle(x, y, width, height)
            if y >= m - _TOUCH_MM and not any(spot.overlaps(t) for t in plate.taken):
                return spot
    return None


def nest(sizes_mm: Sequence[Point], plate: Plate) -> tuple[Rectangle, ...]:
    """Places for all of them, in their order; the tallest are placed first.

    Raises TradeError where they do not all fit, saying how many do and what would take the rest.
    """
    order = sorted(range(len(sizes_mm)), key=lambda i: (-sizes_mm[i][1], -sizes_mm[i][0], i))
    found: dict[int, Rectangle] = {}
    left = plate
    for i in order:
        spot = place(sizes_mm[i], left)
        if spot is None:
            raise TradeError("plate", _what_would_do(sizes_mm[i], len(found), len(sizes_mm), plate))
        found[i] = spot
        left = replace(left, taken=(*left.taken, spot))
    return tuple(found[i] for i in range(len(sizes_mm)))


def _what_would_do(size_mm: Point, fitted: int, wanted: int, plate: Plate) -> str:
    width, height = size_mm
    needed = size(width, height, up=True)
    m = plate.margin_mm
    bare = width + 2 * m <= plate.width_mm + _TOUCH_MM and height + 2 * m <= plate.height_mm + _TOUCH_MM
    if not bare:
        return f"needs {needed} clear of the edge, and the plate is {size(plate.width_mm, plate.height_mm)}."
    some = f"{fitted} of {wanted} fit; " if wanted > 1 else ""
    return (
        f"{some}no free place of {needed} is left on this plate: take another, or strike out what is "
        "no longer there."
    )
