"""Processes judged for a job as answers on the wire."""

from orthotome.api.choose import models
from orthotome.core.choose.choosing import Option, Process
from orthotome.core.choose.trade_offs import CRITERIA, TradeOff
from orthotome.store.tables import TorchSetRow


def option(
    found: Option, fitted: TorchSetRow, metal: str, note_version: int, stands: TradeOff
) -> models.ChooseOption:
    """A process judged for a job; ``note_version`` is that of what is written down of it, ``stands`` where it stands
    among the others."""
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
        best_at=[c.label for c in CRITERIA if c.code in stands.best_at],
        beaten_by=_named(stands.beaten_by.process) if stands.beaten_by else None,
        look_from=look_from,
        measured=found.measured,
        smallest_hole_mm=found.smallest_hole_mm,
        straight_share=found.straight_share,
        circle_share=found.circle_share,
        cost_per_m=found.cost_per_m,
        gas_l_per_m=found.gas_l_per_m,
        notes=list(found.notes),
        beyond_machine=found.beyond_machine,
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
        **{name: value for name, value in vars(process.claim).items() if name != "lag_deg"},
        source=process.claim_source,
        version=version,
    )


def _named(process: Process) -> str:
    gases = f"{process.gas} with {process.shield_gas}" if process.shield_gas else process.gas
    return f"{process.torch_set}, {gases}"
