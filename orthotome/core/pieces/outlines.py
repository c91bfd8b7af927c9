"""Pieces with an outline: the square, the corners with their zig-zag, and the long strip."""

import math
from collections.abc import Sequence
from dataclasses import replace

from orthotome.core.errors import TradeError
from orthotome.core.machine.motion import AT_SPEED, run_up_mm, share_of_straight_at_speed
from orthotome.core.path.paths import Point, straight
from orthotome.core.pieces.piece import (
    CLIP_MM,
    Contour,
    Part,
    Piece,
    PieceBasis,
    PieceName,
    clipped_rectangle,
    lead_in_mm,
    nick_marks,
    outside_contour,
    placed,
    slowed_end,
)
from orthotome.core.quantities import acceleration, length, speed, whole_size_mm

CORNER_ANGLES_DEG = (90, 60, 45)  # of the teeth of the corner piece
ZIG_ZAG_MM = (24.0, 17.0, 12.0, 9.0)  # stretches of the zig-zag: each shorter, at last never at speed
SCRAP_BAR_MM = (60.0, 20.0)  # longest, and least width: what a gauge can sit on


MOST_SQUARE_MM = 160.0  # of side, grown for speed: a larger one is a part, not a test; assumption
_WANTED_SHARE = 0.6  # of each side at speed: its middle, where it is read, and room to either hand


def square_size_mm(basis: PieceBasis) -> float:
    """A side that a gauge can sit on, 40 mm and more on plate, and that is at speed over most of its length.

    Each side is run from rest to rest, so it grows with v^2 / a, up to a most.
    """
    sits = max(40.0, 5.0 * basis.thickness_mm)
    run_up = run_up_mm(AT_SPEED * basis.speed_mm_min, basis.acceleration_mm_s2)
    return whole_size_mm(max(sits, min(MOST_SQUARE_MM, 2 * run_up / (1 - _WANTED_SHARE))))


def _too_fast_straight(basis: PieceBasis, side_mm: float) -> tuple[str, ...]:
    """What a side of that length cannot show of the speed set; nothing where half of it is at speed."""
    v, a = basis.speed_mm_min, basis.acceleration_mm_s2
    share = share_of_straight_at_speed(side_mm, v, a)
    if share >= 0.5:
        return ()
    if share > 0:
        return (
            f"At {acceleration(a)} this machine is at {speed(v)} over the middle {length(share * side_mm)} of "
            f"each {length(side_mm)} side only: read bevel and dross there, not toward the corners.",
        )
    reached = 60 * math.sqrt(a * side_mm)
    return (
        f"At {acceleration(a)} this machine never comes to {speed(v)} on a {length(side_mm)} side: it is at "
        f"{speed(reached)} at most. What is read tells of that speed; try a smaller set, or straight cuts.",
    )


def square(
    basis: PieceBasis,
    size_mm: float | None = None,
    number: int = 0,
    *,
    scrap_edge: bool = False,
) -> Piece:
    """A square with one clipped corner, cut along 0, 90, 180 and 270 degrees, kept inside.

    The clipped corner is the one away from the operator on the right. With the good side on the
    right of travel the outside runs clockwise; else the other way round. With ``scrap_edge`` a bar of
    the scrap beside the far side is cut loose first: its near edge is the other side of that same cut,
    and tells process from swirl.
    """
    side = square_size_mm(basis) if size_mm is None else size_mm
    if side < 3 * CLIP_MM:
        raise TradeError("size_mm", f"a test square needs at least {length(3 * CLIP_MM)} to be read.")
    outline = clipped_rectangle(side, side)
    bar, bar_part = _scrap_bar(side, basis)
    made = _outlined(
        "square",
        f"{length(side)} square",
        outline,
        basis,
        number,
        first=(bar,) if scrap_edge else (),
        beside=(bar_part,) if scrap_edge else (),
    )
    return replace(made, notes=_too_fast_straight(basis, side))


