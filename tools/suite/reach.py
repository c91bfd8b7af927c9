"""What a change can reach: the tests that import something of it, however far off. For working; a landing runs everything."""

import subprocess
from functools import cache
from pathlib import Path

import grimp  # comes with import-linter

from tools.suite.plan import BROWSER, ROOT, THE_CHECKS, Task

_PACKAGES = ("orthotome", "tests", "tools")
_FRONT_END = (f"tests.{BROWSER}", "tests.front_end")
_SETS_UP = ("pyproject.toml", "requirements", "run", ".ci")
_SAYS_NOTHING = (".md", ".png")
"""What no code depends on unless it names it."""


@cache
def changed(since: str) -> tuple[Path, ...]:
    """The files that differ from that revision, and those that git does not know yet."""
    said = [
        subprocess.run(["git", *words], cwd=ROOT, check=True, capture_output=True, text=True).stdout
        for words in (
            ("diff", "--name-only", since),
            ("ls-files", "--others", "--exclude-standard"),
        )
    ]
    return tuple(Path(line) for text in said for line in text.splitlines())


def tests_for(since: str) -> list[str] | None:
    """The modules of tests that the change can reach; None where that may be all of them."""
    graph = grimp.build_graph(*_PACKAGES)
    tests = {m for m in graph.modules if m.rpartition(".")[2].startswith("test_")}
    reached: set[str] = set()
    for file in changed(since):
        if file.parts[0] in _SETS_UP:
            return None
        if file.parts[0] == "frontend":
            reached |= {m for m in tests if m.startswith(_FRONT_END)}
            continue
        begins = (
            {_module(file)}
            if file.suffix == ".py" and file.parts[0] in _PACKAGES
            else _naming(file, graph.modules)
        )
        if not begins <= graph.modules or not (begins or file.suffix in _SAYS_NOTHING):
            return None
        for module in begins:
            reached |= {module} | graph.find_downstream_modules(module)
    return sorted(reached & tests)


def checks_for(since: str) -> tuple[Task, ...]:
    """The checks of the languages that were written in."""
    front = any(file.parts[0] == "frontend" for file in changed(since))
    python = any(file.suffix == ".py" for file in changed(since))
    return tuple(c for c in THE_CHECKS if (front if c.folder != ROOT else python))


def _module(file: Path) -> str:
    return ".".join(file.with_suffix("").parts).removesuffix(".__init__")


def _naming(file: Path, modules: set[str]) -> set[str]:
    """The modules that name a file which is no module."""
    return {m for m in modules if file.name in _text(m)}


@cache
def _text(module: str) -> str:
    file = ROOT / module.replace(".", "/")
    return (file / "__init__.py" if file.is_dir() else file.with_suffix(".py")).read_text()
