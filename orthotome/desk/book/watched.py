"""A recipe as it is watched: what its spot checks say, on the parts as they are now, and how often to check."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session

from orthotome.core.book.watching import (
    Promise,
    SpotCheck,
    Watched,
    starts_between,
    watch,
)
from orthotome.core.edge.measuring import ANGLE_GAUGE_U_DEG
from orthotome.core.trial.campaign import worst_judged_deg
from orthotome.desk.bench.judging import Judge
from orthotome.desk.height.of_trial import TrialHeight, of_trial
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.trial.campaign import campaign_from_file
from orthotome.store.book import recipes, spot_checks
from orthotome.store.errors import NotFound
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import CuttingTable, RecipeRow, SpotCheckRow
from orthotome.store.torch import counting


@dataclass(frozen=True)
class WatchedRecipe:
    """A recipe with all that is known of it since its proof; ``at_proof`` are the starts of its table then."""

    row: RecipeRow
    file: RecipeFile
    table: CuttingTable | None
    checks: Sequence[SpotCheckRow]
    at_proof: int
    since: int
    promise: Promise
    height: TrialHeight | None
    found: Watched

    def every(
        self, bad_part_cost: float | None, check_cost: float | None, starts_each: int
    ) -> tuple[int | None, str]:
        """Parts between two checks, from what a bad part and a check cost."""
        page = pages.settings(self.table) if self.table is not None else None
        check = check_cost or (page.test_cut_cost if page else None)
        if bad_part_cost is None or not check:
            return (
                None,
                "Say what a bad part costs, and what a check does: then how often to check is worked out.",
            )
        until = (
            None if self.found.due_at_starts is None else max(0, self.found.due_at_starts - self.since)
        )
        every = starts_between(check, bad_part_cost, starts_each, until)
        wears = "" if until is None else f", and wear is due in about {until} starts"
        return every, (
            f"Check one part in {every}: checking and bad parts then cost the same, at {starts_each} starts a part{wears}."
        )


def watched(session: Session, recipe_id: int, judge: Judge) -> WatchedRecipe:
    """A recipe with its checks. Raises NotFound."""
    row = recipes.recipe(session, recipe_id)
    file, table = recipes.file_of(row), table_of(session, row)
    checks = spot_checks.of_recipe(session, recipe_id)
    at_proof = spot_checks.starts_of_table_at(session, table.id or 0, row) if table else 0
    since = (counting.starts_of_table(session, table.id or 0) if table else 0) - at_proof
    promise, height = promise_of(file), _height(session, row, judge)
    found = watch(
        promise,
        [_check(c, at_proof) for c in checks if not c.struck_out],
        since,
        height.trim.by_v if height else 0.0,
    )
    return WatchedRecipe(row, file, table, checks, at_proof, since, promise, height, found)


def table_of(session: Session, row: RecipeRow) -> CuttingTable | None:
    """The table that a recipe was proven on; None where this shop has it not."""
    return next((t for t in shop.tables(session) if t.name == row.table_name), None)


def _height(session: Session, row: RecipeRow, judge: Judge) -> TrialHeight | None:
    if row.trial_id is None:
        return None
    try:
        return of_trial(session, row.trial_id, judge)
    except NotFound:
        return None


def promise_of(file: RecipeFile) -> Promise:
    """What it promises: its target, and the mean of the worst edges of the cuts that passed."""
    campaign = campaign_from_file(file.evidence)
    passed = [c for c in campaign.cuts if c.id in file.proof.passed_cuts]
    worst = [
        w for c in passed if (w := worst_judged_deg(c, campaign.torch_set, campaign.target)) is not None
    ]
    proven = sum(worst) / len(worst) if worst else 0.0
    return Promise(campaign.target.bevel_deg, proven, campaign.target.dross_grade)


def _check(row: SpotCheckRow, at_proof: int) -> SpotCheck:
    return SpotCheck(
        row.of_table - at_proof,
        row.bevel_deg,
        row.u_deg or ANGLE_GAUGE_U_DEG,
        None if row.height_held else row.arc_voltage_v,
        row.kerf_mm,
        row.dross_grade,
    )
