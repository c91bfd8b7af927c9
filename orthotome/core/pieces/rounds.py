"""Round pieces: the slug that tells jet lean, and the set of holes."""

import math
from collections.abc import Sequence

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import FLATTEN_MM, Arc, Point, Segment, straight
from orthotome.core.pieces.piece import (
    END_SPEED_SHARE,
    Contour,
    Part,
    Piece,
    PieceBasis,
    clipped_rectangle,
    lead_in_mm,
    nick_marks,
    nicks_at,
    outside_contour,
    overrun_mm,
    placed,
    row_of_nicks_mm,
    slowed_end,
)

HOLE_SPEED_SHARE = 0.5  # holes are cut at 40-60 % of the speed (domain section 10)
MARK_MM = 8.0  # of slit into the slug's far side: the machine's Y, before it is cut loose
USUAL_SLUG_MM, LEAST_SLUG_MM = 50.0, 30.0  # across; under the least a gauge has nothing to sit on
_RIM_SHARE = 0.9  # of the radius, as far as nicks reach along it: beyond, the rim is too steep
LEAST_HOLE = 1.0  # thicknesses; below it is no plasma hole (domain section 10)


def round_slug(basis: PieceBasis, diameter_mm: float | None = None, number: int = 0) -> Piece:
    """A round slug with a slit toward +Y cut first: bevel read round it gives lean and its direction.

    Its number is nicked into the near side, beside the start of the cut and away from its lead-in.
    """
    row_mm = row_of_nicks_mm(number, basis)
    least = max(LEAST_SLUG_MM, 2 * row_mm / _RIM_SHARE)
    diameter_mm = max(USUAL_SLUG_MM, least) if diameter_mm is None else diameter_mm
    if diameter_mm < least:
        raise TradeError(
            "diameter_mm",
            f"a slug of {diameter_mm:g} mm gives a gauge nothing to sit on beside its number: "
            f"{math.ceil(least)} mm is the least.",
        )
    nominal, path = diameter_mm / 2, (diameter_mm + basis.kerf_mm) / 2
    lead, over = lead_in_mm(basis), overrun_mm(basis)
    clockwise = basis.good == "right"
    top, slit_end = (0.0, path), (0.0, nominal - MARK_MM)
    mark = Contour(
        "direction mark",
        basis.good,
        True,
        basis.speed_mm_min,
        basis.cut_height_mm,
        (straight("lead_in", ((0.0, path + lead), top)), straight("mark", (top, slit_end))),
    )
    # The circle begins at its near side, where a straight lead-in along the tangent lies in scrap.
    start = (0.0, -path)
    before = (lead if clockwise else -lead, -path)
    turn = over / path * (-1 if clockwise else 1)
    after = (path * math.sin(turn), -path * math.cos(turn))
    loop = Contour(
        f"{diameter_mm:g} mm round",
        basis.good,
        False,
        basis.speed_mm_min,
        basis.cut_height_mm,
        (
            straight("lead_in", (before, start)),
            *slowed_end(Segment("cut", (Arc(start, start, (0.0, 0.0), clockwise),)), basis),
            Segment("overrun", (Arc(start, after, (0.0, 0.0), clockwise),), END_SPEED_SHARE),
        ),
    )
    side = -1 if clockwise else 1

    def rim(along: float) -> Point:
        x = side * along
        return x, -math.sqrt(nominal**2 - x**2)

    nicks = nicks_at(number, rim, basis)
    contours, parts = placed([mark, *nicks, loop], [Part(circle((0.0, 0.0), nominal))])
    return Piece("round", f"{diameter_mm:g} mm round slug", contours, (diameter_mm, diameter_mm), parts)


def hole_diameters_mm(thickness_mm: float, kerf_mm: float) -> tuple[float, ...]:
    """From one thickness up, where a hole begins to be one, on half millimetres."""
    wanted = (max(4.0, 2 * kerf_mm, thickness_mm * n) for n in (1.0, 1.5, 2.0, 3.0))
    return tuple(dict.fromkeys(math.ceil(2 * d - 1e-9) / 2 for d in wanted))


def holes(basis: PieceBasis, diameters_mm: Sequence[float] | None = None, number: int = 0) -> Piece:
    """Holes in a bar, slower than straights, held in height; then the bar is cut loose.

    Each is entered from its middle on an arc and overruns its start, so that no flat is left there; its end is slower, so that
    the bottom keeps up.
    """
    diameters = tuple(
        hole_diameters_mm(basis.thickness_mm, basis.kerf_mm) if diameters_mm is None else diameters_mm
    )
    smallest = max(LEAST_HOLE * basis.thickness_mm, 2 * basis.kerf_mm)
    if min(diameters) < smallest - 1e-9:
        raise TradeError(
            "diameters_mm",
            f"a hole of {min(diameters):g} mm in {basis.thickness_mm:g} mm plate is no plasma hole: "
            f"{smallest:.3g} mm is the least.",
        )
    web = max(12.0, 2 * basis.thickness_mm)
    height = max(diameters) + 2 * web
    x, contours, rims = web, [], []
    for n, diameter in enumerate(diameters, 1):
        x += diameter / 2
        contours.append(_hole(f"hole {n}, {diameter:g} mm", (x, height / 2), diameter, basis))
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
        *slowed_end(Segment("cut", (Arc(start, start, centre, clockwise),)), basis),
        Segment("overrun", (Arc(start, after, centre, clockwise),), END_SPEED_SHARE),
    )
    speed = HOLE_SPEED_SHARE * basis.speed_mm_min
    return Contour(name, basis.good, True, speed, basis.cut_height_mm, segments)


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
