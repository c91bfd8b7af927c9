"""Trials as answers on the wire."""

import json

from sqlmodel import Session

from orthotome.api.log.answers import cut
from orthotome.api.torch.answers import torch_set
from orthotome.api.trial import models
from orthotome.core.edge.edges import Side, far_side_heading_deg, good_side
from orthotome.core.quantities import thickness
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import DROSS_ALLOWED, Limits, Target
from orthotome.core.trial.opening import within_machine
from orthotome.formats.trial.campaign import LimitsFile, StartFile, TargetFile
from orthotome.store.bench.lines import TrialLine
from orthotome.store.machine.pages import settings as settings_of
from orthotome.store.shop import shop
from orthotome.store.tables import (
    CuttingTable,
    RecipeRow,
    TorchSetRow,
    Trial,
)
from orthotome.store.torch import sets
from orthotome.store.torch.sets import torch_set_of
from orthotome.store.trial import trials


def trial(
    row: Trial, at: CuttingTable, fitted: TorchSetRow, recipe: RecipeRow | None
) -> models.TrialAnswer:
    """A trial."""
    origin = json.loads(row.start_from)
    good = good_side(fitted.swirl)
    return models.TrialAnswer(
        **row.model_dump(include={"id", "table_id", "title", "metal", "thickness_mm", "start_how"}),
        **row.model_dump(include={"opened_at", "opened_by", "on_bench", "on_its_own", "revision"}),
        table=at.name,
        simulated=at.simulated_seed is not None,
        torch_set=torch_set(fitted).model_copy(update={"gas": row.gas or fitted.gas}),
        good_side=good,
        scrap_heading_deg=far_side_heading_deg(good),
        height_by_hand=settings_of(at).height_by_hand,
        metal_label=metal_named(row.metal).label,
        start=StartFile(**row.model_dump(include=set(StartFile.model_fields))),
        start_sources=origin["rows"],
        warnings=origin["warnings"],
        aim=_aim(row, good),
        target=TargetFile(**row.model_dump(include=set(TargetFile.model_fields))),
        limits=LimitsFile(
            **vars(
                within_machine(
                    Limits(
                        (row.speed_low_mm_min, row.speed_high_mm_min),
                        (row.height_low_mm, row.height_high_mm),
                    ),
                    settings_of(at).fastest_mm_min,
                )
            )
        ),
        recipe_id=recipe.id if recipe else None,
        recipe_revision=recipe.revision if recipe else None,
    )


def _aim(row: Trial, good: Side) -> str:
    side = "on both sides" if row.sides == "both" else f"on the {good}"
    return f"{row.bevel_deg:.1f}° {side}, {DROSS_ALLOWED[row.dross_grade]}"


def shown(session: Session, found: Trial) -> models.TrialAnswer:
    """A trial with what it hangs together with."""
    return trial(
        found,
        shop.table(session, found.table_id),
        sets.torch_set(session, found.torch_set_id),
        trials.recipe_of(session, found.id or 0),
    )


def earlier(row: Trial) -> models.EarlierTrial:
    """A trial that sharpens a later one."""
    return models.EarlierTrial(
        id=row.id or 0,
        title=row.title,
        metal_label=metal_named(row.metal).label,
        plate=thickness(row.thickness_mm, row.metal),
    )


def trial_line(line: TrialLine) -> models.TrialLineAnswer:
    """A trial in a list."""
    of_set = torch_set_of(line.torch_set, line.trial.gas)
    target = Target(line.trial.bevel_deg, line.trial.sides, line.trial.dross_grade)
    return models.TrialLineAnswer(
        trial=trial(line.trial, line.table, line.torch_set, line.recipe),
        cuts=line.cuts,
        last=cut(line.last, of_set, target, thickness_mm=line.trial.thickness_mm) if line.last else None,
    )
