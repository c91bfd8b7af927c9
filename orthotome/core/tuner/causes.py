"""What no speed and no height will cure, recognised early and named.

The question asked of every posterior draw: is there any setting inside the limits that would pass
reliably if this draw were the truth? When nearly every draw says no, the same question is asked
with one cause taken away (no lean, no two-fold pattern, wider limits): the cause whose removal makes
the target reachable is the one to hand off to.
"""

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from orthotome.core.edge.edges import lean_from_components, way_in_words
from orthotome.core.edge.measuring import cannot_judge
from orthotome.core.quantities import speed
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import AdviceFinding, NextCut, found
from orthotome.core.trial.campaign import Campaign, Limits
from orthotome.core.trial.usual import (
    LOOK_FIRST,
    bevel_not_usual,
    far_did_little,
    far_was_tried,
    is_far,
    not_usual,
    parts_were_changed,
)
from orthotome.core.tuner.bevel_model import OTHER_HAND_DEG
from orthotome.core.tuner.chances import Candidates, Learned, candidates_within
from orthotome.core.tuner.unknowns import LEAN_X, LEAN_Y, SWIRL, TWO_C, TWO_S

Array = NDArray[np.float64]

RELIABLE = 0.93  # a setting "would pass" if its chance, were everything known, is this
HOPELESS = 0.04  # hand off when fewer draws than this leave a way
TRIED, PATIENCE = 0.03, 5  # more hope that is given up with each cut after so many
PROBABLE = 0.5  # the same for settings beyond the limits, which no cut has tried
RESTORED = 0.4  # a cause explains it when taking it away gives this many draws a way
_LITTLE_HOPE = (
    0.1  # the best chance, under which a bevel that the dials do little about is no matter of them
)
STUBBORN = (
    0.6  # chance of dross that no speed clears, where nothing inside the limits is left to hope for
)
STILL_POSSIBLE = 0.15  # the same share, above which another cause is still worth a word
SURE = 0.98
SURE_TO_PASS = 0.95
LEAST_THROUGH = (
    0.8  # chance of going through under which a setting is not advised: it costs parts; assumption
)
_FINE_GAUGE_U_DEG = 0.3


def hand_off(
    learned: Learned, candidates: Candidates, bevel: Array, rest: Array
) -> AdviceFinding | None:
    """The first cause, in the order of the contract, that keeps the target out of reach.

    ``bevel`` and ``rest`` are the candidates' chances per draw (bevel within the target; clean
    enough and through).
    """
    if swapped_chance(learned) > SURE:
        return wrong_side()
    sick = bevel_not_usual(learned.campaign)
    if sick and far_did_little(learned.campaign) and (bevel * rest).mean(axis=1).max() < _LITTLE_HOPE:
        return _sick_first(learned.campaign)
    # The longer it was tried, the less hope is worth another cut.
    hopeless = HOPELESS + TRIED * max(0, len(learned.campaign.cuts) - PATIENCE)
    if _ways(bevel, rest) > hopeless:
        return _too_coarse(learned)
    reason = _explained(learned, candidates, rest)
    if reason.code == "target_too_tight" and sick:
        return _sick_first(learned.campaign)
    return reason


def _sick_first(campaign: Campaign) -> AdviceFinding:
    """Before a target is blamed for a bevel that no sound set leaves: a cut far off, then the parts, then the height."""
    if not far_was_tried(campaign):
        return found("not_usual", _FAR_WHY)
    if not parts_were_changed(campaign):
        return found(
            "worn_parts",
            f"Speed and height do not bring it near square, and so far off is not usual for such a set. {LOOK_FIRST} Where all "
            "three are right, cut a square with new parts before the target is given up.",
        )
    return found(
        "target_too_tight",
        "Other parts leave the same, far from what is usual. Prove the height of the first touch and the volts; where both are "
        "right, no speed or height reaches this target here: ask for a looser one, or use another process for this edge.",
    )


_FAR_WHY = (
    "Far from the others on purpose: so much bevel is not usual for this set, and this cut tells whether speed and height do "
    "anything about it. Look at the nozzle before it is made."
)


def far_on_purpose(next_cuts: tuple[NextCut, ...]) -> tuple[NextCut, ...]:
    """The cuts that are asked for, the first of them with the reason why it lies so far from the others."""
    return tuple(replace(c, why=_FAR_WHY) if i == 0 else c for i, c in enumerate(next_cuts))


