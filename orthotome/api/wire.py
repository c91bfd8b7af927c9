"""Words that every room says over the wire the same way."""

from typing import Annotated

from pydantic import BaseModel, Field

Key = Annotated[str, Field(min_length=1, max_length=80)]


Id = Annotated[int, Field(ge=1, le=2**31)]


class Problem(BaseModel):
    """problem+json."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[dict[str, str]]
