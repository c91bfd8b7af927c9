"""What is found in the programs of this server, for whoever asks."""

from typing import Annotated

from fastapi import Depends, Request

from orthotome.api.depends import Numbers
from orthotome.desk.programs.findings import ProgramFindings


async def _found(request: Request, numbers: Numbers) -> ProgramFindings:
    return ProgramFindings(request.app.state.programs, request.app.state.watched, numbers)


WithPrograms = Annotated[ProgramFindings, Depends(_found)]
