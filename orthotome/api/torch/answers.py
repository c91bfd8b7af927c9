"""Torch sets as answers on the wire."""

from typing import TYPE_CHECKING

from orthotome.api.torch import models
from orthotome.store.tables import FittingRow, TorchSetRow

if TYPE_CHECKING:
    pass


def torch_set(row: TorchSetRow) -> models.TorchSetAnswer:
    """A torch set."""
    return models.TorchSetAnswer.model_validate(row, from_attributes=True)


def fitting(row: FittingRow) -> models.FittingAnswer:
    """One thing as it is fitted now."""
    return models.FittingAnswer(**row.model_dump(include=set(models.FittingAnswer.model_fields)))
