"""The answer: what is recommended, what to cut next and why, and whether it is proven.

The stop rule is a promise. ``square`` is said only for a setting that has passed on a real cut (its
own readings make that very probable) and whose next cut passes with at least 95 %.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.edges import Side
from orthotome.core.height.volts import VoltsHere
from orthotome.core.setting import CutAt, Setting
from orthotome.core.trial.advice import (
    PASSED,
    Advice,
    AdviceFinding,
    Expected,
    NextCut,
    Recommended,
    Status,
    found,
)
from orthotome.core.trial.campaign import Campaign, Cut, Dross, DrossKind, Locked
from orthotome.core.trial.opening import height_stays, nothing_known, opening_ladder
from orthotome.core.tuner import causes
from orthotome.core.tuner.chances import Candidates, Learned, candidates_within
from orthotome.core.tuner.history import learned_from
from orthotome.core.tuner.proven import (
    likelier_elsewhere,
    of_now,
    proven_before,
    proven_elsewhere,
    still_stands,
    typed_otherwise,
)
from orthotome.core.tuner.reasons import clean_band, why_next, why_what_was_proven
from orthotome.core.tuner.rereading import readings_to_take
from orthotome.core.tuner.unknowns import SWIRL

Array = NDArray[np.float64]

PROOF = 0.95  # chance the next cut passes, before a setting is called square
_SQUARES_TO_SEE_SPREAD = 2  # of this trial, where no earlier one of the table showed it
_WORTH_MOVING = 0.02  # a setting that has passed is left only for one this much likelier
_NEARLY_BEST = 0.05  # settings within this of the best chance count as equally good
_PASSES_KEPT = 40  # a pass further back was made on other parts, or is outweighed
_BESIDE_BAND = 0.02  # of speed, that a setting may lie beside the band in which strips came out clean
_SPEED_STEP = 0.25  # ln of the largest ratio to go in one cut; assumption
_HEIGHT_STEP = 0.3  # of the starting height, the most to go up or down in one cut; assumption
_WORTH_A_CUT = 0.12  # share that another setting must be faster by to be worth a cut; assumption
_WORTH_SAYING = 0.05  # share of speed under which nothing is said of it
_CUTS_FOR_BETTER = 2  # cuts after the first that passed that are spent on going faster or cleaner
_TRIED_MM_MIN, _TRIED_MM = 1e-6, 1e-6
_STRIP_HEADING_DEG = 90.0  # away from the operator


@dataclass(frozen=True, eq=False)
class Judgement:
    """Advice with what it rests on, so that a screen can show the evidence without computing it."""

    advice: Advice
    learned: Learned
    candidates: Candidates
    chances: Array  # chance to pass per candidate
    passed: tuple[float, ...]  # chance that each cut passed (0 for all but the last _PASSES_KEPT)
    proven: Setting | None = None  # what was proven of this job before, while no cut speaks against it
    here: VoltsHere | None = None  # what the shop's records say of the volts, where they are at hand

    def volts_at(self, setting: CutAt) -> tuple[float, float] | None:
        """(volts, sd) that will be seen at a setting: by the shop's records, else by the campaign alone."""
        known = self.here.volts_at(setting) if self.here is not None else None
        return known or self.learned.volts.at(setting)

    def passed_at(self, setting: Setting) -> tuple[Cut, ...]:
        """The cuts with that setting that very probably passed."""
        return tuple(
            cut
            for cut, chance in zip(self.learned.campaign.cuts, self.passed, strict=True)
            if chance >= PASSED and Setting.of(cut) == setting
        )

    def expected(self, setting: Setting) -> Expected:
        """What a setting is expected to give."""
        return expected(self.learned, setting.speed_mm_min, setting.cut_height_mm)


def seen_here(judgement: Judgement, here: VoltsHere) -> Judgement:
    """A judgement whose volts are those that the shop's records say will be seen on the parts as they are."""
    advice, best = judgement.advice, judgement.advice.recommended
    seen = None if best is None else here.volts_at(best)
    if best is not None and seen is not None:
        advice = replace(advice, recommended=replace(best, arc_voltage_v=seen[0]))
    return replace(judgement, advice=advice, here=here)


