"""Test pieces as pure geometry: what to cut must be little steel, little time, and unmistakable.

``piece`` says what a piece is, ``outlines``, ``ladders``, ``rounds`` and ``own_part`` make the kinds, ``batch``
puts several on one plate, ``timing`` says how long one really takes.
"""

from orthotome.core.pieces.batch import MOST_AT_ONCE, side_by_side, spread_order, together
from orthotome.core.pieces.ladders import (
    STARTS_AND_ENDS,
    height_ladder,
    ladder_delays,
    ladder_heights,
    ladder_speeds,
    pierce_ladder,
    start_end_ladder,
    strip_ladder,
)
from orthotome.core.pieces.outlines import corner, long_strip, square, square_size_mm
from orthotome.core.pieces.own_part import own_part
from orthotome.core.pieces.piece import (
    ACCELERATION_MM_S2,
    CLIP_MM,
    END_SPEED_SHARE,
    LAG_TO_FINISH_DEG,
    MOST_NICKED,
    PLATE_MARGIN_MM,
    Contour,
    Part,
    Piece,
    PieceBasis,
    PieceName,
    StartAndEnd,
    check_plate,
    lead_in_mm,
    numbered_pieces,
    overrun_mm,
)
from orthotome.core.pieces.rounds import hole_diameters_mm, holes, round_slug
from orthotome.core.pieces.timing import RealTime, Sample, machine_seconds, played, real_time

__all__ = [
    "ACCELERATION_MM_S2",
    "CLIP_MM",
    "END_SPEED_SHARE",
    "LAG_TO_FINISH_DEG",
    "MOST_AT_ONCE",
    "MOST_NICKED",
    "PLATE_MARGIN_MM",
    "STARTS_AND_ENDS",
    "Contour",
    "Part",
    "Piece",
    "PieceBasis",
    "PieceName",
    "RealTime",
    "Sample",
    "StartAndEnd",
    "check_plate",
    "corner",
    "height_ladder",
    "hole_diameters_mm",
    "holes",
    "ladder_delays",
    "ladder_heights",
    "ladder_speeds",
    "lead_in_mm",
    "long_strip",
    "machine_seconds",
    "numbered_pieces",
    "overrun_mm",
    "own_part",
    "pierce_ladder",
    "played",
    "real_time",
    "round_slug",
    "side_by_side",
    "spread_order",
    "square",
    "square_size_mm",
    "start_end_ladder",
    "strip_ladder",
    "together",
]
