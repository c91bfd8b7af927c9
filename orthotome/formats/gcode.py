"""A piece as a cutting program in plain RS-274 words: G20/G21, G90, G0, G1, G4, F, M3, M5, M30.

Z zero is the top of the plate. The program holds the height: height control stays off. X and Y are the
table's own: a piece is drawn in Orthotome's frame, and written through the table's axis map.
"""

from collections.abc import Iterator

from orthotome.core.axis_map import FRAME, AxisMap
from orthotome.core.pieces import Contour, Piece
from orthotome.core.start_rows import StartValues

_SAFE_HEIGHT_MM = 25.0


def write_gcode(
    piece: Piece,
    start: StartValues,
    heading: tuple[str, ...] = (),
    *,
    axes: AxisMap = FRAME,
    dry_run: bool = False,
) -> str:
    """The program of ``piece``; ``heading`` are lines of comment, ``dry_run`` leaves the torch off."""
    lines = [*(_comment(h) for h in heading), *_about(piece, start, axes, dry_run)]
    lines += ["G21", "G90", f"G0 Z{_number(_SAFE_HEIGHT_MM)}"]
    for contour in piece.contours:
        lines += _contour(contour, start, axes, dry_run)
    lines += ["G0 X0.000 Y0.000", "M30"]
    return "\n".join(lines) + "\n"


def _about(piece: Piece, start: StartValues, axes: AxisMap, dry_run: bool) -> Iterator[str]:
    x0, y0, x1, y1 = piece.extents_mm
    (xa, ya), (xb, yb) = axes.to_table(x0, y0), axes.to_table(x1, y1)
    (x0, x1), (y0, y1) = sorted((xa, xb)), sorted((ya, yb))
    yield _comment(piece.title)
    if dry_run:
        yield _comment("DRY RUN: torch off. Turn height control off on the machine as well.")
    else:
        yield _comment("Fixed height: turn height control off on the machine.")
    yield _comment("Zero: near left corner of the scrap, Z zero on top of the plate.")
    yield _comment(axes.in_words)
    yield _comment(f"Extents in mm: X {x0:.1f} to {x1:.1f}, Y {y0:.1f} to {y1:.1f}")
    yield _comment(f"Pierces: {len(piece.contours)}, cut length {piece.cut_length_mm:.0f} mm")
    yield _comment(f"Pierce at {start.pierce_height_mm:g} mm for {start.pierce_delay_s:g} s")


def _contour(contour: Contour, start: StartValues, axes: AxisMap, dry_run: bool) -> Iterator[str]:
    x, y = axes.to_table(*contour.pierce_at)
    yield _comment(
        f"{contour.name}: {contour.speed_mm_min:g} mm/min at {contour.cut_height_mm:g} mm, "
        f"kept metal on the {contour.kept_side}"
    )
    yield f"G0 X{_number(x)} Y{_number(y)}"
    yield f"G0 Z{_number(start.pierce_height_mm)}"
    if not dry_run:
        yield "M3"
    yield f"G4 P{start.pierce_delay_s:.2f}"
    yield f"G1 Z{_number(contour.cut_height_mm)} F{_number(contour.speed_mm_min)}"
    for segment in contour.segments:
        for point in segment.points[1:]:
            x, y = axes.to_table(*point)
            yield f"G1 X{_number(x)} Y{_number(y)} F{_number(contour.speed_mm_min)}"
    yield "M5"
    yield f"G0 Z{_number(_SAFE_HEIGHT_MM)}"


def _number(value: float) -> str:
    """Exact to a thousandth, and never minus zero."""
    return f"{round(value, 3) + 0.0:.3f}"


def _comment(text: str) -> str:
    """RS-274 comments are in round brackets and hold none."""
    plain = text.replace("(", "[").replace(")", "]").encode("ascii", "replace").decode()
    return f"({' '.join(plain.split())})"
