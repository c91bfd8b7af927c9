"""Processes to choose from: the sets with their rows, what is written down of them, what was proven."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

from sqlmodel import Session, col, select

from orthotome.core.book.start_rows import StartRow
from orthotome.core.choose.capability import Capability
from orthotome.core.choose.choosing import Look, Measured, Process
from orthotome.core.edge.edges import good_side
from orthotome.core.log.looks import LAG_BY_EYE
from orthotome.core.stock.metals import metal_named
from orthotome.store import changes
from orthotome.store.book import recipes
from orthotome.store.book import rows as book
from orthotome.store.errors import ChangedMeanwhile
from orthotome.store.log import cuts
from orthotome.store.tables import SetNote, TorchSetRow, Trial
from orthotome.store.torch import sets

NEAR = 0.1  # a recipe within a tenth of the thickness speaks for it; assumption

_BOUNDS = tuple(Capability.__dataclass_fields__)
_CLAIMS = (
    "bevel_deg",
    "bottom_dross_grade",
    "top_dross_grade",
    "colour",
    "rounding",
)  # a book says no lag


def processes(session: Session, metal: str, thickness_mm: float) -> list[Process]:
    """Every set with each pair of gases it has rows or notes for in this metal."""
    cuts_as = metal_named(metal).cuts_as
    known = {s.id or 0: s for s in sets.torch_sets(session)}
    rows: dict[tuple[int, str, str], list[StartRow]] = defaultdict(list)
    for r, s in book.rows(session, metals=book.sources_of(metal)):
        rows[s.id or 0, r.gas, r.shield_gas or ""].append(book.start_row(r, s))
    notes = {
        (n.torch_set_id, n.gas, n.shield_gas): n
        for n in session.exec(select(SetNote).where(SetNote.metal == cuts_as))
    }
    plain = {(set_id, s.gas, "") for set_id, s in known.items()}
    found = []
    for key in sorted(plain | set(rows) | set(notes), key=str):
        fitted = known[key[0]]
        own = [r for r in rows.get(key, ()) if r.metal in (metal, cuts_as)]
        if not own and key not in plain and key not in notes:
            continue  # a gas that this set has rows for in other metals only
        note = notes.get(key)
        found.append(
            Process(
                torch_set=fitted.name,
                amperage_a=fitted.amperage_a,
                gas=key[1],
                shield_gas=key[2],
                rows=tuple(rows.get(key, ())),
                capability=Capability(**{b: getattr(note, b) for b in _BOUNDS})
                if note
                else Capability(),
                claim=Look(**{c: getattr(note, c) for c in _CLAIMS}) if note else Look(),
                claim_source=note.source if note else "",
                gas_l_min=_gas_flow(own, thickness_mm),
                parts_cost=fitted.parts_cost,
                parts_starts=fitted.parts_starts,
                measured=_measured(session, fitted, key[1], cuts_as, thickness_mm),
            )
        )
    return found


def note_versions(session: Session, metal: str) -> dict[tuple[int, str, str], int]:
    """The version of each note of a metal, by set and gases."""
    found = session.exec(select(SetNote).where(SetNote.metal == metal_named(metal).cuts_as))
    return {(n.torch_set_id, n.gas, n.shield_gas): n.version for n in found}


def note(session: Session, given: SetNote, version: int | None = None) -> SetNote:
    """Write down what a set can do and what is claimed of it, in place of what stood there.

    Raises ChangedMeanwhile where that is another than ``version``, 0 being "nothing".
    """
    Capability(**{b: getattr(given, b) for b in _BOUNDS})  # its order is checked there
    sets.torch_set(session, given.torch_set_id)
    query = select(SetNote).where(
        SetNote.torch_set_id == given.torch_set_id,
        SetNote.metal == given.metal,
        SetNote.gas == given.gas,
        SetNote.shield_gas == given.shield_gas,
    )
    kept = session.exec(query).first()
    if version is not None and version != (kept.version if kept else 0):
        by = changes.last_by(session, "set_note", kept.id or 0) if kept else ""
        raise ChangedMeanwhile(
            f"This was written down on another screen{f' by {by}' if by else ''} since you opened it. Nothing was "
            "overwritten: look at what it says now.",
            "version",
        )
    if kept is None:
        kept = given
        session.add(kept)
        session.flush()
        changes.note(session, "written down", "set_note", kept.id)
    else:
        was = {name: getattr(kept, name) for name in (*_BOUNDS, *_CLAIMS, "source")}
        changes.note(session, "written anew", "set_note", kept.id, was)
        kept.version += 1
        for name in (*_BOUNDS, *_CLAIMS, "source"):
            setattr(kept, name, getattr(given, name))
        kept.example = False
    session.add(kept)
    session.flush()
    return kept


def _gas_flow(rows: list[StartRow], thickness_mm: float) -> float | None:
    """Plasma and shield flow of the nearest row that gives one."""
    told = [r for r in rows if r.details.flow_l_min is not None]
    near = min(told, key=lambda r: abs(r.thickness_mm - thickness_mm), default=None)
    return None if near is None else near.details.flow_l_min


def _measured(
    session: Session, fitted: TorchSetRow, gas: str, metal: str, thickness_mm: float
) -> Measured | None:
    """What the shop's newest recipe in force near this thickness proved, if there is one."""
    near = (thickness_mm * (1 - NEAR), thickness_mm * (1 + NEAR))
    row = recipes.in_force(session, metal=metal, thickness_mm=near, torch_set=fitted.name, gas=gas)
    if row is None:
        return _logged(session, fitted, gas, metal, thickness_mm)
    made = [c for t in _trials_near(session, fitted, gas, metal, thickness_mm) for c in t[1]]
    proven = Look(row.bevel_deg, row.bottom_dross_grade, row.top_dross_grade)
    look = replace(proven, **_seen_on(made))
    return Measured(look, row.speed_mm_min, row.thickness_mm, row.cuts, row.title)


