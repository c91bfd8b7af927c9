"""Logged cuts as answers on the wire."""

from collections.abc import Sequence

from orthotome.api.log import models
from orthotome.core.trial.advice import verdict_of
from orthotome.core.trial.campaign import Target, TorchSet, underside_words, worst_judged_deg
from orthotome.formats.trial.campaign import DrossFile
from orthotome.store.log.cuts import LoggedCut

_OWN = {"edges", "dross", "underside", "verdict", "bevel_right_deg", "bevel_left_deg", "worst_kept_deg"}


def cut(
    logged: LoggedCut,
    torch_set: TorchSet,
    target: Target,
    passed: float | None = None,
    wild: Sequence[float] = (),
) -> models.CutAnswer:
    """A logged cut, judged by a target; ``wild`` is the chance of each reading that it is off by degrees."""
    made, row = logged.cut, logged.row
    doubts: Sequence[float | None] = wild or [None] * len(made.edges)
    return models.CutAnswer(
        **row.model_dump(include=set(models.CutAnswer.model_fields) - _OWN),
        edges=[
            models.EdgeAnswer(id=edge_id, wild=doubt, **vars(e))
            for edge_id, e, doubt in zip(logged.edge_ids, made.edges, doubts, strict=True)
        ],
        dross=None if made.dross is None else [DrossFile(**vars(d)) for d in made.dross],
        bevel_right_deg=made.mean_bevel_deg("right"),
        bevel_left_deg=made.mean_bevel_deg("left"),
        worst_kept_deg=worst_judged_deg(made, torch_set, target),
        underside=underside_words(made),
        verdict=None if passed is None or not made.edges else verdict_of(passed),
    )
