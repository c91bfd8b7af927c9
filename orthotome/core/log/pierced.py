"""What the pierces of a trial say of how it is to pierce from now on: a delay that a ladder proved, a height that spares
the shield."""

from collections.abc import Sequence
from dataclasses import dataclass

from orthotome.core.book.start_rows import StartValues
from orthotome.core.log.items import Item, SheetKind
from orthotome.core.log.looks import Look
from orthotome.core.log.says import what_it_says
from orthotome.core.quantities import in_steps, length, pierce_height_step_mm, seconds

_BLOWN = 3  # pierces with spatter on the shield before it is no chance
_CUT_HEIGHTS = 2.0  # to pierce at, of the cut height, where metal is blown back (domain section 16)
_HIGHER = 1.2  # times the height, where it is that much already; assumption
_SAME_S = 0.01


@dataclass(frozen=True)
class Pierced:
    """A piece with what was seen of its pierces."""

    number: int
    kind: SheetKind
    items: tuple[Item, ...]
    looks: tuple[Look, ...]

    @property
    def blown(self) -> int:
        """Pierces that blew metal back at the shield."""
        return sum(k.what == "crater" and k.value == "blown" for k in self.looks)


@dataclass(frozen=True)
class PierceAdvice:
    """How to pierce from now on: what is to be another, and why. None: as it is."""

    why: str
    pierce_delay_s: float | None = None
    pierce_height_mm: float | None = None


def delay_advice(
    pieces: Sequence[Pierced], told: StartValues, thickness_mm: float
) -> PierceAdvice | None:
    """The delay of the newest ladder, of the pieces since a delay was told, where it is another than is told."""
    for piece in reversed(pieces):
        if piece.kind != "pierce_ladder":
            continue
        said = what_it_says(piece.kind, piece.items, piece.looks, thickness_mm)
        delay = next((s.pierce_delay_s for s in said if s.pierce_delay_s is not None), None)
        if delay is None or abs(delay - told.pierce_delay_s) <= _SAME_S:
            return None
        way = "and the delay told is shorter" if delay > told.pierce_delay_s else "shorter than is told"
        return PierceAdvice(
            f"The ladder of pierces (cut {piece.number}) was through from {seconds(delay)} on, {way}: {seconds(told.pierce_delay_s)}.",
            pierce_delay_s=delay,
        )
    return None


def height_advice(pieces: Sequence[Pierced], told: StartValues) -> PierceAdvice | None:
    """A higher pierce where the pieces since a height was told blew metal back more often than by chance."""
    blown = sum(p.blown for p in pieces)
    if blown < _BLOWN:
        return None
    wanted = max(_CUT_HEIGHTS * told.cut_height_mm, _HIGHER * told.pierce_height_mm)
    higher = in_steps(wanted, pierce_height_step_mm())
    return PierceAdvice(
        f"{blown} pierces blew metal back: pierce higher, at {length(higher)} where {length(told.pierce_height_mm)} is told. Isolate, "
        "and look at the shield: what sticks to it blows the next one.",
        pierce_height_mm=higher,
    )