def judge(campaign: Campaign, batch: int = 1) -> Judgement:
    """Judge a campaign: what to cut next (up to ``batch`` cuts on one plate), or that it is square."""
    weighed = campaign.weighed
    if weighed.locked is not None:
        return _as_locked(weighed, weighed.locked)
    judged = _as_it_stands(weighed, batch)
    left = len(campaign.cuts) - len(weighed.cuts)
    if not left:
        return judged
    why = (
        f"Of {len(campaign.cuts)} cuts the newest {len(weighed.cuts)} are weighed: the {left} before them say little of "
        "the torch as it is now."
    )
    said = (*judged.advice.findings, found("only_newest", why))
    return replace(judged, advice=replace(judged.advice, findings=said))


def _as_it_stands(campaign: Campaign, batch: int) -> Judgement:
    learned = learned_from(campaign)
    proven = proven_before(campaign, _ended_on)
    candidates = candidates_within(campaign, campaign.limits, (proven,) if proven else ())
    clean, through = learned.clean_and_through(candidates, campaign.target.dross_grade)
    bevel, rest = learned.bevel_chances(candidates), clean * through
    chances = (bevel * rest).mean(axis=1)
    near = _likely_through(through, _within_a_step(learned, candidates, proven))
    passed = _passed(learned)
    reason = causes.hand_off(learned, candidates, bevel, rest) if campaign.cuts else None
    far_first = reason is not None and reason.code == "not_usual"
    reason = None if far_first else reason
    stands = _index(candidates, proven) if proven else None
    if stands is not None and not still_stands(campaign, proven, passed, float(chances[stands])):
        proven = stands = None
    elif typed_otherwise(campaign, proven):
        stands = None
    status, at = _standing(learned, candidates, chances, near, passed, stands=stands)
    # Parts lie on the side that is left to chance, square or not.
    swapped = reason is not None and reason.code == "wrong_side"
    named = reason if status != "square" or swapped else None
    again = readings_to_take(learned, status, float(chances[at]), named)
    if named is not None and not again:  # a cause is not named while a reading may tell otherwise
        status = "hand_off"
    elif (
        status == "square" and again
    ):  # nor a promise made over a reading of the last piece that does not fit
        status = "confirm"
    recommended = None
    if status != "hand_off":  # no setting is recommended where none would pass
        recommended = _recommended(learned, candidates, at, float(chances[at]))
    next_cuts: tuple[NextCut, ...] = ()
    if nothing_known(campaign) and proven is None:
        next_cuts = _strips(campaign, batch)
    elif status in ("keep_cutting", "confirm"):
        first = causes.far_from_all(learned, candidates, through) if far_first else at
        picks = _batch(bevel * rest * near[:, None], first, batch)
        next_cuts = tuple(_next_cut(learned, candidates, i, status == "confirm", proven) for i in picks)
        next_cuts = causes.far_on_purpose(next_cuts) if far_first else next_cuts
    said = tuple(_findings(learned, candidates, bevel, rest)) if campaign.cuts else ()
    if status == "square":
        said = (*said, *_what_going_on_might_win(learned, candidates, chances, at))
    if proven and stands is None:
        said = (*said, proven_elsewhere(proven))
    elif proven and not any(p >= PASSED for p in passed):
        best = int((chances * near).argmax())
        there = candidates.dial(best, campaign.limits)
        said = (*said, *likelier_elsewhere(float(chances[at]), there, float(chances[best])))
    next_cuts = causes.turns_first(next_cuts, said)
    handed = reason if status == "hand_off" else None
    advice = Advice(status, recommended, next_cuts, said, handed, again)
    return Judgement(advice, learned, candidates, chances, passed, proven)


def _passed(learned: Learned) -> tuple[float, ...]:
    """The chance that each cut passed; 0 for all but the last ones."""
    count = len(learned.campaign.cuts)
    late = count - _PASSES_KEPT
    return tuple(learned.passed_chance(i) if i >= late else 0.0 for i in range(count))


