"""A copy of a program with the corrections that need no judgement, each marked in a comment; the original is kept.

It is done in stages, and the copy is read and checked again after each: what a stage did not cure is left as it was.
"""

import math
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from orthotome.core.machine.axis_map import FRAME, AxisMap
from orthotome.core.path.paths import Line, Move, Point
from orthotome.core.programs.check import Checked, check
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob
from orthotome.core.programs.corrections import (
    LineChanged,
    inside_first,
    overrun_moves,
    wanted_feeds_mm_min,
    with_code,
)
from orthotome.core.programs.program import FEED, KIND, LINE, RAPID, Program
from orthotome.core.quantities import length, seconds, speed
from orthotome.core.stock.gauges import MM_PER_INCH
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.programs.blocks import bounds_of_cuts
from orthotome.formats.programs.rs274 import lines_of, read_program

_FEED_WORD = re.compile(r"[Ff]\s*[-+]?(?:\d+\.?\d*|\.\d+)")
_HEIGHT_WORD = re.compile(r"[Zz]\s*(?:#\d+|\[[^\[\]]*\]|[-+]?(?:\d+\.?\d*|\.\d+))")
_WAIT_WORD = re.compile(r"([PpXxUuSs])\s*(?:\d+\.?\d*|\.\d+)")
_NUMBERED = re.compile(r"^\s*[Nn]\d+\s*")


@dataclass(frozen=True)
class _Text:
    """A line of the copy, and the line of the original that it is, or follows."""

    of: int
    text: str


@dataclass(frozen=True)
class Corrected:
    """The copy, what was changed in it, and what it is now."""

    content: bytes
    written: tuple[LineChanged, ...]
    checked: Checked


def corrected(
    content: bytes,
    profile: OutputProfile,
    against: CheckedAgainst,
    axes: AxisMap = FRAME,
    *,
    heights: bool = False,
) -> Corrected:
    """The copy of a program; with the setting's ``heights`` as well where it is made over for another set. Raises
    NoProgram where it is none."""
    return _Corrector(content, profile, against, axes).run(heights=heights)


