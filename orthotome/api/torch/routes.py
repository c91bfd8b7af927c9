"""Torch sets and what is fitted."""

from fastapi import APIRouter

from orthotome.api.depends import Reading, Store
from orthotome.api.torch import answers, models
from orthotome.api.wire import Id
from orthotome.core.trial.campaign import TorchSet
from orthotome.store.torch import fittings, sets

router = APIRouter(tags=["torch"])


@router.post("/tables/{table_id}/fittings", status_code=201)
def fit(table_id: Id, request: models.FitRequest, database: Store) -> models.FittingAnswer:
    """Note that parts were fitted, or the torch re-seated: a new series begins."""
    with database.write() as session:
        row = fittings.fit(
            session,
            table_id,
            request.kind,
            part=request.part,
            torch_set_id=request.torch_set_id,
            starts=request.starts,
        )
        return answers.fitting(row)


@router.get("/torch-sets")
def get_torch_sets(session: Reading) -> list[models.TorchSetAnswer]:
    """The torch sets, by amperage."""
    return [answers.torch_set(s) for s in sets.torch_sets(session)]


@router.post("/torch-sets", status_code=201)
def add_torch_set(request: models.TorchSetRequest, database: Store) -> models.TorchSetAnswer:
    """Add a torch set."""
    given = TorchSet(request.name, request.amperage_a, request.gas, request.swirl)
    with database.write() as session:
        return answers.torch_set(sets.add_torch_set(session, given))


@router.put("/torch-sets/{torch_set_id}/cost")
def cost_set(
    torch_set_id: Id, request: models.PartsCostRequest, database: Store
) -> models.TorchSetAnswer:
    """What one set of parts costs, and how many starts it lasts here."""
    with database.write() as session:
        found = sets.torch_set(session, torch_set_id)
        found.parts_cost, found.parts_starts = request.parts_cost, request.parts_starts
        session.add(found)
        session.flush()
        return answers.torch_set(found)


@router.delete("/fittings/{fitting_id}", status_code=204)
def take_back(fitting_id: Id, database: Store) -> None:
    """Undo a fitting that nothing was cut with yet."""
    with database.write() as session:
        fittings.take_back(session, fitting_id)
