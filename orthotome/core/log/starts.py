"""Arc starts of a piece: what its program pierces, and so what it costs the parts."""

from collections.abc import Sequence

from orthotome.core.pieces.ladders import strip_ladder
from orthotome.core.pieces.outlines import square
from orthotome.core.pieces.piece import PieceBasis
from orthotome.core.pieces.rounds import round_slug
from orthotome.core.trial.campaign import PieceKind


def pierces_of_piece(kind: PieceKind, basis: PieceBasis, number: int) -> int:
    """Pierces of a piece by itself: a square with its scrap bar and its nicks, a slug with its slit.

    A strip, or a hole, logged by itself is one: nobody knows what else was cut with it.
    """
    if kind == "square":
        return len(square(basis, number=number, scrap_edge=True).contours)
    if kind == "round":
        return len(round_slug(basis, number=number).contours)
    return 1


def pierces_of_ladder(speeds_mm_min: Sequence[float], basis: PieceBasis, number: int) -> int:
    """Pierces of a whole ladder: its slots, its number, and what cuts it loose."""
    return len(strip_ladder(basis, speeds_mm_min, number=number).contours)
