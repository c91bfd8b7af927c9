"""How a table's own axes lie in Orthotome's frame, proved by two jogs.

Orthotome's frame: X to the right, Y away from the operator, seen from the operator's side. A table may
call front-to-back X, mirror an axis, or home in another corner. The map is a signed swap, and two jogs
prove it: which way did the torch go for X plus, and for Y plus?
"""

from dataclasses import dataclass
from typing import Literal

from orthotome.core.errors import TradeError

Direction = Literal["right", "left", "away", "toward"]
Corner = Literal["near_left", "near_right", "far_left", "far_right"]

_UNIT: dict[Direction, tuple[int, int]] = {
    "right": (1, 0),
    "left": (-1, 0),
    "away": (0, 1),
    "toward": (0, -1),
}


@dataclass(frozen=True)
class AxisMap:
    """Where the table's own +X and +Y run in Orthotome's frame."""

    x_runs: Direction
    y_runs: Direction

    def __post_init__(self) -> None:
        (a, b), (c, d) = _UNIT[self.x_runs], _UNIT[self.y_runs]
        if a * c + b * d != 0:
            raise TradeError(
                "y_runs",
                f"X and Y cannot both run along {self.x_runs} and {self.y_runs}: jog each axis by "
                "itself, and watch the torch, not the screen.",
            )

    @property
    def mirrors(self) -> bool:
        """Whether the table's frame is a mirror image: arcs then turn the other way."""
        (a, b), (c, d) = _UNIT[self.x_runs], _UNIT[self.y_runs]
        return a * d - b * c < 0

    def to_frame(self, x: float, y: float) -> tuple[float, float]:
        """A point or way in the table's own axes, in Orthotome's frame."""
        (a, b), (c, d) = _UNIT[self.x_runs], _UNIT[self.y_runs]
        return a * x + c * y, b * x + d * y

    def to_table(self, x: float, y: float) -> tuple[float, float]:
        """A point or way in Orthotome's frame, in the table's own axes (the transpose undoes it)."""
        (a, b), (c, d) = _UNIT[self.x_runs], _UNIT[self.y_runs]
        return a * x + b * y, c * x + d * y

    @property
    def in_words(self) -> str:
        """One sentence that an operator can check at the machine."""
        mirrored = " This is a mirror image: arcs turn the other way." if self.mirrors else ""
        return f"X plus runs {_WORDS[self.x_runs]}, Y plus {_WORDS[self.y_runs]}.{mirrored}"


FRAME = AxisMap("right", "away")
"""A table whose axes are Orthotome's own."""

_WORDS: dict[Direction, str] = {
    "right": "to the right",
    "left": "to the left",
    "away": "away from you",
    "toward": "toward you",
}
