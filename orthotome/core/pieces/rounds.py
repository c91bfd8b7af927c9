"""Round pieces: the slug that tells jet lean, and the set of holes."""

import math
from collections.abc import Sequence

from orthotome.core.edge.measuring import ANGLE_GAUGE_THIN_MM
from orthotome.core.errors import TradeError
from orthotome.core.machine import hole_rules
from orthotome.core.machine.motion import AT_SPEED, fastest_round_mm_min
from orthotome.core.path.paths import FLATTEN_MM, Arc, Point, Segment
from orthotome.core.pieces.piece import (
    END_SPEED_SHARE,
    Contour,
    Part,
    Piece,
    PieceBasis,
    arc_lead_in,
    arc_lead_in_mm,
    clipped_rectangle,
    nick_depths_mm,
    nick_marks,
    outside_contour,
    overrun_mm,
    placed,
    slit,
    slowed_end,
)
from orthotome.core.quantities import acceleration, hole_size_mm, length, speed, whole_size_mm

MARK_MM = 14.0  # of slit into the slug, deeper than any nick: which way round it lay
PLACES = 8  # round the slug at which it is read
FOOT_MM = 10.0  # of an angle gauge along the rim. Assumption
_BETWEEN_MM, _LEAST_BETWEEN_MM = (
    9.5,
    5.5,
)  # of rim between two places, for slit, start and nicks. Assumption
USUAL_SLUG_MM, LEAST_SLUG_MM = (
    PLACES * (FOOT_MM + room) / math.pi for room in (_BETWEEN_MM, _LEAST_BETWEEN_MM)
)
"""Across: round the rim the gauge's foot stands at every place with room between, ample and just enough."""
MOST_SLUG_MM = 120.0  # however fast the cut: more is a plate, not a slug; assumption
MARK_DEG, START_DEG = 67.5, 292.5
NICKS_DEG = (112.5, 157.5, 202.5, 247.5, 337.5)
"""Azimuths, from the middle of the slug, of the slit that tells which way round it lay (far side, right, where
a square's clipped corner is), of the start, and of the number's nicks, counted counter-clockwise from the slit.
All lie half-way between the eight places that are read, every 45 degrees: none of them spoils a reading."""


def slug_diameter_mm(basis: PieceBasis) -> float:
    """As wide as the reading asks, or as this machine needs to hold the speed round it, up to the most."""
    radius = (AT_SPEED * basis.speed_mm_min / 60) ** 2 / basis.acceleration_mm_s2
    return whole_size_mm(min(MOST_SLUG_MM, max(USUAL_SLUG_MM, 2 * radius)))


def slug_says() -> str:
    """Of which size a slug is read best, and from what thickness a gauge stands well on its edge."""
    return (
        f"A round of {length(whole_size_mm(USUAL_SLUG_MM))} or more, in plate of {length(whole_size_mm(ANGLE_GAUGE_THIN_MM))} "
        "or thicker: a gauge stands less surely on a lower edge."
    )


def round_slug(basis: PieceBasis, diameter_mm: float | None = None, number: int = 0) -> Piece:
    """A round slug with a slit cut first: bevel read round it gives lean and its direction.

    The slit at the far right, the start and the nicks of its number lie between the places that are read; the
    cut is entered on an arc, so that the pierce lies a splash away from the rim.
    """
    diameter_mm = slug_diameter_mm(basis) if diameter_mm is None else diameter_mm
    if diameter_mm < LEAST_SLUG_MM:
        raise TradeError(
            "diameter_mm",
            f"a slug of {length(diameter_mm)} gives a gauge nothing to sit on beside its number: "
            f"{length(whole_size_mm(LEAST_SLUG_MM))} is the least.",
        )
    nominal, path = diameter_mm / 2, (diameter_mm + basis.kerf_mm) / 2
    clockwise = basis.good == "right"
    start = _at(START_DEG, path)
    heading = math.radians(START_DEG) + (-1 if clockwise else 1) * math.pi / 2
    turn = math.degrees(overrun_mm(basis) / path) * (-1 if clockwise else 1)
    loop = Contour(
        f"{length(diameter_mm)} round",
        basis.good,
        False,
        basis.speed_mm_min,
        basis.cut_height_mm,
        (
            arc_lead_in(start, heading, arc_lead_in_mm(basis), basis.good),
            *slowed_end(Segment("cut", (Arc(start, start, (0.0, 0.0), clockwise),)), basis),
            Segment(
                "overrun",
                (Arc(start, _at(START_DEG + turn, path), (0.0, 0.0), clockwise),),
                END_SPEED_SHARE,
            ),
        ),
    )
    mark = _radial("direction mark", MARK_DEG, MARK_MM, nominal, basis)
    nicks = [
        _radial(f"nick {i + 1}", NICKS_DEG[i], depth, nominal, basis)
        for i, depth in enumerate(nick_depths_mm(number))
    ]
    contours, parts = placed([mark, *nicks, loop], [Part(circle((0.0, 0.0), nominal))])
    title = f"{length(diameter_mm)} round slug"
    size = (diameter_mm, diameter_mm)
    return Piece("round", title, contours, size, parts, _too_fast_round(basis, path))


