"""``orthotome.own_part``, version 1: the closed contours of a shop's own test part, in mm."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from orthotome.core.path.on_grid import on_grid, rounded
from orthotome.core.path.paths import Arc, Line, Move, Point
from orthotome.core.path.rings import Ring
from orthotome.formats.pieces.piece import GRID_MM, MoveFile, move_to_file
from orthotome.formats.reading import WrittenModel


class RingFile(WrittenModel):
    """One closed contour: from ``start`` through its moves and back."""

    start: Point
    moves: Annotated[tuple[MoveFile, ...], Field(min_length=1)]


class OwnPartFile(WrittenModel):
    """The whole part."""

    format: Literal["orthotome.own_part"] = "orthotome.own_part"
    version: Literal[1] = 1
    rings: tuple[RingFile, ...]


def rings_to_file(rings: tuple[Ring, ...]) -> OwnPartFile:
    """The open file of these contours."""
    return OwnPartFile(
        rings=tuple(
            RingFile(
                start=rounded(r.start, GRID_MM),
                moves=tuple(move_to_file(m) for m in on_grid(r.moves, GRID_MM)),
            )
            for r in rings
        )
    )


def rings_from_file(file: OwnPartFile) -> tuple[Ring, ...]:
    """The contours of an open file."""
    return tuple(Ring(tuple(_moves(r))) for r in file.rings)


def _moves(ring: RingFile) -> Iterator[Move]:
    at = ring.start
    for move in ring.moves:
        if move.centre is None:
            yield Line(at, move.to)
        else:
            yield Arc(at, move.to, move.centre, bool(move.clockwise))
        at = move.to
