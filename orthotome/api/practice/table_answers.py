"""A practice run as it is told: how far it is, and in the end its truth and both ways."""

from collections.abc import Sequence

from sqlmodel import Session

from orthotome.api.practice import table_models as models
from orthotome.core.practice.at_the_table import MastersWay, TableStep, claimable
from orthotome.core.practice.hidden import CLAIMS
from orthotome.core.practice.table_exercises import TableExercise, table_exercise
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import ChanceMap
from orthotome.desk.bench.judging import Judge
from orthotome.desk.practice.at_the_arc import arc_way
from orthotome.desk.practice.at_the_table import table_way
from orthotome.sim import debrief as hidden
from orthotome.store.tables import PracticeRunRow


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


def debrief(session: Session, row: PracticeRunRow, judge: Judge) -> models.TableDebriefAnswer:
    """The truth, and what each cut told. ``session`` is of the practice shop's records."""
    exercise = table_exercise(row.case)
    if exercise.thing.at_the_arc:
        arc = hidden.arc_picture(exercise)
        mine = arc_way(session, row, exercise)
        return _told(row, exercise, mine, hidden.arc_says(exercise), arc=arc)
    square = hidden.square_dialled(exercise)
    mine = table_way(session, row, exercise, judge)
    chances = hidden.chances_over(exercise, [s.setting for s in mine if s.setting], square)
    truth = hidden.truth_says(exercise, square)
    return _told(row, exercise, mine, truth, square_at=square, chances=chances)


def _told(
    row: PracticeRunRow,
    exercise: TableExercise,
    mine: Sequence[TableStep],
    truth: list[str],
    *,
    square_at: Setting | None = None,
    chances: ChanceMap | None = None,
    arc: hidden.ArcPicture | None = None,
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
