"""What goes over the wire about programs."""

from datetime import datetime
from typing import Annotated

from pydantic import Field

from orthotome.api.wire import Wire
from orthotome.core.programs.findings import Code
from orthotome.formats.pieces.curves import Unit
from orthotome.formats.programs.picture import WorkedOut
from orthotome.formats.programs.report import WrittenReport


class HoleComesOut(Wire):
    """A hole of a program as the shop's hole table says that it comes out: its smallest way through, with one sigma."""

    line: int
    drawn_mm: float
    through_mm: float
    sd_mm: float
    passes: str


class SettingOffer(Wire):
    """A setting that a program may be checked against: a recipe, or a trial."""

    recipe_id: int | None
    trial_id: int | None
    title: str
    torch_set: str
    fitted: bool


class ProgramLine(Wire):
    """A program as a list shows it: what was found when it was checked last, and what moved since."""

    id: int
    name: str
    against: str
    verdict: str
    stops: int
    looks: int
    notes: int
    pierces: int
    cut_mm: float
    seconds: float
    cost: float | None
    share_at_speed: float
    copy_of: int | None
    moved: list[str]
    checked_at: datetime


class NominalSize(Wire):
    """The size that a contour (by its number, from 0) ought to come out at, typed in place of a drawing."""

    contour: Annotated[int, Field(ge=0, le=20_000)]
    x_mm: Annotated[float, Field(gt=0, le=100_000)]
    y_mm: Annotated[float, Field(gt=0, le=100_000)]


class NominalRequest(Wire):
    """All sizes that are typed, in place of those before."""

    version: int
    sizes: Annotated[list[NominalSize], Field(max_length=2_000)]


class ProgramAnswer(Wire):
    """A program, checked against what holds now."""

    id: int
    version: int
    table_id: int
    name: str
    against: str
    recipe_id: int | None
    trial_id: int | None
    torch_set_id: int | None
    thickness_mm: float | None
    sheet_x_mm: float | None
    sheet_y_mm: float | None
    drawing_name: str
    nominal: list[NominalSize]
    half: int
    half_says: str
    other_half: int | None
    fitted_says: str
    parts_says: (
        str  # that the fitted parts may not last it, and where to change them; empty where they do
    )
    moved: list[str]
    cost: float | None
    cost_says: str
    gas_l: float | None
    copy_of: int | None
    copies: list[int]
    written: list[WrittenReport]
    found: WorkedOut


class ProgramRequest(Wire):
    """What a program is to be checked against. A sheet is given whole or not at all."""

    version: int
    recipe_id: int | None = None
    trial_id: int | None = None
    torch_set_id: int | None = None
    sheet_x_mm: Annotated[float, Field(ge=10, le=100_000)] | None = None
    sheet_y_mm: Annotated[float, Field(ge=10, le=100_000)] | None = None


class AskedFor(Wire):
    """One finding that is to be put right by cutting its contour otherwise."""

    code: Code
    contour: Annotated[int, Field(ge=0, le=100_000)]


class RemadeRequest(Wire):
    """What is to be drawn, or written, as it was asked for."""

    asked: Annotated[list[AskedFor], Field(min_length=1, max_length=20_000)]

    def pairs(self) -> list[tuple[Code, int]]:
        """Each finding and its contour."""
        return [(a.code, a.contour) for a in self.asked]


class ProgramQuery(Wire):
    """What a program that is handed over is called, and the key by which its reading is watched."""

    name: Annotated[str, Field(min_length=1, max_length=160)]
    watch: Annotated[str, Field(min_length=8, max_length=64)] | None = None


class ReadingAnswer(Wire):
    """The share of a program that is read."""

    share: float | None


class DrawingQuery(Wire):
    """A drawing to lay over a program; ``unit`` where it names none."""

    name: Annotated[str, Field(min_length=1, max_length=160)]
    version: int
    unit: Unit | None = None


class ProgramRunRequest(Wire):
    """A program that was run, so many times."""

    times: Annotated[int, Field(ge=1, le=1000)] = 1


class ProgramRunAnswer(Wire):
    """What that counted on the parts."""

    starts: int
    arc_on_s: float
    says: str
