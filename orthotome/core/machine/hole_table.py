"""The shop's holes: what came through the holes that were cut and tried, and what to draw so that the next one fits.

A plasma hole comes out smaller than drawn, the more so the smaller it is. Of holes tried with one set in one plate the
shortfall is taken as c0 + c1 / diameter, with what is usual standing in until enough were tried; the answer carries how
sure that is, and a hole that must pass is drawn so that it passes nineteen times of twenty.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.machine.hole_fit import (
    CLEARANCE_MM,
    METRIC_BOLTS_MM,
    TAPER_THAT_MATTERS_DEG,
    inch_bolts,
)
from orthotome.core.machine.hole_rules import LEAST_THICKNESSES, good_hole_mm
from orthotome.core.quantities import length, spoken

Purpose = Literal["passes", "as_drawn", "drill_out", "tap"]

TO_CLEAN_UP_MM = 0.6
"""Metal that a drill or a reamer needs across a plasma hole to get under its hard skin. Assumption."""
_REPEATS_MM = 0.1  # one hole of a size to the next, one sigma; assumption
_USUAL = np.array([0.0, 4.0])  # c0 in mm, c1 in mm^2: 0.4 mm short at 10 mm; assumption
_USUAL_SD = np.array([0.4, 5.0])
_LEAST_SHARE, _LEAST_MM = (
    0.5,
    1.0,
)  # of the plate's thickness, and at all: a way through under it is not worked out
_SURE = 1.645  # nineteen times of twenty
_KERF_SHARE = (
    0.5  # of a kerf, beyond what its reading may err, that a hole is larger than drawn; assumption
)
_BEYOND = (0.7, 1.4)  # of the smallest and the largest tried: farther it is a guess
_FLAT_SAID = 2  # holes with a flat before it is advice and not a chance

_TAP_DRILL_MM = {
    3: 2.5, 4: 3.3, 5: 4.2, 6: 5.0, 8: 6.8, 10: 8.5, 12: 10.2, 14: 12.0, 16: 14.0, 18: 15.5, 20: 17.5, 22: 19.5, 24: 21.0,
    27: 24.0, 30: 26.5, 33: 29.5, 36: 32.0, 39: 35.0, 42: 37.5, 45: 40.5, 48: 43.0,
}  # fmt: skip
"""Core drills of coarse metric threads, from the open standards for them."""


@dataclass(frozen=True)
class TriedHole:
    """One hole that was cut and tried. Diameters by a calliper, or the largest pin that went through and the smallest that
    did not; each None where it was not tried. ``flat`` is a flat at the lead-in, ``fell`` whether its slug dropped."""

    drawn_mm: float
    top_mm: float | None = None
    bottom_mm: float | None = None
    other_mm: float | None = None
    went_mm: float | None = None
    stopped_mm: float | None = None
    u_mm: float = 0.1
    flat: bool | None = None
    fell: bool | None = None

    @property
    def through(self) -> tuple[float, float] | None:
        """The smallest way through and its sigma; the smallest of what was read counts. None: not known."""
        read = [d for d in (self.top_mm, self.bottom_mm, self.other_mm) if d is not None]
        if self.went_mm is not None and self.stopped_mm is not None:
            middle, sd = (
                (self.went_mm + self.stopped_mm) / 2,
                (self.stopped_mm - self.went_mm) / math.sqrt(12),
            )
            if not read or sd < self.u_mm:
                return middle, max(sd, 0.02)
        return (min(read), self.u_mm) if read else None


def check_tried(hole: TriedHole) -> None:
    """Raise TradeError, naming the field, for what no such hole can have."""
    for field in ("top_mm", "bottom_mm", "other_mm", "went_mm", "stopped_mm"):
        got = getattr(hole, field)
        if got is not None and abs(got - hole.drawn_mm) > 0.5 * hole.drawn_mm + 1.0:
            raise TradeError(
                field,
                f"{length(got)} where {length(hole.drawn_mm)} is drawn: is it that hole, in that unit?",
            )
    if hole.went_mm is not None and hole.stopped_mm is not None and hole.went_mm >= hole.stopped_mm:
        raise TradeError("stopped_mm", "a pin that did not go through is thicker than one that did.")
    if hole.through is None and hole.went_mm is None and hole.stopped_mm is None and hole.fell is None:
        raise TradeError(
            "top_mm", "say what was tried: a diameter, the pins, or that its slug did not fall."
        )


@dataclass(frozen=True)
class ToDraw:
    """What to draw, how far the way through then lies at one sigma, and what is said of it. ``known`` False: nothing like it
    was tried, and the usual stands in."""

    draw_mm: float
    sd_mm: float
    known: bool
    sentence: str


class HoleTable:
    """Holes tried with one set in one plate."""

    def __init__(
        self, tried: Sequence[TriedHole], thickness_mm: float, kerf_mm: float | None = None
    ) -> None:
        self.tried = tuple(tried)
        self.thickness_mm = thickness_mm
        self.kerf_mm = kerf_mm
        self._read = [(h.drawn_mm, *h.through) for h in tried if h.through is not None]
        weights = np.diag(_USUAL_SD**-2.0)
        pull = weights @ _USUAL
        for drawn, through, sd in self._read:
            row = np.array([1.0, 1.0 / drawn])
            weight = 1.0 / (sd**2 + _REPEATS_MM**2)
            weights = weights + weight * np.outer(row, row)
            pull = pull + weight * row * (drawn - through)
        self._covariance = np.linalg.inv(weights)
        self._shortfall = self._covariance @ pull

    @property
    def not_compensated(self) -> str | None:
        """The sentence where a hole came out larger than drawn by about a kerf: its program made no room for it. Nothing is
        drawn by such holes."""
        if self.kerf_mm is None:
            return None
        over = [
            (drawn, through - drawn)
            for drawn, through, sd in self._read
            if through - drawn - 2 * sd > _KERF_SHARE * self.kerf_mm
        ]
        if not over:
            return None
        drawn, by = max(over, key=lambda o: o[1])
        return (
            f"A hole drawn as {length(drawn)} came out {length(by)} larger: plasma holes come out smaller, and a kerf is "
            f"{length(self.kerf_mm)}. Its program made no room for the kerf, or on the wrong side. Put that right, cut the holes "
            "again, and strike these out: nothing is drawn by them."
        )

    def through(self, drawn_mm: float) -> tuple[float, float]:
        """The smallest way through a hole drawn so, and its sigma for the next one cut."""
        row = np.array([1.0, 1.0 / drawn_mm])
        sd = math.sqrt(float(row @ self._covariance @ row) + _REPEATS_MM**2)
        return drawn_mm - float(row @ self._shortfall), sd

    def known(self, drawn_mm: float) -> bool:
        """Whether holes near that size were tried."""
        sizes = [drawn for drawn, _, _ in self._read]
        return bool(sizes) and _BEYOND[0] * min(sizes) <= drawn_mm <= _BEYOND[1] * max(sizes)

    def to_draw(self, wanted_mm: float, purpose: Purpose = "passes") -> ToDraw:
        """What to draw for a bolt of that size to pass, for a hole to be drilled out to it, or for a coarse thread of it.

        Raises TradeError where it would be no plasma hole, or the thread has no core drill here.
        """
        if self.not_compensated is not None:
            raise TradeError("wanted_mm", self.not_compensated)
        aim, side = _aim(wanted_mm, purpose)
        if aim < max(_LEAST_SHARE * self.thickness_mm, _LEAST_MM):
            raise self._no_hole(max(aim, 0.0))
        draw = aim
        for _ in range(20):  # the shortfall changes slowly with the size: this settles in three or four
            through, sd = self.through(draw)
            draw += aim + side * _SURE * sd - through
        if draw < LEAST_THICKNESSES * self.thickness_mm:
            raise self._no_hole(draw)
        return ToDraw(draw, sd, self.known(draw), self._says(draw, sd, purpose))

    def _no_hole(self, draw_mm: float) -> TradeError:
        plate = length(self.thickness_mm)
        return TradeError(
            "wanted_mm",
            f"{length(draw_mm)} in {plate} of plate is no plasma hole: mark its middle, and drill it.",
        )

    def _says(self, draw_mm: float, sd_mm: float, purpose: Purpose) -> str:
        goal = {
            "passes": "it then passes nineteen times of twenty",
            "as_drawn": "the smallest way through then comes out as wanted",
            "drill_out": "there is then metal left to drill out nineteen times of twenty",
            "tap": "there is then metal left for the core drill nineteen times of twenty",
        }[purpose]
        said = f"Draw {length(draw_mm)}: {goal}, the way through being {length(self.through(draw_mm)[0])} ± {length(sd_mm)}."
        if not self.known(draw_mm):
            said += " No hole of about that size was tried in this plate: what is usual stands in. Cut one, and try it."
        if draw_mm < good_hole_mm(self.thickness_mm):
            said += f" Under {length(good_hole_mm(self.thickness_mm))} in this plate a plasma hole is doubtful."
        return said

    @property
    def taper_deg(self) -> tuple[float, float] | None:
        """Mean taper of the holes whose two diameters were read, positive where they narrow downward, and its sigma."""
        both = [
            (math.degrees(math.atan((h.top_mm - h.bottom_mm) / (2 * self.thickness_mm))), h.u_mm)
            for h in self.tried
            if h.top_mm is not None and h.bottom_mm is not None
        ]
        if not both:
            return None
        one = math.degrees(math.sqrt(2 * sum(u**2 for _, u in both)) / (2 * self.thickness_mm)) / len(
            both
        )
        return sum(t for t, _ in both) / len(both), one

    @property
    def least_mm(self) -> float | None:
        """The smallest hole drawn whose slug fell and that is round at its start; None where none was tried."""
        good = [h.drawn_mm for h in self.tried if h.fell is not False and h.through is not None]
        bad = [h.drawn_mm for h in self.tried if h.fell is False]
        above = [d for d in good if not bad or d > max(bad)]
        return min(above, default=None)

    def says(self) -> list[str]:
        """What the holes tried say of height, of the start, and of the smallest hole."""
        if self.not_compensated is not None:
            return [self.not_compensated]
        said = []
        taper = self.taper_deg
        if taper is not None and abs(taper[0]) > max(TAPER_THAT_MATTERS_DEG, 2 * taper[1]):
            narrow = taper[0] > 0
            said.append(
                f"They {'narrow' if narrow else 'widen'} downward by {abs(taper[0]):.1f}°: the torch is "
                f"{'too high in holes, or too fast' if narrow else 'too low in holes, or too slow'}. Change the hole speed by a tenth, or "
                "the height by a step, and cut the set again."
            )
        flats = sum(1 for h in self.tried if h.flat)
        if flats >= _FLAT_SAID:
            said.append(
                f"{flats} have a flat where the lead-in comes in: lead in on an arc from the middle, shorten the overrun, and keep the hole "
                "speed to the very end."
            )
        elif flats == 1:
            said.append("One has a flat at its lead-in: one can be a chance. Look at the next.")
        least = self.least_mm
        stuck = [h.drawn_mm for h in self.tried if h.fell is False]
        if stuck:
            said.append(
                f"The slug of {length(max(stuck))} did not fall"
                + (
                    f": {length(least)} is the least that came out."
                    if least
                    else ": cut larger ones to find the least."
                )
            )
        elif least is not None and least > good_hole_mm(self.thickness_mm):
            said.append(f"{length(least)} is the least that was tried; smaller ones are not known.")
        return said


def _aim(wanted_mm: float, purpose: Purpose) -> tuple[float, int]:
    """The way through that is wanted, and whether more (1), less (-1) or neither does no harm."""
    if purpose == "passes":
        return wanted_mm + CLEARANCE_MM, 1
    if purpose == "as_drawn":
        return wanted_mm, 0
    if purpose == "drill_out":
        return wanted_mm - TO_CLEAN_UP_MM, -1
    core = _TAP_DRILL_MM.get(round(wanted_mm)) if abs(wanted_mm - round(wanted_mm)) < 1e-6 else None
    if core is None:
        raise TradeError(
            "wanted_mm",
            "there is a core drill here for coarse metric threads from M3 to M48 only: type the drill as a hole to drill out.",
        )
    return core - TO_CLEAN_UP_MM, -1


def bolts_mm() -> list[tuple[str, float]]:
    """The usual bolts of the shop's units, by name."""
    if spoken().in_inches:
        return list(inch_bolts().items())
    return [(f"M{size}", float(size)) for size in METRIC_BOLTS_MM]


def most_bolt_mm(thickness_mm: float) -> float:
    """The largest bolt that a table lists for such a plate: a larger one is asked for by its size. Assumption."""
    return max(24.0, 6.0 * thickness_mm)