def far_from_all(learned: Learned, candidates: Candidates, through: Array) -> int:
    """The setting far from the starting numbers that is expected to be nearest to square; a cut there tells whether
    speed and height do anything."""
    start = learned.campaign.start
    level = learned.process(candidates) - learned.draws[:, SWIRL]
    off = np.abs(level).mean(axis=1)
    settings = zip(candidates.speed_mm_min, candidates.height_mm, strict=True)
    far = np.array([is_far(Setting(v, h), start) for v, h in settings])
    likely = far & (through.mean(axis=1) >= LEAST_THROUGH)
    return int(np.where(likely if likely.any() else far if far.any() else ~far, off, np.inf).argmin())


def _explained(learned: Learned, candidates: Candidates, rest: Array) -> AdviceFinding:
    """The first cause that explains it, with what tells it apart from the next one that would as well."""
    alive = _alive(learned, candidates, rest)
    first = next(alive)
    other = next(alive, None)
    apart = _TELLS_APART.get((first.code, other.code)) if other else None
    return replace(first, why=f"{first.why} {apart}") if apart else first


# That an upright jet must win before it is said, and before its turns come ahead of another cut. Assumptions.
_WORTH_TURNING, _TURN_FIRST = 0.15, 0.3

# Two causes that are both alive, and what would tell which it is.
_TELLS_APART: dict[tuple[str, str], str] = {
    (
        "worn_parts",
        "jet_lean",
    ): "A leaning jet would explain it as well: read one more square. A lean is large on one "
    "edge and as much the other way on the opposite one; an oval bore makes opposite edges alike.",
    (
        "worn_parts",
        "outside_limits",
    ): "A setting outside the limits may do as well: one cut at the fast end tells, "
    "since dross of worn parts stays at every speed.",
    (
        "jet_lean",
        "outside_limits",
    ): "With the jet upright the limits may still be too narrow: cut a square then.",
    (
        "outside_limits",
        "target_too_tight",
    ): "The target may be too tight there as well: the first cut there tells.",
    (
        "target_too_tight",
        "outside_limits",
    ): "A setting outside the limits is not ruled out: if they can be widened, one cut there tells.",
}


def _alive(learned: Learned, candidates: Candidates, rest: Array) -> Iterator[AdviceFinding]:
    """The causes that would explain it, in the order of the contract; one that is certain stands alone."""

    def ways_without(*columns: int) -> float:
        changed = learned.draws.copy()
        changed[:, list(columns)] = 0.0
        return _ways(learned.bevel_chances(candidates, changed), rest)

    stubborn = learned.dross.stubborn_chance(learned.campaign.target.dross_grade)
    if stubborn > STUBBORN:
        yield _stubborn_dross()
        if stubborn > SURE:
            return
    # A pattern larger than the target puts two edges outside by itself, whatever else is wrong.
    target, draws = learned.campaign.target.bevel_deg, learned.draws
    oval = float((np.abs(draws[:, TWO_C]) > target).mean()) > SURE
    if oval or ways_without(TWO_C, TWO_S) > RESTORED:
        yield _oval_bore()
        if oval:
            return
    leans = float((np.abs(draws[:, [LEAN_X, LEAN_Y]]).max(axis=1) > target).mean()) > SURE
    lean = lean_finding(learned, cure=True)
    told_apart = lean.numbers["lean_deg"] > 2 * lean.numbers["sd_deg"]
    if leans or (told_apart and ways_without(LEAN_X, LEAN_Y) > RESTORED):
        yield lean
        if leans:
            return
    coarse = _too_coarse(learned, least_squares=1)
    if coarse is not None:
        yield coarse
    yield from _beyond_the_limits(learned)


def _beyond_the_limits(learned: Learned) -> Iterator[AdviceFinding]:
    """Whether it is the limits or the target, by what lies beyond the limits."""
    wider = candidates_within(learned.campaign, _wider(learned.campaign))
    beyond = _ways(learned.bevel_chances(wider), learned.rest_chances(wider), PROBABLE)
    if beyond > RESTORED:
        yield _outside_limits(learned, wider)
    if beyond < SURE_TO_PASS:
        side = "" if learned.campaign.target.sides == "good" else "judge the good side only, "
        yield found(
            "target_too_tight",
            f"No speed or height reaches this target with these parts. Ask for a looser target, {side}or use another "
            "process for this edge.",
        )
    if STILL_POSSIBLE < beyond <= RESTORED:
        yield _outside_limits(learned, wider)


