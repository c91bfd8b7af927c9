"""Reading what came from outside, in a process apart: whatever a file does there, no screen waits for it.

The process has a limit of memory and of time, and is killed past either. What it found comes back; what it
refused comes back as the same refusal.
"""

import resource
import time
import traceback
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any, TypeVar, cast

from orthotome.core.errors import TradeError
from orthotome.core.quantities import ShopUnits, speak, spoken
from orthotome.desk.working.budgets import InLine, Left, nobody_waits
from orthotome.desk.working.journal import journal
from orthotome.desk.working.processes import PROCESSES
from orthotome.formats.reading import FileError

T = TypeVar("T")

_MOST_CPU_S = 20
_MOST_WAIT_S = 120.0  # on a machine that is busy with other things
_MOST_MEMORY_BYTES = 1_000_000_000  # beyond what the process has before it reads
_LOOKS_EVERY_S = 0.2  # whether who watches has stopped it
_LINE = InLine()


class Watch:
    """Somebody watches a long file being read: the share that is done, and whether they stopped it."""

    def __init__(self) -> None:
        self.share = 0.0
        self.stopped = False


def apart(
    field: str,
    read: Callable[..., T],
    *given: Any,
    watch: Watch | None = None,
    most_cpu_s: int = _MOST_CPU_S,
) -> T:
    """``read(*given)``, worked out in a process apart; where it is watched, ``read`` is given ``progress`` to tell.

    Raises TradeError or FileError as ``read`` does, FileError naming ``field`` where it takes more time or
    memory than any honest file would, or was stopped; Busy where too many wait already, and Left where the one who
    asked has.
    """
    with _LINE.turn():
        receiving, sending = PROCESSES.Pipe(duplex=False)
        work = (sending, most_cpu_s, read, given, spoken(), watch is not None)
        process = PROCESSES.Process(target=_work, args=work, daemon=True)
        process.start()
        sending.close()
        try:
            outcome = _outcome(receiving, watch)
        except EOFError:  # it was killed for its time or its memory
            outcome = None
        finally:
            receiving.close()
            process.kill()
            process.join()
            process.close()
    if watch is not None and watch.stopped:
        raise FileError(f"{field}: reading it was stopped; nothing was kept.")
    if outcome is None and nobody_waits():
        raise Left
    if outcome is None:
        raise FileError(f"{field}: takes too much time or memory to read: simplify it.")
    kind, said = outcome
    if kind == "mistake":
        journal.error("a mistake of Orthotome while reading %s\n%s", field, said)
        raise FileError(
            f"{field}: holds something that Orthotome does not know how to read. Nothing was kept; its journal says what."
        )
    if kind == "trade":
        raise TradeError(*said)
    if kind == "file":
        raise FileError(said)
    return cast(T, said)


def _outcome(receiving: Connection, watch: Watch | None) -> tuple[str, Any] | None:
    """What was found or refused; None where it took too long, was stopped by who watches, or nobody waits for it."""
    until = time.monotonic() + _MOST_WAIT_S
    while time.monotonic() < until and not (watch is not None and watch.stopped) and not nobody_waits():
        if receiving.poll(_LOOKS_EVERY_S):
            kind, said = receiving.recv()
            if kind != "share":
                return kind, said
            if watch is not None:
                watch.share = said
    return None


def _work(  # noqa: PLR0917 (all that a process apart is given)
    sending: Connection,
    most_cpu_s: int,
    read: Callable[..., T],
    given: tuple[Any, ...],
    units: ShopUnits,
    watched: bool,
) -> None:
    in_use = _memory_in_use_bytes()
    resource.setrlimit(resource.RLIMIT_AS, (in_use + _MOST_MEMORY_BYTES,) * 2)
    resource.setrlimit(resource.RLIMIT_CPU, (most_cpu_s, most_cpu_s))
    speak(units)
    try:
        told = {"progress": lambda share: sending.send(("share", share))} if watched else {}
        sending.send(("found", read(*given, **told)))
    except BrokenPipeError:
        pass  # nobody waits for it any more
    except TradeError as refused:
        sending.send(("trade", (refused.field, refused.sentence)))
    except FileError as refused:
        sending.send(("file", str(refused)))
    except (MemoryError, RecursionError):
        pass  # said by what is not sent
    except Exception:
        sending.send(("mistake", traceback.format_exc()))


def _memory_in_use_bytes() -> int:
    with open("/proc/self/statm", encoding="ascii") as said:  # noqa: PTH123
        return int(said.read().split()[0]) * resource.getpagesize()
