"""Files sent as the body of a request, as they are: which kinds a route takes."""

from collections.abc import Awaitable, Callable
from typing import Annotated, Any

from fastapi import Depends, HTTPException, Request


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
