"""Locked recipes: written once with their evidence, superseded by a newer revision, never edited."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from sqlalchemy import func
from sqlalchemy.orm import aliased, defer
from sqlmodel import Session, col, select

from orthotome.core.book.start_rows import StartingNumbers, StartRow, StartValues, from_recipe
from orthotome.core.choose.choosing import Look
from orthotome.core.edge.edges import Side, good_side
from orthotome.core.quantities import chance_in_100
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign
from orthotome.formats.book.recipe import RecipeControl, RecipeFile, RecipeProof, RecipeSetting
from orthotome.formats.trial.campaign import TorchSetFile, campaign_to_file
from orthotome.store import changes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.height import readings
from orthotome.store.shop import shop
from orthotome.store.tables import ControlRow, RecipeRow, RecipeWithdrawn, Trial, now
from orthotome.store.torch import sets
from orthotome.store.trial import trials

if TYPE_CHECKING:
    from orthotome.core.tuner.advise import Judgement


def lock(
    session: Session, trial_id: int, judgement: "Judgement", *, title: str, controlled: bool = False
) -> RecipeRow:
    """Lock a trial's proven setting as the next revision of its line.

    What height control is told goes with it; ``controlled`` says that it passed under control too.

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
    line = line_of(table.name, judgement.learned.campaign)
    by, revision = changes.person(session), _next_revision(session, line)
    file = _recipe_file(judgement, table.name, revision, by, title)
    told = readings.told_control(session, trial_id)
    if told is not None:
        file = file.model_copy(update={"under_control": _control(told, proven=controlled)})
    row = _row(file, line)
    row.trial_id = trial_id
    session.add(row)
    trial.revision += 1
    session.add(trial)
    session.flush()
    return row


def with_kerf(session: Session, recipe_id: int, kerf_mm: float) -> RecipeRow:
    """The next revision of a recipe's line, with a kerf that was measured: nothing that was proven depends on it."""
    newest = newest_of_line(session, recipe(session, recipe_id))
    file = file_of(newest)
    setting = file.setting.model_copy(update={"kerf_mm": kerf_mm})
    changed = {
        "setting": setting,
        "revision": _next_revision(session, newest.line),
        "locked_at": now().isoformat(),
        "locked_by": changes.person(session),
    }
    row = _row(file.model_copy(update=changed), newest.line)
    session.add(row)
    session.flush()
    changes.note(session, "kerf measured", "recipe", row.id, {"kerf_mm": file.setting.kerf_mm})
    return row


def _control(told: ControlRow, *, proven: bool) -> RecipeControl:
    return RecipeControl(
        proven=proven,
        school=told.school,
        set_point_v=told.set_point_v,
        control_delay_s=told.control_delay_s,
        dead_band_v=told.dead_band_v,
        hold_below_speed_share=told.hold_below_share,
        crossing_jump_v=told.crossing_jump_v,
        hold_holes=told.hold_holes,
        at_starts=told.at_starts,
    )


def would_hold(session: Session, trial_id: int, judgement: "Judgement") -> RecipeFile | None:
    """What a recipe locked now would hold; None while there is nothing proven to lock."""
    if judgement.advice.status != "square":
        return None
    trial = trials.trial(session, trial_id)
    name = shop.table(session, trial.table_id).name
    revision = _next_revision(session, line_of(name, judgement.learned.campaign))
    return _recipe_file(judgement, name, revision, changes.person(session), trial.title)


def withdraw(session: Session, recipe_id: int) -> None:
    """Take back a recipe that was locked by mistake: its trial is open again. It is kept, and its number spent.

    Raises Refused where a newer revision stands on it, or it came from a file.
    """
    row = recipe(session, recipe_id)
    if row.trial_id is None:
        raise Refused("It was taken in from a file: there is no trial to open again.", "recipe_id")
    if newest_revisions(session).get(row.line) != row.revision:
        raise Refused("A newer revision took its place: it stays as it is.", "recipe_id")
    session.add(RecipeWithdrawn(recipe_id=recipe_id, by=changes.person(session)))
    trials.touch(session, trials.trial(session, row.trial_id))


