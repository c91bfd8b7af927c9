"""Choosing the set: every process side by side, and what is written down of each."""

from typing import Annotated

from fastapi import Query
from fastapi.responses import Response

from orthotome.api.choose import answers, models
from orthotome.api.depends import Reading, Store
from orthotome.api.listing import ListForm, listed
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.choose.choosing import Feature, Machine, is_plasma_right, judge_processes
from orthotome.core.choose.trade_offs import trade_offs
from orthotome.core.stock.metals import metal_named
from orthotome.formats.listing import Column
from orthotome.store.choose import processes as store
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import SetNote
from orthotome.store.torch import sets

router = room("choosing")


@router.get("/choose")
def choose(session: Reading, job: Annotated[models.ChooseQuery, Query()]) -> models.ChooseAnswer:
    """Every process for a metal and thickness: what it asks for, and what the machine gets of it."""
    on = pages.settings(shop.table(session, job.table_id)).machine() if job.table_id else Machine()
    found = judge_processes(
        store.processes(session, job.metal, job.thickness_mm),
        metal=job.metal,
        thickness_mm=job.thickness_mm,
        machine=on,
        feature=Feature(job.straight_mm, job.circle_mm),
    )
    named = {s.name: s for s in sets.torch_sets(session)}
    versions = store.note_versions(session, job.metal)
    options = []
    for option, stands in zip(found, trade_offs(found), strict=True):
        fitted, process = named[option.process.torch_set], option.process
        version = versions.get((fitted.id or 0, process.gas, process.shield_gas), 0)
        options.append(answers.option(option, fitted, job.metal, version, stands))
    return models.ChooseAnswer(
        options=options,
        machine_known=on.acceleration_mm_s2 is not None,
        other_process=is_plasma_right(job.thickness_mm, job.metal, job.bevel_deg),
    )


_COLUMNS: tuple[Column[models.ChooseOption], ...] = (
    Column("torch_set", lambda o: o.torch_set),
    Column("amperage_a", lambda o: o.amperage_a),
    Column("gas", lambda o: o.gas),
    Column("shield_gas", lambda o: o.shield_gas or None),
    Column("can", lambda o: o.can_sentence),
    Column("speed_mm_min", lambda o: o.speed_mm_min, "speed"),
    Column("kerf_mm", lambda o: o.kerf_mm, "length"),
    Column("bevel_deg", lambda o: o.bevel_deg),
    Column("bottom_dross_grade", lambda o: o.bottom_dross_grade),
    Column("top_dross_grade", lambda o: o.top_dross_grade),
    Column("colour", lambda o: o.colour),
    Column("rounding", lambda o: o.rounding),
    Column("lag_deg", lambda o: o.lag_deg),
    Column("cost_per_m", lambda o: o.cost_per_m),
    Column("gas_l_per_m", lambda o: o.gas_l_per_m),
    Column("best_at", lambda o: ", ".join(o.best_at) or None),
    Column("beaten_by", lambda o: o.beaten_by),
    Column("from", lambda o: o.look_from),
)


@router.get("/choose.{form}")
def choose_as_file(
    form: ListForm, session: Reading, job: Annotated[models.ChooseQuery, Query()]
) -> Response:
    """The same as a list for a spreadsheet, or as JSON."""
    return listed(form, "processes", _COLUMNS, choose(session, job).options)


@router.put("/torch-sets/{torch_set_id}/note")
def note_set(torch_set_id: Id, request: models.SetNoteRequest, database: Store) -> models.SetNoteAnswer:
    """Write down what a set can do in a metal, and what its book claims."""
    plain = request.model_dump(exclude={"version"})
    plain["metal"] = metal_named(request.metal).cuts_as
    with database.write() as session:
        kept = store.note(session, SetNote(torch_set_id=torch_set_id, **plain), request.version)
        return models.SetNoteAnswer.model_validate(kept.model_dump(), strict=False)
