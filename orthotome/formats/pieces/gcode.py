"""A piece as a cutting program in RS-274 words, by a table's output profile.

Z zero is the top of the plate. The program holds the height: height control stays off, but for a long
strip, where it is what is tried. X and Y are the table's own: a piece is drawn in Orthotome's frame, and
written through the table's axis map. Arc centres are incremental from the arc's rounded start. Comments speak
inches in an inch program, else the shop's units.
"""

import textwrap
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Literal

from orthotome.core.book.start_rows import StartValues
from orthotome.core.height.volts import VoltsAt, to_be_seen
from orthotome.core.machine.axis_map import FRAME, AxisMap
from orthotome.core.path.on_grid import on_grid
from orthotome.core.path.paths import Arc, Line, Move, Point, flattened
from orthotome.core.pieces import Contour, Piece
from orthotome.core.pieces.piece import RESTART_S, begun_at_rim
from orthotome.core.programs.program import TEST_PIECE
from orthotome.core.quantities import INCH, length, reach, seconds, speaking, speed, spoken
from orthotome.formats.machine.profile import SHIPPED, OutputProfile

Control = Literal["off", "on", "held"]

_SAFE_HEIGHT_MM = 25.0
_WIDEST = 80  # of a line of comment: controllers with small screens cut the rest, or refuse it
_PREAMBLE = ("G17", "G40", "G90", "G94")
"""XY plane, no compensation by the controller (the kerf is in the path), absolute, feeds by the minute."""


def write_gcode(
    piece: Piece,
    start: StartValues,
    heading: tuple[str, ...] = (),
    *,
    axes: AxisMap = FRAME,
    profile: OutputProfile = SHIPPED["metric"],
    volts_at: VoltsAt | None = None,
    dry_run: bool = False,
) -> str:
    """The program of ``piece``; ``heading`` are lines of comment, ``dry_run`` leaves the torch off. ``volts_at`` says what
    will be seen at a setting.
    """
    with speaking(INCH if profile.units == "in" else spoken()):
        seen = to_be_seen(volts_at(c) if volts_at else None for c in piece.contours)
        return _Writer(start, axes, profile, dry_run, seen).program(piece, heading)


