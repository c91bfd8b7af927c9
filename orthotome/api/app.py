"""The application: routers under /api, the built front end beside them, guarded and with problems."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI

from orthotome import __version__
from orthotome.api import front_end, problems
from orthotome.api.guard import Guard
from orthotome.api.judging import Judge
from orthotome.api.models import Problem
from orthotome.api.routers import book, choosing, machine, pieces, plates, readiness, shop, trials
from orthotome.store.database import Database

FRONT_END = Path(__file__).parents[2] / "frontend" / "dist"

_PROBLEMS = {
    status: {"model": Problem, "content": {"application/problem+json": {}}}
    for status in (400, 403, 404, 409, 413, 422)
}


def create_app(database: Database, built: Path = FRONT_END) -> FastAPI:
    """The application over one database."""

    @asynccontextmanager
    async def life(_app: FastAPI) -> AsyncIterator[None]:
        app.state.judge.wake()
        yield
        database.close()

    app = FastAPI(
        title="Orthotome",
        version=__version__,
        lifespan=life,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        responses=_PROBLEMS,  # type: ignore[arg-type]
        generate_unique_id_function=lambda route: route.name,
    )
    app.state.database = database
    app.state.judge = Judge()
    for room in (shop, machine, readiness, book, choosing, trials, pieces, plates):
        app.include_router(room.router, prefix="/api")
    problems.install(app)
    front_end.install(app, built)
    app.add_middleware(Guard)
    return app