def _stubborn_dross() -> AdviceFinding:
    return found(
        "worn_parts",
        "There is dross at every speed tried: worn or wrong parts, or the gas. Isolate the "
        "source, inspect nozzle, electrode and swirl ring, and check the flowing pressure.",
    )


def _oval_bore() -> AdviceFinding:
    return found(
        "worn_parts",
        "Bevel repeats twice round the square, which no lean and no setting does: an oval "
        "nozzle bore, or axes that do not move alike. Inspect the nozzle first.",
    )


def _outside_limits(learned: Learned, wider: Candidates) -> AdviceFinding:
    """That the limits are too narrow, or (where only what is faster than the table runs would do) that it cannot."""
    fastest = learned.campaign.fastest_mm_min
    ways = (learned.bevel_chances(wider) * learned.rest_chances(wider)).mean(axis=1)
    if fastest is not None and wider.speed_mm_min[int(ways.argmax())] > fastest:
        return found(
            "outside_limits",
            f"What would be square and clean is faster than this table runs ({speed(fastest)}): it cannot. A set of less "
            "amperage is made for less speed: Which set? names those that can.",
        )
    return found(
        "outside_limits",
        "The settings that would be square lie outside the limits of this trial. Widen them if "
        "the table and the parts' manual allow it.",
    )


def findings(learned: Learned) -> Iterator[AdviceFinding]:
    """What the evidence says besides the next setting, most telling first."""
    if swapped_chance(learned) > 0.9:
        yield wrong_side()
    lean = lean_finding(learned, cure=False)
    if lean.numbers["lean_deg"] > max(0.4, 2 * lean.numbers["sd_deg"]):
        yield lean
    twofold = learned.draws[:, TWO_C]
    if abs(twofold.mean()) > max(0.5, 2 * twofold.std()):
        yield found(
            "worn_parts",
            "The bevel goes two ways round the square: look at the nozzle's bore before you tune on.",
            {"twofold_deg": float(abs(twofold.mean())), "sd_deg": float(twofold.std())},
        )
    coarse = _too_coarse(learned)
    if coarse is not None:
        yield coarse
    for unusual in not_usual(learned.campaign):
        yield found("not_usual", unusual.sentence, {"seen": unusual.seen, "usual": unusual.usual})
    if any(c.height_control == "by_hand" for c in learned.campaign.cuts):
        yield found(
            "height_uncertain",
            "The height was set by hand, so it is a guess, and mostly high: bevel says more about "
            "it than the number does.",
        )


def lean_finding(learned: Learned, *, cure: bool) -> AdviceFinding:
    """The jet's lean with its direction and uncertainty."""
    x, y = learned.draws[:, LEAN_X], learned.draws[:, LEAN_Y]
    lean, toward = lean_from_components(float(x.mean()), float(y.mean()))
    # Spread along the mean direction: the uncertainty of the size.
    along = np.cos(np.radians(toward)) * x + np.sin(np.radians(toward)) * y
    why = (
        f"The jet leans {lean:.1f}° {way_in_words(toward)}, seen from where you stand at the front of the table, by the cuts of "
        "this trial; what the whole seat says, the Torch page tells. "
        "Opposite edges differ by twice that; no speed or height changes it."
    )
    if cure:
        why += " Set the jet upright first: its exit must move the other way. Then cut a square again."
    return found("jet_lean", why, {"lean_deg": lean, "toward_deg": toward, "sd_deg": float(along.std())})


def upright_wins(
    learned: Learned, candidates: Candidates, bevel: Array, rest: Array
) -> tuple[float, float]:
    """The best chance to pass as the jet stands, and with the jet upright."""
    upright = learned.draws.copy()
    upright[:, [LEAN_X, LEAN_Y]] = 0.0
    as_it_stands = float((bevel * rest).mean(axis=1).max())
    return as_it_stands, float((learned.bevel_chances(candidates, upright) * rest).mean(axis=1).max())


