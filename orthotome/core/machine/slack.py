r"""Slack in the drives from two circles, cut one way round and the other; and steps that were lost.

Slack b in a drive leaves the torch b / 2 behind on the side that it comes from. A circle then loses b_x of its width in
X and b_y in Y, however it is run; on the diagonals it gains or loses (b_x - b_y) / sqrt(2), one way round the one
diagonal and the other way round the other::

    counter-clockwise                    clockwise
         -vx, +vy  at the upper right      +vx, -vy  at the upper right
         A longer where b_x > b_y          A shorter where b_x > b_y

A gantry out of square stretches the same diagonal both ways round, and a lean of the jet the bottom alone. A runs from
the zero's corner, as on a rectangle.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.findings import Finding
from orthotome.core.machine.fitting import fitted
from orthotome.core.machine.squareness import Spread
from orthotome.core.quantities import length

Turns = Literal["clockwise", "counter_clockwise"]
Code = Literal["slack_x", "slack_y", "oval_with_the_gantry", "oval_along_an_axis", "too_coarse", "none"]

SLACK_THAT_MATTERS_MM = 0.1
"""Assumption: what a hole that has to fit notices."""
_FARTHEST_SHARE = 0.1  # of a diameter, and a millimetre and a half: farther off is another circle


@dataclass(frozen=True)
class Circle:
    """A circle as it was cut: across X and Y and the two diagonals, hole or disc, each None where it was not read."""

    turns: Turns
    x_mm: float | None
    y_mm: float | None
    a_mm: float | None
    b_mm: float | None
    u_mm: float


@dataclass(frozen=True)
class Slack:
    """What circles say; None: they cannot tell. ``skew_deg`` is the gantry's part, ``scale_difference`` X's scale less Y's."""

    x_mm: Spread | None
    y_mm: Spread | None
    skew_deg: Spread | None
    scale_difference: Spread | None
    findings: tuple[Finding[Code], ...]
    cannot_tell: tuple[str, ...]


def slack_of(circles: Sequence[Circle], drawn_mm: float) -> Slack:
    """Slack of each axis by least squares. Raises TradeError, naming the field, for sizes of another circle."""
    rows, sizes = [], []
    ways: list[Turns] = sorted({c.turns for c in circles})
    for circle in circles:
        for row, size_mm in _rows(circle, ways, drawn_mm):
            rows.append(np.array(row) / circle.u_mm)
            sizes.append((size_mm - drawn_mm) / circle.u_mm)
    if not rows:
        raise TradeError(
            "x_mm", "type what was read of a circle: across X, across Y, and both diagonals."
        )
    found = fitted(np.array(rows), np.array(sizes))
    told = [
        Spread(v, sd) if known else None
        for v, sd, known in zip(found.values[:4], found.sds[:4], found.known[:4], strict=True)
    ]
    x, y, skew, scale = told
    skew_deg = None if skew is None else skew.times(math.degrees(1))
    findings = tuple(_findings(x, y, skew, scale, drawn_mm))
    return Slack(x, y, skew_deg, scale, findings, tuple(_cannot_tell(x, y, ways, found.contradict)))


def _rows(circle: Circle, ways: Sequence[Turns], drawn_mm: float) -> "list[tuple[list[float], float]]":
    """How each size answers to slack in X, slack in Y, skew, scale difference, and the size of each way round."""
    own = [1.0 if circle.turns == w else 0.0 for w in ways]
    turn = (1 if circle.turns == "counter_clockwise" else -1) / math.sqrt(2)
    d = drawn_mm
    # A whole scale error is one with the circle's own size: only the difference of the axes can be seen.
    answers = {
        "x_mm": [-1.0, 0.0, 0.0, d / 2],
        "y_mm": [0.0, -1.0, 0.0, -d / 2],
        "a_mm": [turn, -turn, d / 2, 0.0],
        "b_mm": [-turn, turn, -d / 2, 0.0],
    }
    found = []
    for field, row in answers.items():
        size_mm = getattr(circle, field)
        if size_mm is None:
            continue
        if abs(size_mm - drawn_mm) > _FARTHEST_SHARE * drawn_mm + 1.5:
            raise TradeError(
                field,
                f"{length(size_mm)} where {length(drawn_mm)} is drawn: is it that circle, in that unit?",
            )
        found.append(([*row, *own], size_mm))
    return found


