"""A piece as a cutting program in RS-274 words, by a table's output profile.

Z zero is the top of the plate. The program holds the height: height control stays off, but for a long
strip, where it is what is tried. X and Y are the table's own: a piece is drawn in Orthotome's frame, and
written through the table's axis map. Arc centres are incremental from the arc's start.
"""

from collections.abc import Iterator
from typing import Literal

from orthotome.core.book.start_rows import StartValues
from orthotome.core.machine.axis_map import FRAME, AxisMap
from orthotome.core.path.paths import Line, Move, Point, flattened
from orthotome.core.pieces import Contour, Piece
from orthotome.formats.machine.profile import SHIPPED, OutputProfile

Control = Literal["off", "on", "held"]

_SAFE_HEIGHT_MM = 25.0


def write_gcode(
    piece: Piece,
    start: StartValues,
    heading: tuple[str, ...] = (),
    *,
    axes: AxisMap = FRAME,
    profile: OutputProfile = SHIPPED["metric"],
    dry_run: bool = False,
) -> str:
    """The program of ``piece``; ``heading`` are lines of comment, ``dry_run`` leaves the torch off."""
    return _Writer(start, axes, profile, dry_run).program(piece, heading)


class _Writer:
    """Holds what every line needs."""

    def __init__(self, start: StartValues, axes: AxisMap, profile: OutputProfile, dry_run: bool) -> None:
        self.start, self.axes, self.profile, self.dry_run = start, axes, profile, dry_run
        self.last_speed = ""

    def program(self, piece: Piece, heading: tuple[str, ...]) -> str:
        """The whole text."""
        p = self.profile
        lines = [*(self.comment(h) for h in heading), *self.about(piece)]
        lines += ["G21" if p.units == "mm" else "G20", "G90", "G17", *p.header]
        if p.sets_height:
            lines.append(f"G0 Z{self.length(_SAFE_HEIGHT_MM)}")
        for contour in piece.contours:
            lines += self.contour(contour)
        lines += [f"G0 X{self.length(0.0)} Y{self.length(0.0)}", *p.footer]
        said = [line for line in lines if line]
        if p.line_numbers:
            said = [f"N{10 * n} {line}" for n, line in enumerate(said, 1)]
        ending = "\n" if p.line_ending == "lf" else "\r\n"
        return ending.join(said) + ending

    def about(self, piece: Piece) -> Iterator[str]:
        """What it is for, the zero, the extents, and what must be off."""
        x0, y0, x1, y1 = piece.extents_mm
        (xa, ya), (xb, yb) = self.axes.to_table(x0, y0), self.axes.to_table(x1, y1)
        (x0, x1), (y0, y1) = sorted((xa, xb)), sorted((ya, yb))
        yield self.comment(piece.title)
        if self.dry_run:
            yield self.comment("DRY RUN: torch off. Turn height control off on the machine as well.")
        elif any(c.height_control for c in piece.contours):
            yield self.comment("Height control is tried by this piece: set-point and delay first.")
        else:
            yield self.comment("Fixed height: turn height control off on the machine.")
        if not self.profile.sets_height:
            yield self.comment("Set the height by hand at each stop, with a gauge block.")
        yield self.comment("Zero: near left corner of the scrap, Z zero on top of the plate.")
        yield self.comment(self.axes.in_words)
        yield self.comment(f"Extents in mm: X {x0:.1f} to {x1:.1f}, Y {y0:.1f} to {y1:.1f}")
        yield self.comment(f"Pierces: {len(piece.contours)}, cut length {piece.cut_length_mm:.0f} mm")
        s = self.start
        yield self.comment(f"Pierce at {s.pierce_height_mm:g} mm for {s.pierce_delay_s:g} s")

    def contour(self, contour: Contour) -> Iterator[str]:
        """One pierce and what follows."""
        p, delay = self.profile, contour.delay_s(self.start.pierce_delay_s)
        yield self.comment(
            f"{contour.name}: {contour.speed_mm_min:g} mm/min at {contour.cut_height_mm:g} mm, "
            f"kept metal on the {contour.kept_side}"
        )
        yield f"G0 {self.at(contour.pierce_at)}"
        yield p.stop_before_pierce
        yield from p.touch_off
        if p.sets_height:
            yield f"G0 Z{self.length(self.start.pierce_height_mm)}"
        if not self.dry_run:
            yield p.torch_on
        yield f"G4 P{delay:.2f}" if p.delay_unit == "s" else f"G4 P{1000 * delay:.0f}"
        self.last_speed = ""  # said anew after each pierce, so that a program can be begun there
        if p.sets_height:
            yield f"G1 Z{self.length(contour.cut_height_mm)}{self.speed(contour.speed_mm_min)}"
        yield from self.segments(contour)
        yield p.torch_off
        if p.sets_height:
            yield f"G0 Z{self.length(_SAFE_HEIGHT_MM)}"

    def segments(self, contour: Contour) -> Iterator[str]:
        """The cut itself, height control switched where its state changes."""
        control: Control = "off"
        for segment in contour.segments:
            wanted: Control = "off"
            if contour.height_control and not self.dry_run and segment.kind == "cut":
                wanted = "held" if segment.held else "on"
            yield from self.switch(control, wanted)
            control = wanted
            for move in segment.moves:
                yield from self.move(move, contour.speed_of(segment))
        yield from self.switch(control, "off")

    def switch(self, before: Control, after: Control) -> Iterator[str]:
        """The words from one state of height control to another.

        A profile without words for holding switches off and on again.
        """
        p = self.profile
        if not p.height_hold:
            before, after = ("off" if c == "held" else c for c in (before, after))
        if before == after:
            return
        if after == "off":
            yield p.height_off
            return
        if before == "off":
            yield p.height_on
        if after == "held":
            yield p.height_hold
        elif before == "held":
            yield p.height_follow

    def move(self, move: Move, speed_mm_min: float) -> Iterator[str]:
        """A line, an arc by its centre, or an arc as chords."""
        if isinstance(move, Line) or self.profile.arcs == "segments":
            for point in flattened(move):
                yield f"G1 {self.at(point)}{self.speed(speed_mm_min)}"
            return
        (bx, by), (cx, cy) = self.axes.to_table(*move.start), self.axes.to_table(*move.centre)
        clockwise = move.clockwise != self.axes.mirrors
        word = "G2" if clockwise else "G3"
        centre = f"I{self.length(cx - bx)} J{self.length(cy - by)}"
        yield f"{word} {self.at(move.end)} {centre}{self.speed(speed_mm_min)}"

    def at(self, point: Point) -> str:
        """X and Y words of a point in Orthotome's frame."""
        x, y = self.axes.to_table(*point)
        return f"X{self.length(x)} Y{self.length(y)}"

    def length(self, mm: float) -> str:
        """A length in the program's unit, exact to its decimals, and never minus zero."""
        digits = self.profile.decimals
        return f"{round(mm * self.profile.per_mm, digits) + 0.0:.{digits}f}"

    def speed(self, mm_min: float) -> str:
        """The feed word in the program's unit a minute; nothing where the profile says it only once."""
        word = f" F{mm_min * self.profile.per_mm:.3f}"
        if self.profile.speed_words == "on_change" and word == self.last_speed:
            return ""
        self.last_speed = word
        return word

    def comment(self, text: str) -> str:
        """A comment in the profile's style; round brackets hold none."""
        style = self.profile.comments
        if style == "none":
            return ""
        plain = " ".join(text.encode("ascii", "replace").decode().split())
        if style == "semicolon":
            return f"; {plain}"
        return f"({plain.replace('(', '[').replace(')', ']')})"
