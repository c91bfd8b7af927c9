"""Test pieces as pure geometry: what to cut must be little steel, little time, and unmistakable.

``piece`` says what a piece is, ``outlines``, ``ladders`` and ``rounds`` make the kinds, ``timing`` says how long
one really takes.
"""

from orthotome.core.pieces.ladders import (
    height_ladder,
    ladder_delays,
    ladder_heights,
    ladder_speeds,
    pierce_ladder,
    start_end_ladder,
    strip_ladder,
)
from orthotome.core.pieces.outlines import corner, long_strip, square, square_size_mm
from orthotome.core.pieces.piece import (
    ACCELERATION_MM_S2,
    CLIP_MM,
    MOST_NICKED,
    PLATE_MARGIN_MM,
    Contour,
    Part,
    Piece,
    PieceName,
    PieceSetting,
    check_plate,
    lead_in_mm,
    overrun_mm,
)
from orthotome.core.pieces.rounds import hole_diameters_mm, holes, round_slug
from orthotome.core.pieces.timing import RealTime, real_time

__all__ = [
    "ACCELERATION_MM_S2",
    "CLIP_MM",
    "MOST_NICKED",
    "PLATE_MARGIN_MM",
    "Contour",
    "Part",
    "Piece",
    "PieceName",
    "PieceSetting",
    "RealTime",
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
    "overrun_mm",
    "pierce_ladder",
    "real_time",
    "round_slug",
    "square",
    "square_size_mm",
    "start_end_ladder",
    "strip_ladder",
]