def _findings(
    x: Spread | None, y: Spread | None, skew: Spread | None, scale: Spread | None, drawn_mm: float
) -> "list[Finding[Code]]":
    found: list[Finding[Code]] = []
    for axis, code, slack in (("X", "slack_x", x), ("Y", "slack_y", y)):
        if slack is None:
            continue
        if slack.sure and slack.value > SLACK_THAT_MATTERS_MM / 2:
            found.append(
                Finding(
                    code,  # type: ignore[arg-type]
                    f"{axis} lags {length(slack.value)}, give or take {length(slack.sd)}, when it turns back: circles are narrow along "
                    f"{axis}, and flat where it turns.",
                    title=f"Slack in {axis}",
                    check=f"Power off, push the torch along {axis} by hand against the drive: what gives is the slack.",
                    cure="Tighten the belt or the pinion, look for a loose coupling and worn bearings; then cut both circles again.",
                )
            )
        elif 2 * slack.sd > 2 * SLACK_THAT_MATTERS_MM:
            found.append(
                Finding(
                    "too_coarse",
                    f"What these were read with cannot tell slack in {axis} under {length(2 * slack.sd)}.",
                    title="Too coarse an instrument",
                    cure="Read each diameter several times, or with a finer instrument.",
                )
            )
    if skew is not None and skew.sure:
        found.append(
            Finding(
                "oval_with_the_gantry",
                f"The same diagonal is long both ways round, by {length(abs(skew.value) * drawn_mm)}: that is the gantry, not slack.",
                title="Oval along a diagonal",
                cure="Measure a rectangle’s diagonals: they tell it finer than a circle.",
            )
        )
    if scale is not None and scale.sure:
        wide, narrow = ("X", "Y") if scale.value > 0 else ("Y", "X")
        found.append(
            Finding(
                "oval_along_an_axis",
                f"Beside any slack it is longer along {wide} than along {narrow}, by {length(abs(scale.value) * drawn_mm)}: the axes "
                "are out of scale to each other.",
                title="Oval along an axis",
                cure="Measure outsides and insides of different sizes: they tell each axis’s scale.",
            )
        )
    if not found and x is not None and y is not None:
        found.append(Finding("none", "No slack that these readings can tell.", title="No slack found"))
    return found


def _cannot_tell(
    x: Spread | None, y: Spread | None, ways: Sequence[Turns], contradict: bool
) -> "list[str]":
    said = []
    if x is None or y is None:
        more = (
            "cut a second one the other way round"
            if len(ways) < 2
            else "read across X, across Y and both diagonals"
        )
        said.append(
            f"Slack of each axis: these diameters alone leave it one with the circle’s size; {more}."
        )
    if contradict:
        said.append(
            "The diameters contradict each other by more than their instrument explains: scrape the edges, and read them again."
        )
    return said


@dataclass(frozen=True)
class Return:
    """Where the torch stood after a run, off the mark that it left from; None where an axis was not read."""

    x_mm: float | None
    y_mm: float | None
    u_mm: float
    steps_per_mm_x: float | None = None
    steps_per_mm_y: float | None = None


@dataclass(frozen=True)
class Lost:
    """Whether steps were lost on the way."""

    lost: bool
    sentence: str


def lost_steps(back: Return) -> Lost:
    """Whether an axis came back to its mark. Raises TradeError where none was read."""
    axes = (
        ("X", back.x_mm, back.steps_per_mm_x),
        ("Y", back.y_mm, back.steps_per_mm_y),
    )
    read = [(axis, off, per_mm) for axis, off, per_mm in axes if off is not None]
    if not read:
        raise TradeError("x_mm", "type how far from the mark the torch stands; 0 where it stands on it.")
    away = [(axis, off, per_mm) for axis, off, per_mm in read if abs(off) > 3 * back.u_mm]
    if not away:
        unread = "" if len(read) == 2 else f" {'Y' if read[0][0] == 'X' else 'X'} was not read."
        return Lost(
            False, f"Back on its mark, within {length(3 * back.u_mm)}: no steps were lost.{unread}"
        )
    said = [
        f"{axis} stands {length(abs(off))} off its mark, toward {'+' if off > 0 else '−'}{axis}"
        + (f", about {abs(off) * per_mm:.0f} steps" if per_mm else "")
        for axis, off, per_mm in away
    ]
    return Lost(
        True,
        f"{'; '.join(said)}: steps were lost. Clean the rails and rack, then run the same program dry twice: twice as far off is an "
        "acceleration or a speed too high, the same once only is something in the way, or a collision.",
    )
