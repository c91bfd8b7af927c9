"""What a run consists of: checks, and tests in pieces that are long enough to be worth a process, ordered by what they last took."""

import json
import unittest
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
REMEMBERED = Path(__file__).with_name("seconds.json")
"""What each piece took when it was last written down (``./run test --remember``): the order for a fresh clone."""
LAST_RUN = ROOT / ".venv" / "test-seconds.json"
BROWSER = "interface"
CHECKS = "checks"
UNKNOWN_S = 10.0
_SPLIT_FROM_S = 20.0


@dataclass(frozen=True)
class Task:
    """A check, as the words of a command with the folder it runs in; or, without any, tests by unittest's names."""

    name: str
    layer: str
    words: Sequence[str] = ()
    folder: Path = ROOT

    @property
    def in_browser(self) -> bool:
        """Whether it is run by a worker that keeps a browser."""
        return self.layer == BROWSER


_BIN = ROOT / ".venv" / "bin"
_FRONT = ROOT / "frontend"
_NODE = ("npm", "run", "--silent")
THE_CHECKS = (
    Task("types and lint of the front end", CHECKS, (*_NODE, "lint"), _FRONT),
    Task("rooms of the front end", CHECKS, (*_NODE, "rooms"), _FRONT),
    Task("format of the front end", CHECKS, (*_NODE, "format:check"), _FRONT),
    Task("mypy", CHECKS, (str(_BIN / "mypy"),)),
    Task("ruff format", CHECKS, (str(_BIN / "ruff"), "format", "--check", "-q", ".")),
    Task("ruff check", CHECKS, (str(_BIN / "ruff"), "check", "-q", ".")),
    Task("lint-imports", CHECKS, (str(_BIN / "lint-imports"),)),
)


def seconds() -> dict[str, float]:
    """What each piece took, on this machine where it has run here."""
    found: dict[str, float] = {}
    for file in (REMEMBERED, LAST_RUN):
        if file.exists():
            found |= json.loads(file.read_text())
    return found


def remember(took: Mapping[str, float], file: Path) -> None:
    """Write down what each piece took."""
    rounded = {name: round(s, 1) for name, s in sorted(took.items())}
    file.write_text(json.dumps(rounded, indent=1) + "\n")


def tests_of(modules: Iterable[str] | None = None) -> list[str]:
    """The names of all tests (of those modules), which are imported for it. Raises ImportError naming what cannot be."""
    loader = unittest.TestLoader()
    if modules is None:
        suite: unittest.TestSuite = loader.discover(str(ROOT / "tests"), top_level_dir=str(ROOT))
    else:
        suite = loader.loadTestsFromNames(sorted(modules))
    if loader.errors:
        raise ImportError("\n".join(map(str, loader.errors)))
    return [case.id() for case in _cases(suite)]


def _cases(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for found in suite:
        if isinstance(found, unittest.TestSuite):
            yield from _cases(found)
        elif isinstance(found, unittest.TestCase):
            yield found


def pieces(tests: Iterable[str], took: Mapping[str, float]) -> list[Task]:
    """The tests class by class; test by test where a class without a browser is long."""
    classes: dict[str, list[str]] = defaultdict(list)
    for test in tests:
        classes[test.rpartition(".")[0]].append(test)
    tasks = []
    for name, held in classes.items():
        layer = name.split(".")[1]
        total = took.get(name, sum(took.get(test, 0.0) for test in held))
        split = layer != BROWSER and total >= _SPLIT_FROM_S
        tasks += [Task(each, layer) for each in (held if split else [name])]
    return tasks


def longest_first(tasks: Iterable[Task], took: Mapping[str, float]) -> list[Task]:
    """So that nothing long is left for the end."""
    return sorted(tasks, key=lambda task: -took.get(task.name, UNKNOWN_S))
