"""A run: several tasks at once, each printed when it has ended, and where the time went at the end."""

import select
import tempfile
import time
from collections import defaultdict, deque
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from tools.suite.plan import BROWSER, Task
from tools.suite.workers import Outcome, Worker

AT_ONCE = 4
_SLOWEST = 10
_LOOKS_EVERY_S = (
    1.0  # whether a worker has died without a word: what it left running may hold its pipe open
)


@dataclass
class Record:
    """What a run took, and how it went."""

    took_s: dict[str, float] = field(default_factory=dict)
    used_s: dict[str, float] = field(default_factory=dict)
    wall_s: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    processor_s: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    failed: list[str] = field(default_factory=list)
    tests: int = 0
    tests_failed: int = 0
    tests_skipped: int = 0

    def note(self, task: Task, outcome: Outcome, took_s: float) -> None:
        """A task has ended."""
        self.took_s[task.name] = took_s
        self.used_s[task.name] = outcome.processor_s
        self.wall_s[task.layer] += took_s
        if outcome.failed:
            self.failed.append(task.name)
        self.tests += outcome.ran
        self.tests_failed += outcome.failed
        self.tests_skipped += outcome.skipped

    def summary(self, took_s: float) -> str:
        """The slowest, the seconds of each layer, what failed; the last line counts the tests."""
        lines = []
        for title, seconds in (("The slowest:", self.took_s), ("The most processor:", self.used_s)):
            slowest = sorted(seconds, key=lambda n: -seconds[n])[:_SLOWEST]
            lines += ["", title, *(f"{seconds[n]:7.0f} s  {n}" for n in slowest)]
        lines += ["", "Layer         waited for   processor"]
        lines += [
            f"{layer:12} {self.wall_s[layer]:8.0f} s  {self.processor_s[layer]:8.0f} s"
            for layer in sorted(self.wall_s, key=lambda n: -self.wall_s[n])
        ]
        lines += [f"In all       {took_s:8.0f} s  {sum(self.processor_s.values()):8.0f} s", ""]
        lines += [f"FAILED: {name}" for name in self.failed]
        passed = self.tests - min(self.tests_failed, self.tests)
        return "\n".join(
            [*lines, f"{passed} passed, {self.tests_failed} failed, {self.tests_skipped} skipped"]
        )


class Run:
    """Tasks that are waiting and running; ``close`` is what a worker does before it ends."""

    def __init__(self, close: Callable[[], None]) -> None:
        self.record = Record()
        self._close = close
        self._waiting: deque[Task] = deque()
        self._with_browser: list[Worker] = []
        self._running: dict[int, tuple[Task, Worker, Path, float]] = {}
        self._folder = tempfile.TemporaryDirectory()
        self._said = 0

    def add(self, tasks: Sequence[Task]) -> None:
        """Begin as many of them as may run at once; the others follow in order."""
        self._waiting.extend(tasks)
        self._begin_what_can_be()

    def finish(self) -> Record:
        """Until nothing is left."""
        while self._running:
            ready, _, _ = select.select(list(self._running), [], [], _LOOKS_EVERY_S)
            for answers in ready or [a for a, r in self._running.items() if r[1].is_dead()]:
                self._end(answers)
            self._begin_what_can_be()
        for worker in self._with_browser:
            self.record.processor_s[BROWSER] += worker.dismiss()
        self._folder.cleanup()
        return self.record

    def _begin_what_can_be(self) -> None:
        while self._waiting and len(self._running) < AT_ONCE:
            task = self._waiting.popleft()
            worker = (
                self._with_browser.pop()
                if task.in_browser and self._with_browser
                else Worker(self._close)
            )
            self._said += 1
            said = Path(self._folder.name) / str(self._said)
            self._running[worker.answers] = task, worker, said, time.monotonic()
            worker.begin(task, said)

    def _end(self, answers: int) -> None:
        task, worker, said, since = self._running.pop(answers)
        outcome = worker.outcome()
        took = time.monotonic() - since
        self.record.note(task, outcome or Outcome(), took)
        print(
            f"{task.name}, {took:.0f} s\n{said.read_text(errors='replace') if said.exists() else ''}",
            flush=True,
        )
        if task.in_browser and outcome:
            self._with_browser.append(worker)
        else:
            self.record.processor_s[task.layer] += worker.dismiss()
