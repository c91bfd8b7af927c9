"""Every check and every test, several at once: what is waited for in one (a screen, a disk, a server) is time for the others.

Each file of tests, and each class that has a browser, runs in a process of its own. It is forked from this one, which
has imported the application once: imported anew by each of a hundred, that alone would take minutes.
"""

import ast
import gc
import importlib
import os
import sys
import tempfile
import time
import unittest
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import IO

ROOT = Path(__file__).resolve().parents[1]
AT_ONCE = 4
_LONGEST_FIRST = (
    "store",
    "interface",
    "programs",
    "core",
    "api",
)  # so that nothing long is left for the end


@dataclass(frozen=True)
class Task:
    """A check, as the words of a command with the folder it runs in; or, without any, tests by unittest's name."""

    name: str
    words: Sequence[str] = ()
    folder: Path = ROOT

    def run(self) -> int:
        """Run it in this process, to its exit status."""
        if self.words:
            os.chdir(self.folder)
            os.execvp(self.words[0], list(self.words))
        ended = unittest.main(module=None, argv=["unittest", self.name], exit=False)
        return 0 if ended.result.wasSuccessful() else 1


def tests() -> list[Task]:
    """All tests: a task for each file, and for each class of those in the browser."""
    found = []
    for file in sorted((ROOT / "tests").rglob("test_*.py")):
        room, module = file.parent.name, f"tests.{file.parent.name}.{file.stem}"
        names = [f"{module}.{c}" for c in _classes_of(file)] if room == "interface" else [module]
        found += [(room, name) for name in names]
    ordered = sorted(found, key=lambda f: [f[0] != room for room in _LONGEST_FIRST])
    return [Task(name) for _, name in ordered]


def _classes_of(file: Path) -> list[str]:
    """The classes of a file that hold tests."""
    classes = [c for c in ast.parse(file.read_text()).body if isinstance(c, ast.ClassDef)]
    return [c.name for c in classes if any(getattr(f, "name", "").startswith("test_") for f in c.body)]


def run_all(tasks: Sequence[Task]) -> bool:
    """Run them, printing each when it has ended; whether all went well."""
    waiting, running = list(tasks), dict[int, tuple[Task, IO[str], float]]()
    failed: list[str] = []
    while waiting or running:
        while waiting and len(running) < AT_ONCE:
            task = waiting.pop(0)
            said: IO[str] = tempfile.TemporaryFile("w+")  # noqa: SIM115 (closed below)
            running[_begin(task, said)] = task, said, time.monotonic()
        pid, status = os.wait()
        if pid not in running:
            continue
        task, said, since = running.pop(pid)
        said.seek(0)
        print(f"{task.name}, {time.monotonic() - since:.0f} s\n{said.read()}", flush=True)
        said.close()
        if status:
            failed.append(task.name)
    for name in failed:
        print(f"FAILED: {name}")
    return not failed


def _begin(task: Task, said: IO[str]) -> int:
    sys.stdout.flush()
    pid = os.fork()
    if pid:
        return pid
    os.dup2(said.fileno(), 1)
    os.dup2(said.fileno(), 2)
    status = 1
    try:
        status = task.run()
    finally:
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(status)  # nothing of the process that it was forked from is its to clean up


def warm() -> None:
    """Import what most tests import."""
    for module in (
        "orthotome.demo",
        "orthotome.api.serving",
        "orthotome.sim.line",
        "tests.shop",
        "tools.browser",
    ):
        importlib.import_module(module)
    gc.freeze()  # what is imported is never collected: who is forked from here need not look through it


def main(checks: Sequence[Task]) -> bool:
    """All checks and tests over one filled demo shop; whether all went well."""
    from tools.filled_demo import AT_HAND, fill  # noqa: PLC0415

    with tempfile.TemporaryDirectory() as folder:
        filler = os.fork()
        if not filler:
            fill(Path(folder) / "demo.sqlite")
            os._exit(0)
        os.environ[AT_HAND] = str(Path(folder) / "demo.sqlite")
        warm()
        return os.waitpid(filler, 0)[1] == 0 and run_all([*checks, *tests()])


_BIN = ROOT / ".venv" / "bin"
CHECKS = (
    Task("eslint and prettier", ("npm", "run", "--silent", "lint"), ROOT / "frontend"),
    Task("mypy", (str(_BIN / "mypy"),)),
    Task("tsc", ("npm", "run", "--silent", "types"), ROOT / "frontend"),
    Task("ruff format", (str(_BIN / "ruff"), "format", "--check", "-q", ".")),
    Task("ruff check", (str(_BIN / "ruff"), "check", "-q", ".")),
    Task("lint-imports", (str(_BIN / "lint-imports"),)),
)

if __name__ == "__main__":
    sys.exit(not main(CHECKS))
