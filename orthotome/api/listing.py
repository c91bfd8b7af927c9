"""Any list as a file to save: CSV in the shop's units, JSON in those of the open files."""

from collections.abc import Sequence
from typing import Literal, TypeVar

from fastapi.responses import Response

from orthotome.formats.listing import Column, write_csv, write_json

T = TypeVar("T")
ListForm = Literal["csv", "json"]


def listed(form: ListForm, name: str, columns: Sequence[Column[T]], rows: Sequence[T]) -> Response:
    """The rows as a file of that name."""
    text = write_csv(columns, rows) if form == "csv" else write_json(columns, rows)
    media = "text/csv; charset=utf-8" if form == "csv" else "application/json"
    headers = {"content-disposition": f'attachment; filename="{name}.{form}"'}
    return Response(text, media_type=media, headers=headers)
