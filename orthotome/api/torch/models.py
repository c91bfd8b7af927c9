"""What goes over the wire of the torch: sets, what they cost, what is fitted."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from orthotome.api.wire import Id
from orthotome.core.edge.edges import Swirl
from orthotome.core.torch.fittings import Part
from orthotome.formats.reading import FileModel
from orthotome.formats.trial.campaign import (
    Text,
)


class TorchSetRequest(FileModel):
    """A new torch set."""

    name: Text
    amperage_a: Annotated[float, Field(ge=5, le=1000)]
    gas: Text
    swirl: Swirl


class TorchSetAnswer(BaseModel):
    """A torch set."""

    id: int
    name: str
    amperage_a: float
    gas: str
    swirl: Swirl
    example: bool
    parts_cost: float | None
    parts_starts: int | None


class PartsCostRequest(FileModel):
    """What one set of parts costs in the shop's money, and the starts it lasts here."""

    parts_cost: Annotated[float, Field(ge=0, le=100_000)] | None
    parts_starts: Annotated[int, Field(ge=1, le=100_000)] | None


class FitRequest(FileModel):
    """What was fitted on a table: parts (a whole set, or one part), the torch anew in its mount.

    A set that is left out is the one that is fitted. Parts that have starts behind them say how many.
    """

    kind: Literal["parts", "mount"]
    part: Part = "set"
    torch_set_id: Id | None = None
    starts: Annotated[int, Field(ge=0, le=1_000_000)] = 0


class FittingAnswer(BaseModel):
    """One thing as it is fitted now."""

    id: int
    name: str
    part: str
    fitted_at: datetime
    fitted_by: str
    starts: int
    arc_on_s: float
