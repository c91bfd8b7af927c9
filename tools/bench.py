"""``./run bench``: figures, each on one line, measured here and now.

Nothing is judged: a limit from the design stands beside the figure it is for. Times are noisy from
machine to machine; compare ratios within one run.
"""

import gzip
import io
import json
import math
import os
import re
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import ezdxf

from orthotome import demo
from orthotome.core.trial.campaign import Target
from orthotome.core.trial.opening import default_limits, dialled_start
from orthotome.core.tuner.advise import judge
from orthotome.sim.table import SimulatedTable
from orthotome.store.bench import campaigns, lines
from orthotome.store.book import rows as book
from orthotome.store.database import Database
from orthotome.store.keeping.opening import opened
from orthotome.store.log import cuts as log_cuts
from orthotome.store.trial import trials
from tools import (
    bench_abuse,
    bench_drawings,
    bench_live,
    bench_parts,
    bench_photos,
    bench_programs,
    bench_recordings,
    bench_start,
    bench_tuner,
)
from tools.browser import CHROMIUM, Server
from tools.figures import say

ROOT = Path(__file__).parents[1]
TRIALS, CUTS_EACH = 197, 101  # with the demo's own: 200 trials, about 20,000 cuts
SCRIPT_LIMIT_KB = 200


_ONE_THING: dict[str, Callable[[list[str]], None]] = {
    "tuner": bench_tuner.main,
    "abuse": bench_abuse.main,
    "live": bench_live.main,
    "photos": lambda _: bench_photos.main(),
    "programs": lambda _: bench_programs.main(),
    "parts": lambda _: bench_parts.main(),
    "recordings": lambda _: bench_recordings.main(),
    "drawings": lambda _: bench_drawings.main(),
    "start": lambda _: bench_start.main(),
}


def main() -> None:
    """Measure and print one thing, or what concerns every page."""
    if one := _ONE_THING.get(" ".join(sys.argv[1:2])):
        one(sys.argv[2:])
    else:
        every_page()


def every_page() -> None:
    """Start, reads, writes, advice, bundle, page scores, over two hundred trials."""
    bundle()
    server = Server("--demo")
    server.kill()
    fill(server.path / "demo.sqlite")
    began = time.perf_counter()
    server.start()
    fetch(server, "/api/shop")
    say("start to first answer", time.perf_counter() - began, "s", "limit 5")
    try:
        time.sleep(3)  # the tuner wakes in the background
        interface(server)
        the_book(server)
        test_pieces(server)
        advice()
        lighthouse(server)
    finally:
        server.close()


def bundle() -> None:
    """Script of the first load: what index.html and the Bench's static imports pull in, gzipped."""
    dist = ROOT / "frontend" / "dist"
    manifest = json.loads((dist / ".vite" / "manifest.json").read_text())
    wanted, seen = ["index.html"], set()
    while wanted:
        name = wanted.pop()
        if name not in seen:
            seen.add(name)
            wanted += manifest[name].get("imports", [])
    size = sum(len(gzip.compress((dist / manifest[n]["file"]).read_bytes(), 9)) for n in seen)
    everything = sum(len(gzip.compress(p.read_bytes(), 9)) for p in (dist / "assets").glob("*.js"))
    say("script of the first load, gzip", size / 1000, "kB", f"limit {SCRIPT_LIMIT_KB}")
    say("script of every view together, gzip", everything / 1000, "kB")


def fill(path: Path) -> None:
    """Two hundred trials and twenty thousand cuts, from simulated tables."""
    with opened(path) as database:
        with database.write() as session:
            found = book.start(session, "mild_steel", 8.0, 1)
            assert found.values is not None
            start = dialled_start(found.values)
            limits = default_limits(start)
            for n in range(TRIALS):
                trial = trials.open_trial(
                    session,
                    table_id=1,
                    torch_set_id=1,
                    metal="mild_steel",
                    thickness_mm=8.0,
                    start=start,
                    found=found,
                    target=Target(2.0),
                    limits=limits,
                    title=f"Bench {n}",
                    to_bench=False,
                )
                table = SimulatedTable.from_seed(n, start, 8.0)
                made = [
                    replace(table.cut(i, "square", start.speed_mm_min, start.cut_height_mm), id=f"c{i}")
                    for i in range(CUTS_EACH)
                ]
                log_cuts.take_in_cuts(session, trial, made)
        with database.read() as session:
            listed, total = lines.trial_lines(session, most=500)
            print(f"{total} trials, {sum(line.cuts for line in listed)} cuts")


