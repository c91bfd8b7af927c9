"""The Book: starting rows, starting numbers, targets, and locked recipes."""

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from orthotome.api import answers, models
from orthotome.api.depends import Reading, Store
from orthotome.core.measuring import angle_gauge_u_deg, cannot_judge
from orthotome.core.squareness import square_target
from orthotome.core.trial_plan import default_limits, dialled_start
from orthotome.formats.campaign import LimitsFile, StartFile
from orthotome.formats.reading import read_json
from orthotome.formats.recipe import RecipeFile
from orthotome.formats.rows import write_rows
from orthotome.store import book as store
from orthotome.store import recipes
from orthotome.store.shop import torch_set
from orthotome.store.tables import BookRow

router = APIRouter(tags=["book"])

Thickness = Annotated[float, Query(ge=0.2, le=160, allow_inf_nan=False)]
Positive = Annotated[float | None, Query(gt=0, le=90, allow_inf_nan=False)]


@router.get("/book/rows")
def get_rows(
    session: Reading,
    metal: str | None = None,
    torch_set_id: Annotated[int | None, Query(ge=1, le=2**31)] = None,
) -> list[models.BookRowAnswer]:
    """The rows in force."""
    return [answers.book_row(r, s) for r, s in store.rows(session, metal, torch_set_id)]


@router.get("/book/rows.csv")
def get_rows_file(session: Reading) -> Response:
    """The rows in force as a file, the one ``orthotome start`` reads."""
    text = write_rows([store.start_row(r, s) for r, s in store.rows(session)])
    headers = {"content-disposition": 'attachment; filename="rows.csv"'}
    return Response(text, media_type="text/csv", headers=headers)


@router.post("/book/rows", status_code=201)
def add_row(request: models.BookRowRequest, database: Store) -> models.BookRowAnswer:
    """Add a row, or supersede one."""
    with database.write() as session:
        fitted = torch_set(session, request.torch_set_id)
        row = BookRow(**request.model_dump(exclude={"supersedes_id"}), gas=fitted.gas)
        return answers.book_row(store.add_row(session, row, request.supersedes_id), fitted)


@router.get("/start")
def get_start(
    session: Reading,
    metal: Annotated[str, Query(min_length=1, max_length=200)],
    thickness_mm: Thickness,
    torch_set_id: Annotated[int, Query(ge=1, le=2**31)],
) -> models.StartAnswer:
    """Starting numbers, where they came from, and the range to cut in."""
    found = store.start(session, metal, thickness_mm, torch_set_id)
    values = dialled_start(found.values) if found.values else None
    return models.StartAnswer(
        how=found.how,
        values=StartFile(**vars(values)) if values else None,
        sources=[
            models.StartSource(metal=r.metal, thickness_mm=r.thickness_mm, source=r.source)
            for r in found.rows
        ],
        warnings=list(found.warnings),
        limits=LimitsFile(**vars(default_limits(values))) if values else None,
    )


@router.get("/target")
def get_target(
    thickness_mm: Annotated[float, Query(ge=0.2, le=100, allow_inf_nan=False)],
    bevel_deg: Positive = None,
    gap_mm: Positive = None,
    iso_range: Annotated[int | None, Query(ge=1, le=5)] = None,
) -> models.TargetAnswer:
    """One target as degrees, gap and range, and whether a gauge can judge it."""
    target = square_target(thickness_mm, bevel_deg=bevel_deg, gap=gap_mm, iso_range=iso_range)
    doubt = cannot_judge(angle_gauge_u_deg(thickness_mm), target.bevel_deg)
    return models.TargetAnswer(**vars(target), judged_by=doubt)


@router.get("/recipes")
def get_recipes(session: Reading) -> list[models.RecipeAnswer]:
    """All recipes, newest first."""
    newest = recipes.newest_revisions(session)
    return [answers.recipe(r, newest) for r in recipes.recipes(session)]


@router.get("/recipes/{recipe_id}")
def get_recipe(recipe_id: models.Id, session: Reading) -> models.RecipeAnswer:
    """One recipe with its evidence."""
    newest = recipes.newest_revisions(session)
    return answers.recipe(recipes.recipe(session, recipe_id), newest)


@router.get("/recipes/{recipe_id}/file")
def get_recipe_file(recipe_id: models.Id, session: Reading) -> Response:
    """The recipe as an open file to download."""
    row = recipes.recipe(session, recipe_id)
    name = f"recipe-{recipe_id}.json"
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(row.body, media_type="application/json", headers=headers)


@router.post("/recipes", status_code=201)
async def take_in_recipe(request: Request, database: Store) -> models.RecipeAnswer:
    """Take in a recipe file, as the next revision of its line."""
    file = read_json(RecipeFile, await request.body())
    with database.write() as session:
        row = recipes.take_in(session, file)
        return answers.recipe(row, recipes.newest_revisions(session))