def _as_locked(campaign: Campaign, locked: Locked) -> Judgement:
    """The judgement of a recipe: its own setting, volts and chance, with what its cuts show."""
    learned, setting = learned_from(campaign), Setting.of(locked)
    candidates = candidates_within(campaign, campaign.limits, (setting,))
    bevel, rest = learned.bevel_chances(candidates), learned.rest_chances(candidates)
    passed = _passed(learned)
    there = expected(learned, locked.speed_mm_min, locked.cut_height_mm)
    volts = locked.arc_voltage_v
    recommended = Recommended(
        locked.speed_mm_min, locked.cut_height_mm, volts, locked.probability_pass, there
    )
    said = tuple(_findings(learned, candidates, bevel, rest)) if campaign.cuts else ()
    advice = Advice("square", recommended, (), said, None)
    return Judgement(advice, learned, candidates, (bevel * rest).mean(axis=1), passed, setting)


@lru_cache(maxsize=32)
def _ended_on(earlier: Campaign) -> Advice:
    """What an earlier campaign ended on; kept, since every judgement of the later one asks."""
    return judge(earlier).advice


def advise(campaign: Campaign, batch: int = 1) -> Advice:
    """The advice alone."""
    return judge(campaign, batch).advice


def _standing(
    learned: Learned,
    candidates: Candidates,
    chances: Array,
    near: Array,
    passed: tuple[float, ...],
    *,
    stands: int | None,
) -> tuple[Status, int]:
    """The status before any hand-off, and the index of the setting to recommend.

    What was proven before (``stands``) is cut first, and left only once another setting has passed here.
    """
    proven = _settings_that_passed(learned, candidates, passed)
    best = _preferred(learned, candidates, chances * near)
    if proven:
        sure = [i for i in proven if chances[i] >= PROOF]
        strongest = max(proven, key=lambda i: float(chances[i]))
        if sure and learned.campaign.target.priority != "square_first":
            only = np.zeros_like(chances)
            only[sure] = chances[sure]
            strongest = _preferred(learned, candidates, only)
        if chances[strongest] >= PROOF and not spread_seen(learned):
            return "confirm", strongest
        if chances[strongest] >= PROOF and not _worth_going_on(
            learned, candidates, chances, strongest, passed
        ):
            return "square", strongest
        if chances[best] < PROOF and chances[strongest] >= chances[best] - _WORTH_MOVING:
            return "confirm", strongest
    if stands is not None:
        return "confirm", stands
    return ("confirm" if chances[best] >= PROOF else "keep_cutting"), best


def _strips(campaign: Campaign, batch: int) -> tuple[NextCut, ...]:
    """Up to ``batch`` strips of the coarse ladder that opens a metal nothing is known of, spread over it."""
    ladder = opening_ladder(campaign.start, campaign.limits)
    off = [abs(np.log(s.speed_mm_min / campaign.start.speed_mm_min)) for s in ladder]
    middle = int(np.argmin(off))
    picks = {middle} if batch == 1 else {round(i) for i in np.linspace(0, len(ladder) - 1, batch)}
    why = "Nothing is known of this metal here: the first question is only where it cuts clean."
    return tuple(
        NextCut("strip", ladder[i].speed_mm_min, ladder[i].cut_height_mm, why, _STRIP_HEADING_DEG)
        for i in sorted(picks)
    )


def spread_seen(learned: Learned) -> bool:
    """Whether how much cuts differ was seen at all: one good piece is luck, two are a setting."""
    squares = sum(c.piece == "square" and bool(c.edges) for c in learned.campaign.cuts)
    return squares >= _SQUARES_TO_SEE_SPREAD or (squares > 0 and learned.bevel.beliefs.taught_by > 0)


