"""A program written as two that share a zero: what each of two sets cuts, the other set's half made over for it."""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import AxisMap
from orthotome.core.programs.check import Checked, check
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob
from orthotome.core.programs.contours import ProgramContour
from orthotome.core.programs.corrections import LineChanged, inside_first
from orthotome.core.programs.remade import remake_for_set
from orthotome.core.quantities import length
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.programs.blocks import bounds_of_cuts
from orthotome.formats.programs.correcting import Corrected, comment_of, corrected
from orthotome.formats.programs.remaking import rewritten
from orthotome.formats.programs.rs274 import lines_of, read_program

_HEAD = re.compile(r"\s*(?:%|[Oo]\d+).*")


@dataclass(frozen=True)
class Halves:
    """The two programs in the order in which they are cut, and which of them is the other set's."""

    first: Corrected
    second: Corrected
    other_is_first: bool


@dataclass(frozen=True)
class TwoSets:
    """The set that a program was made for and the other one, by name and setting; the contours that the other one cuts."""

    own_name: str
    own: PlateJob
    other_name: str
    other: PlateJob
    to_other: frozenset[int]

    @property
    def other_is_first(self) -> bool:
        """The slower set cuts first: what lies in a contour comes before it."""
        return self.other.setting.speed_mm_min <= self.own.setting.speed_mm_min


def halves(
    content: bytes, profile: OutputProfile, against: CheckedAgainst, axes: AxisMap, sets: TwoSets
) -> Halves:
    """Both programs, each read back and checked. Raises NoProgram, or TradeError where it cannot be taken apart."""
    found = check(read_program(content, profile, axes), against)
    lines = lines_of(content)
    bounds = bounds_of_cuts(found, lines)
    plain = found.program.straight_through and found.program.absolute
    if bounds is None or not plain or len({u.value for u in found.program.unit_words}) > 1:
        raise TradeError(
            "program",
            "its cuts do not each begin with a rapid of their own, or it has loops, sub-programs, steps or two units: split "
            "it where the program was made.",
        )
    against = replace(against, nominal={})  # typed by numbers that the halves do not have
    to_own = [i for i in range(len(found.contours)) if i not in sets.to_other]
    if not to_own or not sets.to_other:
        raise TradeError(
            "torch_set_id", "one of the two sets would cut nothing: there is nothing to split."
        )
    ending = "\r\n" if b"\r\n" in content[:10_000] else "\n"
    half = _Half(found, lines, bounds, profile, axes, ending)
    second = 1 if sets.other_is_first else 0
    own = half.own(to_own, replace(against, job=sets.own), _mark(second + 1, sets.own_name, second))
    mark = _mark(2 - second, sets.other_name, 1 - second)
    if any(found.contours[i].compensated for i in sets.to_other):
        mark += f", the control's kerf at {length(sets.other.setting.kerf_mm)}"
    other = half.other(sets, against, mark)
    first, last = (other, own) if sets.other_is_first else (own, other)
    return Halves(first, last, sets.other_is_first)


def _mark(nth: int, name: str, second: int) -> str:
    then = (
        "after the change of parts, from the same zero"
        if second
        else "then change the parts and keep the zero"
    )
    return f"{nth} of 2, with the {name}, {then}"


@dataclass(frozen=True)
class _Half:
    """A program as it can be taken apart."""

    found: Checked
    lines: Sequence[str]
    bounds: Sequence[int]
    profile: OutputProfile
    axes: AxisMap
    ending: str

    def own(self, which: Sequence[int], against: CheckedAgainst, mark: str) -> Corrected:
        """What stays with the program's own set; words that went with the other half are said again."""
        text, numbers = self.text(which, mark)
        copy = corrected(text, self.profile, against, self.axes)
        return replace(copy, written=_of_original(copy.written, numbers))

    def other(self, sets: TwoSets, against: CheckedAgainst, mark: str) -> Corrected:
        """What the other set cuts: its amperage, feeds, delays, heights, kerf and direction."""
        text, numbers = self.text(sorted(sets.to_other), mark)
        text = self.with_amperage(text, sets.own.amperage_a, sets.other.amperage_a)
        with_other = replace(against, job=sets.other, drawing=None)
        copy = corrected(text, self.profile, with_other, self.axes, heights=True)
        written = list(_of_original(copy.written, numbers))
        contours = copy.checked.contours
        self.check_alike(contours, self.in_order(sets.to_other))
        remakes = [remake_for_set(c, i, sets.own, sets.other) for i, c in enumerate(contours)]
        asked = [r for r in remakes if r is not None]
        if not asked:
            return replace(copy, written=tuple(written))
        drawn = rewritten(copy.content, self.profile, with_other, self.axes, asked)
        lines = [self.found.contours[i].line for i in self.in_order(sets.to_other)]
        written += [
            replace(w, line=lines[r.contour], why="drawn anew for the other set's kerf and swirl")
            for w, r in zip(drawn.written, asked, strict=True)
        ]
        return replace(drawn, written=tuple(sorted(written, key=lambda w: w.line)))

    def check_alike(self, contours: Sequence[ProgramContour], which: Sequence[int]) -> None:
        """Raise TradeError where a contour cut without the others looks like another kind: its kerf would lie on the wrong
        side."""
        for contour, i in zip(contours, which, strict=True):
            whole = self.found.contours[i]
            if (contour.kind, contour.kept_side) != (whole.kind, whole.kept_side):
                raise TradeError(
                    "program",
                    f"without the others the cut on line {whole.line} cannot be told from an outline or a hole: split it "
                    "where the program was made.",
                )

    def in_order(self, which: Collection[int]) -> list[int]:
        """Some contours, what lies inside before what lies round it."""
        return [i for i in inside_first(self.found.contours) if i in which]

    def text(self, which: Collection[int], mark: str) -> tuple[bytes, list[int]]:
        """The text of some cuts with what comes before and after them all, and of each line the original's number."""
        spans = list(pairwise(self.bounds))
        numbers = list(range(1, self.bounds[0]))
        for i in self.in_order(which):
            numbers += range(*spans[i])
        numbers += range(self.bounds[-1], len(self.lines) + 1)
        text = [self.lines[n - 1] for n in numbers]
        head = 0
        while head < len(text) and _HEAD.fullmatch(text[head]):
            head += 1
        if self.profile.comments != "none":
            text.insert(head, comment_of(mark, self.profile))
            numbers.insert(head, numbers[head])
        return self.ending.join(text).encode(), numbers

    def with_amperage(self, text: bytes, own: float, other: float) -> bytes:
        """The other set's amperage wherever the program names its own."""
        lines = lines_of(text)
        for named in read_program(text, self.profile, self.axes).amperes:
            if named.value == own:
                number = re.compile(rf"(?<![\d.]){re.escape(f'{own:g}')}(?:\.0*)?(?![\d.])")
                lines[named.line - 1] = number.sub(f"{other:g}", lines[named.line - 1])
        return self.ending.join(lines).encode()


def _of_original(written: Sequence[LineChanged], numbers: Sequence[int]) -> tuple[LineChanged, ...]:
    """Corrections by the line of the original instead of the half's."""
    return tuple(replace(w, line=numbers[min(w.line, len(numbers)) - 1]) for w in written)
