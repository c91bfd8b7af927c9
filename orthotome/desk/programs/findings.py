"""What is found in a program, worked out in a process apart and once for all who look."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass

from sqlmodel import Session

from orthotome.core.programs.findings import Code
from orthotome.core.quantities import ShopUnits, spoken
from orthotome.desk.working.apart import Watch, apart
from orthotome.desk.working.kept_answers import KeptAnswers
from orthotome.formats.programs.answering import Copy, ProgramText, as_shown, cut_otherwise, put_right
from orthotome.formats.programs.picture import WorkedOut
from orthotome.store.height.trial_volts import NumbersNow
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow

MOST_CPU_S = 120
"""For a program of 50 MB; who waits for it sees how far it is, and can stop it."""

Kept = KeptAnswers[tuple[int, str, int, ShopUnits], WorkedOut]


@dataclass(frozen=True)
class ProgramFindings:
    """What was found in the programs that were looked at last, and the readings that somebody watches, by their key."""

    kept: Kept
    watched: dict[str, Watch]
    numbers: NumbersNow

    def basis(self, session: Session, row: ProgramRow) -> programs.Basis:
        """What a program is checked against now."""
        return programs.basis(session, row, self.numbers)

    def in_program(
        self, row: ProgramRow, basis: programs.Basis, watch: Watch | None = None
    ) -> WorkedOut:
        """What is found in a program against what it is checked against. Raises TradeError or FileError."""
        question = hash(row.text), repr(basis), hash(row.drawing), spoken()

        def work() -> WorkedOut:
            shown = apart("program", as_shown, text(row, basis), watch=watch, most_cpu_s=MOST_CPU_S)
            return WorkedOut.model_validate_json(shown)

        return self.kept.of(question, work)

    @contextmanager
    def watching(self, key: str | None) -> Iterator[Watch | None]:
        """A reading that is watched by whoever knows its key, as long as it lasts."""
        if key is None:
            yield None
            return
        watch = self.watched[key] = Watch()
        try:
            yield watch
        finally:
            self.watched.pop(key, None)


def text(row: ProgramRow, basis: programs.Basis) -> ProgramText:
    """A program as a process apart is given it."""
    return ProgramText(programs.text_of(row), basis.profile, basis.axes, basis.against)


def copy_put_right(row: ProgramRow, basis: programs.Basis) -> Copy:
    """A copy with what needs no judgement put right. Raises TradeError or FileError."""
    return apart("program", put_right, text(row, basis))


def copy_cut_otherwise(
    row: ProgramRow, basis: programs.Basis, asked: Sequence[tuple[Code, int]]
) -> tuple[Copy, WorkedOut]:
    """A copy with contours cut otherwise, each for a finding, and how it looks. Raises TradeError or FileError."""
    copy, shown = apart("program", cut_otherwise, text(row, basis), asked)
    return copy, WorkedOut.model_validate_json(shown)
