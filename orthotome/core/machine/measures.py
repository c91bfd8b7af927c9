"""What measured sizes say of a machine: square or not, scale of each axis, kerf, holes; and what they cannot tell.

A kerf that was left out or put on the wrong side is named before anything is adjusted: it looks like a scale that is
off, and a table adjusted for it is out of scale for every program that is right.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from orthotome.core.findings import Finding
from orthotome.core.machine.hole_fit import HoleFit, fit_of
from orthotome.core.machine.measured import Measured, check_measured
from orthotome.core.machine.sizes import (
    KERF_THAT_MATTERS_MM,
    SCALE_THAT_MATTERS,
    Sizes,
    judge_sizes,
)
from orthotome.core.machine.squareness import (
    SKEW_THAT_MATTERS_DEG,
    Spread,
    drive_correction_says,
    needed_diagonal_mm,
    skew_rad,
)
from orthotome.core.quantities import length, size

Code = Literal[
    "kerf_not_compensated",
    "kerf_wrong_side",
    "gantry_skew",
    "scale",
    "kerf_differs",
    "hole_oval",
    "hole_tapered",
    "instrument_too_coarse",
    "none",
]
"""In the order in which they are said."""

_COARSE_SIGMAS = 2.0


@dataclass(frozen=True)
class DriveCorrection:
    """How far one end of the gantry is to be moved; positive: its +X end toward -Y."""

    mm: Spread
    why: str


@dataclass(frozen=True)
class MachineJudgement:
    """The whole answer; None is "cannot be told", with its reason in ``cannot_tell``."""

    skew_deg: Spread | None
    drive_correction: DriveCorrection | None
    sizes: Sizes
    holes: tuple[HoleFit, ...]
    findings: tuple[Finding[Code], ...]
    cannot_tell: tuple[str, ...]


def judge_machine(measured: Measured) -> MachineJudgement:
    """Everything that the sizes say. Raises TradeError, naming the field, for what no table can have cut."""
    check_measured(measured)
    skew = skew_rad(measured.rectangles)
    sizes = judge_sizes(tuple(measured.readings()), measured.kerf_compensated_mm)
    holes = tuple(fit_of(h, measured.thickness_mm) for h in measured.holes)
    skew_deg = None if skew is None else skew.times(math.degrees(1))
    correction = None
    if skew is not None and measured.drive_distance_mm:
        mm = skew.times(measured.drive_distance_mm)
        correction = DriveCorrection(mm, drive_correction_says(skew, mm.value))
    found = (
        *_of_kerf(sizes, measured),
        *_of_skew(skew_deg, correction, measured),
        *_of_scale(sizes),
        *_of_holes(holes),
    )
    order: dict[Code, int] = {code: n for n, code in enumerate(Code.__args__)}  # type: ignore[attr-defined]
    findings = tuple(sorted(found, key=lambda f: order[f.code]))
    return MachineJudgement(
        skew_deg,
        correction,
        sizes,
        holes,
        findings or (() if sizes.doubt else (_nothing(),)),
        tuple(_cannot_tell(measured, skew_deg, sizes, holes)),
    )


def _nothing() -> Finding[Code]:
    return Finding(
        "none", "Nothing was found wrong in what these sizes can tell.", title="Nothing found"
    )


def _of_kerf(sizes: Sizes, measured: Measured) -> Iterator[Finding[Code]]:
    kerf = measured.kerf_compensated_mm
    if sizes.fault == "kerf_not_compensated":
        yield Finding(
            "kerf_not_compensated",
            f"Outsides are small and insides large by about one kerf, {length(kerf)}: the torch ran on the part's own line.",
            title="No room was made for the kerf",
            check="Lay the part's drawing over the program: the path lies on it.",
            cure="Switch the compensation on where the program was made; adjust nothing on the machine.",
        )
    elif sizes.fault == "kerf_wrong_side":
        yield Finding(
            "kerf_wrong_side",
            f"Outsides are small and insides large by about two kerfs, {length(2 * kerf)}: half a kerf was taken from the "
            "part instead of the scrap.",
            title="The kerf is on the wrong side",
            check="Lay the part's drawing over the program: the path lies inside it.",
            cure="Change the compensation to the other side; adjust nothing on the machine.",
        )
    elif sizes.kerf_mm is not None:
        off = Spread(sizes.kerf_mm.value - kerf, sizes.kerf_mm.sd)
        if off.sure and abs(off.value) > KERF_THAT_MATTERS_MM / 2:
            yield Finding(
                "kerf_differs",
                f"The kerf is {length(sizes.kerf_mm.value)}; the program made room for {length(kerf)}.",
                title="Another kerf",
                cure=f"Write {length(sizes.kerf_mm.value)} as this setting's kerf.",
            )
        elif _COARSE_SIGMAS * off.sd > 3 * KERF_THAT_MATTERS_MM:
            yield _too_coarse(f"the kerf to better than {length(_COARSE_SIGMAS * off.sd)}")


def _of_skew(
    skew: Spread | None, correction: DriveCorrection | None, measured: Measured
) -> Iterator[Finding[Code]]:
    if skew is None:
        return
    if skew.sure:
        lean = "+X" if skew.value > 0 else "−X"
        per_metre = 1000 * math.radians(abs(skew.value))
        yield Finding(
            "gantry_skew",
            f"The far side leans toward {lean} by {length(per_metre)} over {size(1000)} of depth: the gantry is not square to "
            "its rails.",
            title="The gantry is out of square",
            cure=correction.why if correction else "Move one end of the gantry; cut and measure again.",
        )
    elif _COARSE_SIGMAS * skew.sd > SKEW_THAT_MATTERS_DEG:
        u = min(r.u_mm for r in measured.rectangles)
        yield _too_coarse(
            f"whether it is square to {length(1.0)} over {size(1000)}: that takes a piece of at least "
            f"{size(needed_diagonal_mm(u), up=True)} from corner to corner, or an instrument that reads the diagonals finer"
        )


def _of_scale(sizes: Sizes) -> Iterator[Finding[Code]]:
    for axis, scale in (("X", sizes.scale_x), ("Y", sizes.scale_y)):
        if scale is None:
            continue
        off = Spread(scale.value - 1, scale.sd)
        if off.sure and abs(off.value) > SCALE_THAT_MATTERS / 2:
            way = "long" if off.value > 0 else "short"
            yield Finding(
                "scale",
                f"{axis} runs {length(abs(off.value) * 1000)} too {way} over {size(1000)}.",
                numbers={"scale": scale.value},
                title=f"{axis} is out of scale",
                cure=f"Divide {axis}'s steps per length by {scale.value:.5f}; cut and measure again.",
            )
        elif _COARSE_SIGMAS * off.sd > 4 * SCALE_THAT_MATTERS:
            yield _too_coarse(
                f"{axis}'s scale to better than {length(_COARSE_SIGMAS * off.sd * 1000)} over {size(1000)}"
            )


def _of_holes(holes: tuple[HoleFit, ...]) -> Iterator[Finding[Code]]:
    for hole in holes:
        if hole.oval:
            yield Finding(
                "hole_oval",
                f"The hole of {length(hole.nominal_mm)} has two diameters: it is oval.",
                title="An oval hole",
                check="Which way it is long: the same way in every hole and along a diagonal is the gantry's skew; along an "
                "axis slack in it; another way the jet's lean.",
            )
        if hole.tapered and hole.taper_deg is not None:
            way = "narrows" if hole.taper_deg > 0 else "widens"
            other = "low" if hole.taper_deg < 0 else "high, or too fast"
            yield Finding(
                "hole_tapered",
                f"The hole of {length(hole.nominal_mm)} {way} downward by {abs(hole.taper_deg):.1f} degrees: the torch was "
                f"too {other} in it.",
                numbers={"taper_deg": hole.taper_deg},
                title="A tapered hole",
            )


def _too_coarse(what: str) -> Finding[Code]:
    return Finding(
        "instrument_too_coarse",
        f"What these were read with cannot tell {what}.",
        title="Too coarse an instrument",
        cure="Read larger pieces, with a finer instrument, or the same ones several times.",
    )


def _cannot_tell(
    measured: Measured, skew: Spread | None, sizes: Sizes, holes: tuple[HoleFit, ...]
) -> Iterator[str]:
    if skew is None:
        yield "Skew: no rectangle has its diagonals; cut one as large as the sheet allows, and measure both."
    elif not measured.drive_distance_mm:
        yield "The correction at the gantry: the distance between its drives is not given."
    axes = {r.axis for r in measured.readings()}
    for axis, scale in (("X", sizes.scale_x), ("Y", sizes.scale_y)):
        if scale is None and axis.lower() not in axes:
            yield f"Scale of {axis}: nothing was measured along it."
        elif scale is None:
            yield f"Scale of {axis}: it cannot be told apart from the kerf; {_WHAT_TELLS}"
    if sizes.doubt is not None:
        yield (
            "The kerf: sizes that are off like these come from a compensation that is missing or on the wrong side, or from a "
            f"scale; {_WHAT_TELLS}"
        )
    elif sizes.kerf_mm is None:
        yield f"The kerf: it cannot be told apart from the scale; {_WHAT_TELLS}"
    if sizes.contradict:
        yield (
            "The sizes contradict each other by more than their instrument explains: scrape the edges, and measure the same "
            "sides again. Until then their ranges are widened."
        )
    if any(h.taper_deg is None for h in holes):
        yield "Taper of a hole: both its diameters and the plate's thickness are needed."


_WHAT_TELLS = "measure a slot as well, or an outside of a quite other size along the same axis."
