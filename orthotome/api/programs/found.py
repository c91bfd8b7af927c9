"""What is found in a program, worked out once for all who look, and the store to keep it in."""

from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Request
from sqlmodel import Session

from orthotome.api.depends import Numbers, SignedStore, Store
from orthotome.api.programs import answers
from orthotome.core.quantities import ShopUnits, spoken
from orthotome.desk.working.apart import Watch
from orthotome.desk.working.once import Once
from orthotome.formats.programs.picture import WorkedOut
from orthotome.store.height.here import NumbersNow
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow

Kept = Once[tuple[int, str, int, ShopUnits], WorkedOut]


@dataclass(frozen=True)
class Found:
    """The findings that are known, and the store."""

    kept: Kept
    store: SignedStore
    watched: dict[str, Watch]
    numbers: NumbersNow

    def basis(self, session: Session, row: ProgramRow) -> programs.Basis:
        """What a program is checked against now."""
        return programs.basis(session, row, self.numbers)

    def found(self, row: ProgramRow, basis: programs.Basis, watch: Watch | None = None) -> WorkedOut:
        """What is found in a program against what it is checked against."""
        question = hash(row.text), repr(basis), hash(row.drawing), spoken()
        text = programs.text_of(row)
        return self.kept.of(question, lambda: answers.check_apart(text, basis, watch))

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

    def write(self) -> AbstractContextManager[Session]:
        """One change by who asks."""
        return self.store.write()


async def _found(request: Request, store: Store, numbers: Numbers) -> Found:
    return Found(request.app.state.programs, store, request.app.state.watched, numbers)


WithPrograms = Annotated[Found, Depends(_found)]
