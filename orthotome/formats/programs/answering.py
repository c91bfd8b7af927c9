"""What is asked of a program's text. Each question is worked out in a process apart, which is given it by its name: so it stands
here, beside what reads programs, and where no database and no web is imported with it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import AxisMap
from orthotome.core.programs.check import Checked, check
from orthotome.core.programs.checked_against import CheckedAgainst
from orthotome.core.programs.corrections import LineChanged
from orthotome.core.programs.findings import Code
from orthotome.core.programs.remade import remake_for
from orthotome.core.programs.split import SetToCut, Ways, ways_to_cut
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.programs.correcting import Corrected, corrected
from orthotome.formats.programs.picture import worked_out
from orthotome.formats.programs.remaking import rewritten
from orthotome.formats.programs.rs274 import NoProgram, read_program, refusal
from orthotome.formats.programs.splitting import TwoSets, halves


@dataclass(frozen=True)
class ProgramText:
    """A program as it came, with what it is read by and checked against."""

    content: bytes
    profile: OutputProfile
    axes: AxisMap
    against: CheckedAgainst

    def checked(self, progress: Callable[[float], None] | None = None) -> Checked:
        """Read and checked. Raises FileError for what is no program."""
        try:
            program = read_program(self.content, self.profile, self.axes, progress)
            if progress is not None:
                progress(1.0)
            return check(program, self.against)
        except NoProgram as wrong:
            raise refusal(wrong) from None


@dataclass(frozen=True)
class Copy:
    """A program written anew, and what was written into it."""

    content: bytes
    written: tuple[LineChanged, ...]

    @classmethod
    def of(cls, made: Corrected) -> "Copy":
        """Without its check, which is larger than all else."""
        return cls(made.content, made.written)


@dataclass(frozen=True)
class TwoCopies:
    """A program split between two sets, in the order in which they are cut."""

    first: Copy
    second: Copy
    other_is_first: bool


def as_shown(text: ProgramText, progress: Callable[[float], None] | None = None) -> str:
    """What is found in it and how it is drawn, as the JSON of a ``WorkedOut``. Raises FileError."""
    return worked_out(text.checked(progress)).model_dump_json()


def put_right(text: ProgramText) -> Copy:
    """With what needs no judgement put right. Raises FileError."""
    try:
        return Copy.of(corrected(text.content, text.profile, text.against, text.axes))
    except NoProgram as wrong:
        raise refusal(wrong) from None


def cut_otherwise(text: ProgramText, asked: Sequence[tuple[Code, int]]) -> tuple[Copy, str]:
    """With contours cut otherwise, each for a finding, and how that is shown. Raises FileError, or TradeError where it cannot be."""
    if text.against.job is None:
        raise TradeError(
            "program", "give a recipe or a trial to check against: kerf and swirl come from it."
        )
    wanted = [remake_for(code, contour, text.against.job) for code, contour in asked]
    remakes = [w for w in wanted if w is not None]
    try:
        copy = rewritten(text.content, text.profile, text.against, text.axes, remakes)
    except NoProgram as wrong:
        raise refusal(wrong) from None
    return Copy.of(copy), worked_out(copy.checked).model_dump_json()


def ways_with(
    text: ProgramText, own: SetToCut, others: Sequence[SetToCut], hour_cost: float | None
) -> list[Ways]:
    """Whole and split, with its own set and each of the others. Raises FileError."""
    found = text.checked()
    return [ways_to_cut(found, own, other, text.against.table, hour_cost) for other in others]


def split_with(text: ProgramText, own: SetToCut, other: SetToCut) -> TwoCopies:
    """Split between two sets. Raises FileError, or TradeError where it cannot be."""
    to_other = ways_to_cut(text.checked(), own, other, text.against.table, None).to_other
    two = TwoSets(own.name, own.job, other.name, other.job, frozenset(to_other))
    try:
        made = halves(text.content, text.profile, text.against, text.axes, two)
    except NoProgram as wrong:
        raise refusal(wrong) from None
    return TwoCopies(Copy.of(made.first), Copy.of(made.second), made.other_is_first)
