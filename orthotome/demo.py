"""The demo shop: invented from end to end, and labelled as examples on every screen.

One trial half-way, one locked, one just opened, of three metals on two simulated tables.
"""

import os
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from fastapi import FastAPI
from sqlmodel import Session, select

from orthotome.api.app import create_app
from orthotome.core.book.start_rows import RowDetails, StartRow, StartValues
from orthotome.core.height.signal_path import SignalPath
from orthotome.core.log.starts import work_of_piece
from orthotome.core.programs.check import check
from orthotome.core.torch.alignment import Mount, MountAxis
from orthotome.core.torch.counts import Counts
from orthotome.core.torch.inspection import pit_by_gauge
from orthotome.core.torch.wear import LIMIT_MM
from orthotome.core.trial.campaign import Target, TorchSet
from orthotome.core.trial.opening import default_limits, dialled_start
from orthotome.core.trial.table_door import JobAtTable
from orthotome.demo_machine import fill_machine
from orthotome.demo_program import NAME, SHEET_MM, demo_program
from orthotome.desk.bench.judging import Judge
from orthotome.desk.bench.numbers import numbers_now
from orthotome.formats.pieces.piece_set import basis_of, nicked
from orthotome.formats.programs.report import report_to_file
from orthotome.formats.programs.rs274 import read_program
from orthotome.sim.door import open_door
from orthotome.store.bench import campaigns
from orthotome.store.book import recipes
from orthotome.store.book import rows as book
from orthotome.store.choose import processes as choosing
from orthotome.store.database import Database
from orthotome.store.height import signal_paths
from orthotome.store.log import cuts
from orthotome.store.machine import holes, pages
from orthotome.store.programs import programs
from orthotome.store.shop import shop
from orthotome.store.tables import CuttingTable, SetNote, Shop, TorchSetRow, Trial
from orthotome.store.torch import fittings, inspections, mounts, parts, stock
from orthotome.store.trial import trials

SETS = (
    TorchSet("70 A plate set", 70, "air", "clockwise"),
    TorchSet("45 A sheet set", 45, "air", "clockwise"),
    TorchSet("100 A heavy set", 100, "air", "counter_clockwise"),
)

# metal, set, then rows of: thickness mm, mm/min, V, cut height, pierce height, pierce delay, kerf.
_ROWS: tuple[tuple[str, int, tuple[tuple[float, ...], ...]], ...] = (
    ("mild_steel", 0, (
        (4, 4440, 121.5, 1.5, 3.8, 0.2, 1.6),
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
        (6, 4250, 131, 1.9, 4.5, 0.3, 2.0),
        (10, 2450, 136, 2.0, 4.5, 0.5, 2.2),
        (12, 1960, 139, 2.0, 5.0, 0.6, 2.3),
        (16, 54, 143, 2.1, 5.0, 0.9, 2.5),  # in/min among mm/min: a slip for the Book to find
        (20, 1020, 148, 2.2, 5.5, 1.2, 2.8),
        (25, 760, 155, 2.3, 6.0, 1.8, 3.1),
    )),
)  # fmt: skip


# A second gas for stainless with the sheet set: nitrogen, with the flow its cylinders must carry.
_NITROGEN = (
    (1.5, 5600, 118, 1.4, 3.0, 0.1, 1.3),
    (3, 3100, 124, 1.5, 3.0, 0.3, 1.5),
    (5, 1600, 131, 1.6, 3.4, 0.5, 1.7),
)

_EXAMPLE_SOURCE = "example numbers: use your torch's manual"

# set, metal, gas, then: pierces, starts from the edge, severs, least; bevel, bottom, top, colour, rounding.
_NOTES = (
    (0, "mild_steel", "air", (12, 19, 25, 4), (2.5, 1, 1, "grey", "slight")),
    (1, "mild_steel", "air", (6, 10, 14, 0.8), (2.0, 1, 0, "grey", "slight")),
    (2, "mild_steel", "air", (20, 28, 38, 6), (3.0, 1, 1, "grey", "marked")),
    (1, "stainless_steel", "air", (5, 8, 12, 0.8), (3.0, 2, 1, "grey", "slight")),
    (1, "stainless_steel", "nitrogen", (5, 8, 12, 0.8), (2.2, 1, 1, "silver", "slight")),
    (0, "aluminium", "air", (10, 16, 22, 3), (3.5, 2, 1, "grey", "marked")),
)

