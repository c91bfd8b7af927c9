"""A practice run as it is told: how far it is, and in the end its truth and both ways."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from sqlmodel import Session

from orthotome.api.practice import arc_answers
from orthotome.api.practice import table_models as models
from orthotome.core.edge.edges import way_in_words
from orthotome.core.practice.at_the_table import MastersWay, TableStep, claimable, step_of
from orthotome.core.practice.hidden import CLAIMS
from orthotome.core.practice.table_exercises import TableExercise, table_exercise
from orthotome.core.quantities import (
    height_step_mm,
    in_steps,
    length,
    speed,
    speed_step_mm_min,
)
from orthotome.core.setting import Setting
from orthotome.core.torch.fittings import PART_WORDS
from orthotome.core.trial.advice import ChanceMap
from orthotome.core.trial.campaign import Campaign
from orthotome.core.trial.table_door import FittedAnew
from orthotome.desk.bench.judging import Judge
from orthotome.sim.practice import (
    EVERYTHING_ANEW,
    hidden_in,
    practice_table,
    square_setting,
    true_chance,
)
from orthotome.store.bench import campaigns
from orthotome.store.log.cuts import LoggedCut, logged_cuts
from orthotome.store.practice import setting_up
from orthotome.store.tables import PracticeRunRow
from orthotome.store.torch import fittings

_MAP_SPEEDS, _MAP_HEIGHTS = 25, 13
_BEYOND = 0.08  # share of the way that the map reaches further than any cut


def run(row: PracticeRunRow, cuts: int) -> models.RunAnswer:
    """How far somebody is."""
    exercise = table_exercise(row.case)
    return models.RunAnswer(
        id=row.id or 0,
        case=row.case,
        title=exercise.title,
        task=exercise.task,
        table_id=row.table_id,
        trial_id=row.trial_id,
        cuts=cuts,
        most_cuts=exercise.most_cuts,
        watched=exercise.thing.at_the_arc,
        claims=[models.ClaimAnswer(code=c, words=w) for c, w in exercise.claims.items()],
        covered=exercise.covered,
        begun_at=row.begun_at,
        ended=bool(row.claim),
        passed=row.passed,
    )


def made_with(session: Session, table_id: int, cut: LoggedCut) -> FittedAnew:
    """What had been fitted when that cut was made."""
    until = {"parts": cut.row.parts_id, "mount": cut.row.mount_id}
    return fittings.fitted_anew(session, table_id, until)  # type: ignore[arg-type]


def debrief(session: Session, row: PracticeRunRow, judge: Judge) -> models.TableDebriefAnswer:
    """The truth, and what each cut told. ``session`` is of the practice shop's records."""
    exercise = table_exercise(row.case)
    if exercise.thing.at_the_arc:
        mine = arc_answers.way(session, row, exercise)
        return _told(row, exercise, mine, arc_answers.truth(exercise), arc=arc_answers.picture(exercise))
    square = _dialled(square_setting(exercise))
    mine = _way(session, row, exercise, judge)
    chances = _map(exercise, [s.setting for s in mine if s.setting], square)
    return _told(row, exercise, mine, _truth(exercise, square), square_at=square, chances=chances)


def _told(
    row: PracticeRunRow,
    exercise: TableExercise,
    mine: Sequence[TableStep],
    truth: list[str],
    *,
    square_at: Setting | None = None,
    chances: ChanceMap | None = None,
    arc: models.ArcPicture | None = None,
) -> models.TableDebriefAnswer:
    return models.TableDebriefAnswer(
        run=run(row, row.cuts),
        sentence=row.sentence,
        said=exercise.claims[claimable(exercise, row.claim)],
        hidden=exercise.thing.words,
        cured_by=exercise.thing.cured_by,
        teaches=exercise.teaches,
        square_at=square_at,
        truth=truth,
        mine=[_step(s) for s in mine],
        chances=chances,
        arc=arc,
    )


def masters(way: MastersWay) -> models.MastersAnswer:
    """What the tuner does with it."""
    said = CLAIMS[way.claim] if way.claim else "It does not come to an end here"
    return models.MastersAnswer(steps=[_step(s) for s in way.steps], cuts=way.cuts, said=said)


