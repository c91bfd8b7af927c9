"""The application: routers under /api, the built front end beside them, guarded and with problems."""

import asyncio
from collections.abc import AsyncIterator, Callable
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from pathlib import Path

from fastapi import FastAPI

from orthotome import __version__
from orthotome.api import front_end, problems
from orthotome.api.bench import routes as bench
from orthotome.api.book import routes as book
from orthotome.api.book import watch_routes as watching
from orthotome.api.choose import routes as choose
from orthotome.api.door import routes as door
from orthotome.api.guard import Guard
from orthotome.api.height import live_routes as live
from orthotome.api.height import routes as height
from orthotome.api.height import set_point_routes as set_points
from orthotome.api.height import trace_routes as recordings
from orthotome.api.keeping import routes as keeping
from orthotome.api.log import grading_routes as gradings
from orthotome.api.log import photo_routes as photos
from orthotome.api.log import routes as log
from orthotome.api.log import sheet_routes as sheets
from orthotome.api.machine import check_routes as machine_checks
from orthotome.api.machine import health_routes as machine_health
from orthotome.api.machine import hole_routes as machine_holes
from orthotome.api.machine import instrument_routes as instruments
from orthotome.api.machine import measured_routes as machine_measured
from orthotome.api.machine import proof_routes as machine_proof
from orthotome.api.machine import routes as machine
from orthotome.api.pieces import plate_routes as plates
from orthotome.api.pieces import routes as pieces
from orthotome.api.practice import fault_routes as practice
from orthotome.api.practice import sheet_routes as practice_sheet
from orthotome.api.practice import table_routes as practice_tables
from orthotome.api.practice_shop import ON_PRACTICE, PracticeShop, practice_lines
from orthotome.api.programs import routes as programs
from orthotome.api.ready import routes as ready
from orthotome.api.routing import open_rooms
from orthotome.api.shop import routes as shop
from orthotome.api.torch import parts_routes as torch_parts
from orthotome.api.torch import routes as torch
from orthotome.api.trial import looking_back
from orthotome.api.trial import routes as trial
from orthotome.api.trouble import help_routes as asking_for_help
from orthotome.api.trouble import routes as trouble
from orthotome.core.trial.table_door import TableDoor
from orthotome.desk.bench.judging import Judge
from orthotome.desk.height.live import Lines
from orthotome.desk.height.recording import end_broken_off
from orthotome.desk.working.kept_answers import KeptAnswers
from orthotome.sim.door import open_door as simulated_door
from orthotome.sim.practice import open_practice_door
from orthotome.store.database import Database, practice_records

MOST_BENCHES_KEPT, MOST_REVISIONS_KEPT = 16, 200
FRONT_END = Path(__file__).parents[2] / "frontend" / "dist"

_ROOMS = (
    *(
        shop,
        machine,
        machine_measured,
        machine_checks,
        machine_holes,
        machine_proof,
        machine_health,
        trouble,
        asking_for_help,
        instruments,
        height,
        set_points,
        recordings,
        live,
        torch,
        torch_parts,
        ready,
        book,
        watching,
        choose,
        trial,
        log,
        sheets,
        photos,
        gradings,
    ),
    *(bench, pieces, plates, looking_back, programs),
)


def create_app(
    database: Database,
    built: Path = FRONT_END,
    open_door: Callable[[int], TableDoor] = simulated_door,
    judge: Judge | None = None,
) -> FastAPI:
    """The application over one database, with the practice shop beside it; ``open_door`` leads to the tables that cut by
    themselves, ``judge`` may think in a process of its own."""
    thinking = judge or Judge()
    practice_shop = PracticeShop(
        practice_records(database.path),
        lambda records: _with_pages(
            _rooms_over(records, open_practice_door, thinking, lines=practice_lines(records)), built
        ),
    )

    @asynccontextmanager
    async def life(_app: FastAPI) -> AsyncIterator[None]:
        app.state.judge.wake()
        await asyncio.to_thread(end_broken_off, database)
        app.state.lines.begin()
        yield
        await practice_shop.close()
        await app.state.lines.close()
        app.state.judge.close()

    app = _rooms_over(database, open_door, thinking, life)
    app.state.network = door.Network()
    app.state.practice = practice_shop
    open_rooms(app, [r.router for r in (practice, practice_tables, practice_sheet, keeping, door)])
    app.mount(ON_PRACTICE, practice_shop)
    return _with_pages(app, built)


def _rooms_over(
    database: Database,
    open_door: Callable[[int], TableDoor],
    judge: Judge,
    life: Callable[[FastAPI], AbstractAsyncContextManager[None]] | None = None,
    lines: Lines | None = None,
) -> FastAPI:
    """The rooms of a shop's work over its records: those of the shop, or those of the practice shop."""
    app = FastAPI(
        title="Orthotome",
        version=__version__,
        lifespan=life,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.database = database
    app.state.judge = judge
    app.state.benches = KeptAnswers(MOST_BENCHES_KEPT)
    app.state.programs = KeptAnswers(MOST_BENCHES_KEPT)
    app.state.watched = {}
    app.state.parts = KeptAnswers(MOST_BENCHES_KEPT)
    app.state.revisions = KeptAnswers(MOST_REVISIONS_KEPT)
    app.state.open_door = open_door
    app.state.lines = lines or Lines(database)
    open_rooms(app, [room.router for room in _ROOMS])
    problems.install(app)
    return app


def _with_pages(app: FastAPI, built: Path) -> FastAPI:
    """The same with the built pages before it, and a guard before everything."""
    front_end.install(app, built)
    app.add_middleware(Guard)
    return app
