"""Edges, directions and sides: which way an edge faces, and what lean and swirl do to it.

The edge model, for one edge::

    bevel = process(speed, height, wear) -/+ swirl + lean * cos(normal - toward) + spread

with minus on the good side and plus on the other. Strips, squares and rounds all feed it.
"""

import math
from collections.abc import Iterable
from typing import Literal

Side = Literal["right", "left"]
ReadSide = Literal["right", "left", "both"]  # "both" is the mean of a strip's two edges
Swirl = Literal["clockwise", "counter_clockwise"]

SQUARE_HEADINGS_DEG = (0.0, 90.0, 180.0, 270.0)


def outward_normal_deg(side: Side, heading_deg: float) -> float:
    """Direction from the kept metal into the kerf, in [0, 360)."""
    return (heading_deg + (90.0 if side == "right" else -90.0)) % 360.0


def heading_that_faces(side: Side, normal_deg: float) -> float:
    """Heading of the travel that left an edge facing that way, the metal kept on ``side``; in [0, 360)."""
    return (normal_deg - (90.0 if side == "right" else -90.0)) % 360.0


def good_side(swirl: Swirl) -> Side:
    """The squarer side of travel: right for a clockwise swirl seen from above along the jet."""
    return "right" if swirl == "clockwise" else "left"


def other_side(side: Side) -> Side:
    """The side across the slot."""
    return "left" if side == "right" else "right"


def square_as_cut_deg(good: Side) -> tuple[float, ...]:
    """Headings of a square's sides in the order in which they are cut, from its near left corner on: clockwise
    where the kept metal lies right of travel, else the other way round."""
    return (90.0, 0.0, 270.0, 180.0) if good == "right" else (0.0, 90.0, 180.0, 270.0)


def far_side_heading_deg(good: Side) -> float:
    """Heading along which a square's far side is cut, the square kept on its good side.

    The scrap beyond that side is cut loose with the square: its edge has the same heading, and is the
    other side of the same cut.
    """
    return 0.0 if good == "right" else 180.0


def lean_bevel_deg(lean_deg: float, toward_deg: float, normal_deg: float) -> float:
    """What a jet drifting ``lean_deg`` toward ``toward_deg`` adds to an edge facing ``normal_deg``."""
    return lean_deg * math.cos(math.radians(normal_deg - toward_deg))


def lean_from_components(lean_x_deg: float, lean_y_deg: float) -> tuple[float, float]:
    """(lean_deg, toward_deg) of a lean given as its X and Y parts; toward is in [0, 360)."""
    return (
        math.hypot(lean_x_deg, lean_y_deg),
        math.degrees(math.atan2(lean_y_deg, lean_x_deg)) % 360.0,
    )


def farthest_from_square(bevels_deg: Iterable[float]) -> float | None:
    """The bevel of the edge that is farthest from square, with its sign; None where none was read."""
    return max(bevels_deg, key=abs, default=None)


WAYS = (
    "to the right",
    "to the right and away from you",
    "away from you",
    "to the left and away from you",
    "to the left",
    "to the left and toward you",
    "toward you",
    "to the right and toward you",
)


"""The eight ways from 0 degrees on, as an operator says them from the front of the table."""


def way_in_words(azimuth_deg: float) -> str:
    """An azimuth to the nearest eighth."""
    return WAYS[round(azimuth_deg / 45.0) % 8]


def cut_toward(heading_deg: float) -> str:
    """Which way an edge was cut."""
    return f"cut {way_in_words(heading_deg)}"
