"""Pieces as they were measured to judge the machine: rectangles and slots by their sizes, holes by their diameters.

A reading that was not taken is None, never zero. Every size carries the uncertainty of the instrument that read it,
one sigma.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from orthotome.core.errors import TradeError
from orthotome.core.quantities import length
from orthotome.core.stock.gauges import MM_PER_INCH

Axis = Literal["x", "y"]

FARTHEST_SHARE = 0.05
"""Of a nominal size, beside three kerfs: farther off is no error of a machine, but a slip of unit or piece. Assumption."""
_PARALLELOGRAM_SIGMAS = 5.0
_NAMES = {
    "x_mm": "X",
    "y_mm": "Y",
    "d1_mm": "diagonal A",
    "d2_mm": "diagonal B",
    "top_mm": "the top",
    "bottom_mm": "the bottom",
    "other_mm": "the other diameter",
}


@dataclass(frozen=True)
class Rectangle:
    """An outside, with its sides along X and Y and its diagonals; ``d1_mm`` runs from the corner nearest to the zero."""

    nominal_mm: tuple[float, float]
    x_mm: float | None
    y_mm: float | None
    d1_mm: float | None
    d2_mm: float | None
    u_mm: float

    @property
    def sides_mm(self) -> tuple[float, float]:
        """Its sides as measured; as drawn where they were not."""
        x, y = self.nominal_mm
        return self.x_mm or x, self.y_mm or y


@dataclass(frozen=True)
class Slot:
    """An inside, with its size along X or Y, or both."""

    nominal_mm: float
    x_mm: float | None
    y_mm: float | None
    u_mm: float


@dataclass(frozen=True)
class Hole:
    """A hole's diameter at the top and at the bottom, and one square to the first where that was read."""

    nominal_mm: float
    top_mm: float | None
    bottom_mm: float | None
    other_mm: float | None
    u_mm: float


@dataclass(frozen=True)
class Reading:
    """One size along an axis: of an outside it is a kerf too small when nothing is compensated, of an inside too large."""

    axis: Axis
    nominal_mm: float
    size_mm: float
    outside: bool
    u_mm: float

    @property
    def error_mm(self) -> float:
        """Measured less drawn."""
        return self.size_mm - self.nominal_mm


@dataclass(frozen=True)
class Measured:
    """All that was measured of one table. ``kerf_compensated_mm`` is the whole kerf that the program made room for."""

    kerf_compensated_mm: float
    rectangles: tuple[Rectangle, ...] = ()
    slots: tuple[Slot, ...] = ()
    holes: tuple[Hole, ...] = ()
    drive_distance_mm: float | None = None
    thickness_mm: float | None = None

    def readings(self) -> Iterator[Reading]:
        """Every size along an axis; holes have an error of their own and are none."""
        for r in self.rectangles:
            for axis, nominal, size in (("x", r.nominal_mm[0], r.x_mm), ("y", r.nominal_mm[1], r.y_mm)):
                if size is not None:
                    yield Reading("x" if axis == "x" else "y", nominal, size, True, r.u_mm)
        for s in self.slots:
            if s.x_mm is not None:
                yield Reading("x", s.nominal_mm, s.x_mm, False, s.u_mm)
            if s.y_mm is not None:
                yield Reading("y", s.nominal_mm, s.y_mm, False, s.u_mm)


def check_measured(measured: Measured) -> None:
    """Raise TradeError, naming the field, for what no table can have cut: another unit, another piece."""
    for n, r in enumerate(measured.rectangles):
        where = f"rectangle {n + 1}"
        for field, nominal, size in (
            ("x_mm", r.nominal_mm[0], r.x_mm),
            ("y_mm", r.nominal_mm[1], r.y_mm),
        ):
            _check_size(where, field, nominal, size, measured.kerf_compensated_mm)
        diagonal = math.hypot(*r.nominal_mm)
        for field, size in (("d1_mm", r.d1_mm), ("d2_mm", r.d2_mm)):
            _check_size(where, field, diagonal, size, measured.kerf_compensated_mm)
        _check_diagonals(where, r, measured.kerf_compensated_mm)
    for n, s in enumerate(measured.slots):
        for field, size in (("x_mm", s.x_mm), ("y_mm", s.y_mm)):
            _check_size(f"slot {n + 1}", field, s.nominal_mm, size, measured.kerf_compensated_mm)
    for n, h in enumerate(measured.holes):
        for field, size in (
            ("top_mm", h.top_mm),
            ("bottom_mm", h.bottom_mm),
            ("other_mm", h.other_mm),
        ):
            _check_hole(f"hole {n + 1}", field, h.nominal_mm, size)


def _check_size(
    where: str, field: str, nominal_mm: float, size_mm: float | None, kerf_mm: float
) -> None:
    if size_mm is None:
        return
    _check_unit(where, field, nominal_mm, size_mm)
    if abs(size_mm - nominal_mm) > FARTHEST_SHARE * nominal_mm + 3 * kerf_mm + 1.0:
        raise TradeError(
            field,
            f"{_NAMES[field]} of {where} is {length(size_mm)} where {length(nominal_mm)} is drawn: that is no error of a table. Is it that "
            "piece, and that side of it?",
        )


def _check_hole(where: str, field: str, nominal_mm: float, size_mm: float | None) -> None:
    if size_mm is None:
        return
    _check_unit(where, field, nominal_mm, size_mm)
    if abs(size_mm - nominal_mm) > 0.5 * nominal_mm + 1.0:
        raise TradeError(
            field,
            f"{_NAMES[field]} of {where} is {length(size_mm)} where {length(nominal_mm)} is drawn: is it that hole?",
        )


def _check_unit(where: str, field: str, nominal_mm: float, size_mm: float) -> None:
    """An inch read for a millimetre, a centimetre for one, or the other way round."""
    for factor in (1 / MM_PER_INCH, MM_PER_INCH, 10.0, 0.1):
        if abs(size_mm / (factor * nominal_mm) - 1) < 0.06:
            raise TradeError(
                field,
                f"{_NAMES[field]} of {where} is {length(size_mm)} where {length(nominal_mm)} is drawn: that looks like a reading in another "
                "unit.",
            )


def _check_diagonals(where: str, r: Rectangle, kerf_mm: float) -> None:
    """The squares of both diagonals come to twice those of both sides, in any parallelogram."""
    if r.d1_mm is None or r.d2_mm is None:
        return
    a, b = r.sides_mm
    mean = math.sqrt((r.d1_mm**2 + r.d2_mm**2) / 2)
    off = abs(mean - math.hypot(a, b))
    known = r.x_mm is not None and r.y_mm is not None
    if off > _PARALLELOGRAM_SIGMAS * 2 * r.u_mm + (1.0 if known else 3 * kerf_mm + 1.0):
        raise TradeError(
            "d1_mm",
            f"A and B of {where} are the diagonals of no rectangle of {length(a)} by {length(b)}: together they are "
            f"{length(off)} off. Measure both from corner to corner again.",
        )
