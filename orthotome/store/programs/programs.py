"""Programs of a table: kept as they came, with what each is checked against now."""

import json
import zlib
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field, fields, replace
from typing import Any

from sqlalchemy.orm import defer
from sqlmodel import Session, col, select

from orthotome.core.book.start_rows import How, StartValues
from orthotome.core.choose.capability import UNWRITTEN, ability
from orthotome.core.choose.choosing import Process
from orthotome.core.machine.axis_map import FRAME, AxisMap
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob
from orthotome.core.programs.corrections import LineChanged
from orthotome.core.programs.kept import Stand, dialled
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.trial.campaign import TorchSet
from orthotome.core.trial.opening import dialled_start
from orthotome.formats.machine.profile import SHIPPED, OutputProfile
from orthotome.formats.pieces.own_part import OwnPartFile, rings_from_file
from orthotome.formats.programs.checking import job_of_recipe, table_of
from orthotome.formats.programs.report import ProgramReport
from orthotome.store import changes
from orthotome.store.book import recipes, rows
from orthotome.store.choose import processes
from orthotome.store.errors import ChangedMeanwhile, NotFound
from orthotome.store.height.trial_volts import NumbersNow, life_now
from orthotome.store.machine import pages
from orthotome.store.shop import shop
from orthotome.store.tables import ProgramRow, Trial, now
from orthotome.store.torch import fittings, sets
from orthotome.store.trial import trials


@dataclass(frozen=True)
class Setting:
    """What a program belongs to: a metal of a job's thickness, and the numbers of a set for it. What a start costs by the
    set's own figures, and what gas it takes, where they are written down."""

    job: PlateJob | None = None
    title: str = ""
    revision: int = 0
    set_name: str = ""
    metal: str = ""
    per_start: float | None = None
    gas_l_min: float | None = None
    torch: TorchSet | None = None


@dataclass(frozen=True)
class Basis:
    """Everything that a program is checked against now. ``set_name`` is the setting's, ``fitted`` the table's; what a start
    costs is by the set's own figures."""

    against: CheckedAgainst
    profile: OutputProfile
    axes: AxisMap
    title: str
    set_name: str
    fitted: str | None
    hour_cost: float | None
    per_start: float | None
    gas_l_min: float | None
    stand: Stand
    setting: Setting
    life: LearnedLife | None = field(default=None, repr=False, compare=False)
    """Of the fitted electrode, where the setting's set is on; nothing that a check goes by."""


def programs(session: Session, table_id: int) -> Sequence[ProgramRow]:
    """Those of a table that are not struck out, newest first; their texts are fetched one by one."""
    query = select(ProgramRow).where(
        ProgramRow.table_id == table_id, col(ProgramRow.struck_out).is_(False)
    )
    few = query.options(defer(ProgramRow.text), defer(ProgramRow.drawing))  # type: ignore[arg-type]
    return session.exec(few.order_by(col(ProgramRow.id).desc())).all()


def program(session: Session, program_id: int) -> ProgramRow:
    """One program. Raises NotFound."""
    found = session.get(ProgramRow, program_id)
    if found is None:
        raise NotFound("There is no such program.", "program_id")
    return found


def text_of(row: ProgramRow) -> bytes:
    """A program as it came."""
    return zlib.decompress(row.text)


def begun(session: Session, table_id: int, name: str, content: bytes) -> ProgramRow:
    """A program, to be checked against what is on the bench of its table; kept once its report is."""
    shop.table(session, table_id)
    trial = _on_bench(session, table_id)
    locked = trials.recipe_of(session, trial.id) if trial is not None and trial.id else None
    return ProgramRow(
        table_id=table_id,
        name=name,
        text=zlib.compress(content, 6),
        size_bytes=len(content),
        recipe_id=locked.id if locked else None,
        trial_id=trial.id if trial and not locked else None,
    )


def copy_of(
    row: ProgramRow, content: bytes, written: Sequence[LineChanged], *, ending: str = "put right"
) -> ProgramRow:
    """A copy that was put right, beside the program that it was made of; or one of the two that it was split into.
    Its contours may be others by their number: typed sizes are not taken along."""
    same = row.model_dump(
        include={
            "table_id",
            "recipe_id",
            "trial_id",
            "sheet_x_mm",
            "sheet_y_mm",
            "drawing",
            "drawing_name",
            "torch_set_id",
        }
    )
    return ProgramRow(
        **same,
        name=_name_of_copy(row.name, ending),
        text=zlib.compress(content, 6),
        size_bytes=len(content),
        copy_of=row.id,
        written=json.dumps([asdict(w) for w in written]),
    )


def change(session: Session, program_id: int, version: int, changed: dict[str, Any]) -> ProgramRow:
    """Change what a program is checked against. Raises ChangedMeanwhile where it was changed since it was read."""
    row = program(session, program_id)
    if row.version != version:
        raise ChangedMeanwhile("The program was changed on another screen.", "version")
    row.version += 1
    for name, value in changed.items():
        setattr(row, name, value)
    return row


