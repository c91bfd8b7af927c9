"""Choosing the set: every process side by side, and what is written down of each."""

from typing import Annotated

from fastapi import APIRouter, Query

from orthotome.api.choose import answers, models
from orthotome.api.depends import Reading, Store
from orthotome.api.wire import Id
from orthotome.core.choose.choosing import Feature, Machine, Option, is_plasma_right, judge_processes
from orthotome.core.stock.metals import metal_named
from orthotome.store.choose import processes as store
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import SetNote, TorchSetRow
from orthotome.store.torch import sets

router = APIRouter(tags=["choosing"])


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
    return models.ChooseAnswer(
        options=[_option(o, named[o.process.torch_set], job.metal, versions) for o in found],
        machine_known=on.acceleration_mm_s2 is not None,
        other_process=is_plasma_right(job.thickness_mm, job.metal, job.bevel_deg),
    )


def _option(
    found: Option, fitted: TorchSetRow, metal: str, versions: dict[tuple[int, str, str], int]
) -> models.ChooseOption:
    key = fitted.id or 0, found.process.gas, found.process.shield_gas
    return answers.option(found, fitted, metal, versions.get(key, 0))


@router.put("/torch-sets/{torch_set_id}/note")
def note_set(torch_set_id: Id, request: models.SetNoteRequest, database: Store) -> models.SetNoteAnswer:
    """Write down what a set can do in a metal, and what its book claims."""
    plain = request.model_dump(exclude={"version"})
    plain["metal"] = metal_named(request.metal).cuts_as
    with database.write() as session:
        kept = store.note(session, SetNote(torch_set_id=torch_set_id, **plain), request.version)
        return models.SetNoteAnswer.model_validate(kept.model_dump(), strict=False)
