"""Processes that run tasks: forked from one that has imported everything, and told what to run over a pipe.

One that has a browser keeps it, and runs the next task that wants one; any other ends with its task.
"""

import contextlib
import json
import os
import select
import subprocess
import sys
import traceback
import unittest
from collections.abc import Callable
from dataclasses import astuple, dataclass, replace
from pathlib import Path
from resource import RUSAGE_CHILDREN, RUSAGE_SELF, getrusage
from typing import IO

from tools.family import use_the_family
from tools.suite.plan import Task

_ENOUGH = b"enough\n"


@dataclass(frozen=True)
class Outcome:
    """How a task ended: how many tests ran, how many of them (or of the check: one) went wrong, and what it took."""

    ran: int = 0
    failed: int = 1
    skipped: int = 0
    processor_s: float = 0.0  # of it and of what it waited for; a browser that is kept is not waited for


class Worker:
    """A forked process that runs tasks one after the other; ``close`` is what it does before it ends."""

    def __init__(self, close: Callable[[], None]) -> None:
        told, self._tell = os.pipe()
        self.answers, answer = os.pipe()
        sys.stdout.flush()
        sys.stderr.flush()
        self.pid = os.fork()
        if not self.pid:
            use_the_family()
            status = 1
            with contextlib.suppress(KeyboardInterrupt):
                _work(os.fdopen(told), answer)
                close()
                status = 0
            os._exit(status)  # nothing of the process that it was forked from is its to clean up
        os.close(told)
        os.close(answer)

    def begin(self, task: Task, said: Path) -> None:
        """Run it, with all that it says in a file."""
        line = [task.name, list(task.words), str(task.folder), str(said)]
        os.write(self._tell, json.dumps(line).encode() + b"\n")

    def outcome(self) -> Outcome | None:
        """Of the task that was begun, once ``answers`` can be read or the worker is dead; None where it left no word."""
        left_a_word = select.select([self.answers], [], [], 0)[0]
        answer = os.read(self.answers, 1000) if left_a_word else b""
        return Outcome(*json.loads(answer)) if answer else None

    def is_dead(self) -> bool:
        """Whether it has ended; it is left to be waited for."""
        return os.waitid(os.P_PID, self.pid, os.WEXITED | os.WNOHANG | os.WNOWAIT) is not None

    def dismiss(self) -> float:
        """Let it end; the seconds of processor that it took, with all that it waited for."""
        with contextlib.suppress(BrokenPipeError):
            os.write(self._tell, _ENOUGH)
        _, _, used = os.wait4(self.pid, 0)
        os.close(self._tell)
        os.close(self.answers)
        return used.ru_utime + used.ru_stime


def _work(told: IO[str], answer: int) -> None:
    for line in told:
        if line.encode() == _ENOUGH:
            return
        name, words, folder, said = json.loads(line)
        file = os.open(said, os.O_WRONLY | os.O_APPEND | os.O_CREAT)
        os.dup2(file, 1)
        os.dup2(file, 2)
        os.close(file)
        before = _processor_s()
        try:
            outcome = _checked(words, folder) if words else _tested(name)
        except Exception:
            traceback.print_exc()
            outcome = Outcome()
        sys.stdout.flush()
        sys.stderr.flush()
        outcome = replace(outcome, processor_s=_processor_s() - before)
        os.write(answer, json.dumps(astuple(outcome)).encode())


def _processor_s() -> float:
    return sum(used.ru_utime + used.ru_stime for used in map(getrusage, (RUSAGE_SELF, RUSAGE_CHILDREN)))


def _checked(words: list[str], folder: str) -> Outcome:
    return Outcome(failed=int(subprocess.run(words, cwd=folder, check=False).returncode != 0))


def _tested(name: str) -> Outcome:
    result = unittest.main(module=None, argv=["unittest", name], exit=False).result
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return Outcome(result.testsRun, failed, len(result.skipped))
