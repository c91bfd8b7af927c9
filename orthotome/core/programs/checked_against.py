"""What a program is checked against: the setting, the fitted parts, the table, the sheet and the part's drawing.

None is "not known": what needs it is then said to be untold, never assumed in silence.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

from orthotome.core.book.start_rows import StartValues
from orthotome.core.choose.capability import UNWRITTEN, Capability
from orthotome.core.edge.edges import Side, Swirl, good_side
from orthotome.core.machine.motion import DelayOrigin
from orthotome.core.path.rings import Ring
from orthotome.core.pieces.piece import ACCELERATION_MM_S2
from orthotome.core.pieces.timing import USUAL_RAPID_MM_MIN


@dataclass(frozen=True)
class PlateJob:
    """A setting for one plate with one set: a proven recipe, or a trial's starting numbers."""

    thickness_mm: float
    setting: StartValues
    amperage_a: float
    swirl: Swirl
    capability: Capability = UNWRITTEN

    @property
    def good(self) -> Side:
        """The side of travel that kept metal belongs on."""
        return good_side(self.swirl)


@dataclass(frozen=True)
class Table:
    """What is written down of the machine."""

    acceleration_mm_s2: float | None = None
    fastest_mm_min: float | None = None
    ramp_down_s: float | None = None
    delay_origin: DelayOrigin | None = None
    height_delay_s: float | None = None
    extent_mm: tuple[float | None, float | None] = (None, None)

    @property
    def acceleration(self) -> float:
        """Its acceleration, or an ordinary table's."""
        return self.acceleration_mm_s2 or ACCELERATION_MM_S2

    @property
    def rapid_mm_min(self) -> float:
        """Its fastest, or an ordinary table's."""
        return self.fastest_mm_min or USUAL_RAPID_MM_MIN


@dataclass(frozen=True)
class CheckedAgainst:
    """All of it."""

    job: PlateJob | None = None
    table: Table = field(default_factory=Table)
    sheet_mm: tuple[float, float] | None = None
    drawing: tuple[Ring, ...] | None = None
    nominal: Mapping[int, tuple[float, float]] = field(default_factory=dict)
    """Sizes that contours ought to come out at, in mm by the contour's number, typed in place of a drawing."""
