"""Rows, pages and recipes of the Book as answers on the wire."""

import json
from typing import TYPE_CHECKING

from orthotome.api.book import models
from orthotome.api.torch.answers import torch_set
from orthotome.core.book.start_rows import StartValues
from orthotome.core.book.trend import TrendBreak
from orthotome.core.edge.edges import good_side
from orthotome.core.stock.metals import metal_named
from orthotome.formats.book.start import StartValuesFile
from orthotome.store.book.recipes import file_of
from orthotome.store.book.rows import Trend
from orthotome.store.tables import (
    BookRow,
    RecipeRow,
    TorchSetRow,
)

if TYPE_CHECKING:
    pass


def book_row(row: BookRow, fitted: TorchSetRow) -> models.BookRowAnswer:
    """A row of the Book."""
    plain = row.model_dump(exclude={"superseded_by_id", "amperage_a"})
    amperage = fitted.amperage_a if row.amperage_a is None else row.amperage_a
    return models.BookRowAnswer(**plain, torch_set=fitted.name, amperage_a=amperage)


def trend(
    found: Trend, metal: str, fitted: TorchSetRow, gas: str, proven: list[RecipeRow]
) -> models.TrendAnswer:
    """A metal with one set and gas over thickness."""
    return models.TrendAnswer(
        metal=metal,
        metal_label=metal_named(metal).label,
        torch_set=torch_set(fitted),
        gas=gas,
        rows=[book_row(r, fitted) for r in found.rows],
        curve=[
            models.CurvePoint(thickness_mm=t, beyond=beyond, values=_values(v))
            for t, v, beyond in found.curve
        ],
        recipes=[_recipe_point(r) for r in proven],
        breaks=[_trend_break(b, found) for b in found.breaks],
        struck_out=[],
    )


def _values(values: StartValues) -> StartValuesFile:
    return StartValuesFile.model_validate(vars(values))


def _recipe_point(row: RecipeRow) -> models.RecipePoint:
    assert row.id is not None
    values = StartValuesFile(**row.model_dump(include=set(StartValuesFile.model_fields)))
    return models.RecipePoint(recipe_id=row.id, thickness_mm=row.thickness_mm, values=values)


def _trend_break(found: TrendBreak, of: Trend) -> models.TrendBreakAnswer:
    return models.TrendBreakAnswer(
        row_id=of.rows[found.index].id or 0,
        quantity=found.quantity,
        expected=found.expected,
        sentence=found.sentence,
    )


def recipe(row: RecipeRow, newest: dict[str, int]) -> models.RecipeAnswer:
    """A locked recipe."""
    assert row.id is not None
    return models.RecipeAnswer(
        id=row.id,
        trial_id=row.trial_id,
        revision=row.revision,
        in_force=newest.get(row.line) == row.revision,
        recipe=file_of(row),
    )


def recipe_line(row: RecipeRow, newest: dict[str, int]) -> models.RecipeLine:
    """A recipe in a list, without its file."""
    own = {"metal_label", "in_force", "good_side", "dross", "plate"}
    return models.RecipeLine(
        **row.model_dump(include=set(models.RecipeLine.model_fields) - own),
        metal_label=metal_named(row.metal).label,
        in_force=newest.get(row.line) == row.revision,
        good_side=good_side(row.swirl),
        dross=None if row.dross is None else json.loads(row.dross),
    )
