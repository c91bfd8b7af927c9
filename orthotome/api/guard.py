"""Who may talk to the server: this machine's own pages, and nobody's oversized body.

Served on 127.0.0.1 only, yet any web page open in the same browser could send requests here: a
foreign Host (a name that was made to point here) or Origin is refused before anything is read.
"""

from urllib.parse import urlsplit

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from orthotome.api.problems import problem

LOCAL_NAMES = frozenset({"127.0.0.1", "localhost", "[::1]"})
LARGEST_BODY_BYTES = 6_000_000


class Guard:
    """ASGI middleware: local Host and Origin only, bodies up to a limit."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Refuse, or pass on."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        headers = {k.decode("latin-1").lower(): v.decode("latin-1") for k, v in scope["headers"]}
        refusal = _refusal(headers)
        if scope["type"] == "websocket":
            if refusal is None:
                await self._app(scope, receive, send)
            else:  # closed before it is accepted, which a browser sees as refused
                await send({"type": "websocket.close", "code": _POLICY_VIOLATION})
            return
        if refusal is not None:
            await problem(*refusal)(scope, receive, send)
            return
        await self._limited(scope, receive, send)

    async def _limited(self, scope: Scope, receive: Receive, send: Send) -> None:
        received = 0
        answered = False

        async def counted() -> Message:
            nonlocal received
            message = await receive()
            received += len(message.get("body", b""))
            if received > LARGEST_BODY_BYTES:
                raise _TooLarge
            return message

        async def noted(message: Message) -> None:
            nonlocal answered
            answered = True
            await send(message)

        try:
            await self._app(scope, counted, noted)
        except _TooLarge:
            if not answered:
                await problem(*_TOO_LARGE)(scope, receive, send)


class _TooLarge(Exception):  # noqa: N818
    pass


_POLICY_VIOLATION = 1008  # RFC 6455, section 7.4.1
_TOO_LARGE = (413, f"That is larger than {LARGEST_BODY_BYTES // 1_000_000} MB: nothing was read.")


def _refusal(headers: dict[str, str]) -> tuple[int, str] | None:
    host = headers.get("host", "")
    if _name(host) not in LOCAL_NAMES:
        return 403, "Orthotome answers to this machine only, under 127.0.0.1 or localhost."
    origin = headers.get("origin")
    if origin is not None and urlsplit(origin).netloc != host:
        return 403, "A page from elsewhere may not use Orthotome."
    length = headers.get("content-length", "0")
    return _TOO_LARGE if length.isdigit() and int(length) > LARGEST_BODY_BYTES else None


def _name(host: str) -> str:
    if host.startswith("["):
        return host.partition("]")[0] + "]"
    return host.partition(":")[0]
