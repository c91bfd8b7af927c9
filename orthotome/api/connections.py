"""Connections that are not let sit: deadlines for a request's head and body, and so many from one address.

On the shop's network anybody can open connections, paired or not. Of one address, and of the network in all, only so many
are held; one that says nothing in time is ended. This machine's own screens are not counted, and keep room of their own.
"""

import asyncio
import contextlib
import resource
from collections import Counter
from collections.abc import Callable
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

from orthotome.desk.working.journal import journal

HANDSHAKE_S = 5.0
HEAD_S = 10.0  # from the connection, or the end of an answer, to a whole head of a request
STALLS_S = 20.0  # of a body, with nothing coming
MOST_OF_AN_ADDRESS = 32  # a browser opens six, and a live cut one more
MOST_IN_ALL = 400
_LOOKS_EVERY_S = 2.0
_FILES_WANTED = 16_384

_of_address: Counter[str] = Counter()


class BoundedProtocol(H11Protocol):
    """HTTP/1.1 as uvicorn speaks it, within those bounds where the client is not this machine."""

    _counted = ""
    _heard_at_s = 0.0
    _look: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Count it, or end it at once."""
        super().connection_made(transport)
        address = self.client[0] if self.client else ""
        if self.scheme != "https":  # this machine's own listener
            return
        if _of_address[address] >= MOST_OF_AN_ADDRESS or _of_address.total() >= MOST_IN_ALL:
            journal.warning("too many connections from %s: one more was ended", address)
            transport.abort()
            return
        self._counted = address
        _of_address[address] += 1
        self._heard_at_s = self.loop.time()
        self._look = self.loop.call_later(_LOOKS_EVERY_S, self._end_if_it_sits)

    def connection_lost(self, exc: Exception | None) -> None:
        """It is over."""
        if self._counted:
            _of_address[self._counted] -= 1
            self._counted = ""
        if self._look is not None:
            self._look.cancel()
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        """Something came. A head that comes in drops counts from its first one."""
        if self.cycle is not None and not self.cycle.response_complete:
            self._heard_at_s = self.loop.time()
        super().data_received(data)

    def on_response_complete(self) -> None:
        """Answered: the next head is awaited from now on."""
        self._heard_at_s = self.loop.time()
        super().on_response_complete()

    def _end_if_it_sits(self) -> None:
        waited_s = self.loop.time() - self._heard_at_s
        answering = self.cycle is not None and not self.cycle.response_complete
        if (not answering and waited_s > HEAD_S) or (
            answering and self.cycle.more_body and waited_s > STALLS_S
        ):
            self.transport.abort()
            return
        self._look = self.loop.call_later(_LOOKS_EVERY_S, self._end_if_it_sits)


def bounded_handshakes(loop: Callable[[], asyncio.AbstractEventLoop]) -> asyncio.AbstractEventLoop:
    """An event loop whose servers end a connection that does not shake hands in time."""
    made = loop()

    class Bounded(type(made)):  # type: ignore[misc]
        async def create_server(self, *args: Any, **words: Any) -> asyncio.Server:
            if words.get("ssl") is not None:
                words.setdefault("ssl_handshake_timeout", HANDSHAKE_S)
            return await super().create_server(*args, **words)  # type: ignore[no-any-return]

    made.close()
    return Bounded()


def room_for_connections() -> None:
    """As many open files as this user may have, up to plenty: connections that only sit use up no one else's."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = _FILES_WANTED if hard == resource.RLIM_INFINITY else min(hard, _FILES_WANTED)
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_NOFILE, (max(soft, wanted), hard))
