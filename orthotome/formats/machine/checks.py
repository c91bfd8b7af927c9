"""What is noted of a machine beside its measured pieces: timed zig-zags, circles, returns to a mark, a first touch, and
what upset it. Kept with the table as it was typed; what it says is worked out anew."""

from typing import Annotated, Literal

from pydantic import Field

from orthotome.core.machine.hole_table import TriedHole, check_tried
from orthotome.core.machine.run_up import STOPWATCH_U_S, ZigZag
from orthotome.core.machine.slack import Circle, Return, Turns
from orthotome.core.machine.touch_height import Touched
from orthotome.formats.reading import TINY, FileModel

Size = Annotated[float, Field(ge=TINY, le=100_000)]
Sigma = Annotated[float, Field(ge=TINY, le=10)]
Off = Annotated[float, Field(ge=-1000, le=1000)]


class TimedFile(FileModel):
    """One zig-zag, timed."""

    legs: Annotated[int, Field(ge=2, le=10_000)]
    leg_mm: Size
    speed_mm_min: Annotated[float, Field(ge=TINY, le=200_000)]
    seconds: Annotated[float, Field(ge=TINY, le=3600)]
    u_s: Annotated[float, Field(ge=TINY, le=10)] = STOPWATCH_U_S

    def run(self) -> ZigZag:
        """As core thinks of it."""
        return ZigZag(self.legs, self.leg_mm, self.speed_mm_min, self.seconds, self.u_s)


class AccelerationFile(FileModel):
    """Zig-zags along one axis."""

    kind: Literal["acceleration"]
    axis: Literal["x", "y"]
    runs: Annotated[tuple[TimedFile, ...], Field(min_length=1, max_length=20, strict=False)]


class CircleFile(FileModel):
    """One circle, across X, across Y, and both diagonals."""

    turns: Turns
    x_mm: Size | None = None
    y_mm: Size | None = None
    a_mm: Size | None = None
    b_mm: Size | None = None
    u_mm: Sigma

    def circle(self) -> Circle:
        """As core thinks of it."""
        return Circle(**self.model_dump())


class SlackFile(FileModel):
    """Circles cut each way round."""

    kind: Literal["slack"]
    drawn_mm: Size
    circles: Annotated[tuple[CircleFile, ...], Field(min_length=1, max_length=20, strict=False)]


class ReturnFile(FileModel):
    """Where the torch stood after a run, off its mark."""

    kind: Literal["lost_steps"]
    x_mm: Off | None = None
    y_mm: Off | None = None
    u_mm: Sigma

    def back(self, steps_per_mm_x: float | None, steps_per_mm_y: float | None) -> Return:
        """As core thinks of it."""
        return Return(self.x_mm, self.y_mm, self.u_mm, steps_per_mm_x, steps_per_mm_y)


class TouchFile(FileModel):
    """The height that was told, and the gap that was found."""

    kind: Literal["touch_height"]
    told_mm: Size
    found_mm: Size
    u_mm: Sigma

    def touched(self) -> Touched:
        """As core thinks of it."""
        return Touched(self.told_mm, self.found_mm, self.u_mm)


class UpsetFile(FileModel):
    """Something that makes the right figures due."""

    kind: Literal["crash", "moved", "changed_drive"]


CheckFile = Annotated[
    AccelerationFile | SlackFile | ReturnFile | TouchFile | UpsetFile, Field(discriminator="kind")
]


class TriedHoleFile(FileModel):
    """A hole that was cut and tried."""

    drawn_mm: Size
    top_mm: Size | None = None
    bottom_mm: Size | None = None
    other_mm: Size | None = None
    went_mm: Size | None = None
    stopped_mm: Size | None = None
    u_mm: Sigma = 0.1
    flat: bool | None = None
    fell: bool | None = None

    def hole(self) -> TriedHole:
        """As core thinks of it. Raises TradeError, naming the field, for what no such hole can have."""
        hole = TriedHole(**self.model_dump())
        check_tried(hole)
        return hole
