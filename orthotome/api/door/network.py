"""The door to the shop's network: before everything else, whoever comes from there shows a device's token.

Requests of this machine's own browser do not come through here, and nothing is asked of them.
"""

from collections.abc import Mapping
from functools import partial
from urllib.parse import parse_qs

from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from orthotome.api.door.pairing import Pairing
from orthotome.api.door.pairing_page import pairing_page
from orthotome.api.door.rights import Needs, needs
from orthotome.api.problems import problem
from orthotome.desk.working.journal import journal
from orthotome.store.database import Database
from orthotome.store.people import devices
from orthotome.store.people.devices import LetIn

STILL_LET_IN = "still_let_in"
"""Under which a request's state holds what tells, in the midst of a long answer, whether its device may still have it."""
COOKIE = "__Host-orthotome-device"
_KEPT_S = 400 * 24 * 3600  # as long as browsers keep any cookie
_LARGEST_FORM_BYTES = 2_000
_WRONG_CODE = "That is not the code, or it is no longer good. Look at it again, or have a new one shown."


class NetworkDoor:
    """ASGI middleware over the whole application, for the listener on the shop's network."""

    def __init__(self, app: ASGIApp, database: Database, pairing: Pairing) -> None:
        self._app = app
        self._database = database
        self._pairing = pairing
        self._known: tuple[int, Mapping[str, LetIn]] = (-1, {})

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let through what this device and this person may do; else the pairing page, or a refusal."""
        if scope["type"] != "http":
            if scope["type"] == "websocket":
                await send({"type": "websocket.close", "code": 1008})
            return
        request = Request(scope, receive)
        device = await self._device(request)
        refusal = self._refusal(request, device)
        if refusal is not None:
            await refusal(scope, receive, send)
        elif request.url.path == "/pair":
            await (await self._pair(request, device))(scope, receive, send)
        else:
            still = partial(self._is_still, request, device)
            scope["state"] = {**scope.get("state", {}), "device": device, STILL_LET_IN: still}
            await self._app(scope, receive, send)

    async def _is_still(self, request: Request, device: LetIn | None) -> bool:
        """Whether who asked is what they were when they asked: let in, signed on as the same person, in the same role."""
        return await self._device(request) == device

    def _refusal(self, request: Request, device: LetIn | None) -> Response | None:
        wanted = needs(request.method, request.url.path)
        if wanted == "nothing":
            return None
        if device is None:
            if request.method == "GET" and "/api/" not in request.url.path:
                return RedirectResponse("/pair", 303)
            return _no(401, "This device was not let in: pair it first.", "device")
        return _not_for(device, wanted)

    async def _device(self, request: Request) -> LetIn | None:
        token = request.cookies.get(COOKIE)
        if not token:
            return None
        counted = self._database.changes
        if self._known[0] != counted:
            self._known = counted, await run_in_threadpool(self._read)
        return devices.shown(token, dict(self._known[1]))

    def _read(self) -> Mapping[str, LetIn]:
        with self._database.read() as session:
            return devices.let_in(session)

    async def _pair(self, request: Request, device: LetIn | None) -> Response:
        if request.method == "GET":
            if device is not None:
                return RedirectResponse("/", 303)
            return pairing_page(request.query_params.get("code", ""))
        form = await _form(request)
        code, name = form.get("code", ""), form.get("name", "").strip()[:40]
        if not name:
            return pairing_page(
                code, name, "Say what this device is called, so that it can be put out again."
            )
        if not self._pairing.accept(code):
            journal.warning(
                "a wrong pairing code, from %s", request.client.host if request.client else "?"
            )
            return pairing_page("", name, _WRONG_CODE)
        token = await run_in_threadpool(self._let_in, name)
        answer = RedirectResponse("/", 303)
        answer.set_cookie(
            COOKIE, token, max_age=_KEPT_S, path="/", secure=True, httponly=True, samesite="strict"
        )
        return answer

    def _let_in(self, name: str) -> str:
        with self._database.write(by=name) as session:
            return devices.pair(session, name)[1]


def _not_for(device: LetIn, wanted: Needs) -> Response | None:
    if wanted == "this_machine":
        return _no(403, "That is done at the machine that serves Orthotome.", "device")
    if wanted in ("person", "lead_hand") and device.person is None:
        return _no(401, "Sign on with your name and PIN first.", "sign_on")
    if wanted == "lead_hand" and device.role != "lead_hand":
        return _no(403, "That is for a lead hand: ask one to sign on here.", "role")
    return None


async def _form(request: Request) -> dict[str, str]:
    body = b""
    async for part in request.stream():
        body += part
        if len(body) > _LARGEST_FORM_BYTES:
            return {}
    try:
        return {k: v[0] for k, v in parse_qs(body.decode(), max_num_fields=4).items()}
    except ValueError:
        return {}


def _no(status: int, sentence: str, field: str) -> Response:
    return problem(status, sentence, [{"field": field, "message": sentence}])
