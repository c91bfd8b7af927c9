"""A setting that was proven for just this job before: where its next trial begins, and stays until a cut says
otherwise. What was learnt since stands beside it as a suggestion."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from orthotome.core.quantities import length, speed
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import Advice, AdviceFinding, found, verdict_of
from orthotome.core.trial.campaign import Campaign, Cut, Target, worst_judged_deg

_GAUGE_OFF_DEG = 2.0  # that one reading of an edge inside the target may lie outside it
_WORTH_SUGGESTING = 0.1  # by how much likelier another setting must be to be named beside a proven one
_SAME_PLATE = 0.01  # share by which the thickness of one plate may be written differently
_MOST_CHECKS = 3  # that leave it open whether it still is, before another setting is tried
_LEAST_TO_STAND = 0.5  # chance under which the cuts of a trial have spoken against what was proven


def proven_before(campaign: Campaign, advised: Callable[[Campaign], Advice]) -> Setting | None:
    """The proven setting that a campaign begins at; None where there is none inside its limits.

    That is the recipe it was opened from, else what the newest earlier campaign of just this job ended on, judged
    with those before it by ``advised``.
    """
    of_job = [i for i, earlier in enumerate(campaign.history) if _same_job(campaign, earlier)]
    if campaign.start_how == "recipe":
        at = Setting.of(campaign.start)
        proving = [campaign.history[i] for i in of_job if _cut_at(campaign.history[i], at)]
        asked = [e.target for e in proving]
        if not asked or any(as_strict(t, campaign.target) for t in asked):
            return at if campaign.limits.hold(at) else None
    for i in reversed(of_job):
        earlier = campaign.history[i]
        if not _may_be_proven(earlier) or not as_strict(earlier.target, campaign.target):
            continue
        advice = advised(replace(earlier, history=campaign.history[:i]))
        if advice.status == "square" and advice.recommended is not None:
            at = Setting.of(advice.recommended)
            return at if campaign.limits.hold(at) else None
    return None


def still_stands(
    campaign: Campaign, proven: Setting | None, passed: Sequence[float], chance: float
) -> bool:
    """Whether no cut of this campaign has spoken against what was proven before it.

    ``passed`` are the chances that its cuts passed, ``chance`` that of the next one at the proven setting.
    """
    checks = [
        verdict_of(p)
        for cut, p in zip(campaign.cuts, passed, strict=True)
        if Setting.of(cut) == proven and of_now(campaign, cut) and _was_read(cut)
    ]
    failed = "no" in checks or checks.count("maybe") > _MOST_CHECKS
    return not failed and (not campaign.cuts or chance >= _LEAST_TO_STAND)


def of_now(campaign: Campaign, cut: Cut) -> bool:
    """Whether a cut was made with what is fitted now: with other parts, or before the torch was re-seated, a piece proves
    nothing of now, and disproves nothing."""
    now = campaign.current_series
    return (cut.series.parts, cut.series.mount) == (now.parts, now.mount)


def typed_otherwise(campaign: Campaign, proven: Setting | None) -> bool:
    """Whether somebody typed other numbers than what was proven, and has cut nothing yet: theirs come first."""
    typed = campaign.start_how == "typed" and not campaign.cuts
    return typed and proven != Setting.of(campaign.start)


def proven_elsewhere(proven: Setting) -> AdviceFinding:
    """What was proven, beside numbers that somebody typed."""
    return found(
        "proven_elsewhere",
        f"These numbers were typed. {speed(proven.speed_mm_min)} at {length(proven.cut_height_mm)} was proven of just "
        "this job: cut that first, unless the change is meant.",
        {"speed_mm_min": proven.speed_mm_min, "cut_height_mm": proven.cut_height_mm},
    )


def likelier_elsewhere(
    proven_chance: float, likelier: Setting, chance: float
) -> Iterator[AdviceFinding]:
    """A setting that by all that was cut since is clearly likelier to pass than what was proven, beside it."""
    if chance - proven_chance < _WORTH_SUGGESTING:
        return
    yield found(
        "likelier_elsewhere",
        f"By all that this table cut, {speed(likelier.speed_mm_min)} at {length(likelier.cut_height_mm)} passes about "
        f"{round(10 * chance)} times in 10, and what was proven {round(10 * proven_chance)}. "
        "Check what was proven first: it stands until a cut says otherwise.",
        {
            "speed_mm_min": likelier.speed_mm_min,
            "cut_height_mm": likelier.cut_height_mm,
            "probability_pass": chance,
        },
    )


def as_strict(then: Target, now: Target) -> bool:
    """Whether what met one target meets the other as well."""
    return (
        then.bevel_deg <= now.bevel_deg
        and then.dross_grade <= now.dross_grade
        and (then.sides == "both" or now.sides == "good")
    )


def _same_job(campaign: Campaign, earlier: Campaign) -> bool:
    """The same metal and plate with the same set, its gas and its swirl."""
    now, then = campaign.torch_set, earlier.torch_set
    return (
        campaign.metal == earlier.metal
        and abs(campaign.thickness_mm / earlier.thickness_mm - 1.0) <= _SAME_PLATE
        and (now.name, now.amperage_a, now.gas, now.swirl)
        == (then.name, then.amperage_a, then.gas, then.swirl)
    )


def _may_be_proven(earlier: Campaign) -> bool:
    """Whether any of its squares came near its target: only then is it worth a judgement."""
    target = earlier.target
    for cut in (c for c in earlier.cuts if c.piece == "square"):
        worst = worst_judged_deg(cut, earlier.torch_set, target)
        clean = cut.bottom_grade is not None and cut.bottom_grade <= target.dross_grade
        if clean and worst is not None and abs(worst) <= target.bevel_deg + _GAUGE_OFF_DEG:
            return True
    return earlier.locked is not None


def _cut_at(earlier: Campaign, at: Setting) -> bool:
    return any(Setting.of(cut) == at for cut in earlier.cuts)


def _was_read(cut: Cut) -> bool:
    """Whether anything of a cut was seen that could fail it."""
    return bool(cut.edges) or cut.through in ("partial", "none")
