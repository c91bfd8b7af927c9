"""Processes to choose from: the sets with their rows, what is written down of them, what was proven."""

from collections import defaultdict

from sqlmodel import Session, col, select

from orthotome.core.capability import Capability
from orthotome.core.choosing import Look, Measured, Process
from orthotome.core.edges import good_side
from orthotome.core.metals import metal_named
from orthotome.core.start_rows import StartRow
from orthotome.formats.campaign import DrossFile
from orthotome.formats.recipe import RecipeFile
from orthotome.store import book, recipes, shop, trials
from orthotome.store.tables import SetNote, TorchSetRow, Trial

NEAR = 0.1  # a recipe within a tenth of the thickness speaks for it; assumption

_BOUNDS = tuple(Capability.__dataclass_fields__)
_CLAIMS = tuple(Look.__dataclass_fields__)


def processes(session: Session, metal: str, thickness_mm: float) -> list[Process]:
    """Every set with each pair of gases it has rows or notes for in this metal."""
    cuts_as = metal_named(metal).cuts_as
    sets = {s.id or 0: s for s in shop.torch_sets(session)}
    rows: dict[tuple[int, str, str], list[StartRow]] = defaultdict(list)
    for r, s in book.rows(session, metals=book.sources_of(metal)):
        rows[s.id or 0, r.gas, r.shield_gas or ""].append(book.start_row(r, s))
    notes = {
        (n.torch_set_id, n.gas, n.shield_gas): n
        for n in session.exec(select(SetNote).where(SetNote.metal == cuts_as))
    }
    plain = {(set_id, s.gas, "") for set_id, s in sets.items()}
    found = []
    for key in sorted(plain | set(rows) | set(notes), key=str):
        fitted = sets[key[0]]
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


def note(session: Session, given: SetNote) -> SetNote:
    """Write down what a set can do and what is claimed of it, in place of what stood there."""
    Capability(**{b: getattr(given, b) for b in _BOUNDS})  # its order is checked there
    shop.torch_set(session, given.torch_set_id)
    query = select(SetNote).where(
        SetNote.torch_set_id == given.torch_set_id,
        SetNote.metal == given.metal,
        SetNote.gas == given.gas,
        SetNote.shield_gas == given.shield_gas,
    )
    kept = session.exec(query).first()
    if kept is None:
        kept = given
    else:
        for name in (*_BOUNDS, *_CLAIMS, "source"):
            setattr(kept, name, getattr(given, name))
        kept.example = False
    session.add(kept)
    session.flush()
    return kept


def _gas_flow(rows: list[StartRow], thickness_mm: float) -> float | None:
    """Plasma and shield flow of the nearest row that gives one."""
    told = [r for r in rows if r.details.gas_flow_l_min is not None]
    if not told:
        return None
    near = min(told, key=lambda r: abs(r.thickness_mm - thickness_mm))
    return (near.details.gas_flow_l_min or 0.0) + (near.details.shield_flow_l_min or 0.0)


def _measured(
    session: Session, fitted: TorchSetRow, gas: str, metal: str, thickness_mm: float
) -> Measured | None:
    """What the shop's newest recipe in force near this thickness proved, if there is one."""
    newest = recipes.newest_revisions(session)
    near = NEAR * thickness_mm
    for row in recipes.recipes(session):
        file = recipes.file_of(row)
        of_this = (
            row.revision == newest[row.line]
            and file.torch_set.name == fitted.name
            and file.torch_set.gas == gas
            and file.metal == metal
            and abs(file.thickness_mm - thickness_mm) <= near
        )
        if of_this:
            return _proved(file)
    return _logged(session, fitted, gas, metal, thickness_mm)


def _logged(
    session: Session, fitted: TorchSetRow, gas: str, metal: str, thickness_mm: float
) -> Measured | None:
    """Without a recipe: the last cut that was read, of the newest trial near this thickness."""
    near = NEAR * thickness_mm
    query = select(Trial).where(
        Trial.torch_set_id == fitted.id,
        Trial.metal == metal,
        col(Trial.gas).in_([gas, ""] if gas == fitted.gas else [gas]),
        col(Trial.thickness_mm).between(thickness_mm - near, thickness_mm + near),
    )
    for trial in session.exec(query.order_by(col(Trial.id).desc()).limit(5)):
        cuts = [c.cut for c in trials.logged_cuts(session, trial.id or 0) if not c.row.struck_out]
        read = [c for c in cuts if c.mean_bevel_deg(good_side(fitted.swirl)) is not None]  # type: ignore[arg-type]
        if read:
            last = read[-1]
            bevel = last.mean_bevel_deg(good_side(fitted.swirl))  # type: ignore[arg-type]
            look = Look(
                bevel_deg=abs(bevel or 0.0),
                bottom_dross_grade=last.bottom_grade,
                top_dross_grade=last.grade_of("top_spatter"),
            )
            title = f"{trial.title or 'a trial'}, not proven yet"
            return Measured(look, last.speed_mm_min, trial.thickness_mm, len(cuts), title)
    return None


def _proved(file: RecipeFile) -> Measured:
    side = good_side(file.torch_set.swirl)
    passed = [c for c in file.evidence.cuts if c.id in file.proof.passed_cuts]
    bevels = [abs(e.bevel_deg) for c in passed for e in c.edges or () if e.side == side]
    dross = [d for c in passed for d in c.dross or ()]
    looked = any(c.dross is not None for c in passed)
    look = Look(
        bevel_deg=sum(bevels) / len(bevels) if bevels else None,
        bottom_dross_grade=_worst(dross, top=False) if looked else None,
        top_dross_grade=_worst(dross, top=True) if looked else None,
    )
    return Measured(
        look, file.setting.speed_mm_min, file.thickness_mm, len(file.evidence.cuts), file.title
    )


def _worst(dross: list[DrossFile], *, top: bool) -> int:
    return max((d.grade for d in dross if (d.kind == "top_spatter") == top), default=0)