def _logged(
    session: Session, fitted: TorchSetRow, gas: str, metal: str, thickness_mm: float
) -> Measured | None:
    """Without a recipe: the last cut that was read, of the newest trial near this thickness."""
    for trial, logged in _trials_near(session, fitted, gas, metal, thickness_mm):
        made = [c.cut for c in logged]
        read = [c for c in made if c.mean_bevel_deg(good_side(fitted.swirl)) is not None]
        if read:
            last = read[-1]
            bevel = last.mean_bevel_deg(good_side(fitted.swirl))
            look = Look(
                bevel_deg=abs(bevel or 0.0),
                bottom_dross_grade=last.bottom_grade,
                top_dross_grade=last.grade_of("top_spatter"),
                **_seen_on(logged),
            )
            title = f"{trial.title or 'a trial'}, not proven yet"
            return Measured(look, last.speed_mm_min, trial.thickness_mm, len(made), title)
    return None


def _seen_on(logged: Sequence[cuts.LoggedCut]) -> dict[str, Any]:
    """What the newest of some cuts that was looked at looked like: colour, rounding, lag."""
    seen: dict[str, Any] = {}
    for cut in logged:
        told = {k.what: k.value for k in cut.looks if k.item == 0}
        by_eye = told.get(LAG_BY_EYE)
        lag = cut.cut.lag_deg if cut.cut.lag_deg is not None else float(by_eye) if by_eye else None
        found = {"colour": told.get("colour"), "rounding": told.get("rounding"), "lag_deg": lag}
        seen |= {name: value for name, value in found.items() if value is not None}
    return seen


def _trials_near(
    session: Session, fitted: TorchSetRow, gas: str, metal: str, thickness_mm: float
) -> Iterator[tuple[Trial, list[cuts.LoggedCut]]]:
    """The newest trials of a process near this thickness, each with the cuts of it that count."""
    near = NEAR * thickness_mm
    query = select(Trial).where(
        Trial.torch_set_id == fitted.id,
        Trial.metal == metal,
        col(Trial.gas).in_([gas, ""] if gas == fitted.gas else [gas]),
        col(Trial.thickness_mm).between(thickness_mm - near, thickness_mm + near),
    )
    for trial in session.exec(query.order_by(col(Trial.id).desc()).limit(5)):
        yield trial, [c for c in cuts.logged_cuts(session, trial.id or 0) if c.counts]
