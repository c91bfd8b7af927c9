"""The practice shop: the whole application once more, over records of its own, at an address of its own.

Whatever is done on a practice table is so done with the same Bench, Torch and Book as on a real one, and nothing of it can
reach the shop's records. It is opened when somebody first practises.
"""

import asyncio
from collections.abc import Callable
from pathlib import Path
from threading import Lock

from fastapi import FastAPI
from starlette.types import ASGIApp, Receive, Scope, Send

from orthotome.core.practice.table_exercises import of_seed
from orthotome.desk.height.live import Lines
from orthotome.sim.practice import live_faults
from orthotome.store.database import Database
from orthotome.store.shop import shop
from orthotome.store.torch import fittings

ON_PRACTICE = "/on-practice"


class PracticeShop:
    """ASGI application of the practice tables. ``make`` builds the application over a database."""

    def __init__(self, path: Path, make: Callable[[Database], FastAPI]) -> None:
        self._path, self._make = path, make
        self._opening = Lock()
        self._app: FastAPI | None = None
        self._listens = False

    @property
    def database(self) -> Database:
        """Its records, opened or made when they are first asked for."""
        found: Database = self._opened().state.database
        return found

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer as the application does."""
        app = await asyncio.to_thread(self._opened)
        if not self._listens:
            self._listens = True
            app.state.lines.begin()
        answering: ASGIApp = app
        await answering(scope, receive, send)

    def stop_streams(self) -> None:
        """Told to stop: end what never ends by itself."""
        if self._app is not None:
            self._app.state.lines.stopping = True

    async def close(self) -> None:
        """Let go of its records."""
        if self._app is not None:
            await self._app.state.lines.close()
            self._app.state.database.close()

    def _opened(self) -> FastAPI:
        with self._opening:
            if self._app is None:
                self._app = self._make(Database(self._path))
            return self._app


def practice_lines(database: Database) -> Lines:
    """The lines of the practice tables: each shows the arc of its exercise, with what is fitted now."""

    def as_simulated(table_id: int) -> tuple[int, list[str]]:
        with database.read() as session:
            seed = shop.table(session, table_id).simulated_seed or 0
            anew = fittings.fitted_anew(session, table_id)
        return seed, sorted(live_faults(of_seed(seed), anew))

    return Lines(database, as_simulated, only_simulated=True)
