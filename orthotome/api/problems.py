"""Every error as problem+json (RFC 9457): a clear sentence, and the path of each wrong field.

One table from kind of error to HTTP status. What the caller sent is never echoed: it may hold
numbers that JSON cannot say.
"""

import sqlite3
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from sqlalchemy.exc import DatabaseError, DBAPIError, OperationalError
from starlette.exceptions import HTTPException
from starlette.requests import ClientDisconnect

from orthotome.api.wire import Problem
from orthotome.core.doubts import Doubted
from orthotome.core.errors import TradeError
from orthotome.core.fields import field_words, named
from orthotome.desk.working.budgets import Busy, Left
from orthotome.desk.working.journal import journal
from orthotome.formats.reading import FileError, field_path, sentence
from orthotome.store.errors import ChangedMeanwhile, NotFound, Refused, StoreError, TooManyTries
from orthotome.store.keeping.files import trouble_of

STATUS_OF: dict[type[Exception], int] = {
    Doubted: 409,
    TradeError: 422,
    FileError: 422,
    NotFound: 404,
    Refused: 409,
    ChangedMeanwhile: 409,
    TooManyTries: 429,
}

_TITLES = {
    400: "That could not be read",
    403: "Not from here",
    404: "Not found",
    405: "Not possible here",
    409: "Not now",
    401: "Not let in",
    413: "Too large",
    414: "Too long",
    415: "Another kind of file",
    429: "Too many tries",
    431: "Too large",
    422: "Something is not right",
    500: "Orthotome made a mistake",
    503: "The records are busy",
    507: "No room on the disk",
}

_ORDINARY = (401, 403, 404, 409, 422)
_ADDRESS = "#/components/schemas/Problem"
PROBLEMS: dict[int | str, dict[str, Any]] = {
    status: {
        "content": {"application/problem+json": {}, "application/json": {"schema": {"$ref": _ADDRESS}}}
    }
    for status in (*_ORDINARY, "default")  # by default: too large, too many tries, no room on the disk
}
"""What every route of the OpenAPI document may answer; the schema itself stands in the document once (``install``)."""

DOUBTED = "urn:orthotome:doubted"
"""The type of a problem that is a question: the same sent again with its field insisted on is kept."""

_LONGEST = 600
"""Characters of a refusal: more is no sentence, but what somebody sent."""
_PARTS = ("body", "query", "path", "header")


def problem(
    status: int, detail: str, errors: list[dict[str, str]] | None = None, *, kind: str = "about:blank"
) -> JSONResponse:
    """One problem+json answer; whatever it tells of what was sent is one line, and not long."""
    detail = _one_line(detail)
    errors = [{**e, "message": _one_line(e["message"])} for e in errors or []]
    body: dict[str, Any] = {
        "type": kind,
        "title": _TITLES.get(status, "Not possible"),
        "status": status,
        "detail": detail,
        "errors": errors,
    }
    return JSONResponse(body, status, media_type="application/problem+json")


def _one_line(said: str) -> str:
    line = " ".join(said.split())
    return line if len(line) <= _LONGEST else f"{line[: _LONGEST - 2].rstrip()} …"


def install(app: FastAPI) -> None:
    """Answer every error of ours, and every error we did not think of, as a problem; and describe one."""
    for kind in STATUS_OF:
        app.add_exception_handler(kind, _ours)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(HTTPException, _http)
    app.add_exception_handler(DBAPIError, _records)
    app.add_exception_handler(ClientDisconnect, _gone)
    app.add_exception_handler(Left, _gone)
    app.add_exception_handler(Busy, _busy)
    app.add_exception_handler(Exception, _unforeseen)
    described = app.openapi

    def document() -> dict[str, Any]:
        found = described()
        schemas = found["components"]["schemas"]
        if "Problem" not in schemas:
            schemas["Problem"] = Problem.model_json_schema()
            found["components"]["schemas"] = dict(sorted(schemas.items()))
        return found

    app.openapi = document  # type: ignore[method-assign] # the way that FastAPI has for it


def _ours(_request: Request, error: Exception) -> JSONResponse:
    status = STATUS_OF[type(error)]
    if isinstance(error, TradeError | StoreError):
        errors = [{"field": error.field, "message": error.sentence}] if error.field else []
        kind = DOUBTED if isinstance(error, Doubted) else "about:blank"
        return problem(status, named(error.field, error.sentence), errors, kind=kind)
    field, _, message = str(error).partition(": ")
    # A file's own column is named as it stands in the file.
    return problem(status, str(error), [{"field": field, "message": message}])


def _busy(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, Busy)
    answer = problem(503, error.sentence)
    answer.headers["retry-after"] = str(error.comes_back_s)
    return answer


def _invalid(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    found = []
    for e in error.errors():
        where = tuple(p for i, p in enumerate(e["loc"]) if not (i == 0 and p in _PARTS))
        if e["type"] == "json_invalid":
            return problem(400, "The body is not JSON.")
        found.append({"field": field_path({**e, "loc": where}), "message": sentence(e)})  # type: ignore[typeddict-item]
    first = found[0]
    return problem(422, f"{field_words(first['field'])} {first['message']}", found)


def _http(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    return problem(error.status_code, str(error.detail))


_TROUBLE = {
    "held": (503, "The records are held by another program. Nothing was saved: try again in a moment."),
    "full": (507, "The disk is full or fails. Nothing was saved: make room, then save again."),
    "read_only": (
        507,
        "The disk can only be read. Nothing was saved: look at the disk, then save again.",
    ),
    "damaged": (500, "The records are damaged. Nothing was saved: stop, and restore the newest backup."),
}


def _records(request: Request, error: Exception) -> JSONResponse:
    """What the disk or the database file does not allow, in the operator's words."""
    cause = error.orig if type(error) in (OperationalError, DatabaseError) else None  # type: ignore[attr-defined]
    if not isinstance(cause, sqlite3.DatabaseError) or cause.sqlite_errorcode == sqlite3.SQLITE_ERROR:
        return _unforeseen(request, error)
    journal.error("the records: %s", cause)
    return problem(*_TROUBLE.get(trouble_of(cause), _TROUBLE["damaged"]))


def _gone(request: Request, _error: Exception) -> JSONResponse:
    """A client that went away in the middle: one line in the journal, and an answer that nobody reads."""
    journal.info("%s %s: went away before it was sent whole", request.method, request.url.path)
    return problem(400, "The request was not sent whole.")


def _unforeseen(_request: Request, _error: Exception) -> JSONResponse:
    # The server below writes the traceback into the journal.
    return problem(
        500, "Something went wrong inside Orthotome. Nothing was saved; orthotome.log has the details."
    )
