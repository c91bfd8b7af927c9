"""Why this cut next, in a sentence an operator can act on.

Changes are told in shares and directions, angles in degrees, so that the sentence is right in a
millimetre shop and in an inch shop.
"""

import numpy as np

from orthotome.core.setting import CutAt
from orthotome.core.trial.campaign import DROSS_EFFORT, Cut
from orthotome.core.tuner.chances import Candidates, Learned


def why_next(learned: Learned, speed_mm_min: float, height_mm: float, *, repeat: bool) -> str:
    """Reason for cutting that setting, from the last cut and what is expected of the next."""
    cuts, start = learned.campaign.cuts, learned.campaign.start
    if (
        not cuts and learned.bevel.beliefs.square_taught_by
    ):  # typed numbers are kept: there is no change then
        there = _change(start, speed_mm_min, height_mm)
        if there:
            return f"By this table's earlier trials square lies elsewhere. {there} than the starting numbers."
    if not cuts:
        return (
            "Start on the starting numbers at fixed height: the first square shows which way the "
            "edges lean and what the volts really are here."
        )
    last = cuts[-1]
    seen = _seen(learned, last)
    change = _change(last, speed_mm_min, height_mm)
    if repeat:
        return f"{seen} Cut the same settings again: one good piece is luck, two are a setting."
    if not change:
        return f"{seen} Cut the same again: nothing yet says that another setting is better."
    return f"{seen} {change}{_expectation(learned, speed_mm_min, height_mm)}"


def _seen(learned: Learned, cut: Cut) -> str:
    if cut.through in ("partial", "none") or cut.arc_lost:
        return "The last cut did not go through."
    parts = []
    sign, _ = learned.judged_edges
    kept = [
        e.bevel_deg
        for e in cut.edges
        if e.side != "both" and learned.bevel.side_sign(e.side) in np.unique(sign)
    ] or [e.bevel_deg for e in cut.edges]
    if kept:
        mean = float(np.mean(kept))
        lie = "stand out at the bottom" if mean > 0 else "are undercut"
        far = abs(mean) > 0.5
        parts.append(f"edges {lie} by {abs(mean):.1f}° on average" if far else "edges are near square")
    grade = cut.bottom_grade
    if grade:
        low = (cut.grade_of("low_speed") or 0) >= (cut.grade_of("high_speed") or 0)
        ran = "slow-speed dross" if low else "fast-speed dross"
        parts.append(f"{ran} ({DROSS_EFFORT[grade]})")
    elif grade == 0:
        parts.append("the underside is clean")
    if not parts:
        return "The last cut was not measured."
    sentence = ", ".join(parts)
    return f"{sentence[0].upper()}{sentence[1:]}."


def _change(last: CutAt, speed_mm_min: float, height_mm: float) -> str:
    speed = speed_mm_min / last.speed_mm_min - 1.0
    height = height_mm - last.cut_height_mm
    said = []
    if abs(speed) >= 0.005:
        said.append(f"{abs(speed):.0%} {'faster' if speed > 0 else 'slower'}")
    if abs(height) >= 0.02:
        little = "a touch " if abs(height) < 0.25 * last.cut_height_mm else ""
        said.append(f"{little}{'higher' if height > 0 else 'lower'}")
    return f"Go {' and '.join(said)}" if said else ""


def _expectation(learned: Learned, speed_mm_min: float, height_mm: float) -> str:
    setting = Candidates(np.array([speed_mm_min]), np.array([height_mm]))
    low, high = learned.room()
    off = learned.process(setting)[0] - (low + high) / 2
    return f": expected within {abs(off.mean()) + off.std():.1f}° of the middle of your target."
