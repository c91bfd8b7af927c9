"""The demo shop: invented from end to end, and labelled as examples on every screen.

One trial half-way, one locked, one just opened, of three metals on two simulated tables.
"""

from dataclasses import dataclass, replace

from sqlmodel import Session

from orthotome.core.campaign import Cut, NextCut, Target, TorchSet
from orthotome.core.start_rows import StartRow, StartValues
from orthotome.core.trial_plan import default_limits, dialled_start
from orthotome.store import book, recipes, trials
from orthotome.store.database import Database
from orthotome.store.tables import CuttingTable, Shop, TorchSetRow, Trial

SETS = (
    TorchSet("70 A plate set", 70, "air", "clockwise"),
    TorchSet("45 A sheet set", 45, "air", "clockwise"),
    TorchSet("100 A heavy set", 100, "air", "counter_clockwise"),
)

# metal, set, then rows of: thickness mm, mm/min, V, cut height, pierce height, pierce delay, kerf.
_ROWS: tuple[tuple[str, int, tuple[tuple[float, ...], ...]], ...] = (
    ("mild_steel", 0, (
        (4, 4300, 121, 1.5, 3.8, 0.2, 1.6),
        (6, 2950, 125, 1.5, 3.8, 0.4, 1.7),
        (10, 1680, 131, 1.6, 3.8, 0.7, 1.9),
        (12, 1290, 134, 1.7, 4.0, 0.9, 2.0),
        (16, 820, 140, 1.8, 4.5, 1.4, 2.2),
    )),
    ("mild_steel", 1, (
        (1, 8800, 108, 1.4, 3.0, 0.0, 1.1),
        (2, 5600, 112, 1.4, 3.0, 0.1, 1.2),
        (4, 2900, 118, 1.5, 3.2, 0.3, 1.4),
        (6, 1650, 124, 1.5, 3.2, 0.5, 1.6),
    )),
    ("stainless_steel", 1, (
        (1.5, 6400, 111, 1.3, 3.0, 0.1, 1.2),
        (3, 3500, 117, 1.4, 3.0, 0.3, 1.4),
        (5, 1850, 123, 1.5, 3.4, 0.5, 1.6),
    )),
    ("aluminium", 0, (
        (4, 5200, 128, 1.8, 4.0, 0.2, 1.7),
        (6, 3600, 133, 1.9, 4.0, 0.3, 1.9),
        (10, 2100, 141, 2.0, 4.4, 0.6, 2.2),
    )),
    ("mild_steel", 2, (
        (10, 2450, 136, 2.0, 4.5, 0.5, 2.2),
        (20, 1020, 148, 2.2, 5.5, 1.2, 2.8),
    )),
)  # fmt: skip


@dataclass(frozen=True)
class _Job:
    """A demo trial: where, what, to which target, and how many cuts of it are made."""

    title: str
    metal: str
    thickness_mm: float
    table: int
    torch_set: int
    target: Target
    most_cuts: int
    lock: bool = False


_JOBS = (
    _Job("Gate brackets", "stainless_steel", 3.0, 1, 1, Target(2.5), 12, lock=True),
    _Job("Hopper sides", "mild_steel", 8.0, 0, 0, Target(1.5), 3),
    _Job("Ramp treads", "aluminium", 6.0, 1, 0, Target(2.5, dross_grade=2), 0),
)


def fill(database: Database) -> None:
    """Write the demo shop into an empty database, in one change."""
    with database.write() as session:
        session.add(Shop(name="Saltmarsh Forge (example shop)", example=True))
        sets = [_torch_set(session, s) for s in SETS]
        _rows(session, sets)
        tables = [
            CuttingTable(name="North table", bed="water", simulated_seed=11, torch_set_id=sets[0].id),
            CuttingTable(
                name="South table", bed="downdraft", simulated_seed=24, torch_set_id=sets[1].id
            ),
        ]
        for table, starts in zip(tables, (121, 38), strict=True):
            table.starts_on_parts = starts
            session.add(table)
        session.flush()
        for job in _JOBS:
            _trial(session, job, tables[job.table], sets[job.torch_set])


def is_empty(database: Database) -> bool:
    """Whether nobody has set anything up in this database yet."""
    with database.read() as session:
        return session.get(Shop, 1) is None


def _torch_set(session: Session, given: TorchSet) -> TorchSetRow:
    row = TorchSetRow(
        name=given.name, amperage_a=given.amperage_a, gas=given.gas, swirl=given.swirl, example=True
    )
    session.add(row)
    session.flush()
    return row


def _rows(session: Session, sets: list[TorchSetRow]) -> None:
    for metal, which, rows in _ROWS:
        fitted = sets[which]
        assert fitted.id is not None
        for thickness, *numbers in rows:
            row = StartRow(
                metal,
                thickness,
                fitted.name,
                fitted.amperage_a,
                fitted.gas,
                StartValues(*numbers),
                "example numbers: use your torch's manual",
            )
            session.add(book.book_row(row, fitted.id, example=True))
    session.flush()


def _trial(session: Session, job: _Job, table: CuttingTable, fitted: TorchSetRow) -> None:
    assert table.id is not None and fitted.id is not None
    found = book.start(session, job.metal, job.thickness_mm, fitted.id)
    assert found.values is not None
    start = dialled_start(found.values)
    trial = trials.open_trial(
        session,
        table_id=table.id,
        torch_set_id=fitted.id,
        metal=job.metal,
        thickness_mm=job.thickness_mm,
        start=start,
        found=found,
        target=job.target,
        limits=default_limits(start),
        title=job.title,
        opened_by="Wren",
    )
    _cuts(session, job, trial, table)


def _cuts(session: Session, job: _Job, trial: Trial, table: CuttingTable) -> None:
    from orthotome.core.tuner.advise import judge  # noqa: PLC0415 (start-up time)

    assert trial.id is not None
    for n in range(1, job.most_cuts + 1):
        campaign = trials.campaign_of(session, trial)
        judgement = judge(campaign)
        if judgement.advice.status == "square":
            break
        cut = simulated_cut(table, trial, campaign.start, n, judgement.advice.next_cuts[0])
        trials.log_cut(session, trial.id, f"demo-{n}", cut, by="Wren", note="")
    if job.lock:
        judgement = judge(trials.campaign_of(session, trial))
        recipes.lock(session, trial.id, judgement, by="Wren", title=job.title)


def simulated_cut(
    table: CuttingTable, trial: Trial, start: StartValues, number: int, asked: NextCut
) -> Cut:
    """Cut ``number`` of a trial as the simulated table answers it."""
    from orthotome.sim.table import SimulatedTable  # noqa: PLC0415 (start-up time)

    assert table.simulated_seed is not None
    stand_in = SimulatedTable.from_seed(table.simulated_seed, start, trial.thickness_mm)
    cut = stand_in.cut(
        1000 * (trial.id or 0) + number,
        asked.piece,
        asked.speed_mm_min,
        asked.cut_height_mm,
        starts=table.starts_on_parts + 1,
    )
    return replace(cut, starts=None)
