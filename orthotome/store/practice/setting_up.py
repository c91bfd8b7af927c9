"""A practice table as it is found: its set, the Book's row for the job, and the trial on its Bench.

It is written into the practice shop's own records, never into those of the shop.
"""

from datetime import timedelta

from sqlmodel import Session, select

from orthotome.core.book.start_rows import StartRow
from orthotome.core.practice.table_exercises import ARC_ACCELERATION_MM_S2, TableExercise
from orthotome.core.trial.opening import default_limits, dialled_start
from orthotome.formats.machine.table_page import TablePage
from orthotome.store.book import rows as book
from orthotome.store.errors import NotFound
from orthotome.store.height import readings
from orthotome.store.shop import shop
from orthotome.store.tables import CuttingTable, PracticeRunRow, Shop, TorchSetRow, Trial
from orthotome.store.torch import sets
from orthotome.store.trial import trials

PRACTICE_SHOP = "Practice (nothing here is real)"
_AT_ONCE = timedelta(minutes=1)  # between a trial's opening and the note that it was begun
_SOURCE = "example numbers, for practice only"


def set_up(session: Session, exercise: TableExercise, units: Shop) -> Trial:
    """Write the table of an exercise with its trial, in the units of the shop whose people practise."""
    session.merge(
        Shop(
            name=PRACTICE_SHOP,
            length_unit=units.length_unit,
            speed_unit=units.speed_unit,
            example=True,
        )
    )
    work = exercise.work
    fitted = sets.torch_set_named(session, work.torch_set.name) or _example_set(session, exercise)
    table = _table(session, exercise, fitted.id or 0)
    start = dialled_start(exercise.told_start)
    gas, metal = work.torch_set.gas, work.metal
    row = StartRow(metal, work.thickness_mm, fitted.name, work.torch_set.amperage_a, gas, start, _SOURCE)
    _the_only_row(session, row, fitted.id or 0)
    found = book.start(session, metal, work.thickness_mm, fitted.id or 0)
    trial = trials.open_trial(
        session,
        table_id=table.id or 0,
        torch_set_id=fitted.id or 0,
        metal=metal,
        thickness_mm=work.thickness_mm,
        start=start,
        found=found,
        target=exercise.target,
        limits=default_limits(start),
        title=exercise.title,
        on_its_own=True,
    )
    if exercise.told_control is not None:
        readings.tell_control(session, trial.id or 0, exercise.told_control, None)
    return trial


def trial_of(session: Session, run: PracticeRunRow) -> Trial:
    """The trial of an exercise in the practice shop's records. Raises NotFound where those were thrown away since, and
    what has its number now is another's."""
    found = session.get(Trial, run.trial_id)
    if found is None or abs(found.opened_at - run.begun_at) > _AT_ONCE:
        raise NotFound("Its practice table was thrown away with the practice records.", "run_id")
    return found


def _example_set(session: Session, exercise: TableExercise) -> TorchSetRow:
    row = sets.add_torch_set(session, exercise.work.torch_set)
    row.example = True
    session.add(row)
    session.flush()
    return row


def _table(session: Session, exercise: TableExercise, torch_set_id: int) -> CuttingTable:
    """A table of its own for each time, so that what was fitted before belongs to another."""
    times = 1 + len(
        session.exec(select(CuttingTable.id).where(CuttingTable.simulated_seed == exercise.seed)).all()
    )
    name = f"practice table “{exercise.title}”" + (f", {times}" if times > 1 else "")
    table = shop.add_table(session, name, "water", torch_set_id)
    table.simulated_seed = exercise.seed
    if exercise.thing.at_the_arc:
        table.settings = TablePage(acceleration_mm_s2=ARC_ACCELERATION_MM_S2).model_dump_json(
            exclude_none=True
        )
    session.add(table)
    session.flush()
    return table


def _the_only_row(session: Session, row: StartRow, torch_set_id: int) -> None:
    """The Book holds this exercise's row for the job, and no other exercise's."""
    for standing, _ in book.rows(session, row.metal, torch_set_id):
        if standing.thickness_mm == row.thickness_mm:
            book.strike(session, standing.id or 0, out=True)
    session.add(book.book_row(row, torch_set_id, example=True))
    session.flush()
