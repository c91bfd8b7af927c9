"""The program held against the part's drawing: which contour is which, and where the kerf went."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.path.rings import Ring, depths
from orthotome.core.programs.checked_against import PlateJob
from orthotome.core.programs.contour_checks import no_room_for_kerf, wrong_side
from orthotome.core.programs.contours import Kind, ProgramContour
from orthotome.core.programs.findings import Problem
from orthotome.core.programs.program import Array
from orthotome.core.quantities import length

USUAL_KERF_MM = 1.5  # where no setting is given. Assumption
WIDEST_KERF_MM = 4.0
"""Of any set: a typed size is judged by it, so that what was taken once is taken with every setting. Assumption."""
_KERFS = 2.6  # a contour is a ring's where their sizes differ by no more than that many kerfs


@dataclass(frozen=True, eq=False)
class Drawn:
    """A ring of the drawing: its size, its middle, and whether it bounds a hole."""

    size: Array
    middle: Array
    hole: bool


def _drawn(rings: Sequence[Ring]) -> list[Drawn]:
    found = []
    for ring, depth in zip(rings, depths(rings), strict=True):
        loop = np.array(ring.points(0.01))
        low, high = loop.min(axis=0), loop.max(axis=0)
        found.append(Drawn(high - low, (low + high) / 2, depth % 2 == 1))
    return found


def matched(
    contours: Sequence[ProgramContour], rings: Sequence[Ring], kerf_mm: float
) -> list[Drawn | None]:
    """The ring of the drawing that each closed contour cuts, or None. The part may lie anywhere on the sheet, and often.

    Outlines are told by their size; what lies in one by where it lies in it; where sizes leave a doubt, by where others of
    the drawing lie that leave none.
    """
    drawn = _drawn(rings)
    found: list[Drawn | None] = [None] * len(contours)
    alike = [[d for d in drawn if _alike(c, d, kerf_mm)] if c.closed else [] for c in contours]
    shifts = [
        c.middle - near[0].middle for c, near in zip(contours, alike, strict=True) if len(near) == 1
    ]
    for i in sorted(range(len(contours)), key=lambda i: -abs(contours[i].area_mm2)):
        contour, within = contours[i], contours[i].parent
        outer = found[within] if within is not None else None
        if within is not None and outer is not None:
            own = contours[within].middle - outer.middle
            near = [d for d in alike[i] if _near(contour.middle - d.middle, own, kerf_mm)]
        else:
            there = [
                d for d in alike[i] if any(_near(contour.middle - d.middle, s, kerf_mm) for s in shifts)
            ]
            near = there or alike[i]
        if near:
            found[i] = min(near, key=lambda d: float(np.abs(np.array(contour.size_mm) - d.size).sum()))
    return found


def _near(a: Array, b: Array, kerf_mm: float) -> bool:
    return bool(np.hypot(*(a - b)) < 2 * kerf_mm)


def _alike(contour: ProgramContour, drawn: Drawn, kerf_mm: float) -> bool:
    off = np.array(contour.size_mm) - drawn.size
    return bool((np.abs(off) < _KERFS * kerf_mm).all() and np.ptp(off) < 0.6 * kerf_mm)


def told_by_drawing(
    contours: Sequence[ProgramContour], found: Sequence[Drawn | None]
) -> tuple[ProgramContour, ...]:
    """Contours that nothing else told, inside or outside as the drawing has them."""
    told = []
    for contour, drawn in zip(contours, found, strict=True):
        kind: Kind = contour.kind
        if drawn is not None and contour.by_lead:
            kind = "outside" if not drawn.hole else "hole" if contour.round_mm is not None else "inside"
        told.append(replace(contour, kind=kind))
    return tuple(told)


def typed(
    contours: Sequence[ProgramContour], nominal: Mapping[int, tuple[float, float]]
) -> dict[int, Drawn]:
    """Sizes typed for contours, as if they were drawn where they are cut. Raises TradeError for a size that its contour
    cannot be cut for."""
    found = {}
    for i, size in nominal.items():
        if i >= len(contours) or not contours[i].closed:
            raise TradeError(
                "nominal", f"contour {i + 1} is no closed one: it has no size to hold it against."
            )
        contour = contours[i]
        drawn = Drawn(np.array(size), contour.middle, contour.kind != "outside")
        if not _alike(contour, drawn, WIDEST_KERF_MM):
            across, along = contour.size_mm
            raise TradeError(
                "nominal",
                f"the path of contour {i + 1} is {length(across)} by {length(along)}: that is no kerf from "
                f"{length(size[0])} by {length(size[1])}. Give the size that the part is to have there.",
            )
        found[i] = drawn
    return found


def kerf(
    contours: Sequence[ProgramContour], found: Sequence[Drawn | None], job: PlateJob | None
) -> Iterator[Problem]:
    """Where the kerf went: into the scrap, nowhere, or into the part."""
    kerf_mm = job.setting.kerf_mm if job else USUAL_KERF_MM
    for i, (contour, drawn) in enumerate(zip(contours, found, strict=True)):
        if drawn is None or contour.compensated:
            continue
        off = float((np.array(contour.size_mm) - drawn.size).mean()) * (-1 if drawn.hole else 1)
        if off < -kerf_mm / 2:
            yield wrong_side(contour, i, job)
        elif off < kerf_mm / 2:
            yield no_room_for_kerf(contour, i, "its path is just what is drawn", job)


def unit_of_drawing(contours: Sequence[ProgramContour], rings: Sequence[Ring]) -> Iterator[Problem]:
    """A program 25.4 times as large or small as its drawing."""
    outer = [c for c in contours if c.closed]
    if not outer or not rings:
        return
    largest = max(outer, key=lambda c: abs(c.area_mm2))
    drawn = max(_drawn(rings), key=lambda d: float(d.size.prod()))
    ratios = np.array(largest.size_mm) / drawn.size
    for factor in (25.4, 1 / 25.4):
        if (np.abs(ratios / factor - 1) < 0.1).all():
            yield Problem(
                "unit_suspect", largest.line, "stop",
                f"The part is {'25.4 times as large as' if factor > 1 else 'a twenty-fifth of'} its drawing: inches and "
                "millimetres are mixed up.",
                "Correct the G20 or G21, or the drawing's unit.", largest.pierce_at, contours.index(largest),
            )  # fmt: skip
