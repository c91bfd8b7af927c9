"""The Book: starting rows and their import, starting numbers, targets, and locked recipes."""

from collections import defaultdict
from dataclasses import replace
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response
from sqlmodel import Session

from orthotome.api.bodies import JSON_TYPES, JsonBody, takes
from orthotome.api.book import answers, models
from orthotome.api.depends import Reading, Store, many_as_they_are
from orthotome.api.listing import ListForm, listed
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.book.doubts import doubts_of_row
from orthotome.core.book.start_rows import StartValues, usual_kerf_mm
from orthotome.core.book.trend import breaks_of
from orthotome.core.choose.capability import check_amperage
from orthotome.core.doubts import Doubted, ask
from orthotome.core.height.volts import NOISE_V, VoltsHere, volts_for_height
from orthotome.core.machine.axis_map import FRAME
from orthotome.core.quantities import spoken
from orthotome.core.setting import Setting
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.opening import (
    default_limits,
    dialled_start,
    held_by,
    opening_ladder,
    table_warnings,
)
from orthotome.core.units import UNITS
from orthotome.desk.working.apart import apart
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.book.row_import import (
    ALL_COLUMNS,
    NEEDED,
    QUANTITY_OF,
    Match,
    Sheet,
    TakenIn,
    read_sheet,
    suggest,
    take_in,
)
from orthotome.formats.book.rows import (
    RowFile,
    flat_row,
    write_rows,
    write_rows_as_spoken,
    write_rows_json,
)
from orthotome.formats.listing import Column
from orthotome.formats.machine.profile import SHIPPED
from orthotome.formats.machine.table_page import TablePage
from orthotome.formats.pieces.piece_set import PieceJob, cautions_of, piece_file, piece_of
from orthotome.formats.pieces.recipe_sheet import write_recipe_sheet
from orthotome.formats.reading import read_json
from orthotome.formats.trial.campaign import LimitsFile, StartFile, campaign_from_file
from orthotome.store.book import recipes
from orthotome.store.book import rows as store
from orthotome.store.errors import Refused
from orthotome.store.height.trial_volts import here
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import BookRow, RecipeRow
from orthotome.store.torch.sets import torch_set, torch_sets
from orthotome.store.trial import trials

router = room("book")


@router.get("/book/rows", response_model=list[models.BookRowAnswer])
def get_rows(
    session: Reading,
    metal: str | None = None,
    torch_set_id: Annotated[int | None, Query(ge=1, le=2**31)] = None,
) -> Response:
    """The rows in force."""
    found = [answers.book_row(r, s) for r, s in store.rows(session, metal, torch_set_id)]
    return many_as_they_are(found)


@router.get("/book/rows.csv")
def get_rows_file(session: Reading, in_shop_units: Annotated[bool, Query()] = False) -> Response:
    """The rows in force as a file, the one ``orthotome start`` reads, or in the shop's own units."""
    rows = [store.start_row(r, s) for r, s in store.rows(session, as_entered=True)]
    text = write_rows_as_spoken(rows) if in_shop_units else write_rows(rows)
    headers = {"content-disposition": 'attachment; filename="rows.csv"'}
    return Response(text, media_type="text/csv", headers=headers)


@router.get("/book/rows.json")
def get_rows_json(session: Reading) -> Response:
    """The rows in force as ``orthotome.rows``."""
    text = write_rows_json([store.start_row(r, s) for r, s in store.rows(session, as_entered=True)])
    headers = {"content-disposition": 'attachment; filename="rows.json"'}
    return Response(text, media_type="application/json", headers=headers)


_ANSWERS = {"supersedes_id", "amperage_is_right", "takes_its_place", "insisted"}


@router.post("/book/rows", status_code=201)
def add_row(request: models.BookRowRequest, database: Store) -> models.BookRowAnswer:
    """Add a row, or supersede one."""
    with database.write() as session:
        fitted = torch_set(session, request.torch_set_id)
        plain = request.model_dump(exclude=_ANSWERS)
        plain["gas"] = request.gas or fitted.gas
        plain["amperage_a"] = request.amperage_a or fitted.amperage_a
        plain["kerf_assumed"] = request.kerf_mm is None
        plain["kerf_mm"] = request.kerf_mm or usual_kerf_mm(plain["amperage_a"])
        doubt = check_amperage(plain["amperage_a"], fitted.amperage_a)
        if doubt and not request.amperage_is_right:
            raise Refused(doubt, "amperage_a")
        typed = BookRow(**plain)
        others = [store.start_row(r, s) for r, s in store.rows(session, request.metal, fitted.id)]
        doubts = doubts_of_row(store.start_row(typed, fitted), others)
        given = [
            d for d in doubts if getattr(request, d.field) is not None
        ]  # what is assumed nobody typed
        ask(given, request.insisted)
        added = store.add_row(
            session,
            typed,
            request.supersedes_id,
            takes_its_place=request.takes_its_place,
        )
        return answers.book_row(added, fitted)


