"""The built front end: the files that were there at start, pre-compressed, and nothing else.

Requests are looked up in a table of the built files made at start, so there is no path to climb out
of. Any other page address gets the application's page, which knows its own routes.
"""

import mimetypes
from dataclasses import dataclass
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import Response

from orthotome.api.problems import problem

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


@dataclass(frozen=True)
class _Built:
    body: bytes
    zipped: bytes | None
    media_type: str
    hashed: bool


def install(app: FastAPI, folder: Path) -> None:
    """Serve the built files in ``folder``; without a build, say how to make one."""
    files = _load(folder)

    @app.get("/{path:path}", include_in_schema=False)
    async def page(path: str, request: Request) -> Response:  # waits for nothing, so it waits in no line
        if path.startswith("api/"):
            return problem(404, "There is nothing at that address.")
        found = files.get(path) or (None if "." in path else files.get("index.html"))
        if found is None:
            return problem(404, "There is no such file. If there is no page at all: ./run setup.")
        return _response(found, request.headers.get("accept-encoding", ""))


def _load(folder: Path) -> dict[str, _Built]:
    files = {}
    for path in sorted(folder.rglob("*")):
        hidden = any(part.startswith(".") for part in path.relative_to(folder).parts)
        if path.is_file() and path.suffix != ".gz" and not hidden:
            zipped = path.with_name(path.name + ".gz")
            name = path.relative_to(folder).as_posix()
            files[name] = _Built(
                path.read_bytes(),
                zipped.read_bytes() if zipped.exists() else None,
                mimetypes.guess_type(path.name)[0] or "application/octet-stream",
                name.startswith("assets/"),
            )
    return files


def _response(file: _Built, accepted: str) -> Response:
    headers = {
        "content-security-policy": _POLICY,
        "x-content-type-options": "nosniff",
        "referrer-policy": "no-referrer",
        "cache-control": "public, max-age=31536000, immutable" if file.hashed else "no-cache",
        "vary": "accept-encoding",
    }
    if file.zipped is not None and "gzip" in accepted:
        headers["content-encoding"] = "gzip"
        return Response(file.zipped, media_type=file.media_type, headers=headers)
    return Response(file.body, media_type=file.media_type, headers=headers)
