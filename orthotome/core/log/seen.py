"""What a logged cut shows, in the words of Trouble: which complaints it is, and which questions it answers.

A reading counts as bad beyond what was asked for. How far edges differ by direction is told from how far they are off
together, as the bevel model takes them apart (``core.edge.edges``).
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from orthotome.core.edge.edges import Side, good_side, other_side, outward_normal_deg
from orthotome.core.trial.campaign import Campaign, Cut, judged_sides
from orthotome.core.trouble.complaints import Complaint
from orthotome.core.trouble.questions import Answer

_THIN_MM = 3.0  # sheet that warps and flutters; assumption
_SWEPT_DEG = 15.0  # lag beyond which lines are seen to run back; assumption
_HARD_TO_REMOVE = 2  # grade from which dross is a complaint
_CONTROLLED = ("set_point", "sampled")
_NITRIDES = ("air", "nitrogen")


@dataclass(frozen=True)
class SeenComplaint:
    """A complaint that a cut shows, and what shows it."""

    complaint: Complaint
    why: str


@dataclass(frozen=True)
class SeenOnCut:
    """What a cut shows and answers."""

    complaints: tuple[SeenComplaint, ...]
    facts: dict[str, Answer]


def seen_on(campaign: Campaign, cut: Cut) -> SeenOnCut:
    """All of it; what was not read is neither shown nor answered."""
    pattern = _pattern(campaign, cut)
    facts: dict[str, Answer] = {
        "thin_sheet": campaign.thickness_mm < _THIN_MM,
        "height_control": "on" if cut.height_control in _CONTROLLED else "off",
    }
    if campaign.metal == "mild_steel":
        facts["nitrogen_or_air"] = campaign.torch_set.gas in _NITRIDES
    if cut.lag_deg is not None:
        facts["lag"] = "swept_back" if cut.lag_deg >= _SWEPT_DEG else "upright"
    low, high = cut.grade_of("low_speed") or 0, cut.grade_of("high_speed") or 0
    if low or high:
        facts["dross_kind"] = "both" if low and high else "low_speed" if low else "high_speed"
    if pattern is not None:
        facts["pattern"] = pattern.answer
        if pattern.answer == "all_round":
            facts["bevel_sign"] = "bottom_out" if pattern.together_deg > 0 else "undercut"
    shown = [*_through(cut), *(pattern.complaints() if pattern else ()), *_dross(cut)]
    return SeenOnCut(tuple(shown), facts)


def _through(cut: Cut) -> Iterator[SeenComplaint]:
    if cut.through in ("partial", "none"):
        seen = "it hung on" if cut.through == "partial" else "it did not go through"
        yield SeenComplaint("not_through_anywhere", seen)
    if cut.arc_lost:
        yield SeenComplaint("arc_goes_out", "the arc went out")


def _dross(cut: Cut) -> Iterator[SeenComplaint]:
    low, high = cut.grade_of("low_speed") or 0, cut.grade_of("high_speed") or 0
    if high >= _HARD_TO_REMOVE:
        yield SeenComplaint("dross_needs_grinding", f"a hard bead underneath, grade {high}")
    if low >= _HARD_TO_REMOVE:
        yield SeenComplaint("dross_brushes_off", f"chunks underneath, grade {low}")
    if cut.grade_of("top_spatter"):
        yield SeenComplaint("top_spatter", "spatter on top")


@dataclass(frozen=True)
class _Pattern:
    """Which edges are bad: off together, off by direction, and the scrap side beside."""

    answer: str
    together_deg: float
    by_direction_deg: float
    scrap_deg: float | None

    def complaints(self) -> Iterator[SeenComplaint]:
        if self.answer == "one_direction":
            yield SeenComplaint(
                "bevel_one_direction", f"opposite edges differ by {2 * self.by_direction_deg:.1f}°"
            )
        elif self.answer == "one_side":
            yield SeenComplaint(
                "bevel_one_side",
                f"{self.together_deg:+.1f}° on the kept side, {self.scrap_deg or 0.0:+.1f}° on the scrap",
            )
        elif self.answer == "all_round":
            yield SeenComplaint("bevel_all_round", f"{self.together_deg:+.1f}° on all edges together")


def _pattern(campaign: Campaign, cut: Cut) -> _Pattern | None:
    """What the kept edges of a square have in common; None unless all four were read and one is beyond the target."""
    good = good_side(campaign.torch_set.swirl)
    kept = {e.heading_deg % 360: e.bevel_deg for e in cut.edges if e.side == good}
    judged = [e for e in cut.edges if e.side in judged_sides(campaign.torch_set, campaign.target)]
    target = campaign.target.bevel_deg
    if len(kept) < 4 or all(abs(e.bevel_deg) <= target for e in judged):
        return None
    u_deg = max(e.u_deg for e in cut.edges)
    together = sum(kept.values()) / len(kept)
    by_direction = _by_direction(good, kept)
    scrap = cut.mean_bevel_deg(other_side(good))
    answer = "no_pattern"
    if by_direction > max(abs(together), u_deg):
        answer = "one_direction"
    elif scrap is not None and abs(scrap) + u_deg < abs(together):
        answer = "one_side"
    elif abs(together) > u_deg:
        answer = "all_round"
    return _Pattern(answer, together, by_direction, scrap)


def _by_direction(side: Side, bevel_deg: dict[float, float]) -> float:
    """Size of the part that follows the direction once round, by least squares over the edges."""
    x = y = 0.0
    for heading, bevel in bevel_deg.items():
        normal = math.radians(outward_normal_deg(side, heading))
        x, y = x + bevel * math.cos(normal), y + bevel * math.sin(normal)
    return 2 * math.hypot(x, y) / len(bevel_deg)