class _Writer:
    """Holds what every line needs."""

    def __init__(
        self, start: StartValues, axes: AxisMap, profile: OutputProfile, dry_run: bool, seen: str
    ) -> None:
        self.start, self.axes, self.profile, self.dry_run = start, axes, profile, dry_run
        self.seen = seen
        self.last_speed = ""

    def program(self, piece: Piece, heading: tuple[str, ...]) -> str:
        """The whole text."""
        p = self.profile
        lines = [c for h in heading for c in self.comment(h)]
        lines += [c for a in self.about(piece) for c in self.comment(a)]
        lines += ["G21" if p.units == "mm" else "G20", *_PREAMBLE]
        lines += [*([p.arc_centres] if p.arcs == "centre" else []), *p.header]
        lines.append(p.height_off)  # whatever ran before may have left it on
        lines += self.raised()
        for contour in piece.contours:
            lines += self.contour(contour)
        lines += [f"G0 X{self.length(0.0)} Y{self.length(0.0)}", *p.footer]
        said = [line for line in lines if line]
        if p.line_numbers:
            said = [f"N{10 * n} {line}" for n, line in enumerate(said, 1)]
        ending = "\n" if p.line_ending == "lf" else "\r\n"
        return ending.join(said) + ending

    def about(self, piece: Piece) -> Iterator[str]:
        """What it is for, the setting, the zero, the extents, and what must be off."""
        s, p = self.start, self.profile
        yield f"{TEST_PIECE}: {piece.title}"
        if self.dry_run:
            yield "DRY RUN: torch off. Turn height control off on the machine as well."
        elif any(c.height_control for c in piece.contours):
            yield "Height control is tried by this piece: set-point and delay first."
            if not p.height_on:
                yield "This profile has no words for height control: switch it on by hand."
        else:
            yield "Fixed height: turn height control off on the machine."
        yield f"Arc voltage: {self.seen}"
        yield f"Pierce at {length(s.pierce_height_mm)} for {seconds(s.pierce_delay_s)}"
        yield f"Kerf {length(s.kerf_mm)} is already in the path: no compensation by the controller"
        if not p.sets_height:
            yield (
                "Heights by hand: the program stops three times at each pierce, for the pierce height, the "
                "cut height, and to raise the torch. It pierces, puts the arc out, and starts again at the rim of the "
                "hole. Isolate the source before hands go near the torch, at every stop."
            )
        yield "Zero: near left corner of the scrap, Z zero on top of the plate."
        yield self.axes.in_words
        yield self.extents(piece)
        yield f"Pierces: {len(piece.contours)}, cut length {length(piece.cut_length_mm)}"
        yield from piece.notes

    def extents(self, piece: Piece) -> str:
        """What the torch's centre reaches, in the table's own axes."""
        x0, y0, x1, y1 = piece.extents_mm
        (xa, ya), (xb, yb) = self.axes.to_table(x0, y0), self.axes.to_table(x1, y1)
        (x0, x1), (y0, y1) = sorted((xa, xb)), sorted((ya, yb))
        return f"Extents: X {reach(x0, x1)}, Y {reach(y0, y1)}"

    def contour(self, contour: Contour) -> Iterator[str]:
        """One pierce and what follows."""
        p = self.profile
        yield from self.comment(self.setting(contour))
        yield f"G0 {self.at(contour.pierce_at)}"
        yield from self.pierced(contour)
        if not p.sets_height:
            contour = begun_at_rim(contour, self.start.kerf_mm)
            yield from self.begun_again(contour)
        yield from self.segments(contour)
        yield p.torch_off
        yield from self.raised()

    def setting(self, contour: Contour) -> str:
        """The contour's name with its setting, where the name does not say it."""
        said = f"{speed(contour.speed_mm_min)} at {length(contour.cut_height_mm)}"
        kept = f"kept metal on the {contour.kept_side}"
        return f"{contour.name}, {kept}" if said in contour.name else f"{contour.name}: {said}, {kept}"

    def pierced(self, contour: Contour) -> Iterator[str]:
        """From above the pierce to the arc at cut height."""
        p, delay = self.profile, contour.delay_s(self.start.pierce_delay_s)
        on, off = ("", "") if self.dry_run else (p.torch_on, p.torch_off)
        wait = self.wait(delay)
        self.last_speed = ""  # said anew after each pierce, so that a program can be begun there
        if p.sets_height:
            yield p.stop_before_pierce
            yield from p.touch_off
            yield from (f"G0 Z{self.length(self.start.pierce_height_mm)}", on, wait)
            down = _feed(min(contour.speed_mm_min, p.plunge_mm_min) * p.per_mm)
            yield f"G1 Z{self.length(contour.cut_height_mm)} F{down}"
            return
        yield from self.comment(
            f"Source off. Set the pierce height: {length(self.start.pierce_height_mm)}"
        )
        yield p.stop_before_pierce
        yield from p.touch_off
        yield from (on, wait, off)

    def begun_again(self, contour: Contour) -> Iterator[str]:
        """By hand: at the rim of the hole, at cut height, with time for the arc to burn before anything moves."""
        p = self.profile
        yield f"G0 {self.at(contour.pierce_at)}"
        yield from self.comment(f"Source off. Set the cut height: {length(contour.cut_height_mm)}")
        yield p.stop_before_pierce
        if not self.dry_run:
            yield p.torch_on
        yield self.wait(RESTART_S)

    def wait(self, delay_s: float) -> str:
        """The word that waits, in the profile's unit."""
        return f"G4 P{delay_s:.2f}" if self.profile.delay_unit == "s" else f"G4 P{1000 * delay_s:.0f}"

    def raised(self) -> Iterator[str]:
        """Clear of the plate, before anything moves fast."""
        if self.profile.sets_height:
            yield f"G0 Z{self.length(_SAFE_HEIGHT_MM)}"
            return
        yield from self.comment("Source off. Raise the torch clear of the plate")
        yield self.profile.stop_before_pierce

    def segments(self, contour: Contour) -> Iterator[str]:
        """The cut itself, height control switched where its state changes."""
        control: Control = "off"
        for segment in contour.segments:
            wanted: Control = "off"
            if contour.height_control and not self.dry_run and segment.kind == "cut":
                wanted = "held" if segment.held else "on"
            yield from self.switch(control, wanted)
            control = wanted
            yield from self.moves(segment.moves, contour.speed_of(segment))
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

    def moves(self, moves: Iterable[Move], speed_mm_min: float) -> Iterator[str]:
        """Lines, arcs by their centres or as chords, on the grid of the program's decimals."""
        step = 10.0**-self.profile.decimals
        for move in on_grid((m for given in moves for m in self.in_program(given)), step):
            where = f"{self.word('X', move.end[0])} {self.word('Y', move.end[1])}"
            if isinstance(move, Line):
                yield f"G1 {where}{self.speed(speed_mm_min)}"
                continue
            i, j = move.centre[0] - move.start[0], move.centre[1] - move.start[1]
            centre = f"{self.word('I', i)} {self.word('J', j)}"
            yield f"{'G2' if move.clockwise else 'G3'} {where} {centre}{self.speed(speed_mm_min)}"

    def in_program(self, move: Move) -> Iterator[Move]:
        """A move in the table's axes and the program's unit, an arc as chords where that is asked."""
        start, end = self.point(move.start), self.point(move.end)
        if isinstance(move, Arc) and self.profile.arcs == "centre":
            turns = move.clockwise != self.axes.mirrors
            yield replace(move, start=start, end=end, centre=self.point(move.centre), clockwise=turns)
            return
        for point in flattened(move):
            end = self.point(point)
            yield Line(start, end)
            start = end

    def point(self, p: Point) -> Point:
        """A point of Orthotome's frame as the program counts."""
        x, y = self.axes.to_table(*p)
        return x * self.profile.per_mm, y * self.profile.per_mm

    def at(self, point: Point) -> str:
        """X and Y words of a point in Orthotome's frame."""
        x, y = self.point(point)
        return f"{self.word('X', x)} {self.word('Y', y)}"

    def word(self, letter: str, value: float) -> str:
        """A word in the program's unit, to its decimals, and never minus zero."""
        digits = self.profile.decimals
        return f"{letter}{round(value, digits) + 0.0:.{digits}f}"

    def length(self, mm: float) -> str:
        """A length in the program's unit."""
        return self.word("", mm * self.profile.per_mm)

    def speed(self, mm_min: float) -> str:
        """The feed word in the program's unit a minute; nothing where the profile says it only once."""
        word = f" F{_feed(mm_min * self.profile.per_mm)}"
        if self.profile.speed_words == "on_change" and word == self.last_speed:
            return ""
        self.last_speed = word
        return word

    def comment(self, text: str) -> Iterator[str]:
        """Lines of comment in the profile's style; round brackets hold none."""
        style = self.profile.comments
        if style == "none":
            return
        plain = " ".join(_in_letters(text).split())
        before, after = ("; ", "") if style == "semicolon" else ("(", ")")
        if style == "brackets":
            plain = plain.replace("(", "[").replace(")", "]")
        number = len("N00000 ") if self.profile.line_numbers else 0
        for line in textwrap.wrap(plain, _WIDEST - number - len(before + after)):
            yield f"{before}{line}{after}"


def _feed(value: float) -> str:
    """A feed to a thousandth of the program's unit, without zeros that say nothing."""
    return f"{value:.3f}".rstrip("0").rstrip(".")


def _in_letters(text: str) -> str:
    """What a controller can show of a sentence."""
    signs = {
        "±": "+-",
        "×": "x",
        "“": '"',
        "”": '"',
        "’": "'",
        "–": "-",
        "—": "-",
        "−": "-",
        "²": "2",
        "°": " deg",
    }
    return "".join(signs.get(c, c) for c in text).encode("ascii", "replace").decode()
