"""Who may talk to the server: pages of this very address, and nobody's oversized head or body.

Any web page open in the same browser could send requests here, under a name that was made to point here or
from an origin of its own: a foreign Host or Origin is refused before anything is read.
"""

import asyncio
import re
import threading
from collections.abc import Collection
from urllib.parse import urlsplit

from starlette.datastructures import MutableHeaders
from starlette.requests import ClientDisconnect
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from orthotome.api.problems import problem
from orthotome.desk.working.budgets import GONE
from orthotome.desk.working.journal import journal

LOCAL_NAMES = frozenset({"127.0.0.1", "localhost", "[::1]"})
LARGEST_BODY_BYTES = 6_000_000
LARGEST_BACKUP_BYTES = 2_000_000_000
LARGEST_PHOTO_BYTES = 30_000_000  # more than any phone's
LARGEST_TRACE_BYTES = 60_000_000  # a million samples of six columns
LARGEST_PROGRAM_BYTES = 52_428_800
LARGEST_HEAD_BYTES = 16_000

_BACKUP_COMES_IN = "/api/backups/brought-in"
_HOST = re.compile(r"([a-z0-9][a-z0-9.-]*|\[[0-9a-f:]+\])(:\d{1,5})?", re.IGNORECASE)
_GUARDED = "orthotome.guarded"
_POLICY_VIOLATION = 1008  # RFC 6455, section 7.4.1

_HEADERS = {
    "x-content-type-options": "nosniff",
    "cache-control": "no-store",
    "cross-origin-resource-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "referrer-policy": "no-referrer",
}
"""On every answer that does not say otherwise itself."""
_OF_A_DRAWING = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
"""Opened by itself, a drawing is a picture: nothing in it runs."""


class Guard:
    """ASGI middleware: hosts of these names and pages of their own only, heads and bodies up to a limit."""

    def __init__(self, app: ASGIApp, names: Collection[str] = LOCAL_NAMES) -> None:
        self._app = app
        self._names = names

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Refuse, or pass on."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        if scope.get(_GUARDED):  # by the same guard with other names, before the door
            await self._app(scope, receive, send)
            return
        scope[_GUARDED] = True
        refusal = self._refusal(scope)
        if scope["type"] == "websocket":
            if refusal is None:
                await self._app(scope, receive, send)
            else:  # closed before it is accepted, which a browser sees as refused
                await send({"type": "websocket.close", "code": _POLICY_VIOLATION})
            return
        if refusal is not None:
            await problem(*refusal)(scope, receive, _with_headers(send))
            return
        await self._limited(scope, receive, _with_headers(send))

    async def _limited(self, scope: Scope, receive: Receive, send: Send) -> None:
        received = 0
        answered = False
        most = _most_bytes(scope)
        gone = threading.Event()
        GONE.set(gone)
        waiting: asyncio.Task[None] | None = None

        async def counted() -> Message:
            nonlocal received, waiting
            message = await receive()
            received += len(message.get("body", b""))
            if received > most:
                raise _TooLarge
            if message["type"] == "http.request" and not message.get("more_body"):
                waiting = waiting or asyncio.create_task(until_gone())
            return message

        async def until_gone() -> None:
            while (await receive())["type"] != "http.disconnect":
                pass
            gone.set()

        async def noted(message: Message) -> None:
            nonlocal answered
            answered = True
            await send(message)

        try:
            await self._app(scope, counted, noted)
        except _TooLarge:
            if not answered:
                await problem(*_too_large(most))(scope, receive, send)
        except ClientDisconnect:
            journal.info("%s %s: went away before it was sent whole", scope["method"], scope["path"])
        finally:
            if waiting is not None:
                waiting.cancel()

    def _refusal(self, scope: Scope) -> tuple[int, str] | None:
        given = [(k.decode("latin-1").lower(), v.decode("latin-1")) for k, v in scope["headers"]]
        if sum(len(k) + len(v) for k, v in given) > LARGEST_HEAD_BYTES:
            return 431, "The head of the request is larger than any of Orthotome's own."
        if len(scope.get("raw_path") or b"") + len(scope["query_string"]) > LARGEST_HEAD_BYTES // 2:
            return 414, "The address is longer than any of Orthotome's own."
        hosts = [v for k, v in given if k == "host"]
        if (
            len(hosts) != 1
            or not (named := _HOST.fullmatch(hosts[0]))
            or named[1].lower() not in self._names
        ):
            return 403, "Orthotome does not answer under that name."
        headers = dict(given)
        origins = [v for k, v in given if k == "origin"]
        if any(urlsplit(o)[:2] != (scope["scheme"], hosts[0]) for o in origins):
            return 403, "A page from elsewhere may not use Orthotome."
        length, most = headers.get("content-length", "0"), _most_bytes(scope)
        return _too_large(most) if length.isdigit() and int(length) > most else None


class _TooLarge(Exception):  # noqa: N818
    pass


def _most_bytes(scope: Scope) -> int:
    path = str(scope["path"])
    if path == _BACKUP_COMES_IN:
        return LARGEST_BACKUP_BYTES
    if path.endswith("/programs"):
        return LARGEST_PROGRAM_BYTES
    if path.endswith(("/traces", "/traces/headings")):
        return LARGEST_TRACE_BYTES
    return LARGEST_PHOTO_BYTES if path.endswith(("/photo", "/photos")) else LARGEST_BODY_BYTES


def _too_large(most: int) -> tuple[int, str]:
    return 413, f"That is larger than {most // 1_000_000} MB: nothing was read."


def _with_headers(send: Send) -> Send:
    async def answer(message: Message) -> None:
        if message["type"] == "http.response.start":
            headers = MutableHeaders(scope=message)
            for name, value in _HEADERS.items():
                headers.setdefault(name, value)
            if headers.get("content-type", "").startswith("image/svg"):
                headers.setdefault("content-security-policy", _OF_A_DRAWING)
        await send(message)

    return answer
