"""``orthotome.piece``, version 1: a test piece with its contours, in the machine frame."""

from typing import Literal

from orthotome.core.book.start_rows import StartValues
from orthotome.core.edge.edges import Side, Swirl
from orthotome.core.path.on_grid import on_grid, rounded
from orthotome.core.path.paths import Line, Move, Point, SegmentKind
from orthotome.core.pieces import Contour, Piece, PieceBasis, PieceName
from orthotome.formats.reading import WrittenModel


class MoveFile(WrittenModel):
    """Straight on to ``to``; with a centre, round it (``to`` at the start is a full circle)."""

    to: Point
    centre: Point | None = None
    clockwise: bool | None = None


class PieceSegmentFile(WrittenModel):
    """Part of a contour."""

    kind: SegmentKind
    speed_mm_min: float
    height_held: bool
    start: Point
    moves: tuple[MoveFile, ...]


class ContourFile(WrittenModel):
    """One pierce and what follows, at one setting; ``order`` counts from 1.

    A segment's own speed is the contour's but where an end is slowed.
    """

    order: int
    name: str
    kept_side: Side
    inside: bool
    speed_mm_min: float
    cut_height_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    height_control: bool
    pierce_at: Point
    length_mm: float
    segments: tuple[PieceSegmentFile, ...]


class ExtentsFile(WrittenModel):
    """What the torch's centre reaches."""

    x_min_mm: float
    y_min_mm: float
    x_max_mm: float
    y_max_mm: float


class PartFile(WrittenModel):
    """A kept part as it should come out; outline and holes clockwise, arcs as chords.

    ``scrap`` is metal from beside it, cut loose to be read as well.
    """

    outline: tuple[Point, ...]
    holes: tuple[tuple[Point, ...], ...]
    scrap: bool


class PieceFile(WrittenModel):
    """The whole piece. Points are X and Y in mm from the plate's near left corner."""

    format: Literal["orthotome.piece"] = "orthotome.piece"
    version: Literal[1] = 1
    kind: PieceName
    title: str
    thickness_mm: float
    kerf_mm: float
    swirl: Swirl
    size_mm: Point
    plate_mm: Point
    extents: ExtentsFile
    pierces: int
    cut_length_mm: float
    seconds: float
    notes: tuple[str, ...] = ()
    contours: tuple[ContourFile, ...]
    parts: tuple[PartFile, ...]


def piece_to_file(piece: Piece, setting: PieceBasis, start: StartValues, seconds: float) -> PieceFile:
    """The open file of a piece, rounded to a ten-thousandth of a millimetre; ``seconds`` of machine time."""
    x0, y0, x1, y1 = (round(v, 4) for v in piece.extents_mm)
    return PieceFile(
        kind=piece.kind,
        title=piece.title,
        thickness_mm=setting.thickness_mm,
        kerf_mm=setting.kerf_mm,
        swirl=setting.swirl,
        size_mm=_point(piece.size_mm),
        plate_mm=_point(piece.plate_mm),
        extents=ExtentsFile(x_min_mm=x0, y_min_mm=y0, x_max_mm=x1, y_max_mm=y1),
        pierces=len(piece.contours),
        cut_length_mm=round(piece.cut_length_mm, 3),
        seconds=round(seconds, 2),
        notes=piece.notes,
        contours=tuple(_contour(n, c, start) for n, c in enumerate(piece.contours, 1)),
        parts=tuple(
            PartFile(
                outline=tuple(_point(p) for p in part.outline),
                holes=tuple(tuple(_point(p) for p in hole) for hole in part.holes),
                scrap=part.scrap,
            )
            for part in piece.parts
        ),
    )


def _contour(order: int, c: Contour, start: StartValues) -> ContourFile:
    return ContourFile(
        order=order,
        name=c.name,
        kept_side=c.kept_side,
        inside=c.inside,
        speed_mm_min=c.speed_mm_min,
        cut_height_mm=c.cut_height_mm,
        pierce_height_mm=start.pierce_height_mm,
        pierce_delay_s=c.delay_s(start.pierce_delay_s),
        height_control=c.height_control,
        pierce_at=_point(c.pierce_at),
        length_mm=round(c.length_mm, 3),
        segments=tuple(
            PieceSegmentFile(
                kind=s.kind,
                speed_mm_min=round(c.speed_of(s), 3),
                height_held=s.held,
                start=_point(s.start),
                moves=tuple(move_to_file(m) for m in on_grid(s.moves, GRID_MM)),
            )
            for s in c.segments
        ),
    )


def move_to_file(move: Move) -> MoveFile:
    """A move on the open files' grid, as they write it."""
    if isinstance(move, Line):
        return MoveFile(to=_point(move.end))
    return MoveFile(to=_point(move.end), centre=_point(move.centre), clockwise=move.clockwise)


GRID_MM = 1e-4


def _point(p: Point) -> Point:
    return rounded(p, GRID_MM)
