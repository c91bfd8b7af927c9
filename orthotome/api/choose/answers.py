"""Processes judged for a job as answers on the wire."""

from typing import TYPE_CHECKING

from orthotome.api.choose import models
from orthotome.core.choose.choosing import Option, Process
from orthotome.store.tables import (
    TorchSetRow,
)

if TYPE_CHECKING:
    pass


def option(found: Option, fitted: TorchSetRow, metal: str, note_version: int) -> models.ChooseOption:
    """A process judged for a job; ``note_version`` is that of what is written down of it."""
    assert fitted.id is not None
    process, look = found.process, found.look
    look_from = process.claim_source or "claimed, source not noted"
    if process.measured is not None:
        look_from = (
            f"measured here: {process.measured.title or 'a recipe'}, {process.measured.cuts} cuts"
        )
    elif look == type(look)():
        look_from = "not written down"
    return models.ChooseOption(
        torch_set_id=fitted.id,
        torch_set=process.torch_set,
        amperage_a=process.amperage_a,
        gas=process.gas,
        shield_gas=process.shield_gas,
        usable=found.usable,
        can=found.ability.code,
        can_sentence=found.ability.why,
        question=found.ability.check or None,
        start_how=found.start.how,
        speed_mm_min=found.speed_mm_min,
        kerf_mm=found.kerf_mm,
        **vars(look),
        edge_range=found.edge_range,
        look_from=look_from,
        measured=found.measured,
        smallest_hole_mm=found.smallest_hole_mm,
        straight_share=found.straight_share,
        circle_share=found.circle_share,
        cost_per_m=found.cost_per_m,
        gas_l_per_m=found.gas_l_per_m,
        notes=list(found.notes),
        example=fitted.example,
        written=_written(found.process, metal, note_version),
        parts_cost=process.parts_cost,
        parts_starts=process.parts_starts,
    )


def _written(process: Process, metal: str, version: int) -> models.SetNoteRequest:
    return models.SetNoteRequest(
        metal=metal,
        gas=process.gas,
        shield_gas=process.shield_gas,
        **vars(process.capability),
        **vars(process.claim),
        source=process.claim_source,
        version=version,
    )
