"""A cut as it is shown beside another, and all of a trial that goes on one page."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from sqlmodel import Session

from orthotome.core.log.compare import Shown
from orthotome.core.log.says import what_it_says
from orthotome.core.quantities import plate
from orthotome.core.trial.in_a_line import not_proven_says
from orthotome.formats.pieces.trial_sheet import MOST_PHOTOS, SheetOfTrial
from orthotome.store.bench import campaigns
from orthotome.store.book import recipes
from orthotome.store.errors import NotFound
from orthotome.store.log import cuts, photo_files, photos
from orthotome.store.log.cuts import LoggedCut
from orthotome.store.shop import shop
from orthotome.store.tables import PhotoRow, Trial
from orthotome.store.torch import fittings
from orthotome.store.trial import trials


@dataclass(frozen=True)
class CutShown:
    """A cut with all that its side of a comparison shows. ``recipe`` is what its trial was locked as."""

    trial: Trial
    logged: LoggedCut
    shown: Shown
    title: str
    table: str
    recipe: str | None
    photos: Sequence[PhotoRow]

    @property
    def kerf_mm(self) -> float:
        """As it was read, or else as the trial takes it."""
        return self.logged.cut.kerf_mm or self.trial.kerf_mm


def cut_shown(session: Session, cut_id: int) -> CutShown:
    """One side of a comparison. Raises NotFound."""
    trial, logged = cuts.cut_anywhere(session, cut_id)
    campaign = campaigns.campaign_of(session, trial)
    recipe = trials.recipe_of(session, trial.id or 0)
    return CutShown(
        trial,
        logged,
        Shown(campaign, logged.cut, logged.kind, logged.looks),
        ", ".join(filter(None, (plate(trial.thickness_mm, trial.metal), trial.title))),
        shop.table(session, trial.table_id).name,
        f"{recipe.title}, revision {recipe.revision}" if recipe else None,
        photos.of_cuts(session, [cut_id])[cut_id],
    )


def proving_cut(session: Session, recipe_id: int) -> int:
    """The last cut that proves a recipe. Raises NotFound where its cuts are not here."""
    row = recipes.recipe(session, recipe_id)
    passed = recipes.file_of(row).proof.passed_cuts
    made = cuts.logged_cuts(session, row.trial_id) if row.trial_id else []
    found = next((c.row.id for c in reversed(made) if c.cut.id in passed), None)
    if found is None:
        raise NotFound(f"The cuts that prove “{row.title}” are not here: it came from a file.", "recipe")
    return found


def sheet_of_trial(session: Session, trial_id: int, photos_in: Path) -> SheetOfTrial:
    """The trial for one page, to hand on: what it began with, the parts, what was tried, pictures. Raises NotFound."""
    found = trials.trial(session, trial_id)
    logged = cuts.logged_cuts(session, trial_id)
    fitted = fittings.fitted(session, found.table_id)
    return SheetOfTrial(
        campaign=campaigns.campaign_of(session, found, logged),
        table=shop.table(session, found.table_id).name,
        opened=found.opened_at,
        stands=_stands(session, found, logged),
        fitted=f"Parts fitted now: {fitted.parts.name or 'not named'}, {fitted.starts} starts.",
        said=_said(logged, found.thickness_mm),
        photos=_thumbnails(session, logged, photos_in),
    )


def _stands(session: Session, found: Trial, logged: Sequence[LoggedCut]) -> str:
    recipe = trials.recipe_of(session, found.id or 0)
    if recipe is not None:
        return f"Proven, and locked as “{recipe.title}”, revision {recipe.revision}."
    campaign = campaigns.campaign_of(session, found, logged)
    return not_proven_says(campaign, [c.cut for c in logged if c.counts])


def _said(logged: Sequence[LoggedCut], thickness_mm: float) -> list[str]:
    found = []
    for cut in logged:
        if not cut.row.struck_out:
            said = what_it_says(cut.kind, cut.items, cut.looks, thickness_mm)
            found += [f"Piece {cut.row.number}: {s.sentence}" for s in said]
    return found


def _thumbnails(session: Session, logged: Sequence[LoggedCut], folder: Path) -> list[bytes]:
    """The newest photos, in the order in which they were taken."""
    kept = photos.of_cuts(session, [c.row.id for c in logged if not c.row.struck_out])
    newest = sorted((p for of in kept.values() for p in of), key=lambda p: p.id or 0)[-MOST_PHOTOS:]
    found = []
    for row in newest:
        try:
            found.append(photo_files.content_of(folder, row.digest, "thumbnail"))
        except NotFound:
            continue  # the pictures were not brought along: the page is still a page
    return found