def half_of(
    row: ProgramRow, content: bytes, written: Sequence[LineChanged], nth: int, torch_set_id: int | None
) -> ProgramRow:
    """One of the two programs that a program was split into, for its own set or (by its number) for another."""
    half = copy_of(row, content, written, ending=f"{nth} of 2")
    half.half = nth
    half.torch_set_id = torch_set_id or row.torch_set_id
    return half


def _name_of_copy(name: str, said: str) -> str:
    stem, dot, ending = name.rpartition(".")
    return f"{stem} {said}.{ending}" if dot else f"{name} {said}"


def written_in(row: ProgramRow) -> list[LineChanged]:
    """What was put right in a copy."""
    return [LineChanged(**w) for w in json.loads(row.written)]


def copies_of(session: Session, program_id: int) -> Sequence[ProgramRow]:
    """The copies of a program that are not struck out, newest first."""
    query = select(ProgramRow).where(
        ProgramRow.copy_of == program_id, col(ProgramRow.struck_out).is_(False)
    )
    return session.exec(query.options(defer(ProgramRow.text)).order_by(col(ProgramRow.id).desc())).all()  # type: ignore[arg-type]


def other_half(session: Session, row: ProgramRow) -> ProgramRow | None:
    """The other of the two that were written together."""
    if not row.half or row.id is None:
        return None
    other = session.get(ProgramRow, row.id + (1 if row.half == 1 else -1))
    same = other is not None and (other.copy_of, other.half) == (row.copy_of, 3 - row.half)
    return other if same else None


def keep_report(session: Session, row: ProgramRow, report: ProgramReport, stand: Stand) -> None:
    """Keep a program with what was found, and what it was checked against."""
    row.noted_by = row.noted_by or changes.person(session)
    row.report, row.stand, row.checked_at = report.model_dump_json(), json.dumps(asdict(stand)), now()
    session.add(row)


def stand_then(row: ProgramRow) -> Stand | None:
    """What a program was checked against; None before it was checked."""
    kept = json.loads(row.stand)
    return Stand(**kept | {"dialled": tuple(kept.get("dialled", ()))}) if kept else None


def begun_with(session: Session, trial: Trial) -> StartValues:
    """The numbers that a trial was begun with: for what does not depend on where it has come to since."""
    return StartValues(**{f.name: getattr(trial, f.name) for f in fields(StartValues)})


def basis(session: Session, row: ProgramRow, numbers: NumbersNow) -> Basis:
    """What a program is checked against now."""
    table = shop.table(session, row.table_id)
    page = pages.settings(table)
    fitted_id = fittings.fitted(session, row.table_id).torch_set_id
    fitted = sets.torch_set(session, fitted_id).name if fitted_id else None
    setting = setting_of(session, row, numbers)
    sheet = (row.sheet_x_mm, row.sheet_y_mm) if row.sheet_x_mm and row.sheet_y_mm else None
    drawing = rings_from_file(OwnPartFile.model_validate_json(row.drawing)) if row.drawing else None
    return Basis(
        CheckedAgainst(setting.job, table_of(page), sheet, drawing, nominal_of(row)),
        page.profile or SHIPPED["metric"],
        page.axis_map() or FRAME,
        setting.title,
        setting.set_name,
        fitted,
        page.hour_cost,
        setting.per_start,
        setting.gas_l_min,
        Stand(setting.title, setting.revision, table.version, fitted or "", dialled(setting.job)),
        setting,
        life_now(session, row.table_id, numbers) if setting.set_name in ("", fitted) else None,
    )


def nominal_of(row: ProgramRow) -> dict[int, tuple[float, float]]:
    """Sizes typed in place of a drawing, by the contour's number."""
    return {int(i): (float(x), float(y)) for i, (x, y) in json.loads(row.nominal).items()}


def of_offer(
    session: Session, recipe_id: int | None, trial_id: int | None, numbers: NumbersNow
) -> Setting:
    """The setting of a recipe or a trial by its number; an empty one where neither is given. Raises NotFound."""
    return _own_setting(
        session,
        ProgramRow(table_id=0, name="", text=b"", size_bytes=0, recipe_id=recipe_id, trial_id=trial_id),
        numbers,
    )


def setting_of(session: Session, row: ProgramRow, numbers: NumbersNow) -> Setting:
    """The recipe or trial that a program belongs to, or what another set's numbers for that plate are. A trial that was
    locked is its recipe."""
    own = _own_setting(session, row, numbers)
    if row.torch_set_id is None or own.job is None:
        return own
    return with_set(session, row, own, row.torch_set_id).setting


@dataclass(frozen=True)
class WithSet:
    """A plate cut with another set: its numbers and where they came from, or why there are none."""

    setting: Setting
    how: How
    says: str


