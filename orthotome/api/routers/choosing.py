"""Choosing the set: every process side by side, and what is written down of each."""

from typing import Annotated

from fastapi import APIRouter, Query

from orthotome.api import answers, models
from orthotome.api import book_models as book
from orthotome.api.depends import Reading, Store
from orthotome.core.choosing import Feature, Machine, is_plasma_right, judge_processes
from orthotome.core.metals import metal_named
from orthotome.store import choosing as store
from orthotome.store import machine, shop
from orthotome.store.tables import SetNote

router = APIRouter(tags=["choosing"])


@router.get("/choose")
def choose(session: Reading, job: Annotated[book.ChooseQuery, Query()]) -> book.ChooseAnswer:
    """Every process for a metal and thickness: what it asks for, and what the machine gets of it."""
    on = machine.settings(shop.table(session, job.table_id)).machine() if job.table_id else Machine()
    found = judge_processes(
        store.processes(session, job.metal, job.thickness_mm),
        metal=job.metal,
        thickness_mm=job.thickness_mm,
        machine=on,
        feature=Feature(job.straight_mm, job.circle_mm),
    )
    sets = {s.name: s for s in shop.torch_sets(session)}
    return book.ChooseAnswer(
        options=[answers.option(o, sets[o.process.torch_set], job.metal) for o in found],
        machine_known=on.acceleration_mm_s2 is not None,
        other_process=is_plasma_right(job.thickness_mm, job.metal, job.bevel_deg),
    )


@router.put("/torch-sets/{torch_set_id}/note")
def note_set(
    torch_set_id: models.Id, request: book.SetNoteRequest, database: Store
) -> book.SetNoteAnswer:
    """Write down what a set can do in a metal, and what its book claims."""
    plain = request.model_dump()
    plain["metal"] = metal_named(request.metal).cuts_as
    with database.write() as session:
        kept = store.note(session, SetNote(torch_set_id=torch_set_id, **plain))
        return book.SetNoteAnswer.model_validate(kept.model_dump(), strict=False)


@router.put("/torch-sets/{torch_set_id}/cost")
def cost_set(
    torch_set_id: models.Id, request: models.PartsCostRequest, database: Store
) -> models.TorchSetAnswer:
    """What one set of parts costs, and how many starts it lasts here."""
    with database.write() as session:
        found = shop.torch_set(session, torch_set_id)
        found.parts_cost, found.parts_starts = request.parts_cost, request.parts_starts
        session.add(found)
        session.flush()
        return answers.torch_set(found)
