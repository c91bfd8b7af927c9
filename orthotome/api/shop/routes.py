"""The shop, its tables, metals, and reading what is typed."""

from collections.abc import Sequence

from sqlmodel import Session

from orthotome.api.depends import Reading, Store
from orthotome.api.routing import room
from orthotome.api.shop import answers, models
from orthotome.core.errors import TradeError
from orthotome.core.stock.gauges import GAUGE_INCHES
from orthotome.core.stock.metals import METALS
from orthotome.core.units import UNITS, read_quantity
from orthotome.store.shop import shop
from orthotome.store.tables import CuttingTable
from orthotome.store.torch import fittings, sets

router = room("shop")


@router.get("/shop")
def get_shop(session: Reading) -> models.ShopAnswer:
    """The shop and its units."""
    return answers.shop(shop.the_shop(session))


@router.patch("/shop")
def change_shop(change: models.ShopChange, database: Store) -> models.ShopAnswer:
    """Change the shop's name or units."""
    with database.write() as session:
        changed = shop.set_shop(session, change.name, change.length_unit, change.speed_unit)
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
        means=request.means,
        field=request.field,
    )
    return models.QuantityAnswer.model_validate(found, from_attributes=True)


@router.get("/tables")
def get_tables(session: Reading) -> list[models.TableAnswer]:
    """The tables with what is fitted and what is on their Bench."""
    return answer_tables(session, shop.tables(session))


@router.post("/tables", status_code=201)
def add_table(request: models.TableRequest, database: Store) -> models.TableAnswer:
    """Add a table."""
    with database.write() as session:
        added = shop.add_table(session, request.name, request.bed, request.torch_set_id)
        return answer_tables(session, [added])[0]


def answer_tables(session: Session, rows: Sequence[CuttingTable]) -> list[models.TableAnswer]:
    """Tables with what is fitted and what is on their Bench."""
    fitted = fittings.fitted_on(session, [t.id or 0 for t in rows])
    known = {s.id: s for s in sets.torch_sets(session)}
    return [
        answers.table(
            t,
            fitted[t.id or 0],
            known.get(fitted[t.id or 0].torch_set_id),
            shop.bench_trial(session, t.id or 0),
        )
        for t in rows
    ]
