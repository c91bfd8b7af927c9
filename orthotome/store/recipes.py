"""Locked recipes: written once with their evidence, superseded by a newer revision, never edited."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

from sqlalchemy import func
from sqlmodel import Session, col, select

from orthotome.core.campaign import Campaign
from orthotome.formats.campaign import TorchSetFile, campaign_to_file
from orthotome.formats.recipe import RecipeFile, RecipeProof, RecipeSetting
from orthotome.store import shop, trials
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import RecipeRow, now

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement


def lock(session: Session, trial_id: int, judgement: "Judgement", *, by: str, title: str) -> RecipeRow:
    """Lock a trial's proven setting as the next revision of its line.

    Raises Refused unless the judgement says square: a recipe is a promise.
    """
    trial = trials.trial(session, trial_id)
    if (known := trials.recipe_of(session, trial_id)) is not None:
        raise Refused(f"This trial is locked already, as revision {known.revision}.", "trial_id")
    if judgement.advice.status != "square":
        raise Refused(
            "This setting is not proven yet: it must pass on a real square, and be 95 in 100 sure "
            "to pass on the next.",
            "trial_id",
        )
    table = shop.table(session, trial.table_id)
    campaign = judgement.learned.campaign
    line = line_of(table.name, campaign)
    body = _recipe_file(judgement, table.name, _next_revision(session, line), by, title)
    row = RecipeRow(
        trial_id=trial_id,
        line=line,
        revision=body.revision,
        title=body.title,
        locked_by=by,
        body=body.model_dump_json(),
    )
    session.add(row)
    trial.revision += 1
    session.add(trial)
    session.flush()
    return row


def take_in(session: Session, file: RecipeFile) -> RecipeRow:
    """Take in a recipe file as the next revision of its line; its evidence comes with it."""
    torch = file.torch_set
    line = _line(file.table, file.metal, file.thickness_mm, torch.name, torch.gas)
    revision = _next_revision(session, line)
    body = file.model_copy(update={"revision": revision})
    row = RecipeRow(
        line=line,
        revision=revision,
        title=file.title,
        locked_by=file.locked_by,
        body=body.model_dump_json(),
    )
    session.add(row)
    session.flush()
    return row


def recipes(session: Session) -> Sequence[RecipeRow]:
    """All recipes, newest first."""
    return session.exec(select(RecipeRow).order_by(col(RecipeRow.id).desc())).all()


def recipe(session: Session, recipe_id: int) -> RecipeRow:
    """One recipe. Raises NotFound."""
    found = session.get(RecipeRow, recipe_id)
    if found is None:
        raise NotFound("There is no such recipe.", "recipe_id")
    return found


def file_of(row: RecipeRow) -> RecipeFile:
    """The open file of a recipe."""
    return RecipeFile.model_validate_json(row.body)


def newest_revisions(session: Session) -> dict[str, int]:
    """The revision in force of every line."""
    query = select(RecipeRow.line, func.max(RecipeRow.revision)).group_by(col(RecipeRow.line))
    return dict(session.exec(query).all())


def line_of(table_name: str, campaign: Campaign) -> str:
    """What the revisions of one recipe share: table, metal, thickness, set, and its gas."""
    torch = campaign.torch_set
    return _line(table_name, campaign.metal, campaign.thickness_mm, torch.name, torch.gas)


def _line(table_name: str, metal: str, thickness_mm: float, set_name: str, gas: str) -> str:
    process = set_name if gas == "air" else f"{set_name} on {gas}"
    return f"{table_name} / {metal} / {thickness_mm:.2f} / {process}"


def _next_revision(session: Session, line: str) -> int:
    return newest_revisions(session).get(line, 0) + 1


def _recipe_file(
    judgement: "Judgement", table_name: str, revision: int, by: str, title: str
) -> RecipeFile:
    campaign, best = judgement.learned.campaign, judgement.advice.recommended
    assert best is not None
    passed = judgement.passed_at(best.speed_mm_min, best.cut_height_mm)
    # What was measured at this setting is worth more than what the model says of it.
    signal = campaign.current_series.signal  # volts through another signal path are other volts
    volts = _mean([c.arc_voltage_v for c in passed if c.series.signal == signal])
    kerf = _mean([c.kerf_mm for c in passed])
    start, torch = campaign.start, campaign.torch_set
    return RecipeFile(
        title=title or campaign.title,
        revision=revision,
        locked_at=now().isoformat(),
        locked_by=by,
        table=table_name,
        metal=campaign.metal,
        thickness_mm=campaign.thickness_mm,
        torch_set=TorchSetFile(
            name=torch.name, amperage_a=torch.amperage_a, gas=torch.gas, swirl=torch.swirl
        ),
        setting=RecipeSetting(
            speed_mm_min=best.speed_mm_min,
            cut_height_mm=best.cut_height_mm,
            arc_voltage_v=round(volts, 1) if volts else None,
            pierce_height_mm=start.pierce_height_mm,
            pierce_delay_s=start.pierce_delay_s,
            kerf_mm=round(kerf, 2) if kerf else start.kerf_mm,
        ),
        proof=RecipeProof(
            probability_pass=round(best.probability_pass, 3),
            passed_cuts=tuple(c.id for c in passed),
        ),
        evidence=campaign_to_file(campaign),
    )


def _mean(values: Sequence[float | None]) -> float | None:
    known = [v for v in values if v is not None]
    return sum(known) / len(known) if known else None
