"""Ladders: parallel slots, one setting each, in one comb that is cut loose last."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace

from orthotome.core.errors import TradeError
from orthotome.core.machine.motion import run_up_mm
from orthotome.core.path.paths import Point, straight
from orthotome.core.pieces.piece import (
    CLIP_MM,
    END_SPEED_SHARE,
    LONG_NICK_MM,
    SPLASH_MM,
    Contour,
    Part,
    Piece,
    PieceBasis,
    PieceName,
    StartAndEnd,
    clipped_rectangle,
    lead_in_mm,
    nick_marks,
    outside_contour,
    overrun_mm,
    placed,
)
from orthotome.core.quantities import (
    height_step_mm,
    in_steps,
    length,
    seconds,
    speed,
    speed_step_mm_min,
)

STUB_MM = 15.0  # of cut behind each pierce of a pierce ladder: enough to see whether it was through
MOST_RUNGS = 12
STARTS_AND_ENDS = (
    StartAndEnd(),
    StartAndEnd(lead_in_share=0.5),
    StartAndEnd(lead_in="arc"),
    StartAndEnd(overrun_share=0.0),
    StartAndEnd(overrun_share=0.5),
    StartAndEnd(overrun_share=2.0),
    StartAndEnd(end_speed_share=END_SPEED_SHARE),
)
"""The usual, and one thing different at a time."""

_MOST_RUN_DOWN_MM = 120.0  # that a strip grows by, so that the rest of it is at speed; assumption
_IN_A_ROW = 4  # of the squares of a start-and-end ladder


def strip_ladder(
    basis: PieceBasis,
    speeds_mm_min: Sequence[float],
    strip_length_mm: float | None = None,
    number: int = 0,
) -> Piece:
    """Parallel slots, one speed each, all cut away from the operator, then the comb cut loose.

    The slots run from a spine near the operator out past the far edge, so the strips hang on one
    piece in order; slot 1 is at the left, the clipped corner is at the far right. Each strip
    carries the right edge of the slot to its left and the left edge of the slot to its right. A number
    is nicked into the spine.
    """
    rungs = [replace(basis, speed_mm_min=v) for v in speeds_mm_min]
    return _comb(
        "strip_ladder",
        f"{len(rungs)} speed strips",
        basis,
        rungs,
        strip_length_mm=strip_length_mm,
        number=number,
    )


def height_ladder(
    basis: PieceBasis,
    heights_mm: Sequence[float],
    strip_length_mm: float | None = None,
    number: int = 0,
) -> Piece:
    """The same with one height each, at one speed: bevel and volts against height at the same time."""
    rungs = [replace(basis, cut_height_mm=h) for h in heights_mm]
    return _comb(
        "height_ladder",
        f"{len(rungs)} height strips",
        basis,
        rungs,
        strip_length_mm=strip_length_mm,
        number=number,
    )


def pierce_ladder(basis: PieceBasis, delays_s: Sequence[float], number: int = 0) -> Piece:
    """Short stubs, one pierce delay each: the shortest that is through every time."""
    _check_rungs(len(delays_s))
    pitch = max(18.0, 1.2 * basis.thickness_mm) + basis.kerf_mm
    below = max(SPLASH_MM, 0.75 * basis.thickness_mm) + 2 * SPLASH_MM
    below += LONG_NICK_MM if number else 0.0
    width, height = pitch * (len(delays_s) + 1), below + STUB_MM + 2 * SPLASH_MM
    stubs = []
    for i, delay in enumerate(delays_s):
        x = pitch * (i + 1)
        segment = straight("cut", ((x, below), (x, below + STUB_MM)))
        stub = Contour(
            f"stub {i + 1}: {seconds(delay)}",
            basis.good,
            True,
            basis.speed_mm_min,
            basis.cut_height_mm,
            (segment,),
            pierce_delay_s=delay,
        )
        stubs.append(stub)
    outline = clipped_rectangle(width, height)
    nicks, bar = nick_marks(number, outline, basis), outside_contour("bar", outline, basis)
    contours, _ = placed([*nicks, *stubs, bar], [])  # no part is kept: each stub is only looked at
    return Piece("pierce_ladder", f"{len(stubs)} pierces", contours, (width, height))


def start_end_ladder(basis: PieceBasis, steps: Sequence[StartAndEnd] = STARTS_AND_ENDS) -> Piece:
    """Small squares, each begun or ended in its own way: the shortest that leaves no tab and no flat.

    One thing differs from the usual at a time. The squares fall apart, so each is numbered with nicks;
    all nicks come first.
    """
    _check_rungs(len(steps))
    side = max(3.5 * CLIP_MM, 2.0 * basis.thickness_mm)
    longest = max(how.overrun_share for how in steps) * overrun_mm(basis)
    pitch = side + lead_in_mm(basis) + longest + 2 * basis.kerf_mm
    nicks, loops, parts = [], [], []
    for i, how in enumerate(steps):
        row, column = divmod(i, _IN_A_ROW)
        outline = tuple((x + column * pitch, y + row * pitch) for x, y in clipped_rectangle(side, side))
        n = i + 1
        marks = nick_marks(n, outline, basis)
        nicks += [replace(m, name=f"{n}: {m.name}", number=n) for m in marks]
        loop = outside_contour(f"{n}: {_what_differs(how, basis)}", outline, basis, how)
        loops.append(replace(loop, number=n))
        parts.append(Part(outline))
    contours, kept = placed([*nicks, *loops], parts)
    rows = math.ceil(len(steps) / _IN_A_ROW)
    size = (pitch * min(len(steps), _IN_A_ROW), pitch * (rows - 1) + side)
    return Piece("start_end_ladder", f"{len(steps)} starts and ends", contours, size, kept)


def _what_differs(how: StartAndEnd, basis: PieceBasis) -> str:
    """The one thing of a start or end that is not the usual."""
    if how.lead_in == "arc":
        return "arc lead-in"
    if how.lead_in_share != 1:
        return f"lead-in {length(how.lead_in_share * lead_in_mm(basis))}"
    if how.overrun_share != 1:
        return f"overrun {length(how.overrun_share * overrun_mm(basis))}"
    if how.end_speed_share != 1:
        return f"end at {100 * how.end_speed_share:.0f} % of speed"
    return f"usual: lead-in {length(lead_in_mm(basis))}, overrun {length(overrun_mm(basis))}"


Span = tuple[float, float]
"""Lowest and highest."""


def ladder_speeds(
    around_mm_min: float, steps: int = 5, share: float = 0.08, within: Span = (0.0, math.inf)
) -> tuple[float, ...]:
    """Speeds in equal ratios about a middle one, on the shop's steps, none outside ``within``, slowest first."""
    middle, step = (steps - 1) / 2, speed_step_mm_min(around_mm_min)
    speeds = (in_steps(around_mm_min * (1 + share) ** (i - middle), step) for i in range(steps))
    return _inside(speeds, within)


