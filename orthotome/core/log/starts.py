"""Arc starts of a piece: what its program pierces, and so what it costs the parts."""

from collections.abc import Sequence

from orthotome.core.pieces.ladders import strip_ladder
from orthotome.core.pieces.outlines import square
from orthotome.core.pieces.piece import Piece, PieceBasis
from orthotome.core.pieces.rounds import round_slug
from orthotome.core.torch.counts import Counts
from orthotome.core.trial.campaign import PieceKind


def work_of_piece(
    kind: PieceKind, basis: PieceBasis, number: int, delay_s: float, each: int = 1
) -> Counts:
    """Starts and arc time of a piece by itself: a square with its scrap bar and its nicks, a slug with its slit.

    A strip, or a hole, logged by itself is one start: nobody knows what else was cut with it, nor how long.
    ``each`` is how many starts the table's programs take to a pierce.
    """
    if kind == "square":
        return _work_of(square(basis, number=number, scrap_edge=True), delay_s, each)
    if kind == "round":
        return _work_of(round_slug(basis, number=number), delay_s, each)
    return Counts(each)


def work_of_ladder(
    speeds_mm_min: Sequence[float], basis: PieceBasis, number: int, delay_s: float, each: int = 1
) -> Counts:
    """Starts and arc time of a whole ladder: its slots, its number, and what cuts it loose."""
    return _work_of(strip_ladder(basis, speeds_mm_min, number=number), delay_s, each)


def _work_of(piece: Piece, delay_s: float, each: int) -> Counts:
    return Counts(each * len(piece.contours), round(piece.seconds(delay_s), 1))
