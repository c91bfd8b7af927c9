"""What would happen at a setting, and along speed and height through it: the answer to "what if I set ...?".

Nothing here is advice. An operator who sets something else is told what it is expected to give, not argued with.
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from orthotome.core.setting import Setting
from orthotome.core.trial.advice import Expected
from orthotome.core.trial.campaign import Cut
from orthotome.core.trial.what_if import Curve, CurveMark, CurvePoint, WhatIf
from orthotome.core.tuner.advise import Judgement
from orthotome.core.tuner.chances import Candidates, Learned
from orthotome.core.tuner.unknowns import SWIRL

Array = NDArray[np.float64]

_ALONG = 41  # points of a curve
_BAND = (0.05, 0.95)
# A cut this near in the other quantity lies on the curve, by eye: ln of the ratio of speeds, and mm.
_SAME_SPEED, _SAME_HEIGHT_MM = 0.03, 0.08
_OFTEN, _SELDOM = (
    0.9,
    0.6,
)  # chances from which a requirement is met "very likely", and under which it is in doubt


@lru_cache(maxsize=64)
def what_if(judgement: Judgement, setting: Setting) -> WhatIf:
    """The answer for a setting, inside the trial's limits or not; kept, since a finger goes to and fro."""
    learned = judgement.learned
    target = learned.campaign.target
    at = Candidates(np.array([setting.speed_mm_min]), np.array([setting.cut_height_mm]))
    bevel = learned.bevel_chances(at)[0]
    best = judgement.advice.recommended
    chance = float((bevel * learned.rest_chances(at)[0]).mean())
    if best is not None and setting == Setting.of(best):
        chance = (
            best.probability_pass
        )  # what is advised has one chance: it was chosen before it was put on a dial's step
    clean, through = (float(p.mean()) for p in learned.clean_and_through(at, target.dross_grade))
    volts = judgement.volts_at(setting)
    expected = judgement.expected(setting)
    inside = learned.campaign.limits.hold(setting)
    square = float(bevel.mean())
    return WhatIf(
        setting,
        chance,
        square,
        clean,
        through,
        inside,
        None if volts is None else volts[0],
        expected,
        _why(square, clean, through, expected, inside=inside),
        _along_speed(learned, setting),
        _along_height(learned, setting),
    )


def _why(square: float, clean: float, through: float, expected: Expected, *, inside: bool) -> str:
    """What would spoil it most likely, in a sentence."""
    doubts = {
        "edges out of square": square,
        f"{_dross(expected)} underneath": clean,
        "not going through": through,
    }
    worst = min(doubts, key=lambda name: doubts[name])
    if doubts[worst] >= _OFTEN:
        said = "Nothing speaks against it: square, clean and through are each very likely."
    elif doubts[worst] >= _SELDOM:
        said = f"If it fails, then most likely by {worst}."
    else:
        said = f"More likely than not spoilt by {worst}."
    if not inside:
        said += " It lies outside this trial's limits: Orthotome would not advise it."
    return said


def _dross(expected: Expected) -> str:
    kinds = {d.kind for d in expected.dross}
    if kinds == {"low_speed"}:
        return "slow-speed dross"
    return "fast-speed dross" if kinds == {"high_speed"} else "dross"


def _along_speed(learned: Learned, setting: Setting) -> Curve:
    speeds = np.geomspace(*learned.campaign.limits.speed_mm_min, _ALONG)
    line = Candidates(speeds, np.full(_ALONG, setting.cut_height_mm))
    marks = (
        _mark(
            learned, c, c.speed_mm_min, abs(c.cut_height_mm - setting.cut_height_mm) <= _SAME_HEIGHT_MM
        )
        for c in learned.campaign.cuts
    )
    return Curve(_points(learned, line, speeds), tuple(marks))


def _along_height(learned: Learned, setting: Setting) -> Curve:
    heights = np.linspace(*learned.campaign.limits.cut_height_mm, _ALONG)
    line = Candidates(np.full(_ALONG, setting.speed_mm_min), heights)
    marks = (
        _mark(
            learned,
            c,
            c.cut_height_mm,
            abs(float(np.log(c.speed_mm_min / setting.speed_mm_min))) <= _SAME_SPEED,
        )
        for c in learned.campaign.cuts
    )
    return Curve(_points(learned, line, heights), tuple(marks))


def _points(learned: Learned, line: Candidates, at: Array) -> tuple[CurvePoint, ...]:
    kept = learned.process(line) - learned.draws[:, SWIRL]
    # The band is of the next cut, not of the mean of all cuts: its own spread is part of it.
    low, high = np.quantile(kept + learned.cut_deviations, _BAND, axis=1)
    clean = learned.rest_chances(line).mean(axis=1)
    rows = zip(at, kept.mean(axis=1), low, high, clean, strict=True)
    return tuple(CurvePoint(*(float(v) for v in row)) for row in rows)


def _mark(learned: Learned, cut: Cut, at: float, on_it: bool) -> CurveMark:
    return CurveMark(cut.id, at, cut.mean_bevel_deg(learned.bevel.good_side), cut.bottom_grade, on_it)
