"""The shop's hole table: holes cut and tried with a set in a plate, and what to draw so that the next one fits."""

from datetime import datetime
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response
from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.routing import room
from orthotome.api.wire import Id, Wire
from orthotome.core.errors import TradeError
from orthotome.core.machine.hole_fit import passes_says
from orthotome.core.machine.hole_table import HoleTable, Purpose, bolts_mm, most_bolt_mm
from orthotome.core.quantities import thickness
from orthotome.core.stock.metals import metal_named
from orthotome.formats.machine.checks import TriedHoleFile
from orthotome.formats.machine.hole_sheet import HoleLine, write_hole_sheet
from orthotome.formats.reading import TINY, FileModel
from orthotome.store.machine import holes
from orthotome.store.programs import programs
from orthotome.store.shop import shop
from orthotome.store.tables import TriedHoleRow

router = room("machine")


class OfSetting(Wire):
    """The setting that holes were cut with: a recipe or a trial."""

    recipe_id: Id | None = None
    trial_id: Id | None = None

    def plate(self, session: Session) -> holes.Plate:
        """Its set and plate. Raises TradeError where neither is named."""
        setting = programs.of_offer(
            session, self.recipe_id, self.trial_id, programs.begun_with
        )  # holes are of a plate and a set: where its numbers have come to is another matter
        if setting.job is None:
            raise TradeError("trial_id", "say which recipe or trial the holes were cut with.")
        return holes.Plate(
            setting.set_name, setting.metal, setting.job.thickness_mm, setting.job.setting.kerf_mm
        )


class KeepHole(FileModel):
    """A hole that was cut and tried with a setting."""

    recipe_id: Id | None = None
    trial_id: Id | None = None
    hole: TriedHoleFile


class TriedAnswer(Wire):
    """A hole that is kept; ``through_mm`` is the smallest way through, null where it was not told."""

    id: int
    hole: TriedHoleFile
    through_mm: float | None
    u_mm: float | None
    passes: str
    tried_at: datetime
    tried_by: str


class HoleLineModel(Wire):
    """One bolt: what to draw so that it passes."""

    bolt: str
    wanted_mm: float
    draw_mm: float | None
    sd_mm: float | None
    known: bool
    sentence: str


class HolesAnswer(Wire):
    """The hole table of a set in a plate."""

    title: str
    thickness_mm: float
    tried: list[TriedAnswer]
    lines: list[HoleLineModel]
    says: list[str]


class DrawAnswer(Wire):
    """What to draw for one hole."""

    draw_mm: float
    sd_mm: float
    known: bool
    sentence: str


@router.get("/tables/{table_id}/holes")
def get_holes(table_id: Id, session: Reading, of: Annotated[OfSetting, Query()]) -> HolesAnswer:
    """The hole table of a setting's set and plate."""
    plate = of.plate(session)
    rows = holes.tried(session, table_id, plate)
    table = holes.table_of(session, table_id, plate)
    return HolesAnswer(
        title=_title(plate),
        thickness_mm=plate.thickness_mm,
        tried=[_tried(r) for r in rows],
        lines=[HoleLineModel(wanted_mm=mm, **vars(hole)) for mm, hole in _lines(table)],
        says=table.says(),
    )


@router.post("/tables/{table_id}/holes", status_code=201)
def keep_hole(table_id: Id, request: KeepHole, store: Store) -> TriedAnswer:
    """Keep a hole that was tried."""
    with store.write() as session:
        of = OfSetting(recipe_id=request.recipe_id, trial_id=request.trial_id)
        return _tried(holes.keep(session, table_id, of.plate(session), request.hole))


@router.put("/tried-holes/{hole_id}/struck", status_code=204)
def strike_hole(hole_id: Id, store: Store, out: Annotated[bool, Query()] = True) -> None:
    """Strike a hole out, or put it back."""
    with store.write() as session:
        holes.strike(session, hole_id, out=out)


@router.get("/tables/{table_id}/holes/to-draw")
def get_to_draw(
    table_id: Id,
    session: Reading,
    of: Annotated[OfSetting, Query()],
    wanted_mm: Annotated[float, Query(ge=TINY, le=1000, allow_inf_nan=False)],
    purpose: Annotated[Purpose, Query()] = "passes",
) -> DrawAnswer:
    """What to draw for one hole."""
    found = holes.table_of(session, table_id, of.plate(session)).to_draw(wanted_mm, purpose)
    return DrawAnswer(**vars(found))


@router.get("/tables/{table_id}/holes.pdf")
def get_hole_sheet(table_id: Id, session: Reading, of: Annotated[OfSetting, Query()]) -> Response:
    """The hole table on one page of paper."""
    plate = of.plate(session)
    table = holes.table_of(session, table_id, plate)
    lines = [hole for _, hole in _lines(table)]
    name = shop.table(session, table_id).name
    page = write_hole_sheet(_title(plate), name, lines, table.says(), len(table.tried))
    return Response(page, media_type="application/pdf")


def _title(plate: holes.Plate) -> str:
    metal = metal_named(plate.metal)
    return f"{thickness(plate.thickness_mm, plate.metal)} {metal.label}, {plate.torch_set}"


def _tried(row: TriedHoleRow) -> TriedAnswer:
    given = holes.given_in(row)
    through = given.hole().through
    return TriedAnswer(
        id=row.id or 0,
        hole=given,
        through_mm=None if through is None else through[0],
        u_mm=None if through is None else through[1],
        passes=passes_says(None, given.u_mm) if through is None else passes_says(*through),
        tried_at=row.tried_at,
        tried_by=row.tried_by,
    )


def _lines(table: HoleTable) -> list[tuple[float, HoleLine]]:
    """The usual bolts, from the largest that is to be drilled to the largest that is cut in such a plate; none where
    nothing may be drawn by what was tried."""
    if table.not_compensated is not None:
        return []
    found = []
    for name, mm in bolts_mm():
        if mm > most_bolt_mm(table.thickness_mm):
            break
        try:
            draw = table.to_draw(mm)
        except TradeError as refused:
            found.append((mm, HoleLine(name, None, None, known=False, sentence=refused.sentence)))
            continue
        found.append((mm, HoleLine(name, draw.draw_mm, draw.sd_mm, draw.known, draw.sentence)))
    drilled = [n for n, (_, hole) in enumerate(found) if hole.draw_mm is None]
    return found[max(0, len(drilled) - 2) :]