@router.put("/book/rows/{row_id}/struck")
def strike_row(
    row_id: Id, database: Store, out: Annotated[bool, Query()] = True
) -> models.BookRowAnswer:
    """Strike a row out, or put it back."""
    with database.write() as session:
        row = store.strike(session, row_id, out=out)
        return answers.book_row(row, torch_set(session, row.torch_set_id))


@router.put("/book/rows/{row_id}/right")
def row_is_right(
    row_id: Id, database: Store, right: Annotated[bool, Query()] = True
) -> models.BookRowAnswer:
    """Say that a row out of line is right as it stands, or doubt it again."""
    with database.write() as session:
        row = store.say_right(session, row_id, right=right)
        return answers.book_row(row, torch_set(session, row.torch_set_id))


@router.get("/book/rows/{row_id}/history")
def get_history(row_id: Id, session: Reading) -> list[models.BookRowAnswer]:
    """The rows that this one took the place of, newest first."""
    return [
        answers.book_row(r, torch_set(session, r.torch_set_id)) for r in store.history(session, row_id)
    ]


@router.get("/book/pages")
def get_pages(session: Reading) -> list[models.BookPageAnswer]:
    """The pages of the Book: each metal with each set and gas that has rows."""
    pages: dict[tuple[str, int, str], list[BookRow]] = defaultdict(list)
    names = {}
    for r, s in store.rows(session):
        pages[r.metal, r.torch_set_id, r.gas].append(r)
        names[r.torch_set_id] = s
    return [
        models.BookPageAnswer(
            metal=metal,
            metal_label=metal_named(metal).label,
            torch_set_id=set_id,
            torch_set=names[set_id].name,
            gas=gas,
            rows=len(rows),
            thinnest_mm=rows[0].thickness_mm,
            thickest_mm=rows[-1].thickness_mm,
            breaks=sum(
                not rows[b.index].is_right
                for b in breaks_of(tuple(store.start_row(r, names[set_id]) for r in rows))
            ),
            example=all(r.example for r in rows),
        )
        for (metal, set_id, gas), rows in pages.items()
    ]


@router.get("/book/page")
def get_page(
    session: Reading,
    metal: Annotated[str, Query(min_length=1, max_length=200)],
    torch_set_id: Annotated[int, Query(ge=1, le=2**31)],
    gas: Annotated[str, Query(min_length=1, max_length=200)],
) -> models.TrendAnswer:
    """A page of the Book: rows, proven settings, the line between, and what breaks the trend."""
    fitted = torch_set(session, torch_set_id)
    newest = recipes.newest_revisions(session)
    struck = store.rows(session, metal, torch_set_id, struck_out=True)
    proven = [
        r
        for r in recipes.recipes(session)
        if (r.metal, r.torch_set, r.gas) == (metal, fitted.name, gas) and newest[r.line] == r.revision
    ]
    found = answers.trend(store.trend(session, metal, torch_set_id, gas), metal, fitted, gas, proven)
    found.struck_out = [answers.book_row(r, s) for r, s in struck if r.gas == gas]
    return found


@router.post("/book/import/preview")
def preview_import(request: models.ImportRequest, session: Reading) -> models.ImportPreview:
    """What a sheet holds, how its columns may be matched, and every row that cannot be used."""
    sheet = read_sheet(request.text)
    matches, found = _read_import(request, sheet, session)
    known = {s.name for s in torch_sets(session)}
    return models.ImportPreview(
        headings=list(sheet.headings),
        first_cells=[list(cells) for _, cells in sheet.records[:3]],
        columns=[
            models.ColumnAnswer(
                name=c, units=list(UNITS.get(QUANTITY_OF.get(c, ""), ())), needed=c in NEEDED
            )
            for c in ALL_COLUMNS
        ],
        matches={c: models.MatchModel(**vars(m)) for c, m in matches.items()},
        unmatched=[c for c in NEEDED if not _is_matched(matches.get(c))],
        rows=len(sheet.records),
        good=len(found.good),
        first_good=[RowFile.model_validate(flat_row(r)) for _, r in found.good[:8]],
        bad=[models.BadRowAnswer(**vars(b)) for b in found.bad],
        questions=[models.BadRowAnswer(**vars(q)) for q in found.questions[:50]],
        new_sets=sorted({r.torch_set for _, r in found.good} - known),
    )


