"""A cutting program in RS-274 words, read as what it makes the table do.

Any post-processor's dialect: units in G20 and G21, arcs by I and J (from the arc's start, or absolute) or R, lower
case, missing spaces, line numbers, comments in both styles, several M-words on a line, sub-programs, variables and
expressions. The table's output profile says its own words for torch, height control and dwell. What is understood
neither as RS-274 nor by the profile is named with its line; nothing is skipped in silence.
"""

import math
import re
from array import array
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import FRAME, AxisMap
from orthotome.core.programs.program import (
    CLOCKWISE,
    COLUMNS,
    COUNTER_CLOCKWISE,
    RAPID,
    STRAIGHT,
    Act,
    ActKind,
    Named,
    Program,
    Unread,
)
from orthotome.core.quantities import length
from orthotome.core.stock.gauges import MM_PER_INCH
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.programs.expressions import Expression, ExpressionError
from orthotome.formats.programs.flow import EndlessError, Flow, FlowError, needs_flow, then_of

MOST_BYTES = 52_428_800  # 50 MB
LONGEST_LINE = 256  # characters, comments and spaces left out
MOST_MOTIONS = 3_000_000
MOST_UNREAD = 500  # named one by one; the rest are counted, with where they begin
FARTHEST_MM = 500_000.0  # from the zero; a kilometre is no table's
ARC_SLACK_MM = 0.06  # between an arc's radii at its start and end: rounding of an inch program
_STEPS_TOLD = 5_000  # lines between two reports of progress

_DIGITS = r"[-+]?(?:\d+\.?\d*|\.\d+)"
_WORDS = re.compile(rf"([A-Z@$])({_DIGITS})")
_NUMBER = rf"({_DIGITS})"
_PATH_LINE = re.compile(
    rf"(?:N\d+)?(?:G0?([0-3]))?(?:X{_NUMBER})?(?:Y{_NUMBER})?(?:I{_NUMBER})?(?:J{_NUMBER})?(?:F{_NUMBER})?"
)
_COMMENT = re.compile(r"\(([^()]*)\)")
_CHECKSUM = re.compile(r"\*\d+$")
_AMPERES = re.compile(
    r"(?<![\w.])(\d{1,3}(?:\.\d+)?)\s*(?:A|AMPS?|AMPERES?)(?![\w/])|\b(?:AMPS?|AMPERAGE|CURRENT)\b\s*[:=]?\s*(\d{1,3}(?:\.\d+)?)",
    re.IGNORECASE,
)
_MM_OF_UNIT: dict[str, float] = {"mm": 1.0, "in": MM_PER_INCH}

_QUIET_G = frozenset(
    {
        4,
        17,
        40,
        41,
        42,
        43,
        49,
        54,
        55,
        56,
        57,
        58,
        59,
        59.1,
        59.2,
        59.3,
        61,
        61.1,
        64,
        80,
        94,
        97,
        98,
        99,
    }
)
_MOVES_UNREAD = frozenset({5.0, 5.1, 5.2, 10.0, 28.1, 30.1, 33.0, 68.0, 51.0})
"""Words that cannot be followed and whose coordinates are no motion's."""
_QUIET_M = frozenset(
    {
        0,
        1,
        2,
        3,
        4,
        5,
        6,
        7,
        8,
        9,
        30,
        48,
        49,
        50,
        51,
        52,
        53,
        60,
        61,
        62,
        63,
        64,
        65,
        66,
        67,
        68,
        70,
        71,
        72,
        73,
    }
)
_KNOWN_LETTERS = frozenset("GMXYZIJKRFPSTDHLQENO")


class NoProgram(ValueError):  # noqa: N818 (it is what the file is)
    """What is no cutting program; the message is one sentence."""


def read_program(
    content: bytes,
    profile: OutputProfile,
    axes: AxisMap = FRAME,
    progress: Callable[[float], None] | None = None,
) -> Program:
    """The program that these bytes hold. ``progress`` is told the share that is read, and may raise to stop.

    Raises NoProgram where it is none.
    """
    return _Reader(profile, axes).read(lines_of(content), progress)