def _within_a_step(learned: Learned, candidates: Candidates, proven: Setting | None) -> Array:
    """1 for a setting within one step of what has been cut, of the starting numbers or of what was proven, else 0.

    A torch is brought down in small steps, and a model is worth little far from its cuts.
    """
    start, cuts = learned.campaign.start, learned.campaign.cuts
    tried = [(c.speed_mm_min, c.cut_height_mm) for c in cuts[-60:]]
    near = np.zeros(len(candidates), dtype=bool)
    known = [Setting.of(start), *([proven] if proven else [])]
    for v, h in [*tried, *((s.speed_mm_min, s.cut_height_mm) for s in known)]:
        in_speed = np.abs(np.log(candidates.speed_mm_min / v)) <= _SPEED_STEP
        near |= in_speed & (np.abs(candidates.height_mm - h) <= _HEIGHT_STEP * start.cut_height_mm)
    band = clean_band(cuts)
    if band is not None:
        inside = (candidates.speed_mm_min >= band[0] * (1 - _BESIDE_BAND)) & (
            candidates.speed_mm_min <= band[1] * (1 + _BESIDE_BAND)
        )
        near &= inside if (near & inside).any() else True
    if height_stays(learned.campaign):
        near &= np.abs(candidates.height_mm - start.cut_height_mm) < _TRIED_MM
    # Limits that shut the starting numbers out leave nothing near: then all of them count.
    return (near if near.any() else ~near).astype(np.float64)


def _likely_through(through: Array, near: Array) -> Array:
    """The settings near enough that very likely cut through; where none does, the near ones as they are."""
    likely = near * (through.mean(axis=1) >= causes.LEAST_THROUGH)
    return likely if likely.any() else near


def _worth_going_on(
    learned: Learned, candidates: Candidates, chances: Array, proven: int, passed: tuple[float, ...]
) -> bool:
    """Whether a priority for clean or fast asks for another setting that is as sure to pass.

    Square first is content with what is proven. Else another cut is worth its steel for a clear gain, and only
    so often: what is proven is not left for what might be better as long as the steel lasts.
    """
    if learned.campaign.target.priority == "square_first":
        return False
    first = next((i for i, p in enumerate(passed) if p >= PASSED), len(passed))
    if len(passed) - first > _CUTS_FOR_BETTER:
        return False
    best = _preferred(learned, candidates, chances)
    return chances[best] >= PROOF and _gain(candidates, best, proven) > _WORTH_A_CUT


def _gain(candidates: Candidates, best: int, proven: int) -> float:
    """How much faster one setting is than another, as a share; negative where it is slower."""
    speeds = candidates.speed_mm_min
    return float(speeds[best] / speeds[proven]) - 1.0


def _settings_that_passed(
    learned: Learned, candidates: Candidates, passed: tuple[float, ...]
) -> list[int]:
    campaign = learned.campaign
    proven: set[int] = set()
    for cut, chance in zip(campaign.cuts, passed, strict=True):
        if chance < PASSED or not of_now(campaign, cut):
            continue
        at = _index(candidates, Setting.of(cut))
        if at is not None:
            proven.add(at)
    return sorted(proven)


def _index(candidates: Candidates, setting: Setting) -> int | None:
    """Where a setting stands among the candidates; None where it is none of them."""
    at = np.flatnonzero(
        (np.abs(candidates.speed_mm_min - setting.speed_mm_min) < _TRIED_MM_MIN)
        & (np.abs(candidates.height_mm - setting.cut_height_mm) < _TRIED_MM)
    )
    return int(at[0]) if len(at) else None


def _preferred(learned: Learned, candidates: Candidates, chances: Array) -> int:
    """Best setting by the operator's priority among those with (nearly) the best chance."""
    start, priority = learned.campaign.start, learned.campaign.target.priority
    taught = learned.bevel.beliefs.square_taught_by and learned.campaign.start_how != "typed"
    if not learned.campaign.cuts and not taught:
        # Nothing is known that the starting numbers (or whoever typed them) do not know: the nearest to them.
        x = np.abs(np.log(candidates.speed_mm_min / start.speed_mm_min))
        return int((x + np.abs(candidates.height_mm - start.cut_height_mm)).argmin())
    top = float(chances.max())
    if priority == "square_first" or top <= 0.0:
        return int(chances.argmax())
    enough = min(PROOF, top - _NEARLY_BEST)
    eligible = np.flatnonzero(chances >= enough)
    if priority == "clean_first":
        clean = learned.clean_chances(candidates)[eligible]
        eligible = eligible[clean >= clean.max() - _NEARLY_BEST]
    fastest = eligible[np.argsort(candidates.speed_mm_min[eligible], kind="stable")]
    return int(fastest[-1])


