"""What the evidence looks like: the parts of the bevel, the chance map, and what is still to prove.

Nothing here decides anything; it lays the judgement open so that an operator can see why.
"""

from collections.abc import Mapping
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.edges import lean_from_components
from orthotome.core.trial.advice import PASSED, BevelParts, ChanceMap, Proof
from orthotome.core.tuner.advise import PROOF, Judgement, spread_seen
from orthotome.core.tuner.chances import Candidates
from orthotome.core.tuner.unknowns import LEAN_X, LEAN_Y, SWIRL

Array = NDArray[np.float64]

_MAP_SPEEDS, _MAP_HEIGHTS = 25, 13
_LIKE_GAUGE = 1.3  # times the gauge's error that is no sign of anything else; assumption


def bevel_parts(judgement: Judgement) -> BevelParts | None:
    """What speed and height can change, and what they cannot, at the last cut's setting."""
    learned = judgement.learned
    if not learned.campaign.cuts:
        return None
    bevel, draws = learned.bevel, learned.draws
    last = learned.campaign.cuts[-1]
    setting = Candidates(np.array([last.speed_mm_min]), np.array([last.cut_height_mm]))
    process = learned.process(setting)[0]
    x, y = draws[:, LEAN_X], draws[:, LEAN_Y]
    lean, toward = lean_from_components(float(x.mean()), float(y.mean()))
    readings = bevel.readings
    left_over = None
    if readings.count:
        residual = readings.bevel_deg - readings.rows @ draws.mean(axis=0)
        left_over = float(np.sqrt(np.mean(residual**2)))
    swirl, lean_sd = draws[:, SWIRL], float(np.sqrt((x.var() + y.var()) / 2))
    gauge = float(np.sqrt(np.mean(readings.u_deg**2))) if readings.count else 0.0
    return BevelParts(
        float(process.mean()),
        float(process.std()),
        float(swirl.mean()),
        float(swirl.std()),
        lean,
        toward,
        lean_sd,
        lean > 2 * lean_sd,
        left_over,
        None if left_over is None else left_over <= _LIKE_GAUGE * gauge,
    )


@lru_cache(maxsize=32)
def chance_map(judgement: Judgement) -> ChanceMap:
    """The chance to pass over the whole of the limits; kept, since a screen asks again and again."""
    learned = judgement.learned
    limits = learned.campaign.limits
    speeds = np.geomspace(*limits.speed_mm_min, _MAP_SPEEDS)
    heights = np.linspace(*limits.cut_height_mm, _MAP_HEIGHTS)
    grid = Candidates(np.tile(speeds, _MAP_HEIGHTS), np.repeat(heights, _MAP_SPEEDS))
    chances = (learned.bevel_chances(grid) * learned.rest_chances(grid)).mean(axis=1)
    rows = chances.reshape(_MAP_HEIGHTS, _MAP_SPEEDS)
    return ChanceMap(
        tuple(float(v) for v in speeds),
        tuple(float(h) for h in heights),
        tuple(tuple(round(float(p), 3) for p in row) for row in rows),
    )


_PASSED, _SURE = "A real square that passes on all its edges", "95 in 100 that the next one passes"


def proofs(judgement: Judgement) -> tuple[Proof, ...]:
    """What must hold before it may be called square, and only that, done or not, in shop words."""
    best, cuts = judgement.advice.recommended, judgement.learned.campaign.cuts
    if judgement.learned.campaign.locked is not None:
        return tuple(Proof(True, text) for text in (_PASSED, _SURE))
    passed = any(p >= PASSED for p in judgement.passed)
    looked = not cuts or any(c.bottom_grade is not None for c in cuts if c.piece == "square")
    sure = passed and best is not None and best.probability_pass >= PROOF
    seen = spread_seen(judgement.learned)
    chance = f"; now {int(100 * best.probability_pass)}" if best and not sure else ""
    return (
        *(() if looked else (Proof(False, "A square whose underside was looked at"),)),
        Proof(passed, _PASSED),
        *(() if seen or not passed else (Proof(False, "A second square: one good piece is luck"),)),
        Proof(sure, f"{_SURE}{chance}"),
    )


def doubts(judgement: Judgement) -> Mapping[str, tuple[float, ...]]:
    """Of each cut that was read, by its id, the chance of every reading that it is wild, in their order."""
    model = judgement.learned.bevel
    chances, cuts = model.wild_chances, judgement.learned.campaign.cuts
    return {
        cut.id: tuple(float(p) for p in chances[model.readings.cut == i])
        for i, cut in enumerate(cuts)
        if cut.edges
    }
