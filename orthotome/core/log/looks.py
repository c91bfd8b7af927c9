"""What is looked at beside edges and volts: in the order in which a person turns the piece in the hand.

A look is tapped (one of its choices) or typed (a number). What was not looked at is not there: it is never "none".
``item`` 0 is the piece as a whole, others are the strips, stubs, squares, holes or teeth of it
(``core.log.items``). The words for grades, rounding and colour are those by which processes are compared.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from orthotome.core.errors import TradeError
from orthotome.core.log.items import Item, SheetKind
from orthotome.core.trial.campaign import DROSS_EFFORT

Picture = Literal["grade", "lag", "rounding", "colour", "start_mark", "end_mark", "crater", "tip"]
Unit = Literal["length", "angle"]


@dataclass(frozen=True)
class LookChoice:
    """Something to tap, with what it looks like in words."""

    value: str
    label: str
    says: str = ""


@dataclass(frozen=True)
class LookFor:
    """One thing to look at: with choices to tap, or a number to type. ``picture`` names the drawing to match."""

    what: str
    question: str
    choices: tuple[LookChoice, ...] = ()
    unit: Unit | None = None
    picture: Picture | None = None
    most: float = 0.0  # of a typed number


@dataclass(frozen=True)
class Look:
    """What was seen: the value tapped, or the number typed (mm or degrees)."""

    item: int
    what: str
    value: str | None = None
    number: float | None = None


def _choices(*told: tuple[str, str, str]) -> tuple[LookChoice, ...]:
    return tuple(LookChoice(*t) for t in told)


GRADES = tuple(LookChoice(str(g), effort) for g, effort in enumerate(DROSS_EFFORT))
YES_NO = _choices(("yes", "yes", ""), ("no", "no", ""))

ROUNDING = _choices(
    ("sharp", "Sharp", "catches a fingernail"),
    ("slight", "Slight", "just broken"),
    ("rounded", "Rounded", "a radius you can see"),
    ("washed", "Washed away", "top metal gone"),
)
COLOUR = _choices(
    ("bright", "Bright", "bare metal"),
    ("grey", "Grey", "dull, even"),
    ("straw", "Straw", "light gold"),
    ("blue", "Blue", "heat-tinted"),
    ("black", "Black", "scaled or sooty"),
)
LAG = _choices(
    ("0", "Upright", "runs slow"),
    ("5", "Leaning", "about 5°"),
    ("10", "Swept", "about 10°"),
    ("20", "Far back", "about 20°"),
    ("30", "Trailing off", "30° and more"),
)
START_MARK = _choices(
    ("none", "None", ""),
    ("scar", "Scar", "a line to see"),
    ("flat", "Flat", "material left"),
    ("gouge", "Gouge", "material gone"),
)
END_MARK = _choices(
    ("none", "None", ""),
    ("tab", "Tab", "held at the bottom"),
    ("tip", "Tip left", "a corner uncut"),
    ("gouge", "Gouge", "material gone"),
)
CRATER = _choices(
    ("none", "Clean", "pierced and gone"),
    ("ring", "Ring", "some spatter round it"),
    ("crater", "Crater", "wider than the kerf"),
    ("blown", "Blown back", "spatter on the shield"),
)
TIP = _choices(
    ("sharp", "Sharp", "its corner is there"),
    ("rounded", "Rounded", "corner burnt away"),
    ("uncut", "Tip left", "corner uncut"),
)

LAG_BY_EYE = "lag_by_eye"
_EDGE_LOOKS = (
    LookFor("corner_dross", "Dross at the corners", GRADES, picture="grade"),
    LookFor(LAG_BY_EYE, "Lag lines on the edge", LAG, picture="lag"),
    LookFor("rounding", "Top edge", ROUNDING, picture="rounding"),
    LookFor("colour", "Colour of the edge", COLOUR, picture="colour"),
    LookFor("start_mark", "Where it began", START_MARK, picture="start_mark"),
    LookFor("end_mark", "Where it ended", END_MARK, picture="end_mark"),
)
_SIZES = tuple(
    LookFor(what, question, unit="length", most=2000.0)
    for what, question in (
        ("size_x", "Size left to right, at the top"),
        ("size_y", "Size near to far, at the top"),
    )
)

WHOLE: dict[SheetKind, tuple[LookFor, ...]] = {
    "square": (*_EDGE_LOOKS, *_SIZES),
    "round": _EDGE_LOOKS[1:],
    "own_part": (
        *_EDGE_LOOKS[:1],
        LookFor("hole_dross", "Dross in the holes", GRADES, picture="grade"),
        *_EDGE_LOOKS[1:],
        *_SIZES,
    ),
    "long_strip": (
        LookFor("touched", "Did the torch touch the plate?", YES_NO),
        *_EDGE_LOOKS[1:4],
    ),
    "corner": (
        LookFor("slow_from", "Zig-zag: dross from this stretch on", unit="length", most=200.0),
        *_EDGE_LOOKS[1:4],
    ),
    "strip_ladder": (),
    "height_ladder": (),
    "pierce_ladder": (),
    "start_end_ladder": (),
    "holes": (),
    "strip": _EDGE_LOOKS[1:4],
    "hole": (LookFor("hole_dross", "Dross inside", GRADES, picture="grade"),),
}
"""What is looked at on a piece as a whole, in turning order."""

_COMB_ITEM = (
    LookFor(LAG_BY_EYE, "Lag lines", LAG, picture="lag"),
    LookFor("rounding", "Top edge", ROUNDING, picture="rounding"),
)
ITEMS: dict[SheetKind, tuple[LookFor, ...]] = {
    "strip_ladder": _COMB_ITEM,
    "height_ladder": _COMB_ITEM,
    "pierce_ladder": (
        LookFor("through", "Through?", YES_NO),
        LookFor("crater", "What the pierce left", CRATER, picture="crater"),
    ),
    "start_end_ladder": (
        LookFor("start_mark", "Where it began", START_MARK, picture="start_mark"),
        LookFor("end_mark", "Where it ended", END_MARK, picture="end_mark"),
        LookFor("dropped", "Did it drop?", YES_NO),
    ),
    "holes": (
        LookFor("slug_fell", "Did the slug fall?", YES_NO),
        LookFor("hole_dross", "Dross inside", GRADES, picture="grade"),
        LookFor("top", "Across the top", unit="length", most=500.0),
        LookFor("bottom", "Across the bottom", unit="length", most=500.0),
        LookFor("pin", "Thickest pin that goes through", unit="length", most=500.0),
    ),
    "corner": (LookFor("tip", "How is its tip?", TIP, picture="tip"),),
    "long_strip": (LookFor("bevel", "Bevel here", unit="angle", most=45.0),),
}
"""What is looked at on each item of a piece."""


def looked_for(kind: SheetKind, item: int) -> tuple[LookFor, ...]:
    """What is looked at on that item of a piece; 0 is the piece as a whole."""
    return WHOLE[kind] if item == 0 else ITEMS.get(kind, ())


def check_looks(kind: SheetKind, items: Sequence[Item], looks: Sequence[Look]) -> None:
    """Raise TradeError for a look at what the piece does not have, or a value that is none of its choices."""
    numbers = {0, *(i.number for i in items)}
    seen = set()
    for look in looks:
        name = f"looks.{look.what}"
        if look.item not in numbers:
            raise TradeError(name, f"this piece has no part {look.item}: its parts are {_range(items)}.")
        wanted = next((w for w in looked_for(kind, look.item) if w.what == look.what), None)
        if wanted is None:
            known = ", ".join(w.what for w in looked_for(kind, look.item)) or "nothing more"
            raise TradeError(name, f"is not looked at here: this piece is looked at for {known}.")
        if (look.item, look.what) in seen:
            raise TradeError(name, "was said twice: say it once.")
        seen.add((look.item, look.what))
        _check_value(name, wanted, look)


def _check_value(name: str, wanted: LookFor, look: Look) -> None:
    if wanted.choices:
        values = [c.value for c in wanted.choices]
        if look.value not in values or look.number is not None:
            raise TradeError(name, f"is one of {', '.join(values)}.")
        return
    if look.value is not None or look.number is None or not math.isfinite(look.number):
        raise TradeError(name, "is a number: leave it out where it was not read.")
    least = -wanted.most if wanted.unit == "angle" else 0.0
    if not least < look.number <= wanted.most:
        raise TradeError(name, f"{look.number:g} cannot be meant: at most {wanted.most:g}.")


def _range(items: Sequence[Item]) -> str:
    return f"1 to {len(items)}" if items else "only the piece as a whole"


def look_for(kind: SheetKind, look: Look) -> LookFor:
    """What was asked where this was seen."""
    return next(w for w in looked_for(kind, look.item) if w.what == look.what)