@router.post("/book/import", status_code=201)
def take_in_rows(request: models.TakeInRequest, database: Store) -> models.ImportAnswer:
    """Take the rows in, in one change. With bad rows nothing is, unless the good ones are asked for."""
    with database.write() as session:
        _, found = _read_import(request, read_sheet(request.text), session)
        if found.bad and not request.keep_good:
            raise Refused(
                f"{len(found.bad)} of {len(found.bad) + len(found.good)} rows cannot be used; the first: "
                f"line {found.bad[0].line}, {found.bad[0].column} {found.bad[0].sentence} Nothing was "
                "taken in.",
                found.bad[0].column,
            )
        if found.questions and not request.questions_are_right:
            first = found.questions[0]
            raise Doubted(first.column, f"line {first.line}: {first.sentence} Nothing was taken in.")
        if not found.good:
            raise Refused("No row can be used. Nothing was taken in.", "text")
        done = store.take_in(session, (r for _, r in found.good), request.new_sets_swirl)
        return models.ImportAnswer(
            added=done.added,
            superseded=done.superseded,
            known=done.known,
            left_out=len(found.bad),
            sets=list(done.sets),
        )


def _read_import(
    request: models.ImportRequest, sheet: Sheet, session: Session
) -> tuple[dict[str, Match], TakenIn]:
    """The matching in use, and what the sheet holds by it; nothing while a column is unmatched."""
    given = request.matches
    matches = (
        suggest(sheet.headings)
        if given is None
        else {c: Match(**m.model_dump()) for c, m in given.items()}
    )
    if not all(_is_matched(matches.get(c)) for c in NEEDED) and not isinstance(
        request, models.TakeInRequest
    ):
        return matches, TakenIn((), (), ())
    ratings = {s.name: s.amperage_a for s in torch_sets(session)}
    return matches, take_in(sheet, matches, ratings)


def _is_matched(match: Match | None) -> bool:
    return match is not None and bool(match.heading or match.same_for_all)


@router.get("/start")
def get_start(session: Reading, job: Annotated[models.StartQuery, Query()]) -> models.StartAnswer:
    """Starting numbers, where they came from, and the range to cut in."""
    found = store.start(
        session, job.metal, job.thickness_mm, job.torch_set_id, job.gas, table_id=job.table_id
    )
    table = None if job.table_id is None else pages.for_trial(session, job.table_id)
    fastest = table.fastest_mm_min if table else None
    values = found.values and (found.values if found.how == "recipe" else dialled_start(found.values))
    values = values and held_by(values, fastest)
    limits = default_limits(values, fastest) if values else None
    said: tuple[str, ...] = ()
    if table is not None:
        said = table_warnings(found, table, job.gas or torch_set(session, job.torch_set_id).gas)
    ladder = opening_ladder(values, limits) if found.how == "analogue" and values and limits else ()
    return models.StartAnswer(
        how=found.how,
        values=StartFile(**vars(values)) if values else None,
        sources=[
            models.StartSource(metal=r.metal, thickness_mm=r.thickness_mm, source=r.source)
            for r in found.rows
        ],
        warnings=[*found.warnings, *said],
        limits=LimitsFile(**vars(limits)) if limits else None,
        opening_ladder_mm_min=[s.speed_mm_min for s in ladder],
    )


@router.get("/recipes")
def get_recipes(session: Reading) -> list[models.RecipeLine]:
    """All recipes, newest first."""
    newest = recipes.newest_revisions(session)
    return [answers.recipe_line(r, newest) for r in recipes.recipes(session)]