def fetch(server: Server, path: str, body: object = None, method: str = "") -> bytes:
    """One request."""
    data = None if body is None else json.dumps(body).encode()
    asked = urllib.request.Request(server.address + path, data, method=method or None)
    if data:
        asked.add_header("content-type", "application/json")
    with urllib.request.urlopen(asked) as answer:
        return bytes(answer.read())


def timed(what: str, times: int, ask: Callable[[int], object], beside: str = "") -> None:
    """p50 and p95 of asking so many times."""
    took = []
    for n in range(times):
        began = time.perf_counter()
        ask(n)
        took.append(1000 * (time.perf_counter() - began))
    p95 = statistics.quantiles(took, n=20)[-1]
    say(f"{what}, p50", statistics.median(took), "ms")
    say(f"{what}, p95", p95, "ms", beside)


def interface(server: Server) -> None:
    """Reads and writes over HTTP with that much in the database."""
    for path in ("/api/trials", "/api/tables", "/api/book/rows", "/api/recipes"):
        timed(f"GET {path}", 40, lambda _, p=path: fetch(server, p), "limit 100")  # type: ignore[misc]
    timed(
        "GET bench, new to it (with advice)", 20, lambda n: fetch(server, f"/api/trials/{20 + n}/bench")
    )
    timed("GET bench, seen before", 40, lambda _: fetch(server, "/api/trials/20/bench"), "limit 100")
    timed("GET revision (asked every 2 s)", 60, lambda _: fetch(server, "/api/trials/20/revision"))
    cut = json.loads(fetch(server, "/api/trials/3/simulated-cut", {}, "POST"))
    timed("POST cut (on disk when answered)", 60, lambda n: log(server, cut, n))


def log(server: Server, cut: dict[str, object], n: int) -> None:
    """Log one cut."""
    fetch(server, "/api/trials/3/cuts", {**cut, "key": f"bench-{n}"})


def the_book(server: Server) -> None:
    """A Book of 5,000 rows taken in over HTTP, and what is read of it then."""
    head = "metal,thickness_mm,torch_set,amperage_a,gas,speed_mm_min,arc_voltage_v,cut_height_mm,"
    lines = [head + "pierce_height_mm,pierce_delay_s,kerf_mm,source"]
    for page in range(250):
        for n in range(1, 21):
            lines.append(
                f"alloy {page},{n},70 A plate set,70,air,{11000 * n**-0.85:.0f},{112 + 2 * n},1.5,3.8,"
                f"{0.06 * n:.2f},{1.2 + 0.07 * n:.2f},made up"
            )
    text = {"text": "\n".join(lines)}
    for what, path in (("look over", "/api/book/import/preview"), ("take in", "/api/book/import")):
        began = time.perf_counter()
        fetch(server, path, text)
        say(f"{what} a CSV of 5,000 rows", 1000 * (time.perf_counter() - began), "ms", "limit 2000")
    for name, path in (
        ("rows, 5,000 of them", "/api/book/rows"),
        ("pages of the Book", "/api/book/pages"),
        ("one page", "/api/book/page?metal=alloy%207&torch_set_id=1&gas=air"),
        ("start", "/api/start?metal=alloy%207&thickness_mm=7.5&torch_set_id=1"),
        ("choose", "/api/choose?metal=mild_steel&thickness_mm=6&table_id=1"),
        ("readiness", "/api/tables/1/readiness"),
        ("signal paths", "/api/tables/1/signal-paths"),
    ):
        timed(f"GET {name}", 20, lambda _, p=path: fetch(server, p), "limit 100")  # type: ignore[misc]


