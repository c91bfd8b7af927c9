"""What goes over the wire of the shop: its units, its tables, metals, typed quantities."""

from typing import Annotated, Literal

from pydantic import Field

from orthotome.api.torch.models import FittingAnswer, TorchSetAnswer
from orthotome.api.wire import Id, Wire
from orthotome.formats.reading import FileModel
from orthotome.formats.trial.campaign import (
    Text,
)


class ShopChange(FileModel):
    """What to change of the shop; what is left out stays."""

    name: Annotated[str, Field(max_length=120)] | None = None
    length_unit: str | None = None
    speed_unit: str | None = None


class ShopAnswer(Wire):
    """The shop and the units it thinks in."""

    name: str
    length_unit: str
    speed_unit: str
    example: bool


class MetalAnswer(Wire):
    """A metal Orthotome has a word for."""

    name: str
    label: str
    fume: str | None
    gauges: list[int]


class QuantityRequest(FileModel):
    """Text an operator typed, to be read as a quantity."""

    text: Annotated[str, Field(max_length=60)]
    quantity: Literal[
        "length",
        "speed",
        "voltage",
        "time",
        "angle",
        "current",
        "acceleration",
        "pressure",
        "flow",
        "volume",
        "run",
        "slope",
        "temperature",
    ]
    unit: Annotated[str, Field(max_length=10)]
    metal: Text | None = None
    expected: float | None = None
    means: (
        Literal[
            "cut_speed",
            "thickness",
            "cut_height",
            "pierce_height",
            "pierce_delay",
            "kerf",
            "arc_voltage",
            "acceleration",
            "rapid",
        ]
        | None
    ) = None
    field: Annotated[str, Field(max_length=60)] = "value"


class QuantityAnswer(Wire):
    """What was read, in the kept unit, with any doubt about it."""

    value: float
    typed_unit: str
    question: str | None


class TableRequest(FileModel):
    """A new table."""

    name: Text
    bed: Literal["water", "downdraft", "open"] = "open"
    torch_set_id: Id | None = None


class TableAnswer(Wire):
    """A table with what is fitted and what is on its Bench."""

    id: int
    name: str
    bed: str
    simulated: bool
    torch_set: TorchSetAnswer | None
    parts: FittingAnswer
    mount: FittingAnswer
    bench_trial_id: int | None