_NORTH = {
    "x_runs": "right", "y_runs": "away", "home": "near_left", "axes_proved": True,
    "height_control": "voltage", "touch_off": "ohmic", "delay_origin": "arc_strike", "arc_signal": True,
    "gases": ["air"], "starting": "contact", "water_level_mm": -60.0, "acceleration_mm_s2": 900.0,
    "fastest_mm_min": 12000.0, "extent_x_mm": 2500.0, "extent_y_mm": 1250.0, "hour_cost": 48.0,
    "test_cut_cost": 5.0, "clean_up_cost_m": 0.6,
    "air": {
        "need_l_min": 190.0, "delivery_l_min": 165.0, "tank_l": 200.0, "cut_out_kpa": 1000.0,
        "cut_in_kpa": 780.0, "least_kpa": 550.0, "flowing_kpa": 570.0, "hose_length_m": 12.0,
        "hose_bore_mm": 10.0,
    },
}  # fmt: skip

_SOUTH = {
    "height_control": "touch_off", "touch_off": "float_switch", "touch_off_offset_mm": 2.4,
    "acceleration_mm_s2": 350.0, "fastest_mm_min": 9000.0, "gases": ["air", "nitrogen"],
}  # fmt: skip


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
    with database.write(by="Wren") as session:
        session.add(Shop(name="Saltmarsh Forge (example shop)", example=True))
        sets = [_torch_set(session, s) for s in SETS]
        _rows(session, sets)
        tables = [
            shop.add_table(session, "North table", "water", sets[0].id),
            shop.add_table(session, "South table", "downdraft", sets[1].id),
        ]
        for table, seed, starts in zip(tables, (11, 24), (121, 38), strict=True):
            table.simulated_seed = seed
            session.add(table)
            _worn(session, table.id or 0, starts)
        _earlier_parts(session, sets[0].id or 0)
        _shelf(session, sets)
        _pages(session, tables, sets)
        for job in _JOBS:
            _trial(session, job, tables[job.table], sets[job.torch_set])
        _program(session, tables[0])
        fill_machine(session, tables[0].id or 0, holes.Plate(SETS[0].name, "mild_steel", 8.0))


def _program(session: Session, table: CuttingTable) -> None:
    """A program that was made for the trial on the bench, checked."""
    start = next(t for t in session.exec(select(Trial)) if t.table_id == table.id and not t.set_aside)
    numbers = numbers_now(Judge())
    values = numbers(session, start)
    row = programs.begun(session, table.id or 0, NAME, demo_program(values).encode())
    row.trial_id, row.recipe_id = start.id, None
    row.sheet_x_mm, row.sheet_y_mm = SHEET_MM
    basis = programs.basis(session, row, numbers)
    found = check(read_program(programs.text_of(row), basis.profile, basis.axes), basis.against)
    programs.keep_report(session, row, report_to_file(found), basis.stand)


