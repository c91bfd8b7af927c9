"""A table's own page as answers on the wire."""

from typing import TYPE_CHECKING

from orthotome.api.machine import models
from orthotome.store.machine.pages import settings as settings_of
from orthotome.store.tables import (
    CuttingTable,
    TableFact,
)

if TYPE_CHECKING:
    pass


def settings(row: CuttingTable) -> models.SettingsAnswer:
    """A table's page."""
    assert row.id is not None
    written = settings_of(row)
    axes = written.axis_map()
    return models.SettingsAnswer(
        table_id=row.id,
        name=row.name,
        bed=row.bed,
        settings=written,
        version=row.version,
        axes_in_words=axes.in_words if axes else None,
        mirrors=axes.mirrors if axes else None,
    )


def fact(row: TableFact) -> models.FactAnswer:
    """A note about a table."""
    plain = row.model_dump(include={"id", "title", "told", "noted_at", "noted_by"})
    return models.FactAnswer(**plain, has_photo=row.photo_type is not None)
