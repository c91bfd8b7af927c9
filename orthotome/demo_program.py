"""An invented cutting program for the demo shop: two hopper sides, with the slips that a post-processor makes.

One feed was never changed, one hole is cut at an outline's speed, one outline stops at its start, and one hole comes
after the outline that it lies in.
"""

from collections.abc import Iterator

from orthotome.core.book.start_rows import StartValues

NAME = "hopper sides.nc"
SHEET_MM = (900.0, 420.0)


def demo_program(start: StartValues) -> str:
    """The text, for a setting of the demo's."""
    lines = ["(HOPPER SIDES, EXAMPLE ONLY, 70 A PLATE SET)", "G21", "G17 G40 G90 G94 G91.1", "G0 Z25"]
    for n, x in enumerate((40.0, 470.0)):
        holes = [(x + 40.0, 70.0), (x + 340.0, 70.0), (x + 120.0, 300.0)]
        first, last = (holes, []) if n == 0 else (holes[:2], holes[2:])
        for k, (hx, hy) in enumerate(first):
            speed = start.speed_mm_min if (n, k) == (0, 1) else 0.5 * start.speed_mm_min
            lines += _hole(hx, hy, 20.0, speed, start)
        lines += _window(x + 110.0, 120.0, start)
        lines += _outline(x, 40.0, start, forgotten=n == 1)
        for hx, hy in last:
            lines += _hole(hx, hy, 20.0, 0.5 * start.speed_mm_min, start)
    return "\n".join([*lines, "G0 X0 Y0", "M30", ""])


def _begin(x: float, y: float, start: StartValues) -> Iterator[str]:
    yield f"G0 X{x:.3f} Y{y:.3f}"
    yield f"G0 Z{start.pierce_height_mm:g}"
    yield "M3"
    yield f"G4 P{start.pierce_delay_s:g}"
    yield f"G1 Z{start.cut_height_mm:g} F1500"


def _end() -> Iterator[str]:
    yield "M5"
    yield "G0 Z25"


def _hole(x: float, y: float, diameter: float, speed: float, start: StartValues) -> Iterator[str]:
    """Counter-clockwise from its middle."""
    r = (diameter - start.kerf_mm) / 2
    yield from _begin(x, y, start)
    yield f"G3 X{x + r:.3f} Y{y:.3f} I{r / 2:.3f} J0 F{speed:.0f}"
    yield f"G3 X{x - r:.3f} Y{y:.3f} I{-r:.3f} J0"
    yield f"G3 X{x + r:.3f} Y{y:.3f} I{r:.3f} J0"
    yield f"G3 X{x + 0.97 * r:.3f} Y{y + 0.2431 * r:.3f} I{-r:.3f} J0"
    yield from _end()


def _window(x: float, y: float, start: StartValues) -> Iterator[str]:
    """A cut-out of 160 by 70 with round corners, counter-clockwise, entered from within."""
    w, h, r, k = 160.0, 70.0, 9.0, start.kerf_mm / 2
    x0, y0, x1, y1, r = x + k, y + k, x + w - k, y + h - k, r - k
    middle = (x0 + x1) / 2
    yield from _begin(middle - 4, y0 + 12, start)
    yield f"G1 X{middle:.3f} Y{y0:.3f} F{start.speed_mm_min:.0f}"
    for ax, ay, bx, by, i, j in (
        (x1 - r, y0, x1, y0 + r, 0.0, r),
        (x1, y1 - r, x1 - r, y1, -r, 0.0),
        (x0 + r, y1, x0, y1 - r, 0.0, -r),
        (x0, y0 + r, x0 + r, y0, r, 0.0),
    ):
        yield f"G1 X{ax:.3f} Y{ay:.3f}"
        yield f"G3 X{bx:.3f} Y{by:.3f} I{i:.3f} J{j:.3f}"
    yield f"G1 X{middle + 2:.3f} Y{y0:.3f}"
    yield from _end()


def _outline(x: float, y: float, start: StartValues, *, forgotten: bool) -> Iterator[str]:
    """A side of 380 by 320, narrower at the top, clockwise; the one with the forgotten feed stops at its start."""
    k = start.kerf_mm / 2
    corners = [
        (x - k, y - k),
        (x + 60 - k, y + 320 + k),
        (x + 320 + k, y + 320 + k),
        (x + 380 + k, y - k),
    ]
    middle = x + 190
    yield from _begin(middle + 4, y - k - 12, start)
    yield f"G1 X{middle:.3f} Y{y - k:.3f} F{4440 if forgotten else round(start.speed_mm_min)}"
    for cx, cy in corners:
        yield f"G1 X{cx:.3f} Y{cy:.3f}"
    yield f"G1 X{middle - (0 if forgotten else 2.5):.3f} Y{y - k:.3f}"
    yield from _end()
