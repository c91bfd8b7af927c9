"""``./run bench parts``: what a ledger of 200 sets and 100,000 starts costs the pages that read it, before and after in
one run."""

import statistics
import time
import urllib.request

from orthotome.core.torch.counts import Counts
from orthotome.core.torch.inspection import PitReading
from orthotome.store.keeping.opening import opened
from orthotome.store.torch import fittings, inspections, parts
from orthotome.store.torch.fittings import Change
from tools.browser import Server
from tools.figures import say

SETS, RUNS_EACH, STARTS_EACH = 200, 100, 5
PAGES = {
    "parts": "/api/tables/1/parts",
    "shelf": "/api/stock",
    "tables": "/api/tables",
    "a recipe watched": "/api/recipes/1/watch",
    "trim": "/api/trials/2/trim",
}
LIMIT_MS = 100.0
TIMES = 15


def main() -> None:
    """Measure and print."""
    server = Server("--demo")
    try:
        time.sleep(3)  # the tuner wakes in the background
        before = asked(server)
        server.kill()
        fill(server)
        server.start()
        time.sleep(3)
        after = asked(server)
    finally:
        server.close()
    starts = SETS * RUNS_EACH * STARTS_EACH
    for name, was in before.items():
        now = after[name]
        say(
            f"{name} with {SETS} sets and {starts} starts, of its limit",
            now / LIMIT_MS,
            "times",
            f"{now:.0f} ms",
        )
        say(f"{name}, as in the demo", now / was, "times")


def fill(server: Server) -> None:
    """Sets one after the other, each used up in a hundred runs, its electrode looked at three times."""
    with opened(server.path / "demo.sqlite") as database, database.write() as session:
        for n in range(SETS):
            fittings.fit(session, 1, "parts", Change())
            for run in range(1, RUNS_EACH + 1):
                now = fittings.count(
                    session, 1, Counts(STARTS_EACH, 14.0 * STARTS_EACH, run % 40 == 0), "cut"
                )
                if run % 34 == 0:
                    electrode = parts.of_fitting(session, now.parts.id or 0)[0].id or 0
                    seen = inspections.ToNote(pit=PitReading(0.0026 * now.starts, 0.05), verdict="keep")
                    inspections.note(session, electrode, f"bench {n} {run}", seen)


def asked(server: Server) -> dict[str, float]:
    """Milliseconds that nineteen in twenty of the pages take, by name."""
    found = {}
    for name, path in PAGES.items():
        spent = []
        for _ in range(TIMES):
            began = time.perf_counter()
            urllib.request.urlopen(server.address + path).read()
            spent.append(1000 * (time.perf_counter() - began))
        found[name] = statistics.quantiles(spent[1:], n=20)[
            -1
        ]  # the first one loads what the page needs
    return found
