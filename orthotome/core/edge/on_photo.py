"""Angles and widths measured on a photo by tapping it.

A photo's points run right and down. The cut is seen end-on: the plate's top face is a line, the edge is another,
and the bevel is the angle between the edge and the perpendicular to the top face. Every tap errs by about
``u_px`` in either direction, so a line through points spread over L errs in direction by::

    u = u_px / sqrt(sum (s_i - mean s)^2)        with s_i along the line; two ends: sqrt(2) u_px / L

and an angle between two lines by the root of the sum of squares of both.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from orthotome.core.edge.measuring import STEEPEST_DEG, Bevel
from orthotome.core.errors import TradeError

Tap = tuple[float, float]
"""A point of a photo, in its own pixels: to the right, and down."""

TAP_U_PX = 3.0  # of a gloved finger or a mouse on an edge that is not sharp itself; assumption
LEAST_LINE_PX = 40.0  # under this a line through taps has no direction worth saying; assumption


@dataclass(frozen=True)
class Scale:
    """Millimetres to a pixel, from two taps on a known length, with its standard uncertainty as a share."""

    mm_per_px: float
    u_share: float


@dataclass(frozen=True)
class Width:
    """A width in mm with its standard uncertainty."""

    mm: float
    u_mm: float


@dataclass(frozen=True)
class _Line:
    direction_deg: float  # of its angle in the picture, right and down
    u_deg: float


def scale_of(taps: Sequence[Tap], known_mm: float, u_px: float = TAP_U_PX) -> Scale:
    """The scale of a photo from the two ends of a length known to be ``known_mm``.

    Raises TradeError where the taps lie too near to say.
    """
    if not known_mm > 0:
        raise TradeError("known_mm", "the known length must be more than zero.")
    if len(taps) != 2:
        raise TradeError("scale", "tap the two ends of the known length.")
    px = math.dist(*taps)
    _check_long("scale", px)
    return Scale(known_mm / px, math.sqrt(2) * u_px / px)


def bevel_on_photo(
    top_face: Sequence[Tap],
    edge: Sequence[Tap],
    kept: Literal["left", "right"],
    u_px: float = TAP_U_PX,
) -> Bevel:
    """Bevel of an edge seen end-on: taps along the plate's top face, and along the edge from top to bottom.

    ``kept`` says on which side of the edge, in the picture, the kept metal lies. Two taps each are enough,
    more are fitted. Positive where the bottom of the kept metal sticks out. Raises TradeError for lines too short,
    or an edge that leans too far to be one.
    """
    lean, u = _from_perpendicular(top_face, edge, "edge", u_px)
    # Lean is positive where the bottom lies farther right: into the kerf where the kept metal is on the left.
    return Bevel(lean if kept == "left" else -lean, u)


def lag_on_photo(
    top_edge: Sequence[Tap],
    line: Sequence[Tap],
    travel: Literal["left", "right"],
    u_px: float = TAP_U_PX,
) -> Bevel:
    """Lag of a line on the face of the cut, looked at squarely: positive where its bottom trails its top.

    ``top_edge`` are taps along the top of that face, ``travel`` is which way the torch went, in the picture.
    """
    lean, u = _from_perpendicular(top_edge, line, "line", u_px)
    return Bevel(-lean if travel == "right" else lean, u)


def kerf_on_photo(taps: Sequence[Tap], scale: Scale, u_px: float = TAP_U_PX) -> Width:
    """Width between two taps across the kerf: u^2 = (sqrt(2) u_px scale)^2 + (width u_scale)^2."""
    if len(taps) != 2:
        raise TradeError("kerf", "tap both sides of the kerf, once each.")
    px = math.dist(*taps)
    if px < 2 * u_px:
        raise TradeError("kerf", "the two taps lie on one another: tap both sides of the kerf.")
    mm = px * scale.mm_per_px
    return Width(mm, math.hypot(math.sqrt(2) * u_px * scale.mm_per_px, mm * scale.u_share))


def _from_perpendicular(
    base: Sequence[Tap], leg: Sequence[Tap], field: str, u_px: float
) -> tuple[float, float]:
    """How far a leg leans from the perpendicular to a base, positive to the right going down, and its
    uncertainty; both in degrees."""
    flat, steep = _fitted(base, "top", u_px), _fitted(leg, field, u_px)
    # The picture may be turned any way up to a quarter: the base then leans by its own angle.
    turn = (flat.direction_deg + 90.0) % 180.0 - 90.0
    lean = (90.0 + turn - steep.direction_deg + 90.0) % 180.0 - 90.0
    if abs(lean) > STEEPEST_DEG:
        raise TradeError(
            field, f"leans {abs(lean):.0f}° from square: tap along the edge, not along the plate's face."
        )
    return lean, math.hypot(flat.u_deg, steep.u_deg)


def _fitted(taps: Sequence[Tap], field: str, u_px: float) -> _Line:
    """The line through taps that errs alike both ways: along the largest spread of the points."""
    if len(taps) < 2:
        raise TradeError(field, "tap at least its two ends.")
    points = np.array(taps, dtype=np.float64)
    _check_long(field, float(np.ptp(points, axis=0).max()))
    off = points - points.mean(axis=0)
    _, spread, ways = np.linalg.svd(off, full_matrices=False)
    along = ways[0]
    return _Line(
        math.degrees(math.atan2(float(along[1]), float(along[0]))) % 180.0,
        math.degrees(u_px / float(spread[0])),
    )


def _check_long(field: str, px: float) -> None:
    if px < LEAST_LINE_PX:
        raise TradeError(
            field, f"the taps lie {px:.0f} points apart: zoom in, or tap them farther from one another."
        )
