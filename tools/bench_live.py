"""``./run bench live [MINUTES]``: a long live cut through a real server to a real browser, and what reading a trace takes.

Ten minutes at a hundred samples a second, unless told otherwise: samples lost on the way, frames a second of the page,
its memory and the server's at the beginning and at the end, and whether what was said to be kept is in the records.
"""

import json
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Any

import numpy as np

from orthotome.core.height.trace import Trace
from orthotome.core.height.trace_report import BesideTrace, read_trace
from orthotome.formats.height.trace_csv import read_trace_csv, write_trace_csv
from orthotome.sim.live import LiveJob, LivePath, LiveTable
from orthotome.store.height import traces
from orthotome.store.keeping.opening import opened
from tools.browser import Server, chromium, open_page
from tools.figures import say

NORTH = 1
_SPEED_MM_MIN = 2100.0

_WATCH = """() => {
  const seen = (window.seen = { samples: 0, lost: 0, last: 0, frames: 0, slowest: 0 });
  const source = new EventSource('/api/tables/1/line/stream');
  source.addEventListener('samples', (e) => {
    for (const n of JSON.parse(e.data).n) {
      if (seen.last && n > seen.last + 1) seen.lost += n - seen.last - 1;
      seen.last = n;
      seen.samples++;
    }
  });
  let before = performance.now();
  const frame = (now) => {
    seen.frames++;
    seen.slowest = Math.max(seen.slowest, now - before);
    before = now;
    requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
}"""
_SEEN = "() => ({...window.seen, heap: performance.memory.usedJSHeapSize})"


def main(words: list[str]) -> None:
    """Measure and print."""
    minutes = float(words[0]) if words else 10.0
    reading()
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "long.csv"
        file.write_text(write_trace_csv(long_cut(minutes)), encoding="utf-8")
        soak(file, minutes)


def long_cut(minutes: float) -> Trace:
    """One cut that lasts so long, with corners, as the simulated table shows it."""
    length = _SPEED_MM_MIN * minutes
    corners = tuple(np.arange(500.0, length, 500.0).tolist())
    job = LiveJob(_SPEED_MM_MIN, 1.5, 3.8, 0.5, 128.0, (LivePath(length, corners),))
    seen = list(LiveTable().cut(job))
    return Trace(
        np.array([s.at_s for s in seen]),
        np.array([s.arc_voltage_v for s in seen]),
        np.array([s.z_mm for s in seen]),
        np.array([s.feed_mm_min for s in seen]),
        None,
        np.array([float(s.control_on) for s in seen]),
    )


def reading() -> None:
    """A hundred thousand samples read from CSV and analysed."""
    trace = long_cut(16.7)
    text = write_trace_csv(trace).encode()
    began = time.perf_counter()
    read = read_trace_csv(text)
    parsed = time.perf_counter() - began
    began = time.perf_counter()
    read_trace(read, BesideTrace(6.5, 1.5))
    analysed = time.perf_counter() - began
    name = f"{len(read):,} samples"
    say(f"{name} analysed", analysed, "s", f"limit 1; read from CSV in {parsed:.2f} s")


def soak(file: Path, minutes: float) -> None:
    """The live cut watched to its end."""
    words = [
        sys.executable,
        "-m",
        "orthotome.cli",
        "sim",
        "--port",
        "0",
        "--replay",
        str(file),
        "--attached",
    ]
    server = Server("--demo")
    try:
        with (
            subprocess.Popen(words, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as table,
            chromium() as browser,
        ):
            assert table.stdout is not None
            port = int(table.stdout.readline().rsplit(":", 1)[1])
            ask(server, "PUT", f"/api/tables/{NORTH}/line", {"host": "127.0.0.1", "port": port})
            page = open_page(browser, server.address + "/height")
            page.evaluate(_WATCH)
            time.sleep(20)
            first, memory = page.evaluate(_SEEN), resident_mb(server)
            time.sleep(60 * minutes - 40)
            last, after = page.evaluate(_SEEN), resident_mb(server)
            now = ask(server, "GET", f"/api/tables/{NORTH}/line")
            kept, trace_id = now["recording"]["kept"], now["recording"]["trace_id"]
            server.kill()  # what was acknowledged is on disk
            table.kill()
        report(server, first, last, (memory, after), (trace_id, kept))
    finally:
        server.close()


def report(
    server: Server,
    first: dict[str, Any],
    last: dict[str, Any],
    memory: tuple[float, float],
    recording: tuple[int, int],
) -> None:
    """Print what it came to."""
    trace_id, kept = recording
    with opened(server.path / "demo.sqlite") as database, database.read() as session:
        held = len(traces.samples(session, trace_id))
    say("samples that came to the browser", last["samples"], "", f"{last['lost']} lost on the way")
    say(
        "samples on disk after a kill, of those acknowledged",
        held / kept,
        "times",
        f"{held:,} of {kept:,}",
    )
    seconds = (last["samples"] - first["samples"]) / 100
    frames = (last["frames"] - first["frames"]) / seconds
    say("frames of the page", frames, "a second", f"limit 30; the slowest took {last['slowest']:.0f} ms")
    heap = last["heap"] / first["heap"]
    say(
        "memory of the page at the end, as at the beginning",
        heap,
        "times",
        f"{last['heap'] / 1e6:.0f} MB",
    )
    before, after = memory
    say("memory of the server likewise", after / before, "times", f"{after:.0f} MB")


def ask(server: Server, method: str, path: str, body: Any = None) -> Any:
    """One request to the API."""
    data = None if body is None else json.dumps(body).encode()
    headers = {"content-type": "application/json"}
    request = urllib.request.Request(server.address + path, data, headers, method=method)
    with urllib.request.urlopen(request, timeout=60) as answer:
        return json.loads(answer.read() or b"null")


def resident_mb(server: Server) -> float:
    """Memory that the server's process holds."""
    status = Path(f"/proc/{server.pid}/status").read_text(encoding="utf-8")
    return int(status.split("VmRSS:")[1].split()[0]) / 1000
