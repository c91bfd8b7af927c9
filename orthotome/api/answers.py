"""Records of the store as answers on the wire."""

import json
from typing import TYPE_CHECKING

from orthotome.api import models
from orthotome.core.edges import good_side
from orthotome.core.measuring import angle_gauge_u_deg
from orthotome.core.metals import metal_named
from orthotome.formats.advice import advice_to_file, expected_to_file
from orthotome.formats.campaign import DrossFile, EdgeFile, LimitsFile, StartFile, TargetFile
from orthotome.store.recipes import file_of
from orthotome.store.tables import BookRow, CuttingTable, RecipeRow, Shop, TorchSetRow, Trial
from orthotome.store.trials import LoggedCut, TrialLine

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement


def shop(row: Shop) -> models.ShopAnswer:
    """The shop."""
    return models.ShopAnswer.model_validate(row, from_attributes=True)


def torch_set(row: TorchSetRow) -> models.TorchSetAnswer:
    """A torch set."""
    return models.TorchSetAnswer.model_validate(row, from_attributes=True)


def table(row: CuttingTable, fitted: TorchSetRow | None, bench: Trial | None) -> models.TableAnswer:
    """A table with what is on it."""
    assert row.id is not None
    return models.TableAnswer(
        id=row.id,
        name=row.name,
        bed=row.bed,
        simulated=row.simulated_seed is not None,
        torch_set=torch_set(fitted) if fitted else None,
        starts_on_parts=row.starts_on_parts,
        bench_trial_id=bench.id if bench else None,
    )


def book_row(row: BookRow, fitted: TorchSetRow) -> models.BookRowAnswer:
    """A row of the Book."""
    return models.BookRowAnswer(
        **row.model_dump(exclude={"superseded_by_id"}),
        torch_set=fitted.name,
        amperage_a=fitted.amperage_a,
    )


def trial(
    row: Trial, at: CuttingTable, fitted: TorchSetRow, recipe: RecipeRow | None
) -> models.TrialAnswer:
    """A trial."""
    origin = json.loads(row.start_from)
    return models.TrialAnswer(
        **row.model_dump(include={"id", "table_id", "title", "metal", "thickness_mm", "start_how"}),
        **row.model_dump(include={"opened_at", "opened_by", "on_bench", "revision"}),
        table=at.name,
        simulated=at.simulated_seed is not None,
        torch_set=torch_set(fitted),
        good_side=good_side(fitted.swirl),  # type: ignore[arg-type]
        metal_label=metal_named(row.metal).label,
        start=StartFile(**row.model_dump(include=set(StartFile.model_fields))),
        start_sources=origin["rows"],
        warnings=origin["warnings"],
        target=TargetFile(**row.model_dump(include=set(TargetFile.model_fields))),
        limits=LimitsFile(
            speed_mm_min=(row.speed_low_mm_min, row.speed_high_mm_min),
            cut_height_mm=(row.height_low_mm, row.height_high_mm),
        ),
        recipe_id=recipe.id if recipe else None,
        recipe_revision=recipe.revision if recipe else None,
    )


def trial_line(line: TrialLine) -> models.TrialLineAnswer:
    """A trial in a list."""
    return models.TrialLineAnswer(
        trial=trial(line.trial, line.table, line.torch_set, line.recipe),
        cuts=line.cuts,
        last=cut(line.last) if line.last else None,
    )


def cut(logged: LoggedCut, passed: float | None = None) -> models.CutAnswer:
    """A logged cut."""
    dross = logged.cut.dross
    shown = set(models.CutAnswer.model_fields) - {"edges", "dross", "passed"}
    return models.CutAnswer(
        **logged.row.model_dump(include=shown),
        edges=[EdgeFile(**vars(e)) for e in logged.cut.edges],
        dross=None if dross is None else [DrossFile(**vars(d)) for d in dross],
        bevel_right_deg=logged.cut.mean_bevel_deg("right"),
        bevel_left_deg=logged.cut.mean_bevel_deg("left"),
        passed=None if passed is None else round(passed, 3),
    )


def bench(
    shown: models.TrialAnswer, logged: list[LoggedCut], judgement: "Judgement"
) -> models.BenchAnswer:
    """A trial with its advice and the evidence for it."""
    from orthotome.core.tuner import evidence  # noqa: PLC0415 (start-up time)

    passed = dict(zip((c.id for c in judgement.learned.campaign.cuts), judgement.passed, strict=True))
    advice, parts = judgement.advice, evidence.bevel_parts(judgement)
    slope, slope_sd = judgement.learned.volts.volts_per_mm
    expected = None
    if advice.next_cuts:
        first = advice.next_cuts[0]
        expected = expected_to_file(judgement.expected(first.speed_mm_min, first.cut_height_mm))
    chance = evidence.chance_map(judgement)
    return models.BenchAnswer(
        trial=shown,
        cuts=[cut(c, passed.get(c.cut.id)) for c in logged],
        advice=advice_to_file(advice),
        parts=models.BevelPartsAnswer(**vars(parts)) if parts else None,
        chance_map=models.ChanceMapAnswer.model_validate(chance, from_attributes=True),
        proofs=[models.ProofAnswer(done=p.done, text=p.text) for p in evidence.proofs(judgement)],
        volts=models.VoltsAnswer(
            volts_per_mm=slope, sd=slope_sd, taught_by=judgement.learned.volts.taught_by
        ),
        next_expected=expected,
        reading_u_deg=angle_gauge_u_deg(shown.thickness_mm),
    )


def recipe(row: RecipeRow, newest: dict[str, int]) -> models.RecipeAnswer:
    """A locked recipe."""
    assert row.id is not None
    return models.RecipeAnswer(
        id=row.id,
        trial_id=row.trial_id,
        revision=row.revision,
        in_force=newest[row.line] == row.revision,
        recipe=file_of(row),
    )