def _scrap_bar(side: float, basis: PieceBasis) -> tuple[Contour, Part]:
    """Three sides round a bar of scrap beyond a square's far side, whose own cut is the fourth.

    Its ends reach half a kerf into the cut to come, no farther: the square is not touched. The end is
    slowed, since the lagging bottom would leave a tab there.
    """
    k, lead = basis.kerf_mm, lead_in_mm(basis) / math.sqrt(2)
    left = CLIP_MM / 2
    right = min(side - CLIP_MM - 2, left + SCRAP_BAR_MM[0])
    low, high = side + k, side + k + max(SCRAP_BAR_MM[1], 1.2 * basis.thickness_mm)
    path = [
        (left - k / 2, low),
        (left - k / 2, high + k / 2),
        (right + k / 2, high + k / 2),
        (right + k / 2, low),
    ]
    away = -lead
    if basis.good == "left":
        path.reverse()
        away = lead
    pierce = (path[0][0] + away, low + lead)
    segments = (
        straight("lead_in", (pierce, path[0])),
        *slowed_end(straight("cut", path), basis),
    )
    contour = Contour("scrap bar", basis.good, True, basis.speed_mm_min, basis.cut_height_mm, segments)
    outline = ((left, low), (left, high), (right, high), (right, low))
    return contour, Part(outline, scrap=True)


def long_strip(basis: PieceBasis, length_mm: float = 400.0, number: int = 0) -> Piece:
    """A long strip for a warped sheet: it proves height control, which is on for this one piece.

    Control follows along the two long sides, and is held over the short ends, where the machine slows
    down for the corners and the voltage rises without the height having changed.
    """
    width = max(25.0, 1.5 * basis.thickness_mm)
    outline = clipped_rectangle(length_mm, width)
    strip = _outlined("long_strip", f"{length(length_mm)} strip", outline, basis, number)
    *marks, loop = strip.contours
    segments = []
    for segment in loop.segments:
        if segment.kind != "cut":
            segments.append(segment)
            continue
        for move in segment.moves:
            held = math.dist(move.start, move.end) < length_mm / 2
            side = replace(segment, moves=(move,), held=held)
            if segments and segments[-1].kind == "cut" and segments[-1].held == held:
                segments[-1] = replace(segments[-1], moves=(*segments[-1].moves, move))
            else:
                segments.append(side)
    followed = replace(loop, height_control=True, segments=tuple(segments))
    return replace(strip, contours=(*marks, followed))


def corner(basis: PieceBasis, number: int = 0) -> Piece:
    """A bar with teeth of 90, 60 and 45 degrees, and a zig-zag whose stretches grow shorter.

    The teeth show what height control and acceleration do at a corner, the zig-zag from which length on
    the machine no longer comes to speed: low-speed dross begins there.
    """
    depth = max(18.0, 1.2 * basis.thickness_mm)
    gap = max(10.0, 2 * basis.kerf_mm + basis.thickness_mm)
    teeth: list[Point] = []
    x = gap
    for angle in CORNER_ANGLES_DEG:
        half = depth * math.tan(math.radians(angle / 2))
        teeth += [(x, depth), (x + half, 2 * depth), (x + 2 * half, depth)]
        x += 2 * half + gap
    for stretch in ZIG_ZAG_MM:  # right-angled: each tooth as wide as its two stretches reach
        leg = stretch / math.sqrt(2)
        teeth += [(x, depth), (x + leg, depth + leg)]
        x += 2 * leg
    teeth.append((x, depth))
    x += gap
    outline = ((0.0, 0.0), (0.0, depth), *teeth, (x, depth), (x, 0.0))
    title = "corners of 90, 60 and 45 degrees and a zig-zag"
    return _outlined("corner", title, outline, basis, number)


def _outlined(
    kind: PieceName,
    title: str,
    outline: tuple[Point, ...],
    basis: PieceBasis,
    number: int,
    *,
    first: Sequence[Contour] = (),
    beside: Sequence[Part] = (),
) -> Piece:
    """A part round which everything else is arranged: nicks and ``first`` before its outline."""
    marks = nick_marks(number, outline, basis)
    contour = outside_contour(title, outline, basis)
    contours, parts = placed([*marks, *first, contour], [Part(outline), *beside])
    xs, ys = [p[0] for p in outline], [p[1] for p in outline]
    size = (max(xs) - min(xs), max(ys) - min(ys))
    return Piece(kind, title, contours, size, parts)
