"""How long the first seconds take: a start until its page and its Bench are there, and the commands, as ratios to importing FastAPI."""

import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path

from tools.figures import say
from tools.filled_demo import fill

_ROOT = Path(__file__).resolve().parents[1]
_COMMAND = (sys.executable, "-m", "orthotome.cli")
_EXAMPLES = _ROOT / "docs" / "formats"
_TIMES = 5  # the quickest of so many: what else the machine does only adds


def main() -> None:
    """Print them."""
    peer = _quickest(lambda: _run(sys.executable, "-c", "import fastapi"))
    say("importing FastAPI alone", peer, "s", places=2)
    with tempfile.TemporaryDirectory() as folder:
        fill(Path(folder) / "demo.sqlite")
        starts = [_start(folder) for _ in range(_TIMES)]
    page, bench = (min(s[i] for s in starts) for i in (0, 1))
    say(
        "second start until the page is served", page, "s", f"{page / peer:.1f} x FastAPI; asked: 3 s", 2
    )
    say("from there until the first Bench", bench, "s", f"{bench / peer:.1f} x FastAPI; asked: 1 s", 2)
    for what, asked, words in (
        ("--help", 0.3, ("--help",)),
        ("measure", 1.0, ("measure", str(_EXAMPLES / "machine_measures.example.json"))),
        (
            "start",
            1.0,
            ("start", "--rows", str(_EXAMPLES / "rows.example.csv"), *["--metal", "mild_steel", "--thickness-mm", "8", "--set"], "70 A plate set"),
        ),
        ("advise", None, ("advise", str(_EXAMPLES / "campaign.example.json"))),
    ):  # fmt: skip
        took = _quickest(lambda words=words: _run(*_COMMAND, *words))  # type: ignore[misc]
        limit = f"; asked: {asked:g} s" if asked else ""
        say(f"orthotome {what}", took, "s", f"{took / peer:.1f} x FastAPI{limit}", 2)


def _quickest(work: Callable[[], None]) -> float:
    took = []
    for _ in range(_TIMES):
        began = time.perf_counter()
        work()
        took.append(time.perf_counter() - began)
    return min(took)


def _run(*words: str) -> None:
    subprocess.run(words, check=True, stdout=subprocess.DEVNULL)


def _start(folder: str) -> tuple[float, float]:
    """Seconds from the command to the page, and from there to the Bench of the trial that is half-way."""
    words = [*_COMMAND, "serve", "--demo", "--port", "0", "--data", folder]
    began = time.perf_counter()
    with subprocess.Popen(words, stdout=subprocess.PIPE, text=True) as served:
        assert served.stdout is not None
        address = served.stdout.readline().split()[-1]
        seen = [began]
        for path in ("/", "/api/trials/2/bench"):
            urllib.request.urlopen(address + path).read()
            seen.append(time.perf_counter())
        served.terminate()
    return seen[1] - seen[0], seen[2] - seen[1]