def lines_of(content: bytes) -> list[str]:
    """The lines of a program's text. Raises NoProgram for what is no text, or another kind of file."""
    if len(content) > MOST_BYTES:
        raise NoProgram("The file is over 50 MB: no controller takes such a program.")
    start = content[:4096]
    if not content.strip():
        raise NoProgram("The file is empty.")
    if start.startswith((b"%PDF", b"PK\x03\x04", b"\x89PNG", b"\xff\xd8", b"AC10")):
        raise NoProgram("This is a document, picture or archive, not a cutting program.")
    if b"\x00" in start:
        raise NoProgram(
            "This is a binary file, not a cutting program: a program is text with words like G1 X10 Y20."
        )
    plain = start.lstrip().lower()
    if plain.startswith((b"<svg", b"<?xml", b"<!doctype")) or re.match(rb"0\s+section\b", plain):
        raise NoProgram(
            "This is a drawing, not a cutting program: make the program from it first, or lay it over one."
        )
    text = content.decode("utf-8-sig", "replace")
    strange = sum(
        1 for c in text[:20_000] if c == "\ufffd" or (ord(c) < 32 and c not in "\t\r\n\x1a\x0c")
    )
    if strange > 0.1 * min(len(text), 20_000):
        raise NoProgram(
            "This is no text that a controller could read: a program is text with words like G1 X10 Y20."
        )
    return re.split(r"\r\n|\n|\r", text)


@dataclass
class _State:
    """What is in force. Lengths in the program's own axes, in mm."""

    x: float = math.nan
    y: float = math.nan
    z: float = math.nan
    mm: float = 1.0
    motion: float = -1.0  # of G0 to G3; -1 before any
    absolute: bool = True
    centres_absolute: bool | None = None
    per_minute: bool = True
    feed: float = math.nan
    compensation: float = 0.0
    control: float = math.nan
    torch: bool = False
    plane: float = 17.0
    dx: float = 0.0  # what G92 and G52 add to the program's coordinates
    dy: float = 0.0
    dz: float = 0.0