def test_pieces(server: Server) -> None:
    """A batch of twelve squares from the advice to the program, its drawings, and a drawing taken in."""
    batch = "/api/trials/3/piece"
    began = time.perf_counter()
    fetch(server, f"{batch}.nc?count=12")
    say("12 squares planned, nested and written, the first", 1000 * (time.perf_counter() - began), "ms",
        "limit 1000")  # fmt: skip
    for form in ("nc", "svg", "dxf", "pdf"):
        timed(f"12 squares as {form}", 20, lambda _, f=form: fetch(server, f"{batch}.{f}?count=12"))  # type: ignore[misc]
    timed("12 squares, played", 20, lambda _: fetch(server, f"{batch}/played?count=12"), "limit 100")
    timed("what the next square needs", 20, lambda _: fetch(server, batch), "limit 100")
    drawing = rack(400)
    began = time.perf_counter()
    kept = json.loads(send(server, "/api/own-parts?name=rack", drawing))
    say("a DXF of 400 holes read", 1000 * (time.perf_counter() - began), "ms")
    own = f"{batch}.nc?kind=own_part&own_part_id={kept['id']}"
    timed("its program with kerf and leads", 3, lambda _: fetch(server, own))


def rack(holes: int) -> bytes:
    """A plate with so many holes, as a DXF."""
    made = ezdxf.new("R2010", units=4)  # type: ignore[attr-defined]
    space = made.modelspace()
    side = math.ceil(math.sqrt(holes))
    space.add_lwpolyline([(0, 0), (40 * side, 0), (40 * side, 40 * side), (0, 40 * side)], close=True)
    for n in range(holes):
        space.add_circle((20 + 40 * (n % side), 20 + 40 * (n // side)), 8)
    out = io.StringIO()
    made.write(out)
    return out.getvalue().encode()


def send(server: Server, path: str, content: bytes) -> bytes:
    """A file posted whole."""
    asked = urllib.request.Request(server.address + path, content, method="POST")
    with urllib.request.urlopen(asked) as answer:
        return bytes(answer.read())


def advice() -> None:
    """The tuner alone, over a campaign as it grows."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "one.sqlite")
        demo.fill(database)
        with database.read() as session:
            campaign = campaigns.campaign_of(session, trials.trial(session, 2))
        database.close()
    judge(campaign)
    timed("advice after 3 cuts", 20, lambda _: judge(campaign), "limit 300")
    many = replace(campaign, cuts=campaign.cuts * 34)
    timed("advice after 102 cuts", 5, lambda _: judge(many), "limit 300")


def lighthouse(server: Server) -> None:
    """Lighthouse, desktop, on the Bench: the median of five (scores vary by 8 points)."""
    folder = ROOT / "tools" / "lighthouse"
    if not (folder / "node_modules").exists():
        subprocess.run(["npm", "ci", "--silent"], cwd=folder, check=True)
    flags = "--headless --no-sandbox --disable-gpu --disable-quic --disable-background-networking"
    scores: dict[str, list[float]] = {"performance": [], "accessibility": []}
    for _ in range(5):
        done = subprocess.run(
            [
                str(folder / "node_modules/.bin/lighthouse"),
                f"{server.address}/bench",
                "--preset=desktop",
                "--quiet",
                "--output=json",
                "--only-categories=performance,accessibility",
                f"--chrome-flags={flags}",
            ],
            capture_output=True,
            text=True,
            check=True,
            env={**os.environ, "CHROME_PATH": CHROMIUM},
        )
        report = json.loads(re.sub(r"^[^{]*", "", done.stdout))
        for name, found in scores.items():
            found.append(100 * report["categories"][name]["score"])
    for name, found in scores.items():
        limit = "at least 90" if name == "performance" else "at least 100"
        say(f"Lighthouse {name}, desktop, median of 5", statistics.median(found), "", limit)


if __name__ == "__main__":
    main()
