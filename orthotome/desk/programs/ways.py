"""A program cut whole with one set or another, or split between two: what is known of each way, and the split made."""

from dataclasses import dataclass

from sqlmodel import Session

from orthotome.core.errors import TradeError
from orthotome.core.programs.split import SetToCut, Way, Ways
from orthotome.desk.programs.findings import text
from orthotome.desk.programs.run_of import program_start_cost
from orthotome.desk.working.apart import apart
from orthotome.formats.programs.answering import split_with, ways_with
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow


@dataclass(frozen=True)
class WaysWith:
    """Another set by its number, how its numbers are known, and the ways to cut with it."""

    torch_set_id: int
    numbers: programs.WithSet
    ways: Ways


@dataclass(frozen=True)
class AllWays:
    """Whole with the program's own set (None where no other set is known of to set it beside), with each other that the shop
    knows numbers of, and the sets that the plate cannot be cut with or that nothing is known of."""

    own_set: str
    own: Way | None
    sets: tuple[WaysWith, ...]
    refused: tuple[programs.WithSet, ...]


def all_ways(session: Session, row: ProgramRow, basis: programs.Basis) -> AllWays:
    """All that is known of cutting a program with other sets. Raises TradeError or FileError."""
    own = _own(session, row, basis)
    others = programs.other_sets(session, row, basis.setting)
    known = [(i, one, to_cut) for i, one in others if (to_cut := _to_cut(one.setting)) is not None]
    ways = apart(
        "program", ways_with, text(row, basis), own, [to_cut for _, _, to_cut in known], basis.hour_cost
    )
    return AllWays(
        own.name,
        ways[0].own if ways else None,
        tuple(WaysWith(i, one, found) for (i, one, _), found in zip(known, ways, strict=True)),
        tuple(one for _, one in others if one.setting.job is None),
    )


def split(
    session: Session, row: ProgramRow, basis: programs.Basis, torch_set_id: int
) -> list[ProgramRow]:
    """The two programs, in the order in which they are cut, not kept yet. Raises TradeError or FileError."""
    own = _own(session, row, basis)
    one = programs.with_set(session, row, basis.setting, torch_set_id)
    other = _to_cut(one.setting)
    if other is None:
        raise TradeError("torch_set_id", one.says)
    made = apart("program", split_with, text(row, basis), own, other)
    sets = (torch_set_id, None) if made.other_is_first else (None, torch_set_id)
    return [
        programs.half_of(row, copy.content, copy.written, nth, set_id)
        for nth, copy, set_id in zip((1, 2), (made.first, made.second), sets, strict=True)
    ]


def _own(session: Session, row: ProgramRow, basis: programs.Basis) -> SetToCut:
    job = basis.against.job
    if job is None:
        raise TradeError(
            "program", "give a recipe or a trial to check against: the plate comes from it."
        )
    return SetToCut(basis.set_name, job, program_start_cost(session, row, basis), basis.gas_l_min)


def _to_cut(setting: programs.Setting) -> SetToCut | None:
    if setting.job is None:
        return None
    return SetToCut(setting.set_name, setting.job, setting.per_start, setting.gas_l_min)
