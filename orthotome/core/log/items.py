"""What there is to look at on a piece: the strips, stubs, squares, holes or teeth of it, each with its setting.

An *item* is one of them, counted from 1 as the cut sheet counts. It is worked out from the piece as it is
programmed, and kept with the piece once it is cut: what was cut stays what it was, whatever is advised later.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from orthotome.core.edge.edges import Side
from orthotome.core.errors import TradeError
from orthotome.core.path.paths import Arc, length_mm
from orthotome.core.pieces import Contour, Piece, PieceName
from orthotome.core.trial.campaign import PieceKind

SheetKind = PieceName | Literal["strip", "hole"]
"""What may lie in the hand: a piece of ours, or a straight or a hole of any other."""

COMBS: tuple[PieceName, ...] = ("strip_ladder", "height_ladder")
"""Pieces whose slots are cuts of their own: every slot at its own setting."""

TELLS_THE_SETTING: tuple[PieceName, ...] = ("square", "round", "own_part", *COMBS)
"""Pieces whose edges say something of speed and height. The others are looked at for a thing of their own:
they are kept with the trial, and no edge of theirs counts."""

_COUNTS_AS: dict[SheetKind, PieceKind] = {
    "square": "square",
    "round": "round",
    "holes": "hole",
    "hole": "hole",
}


def counts_as(kind: SheetKind) -> PieceKind:
    """What a piece counts as where the tuner thinks: where it is nothing else, a straight that is read."""
    return _COUNTS_AS.get(kind, "strip")


@dataclass(frozen=True)
class Item:
    """One thing of a piece to look at; 0 is the piece as a whole. None is "as the piece's own"."""

    number: int
    name: str
    speed_mm_min: float | None = None
    cut_height_mm: float | None = None
    pierce_delay_s: float | None = None
    nominal_mm: float | None = None  # of a hole, or of a square's side
    kerf_mm: float | None = None  # that the path was compensated for


STATIONS = ("near the start", "in the middle", "near the end")
TEETH = ("tooth of 90°", "tooth of 60°", "tooth of 45°")


def items_of(piece: Piece, kerf_mm: float) -> tuple[Item, ...]:
    """The items of a piece in their order; none but itself, or none at all, where it is looked at as a whole."""
    if piece.kind == "square":
        return (square_item(max(piece.size_mm), kerf_mm),)
    if piece.kind in COMBS:
        return _numbered(c for c in piece.contours if c.inside and not _is_mark(c))
    if piece.kind == "pierce_ladder":
        return _numbered(c for c in piece.contours if c.pierce_delay_s is not None)
    if piece.kind == "start_end_ladder":
        loops = [c for c in piece.contours if not c.inside]
        return tuple(Item(c.number or 0, c.name.partition(": ")[2]) for c in loops)
    if piece.kind == "holes":
        bores = [c for c in piece.contours if c.inside and not _is_mark(c)]
        return tuple(
            Item(n, f"hole {n}", speed_mm_min=c.speed_mm_min, nominal_mm=_bore_mm(c) + kerf_mm)
            for n, c in enumerate(bores, 1)
        )
    names = {"corner": TEETH, "long_strip": STATIONS}.get(piece.kind, ())
    return tuple(Item(n, name) for n, name in enumerate(names, 1))


def square_item(side_mm: float, kerf_mm: float) -> Item:
    """A square as a whole: what its size is to be, and what was compensated for that."""
    return Item(0, "square", nominal_mm=side_mm, kerf_mm=kerf_mm)


def _numbered(contours: Iterable[Contour]) -> tuple[Item, ...]:
    return tuple(
        Item(n, c.name.partition(":")[0], c.speed_mm_min, c.cut_height_mm, c.pierce_delay_s)
        for n, c in enumerate(contours, 1)
    )


def _is_mark(contour: Contour) -> bool:
    return any(s.kind == "mark" for s in contour.segments)


def _bore_mm(contour: Contour) -> float:
    """Diameter of the path round a hole."""
    arc = next(m for s in contour.segments if s.kind == "cut" for m in s.moves if isinstance(m, Arc))
    return length_mm(arc) / math.pi


@dataclass(frozen=True)
class Flank:
    """One side of a strip of a comb: the slot that cut it, and which side of that slot's travel it lies on."""

    slot: int
    side: Side


def flanks_of_strip(strip: int, slots: int) -> tuple[Flank | None, Flank | None]:
    """(left, right) flank of a strip as it lies on the table; None where the outline cut it, which is no slot.

    The slots of a comb run away from the operator, slot 1 at the left, so strip k lies between slots k - 1 and
    k: its left flank is the right side of slot k - 1, its right flank the left side of slot k. Raises TradeError
    for a strip that a comb of so many slots does not have.
    """
    if not 1 <= strip <= slots + 1:
        raise TradeError("strip", f"a comb of {slots} slots has strips 1 to {slots + 1}.")
    left = Flank(strip - 1, "right") if strip > 1 else None
    right = Flank(strip, "left") if strip <= slots else None
    return left, right


def strip_of(slot: int, side: Side) -> int:
    """The strip that carries that side of a slot."""
    return slot + 1 if side == "right" else slot