_RECIPE_COLUMNS: tuple[Column[models.RecipeLine], ...] = (
    Column("title", lambda r: r.title),
    Column("revision", lambda r: r.revision),
    Column("in_force", lambda r: "yes" if r.in_force else "no"),
    Column("table", lambda r: r.table_name),
    Column("metal", lambda r: r.metal_label),
    Column("thickness_mm", lambda r: r.thickness_mm, "length"),
    Column("torch_set", lambda r: r.torch_set),
    Column("amperage_a", lambda r: r.amperage_a),
    Column("gas", lambda r: r.gas),
    Column("speed_mm_min", lambda r: r.speed_mm_min, "speed"),
    Column("cut_height_mm", lambda r: r.cut_height_mm, "length"),
    Column("arc_voltage_v", lambda r: r.arc_voltage_v),
    Column("kerf_mm", lambda r: r.kerf_mm, "length"),
    Column("bevel_right_deg", lambda r: r.bevel_right_deg),
    Column("bevel_left_deg", lambda r: r.bevel_left_deg),
    Column("chance_next_passes", lambda r: r.probability_pass),
    Column("cuts", lambda r: r.cuts),
    Column("locked_at", lambda r: r.locked_at),
)


@router.get("/recipes.{form}")
def get_recipes_file(form: ListForm, session: Reading) -> Response:
    """All recipes as a list, newest first."""
    return listed(form, "recipes", _RECIPE_COLUMNS, get_recipes(session))


@router.get("/recipes/{recipe_id}")
def get_recipe(recipe_id: Id, session: Reading) -> models.RecipeAnswer:
    """One recipe with its evidence."""
    newest = recipes.newest_revisions(session)
    return answers.recipe(recipes.recipe(session, recipe_id), newest)


@router.get("/recipes/{recipe_id}/file")
def get_recipe_file(recipe_id: Id, session: Reading) -> Response:
    """The recipe as an open file to download."""
    row = recipes.recipe(session, recipe_id)
    name = f"recipe-{recipe_id}.json"
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(row.body, media_type="application/json", headers=headers)


@router.get("/recipes/{recipe_id}/sheet.pdf")
def get_recipe_sheet(recipe_id: Id, session: Reading) -> Response:
    """The recipe on one page of paper."""
    row = recipes.recipe(session, recipe_id)
    file = recipes.file_of(row)
    in_force = recipes.newest_revisions(session).get(row.line) == row.revision
    campaign = campaign_from_file(file.evidence)
    page = write_recipe_sheet(file, cautions_of(campaign), in_force=in_force)
    return Response(page, media_type="application/pdf")


def _volts_of(session: Session, row: RecipeRow, file: RecipeFile) -> VoltsHere:
    """What a recipe's volts are on the parts as they are; as it was proven where it came from another shop."""
    at, proven = Setting.of(file.setting), file.setting.arc_voltage_v
    if row.trial_id is not None:
        found = here(session, trials.trial(session, row.trial_id), at).volts
        if found.level_v is not None:
            return found
    return VoltsHere(at, None if proven is None else (proven, NOISE_V), volts_for_height(()))


@router.get("/recipes/{recipe_id}/program.nc")
def get_recipe_program(
    recipe_id: Id, session: Reading, dry_run: Annotated[bool, Query()] = False
) -> Response:
    """A square at the recipe's setting as a program, in the words and axes of the table it was locked on."""
    row = recipes.recipe(session, recipe_id)
    file = recipes.file_of(row)
    campaign = replace(campaign_from_file(file.evidence), start=StartValues(**vars(file.setting)))
    table = next((t for t in shop.tables(session) if t.name == file.table), None)
    page = pages.settings(table) if table else TablePage()
    job = PieceJob(
        piece_of("square", campaign, scrap_edge=False, acceleration_mm_s2=page.acceleration_mm_s2),
        campaign,
        page.profile or SHIPPED["inch" if spoken().in_inches else "metric"],
        page.axis_map() or FRAME,
        note=f"Orthotome recipe {recipe_id}, revision {row.revision}",
        acceleration_mm_s2=page.acceleration_mm_s2,
        fastest_mm_min=page.fastest_mm_min,
        told_by=_volts_of(session, row, file).volts_at,
    )
    name = f"recipe-{recipe_id}{'-dry' if dry_run else ''}.nc"
    return Response(
        piece_file("piece-dry.nc" if dry_run else "piece.nc", job),
        media_type="text/plain",
        headers={"content-disposition": f'attachment; filename="{name}"'},
    )


@router.post("/recipes", status_code=201, openapi_extra=takes(*JSON_TYPES))
def take_in_recipe(body: JsonBody, database: Store) -> models.RecipeAnswer:
    """Take in a recipe file, as the next revision of its line."""
    file = apart("recipe", read_json, RecipeFile, body)
    with database.write() as session:
        row = recipes.take_in(session, file)
        return answers.recipe(row, recipes.newest_revisions(session))
