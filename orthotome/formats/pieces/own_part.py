"""``orthotome.own_part``, version 1: the closed contours of a shop's own test part, in mm."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from orthotome.core.path.paths import Arc, Line, Move, Point
from orthotome.core.path.rings import Ring
from orthotome.formats.pieces.piece import MoveFile, move_to_file


class RingFile(BaseModel):
    """One closed contour: from ``start`` through its moves and back."""

    start: Point
    moves: Annotated[tuple[MoveFile, ...], Field(min_length=1)]


class OwnPartFile(BaseModel):
    """The whole part."""

    format: Literal["orthotome.own_part"] = "orthotome.own_part"
    version: Literal[1] = 1
    rings: tuple[RingFile, ...]


def rings_to_file(rings: tuple[Ring, ...]) -> OwnPartFile:
    """The open file of these contours."""
    return OwnPartFile(
        rings=tuple(
            RingFile(start=r.start, moves=tuple(move_to_file(m) for m in r.moves)) for r in rings
        )
    )


def rings_from_file(file: OwnPartFile) -> tuple[Ring, ...]:
    """The contours of an open file."""
    return tuple(Ring(r.start, tuple(_move(m) for m in r.moves)) for r in file.rings)


def _move(file: MoveFile) -> Move:
    if file.centre is None:
        return Line(file.to)
    return Arc(file.to, file.centre, bool(file.clockwise))
