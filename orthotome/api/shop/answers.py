"""The shop and its tables as answers on the wire."""

from typing import TYPE_CHECKING

from orthotome.api.shop import models
from orthotome.api.torch.answers import fitting, torch_set
from orthotome.store.tables import (
    CuttingTable,
    Shop,
    TorchSetRow,
    Trial,
)

if TYPE_CHECKING:
    pass
from orthotome.store.torch.fittings import Fitted


def shop(row: Shop) -> models.ShopAnswer:
    """The shop."""
    return models.ShopAnswer.model_validate(row, from_attributes=True)


def table(
    row: CuttingTable, on_it: Fitted, of_set: TorchSetRow | None, bench: Trial | None
) -> models.TableAnswer:
    """A table with what is on it."""
    assert row.id is not None
    return models.TableAnswer(
        id=row.id,
        name=row.name,
        bed=row.bed,
        simulated=row.simulated_seed is not None,
        torch_set=torch_set(of_set) if of_set else None,
        parts=fitting(on_it.parts, on_it),
        mount=fitting(on_it.mount, on_it),
        bench_trial_id=bench.id if bench else None,
    )