class _Reader:
    """Goes through the lines and keeps what is in force."""

    def __init__(self, profile: OutputProfile, axes: AxisMap) -> None:
        self.profile, self.axes, self.mirrors = profile, axes, axes.mirrors
        self.now = _State(mm=_MM_OF_UNIT[profile.units])
        self.now.centres_absolute = "G90.1" in _plain(profile.arc_centres) or None
        self.rows = array("d")
        self.acts: list[Act] = []
        self.units: list[Named] = []
        self.amperes: list[Named] = []
        self.unread: list[Unread] = []
        self.left_out = 0
        self.comments: list[tuple[int, str]] = []
        self.doubts: dict[str, str] = {}
        self.first_mm: float | None = None
        self.variables: dict[str, float] = {}
        self.words_of_profile = _profile_words(profile)
        lines = (*profile.touch_off, *profile.header, *profile.footer, profile.stop_before_pierce)
        self.lines_of_profile = {_plain(line) for line in lines if line}
        self.known = {(a, float(b)) for line in self.lines_of_profile for a, b in _WORDS.findall(line)}
        self.absolute_throughout = True
        self.zeros: set[float] = set()
        self.motions = 0
        self.speaks_control = False

    def read(self, lines: Sequence[str], progress: Callable[[float], None] | None) -> Program:
        """All of them."""
        flow: Flow | None = None
        if needs_flow("\n".join(lines).upper()):
            bare = [self.bare(n, line) for n, line in enumerate(lines, 1)]
            flow = Flow(bare, self.variables)
            steps: Iterator[tuple[int, str]] = flow.run()
        else:
            steps = ((n, self.bare(n + 1, line)) for n, line in enumerate(lines))
        done = 0
        try:
            for index, text in steps:
                done += 1
                if progress is not None and done % _STEPS_TOLD == 0:
                    progress(min(1.0, index / len(lines)))
                if text and self.line(index + 1, text):
                    self.rest(lines, index + 1)
                    break
        except FlowError as wrong:
            self.not_read(
                wrong.line, lines[wrong.line - 1].strip(), f"{wrong}"[:1].upper() + f"{wrong}"[1:]
            )
        except EndlessError as wrong:
            raise NoProgram(str(wrong)) from None
        except RecursionError:
            raise NoProgram("Its expressions are nested deeper than any controller follows.") from None
        return self.program(lines, straight=flow is None or not flow.turned)

    def rest(self, lines: Sequence[str], after: int) -> None:
        """Lines behind the program's end are never run: that is said, once."""
        if any(_WORDS.match(line.strip().upper()) for line in lines[after : after + 2000]):
            self.doubts["end"] = f"What follows the program's end on line {after} is never run."

    def program(self, lines: Sequence[str], *, straight: bool) -> Program:
        """What was read. Raises NoProgram where nothing of it is a program."""
        motions = (
            np.frombuffer(self.rows, dtype=np.float64).reshape(-1, COLUMNS)
            if self.rows
            else np.empty((0, COLUMNS))
        )
        if not len(motions) and not any(a.kind == "torch_on" for a in self.acts):
            where = f" Line {self.unread[0].line}: “{self.unread[0].text}”." if self.unread else ""
            raise NoProgram(f"No motion stands in it: this is no cutting program.{where}")
        if self.left_out:
            last = self.unread[-1].line
            why = f"So are {self.left_out} more lines or words after line {last}: this is another language, or a damaged file."
            self.unread.append(Unread(last, "…", why))
        if not self.units:
            unit = "millimetres" if self.profile.units == "mm" else "inches"
            self.doubts["units"] = (
                f"No G20 or G21 stands in it: it was read in {unit}, as the output profile says."
            )
        first = self.first_mm if self.first_mm is not None else self.now.mm
        return Program(
            motions=motions,
            acts=tuple(self.acts),
            units="mm" if first == 1.0 else "in",
            unit_words=tuple(self.units),
            amperes=tuple(self.amperes),
            unread=tuple(self.unread),
            comments=tuple(self.comments),
            lines=len(lines) - (1 if lines and not lines[-1] else 0),
            doubts=tuple(self.doubts.values()),
            straight_through=straight,
            absolute=self.absolute_throughout,
            centres_absolute=bool(self.now.centres_absolute),
            speaks_control=self.speaks_control,
        )

    def not_read(self, line: int, text: str, why: str) -> None:
        """Name a line or word that was not understood."""
        if len(self.unread) >= MOST_UNREAD:
            self.left_out += 1
            return
        self.unread.append(Unread(line, text[:80], why))

    def act(self, kind: ActKind, line: int, value: float = math.nan) -> None:
        """Note something done between motions."""
        self.acts.append(Act(kind, line, self.motions, value))

    # ------------------------------------------------------------------ one line

    def bare(self, number: int, line: str) -> str:
        """A line without its comments, in capitals, without spaces; the comments are kept apart."""
        if "(" in line or ";" in line or ")" in line:
            line = self.without_comments(number, line)
        text = (
            line.upper().replace(" ", "").translate(_NO_SPACE)
            if "\t" in line
            else line.upper().replace(" ", "").strip()
        )
        if not text:
            return ""
        if text[0] in "%/:\x1a":
            if text[0] == "%" or text == "\x1a":
                return ""
            if text[0] == ":":
                return "" if text[1:].isdigit() else text
            self.doubts["skip"] = (
                "Lines that begin with / are read as run: the table's switch for them is taken to be off."
            )
            text = text[1:]
        return _CHECKSUM.sub("", text) if "*" in text and "[" not in text else text

    def without_comments(self, number: int, line: str) -> str:
        """What is left of a line when its comments are taken out."""
        while (found := _COMMENT.search(line)) is not None and ";" not in line[: found.start()]:
            self.comment(number, found[1])
            line = line[: found.start()] + " " + line[found.end() :]
        before, mark, after = line.partition(";")
        if mark:
            self.comment(number, after)
            line = before
        if "(" in line or ")" in line:
            self.not_read(
                number, line.strip(), "A bracket of a comment is not closed, or was not opened."
            )
            cut = line.find("(") if "(" in line else line.find(")")
            line = line[:cut]
        return line

    def comment(self, number: int, text: str) -> None:
        """Keep a comment, and the amperage that it names."""
        text = text.strip()
        if not text:
            return
        if len(self.comments) < 100_000:
            self.comments.append((number, text))
        if (named := _AMPERES.search(text)) is not None:
            self.amperes.append(Named(number, float(named[1] or named[2])))

    def line(self, number: int, text: str) -> bool:
        """One line as it runs; whether the program ends with it."""
        if len(text) > LONGEST_LINE:
            self.not_read(
                number,
                text[:40],
                f"The line is longer than {LONGEST_LINE} characters: no controller takes it.",
            )
            return False
        found = _PATH_LINE.fullmatch(text)
        if found is not None:
            self.along(number, found)
            return False
        if "#" in text or "[" in text:
            text = self.worked_out(number, text)
            if not text:
                return False
        words = _WORDS.findall(text)
        if text in self.lines_of_profile and sum(map(_size, words)) != len(text):
            return False
        if sum(map(_size, words)) != len(text):
            self.not_read(
                number, text, f"“{_left_over(text)}” is no word that RS-274 or the output profile knows."
            )
            if (
                not words
                or not set("GMXYZ").intersection(w[0] for w in words)
                or text[0] not in _KNOWN_LETTERS
            ):
                return False
        return self.run(number, words)

    def along(self, number: int, found: re.Match[str]) -> None:
        """A line that holds nothing but a motion and its feed, as nearly all do: the same as ``run``, without asking for
        what is not there."""
        now = self.now
        g, x_word, y_word, i_word, j_word, f_word = found.groups()
        if g:
            now.motion = float(g)
        if f_word:
            now.feed = float(f_word) * now.mm
        if now.motion in {0.0, 1.0} and now.absolute and not math.isnan(now.x) and not math.isnan(now.y):
            x = float(x_word) * now.mm + now.dx if x_word else now.x
            y = float(y_word) * now.mm + now.dy if y_word else now.y
            if abs(x) <= FARTHEST_MM and abs(y) <= FARTHEST_MM:
                if x != now.x or y != now.y:
                    self.emit(number, now.motion, (x, y), (0.0, 0.0))
                return
        words = zip("XYIJ", (x_word, y_word, i_word, j_word), strict=True)
        self.move(
            number, [now.motion] if g else [], {letter: float(said) for letter, said in words if said}
        )

    def worked_out(self, number: int, text: str) -> str:
        """The line with its assignments made, and its variables and expressions as numbers."""
        try:
            then = then_of(text, lambda t: Expression(t, self.variables).value())
            text = text if then is None else then
            return _numbers_for(text, self.variables)
        except ExpressionError as wrong:
            self.not_read(number, text, f"Cannot be worked out: {wrong}.")
            return ""

    def run(self, number: int, words: list[tuple[str, str]]) -> bool:
        """The words of a line, in the order in which RS-274 runs them."""
        gs, ms, given = self.sorted(number, words)
        odd = given.keys() - _KNOWN_LETTERS
        if odd:
            self.odd_words(number, given, odd)
        if "F" in given:
            self.now.feed = given["F"] * self.now.mm
        if self.words_of_profile and (ms or gs):
            ms = self.profile_acts(number, ms, gs, given)
        for m in ms:
            if m not in _QUIET_M and ("M", m) not in self.known:
                self.not_read(
                    number, f"M{m:g}", f"M{m:g} is no word that RS-274 or the output profile knows."
                )
            elif m in {3.0, 4.0}:
                self.torch(number, given)
        # Every mode is set before anything moves.
        taken = [self.mode(number, g, given) for g in gs]
        if not any(taken):
            self.move(number, gs, given)
        return self.afterwards(number, ms)

    def sorted(
        self, number: int, words: list[tuple[str, str]]
    ) -> tuple[list[float], list[float], dict[str, float]]:
        """The G-words, the M-words and the rest of a line."""
        gs: list[float] = []
        ms: list[float] = []
        given: dict[str, float] = {}
        for letter, digits in words:
            if letter in "GM":
                (gs if letter == "G" else ms).append(float(digits))
            elif letter in given and letter not in "PLN":
                why = f"{letter} stands twice on this line: which one is meant?"
                self.not_read(number, f"{letter}{digits}", why)
            else:
                given[letter] = float(digits)
        return gs, ms, given

    def afterwards(self, number: int, ms: list[float]) -> bool:
        """M-words that act after the line's motion; whether the program ends with it."""
        for m in ms:
            if m == 5.0:
                self.torch_off(number)
            elif m in {0.0, 1.0, 60.0}:
                self.act("stop", number)
            elif m in {2.0, 30.0}:
                self.act("end", number)
                return True
        return False

    def odd_words(self, number: int, given: dict[str, float], odd: Iterable[str]) -> None:
        """Words of axes and devices that a flat cutting table does not have."""
        for letter in sorted(odd):
            self.not_read(
                number,
                f"{letter}{given[letter]:g}",
                f"{letter} is no axis or word of a flat cutting program here.",
            )

    def torch(self, number: int, given: dict[str, float]) -> None:
        """Torch on, and the amperage where an S word beside it can be one."""
        self.act("torch_on", number)
        self.now.torch = True
        if 15 <= given.get("S", 0.0) <= 400:
            self.amperes.append(Named(number, given["S"]))

    def torch_off(self, number: int) -> None:
        """Torch off."""
        self.act("torch_off", number)
        self.now.torch = False

    def profile_acts(
        self, number: int, ms: list[float], gs: list[float], given: dict[str, float]
    ) -> list[float]:
        """What the profile's own words on a line do; the M-words that are left."""
        for words, does in self.words_of_profile:
            if not all(
                (v in ms) if letter == "M" else (v in gs) if letter == "G" else given.get(letter) == v
                for letter, v in words
            ):
                continue
            ms = [m for m in ms if ("M", m) not in words]
            for g in [v for letter, v in words if letter == "G"]:
                gs.remove(g)
            if does == "torch_on":
                self.torch(number, given)
            elif does == "torch_off":
                self.torch_off(number)
            elif does in ("on", "off"):
                self.now.control = 1.0 if does == "on" else 0.0
                self.speaks_control = True
        return ms

    # ------------------------------------------------------------------ modes

    def mode(self, number: int, g: float, given: dict[str, float]) -> bool:
        """One G-word; whether the line's X, Y and Z are then no motion's."""
        if g in _MODES:
            setattr(self.now, *_MODES[g])
            self.absolute_throughout &= g != 91.0
        elif g in {20.0, 21.0, 70.0, 71.0}:
            self.unit(number, MM_PER_INCH if g in {20.0, 70.0} else 1.0, given)
        elif g in _ACTS:
            _ACTS[g](self, number, g, given)
            return True
        elif g in {92.1, 92.2}:
            self.now.dx = self.now.dy = self.now.dz = 0.0
        elif 54.0 <= g <= 59.3:
            self.zero(g)
        elif g not in _QUIET_G:
            self.unknown_g(number, g)
            return g in _MOVES_UNREAD or 73 <= g <= 89
        return False

    def unknown_g(self, number: int, g: float) -> None:
        """A G-word that is not followed here."""
        if ("G", g) in self.known:
            return
        spindle = "counts feed by turns of a spindle, and a torch has none"
        why = spindle if g == 95.0 else "is no word that can be followed here"
        self.not_read(number, f"G{g:g}", f"G{g:g} {why}.")

    def zero(self, g: float) -> None:
        """G54 and on: which of its zeros a program counts from."""
        self.zeros.add(g)
        if len(self.zeros) > 1:
            self.doubts["zeros"] = (
                "Several zeros (G54 and others) are used: how they lie to each other is not in the program, and it was "
                "read as if they were one."
            )

    def home(self, _number: int, _g: float, _given: dict[str, float]) -> None:
        """To a place of the machine's own, which the program does not know."""
        self.now.x = self.now.y = self.now.z = math.nan

    def in_machine(self, number: int, g: float, given: dict[str, float]) -> None:
        """A motion in the machine's own coordinates."""
        self.doubts["machine"] = (
            f"Line {number} moves in the machine's own coordinates (G53): where that is on the sheet is not known."
        )
        self.home(number, g, given)

    def touched(self, number: int, _g: float, _given: dict[str, float]) -> None:
        """A touch-off: where it stops is where the plate is."""
        self.act("touch_off", number)
        self.now.z = math.nan

    def unit(self, number: int, mm: float, given: dict[str, float]) -> None:
        """Inches or millimetres from here on."""
        if "F" in given:
            self.now.feed = given["F"] * mm
        self.now.mm = mm
        self.units.append(Named(number, mm))

    def shifted(self, _number: int, g: float, given: dict[str, float]) -> None:
        """G92: the torch stands where the words say. G52: the zero is moved by them."""
        now = self.now
        for letter, axis, shift in (("X", "x", "dx"), ("Y", "y", "dy"), ("Z", "z", "dz")):
            if letter not in given:
                continue
            value = given[letter] * now.mm
            if g == 52.0:
                setattr(now, shift, value)
            else:
                here = getattr(now, axis)
                if axis == "z":
                    # Set after a touch-off: heights count from the plate from here on.
                    now.z, now.dz = value, 0.0
                else:
                    setattr(now, shift, (0.0 if math.isnan(here) else here) - value)

    def dwell(self, number: int, _g: float, given: dict[str, float]) -> None:
        """A wait: P in the profile's unit, X, U and S in seconds."""
        if "P" in given:
            self.act("dwell", number, given["P"] / (1000 if self.profile.delay_unit == "ms" else 1))
        elif given.keys() & {"X", "U", "S"}:
            self.act("dwell", number, next(given[k] for k in "XUS" if k in given))
        else:
            self.not_read(number, "G4", "G4 waits, and does not say how long.")

    # ------------------------------------------------------------------ motion

    def move(self, number: int, gs: list[float], given: dict[str, float]) -> None:
        """Where the line's coordinates take the torch."""
        now = self.now
        has_xy = "X" in given or "Y" in given
        turns = now.motion >= 2.0 and ("I" in given or "J" in given or "R" in given)
        if "Z" in given and not has_xy and not turns:
            self.lifted(number, given["Z"])
            return
        if not has_xy and not turns:
            if now.motion >= 2.0 and any(g in (2.0, 3.0) for g in gs):
                self.not_read(number, "arc", "This arc has neither an end nor a centre.")
            return
        if now.motion < 0:
            self.not_read(
                number, "motion", "X and Y are given, and no G0 or G1 before them says how to go there."
            )
            return
        target = self.target(number, given)
        if target is None:
            return
        if "Z" in given:
            now.z = self.height(given["Z"])
        if now.motion >= 2.0:
            self.arc(number, given, target)
        else:
            self.straight(number, target)

    def target(self, number: int, given: dict[str, float]) -> tuple[float, float] | None:
        """Where X and Y point to, in mm; None where that is no place."""
        now = self.now
        x, y = now.x, now.y
        if "X" in given:
            x = given["X"] * now.mm + (now.dx if now.absolute else (0.0 if math.isnan(x) else x))
        if "Y" in given:
            y = given["Y"] * now.mm + (now.dy if now.absolute else (0.0 if math.isnan(y) else y))
        if abs(x) > FARTHEST_MM or abs(y) > FARTHEST_MM:
            far = max(abs(v) for v in (x, y) if not math.isnan(v))
            self.not_read(
                number, " ".join(f"{k}{given[k]:g}" for k in "XY" if k in given),
                f"This is {length(far)} from the zero, and no table is so large: a point is missing in the number, or the unit is wrong.",
            )  # fmt: skip
            return None
        return x, y

    def height(self, z: float) -> float:
        """A Z word as a height above the program's Z zero, in mm."""
        now = self.now
        if now.absolute:
            return z * now.mm + now.dz
        return z * now.mm + (0.0 if math.isnan(now.z) else now.z)

    def lifted(self, number: int, z: float) -> None:
        """A motion of Z alone."""
        self.now.z = self.height(z)
        self.act("height" if self.now.motion == RAPID else "plunge", number, self.now.z)

    def straight(self, number: int, target: tuple[float, float]) -> None:
        """A line to a place; from an unknown one, only its end is known."""
        now = self.now
        x, y = target
        if math.isnan(now.x) or math.isnan(now.y):
            if math.isnan(x) or math.isnan(y):
                # One axis is still where it was before the program, which is its zero.
                x, y = (0.0 if math.isnan(v) else v for v in (x, y))
            now.x = now.y = 0.0  # a program is begun from its zero
        if x == now.x and y == now.y:
            return
        self.emit(number, RAPID if now.motion == RAPID else STRAIGHT, (x, y), (0.0, 0.0))

    def arc(self, number: int, given: dict[str, float], target: tuple[float, float]) -> None:
        """An arc by its centre or radius."""
        now = self.now
        if now.plane != 17.0:
            self.not_read(
                number, f"G{now.plane:g}", "An arc out of the plate's plane: a flat cut has none."
            )
        if math.isnan(now.x) or math.isnan(now.y):
            now.x = now.y = 0.0
        x, y = (h if math.isnan(t) else t for t, h in zip(target, (now.x, now.y), strict=True))
        if "I" in given or "J" in given:
            centre = self.centre(number, given, (x, y))
        elif "R" in given:
            centre = self.by_radius(number, given["R"] * now.mm, (x, y))
        else:
            centre = None
            self.not_read(number, "arc", "This arc has no centre (I, J) and no radius (R).")
        if centre is None:
            # The end is known all the same; how it gets there was said not to be.
            self.emit(number, STRAIGHT, (x, y), (0.0, 0.0))
            return
        self.emit(number, CLOCKWISE if now.motion == 2.0 else COUNTER_CLOCKWISE, (x, y), centre)

    def centre(
        self, number: int, given: dict[str, float], end: tuple[float, float]
    ) -> tuple[float, float] | None:
        """The centre that I and J name: from the arc's start, or absolute where the program or its first arc says so."""
        now = self.now
        i, j = given.get("I", 0.0) * now.mm, given.get("J", 0.0) * now.mm
        beside = (now.x + i, now.y + j)
        placed = (
            i + now.dx if "I" in given else now.x,
            j + now.dy if "J" in given else now.y,
        )
        first, other = (placed, beside) if now.centres_absolute else (beside, placed)
        if self.fits(first, end):
            if now.centres_absolute is None:
                now.centres_absolute = False
            return first
        if now.centres_absolute is None and self.fits(other, end):
            now.centres_absolute = True
            self.doubts["centres"] = (
                "Arc centres were read as absolute places: no word says so, and only so do its arcs close."
            )
            return other
        r0, r1 = math.dist((now.x, now.y), first), math.dist(end, first)
        self.not_read(
            number, f"I{given.get('I', 0.0):g} J{given.get('J', 0.0):g}",
            f"The arc's radius does not fit: {length(r0)} at its start and {length(r1)} at its end.",
        )  # fmt: skip
        return None

    def fits(self, centre: tuple[float, float], end: tuple[float, float]) -> bool:
        """Whether an arc round that centre joins here with an end."""
        r0, r1 = math.dist((self.now.x, self.now.y), centre), math.dist(end, centre)
        return r0 > 1e-6 and abs(r0 - r1) <= max(ARC_SLACK_MM, 0.0005 * r0)

    def by_radius(self, number: int, r: float, end: tuple[float, float]) -> tuple[float, float] | None:
        """The centre of an arc of a radius: the shorter way round, or the longer where R is negative."""
        now = self.now
        (x, y), (u, v) = (now.x, now.y), end
        chord = math.dist((x, y), end)
        half2 = r * r - chord * chord / 4
        if chord < 1e-9 or half2 < -ARC_SLACK_MM * max(abs(r), 1.0):
            self.not_read(
                number, f"R{r / now.mm:g}",
                f"The arc's radius does not fit: {length(abs(r))} cannot reach over {length(chord)}.",
            )  # fmt: skip
            return None
        h = math.sqrt(max(0.0, half2)) * (-1 if (now.motion == 2.0) == (r > 0) else 1)
        mx, my = (x + u) / 2, (y + v) / 2
        return mx - h * (v - y) / chord, my + h * (u - x) / chord

    def emit(
        self, number: int, kind: float, end: tuple[float, float], centre: tuple[float, float]
    ) -> None:
        """One motion, in Orthotome's frame."""
        now, axes = self.now, self.axes
        if self.first_mm is None:
            self.first_mm = now.mm
        feed = math.nan if kind == RAPID else now.feed
        if not now.per_minute and not math.isnan(feed):
            # G93: the word is how many such moves a minute would hold.
            feed = feed / now.mm * max(math.dist((now.x, now.y), end), 1e-9)
        start = (now.x, now.y)
        now.x, now.y = end
        if axes is not FRAME:
            start, end, centre = axes.to_frame(*start), axes.to_frame(*end), axes.to_frame(*centre)
            if self.mirrors and kind >= CLOCKWISE:
                kind = CLOCKWISE + COUNTER_CLOCKWISE - kind
        side = -now.compensation if self.mirrors else now.compensation
        self.rows.extend((number, kind, *start, *end, *centre, feed, now.z, side, now.control))
        self.motions += 1
        if self.motions > MOST_MOTIONS:
            raise NoProgram(
                f"Line {number}: more than {MOST_MOTIONS} motions, more than any sheet takes."
            )


