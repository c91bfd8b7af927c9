"""``./run proof``: every claim that the suite decides early, decided by all of its cases; figures into docs/proof.md."""

import os
from pathlib import Path

from tools.suite.plan import ROOT

FIGURES = "ORTHOTOME_PROOF"
PAGE = ROOT / "docs" / "proof.md"
_HEAD = """# What the long forms show

`./run test` decides claims about many simulated cases as early as they can be decided (`tests/enough.py` says how); `./run proof`
takes all of the cases, and writes this page. Figures as measured at the last `./run proof`.

| Claim | Shown | Cases | Asked |
|---|---|---|---|
"""


def modules() -> list[str]:
    """The modules of tests that have a long form."""
    return [
        ".".join(file.relative_to(ROOT).with_suffix("").parts)
        for file in sorted((ROOT / "tests").rglob("test_*.py"))
        if "from tests.enough import" in file.read_text()
    ]


def begin(folder: Path) -> None:
    """Gather figures in that folder: set before the tests are imported."""
    os.environ[FIGURES] = str(folder / "figures")


def write_down() -> None:
    """The page of figures."""
    from tests.enough import figures  # noqa: PLC0415 (it looks at once whether this is a proof)

    rows = sorted(f"| {f['what']} | {f['figure']} | {f['of']} | {f['asked']} |" for f in figures())
    PAGE.write_text(_HEAD + "\n".join(rows) + "\n")
