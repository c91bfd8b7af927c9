"""The Book's starting rows: added, taken in from files, superseded, never overwritten."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import insert
from sqlmodel import Session, col, select

from orthotome.core.book.beginning import begin
from orthotome.core.book.start_rows import (
    RowDetails,
    StartingNumbers,
    StartRow,
    StartValues,
    named_instead,
    sets_that_could,
    starting_numbers,
)
from orthotome.core.book.trend import TrendBreak, breaks_of
from orthotome.core.choose.capability import check_amperage
from orthotome.core.edge.edges import Swirl
from orthotome.core.quantities import speed, thickness
from orthotome.core.stock.hazards import check_metal
from orthotome.core.stock.metals import metal_named
from orthotome.store import changes
from orthotome.store.book import recipes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.tables import BookRow, TorchSetRow
from orthotome.store.torch import sets
from orthotome.store.torch.sets import torch_set

_CURVE_POINTS = 48


@dataclass(frozen=True)
class Imported:
    """What an import did: rows added, rows that took another's place, rows that stood there already."""

    added: int
    superseded: int
    known: int
    sets: tuple[str, ...]


@dataclass(frozen=True)
class Trend:
    """A metal's rows with one set and gas over thickness: the line between them, and what breaks it."""

    rows: tuple[BookRow, ...]
    curve: tuple[tuple[float, StartValues, bool], ...]  # thickness, numbers, beyond the rows?
    breaks: tuple[TrendBreak, ...]


def rows(
    session: Session,
    metal: str | None = None,
    torch_set_id: int | None = None,
    *,
    metals: Iterable[str] | None = None,
    as_entered: bool = False,
    struck_out: bool = False,
) -> Sequence[tuple[BookRow, TorchSetRow]]:
    """Rows in force with their set, by metal, set and thickness, or in the order they came in; those that were
    ``struck_out`` instead."""
    query = select(BookRow, TorchSetRow).join(TorchSetRow).where(col(BookRow.superseded_by_id).is_(None))
    query = query.where(col(BookRow.struck_out).is_(struck_out))
    if metal is not None:
        query = query.where(BookRow.metal == metal)
    if metals is not None:
        query = query.where(col(BookRow.metal).in_(list(metals)))
    if torch_set_id is not None:
        query = query.where(BookRow.torch_set_id == torch_set_id)
    if as_entered:
        return session.exec(query.order_by(col(BookRow.id))).all()
    query = query.order_by(BookRow.metal, col(TorchSetRow.amperage_a), col(BookRow.thickness_mm))
    return session.exec(query).all()


def row(session: Session, row_id: int) -> BookRow:
    """One row, in force or not. Raises NotFound."""
    found = session.get(BookRow, row_id)
    if found is None:
        raise NotFound("There is no such row.", "row_id")
    return found


def strike(session: Session, row_id: int, *, out: bool) -> BookRow:
    """Strike a row out of the Book, or put it back; nothing starts from it meanwhile."""
    found = row(session, row_id)
    if found.struck_out and not out:
        standing = _standing(session, found, torch_set(session, found.torch_set_id))
        if standing is not None:
            raise _ask_which(standing)
    found.struck_out = out
    changes.note(session, "struck out" if out else "put back", "book row", row_id)
    session.add(found)
    session.flush()
    return found


def say_right(session: Session, row_id: int, *, right: bool) -> BookRow:
    """Quiet what breaks the trend of a row that was held against its source, or hear it again."""
    found = row(session, row_id)
    found.is_right = right
    changes.note(session, "said to be right" if right else "doubted again", "book row", row_id)
    session.add(found)
    session.flush()
    return found


def history(session: Session, row_id: int) -> list[BookRow]:
    """The rows that this one took the place of, newest first."""
    behind: list[BookRow] = []
    at = row(session, row_id)
    while True:
        query = select(BookRow).where(BookRow.superseded_by_id == at.id).order_by(col(BookRow.id).desc())
        before = session.exec(query).first()
        if before is None:
            return behind
        behind.append(before)
        at = before


