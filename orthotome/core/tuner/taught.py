"""What the last cut taught, in one sentence: whether it came as expected, and what is believed otherwise now."""

import numpy as np

from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Cut
from orthotome.core.tuner.advise import Judgement
from orthotome.core.tuner.chances import Learned
from orthotome.core.tuner.reasons import not_through
from orthotome.core.tuner.unknowns import LEAN_X, LEAN_Y, SWIRL

_SURPRISE = 1.64  # standard deviations from what was expected that are a surprise: one cut in ten
_MOVED = 0.7  # standard deviations by which a belief must move to be named
_CHANGED = 0.03  # change of the chance that is worth a word

# Columns of what is believed, in the words it is told in.
_BELIEFS = (
    ((1,), "what speed does to the edges"),
    ((2,), "what height does to the edges"),
    ((SWIRL,), "the swirl"),
    ((LEAN_X, LEAN_Y), "the jet's lean"),
    ((0,), "where square lies"),
)


def taught(before: Judgement, now: Judgement) -> str:
    """What the last cut of ``now`` taught over ``before``, the judgement without it. Degrees only, so that it is
    right in every shop."""
    cut = now.learned.campaign.cuts[-1]
    came = _how_it_came(before, now, cut)
    believed = _what_moved(before.learned, now.learned)
    chance = _chance(before, now)
    said = [came, *([believed] if believed else []), *([chance] if chance else [])]
    return " ".join(said)


def _how_it_came(before: Judgement, now: Judgement, cut: Cut) -> str:
    if wrong := not_through(cut):
        return f"{wrong[0].upper()}{wrong[1:]}: too fast for this height, or something else is wrong."
    good = now.learned.bevel.good_side
    expected, read = before.expected(Setting.of(cut)), cut.mean_bevel_deg(good)
    if read is None:
        return "Nothing was read on its kept side: it taught only what its underside says."
    mean = expected.bevel_right_deg if good == "right" else expected.bevel_left_deg
    off, sd = read - mean, expected.bevel_sd_deg
    # The range that it is held against, and no other.
    low, high = mean - _SURPRISE * sd, mean + _SURPRISE * sd
    if abs(off) <= _SURPRISE * sd:
        return f"It came as expected: {_signed(read)}, and {_signed(low)} to {_signed(high)} was to be expected."
    more = "bottom out" if off > 0 else "undercut"
    return (
        f"It came {abs(off):.1f}° more {more} than expected: {_signed(read)}, where {_signed(low)} to {_signed(high)} "
        "was likely."
    )


def _what_moved(before: Learned, now: Learned) -> str:
    """The belief that moved most against how sure it was; empty where none did."""
    moved = []
    for columns, name in _BELIEFS:
        was, is_now = before.draws[:, columns], now.draws[:, columns]
        by = np.abs(is_now.mean(axis=0) - was.mean(axis=0)) / was.std(axis=0)
        moved.append((float(by.max()), name))
    most, name = max(moved)
    return f"It taught most about {name}." if most >= _MOVED else ""


def _chance(before: Judgement, now: Judgement) -> str:
    if before.advice.recommended is None or now.advice.recommended is None:
        return ""
    was, is_now = (
        int(100 * j.advice.recommended.probability_pass) for j in (before, now) if j.advice.recommended
    )
    if abs(is_now - was) < 100 * _CHANGED:
        return ""
    return (
        f"The next one's chance went {'up' if is_now > was else 'down'} from {was} to {is_now} in 100."
    )


def _signed(degrees: float) -> str:
    return f"{degrees:+.1f}°".replace("-", "−") if round(degrees, 1) else "0.0°"
