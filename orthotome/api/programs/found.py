"""What is found in a program, worked out once for all who look, and the store to keep it in."""

from contextlib import AbstractContextManager
from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Request
from sqlmodel import Session

from orthotome.api.depends import SignedStore, Store
from orthotome.api.once import Once
from orthotome.api.programs import answers
from orthotome.core.quantities import ShopUnits, spoken
from orthotome.formats.programs.picture import WorkedOut
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow

Kept = Once[tuple[int, str, int, ShopUnits], WorkedOut]


@dataclass(frozen=True)
class Found:
    """The findings that are known, and the store."""

    kept: Kept
    store: SignedStore

    def found(self, row: ProgramRow, basis: programs.Basis) -> WorkedOut:
        """What is found in a program against what it is checked against."""
        question = hash(row.text), repr(basis), hash(row.drawing), spoken()
        return self.kept.of(question, lambda: answers.check_apart(programs.text_of(row), basis))

    def write(self) -> AbstractContextManager[Session]:
        """One change by who asks."""
        return self.store.write()


async def _found(request: Request, store: Store) -> Found:
    return Found(request.app.state.programs, store)


WithPrograms = Annotated[Found, Depends(_found)]