def _at(azimuth_deg: float, radius: float) -> Point:
    a = math.radians(azimuth_deg)
    return radius * math.cos(a), radius * math.sin(a)


def _radial(name: str, azimuth_deg: float, depth: float, radius: float, basis: PieceBasis) -> Contour:
    """A slit toward the middle of the slug."""
    x, y = _at(azimuth_deg, 1.0)
    return slit(name, (radius * x, radius * y), (-x, -y), depth, basis)


def _too_fast_round(basis: PieceBasis, radius: float) -> tuple[str, ...]:
    """What a circle of that radius cannot show of the speed set."""
    held = fastest_round_mm_min(radius, basis.acceleration_mm_s2)
    if held >= AT_SPEED * basis.speed_mm_min:
        return ()
    return (
        f"At {acceleration(basis.acceleration_mm_s2)} this machine goes round at {speed(held)} at most, not "
        f"{speed(basis.speed_mm_min)}: the slug still tells the lean, but not the bevel of that speed.",
    )


def hole_diameters_mm(thickness_mm: float, kerf_mm: float) -> tuple[float, ...]:
    """From the least that is a plasma hole to three times that, on the shop's round figures."""
    least = max(_LEAST_HOLE_MM, hole_rules.least_hole_mm(thickness_mm, kerf_mm))
    return tuple(hole_size_mm(n * least) for n in (1.0, 1.5, 2.0, 3.0))


def hole_speed_mm_min(basis: PieceBasis, radius_mm: float) -> float:
    """Half of the speed, and no more than the machine holds round that path."""
    held = fastest_round_mm_min(radius_mm, basis.acceleration_mm_s2)
    return min(hole_rules.hole_speed_mm_min(basis.speed_mm_min), held)


_LEAST_HOLE_MM = 4.0  # of the set on sheet: a smaller pin is hard to hold; assumption


def holes(basis: PieceBasis, diameters_mm: Sequence[float] | None = None, number: int = 0) -> Piece:
    """Holes in a bar, slower than straights, held in height; then the bar is cut loose.

    Each is entered from its middle on an arc and overruns its start, so that no flat is left there. The overrun
    runs along the finished wall at the hole's own speed: slower, it would burn a hollow into it.
    """
    diameters = tuple(
        hole_diameters_mm(basis.thickness_mm, basis.kerf_mm) if diameters_mm is None else diameters_mm
    )
    smallest = hole_rules.least_hole_mm(basis.thickness_mm, basis.kerf_mm)
    if min(diameters) < smallest - 1e-9:
        raise TradeError(
            "diameters_mm",
            f"a hole of {length(min(diameters))} in {length(basis.thickness_mm)} plate is no plasma hole: "
            f"{length(smallest)} is the least.",
        )
    web = max(12.0, basis.thickness_mm)
    height = max(diameters) + 2 * web
    x, contours, rims = web, [], []
    for n, diameter in enumerate(diameters, 1):
        x += diameter / 2
        contours.append(_hole(f"hole {n}, {length(diameter)}", (x, height / 2), diameter, basis))
        rims.append(circle((x, height / 2), diameter / 2))
        x += diameter / 2 + web
    outline = clipped_rectangle(x, height)
    contours += [*nick_marks(number, outline, basis), outside_contour("bar", outline, basis)]
    done, parts = placed(contours, [Part(outline, tuple(rims))])
    return Piece("holes", f"{len(diameters)} holes", done, (x, height), parts)


def _hole(name: str, centre: Point, diameter_mm: float, basis: PieceBasis) -> Contour:
    """A hole, the kept metal round it on the good side: counter-clockwise with that on the right."""
    radius = (diameter_mm - basis.kerf_mm) / 2
    clockwise = basis.good == "left"
    x, y = centre
    start = (x + radius, y)
    lead = Segment("lead_in", (Arc(centre, start, (x + radius / 2, y), clockwise),))
    turn = min(overrun_mm(basis), radius) / radius * (-1 if clockwise else 1)
    after = (x + radius * math.cos(turn), y + radius * math.sin(turn))
    segments = (
        lead,
        Segment("cut", (Arc(start, start, centre, clockwise),)),
        Segment("overrun", (Arc(start, after, centre, clockwise),)),
    )
    slower = hole_speed_mm_min(basis, radius)
    return Contour(name, basis.good, True, slower, basis.cut_height_mm, segments)


def circle(centre: Point, radius: float) -> tuple[Point, ...]:
    """A circle as points, clockwise, within two thousandths of a millimetre."""
    step = 2 * math.acos(1 - FLATTEN_MM / radius)
    count = max(24, math.ceil(2 * math.pi / step))
    return tuple(
        (
            centre[0] + radius * math.cos(-2 * math.pi * i / count),
            centre[1] + radius * math.sin(-2 * math.pi * i / count),
        )
        for i in range(count)
    )
