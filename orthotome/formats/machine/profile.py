"""``orthotome.profile``, version 1: how a table wants its programs written.

Only the wording differs from profile to profile; the path is the piece's. The shipped ones are neutral
words of RS-274; a shop writes its own. RS-274 has no words for height control: ``M76`` (on) and ``M77`` (off),
which it leaves unassigned, are stand-ins until the shop types its own control's.
"""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotome.core.errors import TradeError
from orthotome.core.stock.gauges import MM_PER_INCH
from orthotome.formats.reading import TINY, FileModel
from orthotome.formats.trial.campaign import Text

Word = Annotated[str, Field(max_length=80, pattern=r"^[\x20-\x7e]*$")]
Words = Annotated[tuple[Word, ...], Field(max_length=60, strict=False)]

# Decimals at which a rounded coordinate is still within a thousandth of a millimetre.
FEWEST_DECIMALS = {"mm": 3, "in": 5}


class OutputProfile(FileModel):
    """The words of one table. An empty word is left out of the program."""

    format: Literal["orthotome.profile"] = "orthotome.profile"
    version: Literal[1] = 1
    name: Text
    units: Literal["mm", "in"] = "mm"
    decimals: Annotated[int, Field(ge=1, le=6)] = 3
    arcs: Literal["centre", "segments"] = "centre"
    torch_on: Word = "M3"
    torch_off: Word = "M5"
    delay_unit: Literal["s", "ms"] = "s"
    height_on: Word = ""
    height_off: Word = ""
    height_hold: Word = ""  # keeps the height it has while on; empty: off and on again
    height_follow: Word = ""  # follows again after a hold
    touch_off: Words = ()  # finds the plate's surface, before each pierce
    speed_words: Literal["every_move", "on_change"] = "every_move"
    sets_height: bool = True  # writes Z words; else the height is set by hand
    stop_before_pierce: Word = ""
    plunge_mm_min: Annotated[float, Field(ge=TINY, le=30_000, allow_inf_nan=False)] = (
        1500.0  # pierce to cut height
    )
    arc_centres: Word = (
        "G91.1"  # arc centres counted from the arc's start; empty where a control has no word
    )
    comments: Literal["brackets", "semicolon", "none"] = "brackets"
    line_numbers: bool = False
    header: Words = ()
    footer: Words = ("M30",)
    line_ending: Literal["lf", "crlf"] = "lf"

    @model_validator(mode="after")
    def _can_be_trusted(self) -> "OutputProfile":
        if not self.torch_off.strip():
            raise ValueError("torch_off: a program that never says torch off is refused.")
        if not self.torch_on.strip() or self.torch_on == self.torch_off:
            raise ValueError("torch_on: must be a word of its own.")
        if self.height_on and not self.height_off:
            raise ValueError("height_off: what switches height control on must be switched off again.")
        if bool(self.height_hold) != bool(self.height_follow):
            raise ValueError(
                "height_hold: what holds the height must be let follow again: give both words or neither."
            )
        if self.height_hold and not self.height_on:
            raise ValueError(
                "height_hold: only what is switched on can be held: give height_on as well."
            )
        if not self.sets_height and not self.stop_before_pierce:
            raise ValueError(
                "stop_before_pierce: where no height is written, the program must stop for the hand "
                "that sets it."
            )
        fewest = FEWEST_DECIMALS[self.units]
        if self.decimals < fewest:
            raise ValueError(f"decimals: {fewest} at least, or the path strays from the piece.")
        return self

    @property
    def starts_each(self) -> int:
        """Arc starts that a pierce takes: by hand the arc goes out before the cut height is set."""
        return 1 if self.sets_height else 2

    @property
    def per_mm(self) -> float:
        """What a millimetre is in the program's unit."""
        return 1.0 if self.units == "mm" else 1 / MM_PER_INCH


SHIPPED: dict[str, OutputProfile] = {
    p.name: p
    for p in (
        OutputProfile(name="metric"),
        OutputProfile(name="inch", units="in", decimals=5),
        OutputProfile(name="metric-height-control", height_on="M76", height_off="M77"),
        OutputProfile(
            name="inch-height-control", units="in", decimals=5, height_on="M76", height_off="M77"
        ),
        OutputProfile(name="by-hand", sets_height=False, stop_before_pierce="M0"),
        OutputProfile(
            name="segments-only",
            arcs="segments",
            line_numbers=True,
            delay_unit="ms",
            speed_words="on_change",
        ),
    )
}


def profile_named(name: str) -> OutputProfile:
    """A shipped profile. Raises TradeError naming those there are."""
    if name not in SHIPPED:
        raise TradeError("profile", f"there is no profile “{name}”: use one of {', '.join(SHIPPED)}.")
    return SHIPPED[name]