def _batch(draws: Array, first: int, batch: int) -> list[int]:
    """Up to ``batch`` settings, each adding most to the chance that at least one passes."""
    picks, missed = [first], 1.0 - draws[first]
    while len(picks) < min(batch, len(draws)):
        gain = (draws * missed).mean(axis=1)
        gain[picks] = -1.0
        chosen = int(gain.argmax())
        picks.append(chosen)
        missed = missed * (1.0 - draws[chosen])
    return picks


def _recommended(learned: Learned, candidates: Candidates, at: int, chance: float) -> Recommended:
    there = candidates.dial(at, learned.campaign.limits)
    speed, height = there.speed_mm_min, there.cut_height_mm
    volts = learned.volts.at(there)
    return Recommended(
        speed, height, None if volts is None else volts[0], chance, expected(learned, speed, height)
    )


def expected(learned: Learned, speed_mm_min: float, height_mm: float) -> Expected:
    """What a setting is expected to give: mean bevel per side over headings, and dross."""
    setting = Candidates(np.array([speed_mm_min]), np.array([height_mm]))
    process, swirl = learned.process(setting)[0], learned.draws[:, SWIRL]

    def side_mean(side: Side) -> float:
        return float((process + learned.bevel.side_sign(side) * swirl).mean())

    good = process - swirl
    spread = np.mean(learned.cut_spread**2 + learned.edge_spread**2)
    low, high = learned.dross.expected_grades(speed_mm_min, height_mm)
    kinds: tuple[tuple[DrossKind, int], ...] = (("low_speed", low), ("high_speed", high))
    return Expected(
        side_mean("right"),
        side_mean("left"),
        float(np.sqrt(good.var() + spread)),
        tuple(Dross(kind, grade) for kind, grade in kinds if grade > 0),
    )


def _next_cut(
    learned: Learned, candidates: Candidates, at: int, confirming: bool, proven: Setting | None
) -> NextCut:
    there = candidates.dial(at, learned.campaign.limits)
    speed, height = there.speed_mm_min, there.cut_height_mm
    cuts = learned.campaign.cuts
    same = bool(cuts) and Setting.of(cuts[-1]) == there
    if proven == there and not cuts:
        why = why_what_was_proven(learned)
    else:
        why = why_next(learned, speed, height, repeat=confirming and same)
    return NextCut("square", speed, height, why)


def _what_going_on_might_win(
    learned: Learned, candidates: Candidates, chances: Array, at: int
) -> Iterator[AdviceFinding]:
    """What is left on the table when a proven setting is locked, for the operator to choose."""
    best = _preferred(learned, candidates, chances)
    gain = _gain(candidates, best, at)
    there = candidates.dial(best, learned.campaign.limits)
    if learned.campaign.target.priority == "fastest_in_tolerance" and gain > _WORTH_SAYING:
        yield found(
            "faster_possible",
            f"This is proven. About {gain:.0%} faster may still be in tolerance: one or two cuts would tell.",
            {
                "gain": gain,
                **vars(there),
            },
        )


def _findings(
    learned: Learned, candidates: Candidates, bevel: Array, rest: Array
) -> list[AdviceFinding]:
    said = list(causes.findings(learned))
    for i, finding in enumerate(said):
        if finding.code == "jet_lean":
            wins = causes.upright_wins(learned, candidates, bevel, rest)
            said[i] = causes.lean_costs(finding, *wins, learned.campaign.target.bevel_deg)
    square = bevel.mean(axis=1)
    at = int(square.argmax())
    if square[at] > 0.7 and float(rest[at].mean()) < 0.3:
        said.append(
            found(
                "window_misses_square",
                "The speed and height that are square lie outside the dross window: choose which "
                "matters more, or look at parts and gas.",
            )
        )
    return said
