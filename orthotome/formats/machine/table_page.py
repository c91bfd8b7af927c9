"""What is written down of a table: how its axes lie, how it finds and holds height, what feeds it.

Kept with the table. Everything may be unknown (null), and then what needs it says so; nothing is
assumed in its place.
"""

from typing import Annotated

from pydantic import Field, model_validator

from orthotome.core.choose.choosing import Machine
from orthotome.core.errors import TradeError
from orthotome.core.machine.adjusting import Gantry, SquaredBy
from orthotome.core.machine.air import AirSupply
from orthotome.core.machine.axis_map import AxisMap, Corner, Direction
from orthotome.core.machine.motion import DelayOrigin
from orthotome.core.ready.run_through import HeightControlKind, Starting, TouchOff
from orthotome.formats.book.rows import Flow, Pressure
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.reading import TINY, FileModel
from orthotome.formats.trial.campaign import Seconds, Text

Positive = Annotated[float, Field(ge=TINY, le=1_000_000)]


class AirFile(FileModel):
    """What feeds the plasma source."""

    need_l_min: Flow | None = None
    delivery_l_min: (
        Annotated[float, Field(ge=TINY, le=100_000, description="l/min of free air")] | None
    ) = None
    tank_l: Positive | None = None
    cut_out_kpa: Pressure | None = None
    cut_in_kpa: Pressure | None = None
    least_kpa: Pressure | None = None
    flowing_kpa: Pressure | None = None
    hose_length_m: Annotated[float, Field(ge=TINY, le=1000)] | None = None
    hose_bore_mm: Annotated[float, Field(ge=2, le=100)] | None = None
    dew_point_c: Annotated[float, Field(ge=-90, le=60)] | None = None
    coldest_c: Annotated[float, Field(ge=-60, le=60)] | None = None

    def supply(self) -> AirSupply | None:
        """As core thinks of it; None while the source's need is unknown, on which all else rests."""
        if self.need_l_min is None:
            return None
        return AirSupply(**self.model_dump())


Steps = Annotated[float, Field(ge=TINY, le=100_000, description="of a motor, for each millimetre")]
Cost = Annotated[float, Field(ge=0, le=1_000_000, description="in the shop's money")]


class TablePage(FileModel):
    """The table's own page."""

    x_runs: Direction | None = None
    y_runs: Direction | None = None
    home: Corner | None = None
    axes_proved: bool = False
    height_control: HeightControlKind | None = None
    switches_itself_on: bool | None = None
    touch_off: TouchOff | None = None
    touch_off_offset_mm: Annotated[float, Field(ge=-20, le=20)] | None = None
    delay_origin: DelayOrigin | None = None
    height_delay_s: Seconds | None = None  # from delay_origin until height control follows
    arc_signal: bool | None = None
    ramp_down_s: Seconds | None = None
    gases: Annotated[tuple[Text, ...], Field(max_length=12, strict=False)] = ()
    starting: Starting | None = None
    water_level_mm: Annotated[float, Field(ge=-1000, le=1000)] | None = None
    acceleration_mm_s2: Annotated[float, Field(ge=1, le=100_000)] | None = None
    fastest_mm_min: Annotated[float, Field(ge=100, le=200_000)] | None = None
    extent_x_mm: Annotated[float, Field(ge=50, le=100_000)] | None = None
    extent_y_mm: Annotated[float, Field(ge=50, le=100_000)] | None = None
    drive_distance_mm: Annotated[float, Field(ge=100, le=100_000)] | None = None  # of the gantry's two
    steps_per_mm_x: Steps | None = None
    steps_per_mm_y: Steps | None = None
    squared_by: SquaredBy | None = None
    hour_cost: Cost | None = None
    test_cut_cost: Cost | None = None  # steel, hands and table time of one test cut
    clean_up_cost_m: Cost | None = None  # of taking dross off one metre
    air: AirFile = AirFile()
    profile: OutputProfile | None = None  # how programs are written for it; null: the metric one

    @model_validator(mode="after")
    def _axes_cross(self) -> "TablePage":
        try:
            self.axis_map()
        except TradeError as wrong:
            raise ValueError(wrong.sentence) from None
        return self

    @property
    def follows_volts(self) -> bool:
        """Whether its height may be held by the arc's volts: while nobody said that it is not, it may."""
        return not self.height_by_hand and self.height_control != "touch_off"

    @property
    def height_by_hand(self) -> bool:
        """Whether the torch's height is set by hand: then it is a guess, and mostly a high one."""
        return self.height_control == "by_hand" or self.touch_off == "none"

    def axis_map(self) -> AxisMap | None:
        """How the axes lie, once both are known."""
        if self.x_runs is None or self.y_runs is None:
            return None
        return AxisMap(self.x_runs, self.y_runs)

    def gantry(self) -> Gantry:
        """What squaring and scaling it needs."""
        return Gantry(self.squared_by, self.steps_per_mm_x, self.steps_per_mm_y)

    def machine(self) -> Machine:
        """What choosing a set needs of it."""
        return Machine(
            self.acceleration_mm_s2,
            self.fastest_mm_min,
            self.hour_cost,
            self.gases,
            self.air.delivery_l_min,
        )