def with_set(session: Session, row: ProgramRow, own: Setting, torch_set_id: int) -> WithSet:
    """What the shop knows of cutting a program's plate with another set."""
    fitted = sets.torch_set(session, torch_set_id)
    thickness_mm = own.job.thickness_mm if own.job else 0.0
    numbers = rows.start(session, own.metal, thickness_mm, torch_set_id, table_id=row.table_id)
    torch = sets.torch_set_of(fitted)
    process = _process(session, torch, own.metal, thickness_mm)
    none = Setting(
        None,
        f"{own.title}, with the {torch.name}",
        own.revision,
        torch.name,
        own.metal,
        torch=torch,
    )
    if numbers.values is None or numbers.how == "analogue":
        return WithSet(none, numbers.how, " ".join(numbers.warnings))
    can = process.capability if process else UNWRITTEN
    pierces = ability(can, thickness_mm)
    if pierces.code not in ("pierce", "unknown"):
        return WithSet(none, numbers.how, pierces.why)
    start = numbers.values if numbers.how == "recipe" else dialled_start(numbers.values)
    job = PlateJob(thickness_mm, start, torch.amperage_a, torch.swirl, can)
    return WithSet(_with_costs(replace(none, job=job), process), numbers.how, " ".join(numbers.warnings))


def other_sets(session: Session, row: ProgramRow, own: Setting) -> list[tuple[int, WithSet]]:
    """Every other set of the shop, as the program's plate is cut with it."""
    return [
        (s.id, with_set(session, row, own, s.id))
        for s in sets.torch_sets(session)
        if s.id is not None and s.name != own.set_name
    ]


def _own_setting(session: Session, row: ProgramRow, numbers: NumbersNow) -> Setting:
    """The recipe or trial that a program belongs to."""
    if row.recipe_id is not None:
        return _of_recipe(session, row.recipe_id)
    if row.trial_id is None:
        return Setting()
    trial = trials.trial(session, row.trial_id)
    locked = trials.recipe_of(session, row.trial_id)
    if locked is not None and locked.id is not None:
        return _of_recipe(session, locked.id)
    torch = sets.torch_set_of(sets.torch_set(session, trial.torch_set_id), trial.gas)
    process = _process(session, torch, trial.metal, trial.thickness_mm)
    can = process.capability if process else UNWRITTEN
    job = PlateJob(trial.thickness_mm, numbers(session, trial), torch.amperage_a, torch.swirl, can)
    found = Setting(job, trial.title, trial.revision, torch.name, trial.metal, torch=torch)
    return _with_costs(found, process)


def _of_recipe(session: Session, recipe_id: int) -> Setting:
    """The revision in force of a recipe's line."""
    row = recipes.newest_of_line(session, recipes.recipe(session, recipe_id))
    file = recipes.file_of(row)
    job = job_of_recipe(file)
    torch = TorchSet(**file.torch_set.model_dump())
    process = _process(session, torch, file.metal, file.thickness_mm)
    job = replace(job, capability=process.capability if process else UNWRITTEN)
    found = Setting(job, row.title, row.revision, torch.name, file.metal, torch=torch)
    return _with_costs(found, process)


def _process(session: Session, torch: TorchSet, metal: str, thickness_mm: float) -> Process | None:
    """What the shop wrote down of a set in a metal."""
    known = processes.processes(session, metal, thickness_mm)
    return next((p for p in known if (p.torch_set, p.gas) == (torch.name, torch.gas)), None)


def _with_costs(setting: Setting, process: Process | None) -> Setting:
    """With what a start costs by the set's own figures, and the gas that it takes."""
    if process is None:
        return setting
    per_start = (
        process.parts_cost / process.parts_starts
        if process.parts_cost is not None and process.parts_starts
        else None
    )
    return replace(setting, per_start=per_start, gas_l_min=process.gas_l_min)


def _on_bench(session: Session, table_id: int) -> Trial | None:
    query = select(Trial).where(Trial.table_id == table_id, col(Trial.on_bench).is_(True))
    return session.exec(query).first()


def settings_offered(session: Session, table_id: int) -> list[tuple[int | None, int | None, str, str]]:
    """What a program of a table may be checked against: (recipe, trial, title, set), recipes in force first."""
    newest = recipes.newest_revisions(session)
    offered: list[tuple[int | None, int | None, str, str]] = [
        (r.id, None, f"{r.title}, revision {r.revision}", r.torch_set)
        for r in recipes.recipes(session)
        if newest.get(r.line) == r.revision
    ]
    query = select(Trial).where(Trial.table_id == table_id, col(Trial.set_aside).is_(False))
    for trial in session.exec(query.order_by(col(Trial.id).desc()).limit(40)).all():
        if trial.id is not None and trials.recipe_of(session, trial.id) is None:
            torch = sets.torch_set(session, trial.torch_set_id)
            offered.append((None, trial.id, trial.title, torch.name))
    return offered