class _Corrector:
    """The text as it stands after each stage, and what is known of it."""

    def __init__(
        self, content: bytes, profile: OutputProfile, against: CheckedAgainst, axes: AxisMap
    ) -> None:
        self.profile, self.axes = profile, axes
        # Sizes are typed for contours by their number, and a copy may cut them in another order.
        self.against = replace(against, nominal={})
        self.ending = b"\r\n" if b"\r\n" in content[:10_000] else b"\n"
        self.lines = [_Text(n, t) for n, t in enumerate(lines_of(content), 1)]
        self.written: list[LineChanged] = []
        self.checked = self.read()

    def run(self, *, heights: bool) -> Corrected:
        """All stages. What cannot be followed line by line is left alone: loops, sub-programs, mixed units."""
        program, job = self.checked.program, self.against.job
        plain = program.straight_through and len({u.value for u in program.unit_words}) <= 1
        if plain:
            stages: list[Callable[[], None]] = [self.torch_off, self.order, self.torch_off]
            if job is not None:
                of_job = job
                stages += [
                    lambda: self.feeds(of_job),
                    lambda: self.delays(of_job),
                    self.control,
                    lambda: self.overruns(of_job),
                ]
                if heights and program.absolute:
                    stages.append(lambda: self.heights(of_job))
            for stage in stages:
                self.attempt(stage)
        return Corrected(self.content(), tuple(sorted(self.written, key=lambda w: w.line)), self.checked)

    def attempt(self, stage: Callable[[], None]) -> None:
        """One stage; undone where it leaves more wrong than before."""
        lines, written, before = list(self.lines), list(self.written), self.checked
        stage()
        if len(self.written) == len(written):
            return
        self.checked = self.read()
        if len(self.checked.problems) > len(before.problems) or len(self.checked.contours) < len(
            before.contours
        ):
            self.lines, self.written, self.checked = lines, written, before

    def read(self) -> Checked:
        """The text as it stands, checked."""
        return check(read_program(self.content(), self.profile, self.axes), self.against)

    def content(self) -> bytes:
        """The text as it stands."""
        return self.ending.join(t.text.encode() for t in self.lines)

    # ------------------------------------------------------------------ stages

    def torch_off(self) -> None:
        """Out after a cut, where nothing puts it out before the torch is raised or lit again."""
        for i in reversed(with_code(self.checked, "torch_never_off", "rapid_with_torch_on")):
            contour = self.checked.contours[i]
            if contour.run.off_line is not None:
                continue
            span = self.checked.program.motions[contour.run.first : contour.run.after]
            rapid = np.flatnonzero(span[:, KIND] == RAPID)
            last = span[rapid[0] - 1] if len(rapid) and rapid[0] > 0 else span[-1]
            self.insert(int(last[LINE]), [self.profile.torch_off], "the torch was never put out")

    def order(self) -> None:
        """What lies inside before what lies round it."""
        if not with_code(self.checked, "outside_before_inside"):
            return
        blocks = self.blocks()
        if blocks is None:
            return
        wanted = inside_first(self.checked.contours)
        head, bodies, tail = blocks
        moved = [i for n, i in enumerate(wanted) if i != n]
        self.lines = [*head, *(t for i in wanted for t in bodies[i]), *tail]
        for i in moved:
            contour = self.checked.contours[i]
            if contour.parent is not None:
                outer = self.checked.contours[contour.parent]
                at = bodies[i][0].of
                self.mark_at(at, "cut before the outline that it lies in")
                self.written.append(
                    LineChanged(
                        at,
                        f"cut after line {outer.line}",
                        "cut before it",
                        "inside comes before outside",
                    )
                )

    def blocks(self) -> tuple[list[_Text], list[list[_Text]], list[_Text]] | None:
        """What comes before the first cut, the lines of each cut, and what comes after the last."""
        bounds = bounds_of_cuts(self.checked, [t.text for t in self.lines])
        if bounds is None:
            return None
        bodies = [self.lines[a - 1 : b - 1] for a, b in pairwise(bounds)]
        return self.lines[: bounds[0] - 1], bodies, self.lines[bounds[-1] - 1 :]

    def feeds(self, job: PlateJob) -> None:
        """F words, said anew where the one in force is another."""
        if not with_code(self.checked, "no_feed", "feed_differs", "hole_too_fast"):
            return
        program = self.checked.program
        wanted = wanted_feeds_mm_min(self.checked, job)
        of_line = {
            int(m[LINE]): float(w)
            for m, w in zip(program.motions, wanted, strict=True)
            if not math.isnan(w)
        }
        was_of = {int(m[LINE]): float(m[FEED]) for m in program.motions}
        in_force = math.nan
        per = self.per_mm(program)
        for n, item in enumerate(self.lines, 1):
            code = _code(item.text)
            said = _FEED_WORD.search(code)
            if n not in of_line:
                in_force = float(said[0][1:]) / per if said else in_force
                continue
            feed = of_line[n]
            now = float(said[0][1:]) / per if said else in_force
            in_force = feed
            if abs(now - feed) <= 1e-3 * feed:
                in_force = now
                continue
            word = f"F{_plain(feed * per)}"
            text = (
                item.text[: said.start()] + word + item.text[said.end() :]
                if said
                else _appended(item.text, word)
            )
            was = was_of.get(n, math.nan)
            changed = math.isnan(was) or abs(was - feed) > 1e-3 * feed
            whole = abs(feed - job.setting.speed_mm_min) <= 1e-3 * feed
            share = "the setting's speed" if whole else "a hole's share of the setting's speed"
            why = f"{share}, {speed(feed)}" if changed else "said again, as it was"
            self.change(n, text, said[0] if said else "no F word", word, why)

    def delays(self, job: PlateJob) -> None:
        """Waits after torch on."""
        wait = job.setting.pierce_delay_s
        said = f"{wait:.2f}" if self.profile.delay_unit == "s" else f"{1000 * wait:.0f}"
        inserts: list[tuple[int, list[str]]] = []
        for i in with_code(self.checked, "pierce_delay_differs"):
            run = self.checked.contours[i].run
            if run.delay_line is None:
                inserts.append((run.on_line, [f"G4 P{said}"]))
                continue
            text = self.lines[run.delay_line - 1].text
            word = _WAIT_WORD.search(_NUMBERED.sub(lambda m: " " * len(m[0]), _code(text)))
            if word is not None:
                now = f"{word[1]}{said if word[1] in 'Pp' else f'{wait:.2f}'}"
                self.change(
                    run.delay_line, text[: word.start()] + now + text[word.end() :], word[0], now,
                    f"the setting's pierce delay, {seconds(wait)}",
                )  # fmt: skip
        for line, words in reversed(inserts):
            self.insert(line, words, f"the setting's pierce delay, {seconds(wait)}")

    def heights(self, job: PlateJob) -> None:
        """Pierce and cut height in Z words."""
        acts, per = self.checked.program.acts, self.per_mm(self.checked.program)
        for i in with_code(self.checked, "height_differs"):
            run = self.checked.contours[i].run
            said = [a for a in acts if a.before == run.first and a.kind in ("height", "plunge")]
            for some, wanted in (
                ([a for a in said if a.line <= run.on_line], job.setting.pierce_height_mm),
                ([a for a in said if a.line > run.on_line], job.setting.cut_height_mm),
            ):
                text = self.lines[some[-1].line - 1].text if some else ""
                word = _HEIGHT_WORD.search(_code(text))
                if word is not None:
                    now = f"Z{_plain(wanted * per)}"
                    self.change(
                        some[-1].line, text[: word.start()] + now + text[word.end() :], word[0], now,
                        f"the setting's height, {length(wanted)}",
                    )  # fmt: skip

    def control(self) -> None:
        """Height control off in holes."""
        p = self.profile
        if not p.height_on or not p.height_off:
            return
        inserts: list[tuple[int, str]] = []
        for i in with_code(self.checked, "control_on_in_hole"):
            run = self.checked.contours[i].run
            inserts.append((run.on_line, p.height_off))
            last = run.off_line or int(self.checked.contours[i].motions[-1, LINE])
            for n in range(run.on_line, last + 1):
                code = _code(self.lines[n - 1].text)
                if re.search(rf"(?i){_loose(p.height_on)}", code):
                    kept = re.sub(rf"(?i){_loose(p.height_on)}", "", self.lines[n - 1].text)
                    self.change(n, kept, p.height_on, "left out", "height control stays off in a hole")
                    inserts.pop()
                    break
            else:
                inserts.append((last, p.height_on))
        for line, word in sorted(inserts, reverse=True):
            self.insert(line, [word], "height control off in a hole")

    def overruns(self, job: PlateJob) -> None:
        """The beginning of a contour cut once more."""
        program = self.checked.program
        inserts: list[tuple[int, list[str]]] = []
        for i in with_code(self.checked, "overrun_missing"):
            contour = self.checked.contours[i]
            if contour.run.off_line is not None and program.absolute:
                moves = overrun_moves(contour, job)
                inserts.append(
                    (int(contour.motions[-1, LINE]), [self.words_of(m, program) for m in moves])
                )
        for line, words in sorted(inserts, reverse=True):
            self.insert(line, words, "on past the start, so that the lagging bottom is through")

    # ------------------------------------------------------------------ words

    def per_mm(self, program: Program) -> float:
        """What a millimetre is in the program's unit."""
        return 1.0 if program.units == "mm" else 1 / MM_PER_INCH

    def words_of(self, move: Move, program: Program) -> str:
        """A move of Orthotome's frame in the program's own axes and unit."""
        return words_of_move(move, self.axes, program)

    def change(self, line: int, text: str, was: str, now: str, why: str) -> None:
        """Another text for a line, marked."""
        item = self.lines[line - 1]
        self.lines[line - 1] = replace(
            item, text=self.marked(text, f"was {was}" if was != "no F word" else "added")
        )
        self.written.append(LineChanged(item.of, was.strip(), now.strip(), why))

    def insert(self, line: int, words: Sequence[str], why: str) -> None:
        """New lines behind a line, the first marked."""
        item = self.lines[line - 1]
        new = [_Text(item.of, self.marked(w, "added") if n == 0 else w) for n, w in enumerate(words)]
        self.lines[line:line] = new
        self.written.append(LineChanged(item.of, "", " / ".join(words), why))

    def mark_at(self, of: int, text: str) -> None:
        """A comment of its own before a line of the original."""
        if self.profile.comments == "none":
            return
        n = next(n for n, t in enumerate(self.lines) if t.of == of)
        self.lines.insert(n, _Text(of, self.comment(text)))

    def marked(self, text: str, said: str) -> str:
        """A line with its change said in a comment."""
        if self.profile.comments == "none":
            return text
        return f"{text.rstrip()} {self.comment(said)}"

    def comment(self, said: str) -> str:
        """A comment of Orthotome's."""
        return comment_of(said, self.profile)