def add_row(
    session: Session,
    added: BookRow,
    supersedes_id: int | None = None,
    *,
    takes_its_place: bool = False,
) -> BookRow:
    """Add a row; with ``supersedes_id`` it takes that row's place, which is kept behind it.

    Raises TradeError for an amperage above the set's rating or what is not to be cut, and Refused where another row stands for the
    same process and thickness, unless it ``takes_its_place`` too.
    """
    check_metal(added.metal)
    fitted = torch_set(session, added.torch_set_id)
    if added.amperage_a is not None:
        check_amperage(added.amperage_a, fitted.amperage_a)
    replaced = None
    if supersedes_id is not None:
        replaced = session.get(BookRow, supersedes_id)
        if replaced is None:
            raise NotFound("There is no such row to supersede.", "supersedes_id")
        if replaced.superseded_by_id is not None:
            raise Refused("That row has been superseded already: reload the Book.", "supersedes_id")
    standing = _standing(session, added, fitted, replaced)
    if standing is not None and not takes_its_place:
        raise _ask_which(standing)
    return _in_place_of(session, added, [old for old in (replaced, standing) if old is not None])


def _in_place_of(session: Session, added: BookRow, before: Sequence[BookRow]) -> BookRow:
    """Add a row behind which the ones before it are kept."""
    session.add(added)
    session.flush()
    for old in before:
        old.superseded_by_id = added.id
        session.add(old)
    session.flush()
    return added


def _standing(
    session: Session, wanted: BookRow, fitted: TorchSetRow, instead_of: BookRow | None = None
) -> BookRow | None:
    """The row in force for the same process and thickness, other than the one that is replaced."""
    place = start_row(wanted, fitted).place
    others = (other for other, _ in rows(session, wanted.metal, fitted.id) if other is not instead_of)
    return next((other for other in others if start_row(other, fitted).place == place), None)


def _ask_which(standing: BookRow) -> Refused:
    """Two rows of one process and thickness are one question: the operator says which stands."""
    return Refused(
        f"The Book has a row for {thickness(standing.thickness_mm, standing.metal)} with this set already: "
        f"{speed(standing.speed_mm_min)}, from {standing.source}. Which one stands?",
        "takes_its_place",
    )


def take_in(session: Session, given: Iterable[StartRow], swirl: Swirl | None) -> Imported:
    """Rows of a file, all in one change. A row for the same process and thickness takes the place of the
    one in force; one that says the same is left alone. Sets that the shop does not have are added with
    ``swirl``; without it they are refused.
    """
    in_force = {(core := start_row(old, s)).place: (old, core) for old, s in rows(session)}
    incoming = list(dict.fromkeys(given))  # a row that stands twice in a file is one row
    sets, new_sets = _sets_for(session, incoming, swirl)
    added, superseded, known = [], 0, 0
    for r in incoming:
        fitted = sets[r.torch_set]
        assert fitted.id is not None
        check_metal(r.metal)
        check_amperage(r.amperage_a, fitted.amperage_a)
        before = in_force.get(r.place)
        if before is None:
            added.append(_columns(r, fitted.id))
        elif before[1] == r:
            known += 1
        else:
            _in_place_of(session, book_row(r, fitted.id), [before[0]])
            superseded += 1
    if added:  # in one statement: thousands of rows one by one take seconds
        session.execute(insert(BookRow), added)
    return Imported(len(added), superseded, known, new_sets)


def _sets_for(
    session: Session, incoming: Sequence[StartRow], swirl: Swirl | None
) -> tuple[dict[str, TorchSetRow], tuple[str, ...]]:
    known = {s.name: s for s in sets.torch_sets(session)}
    new: dict[str, TorchSetRow] = {}
    for r in incoming:
        if r.torch_set in known:
            continue
        if swirl is None:
            raise Refused(
                f"The shop has no torch set named “{r.torch_set}”: say which way its swirl turns, and it "
                "is added, or match the rows to a set that is there.",
                "torch_set",
            )
        fresh = new.setdefault(
            r.torch_set,
            TorchSetRow(name=r.torch_set, amperage_a=r.amperage_a, gas=r.gas, swirl=swirl),
        )
        fresh.amperage_a = max(fresh.amperage_a, r.amperage_a)
    session.add_all(new.values())
    session.flush()
    return {**known, **new}, tuple(new)


