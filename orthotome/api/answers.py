"""Records of the store as answers on the wire."""

import json
from collections.abc import Sequence
from typing import TYPE_CHECKING

from orthotome.api import book_models, machine_models, models
from orthotome.core.book_trend import TrendBreak
from orthotome.core.choosing import Option, Process
from orthotome.core.edges import far_side_heading_deg, good_side
from orthotome.core.measuring import angle_gauge_u_deg
from orthotome.core.metals import metal_named
from orthotome.core.readiness import GROUPS, ITEMS, OWN, Due, Every, ShopRules
from orthotome.core.signal_path import SignalPath, SignalReport
from orthotome.core.start_rows import StartValues
from orthotome.core.trial_plan import opening_ladder_mm_min
from orthotome.formats.advice import advice_to_file, expected_to_file
from orthotome.formats.campaign import DrossFile, EdgeFile, LimitsFile, StartFile, TargetFile
from orthotome.formats.piece_set import nicked
from orthotome.formats.signal_path import SignalPathFile, report_to_file
from orthotome.formats.start import StartValuesFile
from orthotome.store.book import Trend
from orthotome.store.machine import settings as settings_of
from orthotome.store.readiness import Readiness
from orthotome.store.recipes import file_of
from orthotome.store.tables import (
    BookRow,
    CuttingTable,
    PlannedCut,
    ReadinessAnswer,
    ReadinessRun,
    RecipeRow,
    Shop,
    SignalPathRow,
    TableFact,
    TorchSetRow,
    Trial,
)
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


def settings(row: CuttingTable) -> machine_models.SettingsAnswer:
    """A table's page."""
    assert row.id is not None
    written = settings_of(row)
    axes = written.axis_map()
    return machine_models.SettingsAnswer(
        table_id=row.id,
        name=row.name,
        bed=row.bed,
        settings=written,
        axes_in_words=axes.in_words if axes else None,
        mirrors=axes.mirrors if axes else None,
    )


def fact(row: TableFact) -> machine_models.FactAnswer:
    """A note about a table."""
    plain = row.model_dump(include={"id", "title", "told", "noted_at", "noted_by"})
    return machine_models.FactAnswer(**plain, has_photo=row.photo_type is not None)


def signal_path(row: SignalPathRow, *, newest: bool) -> machine_models.SignalPathAnswer:
    """A signal path of a table's history."""
    path = SignalPath(row.source_ratio, row.card_ratio, row.multiplier)
    return machine_models.SignalPathAnswer(
        **row.model_dump(exclude={"table_id"}), gain=path.gain, in_force=newest
    )


def examined(asked: SignalPathFile, report: SignalReport) -> machine_models.SignalExamined:
    """The report of a signal path, with the corrections that fit."""
    seen = asked.observed
    gain = None
    if seen is not None and seen.true_v and seen.screen_v is not None:
        gain = seen.screen_v / seen.true_v
    told = SignalPath(asked.source_ratio, asked.card_ratio, asked.multiplier)
    true_v = (seen.true_v if seen else None) or asked.set_point_v
    likely = report.explanations[0] if report.explanations else None
    faulty = likely is not None and likely.fault != "none"
    return machine_models.SignalExamined(
        volts_along=list(told.volts_along(true_v)),
        likely_volts_along=list(told.with_fault(likely).volts_along(true_v)) if faulty else None,  # type: ignore[arg-type]
        report=report_to_file(report),
        seen_gain=gain,
        corrections=[machine_models.CorrectionAnswer(**vars(c)) for c in report.corrections],
    )


def book_row(row: BookRow, fitted: TorchSetRow) -> book_models.BookRowAnswer:
    """A row of the Book."""
    plain = row.model_dump(exclude={"superseded_by_id", "amperage_a"})
    amperage = fitted.amperage_a if row.amperage_a is None else row.amperage_a
    return book_models.BookRowAnswer(**plain, torch_set=fitted.name, amperage_a=amperage)


def trend(
    found: Trend, metal: str, fitted: TorchSetRow, gas: str, proven: list[RecipeRow]
) -> book_models.TrendAnswer:
    """A metal with one set and gas over thickness."""
    return book_models.TrendAnswer(
        metal=metal,
        metal_label=metal_named(metal).label,
        torch_set=torch_set(fitted),
        gas=gas,
        rows=[book_row(r, fitted) for r in found.rows],
        curve=[
            book_models.CurvePoint(thickness_mm=t, beyond=beyond, values=_values(v))
            for t, v, beyond in found.curve
        ],
        recipes=[_recipe_point(r) for r in proven],
        breaks=[_trend_break(b, found) for b in found.breaks],
    )


def _values(values: StartValues) -> StartValuesFile:
    return StartValuesFile.model_validate(vars(values))


def _recipe_point(row: RecipeRow) -> book_models.RecipePoint:
    assert row.id is not None
    file = file_of(row)
    values = StartValuesFile.model_validate(file.setting.model_dump())
    return book_models.RecipePoint(recipe_id=row.id, thickness_mm=file.thickness_mm, values=values)


def _trend_break(found: TrendBreak, of: Trend) -> book_models.TrendBreakAnswer:
    return book_models.TrendBreakAnswer(
        row_id=of.rows[found.index].id or 0,
        quantity=found.quantity,
        expected=found.expected,
        sentence=found.sentence,
    )


