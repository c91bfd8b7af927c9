"""``./run bench programs``: lines a second and memory of checking a program of 100,000 lines, against its limits."""

import math
import resource
import subprocess
import sys
import time

from orthotome.core.book.start_rows import StartValues
from orthotome.core.programs.check import check
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob, Table
from orthotome.formats.machine.profile import SHIPPED
from orthotome.formats.programs.rs274 import read_program
from tools.figures import say

LINES, CORNERS = 100_000, 240
LIMIT_S, LIMIT_MB = 3.0, 400.0


def main() -> None:
    """Measure in a process of its own, and print."""
    told = subprocess.run(
        [sys.executable, "-m", "tools.bench_programs"], check=True, capture_output=True, text=True
    )
    lines, read_s, check_s, memory_mb, contours = map(float, told.stdout.split())
    whole = read_s + check_s
    say("a program of 100,000 lines checked, of its limit", whole / LIMIT_S, "times", f"{whole:.2f} s")
    say("of that, reading", read_s / whole, "times", f"{lines / read_s:,.0f} lines a second")
    say(
        "checked in all",
        lines / whole / (LINES / LIMIT_S),
        "times",
        f"{lines / whole:,.0f} lines a second",
    )
    say(
        "memory, of its limit",
        memory_mb / LIMIT_MB,
        "times",
        f"{memory_mb:.0f} MB, {contours:.0f} contours",
    )


def program() -> bytes:
    """Many round contours in chords, as a drawing's curves come out of a post-processor."""
    lines = ["G21", "G17 G40 G90 G94"]
    n = 0
    while len(lines) < LINES:
        x, y, n = 60 + n % 50 * 100, 60 + n // 50 * 100, n + 1
        lines += [f"G0 X{x + 38:.3f} Y{y:.3f}", "G0 Z3.8", "M3", "G4 P0.5", "G1 Z1.5 F1500"]
        for i in range(CORNERS + 4):
            a = -2 * math.pi * i / CORNERS
            lines.append(f"G1 X{x + 30 * math.cos(a):.4f} Y{y + 30 * math.sin(a):.4f} F2400")
        lines += ["M5", "G0 Z25"]
    return "\n".join([*lines, "M30", ""]).encode()


def measured() -> None:
    """What one check takes, the process's own start left out."""
    text = program()
    job = PlateJob(6.0, StartValues(2400, 128, 1.5, 3.8, 0.5, 1.6), 65, "clockwise")
    begun = time.perf_counter()
    read = read_program(text, SHIPPED["metric"])
    between = time.perf_counter()
    found = check(read, CheckedAgainst(job, Table(800)))
    done = time.perf_counter()
    memory_mb = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000
    print(read.lines, between - begun, done - between, memory_mb, len(found.contours))


if __name__ == "__main__":
    measured()