def start_row(r: BookRow, fitted: TorchSetRow) -> StartRow:
    """A Book row as core thinks of it."""
    return StartRow(
        r.metal,
        r.thickness_mm,
        fitted.name,
        fitted.amperage_a if r.amperage_a is None else r.amperage_a,
        r.gas,
        StartValues(**{name: getattr(r, name) for name in StartValues.__dataclass_fields__}),
        r.source,
        RowDetails(**{name: getattr(r, name) for name in RowDetails.__dataclass_fields__}),
        right=r.is_right,
    )


def start(
    session: Session,
    metal: str,
    thickness_mm: float,
    torch_set_id: int,
    gas: str = "",
    *,
    table_id: int | None = None,
) -> StartingNumbers:
    """Starting numbers from the recipe locked on that table for just this job, or else from the rows in force.

    Raises NotFound for an unknown set.
    """
    fitted = torch_set(session, torch_set_id)
    if table_id is not None:
        proven = recipes.proven_start(
            session, table_id, metal, thickness_mm, set_name=fitted.name, gas=gas or fitted.gas
        )
        if proven is not None:
            return proven
    found = [start_row(r, s) for r, s in rows(session, None, torch_set_id, metals=sources_of(metal))]
    numbers = begin(
        found, metal=metal, thickness_mm=thickness_mm, torch_set=fitted.name, gas=gas or fitted.gas
    )
    if numbers.values is not None:
        return numbers
    others = [start_row(r, s) for r, s in rows(session, metals=sources_of(metal))]
    could = sets_that_could(others, metal=metal, thickness_mm=thickness_mm)
    return named_instead(numbers, [c for c in could if c != fitted.name], thickness_mm)


def sources_of(metal: str) -> tuple[str, ...]:
    """The metals whose rows may speak for one: itself, what it cuts as, and mild steel."""
    return metal, metal_named(metal).cuts_as, "mild_steel"


def trend(session: Session, metal: str, torch_set_id: int, gas: str) -> Trend:
    """A metal's rows with a set and gas, the line that Orthotome reads between them, and its breaks."""
    fitted = torch_set(session, torch_set_id)
    own = [r for r, _ in rows(session, metal, torch_set_id) if r.gas == gas]
    of_core = [start_row(r, fitted) for r in own]
    if not own:
        return Trend((), (), ())
    thinnest, thickest = own[0].thickness_mm, own[-1].thickness_mm
    curve = []
    if thickest > thinnest:
        span = (thinnest * 0.85, thickest * 1.15)
        steps = [span[0] * (span[1] / span[0]) ** (i / _CURVE_POINTS) for i in range(_CURVE_POINTS + 1)]
        for t in sorted({*steps, *(r.thickness_mm for r in own)}):
            found = starting_numbers(
                of_core, metal=metal, thickness_mm=t, torch_set=fitted.name, gas=gas
            )
            if found.values is not None:
                curve.append((t, found.values, found.how == "extended"))
    breaks = tuple(b for b in breaks_of(tuple(of_core)) if not own[b.index].is_right)
    return Trend(tuple(own), tuple(curve), breaks)


def book_row(r: StartRow, torch_set_id: int, *, example: bool = False) -> BookRow:
    """A core row as a Book row of that set."""
    return BookRow(**(_columns(r, torch_set_id) | {"example": example}))


def _columns(r: StartRow, torch_set_id: int) -> dict[str, Any]:
    own = ("metal", "thickness_mm", "amperage_a", "gas", "source")
    return {
        **{name: getattr(r, name) for name in own},
        **vars(r.values),
        **vars(r.details),
        "torch_set_id": torch_set_id,
        "example": False,
    }
