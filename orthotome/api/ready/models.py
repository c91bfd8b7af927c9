"""What goes over the wire of the run-through."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from orthotome.api.wire import Wire
from orthotome.core.ready.run_through import Group, Period
from orthotome.formats.reading import FileModel
from orthotome.formats.trial.campaign import Text


class EveryModel(FileModel):
    """How long an answer holds."""

    period: Period
    number: Annotated[int, Field(ge=1, le=100_000)] = 1


class ReadyItem(Wire):
    """One thing to check, why now, and the answer it has."""

    code: str
    group: str
    group_label: str
    ask: str
    if_not: str
    caution: bool
    own: bool
    because: str
    due: bool
    every: EveryModel
    answer: str | None
    note: str
    answered_by: str


class ReadyAnswer(Wire):
    """The run-through of a table."""

    table_id: int
    items: list[ReadyItem]
    due: int
    not_right: int
    begun_at: datetime | None
    last_done_at: datetime | None
    last_done_by: str
    dropped: list[str]


class ReadyRequest(FileModel):
    """An answer to one item."""

    code: Annotated[str, Field(max_length=60)]
    answer: Literal["right", "not_right", "skipped", "acknowledged"]
    note: Annotated[str, Field(max_length=500)] = ""


class ReadyRuleRequest(FileModel):
    """Drop an item, bring it back, or time it anew."""

    dropped: bool = False
    every: EveryModel | None = None


class OwnItemRequest(FileModel):
    """An item of the shop's own."""

    ask: Text
    if_not: Text
    group: Group
    every: EveryModel


class ReadyRun(Wire):
    """A run-through kept with a trial."""

    begun_at: datetime
    begun_by: str
    done_at: datetime | None
    right: int
    not_right: list[str]
    skipped: list[str]