_MODES: dict[float, tuple[str, float | bool]] = {
    **{g: ("motion", g) for g in (0.0, 1.0, 2.0, 3.0)},
    **{g: ("plane", g) for g in (17.0, 18.0, 19.0)},
    90.0: ("absolute", True),
    91.0: ("absolute", False),
    90.1: ("centres_absolute", True),
    91.1: ("centres_absolute", False),
    40.0: ("compensation", 0.0),
    41.0: ("compensation", 1.0),
    41.1: ("compensation", 1.0),
    42.0: ("compensation", -1.0),
    42.1: ("compensation", -1.0),
    93.0: ("per_minute", False),
    94.0: ("per_minute", True),
}
_ACTS: dict[float, Callable[[_Reader, int, float, dict[str, float]], None]] = {
    4.0: _Reader.dwell,
    28.0: _Reader.home,
    30.0: _Reader.home,
    53.0: _Reader.in_machine,
    **dict.fromkeys((31.0, 38.2, 38.3, 38.4, 38.5), _Reader.touched),
    52.0: _Reader.shifted,
    92.0: _Reader.shifted,
}
"""What G-words do that take a line's coordinates for themselves."""

_NO_SPACE = {ord(c): None for c in " \t\r\n\x0c\x0b\xa0"}


def _size(word: tuple[str, str]) -> int:
    return len(word[0]) + len(word[1])


