"""A question about a reading, asked while its piece is still in the hand."""

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Question:
    """Something to look at again: the readings it is about, by their place in the cut's list."""

    about: Literal["swapped", "wild"]
    readings: tuple[int, ...]
    sentence: str
