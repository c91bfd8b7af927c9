"""``./run test``: all checks and tests over one filled demo shop.

--since REV   only what a change since that revision can reach, for working (never for landing)
--remember    write down what each piece took, for the order in a fresh clone
--proof       the long form of every claim that the suite decides early, with its figures
"""

import argparse
import gc
import importlib
import os
import tempfile
import time
from pathlib import Path

from tools.filled_demo import AT_HAND, fill, think_of
from tools.suite import proof
from tools.suite.plan import (
    LAST_RUN,
    REMEMBERED,
    THE_CHECKS,
    Task,
    longest_first,
    pieces,
    remember,
    seconds,
    tests_of,
)
from tools.suite.processors import Processors
from tools.suite.run import Run


def _warm() -> None:
    """Import what most tests import, and begin the process that the tuner and the readers are forked from."""
    from orthotome.desk.working import processes  # noqa: PLC0415

    processes.begin()
    for module in (
        "orthotome.demo",
        "orthotome.api.serving",
        "orthotome.sim.line",
        "tests.shop",
        "tools.browser",
        # What a first request or question would import, in each fork again.
        "anyio._backends._asyncio",
        "pydantic.v1",
        "scipy.optimize",
        "sqlalchemy.dialects.sqlite",
    ):
        importlib.import_module(module)


def _close_browser() -> None:
    from tools.browser import close_browser  # noqa: PLC0415

    close_browser()


def _checks(since: str | None, *, proving: bool) -> tuple[Task, ...]:
    if proving:
        return ()
    if since is None:
        return THE_CHECKS
    from tools.suite.reach import checks_for  # noqa: PLC0415

    return checks_for(since)


def _modules(since: str | None, *, proving: bool) -> list[str] | None:
    if proving:
        return proof.modules()
    if since is None:
        return None
    from tools.suite.reach import tests_for  # noqa: PLC0415

    return tests_for(since)


def main() -> bool:
    """Run what was asked for; whether all went well."""
    asked = argparse.ArgumentParser(prog="./run test", description=__doc__)
    asked.add_argument("--since", metavar="REV")
    asked.add_argument("--remember", action="store_true")
    asked.add_argument("--proof", action="store_true")
    wanted = asked.parse_args()
    begun, before = time.monotonic(), Processors.now()
    with tempfile.TemporaryDirectory() as folder:
        demo = Path(folder) / "demo.sqlite"
        os.environ[AT_HAND] = str(demo)
        if wanted.proof:
            proof.begin(Path(folder))
        took = seconds()
        run = Run(_close_browser)
        run.add(longest_first(_checks(wanted.since, proving=wanted.proof), took))
        gc.disable()  # what is imported stays: looking through it as it grows is a third of the time of importing
        _warm()
        filler = os.fork()
        if not filler:
            fill(demo)
            os._exit(0)
        modules = _modules(wanted.since, proving=wanted.proof)
        tests = tests_of(modules) if modules != [] else []
        if os.waitpid(filler, 0)[1]:
            raise RuntimeError("the demo shop could not be filled")
        think_of(demo)
        gc.freeze()
        gc.enable()
        run.add(longest_first(pieces(tests, took), took))
        record = run.finish()
        if wanted.proof:
            proof.write_down()
    if before and (after := Processors.now()):
        print(f"\n{after.since(before)}")
    print(record.summary(time.monotonic() - begun), flush=True)
    if not record.failed and wanted.since is None and not wanted.proof:
        remember(record.took_s, REMEMBERED if wanted.remember else LAST_RUN)
    return not record.failed