def option(found: Option, fitted: TorchSetRow, metal: str) -> book_models.ChooseOption:
    """A process judged for a job."""
    assert fitted.id is not None
    process, look = found.process, found.look
    look_from = process.claim_source or "claimed, source not noted"
    if process.measured is not None:
        look_from = (
            f"measured here: {process.measured.title or 'a recipe'}, {process.measured.cuts} cuts"
        )
    elif look == type(look)():
        look_from = "not written down"
    return book_models.ChooseOption(
        torch_set_id=fitted.id,
        torch_set=process.torch_set,
        amperage_a=process.amperage_a,
        gas=process.gas,
        shield_gas=process.shield_gas,
        usable=found.usable,
        can=found.ability.how,
        can_sentence=found.ability.sentence,
        question=found.ability.question,
        start_how=found.start.how,
        speed_mm_min=found.speed_mm_min,
        kerf_mm=found.kerf_mm,
        **vars(look),
        edge_range=found.edge_range,
        look_from=look_from,
        measured=found.measured,
        smallest_hole_mm=found.smallest_hole_mm,
        straight_share=found.straight_share,
        circle_share=found.circle_share,
        cost_per_m=found.cost_per_m,
        gas_l_per_m=found.gas_l_per_m,
        notes=list(found.notes),
        example=fitted.example,
        written=_written(found.process, metal),
        parts_cost=process.parts_cost,
        parts_starts=process.parts_starts,
    )


def _written(process: Process, metal: str) -> book_models.SetNoteRequest:
    return book_models.SetNoteRequest(
        metal=metal,
        gas=process.gas,
        shield_gas=process.shield_gas,
        **vars(process.capability),
        **vars(process.claim),
        source=process.claim_source,
    )


def ready(
    table_id: int,
    now_due: Readiness,
    all_of_it: Readiness,
    rules: ShopRules,
    last: ReadinessRun | None,
) -> machine_models.ReadyAnswer:
    """The run-through of a table: what applies, what is due, what was answered."""
    due = {d.item.code for d in now_due.due}
    items = [_ready_item(d, d.item.code in due, now_due.answers.get(d.item.code)) for d in all_of_it.due]
    return machine_models.ReadyAnswer(
        table_id=table_id,
        items=items,
        due=len(due),
        not_right=len(now_due.not_right),
        begun_at=now_due.run.begun_at if now_due.run else None,
        last_done_at=last.done_at if last else None,
        last_done_by=last.begun_by if last else "",
        dropped=[i.code for i in ITEMS if i.code in rules.dropped],
    )


def _ready_item(due: Due, is_due: bool, given: ReadinessAnswer | None) -> machine_models.ReadyItem:
    item = due.item
    return machine_models.ReadyItem(
        code=item.code,
        group=item.group,
        group_label=GROUPS[item.group],
        ask=item.ask,
        if_not=item.if_not,
        caution=item.caution,
        own=item.code.startswith(OWN),
        because=due.because,
        due=is_due,
        every=every(item.every),
        answer=given.answer if given else None,
        note=given.note if given else "",
        answered_by=given.answered_by if given else "",
    )


def every(of: Every) -> machine_models.EveryModel:
    """How long an answer holds."""
    return machine_models.EveryModel(period=of.period, number=of.number)


def ready_run(run: ReadinessRun, given: dict[str, ReadinessAnswer]) -> machine_models.ReadyRun:
    """A run-through kept with a trial."""
    return machine_models.ReadyRun(
        begun_at=run.begun_at,
        begun_by=run.begun_by,
        done_at=run.done_at,
        right=sum(a.answer in ("right", "acknowledged") for a in given.values()),
        not_right=[a.asked for a in given.values() if a.answer == "not_right"],
        skipped=json.loads(run.skipped),
    )


def trial(
    row: Trial, at: CuttingTable, fitted: TorchSetRow, recipe: RecipeRow | None
) -> models.TrialAnswer:
    """A trial."""
    origin = json.loads(row.start_from)
    good = good_side(fitted.swirl)  # type: ignore[arg-type]
    return models.TrialAnswer(
        **row.model_dump(include={"id", "table_id", "title", "metal", "thickness_mm", "start_how"}),
        **row.model_dump(include={"opened_at", "opened_by", "on_bench", "revision"}),
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
    shown: models.TrialAnswer,
    logged: list[LoggedCut],
    judgement: "Judgement",
    waiting: Sequence[PlannedCut] = (),
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
        opening_ladder_mm_min=_opening_ladder(shown, logged, judgement),
        waiting=[
            models.WaitingPiece(
                **w.model_dump(include=set(models.WaitingPiece.model_fields) - {"nicks"}),
                nicks=nicked(w.number),
            )
            for w in waiting
        ],
    )


def _opening_ladder(
    shown: models.TrialAnswer, logged: list[LoggedCut], judgement: "Judgement"
) -> list[float]:
    """The coarse ladder of a metal without rows, until something was cut."""
    if logged or shown.start_how != "analogue":
        return []
    campaign = judgement.learned.campaign
    return list(opening_ladder_mm_min(campaign.start, campaign.limits))


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
