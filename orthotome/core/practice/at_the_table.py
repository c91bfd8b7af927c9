"""How an exercise at a simulated table went: what each cut told, a master's way, and whether it was passed.

A master is the tuner itself: it cuts what it advises on the same hidden table, and puts right what it hands off. What a cut told is
said by the truth: how often the setting that was best known after it would really pass.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from orthotome.core.errors import TradeError
from orthotome.core.practice.hidden import EDGE_CLAIMS, Claim, HiddenThing
from orthotome.core.practice.table_exercises import TableExercise
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import AdviceFinding
from orthotome.core.trial.campaign import Campaign, Cut, Limits, Series, judged_sides
from orthotome.core.trial.opening import TOUCH_RISK_MM, default_limits
from orthotome.core.trial.table_door import FittedAnew, JobAtTable, TableDoor

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement

HOLDS = 0.8  # of a hundred squares at the setting so many pass: then it may be called square; assumption
_MOST_OF_A_MASTER = 14
_WIDER = 1.8, 2.0  # a master widens limits by so much, speed and height

Judge = Callable[[Campaign], "Judgement"]
TrueChance = Callable[[Setting, FittedAnew], float]


@dataclass(frozen=True)
class TableStep:
    """One cut of somebody's way, or what was done between two.

    ``chance`` is how often its setting really passes; ``known`` how often the best-known setting after it does.
    """

    setting: Setting | None
    done: str
    chance: float | None
    known: float | None
    worst_deg: float | None


def step_of(cut: Cut, after: "Judgement", anew: FittedAnew, chance: TrueChance) -> TableStep:
    """What one cut was and told; of its edges those count that its target judges."""
    best, of = after.advice.recommended, after.learned.campaign
    judged = judged_sides(of.torch_set, of.target)
    return TableStep(
        Setting.of(cut),
        "",
        chance(Setting.of(cut), anew),
        chance(Setting.of(best), anew) if best is not None else None,
        max((e.bevel_deg for e in cut.edges if e.side in judged), key=abs, default=None),
    )


@dataclass(frozen=True)
class MastersWay:
    """What the tuner does with the exercise, and what it says in the end; None where it does not come to an end."""

    steps: tuple[TableStep, ...]
    claim: Claim | None

    @property
    def cuts(self) -> int:
        """How many it took."""
        return sum(s.setting is not None for s in self.steps)


def masters_way(
    exercise: TableExercise, door: TableDoor, judge: Judge, chance: TrueChance
) -> MastersWay:
    """The same exercise by the tuner: what it advises is cut, what it hands off is put right."""
    campaign, anew, steps = campaign_of(exercise), FittedAnew(), list[TableStep]()
    judgement = judge(campaign)
    while (status := judgement.advice.status) != "square" and len(campaign.cuts) < _MOST_OF_A_MASTER:
        if status == "hand_off":
            why = judgement.advice.hand_off
            assert why is not None
            put_right = _put_right(campaign, why, anew)
            if put_right is None:
                return MastersWay(tuple(steps), _claim(why))
            done, campaign, anew = put_right
            steps.append(TableStep(None, done, None, None, None))
            judgement = judge(campaign)
            if judgement.advice.status == "hand_off":
                return MastersWay(tuple(steps), _claim(judgement.advice.hand_off or why))
            continue
        campaign, cut = _cut_next(exercise, campaign, judgement, anew, door)
        judgement = judge(campaign)
        steps.append(step_of(cut, judgement, anew, chance))
    return MastersWay(tuple(steps), "square" if status == "square" else None)


def campaign_of(exercise: TableExercise) -> Campaign:
    """The exercise's trial before its first cut."""
    start = exercise.told_start
    return Campaign(
        exercise.work.metal,
        exercise.work.thickness_mm,
        exercise.work.torch_set,
        start,
        exercise.target,
        default_limits(start),
        start_how="row",
    )