def _left_over(text: str) -> str:
    """What of a line is no word."""
    rest = _WORDS.sub(" ", text).split()
    return rest[0][:40] if rest else text[:40]


def _plain(word: str) -> str:
    return word.upper().replace(" ", "")


_Does = Literal["torch_on", "torch_off", "on", "off", "hold"]


def _profile_words(profile: OutputProfile) -> list[tuple[tuple[tuple[str, float], ...], _Does]]:
    """What the profile's own words do, those of most parts first; the torch's usual words are RS-274's."""
    named: list[tuple[str, _Does]] = [
        (profile.torch_on, "torch_on"),
        (profile.torch_off, "torch_off"),
        (profile.height_on, "on"),
        (profile.height_off, "off"),
        (profile.height_hold, "hold"),
        (profile.height_follow, "on"),
    ]
    found = []
    for text, does in named:
        words = tuple((letter, float(digits)) for letter, digits in _WORDS.findall(_plain(text)))
        if words and words not in ((("M", 3.0),), (("M", 5.0),)):
            found.append((words, does))
    return sorted(found, key=lambda w: -len(w[0]))


_ASSIGNED = re.compile(r"^(?:N\d+)?((?:#(?:\d+|<[^>]*>|\[[^\]]*\])=.*)+)$")


def _numbers_for(text: str, variables: dict[str, float]) -> str:
    """A line with every variable and expression worked out, assignments made and taken out."""
    found, at, made = [], 0, []
    while at < len(text):
        c = text[at]
        if c == "#":
            reader = Expression(text, variables, at + 1)
            key = reader.key()
            if text[reader.at : reader.at + 1] != "=":
                raise ExpressionError(f"“{text[at : at + 12]}” stands alone")
            reader.at += 1
            made.append((key, reader.value()))
            at = reader.at
        elif (c.isalpha() and text[at + 1 : at + 2] in ("#", "[")) or (
            c.isalpha() and text[at + 1 : at + 3] in ("-#", "-[", "+#", "+[")
        ):
            reader = Expression(text, variables, at + 1)
            found.append(f"{c}{reader.value():.6f}")
            at = reader.at
        elif c == "[":
            raise ExpressionError("an expression stands alone")
        else:
            found.append(c)
            at += 1
    if made and len(variables) + len(made) > 10_000:
        raise ExpressionError("more variables than any controller has")
    variables.update(made)
    return "".join(found)


def refusal(error: NoProgram) -> TradeError:
    """The same, for a form's field."""
    return TradeError("program", str(error))
