"""Why this cut next, in a sentence an operator can act on.

Changes are told in shares and directions, angles in degrees: what an operator turns a dial by.
"""

from collections.abc import Sequence
from itertools import takewhile

import numpy as np

from orthotome.core.quantities import speed
from orthotome.core.setting import CutAt, Setting
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
    last = speaks_for(cuts)
    seen = _ladder_seen(cuts) or _seen(learned, last)
    change = _change(last, speed_mm_min, height_mm)
    if repeat:
        return f"{seen} Cut the same settings again: one good piece is luck, two are a setting."
    if not change:
        return f"{seen} Cut the same again: nothing yet says that another setting is better."
    return f"{seen} {change}{_expectation(learned, speed_mm_min, height_mm)}"


def why_what_was_proven(learned: Learned) -> str:
    """Reason for beginning at a setting that was proven of this job before."""
    now, before = learned.campaign.current_series, learned.campaign.history
    then = before[-1].current_series if before else now
    changed = [
        word
        for same, word in (
            (now.parts == then.parts, "the parts"),
            (now.mount == then.mount, "the mount"),
        )
        if not same
    ]
    since = (
        f" Since the last trial {' and '.join(changed)} changed: it may have moved." if changed else ""
    )
    return f"This was proven of just this job. Cut one to check that it still is.{since}"


def ladder_at_the_end(cuts: Sequence[Cut]) -> tuple[Cut, ...]:
    """The strips of the set that was cut last; empty where the last cut is none of several.

    A set runs from its slowest, or lowest, strip up: where speed falls back another set begins, and the finer one
    that was cut last is what counts.
    """
    strips: list[Cut] = []
    for cut in takewhile(lambda c: c.piece == "strip", reversed(cuts)):
        if strips and Setting.of(cut) >= Setting.of(strips[-1]):
            break
        strips.append(cut)
    return tuple(strips[::-1]) if len(strips) > 1 else ()


def clean_band(cuts: Sequence[Cut]) -> tuple[float, float] | None:
    """Between which speeds the strips that were cut last came out clean; None where none did, or none were cut."""
    clean = [
        c.speed_mm_min
        for c in ladder_at_the_end(cuts)
        if c.through == "full" and not c.arc_lost and c.bottom_grade == 0
    ]
    return (min(clean), max(clean)) if clean else None


def speaks_for(cuts: Sequence[Cut]) -> Cut:
    """The last cut; of a ladder the middle one of the strips that came out best, not the one that came last."""
    strips = ladder_at_the_end(cuts)
    through = [
        c for c in strips if c.through == "full" and not c.arc_lost and c.bottom_grade is not None
    ]
    if not through:
        return cuts[-1]
    least = min(c.bottom_grade or 0 for c in through)
    best = sorted((c for c in through if c.bottom_grade == least), key=lambda c: c.speed_mm_min)
    return best[len(best) // 2]


def _ladder_seen(cuts: Sequence[Cut]) -> str:
    """What a ladder that was just cut says as a whole; empty where none was."""
    strips = ladder_at_the_end(cuts)
    if not strips:
        return ""
    band = clean_band(cuts)
    if band is None:
        return "No strip of the ladder came out clean."
    if band[0] == band[1]:
        return f"Of the strips, the one at {speed(band[0])} came out clean."
    return f"Of the strips, those from {speed(band[0])} to {speed(band[1])} came out clean."


def not_through(cut: Cut) -> str:
    """What went wrong with a cut that did not drop, told apart; empty where it did."""
    if cut.arc_lost:
        return "the arc went out"
    return {"partial": "it hung on", "none": "it did not go through"}.get(cut.through or "", "")


def _seen(learned: Learned, cut: Cut) -> str:
    if wrong := not_through(cut):
        return f"In the last cut {wrong}."
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
    faster = speed_mm_min / last.speed_mm_min - 1.0
    height = height_mm - last.cut_height_mm
    said = []
    if abs(faster) >= 0.005:
        said.append(f"{abs(faster):.0%} {'faster' if faster > 0 else 'slower'}")
    if abs(height) >= 0.02:
        little = "a touch " if abs(height) < 0.25 * last.cut_height_mm else ""
        said.append(f"{little}{'higher' if height > 0 else 'lower'}")
    return f"Go {' and '.join(said)}" if said else ""


def _expectation(learned: Learned, speed_mm_min: float, height_mm: float) -> str:
    setting = Candidates(np.array([speed_mm_min]), np.array([height_mm]))
    low, high = learned.room()
    off = learned.process(setting)[0] - (low + high) / 2
    return f": its edges are expected {abs(off.mean()) + off.std():.1f}° or less from where your target has most room."