def _worn(session: Session, table_id: int, starts: int) -> None:
    """Starts that the parts have behind them; half-way somebody looked at the electrode."""
    for half in (starts // 2, starts - starts // 2):
        done = Counts(half, 14.0 * half, half // 40)
        now = fittings.count(session, table_id, done, "typed", "before the first trial")
        if half == starts // 2:
            electrode = parts.of_fitting(session, now.parts.id or 0)[0].id or 0
            pit = pit_by_gauge(round(0.0006 * half, 2), LIMIT_MM)
            seen = inspections.ToNote({"pit": "even", "body": "clean"}, pit, verdict="keep")
            inspections.note(session, electrode, f"demo look {table_id}", seen)


# Pits of earlier electrodes of the plate set: starts, mm. The last of each is how it ended.
_PITS = (
    ((310, 0.28), (640, 0.71), (905, 1.12), (1120, 1.48)),
    ((240, 0.24), (520, 0.66), (830, 1.21), (960, 1.51)),
    ((280, 0.22), (610, 0.68), (890, 1.3)),
)


def _earlier_parts(session: Session, torch_set_id: int) -> None:
    """Electrodes and nozzles that were in before; one electrode lies in the tray for rough work."""
    for n, pits in enumerate(_PITS):
        row = parts.new(session, "electrode", torch_set_id, pits[-1][0], 14.5 * pits[-1][0])
        for starts, pit in pits:
            seen = inspections.ToNote(pit=pit_by_gauge(pit, LIMIT_MM), verdict=_demo_verdict(pit))
            at = Counts(starts, 14.5 * starts, starts // 60)
            inspections.note(session, row.id or 0, f"demo pit {n} {starts}", seen, at=at)
        parts.keep(session, row.id or 0, "rough_work" if n == len(_PITS) - 1 else "scrap")
    for starts in (640, 815, 560):
        row = parts.new(session, "nozzle", torch_set_id, starts, 14.5 * starts)
        parts.keep(session, row.id or 0, "scrap")


def _demo_verdict(pit_mm: float) -> str:
    return "replace" if pit_mm >= 1.45 else "rough_work" if pit_mm >= 1.25 else "keep"


def _shelf(session: Session, sets: Sequence[TorchSetRow]) -> None:
    for of_set, lines in ((sets[0], _SHELF), (sets[1], _SHELF[:3])):
        for part, on_shelf, least, cost in lines:
            stock.put(session, of_set.id or 0, part, on_shelf=on_shelf, least=least, cost=cost)


_SHELF = (
    ("electrode", 4, 5, 6.5),
    ("nozzle", 9, 5, 4.2),
    ("swirl_ring", 2, 1, 11.0),
    ("retaining_cap", 1, 1, 28.0),
    ("shield", 3, 2, 7.8),
)


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


def _pages(session: Session, tables: list[CuttingTable], sets: list[TorchSetRow]) -> None:
    """The tables' own pages, a signal path, a noted fact, and what is written down of the sets."""
    for table, written in zip(tables, (_NORTH, _SOUTH), strict=True):
        pages.change_settings(session, table.id or 0, written, None)
    north = tables[0].id or 0
    signal_paths.set_signal_path(
        session, north, SignalPath(50, 1, 50), seen=(130.0, 129.6), note="as found"
    )
    tilts = (MountAxis("side tilt", 90.0, 0.9), MountAxis("fore-and-aft tilt", 0.0, 0.9))
    mounts.describe(session, north, Mount(tilts), target_deg=0.5)
    pages.add_fact(
        session,
        north,
        "Clamp rail, front left",
        "Its bolt stands proud of the slats: keep outlines 40 mm away from that corner, or the torch meets it.",
    )
    sets[0].parts_cost, sets[0].parts_starts = 24.0, 400
    sets[1].parts_cost, sets[1].parts_starts = 18.0, 450
    session.add_all(sets[:2])
    for which, metal, gas, bounds, looks in _NOTES:
        pierce, edge, sever, least = bounds
        bevel, bottom, top, colour, rounding = looks
        note = SetNote(
            torch_set_id=sets[which].id or 0,
            metal=metal,
            gas=gas,
            pierce_max_mm=pierce,
            edge_start_max_mm=edge,
            sever_max_mm=sever,
            least_mm=least,
            bevel_deg=bevel,
            bottom_dross_grade=bottom,
            top_dross_grade=top,
            colour=colour,
            rounding=rounding,
            source=_EXAMPLE_SOURCE,
            example=True,
        )
        choosing.note(session, note)


def _rows(session: Session, sets: list[TorchSetRow]) -> None:
    air = RowDetails(gas_pressure_kpa=550.0, gas_flow_l_min=110.0)
    nitrogen = RowDetails(gas_pressure_kpa=520.0, gas_flow_l_min=85.0)
    for metal, which, rows in _ROWS:
        _example_rows(session, sets[which], metal, gas="air", rows=rows, details=air)
    _example_rows(session, sets[1], "stainless_steel", gas="nitrogen", rows=_NITROGEN, details=nitrogen)
    session.flush()


def _example_rows(
    session: Session,
    fitted: TorchSetRow,
    metal: str,
    *,
    gas: str,
    rows: tuple[tuple[float, ...], ...],
    details: RowDetails,
) -> None:
    assert fitted.id is not None
    for thickness, *numbers in rows:
        values = StartValues(*numbers)
        row = StartRow(
            metal, thickness, fitted.name, fitted.amperage_a, gas, values, _EXAMPLE_SOURCE, details
        )
        session.add(book.book_row(row, fitted.id, example=True))


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
    )
    _cuts(session, job, trial, table)


def _cuts(session: Session, job: _Job, trial: Trial, table: CuttingTable) -> None:
    from orthotome.core.tuner.advise import judge  # noqa: PLC0415 (start-up time)
    from orthotome.core.tuner.next_act import next_act  # noqa: PLC0415

    assert trial.id is not None and table.simulated_seed is not None and table.id is not None
    door = open_door(table.simulated_seed)
    for n in range(1, job.most_cuts + 1):
        campaign = campaigns.campaign_of(session, trial)
        judgement = judge(campaign)
        if judgement.advice.status == "square":
            break
        asked = JobAtTable(trial.id, campaign.start, trial.thickness_mm, campaign.torch_set.swirl)
        delay_s = campaign.start.pierce_delay_s
        work = work_of_piece("square", basis_of(campaign), nicked(n), delay_s)
        starts = fittings.fitted(session, table.id).starts + work.starts
        cut = door.cut(asked, n, "square", next_act(judgement).setting, starts=starts)
        cuts.log_cut(session, trial.id, f"demo-{n}", cuts.ToLog(cut, work=work))
    if job.lock:
        judgement = judge(campaigns.campaign_of(session, trial))
        recipes.lock(session, trial.id, judgement, title=job.title)


def fill_if_empty(database: Database) -> None:
    """Make an empty database the demo shop; leave any other as it is."""
    if is_empty(database):
        fill(database)


def demo_app() -> FastAPI:
    """The demo for a reloading server (``./run dev``); its folder is in ORTHOTOME_DATA."""
    database = Database(Path(os.environ["ORTHOTOME_DATA"]) / "demo.sqlite")
    fill_if_empty(database)
    return create_app(database)
