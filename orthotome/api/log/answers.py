"""Logged cuts as answers on the wire."""

from collections.abc import Sequence

from orthotome.api.log import models
from orthotome.core.log.items import SheetKind
from orthotome.core.log.looks import Look, look_for
from orthotome.core.log.says import what_it_says
from orthotome.core.log.sheet import TITLES
from orthotome.core.trial.advice import verdict_of
from orthotome.core.trial.campaign import Target, TorchSet, underside_words, worst_judged_deg
from orthotome.formats.trial.campaign import DrossFile
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.tables import PhotoRow

_OF_THE_ROW = set(models.CutAnswer.model_fields) & {
    *("id", "number", "piece", "speed_mm_min", "cut_height_mm", "arc_voltage_v", "set_point_v"),
    *("height_control", "starts", "pierces", "arc_on_s", "through", "arc_lost", "kerf_mm", "lag_deg"),
    *("note", "logged_at", "logged_by", "struck_out", "version"),
}


def cut(
    logged: LoggedCut,
    torch_set: TorchSet,
    target: Target,
    passed: float | None = None,
    wild: Sequence[float] = (),
    *,
    thickness_mm: float,
    photos: Sequence[PhotoRow] = (),
) -> models.CutAnswer:
    """A logged cut, judged by a target; ``wild`` is the chance of each reading that it is off by degrees."""
    made, row, kind = logged.cut, logged.row, logged.kind
    doubts: Sequence[float | None] = wild or [None] * len(made.edges)
    told = logged.told or [""] * len(made.edges)
    return models.CutAnswer(
        **row.model_dump(include=_OF_THE_ROW),
        edges=[
            models.EdgeAnswer(id=edge_id, wild=doubt, told=typed, **vars(e))
            for edge_id, e, doubt, typed in zip(logged.edge_ids, made.edges, doubts, told, strict=True)
        ],
        dross=None if made.dross is None else [DrossFile(**vars(d)) for d in made.dross],
        bevel_right_deg=made.mean_bevel_deg("right"),
        bevel_left_deg=made.mean_bevel_deg("left"),
        worst_kept_deg=worst_judged_deg(made, torch_set, target),
        underside=underside_words(made),
        kind=kind,
        title=TITLES[kind],
        counts=logged.counts,
        items=logged.items,
        looks=[_look(kind, k) for k in logged.looks],
        says=what_it_says(kind, logged.items, logged.looks, thickness_mm),
        photos=[photo(p) for p in photos],
        verdict=None if passed is None or not made.edges else verdict_of(passed),
    )


def photo(row: PhotoRow) -> models.PhotoAnswer:
    """A photo of a cut."""
    return models.PhotoAnswer(**row.model_dump(include=set(models.PhotoAnswer.model_fields)))


def _look(kind: SheetKind, look: Look) -> models.LookAnswer:
    asked = look_for(kind, look)
    chosen = next((c.label for c in asked.choices if c.value == look.value), "")
    return models.LookAnswer(**vars(look), question=asked.question, answer=chosen, unit=asked.unit)