def comment_of(said: str, profile: OutputProfile) -> str:
    """A comment of Orthotome's, in the profile's style."""
    plain = f"Orthotome: {said}".replace("(", "[").replace(")", "]").replace(";", ",")
    return f"; {plain}" if profile.comments == "semicolon" else f"({plain})"


def words_of_move(move: Move, axes: AxisMap, program: Program) -> str:
    """A move as a line of a program with absolute coordinates."""
    per = 1.0 if program.units == "mm" else 1 / MM_PER_INCH
    digits = 4 if program.units == "mm" else 5

    def placed(p: Point) -> Point:
        x, y = axes.to_table(*p)
        return x * per, y * per

    def word(letter: str, value: float) -> str:
        return f"{letter}{round(value, digits) + 0.0:.{digits}f}"

    end = placed(move.end)
    where = f"{word('X', end[0])} {word('Y', end[1])}"
    if isinstance(move, Line):
        return f"G1 {where}"
    start, centre = placed(move.start), placed(move.centre)
    i, j = centre if program.centres_absolute else (centre[0] - start[0], centre[1] - start[1])
    clockwise = move.clockwise != axes.mirrors
    return f"{'G2' if clockwise else 'G3'} {where} {word('I', i)} {word('J', j)}"


def _code(text: str) -> str:
    """A line with its comments blanked, so that places in it stay what they are."""
    blank = re.sub(r"\([^()]*\)", lambda m: " " * len(m[0]), text)
    before, mark, after = blank.partition(";")
    return before + " " * (len(mark) + len(after))


def _appended(text: str, word: str) -> str:
    """A word at the end of a line's code, before its comments."""
    code = _code(text).rstrip()
    return f"{code} {word}{text[len(code) :]}" if text.startswith(code) else f"{word} {text}"


def _plain(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")


def _loose(word: str) -> str:
    """A profile's word as it may be written: M76, M076, with spaces."""
    found = re.findall(r"([A-Za-z])\s*0*(\d+(?:\.\d+)?)", word)
    return r"\s*".join(rf"{letter}\s*0*{re.escape(digits)}(?!\d)" for letter, digits in found)