def lean_costs(finding: AdviceFinding, now: float, upright: float, target_deg: float) -> AdviceFinding:
    """A lean with what setting the jet upright would win, where that is worth saying."""
    if upright - now < _WORTH_TURNING:
        return finding
    won = (
        f" Upright, {target_deg:g}° is reached about {round(10 * upright)} times in 10; as it stands "
        f"{round(10 * now)}."
    )
    numbers = {**finding.numbers, "chance_upright": upright, "chance_as_it_stands": now}
    return replace(finding, why=finding.why + won, numbers=numbers)


def turns_first(next_cuts: tuple[NextCut, ...], said: Sequence[AdviceFinding]) -> tuple[NextCut, ...]:
    """Cuts that are asked for while a lean costs far more than any of them can win: the turns come first."""
    numbers = next((f.numbers for f in said if "chance_upright" in f.numbers), None)
    if numbers is None or numbers["chance_upright"] - numbers["chance_as_it_stands"] < _TURN_FIRST:
        return next_cuts
    first = "The jet leans, and that costs more than a setting can win: set it upright first."
    return tuple(replace(c, why=f"{first} {c.why}") for c in next_cuts)


def wrong_side() -> AdviceFinding:
    """Good and bad sides are swapped against the declared swirl."""
    return found(
        "wrong_side",
        "The side that should be the squarer one is the worse one: the contour runs the wrong way "
        "round, the path is on the wrong side of the line, or the swirl ring is the other hand. Put "
        "that right before tuning; cuts that ran the wrong way round are struck out then.",
    )


def swapped_chance(learned: Learned) -> float:
    """Chance that the side that should be the squarer is clearly the worse one."""
    return float((learned.draws[:, SWIRL] < OTHER_HAND_DEG).mean())


def _ways(bevel: Array, rest: Array, reliable: float = RELIABLE) -> float:
    """Share of draws under which some setting passes with at least the chance ``reliable``."""
    return float(((bevel * rest).max(axis=0) >= reliable).mean())


def _wider(campaign: Campaign) -> Limits:
    (v_low, v_high), (h_low, h_high) = campaign.limits.speed_mm_min, campaign.limits.cut_height_mm
    return Limits((v_low / 1.8, v_high * 1.8), (h_low / 2.0, h_high * 2.0))


def _too_coarse(learned: Learned, least_squares: int = 2) -> AdviceFinding | None:
    """Could four squares read with these uncertainties ever prove the target?

    Asked only where one reading cannot judge the target (its 95 % interval is wider than it). With n = 4 readings of each judged edge, each edge is known to sqrt(spread^2 + u^2 / n); all
    must be inside with 95 %. Too coarse is when that fails with the readings' own ``u`` and holds
    with a fine gauge's.
    """
    signs, _ = learned.judged_edges
    read = learned.bevel.readings
    judged = np.isin(read.rows[:, SWIRL], np.unique(signs))
    squares = {int(i) for i in read.cut[judged]}
    if len(squares) < least_squares:
        return None
    u_deg = float(np.sqrt(np.mean(read.u_deg[judged] ** 2)))
    if cannot_judge(u_deg, learned.campaign.target.bevel_deg) is None:
        return None
    allowed, edges = learned.campaign.target.bevel_deg, len(signs)

    def provable(u_deg: float) -> bool:
        """Whether a cut in the middle of the target, read four times so, would be called sure."""
        nodes, weights = np.polynomial.hermite_e.hermegauss(15)
        own = np.hypot(learned.edge_spread, u_deg / 2)[:, None]
        shared = learned.cut_spread[:, None] * nodes
        inside = (ndtr((allowed - shared) / own) - ndtr((-allowed - shared) / own)) ** edges
        return float(np.median(inside @ weights / weights.sum())) >= SURE_TO_PASS

    if provable(u_deg) or not provable(_FINE_GAUGE_U_DEG):
        return None
    return found(
        "measurement_too_coarse",
        f"These readings are ±{2 * u_deg:.1f}° each and the target is "
        f"{learned.campaign.target.bevel_deg:g}°: they cannot prove it. Use an angle gauge on clean "
        "edges, a thicker piece, or read every edge several times.",
        {"u_deg": u_deg},
    )
