"""The shop, its tables, its torch sets, metals, and reading what is typed."""

from fastapi import APIRouter

from orthotome.api import answers, models
from orthotome.api.depends import Reading, Store
from orthotome.core.campaign import TorchSet
from orthotome.core.errors import TradeError
from orthotome.core.gauges import GAUGE_INCHES
from orthotome.core.metals import METALS
from orthotome.core.units import UNITS, read_quantity
from orthotome.store import shop as store

router = APIRouter(tags=["shop"])


@router.get("/shop")
def get_shop(session: Reading) -> models.ShopAnswer:
    """The shop and its units."""
    return answers.shop(store.the_shop(session))


@router.patch("/shop")
def change_shop(change: models.ShopChange, database: Store) -> models.ShopAnswer:
    """Change the shop's name or units."""
    with database.write() as session:
        changed = store.set_shop(session, change.name, change.length_unit, change.speed_unit)
        return answers.shop(changed)


@router.get("/metals")
def get_metals() -> list[models.MetalAnswer]:
    """Metals with their gauges and fume cautions."""
    return [
        models.MetalAnswer(
            name=m.name, label=m.label, fume=m.fume, gauges=sorted(GAUGE_INCHES.get(m.name, ()))
        )
        for m in METALS.values()
    ]


@router.post("/quantities/read")
def read(request: models.QuantityRequest) -> models.QuantityAnswer:
    """Read what was typed, with its unit; question what is absurd."""
    if request.unit not in UNITS[request.quantity]:
        raise TradeError("unit", f"use one of {', '.join(UNITS[request.quantity])}.")
    found = read_quantity(
        request.text,
        request.quantity,
        default_unit=request.unit,
        metal=request.metal,
        expected=request.expected,
        field=request.field,
    )
    return models.QuantityAnswer.model_validate(found, from_attributes=True)


@router.get("/tables")
def get_tables(session: Reading) -> list[models.TableAnswer]:
    """The tables with what is fitted and what is on their Bench."""
    sets = {s.id: s for s in store.torch_sets(session)}
    return [
        answers.table(t, sets.get(t.torch_set_id), store.bench_trial(session, t.id or 0))
        for t in store.tables(session)
    ]


@router.post("/tables", status_code=201)
def add_table(request: models.TableRequest, database: Store) -> models.TableAnswer:
    """Add a table."""
    with database.write() as session:
        added = store.add_table(session, request.name, request.bed, request.torch_set_id)
        fitted = store.torch_set(session, added.torch_set_id) if added.torch_set_id else None
        return answers.table(added, fitted, None)


@router.post("/tables/{table_id}/put-right", status_code=204)
def put_right(table_id: models.Id, request: models.PutRightRequest, database: Store) -> None:
    """Note that parts were changed or the torch re-seated: a new series begins."""
    with database.write() as session:
        store.put_right(session, table_id, request.what)


@router.get("/torch-sets")
def get_torch_sets(session: Reading) -> list[models.TorchSetAnswer]:
    """The torch sets, by amperage."""
    return [answers.torch_set(s) for s in store.torch_sets(session)]


@router.post("/torch-sets", status_code=201)
def add_torch_set(request: models.TorchSetRequest, database: Store) -> models.TorchSetAnswer:
    """Add a torch set."""
    given = TorchSet(request.name, request.amperage_a, request.gas, request.swirl)
    with database.write() as session:
        return answers.torch_set(store.add_torch_set(session, given))
