"""A program's bytes checked against files: what ``orthotome check`` does."""

from dataclasses import dataclass

from orthotome.core.book.start_rows import StartValues
from orthotome.core.machine.axis_map import FRAME, AxisMap
from orthotome.core.programs.check import check
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob, Table
from orthotome.core.quantities import INCH, METRIC, speaking
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.machine.profile import SHIPPED, OutputProfile, profile_named
from orthotome.formats.machine.table_page import TablePage
from orthotome.formats.pieces.curves import Unit
from orthotome.formats.pieces.drawing import read_drawing
from orthotome.formats.programs.correcting import corrected
from orthotome.formats.programs.report import ProgramReport, report_to_file
from orthotome.formats.programs.rs274 import read_program
from orthotome.formats.reading import read_json
from orthotome.formats.trial.campaign import read_campaign


@dataclass(frozen=True)
class Given:
    """Everything that a program may be checked against, as it was handed over."""

    profile: str = ""
    campaign: bytes | None = None
    recipe: bytes | None = None
    table: bytes | None = None
    sheet_mm: tuple[float, float] | None = None
    drawing: bytes | None = None
    drawing_unit: Unit | None = None


def check_file(
    content: bytes, given: Given, *, write: bool = False
) -> tuple[ProgramReport, bytes | None]:
    """The report, and the copy where one is asked for.

    Raises NoProgram, FileError or TradeError, in one sentence each.
    """
    page = read_json(TablePage, given.table) if given.table is not None else TablePage()
    profile = profile_named(given.profile) if given.profile else page.profile or SHIPPED["metric"]
    axes = page.axis_map() or FRAME
    with speaking(INCH if profile.units == "in" else METRIC):
        drawing = read_drawing(given.drawing, given.drawing_unit).rings if given.drawing else None
        against = CheckedAgainst(_job(given), table_of(page), given.sheet_mm, drawing)
        if not write:
            return report_to_file(check(read_program(content, profile, axes), against)), None
        return _written(content, profile, against, axes)


def _written(
    content: bytes, profile: OutputProfile, against: CheckedAgainst, axes: AxisMap
) -> tuple[ProgramReport, bytes]:
    """The report of the program as it came, with what was put right in the copy."""
    found = check(read_program(content, profile, axes), against)
    copy = corrected(content, profile, against, axes)
    return report_to_file(found, copy.written), copy.content


def _job(given: Given) -> PlateJob | None:
    if given.recipe is not None:
        return job_of_recipe(read_json(RecipeFile, given.recipe))
    if given.campaign is None:
        return None
    campaign = read_campaign(given.campaign)
    torch = campaign.torch_set
    return PlateJob(campaign.thickness_mm, campaign.start, torch.amperage_a, torch.swirl)


def job_of_recipe(recipe: RecipeFile) -> PlateJob:
    """What a recipe says of a job."""
    torch = recipe.torch_set
    return PlateJob(
        recipe.thickness_mm, StartValues(**recipe.setting.model_dump()), torch.amperage_a, torch.swirl
    )


def table_of(page: TablePage) -> Table:
    """What checking needs of a table's page."""
    return Table(
        page.acceleration_mm_s2,
        page.fastest_mm_min,
        page.ramp_down_s,
        page.delay_origin,
        page.height_delay_s,
        (page.extent_x_mm, page.extent_y_mm),
    )