def _cut_next(
    exercise: TableExercise,
    campaign: Campaign,
    judgement: "Judgement",
    anew: FittedAnew,
    door: TableDoor,
) -> tuple[Campaign, Cut]:
    from orthotome.core.tuner.next_act import next_act  # noqa: PLC0415 (start-up time)

    number = len(campaign.cuts) + 1
    job = JobAtTable(0, campaign.start, campaign.thickness_mm, exercise.work.torch_set.swirl, anew)
    cut = door.cut(job, number, "square", next_act(judgement).setting, starts=number)
    cut = replace(cut, series=campaign.current_series, starts=number)
    return replace(campaign, cuts=(*campaign.cuts, cut), series_now=None), cut


def _put_right(
    campaign: Campaign, why: AdviceFinding, anew: FittedAnew
) -> tuple[str, Campaign, FittedAnew] | None:
    """What a master does about a hand-off: what was done, and the trial after it; None where nothing is to be done."""
    series = campaign.current_series
    if why.code == "jet_lean" and not anew.mounts:
        anew = replace(anew, mounts=1)
        return "Set the torch upright.", _with_series(campaign, replace(series, mount="m2")), anew
    if why.code in ("worn_parts", "wrong_side") and not anew.parts:
        anew = replace(anew, parts=("set",))
        return "Fitted a new set of parts.", _with_series(campaign, replace(series, parts="p2")), anew
    if why.code == "outside_limits" and campaign.limits == default_limits(campaign.start):
        return "Widened the limits.", replace(campaign, limits=_wider(campaign.limits)), anew
    return None


def _with_series(campaign: Campaign, series: Series) -> Campaign:
    return replace(campaign, series_now=series)


def _wider(limits: Limits) -> Limits:
    (slow, fast), (low, high) = limits.speed_mm_min, limits.cut_height_mm
    return Limits(
        (slow / _WIDER[0], fast * _WIDER[0]), (max(low / _WIDER[1], TOUCH_RISK_MM), high * _WIDER[1])
    )


def _claim(why: AdviceFinding) -> Claim:
    return why.code if why.code in EDGE_CLAIMS else "target_too_tight"


@dataclass(frozen=True)
class TableDebrief:
    """How it went."""

    passed: bool
    sentence: str


def judge_end(
    exercise: TableExercise, claim: str, cuts: int, chance: float | None, anew: FittedAnew
) -> TableDebrief:
    """Whether it was passed: what was claimed is so, within the cuts. ``chance`` is how often the setting that was ended
    on really passes, None before any cut. Raises TradeError for a claim that is none."""
    said = claimable(exercise, claim)
    if said != exercise.thing.ends:
        return TableDebrief(False, _wrong(exercise.thing, said))
    if said == "square" and exercise.thing.can_be_cured and not exercise.thing.is_cured(anew):
        return TableDebrief(False, f"What was wrong is still there. {exercise.thing.words}")
    if said == "square" and (chance is None or chance < HOLDS):
        so_far = "nothing was cut" if chance is None else f"it passes {_in_100(chance)}"
        return TableDebrief(False, f"Not square yet: at the setting that you ended on {so_far}.")
    if cuts > exercise.most_cuts:
        return TableDebrief(False, f"Right, with {cuts} cuts where {exercise.most_cuts} were allowed.")
    if said == "square" and chance is not None:
        return TableDebrief(True, f"Square: it passes {_in_100(chance)}, and it took {cuts} cuts.")
    return TableDebrief(True, f"Right, after {cuts} cuts: {exercise.thing.words}")


def claimable(exercise: TableExercise, claim: str) -> Claim:
    """The claim as one that the exercise knows. Raises TradeError for any other."""
    for known in exercise.claims:
        if known == claim:
            return known
    raise TradeError("claim", f"“{claim}” is none of {', '.join(exercise.claims)}.")


def _in_100(chance: float) -> str:
    return f"{round(100 * chance)} times in 100"


def _wrong(thing: HiddenThing, claim: str) -> str:
    if thing.ends != "square":
        return f"It was not that. {thing.words}"
    if claim != thing.named:
        return f"It could be cut square. {thing.cured_by}"
    return f"That was the cause, and it can be put right here. {thing.cured_by}"