def _not_withdrawn() -> Any:
    """Of a query of recipes: those that stand."""
    return col(RecipeRow.id).not_in(select(RecipeWithdrawn.recipe_id))


def proven_start(
    session: Session, table_id: int, metal: str, thickness_mm: float, *, set_name: str, gas: str
) -> StartingNumbers | None:
    """The recipe in force for just this job on this table as starting numbers; None where there is none."""
    line = _line(shop.table(session, table_id).name, metal, thickness_mm, set_name, gas)
    query = select(RecipeRow).where(RecipeRow.line == line, _not_withdrawn())
    row = session.exec(query.order_by(col(RecipeRow.revision).desc())).first()
    if row is None:
        return None
    values = StartValues(**{name: getattr(row, name) for name in StartValues.__dataclass_fields__})
    by = f" by {row.locked_by}" if row.locked_by else ""
    sure = chance_in_100(row.probability_pass)
    said = f"recipe, revision {row.revision}, locked{by} on {row.locked_at:%d %b %Y} at {sure} in 100"
    source = StartRow(metal, row.thickness_mm, row.torch_set, row.amperage_a, row.gas, values, said)
    return from_recipe(values, source)


def begun_from(session: Session, trial: Trial) -> RecipeRow | None:
    """The recipe whose numbers a trial began with; None where it began elsewhere, or it was taken back."""
    if trial.start_how != "recipe":
        return None
    of_set = sets.torch_set(session, trial.torch_set_id)
    table = shop.table(session, trial.table_id)
    line = _line(table.name, trial.metal, trial.thickness_mm, of_set.name, trial.gas or of_set.gas)
    query = select(RecipeRow).where(
        RecipeRow.line == line,
        RecipeRow.speed_mm_min == trial.speed_mm_min,
        RecipeRow.cut_height_mm == trial.cut_height_mm,
        _not_withdrawn(),
    )
    return session.exec(query.order_by(col(RecipeRow.revision).desc())).first()


def take_in(session: Session, file: RecipeFile) -> RecipeRow:
    """Take in a recipe file as the next revision of its line; its evidence comes with it."""
    torch = file.torch_set
    line = _line(file.table, file.metal, file.thickness_mm, torch.name, torch.gas)
    row = _row(file.model_copy(update={"revision": _next_revision(session, line)}), line)
    session.add(row)
    session.flush()
    changes.note(session, "taken in", "recipe", row.id)
    return row


def _row(file: RecipeFile, line: str) -> RecipeRow:
    """A recipe as columns: what lists and choices ask for; the whole file is kept beside them."""
    torch, proved = file.torch_set, _proved(file)
    look = proved.look
    return RecipeRow(
        line=line,
        revision=file.revision,
        title=file.title,
        table_name=file.table,
        metal=file.metal,
        thickness_mm=file.thickness_mm,
        torch_set=torch.name,
        amperage_a=torch.amperage_a,
        gas=torch.gas,
        swirl=torch.swirl,
        **file.setting.model_dump(),
        probability_pass=file.proof.probability_pass,
        bevel_deg=look.bevel_deg,
        bottom_dross_grade=look.bottom_dross_grade,
        top_dross_grade=look.top_dross_grade,
        bevel_right_deg=proved.right_deg,
        bevel_left_deg=proved.left_deg,
        dross=proved.dross,
        cuts=len(file.evidence.cuts),
        passed=proved.count,
        locked_by=file.locked_by,
        body=file.model_dump_json(),
    )


@dataclass(frozen=True)
class _Proved:
    """What the cuts that passed looked like."""

    look: Look
    right_deg: float | None
    left_deg: float | None
    dross: str | None
    count: int