def ladder_heights(
    around_mm: float, steps: int = 5, within: Span = (0.0, math.inf)
) -> tuple[float, ...]:
    """Heights in even steps about a middle one, on the shop's steps, none outside ``within``, lowest first."""
    step = max(0.2, 0.2 * around_mm)
    middle = (steps - 1) / 2
    heights = (in_steps(around_mm + (i - middle) * step, height_step_mm()) for i in range(steps))
    return _inside(heights, within)


def _inside(steps: Iterable[float], within: Span) -> tuple[float, ...]:
    """The steps kept inside, none of them twice."""
    return tuple(dict.fromkeys(min(max(s, within[0]), within[1]) for s in steps))


def ladder_delays(around_s: float, steps: int = 5) -> tuple[float, ...]:
    """Delays from half of the usual one to half as much again, never below zero."""
    if around_s <= 0:
        return tuple(round(0.1 * i, 2) for i in range(steps))
    return tuple(round(around_s * (0.5 + i / (steps - 1)), 2) for i in range(steps))


def _comb(
    kind: PieceName,
    title: str,
    basis: PieceBasis,
    rungs: Sequence[PieceBasis],
    *,
    strip_length_mm: float | None,
    number: int,
) -> Piece:
    _check_rungs(len(rungs))
    t, kerf = basis.thickness_mm, basis.kerf_mm
    pitch = max(15.0, 1.2 * t) + kerf
    # The machine slows toward the end: what is read lies before that.
    slows = max(run_up_mm(r.speed_mm_min, r.acceleration_mm_s2) for r in rungs)
    long = strip_length_mm or max(50.0, 3 * t) + min(slows, _MOST_RUN_DOWN_MM)
    lead = max(lead_in_mm(r) for r in rungs)
    spine = lead + SPLASH_MM + (LONG_NICK_MM if number else 0.0)
    width, height = pitch * (len(rungs) + 1), spine + long
    slots = []
    for i, rung in enumerate(rungs):
        x = pitch * (i + 1)
        pierce, begin, end = (x, spine - lead), (x, spine), (x, height + kerf / 2)
        past = (x, end[1] + overrun_mm(basis))  # or the bottom of the strips still hangs together
        segments = (
            straight("lead_in", (pierce, begin)),
            straight("cut", (begin, end)),
            straight("overrun", (end, past)),
        )
        slots.append(
            Contour(
                f"slot {i + 1}: {speed(rung.speed_mm_min)} at {length(rung.cut_height_mm)}",
                basis.good,
                True,
                rung.speed_mm_min,
                rung.cut_height_mm,
                segments,
            )
        )
    outline = clipped_rectangle(width, height)
    comb = outside_contour("comb", outline, basis)
    strips = _strips([pitch * (i + 1) for i in range(len(rungs))], spine, outline, kerf)
    nicks = nick_marks(number, outline, basis)
    contours, parts = placed([*nicks, *slots, comb], strips)
    return Piece(kind, title, contours, (width, height), parts)


def _strips(
    slots_x: Sequence[float], spine: float, outline: tuple[Point, ...], kerf: float
) -> list[Part]:
    """The strips that are read: between slots, above the spine where the slots are pierced."""
    width, height = outline[-1][0], outline[1][1]
    bounds = [0.0, *(x + s * kerf / 2 for x in slots_x for s in (-1, 1)), width]
    strips = [
        Part(((left, spine), (left, height), (right, height), (right, spine)))
        for left, right in zip(bounds[0:-2:2], bounds[1:-2:2], strict=True)
    ]
    last = bounds[-2]
    strips.append(Part(((last, spine), (last, height), *outline[2:4], (width, spine))))
    return strips


def _check_rungs(count: int) -> None:
    if not 2 <= count <= MOST_RUNGS:
        raise TradeError("steps", f"a ladder has 2 to {MOST_RUNGS} steps.")