def _step(step: TableStep) -> models.TableStepAnswer:
    return models.TableStepAnswer(**vars(step))


def _way(
    session: Session, row: PracticeRunRow, exercise: TableExercise, judge: Judge
) -> list[TableStep]:
    found = setting_up.trial_of(session, row)
    logged = [c for c in logged_cuts(session, row.trial_id) if c.counts]
    campaign = replace(campaigns.campaign_of(session, found, logged), series_now=None)
    steps, before = list[TableStep](), FittedAnew()
    for n, cut in enumerate(logged, start=1):
        anew = made_with(session, row.table_id, cut)
        steps += _done_between(before, anew)
        after = judge.judge(_until(campaign, n))
        steps.append(step_of(cut.cut, after, anew, lambda s, a: true_chance(exercise, s, a)))
        before = anew
    return [*steps, *_done_between(before, fittings.fitted_anew(session, row.table_id))]


def _until(campaign: Campaign, cuts: int) -> Campaign:
    return replace(campaign, cuts=campaign.cuts[:cuts])


def _done_between(before: FittedAnew, after: FittedAnew) -> Sequence[TableStep]:
    done = [f"Fitted anew: {PART_WORDS[p]}." for p in after.parts[len(before.parts) :]]
    done += ["Set the torch upright."] * (after.mounts - before.mounts)
    return [TableStep(None, words, None, None, None) for words in done]


def _truth(exercise: TableExercise, square: Setting) -> list[str]:
    hidden = hidden_in(exercise)
    gauge_deg = practice_table(exercise, EVERYTHING_ANEW).reading_u_deg
    chance = true_chance(exercise, square, EVERYTHING_ANEW)
    said = [
        f"Best at {speed(square.speed_mm_min)} and {length(square.cut_height_mm)}: there {round(100 * chance)} in 100 "
        "squares pass.",
        f"Swirl {hidden.swirl_deg:.1f}° to either side of the mean.",
        f"One cut differs from the next by {hidden.cut_spread_deg:.1f}°, one edge from the next by "
        f"{hidden.edge_spread_deg:.1f}°, and the gauge by {gauge_deg:.1f}°.",
        f"Clean underneath from {_about(hidden.clean_from_mm_min)} to {_about(hidden.clean_to_mm_min)}.",
    ]
    if exercise.hidden == "leaning_torch":
        said.append(f"It leaned {hidden.lean_deg:.1f}° {way_in_words(hidden.lean_toward_deg)}.")
    if exercise.thing.can_be_cured:
        said[0] += " That is with what was wrong put right."
    return said


def _map(exercise: TableExercise, cuts: Sequence[Setting], square: Setting) -> ChanceMap:
    """How often it really passes, over all that was cut and where square lies."""
    every = [*cuts, square, Setting.of(exercise.told_start)]
    speeds = _wide([s.speed_mm_min for s in every], 0.3)
    heights = _wide([s.cut_height_mm for s in every], 0.3)
    over_speed = np.geomspace(*speeds, _MAP_SPEEDS)
    over_height = np.linspace(*heights, _MAP_HEIGHTS)
    return ChanceMap(
        tuple(float(v) for v in over_speed),
        tuple(float(h) for h in over_height),
        tuple(
            tuple(
                round(true_chance(exercise, Setting(float(v), float(h)), EVERYTHING_ANEW), 3)
                for v in over_speed
            )
            for h in over_height
        ),
    )


def _about(speed_mm_min: float) -> str:
    return speed(in_steps(speed_mm_min, speed_step_mm_min(speed_mm_min)))


def _dialled(setting: Setting) -> Setting:
    speed_mm_min, height_mm = setting.speed_mm_min, setting.cut_height_mm
    return Setting(
        in_steps(speed_mm_min, speed_step_mm_min(speed_mm_min)), in_steps(height_mm, height_step_mm())
    )


def _wide(values: Sequence[float], least: float) -> tuple[float, float]:
    """A range round all of them, at least ``least`` of their middle to each side."""
    low, high = min(values), max(values)
    middle = (low + high) / 2
    return min(low * (1 - _BEYOND), middle * (1 - least)), max(
        high * (1 + _BEYOND), middle * (1 + least)
    )