def _proved(file: RecipeFile) -> _Proved:
    passed = [c for c in file.evidence.cuts if c.id in file.proof.passed_cuts]
    edges = [e for c in passed for e in c.edges or ()]
    dross = [d for c in passed for d in c.dross or ()]
    looked = any(c.dross is not None for c in passed)

    def mean(side: Side) -> float | None:
        return _mean([e.bevel_deg for e in edges if e.side == side])

    def worst(*, top: bool) -> int | None:
        grades = [d.grade for d in dross if (d.kind == "top_spatter") == top]
        return max(grades, default=0) if looked else None

    good = good_side(file.torch_set.swirl)
    size = _mean([abs(e.bevel_deg) for e in edges if e.side == good])
    last = passed[-1].dross if passed else None
    told = None if last is None else json.dumps([d.model_dump() for d in last])
    look = Look(size, worst(top=False), worst(top=True))
    return _Proved(look, mean("right"), mean("left"), told, len(passed))


def recipes(session: Session) -> Sequence[RecipeRow]:
    """All recipes, newest first; their files are fetched one by one."""
    query = select(RecipeRow).where(_not_withdrawn()).order_by(col(RecipeRow.id).desc())
    return session.exec(query.options(defer(RecipeRow.body))).all()  # type: ignore[arg-type]


def in_force(
    session: Session, *, metal: str, thickness_mm: tuple[float, float], torch_set: str, gas: str
) -> RecipeRow | None:
    """The newest recipe in force of that metal and process, between these thicknesses."""
    newer = aliased(RecipeRow)
    superseded = select(newer.id).where(
        newer.line == RecipeRow.line,
        newer.revision > col(RecipeRow.revision),
        col(newer.id).not_in(select(RecipeWithdrawn.recipe_id)),
    )
    query = select(RecipeRow).where(
        RecipeRow.metal == metal,
        RecipeRow.torch_set == torch_set,
        RecipeRow.gas == gas,
        col(RecipeRow.thickness_mm).between(*thickness_mm),
        _not_withdrawn(),
        ~superseded.exists(),
    )
    newest = query.order_by(col(RecipeRow.id).desc())
    return session.exec(newest.options(defer(RecipeRow.body))).first()  # type: ignore[arg-type]


def recipe(session: Session, recipe_id: int) -> RecipeRow:
    """One recipe. Raises NotFound."""
    found = session.get(RecipeRow, recipe_id)
    if found is None:
        raise NotFound("There is no such recipe.", "recipe_id")
    return found


def newest_of_line(session: Session, row: RecipeRow) -> RecipeRow:
    """The revision in force of a recipe's line; the recipe itself where none is."""
    query = select(RecipeRow).where(RecipeRow.line == row.line, _not_withdrawn())
    return session.exec(query.order_by(col(RecipeRow.revision).desc())).first() or row


def file_of(row: RecipeRow) -> RecipeFile:
    """The open file of a recipe."""
    return RecipeFile.model_validate_json(row.body)


def newest_revisions(session: Session) -> dict[str, int]:
    """The revision in force of every line."""
    query = select(RecipeRow.line, func.max(RecipeRow.revision)).where(_not_withdrawn())
    return dict(session.exec(query.group_by(col(RecipeRow.line))).all())


def line_of(table_name: str, campaign: Campaign) -> str:
    """What the revisions of one recipe share: table, metal, thickness, set, and its gas."""
    torch = campaign.torch_set
    return _line(table_name, campaign.metal, campaign.thickness_mm, torch.name, torch.gas)


def _line(table_name: str, metal: str, thickness_mm: float, set_name: str, gas: str) -> str:
    process = set_name if gas == "air" else f"{set_name} on {gas}"
    return f"{table_name} / {metal} / {thickness_mm:.2f} / {process}"


def _next_revision(session: Session, line: str) -> int:
    spent = select(func.max(RecipeRow.revision)).where(RecipeRow.line == line)  # withdrawn ones too
    return (session.exec(spent).one() or 0) + 1


def _recipe_file(
    judgement: "Judgement", table_name: str, revision: int, by: str, title: str
) -> RecipeFile:
    campaign, best = judgement.learned.campaign, judgement.advice.recommended
    assert best is not None
    passed = judgement.passed_at(Setting.of(best))
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
        torch_set=TorchSetFile(**vars(torch)),
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
