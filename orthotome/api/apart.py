"""Reading what came from outside, in a process apart: whatever a file does there, no screen waits for it.

The process has a limit of memory and of time, and is killed past either. What it found comes back; what it
refused comes back as the same refusal.
"""

import multiprocessing
import resource
import threading
import traceback
from collections.abc import Awaitable, Callable
from multiprocessing.connection import Connection
from typing import Annotated, Any, TypeVar, cast

from fastapi import Depends, HTTPException, Request

from orthotome.api.journal import journal
from orthotome.core.errors import TradeError
from orthotome.core.quantities import ShopUnits, speak, spoken
from orthotome.formats.reading import FileError

T = TypeVar("T")

_MOST_CPU_S = 20
_MOST_WAIT_S = 120.0  # on a machine that is busy with other things
_MOST_MEMORY_BYTES = 1_000_000_000  # beyond what the process has before it reads
_AT_ONCE = threading.Semaphore(2)

# A server of processes, which has everything imported: a new process is a copy of it, in some milliseconds.
_PROCESSES = multiprocessing.get_context("forkserver")
_PROCESSES.set_forkserver_preload(
    [
        "orthotome.api.apart",
        "orthotome.formats.pieces.drawing",
        "orthotome.formats.book.recipe",
        "orthotome.formats.log.photo",
        "orthotome.formats.programs.correcting",
        "orthotome.formats.programs.picture",
        "orthotome.formats.programs.remaking",
        "shapely",
    ]
)


def apart(field: str, read: Callable[..., T], *given: Any) -> T:
    """``read(*given)``, worked out in a process apart.

    Raises TradeError or FileError as ``read`` does, and FileError naming ``field`` where it takes more time or
    memory than any honest file would.
    """
    with _AT_ONCE:
        receiving, sending = _PROCESSES.Pipe(duplex=False)
        process = _PROCESSES.Process(
            target=_work, args=(sending, _MOST_CPU_S, read, given, spoken()), daemon=True
        )
        process.start()
        sending.close()
        try:
            outcome = receiving.recv() if receiving.poll(_MOST_WAIT_S) else None
        except EOFError:  # it was killed for its time or its memory
            outcome = None
        finally:
            receiving.close()
            process.kill()
            process.join()
            process.close()
    if outcome is None:
        raise FileError(f"{field}: takes too much time or memory to read: simplify it.")
    kind, said = outcome
    if kind == "mistake":
        journal.error("a mistake of Orthotome while reading %s\n%s", field, said)
        raise RuntimeError(f"reading {field} failed")
    if kind == "trade":
        raise TradeError(*said)
    if kind == "file":
        raise FileError(said)
    return cast(T, said)


def _work(
    sending: Connection,
    most_cpu_s: int,
    read: Callable[..., T],
    given: tuple[Any, ...],
    units: ShopUnits,
) -> None:
    in_use = _memory_in_use_bytes()
    resource.setrlimit(resource.RLIMIT_AS, (in_use + _MOST_MEMORY_BYTES,) * 2)
    resource.setrlimit(resource.RLIMIT_CPU, (most_cpu_s, most_cpu_s))
    speak(units)
    try:
        sending.send(("found", read(*given)))
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


def sent_as(*media_types: str) -> Callable[[Request], Awaitable[bytes]]:
    """A dependency: what was sent, as it is, where it calls itself one of these kinds of file, or none.

    The route itself then runs beside the event loop, not on it.
    """

    async def whole(request: Request) -> bytes:
        said = request.headers.get("content-type", "").partition(";")[0].strip().lower()
        if said not in ("", "application/octet-stream", *media_types):
            raise HTTPException(415, f"That is said to be {said}: send {' or '.join(media_types)}.")
        return await request.body()

    return whole


def takes(*media_types: str) -> dict[str, Any]:
    """What a route that takes a file as it is says of its body in the OpenAPI document."""
    content = {m: {"schema": {"type": "string", "format": "binary"}} for m in media_types}
    return {"requestBody": {"required": True, "content": content}}


DRAWING_TYPES = ("image/vnd.dxf", "image/svg+xml", "application/dxf", "image/x-dxf")
PICTURE_TYPES = ("image/png", "image/jpeg", "image/webp", "image/heic", "image/heif")
PROGRAM_TYPES = ("text/plain",)
JSON_TYPES = ("application/json",)
CSV_TYPES = ("text/csv",)

DrawingBody = Annotated[bytes, Depends(sent_as(*DRAWING_TYPES))]
PictureBody = Annotated[bytes, Depends(sent_as(*PICTURE_TYPES))]
JsonBody = Annotated[bytes, Depends(sent_as(*JSON_TYPES))]
ProgramBody = Annotated[bytes, Depends(sent_as(*PROGRAM_TYPES))]
CsvBody = Annotated[bytes, Depends(sent_as(*CSV_TYPES))]
