"""Whether the program lies on the sheet and the table, and what its cuts do to each other."""

from collections.abc import Iterator, Sequence

import numpy as np

from orthotome.core.path.rings import holds
from orthotome.core.programs.checked_against import CheckedAgainst
from orthotome.core.programs.contours import ProgramContour
from orthotome.core.programs.findings import Problem
from orthotome.core.programs.program import LINE, X1, Y1, Array
from orthotome.core.quantities import length, place, size

_SLACK_MM = 0.05
_ENTERS_MM = 40.0  # an edge start may begin this far off the sheet. Assumption


def extents_mm(contours: Sequence[ProgramContour]) -> tuple[float, float, float, float] | None:
    """(x_min, y_min, x_max, y_max) of all that is cut with the torch on; None where nothing is."""
    if not contours:
        return None
    points = np.vstack([c.path for c in contours])
    low, high = points.min(axis=0), points.max(axis=0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def on_sheet(contours: Sequence[ProgramContour], against: CheckedAgainst) -> Iterator[Problem]:
    """What lies off the sheet from the chosen zero, or past the table's reach."""
    parts = [c for c in contours if c.closed]
    if not parts:
        parts = list(contours)
    if not parts:
        return
    loops = np.vstack([c.loop for c in parts])
    low, high = loops.min(axis=0), loops.max(axis=0)
    across = high - low
    limits: list[tuple[str, tuple[float | None, float | None]]] = []
    if against.sheet_mm is not None:
        limits.append(("sheet", against.sheet_mm))
    if against.table.extent_mm != (None, None):
        limits.append(("table's reach", against.table.extent_mm))
    for what, limit in limits:
        most = np.array([np.inf if v is None else v for v in limit])
        if (low >= -_SLACK_MM).all() and (high <= most + _SLACK_MM).all():
            continue
        at, line, contour = _first_off(contours, most)
        if (across <= most + _SLACK_MM).all():
            yield Problem(
                "part_not_on_sheet_zero", line, "stop",
                f"From this zero it reaches from {place(*low)} to {place(*high)}, past the {what}; it is "
                f"{size(*across, up=True)} and would fit.",
                f"Move the zero, or the part by {length(_shift(low[0], high[0], most[0]))} in X and "
                f"{length(_shift(low[1], high[1], most[1]))} in Y.", at, contour,
            )  # fmt: skip
        else:
            known = [v for v in limit if v is not None]
            yield Problem(
                "off_sheet", line, "stop",
                f"It needs {size(*across, up=True)}, and the {what} is {size(*known)}.",
                "Take a larger sheet, or leave parts out.", at, contour,
            )  # fmt: skip
        return


def _shift(low: float, high: float, most: float) -> float:
    """How far a span must be moved to lie within."""
    if low < 0:
        return float(-low)
    return float(min(0.0, most - high))


def _first_off(contours: Sequence[ProgramContour], most: Array) -> tuple[tuple[float, float], int, int]:
    """The first place that lies off: where, on which line, in which contour."""
    for i, contour in enumerate(contours):
        ends = contour.motions[:, [X1, Y1]]
        off = np.flatnonzero((ends < -_SLACK_MM).any(axis=1) | (ends > most + _SLACK_MM).any(axis=1))
        if len(off):
            row = contour.motions[off[0]]
            return (float(row[X1]), float(row[Y1])), int(row[LINE]), i
    return contours[0].pierce_at, contours[0].line, 0


def arc_ends(contours: Sequence[ProgramContour], against: CheckedAgainst) -> Iterator[Problem]:
    """Arcs that end beyond the plate's edge, or over a hole that is already cut."""
    gone: list[ProgramContour] = []
    for i, contour in enumerate(contours):
        end = np.array(contour.ends_at)
        off = against.sheet_mm is not None and bool(
            (end < -_SLACK_MM).any() or (end > np.array(against.sheet_mm) + _SLACK_MM).any()
        )
        over = any(holds(hole.loop, end[None, :])[0] for hole in gone if _may_hold(hole, end))
        if off or over:
            yield Problem(
                "ends_off_plate", contour.run.off_line or contour.line, "look",
                f"The arc ends {'over a hole that is already cut' if over else 'beyond the edge of the sheet'}: losing the "
                "plate tears metal out of the electrode, and costs the life of several starts.",
                "End it over metal, a little before the edge.", contour.ends_at, i,
            )  # fmt: skip
        if contour.kind in ("hole", "inside"):
            gone.append(contour)


def _may_hold(contour: ProgramContour, point: Array) -> bool:
    low, high = contour.loop.min(axis=0), contour.loop.max(axis=0)
    return bool((point > low).all() and (point < high).all())


def crossings(contours: Sequence[ProgramContour]) -> Iterator[Problem]:
    """Cuts that run across a kerf that an earlier one left, or along it again."""
    from shapely import STRtree, linestrings, shortest_line  # noqa: PLC0415 (start-up time)

    paths = [c.path for c in contours]
    first: dict[bytes, int] = {}
    for i, path in enumerate(paths):
        j = first.setdefault(path.tobytes(), i)
        if j != i:
            yield _crossing(contours, i, j, contours[i].pierce_at)
    usable = [i for i in first.values() if len(paths[i]) > 1]
    if len(usable) < 2:
        return
    lines = [linestrings(paths[i]) for i in usable]
    later, earlier = STRtree(lines).query(lines, predicate="intersects")
    told: set[int] = set()
    for a, b in sorted(zip(later.tolist(), earlier.tolist(), strict=True)):
        if usable[b] < usable[a] and usable[a] not in told:
            told.add(usable[a])
            x, y = shortest_line(lines[a], lines[b]).coords[0]
            yield _crossing(contours, usable[a], usable[b], (x, y))


def _crossing(contours: Sequence[ProgramContour], i: int, j: int, at: tuple[float, float]) -> Problem:
    return Problem(
        "crosses_old_kerf", contours[i].line, "look",
        f"It runs over the kerf of the contour on line {contours[j].line}: there the arc loses metal, the volts jump and "
        "the torch dives.",
        "Move the lead or the part, or hold the height over the crossing.", at, i,
    )  # fmt: skip
