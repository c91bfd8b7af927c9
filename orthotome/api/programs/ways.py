"""A program cut whole with one set or another, or split between two: the ways beside each other, and the split written."""

from sqlmodel import Session

from orthotome.api.programs.answers import costs_of_start
from orthotome.api.wire import Wire
from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import AxisMap
from orthotome.core.programs.against import Against
from orthotome.core.programs.check import check
from orthotome.core.programs.corrections import Correction
from orthotome.core.programs.split import (
    CHANGE_OF_PARTS_S,
    SetToCut,
    Stage,
    Way,
    Ways,
    ways_to_cut,
)
from orthotome.core.quantities import duration
from orthotome.desk.working.apart import apart
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.programs.rs274 import NoProgram, read_program, refusal
from orthotome.formats.programs.splitting import TwoSets, halves
from orthotome.store.programs import programs
from orthotome.store.tables import ProgramRow


class StageAnswer(Wire):
    """What is cut with one set without a change of parts; contours by their number, from 0."""

    torch_set: str
    contours: list[int]
    pierces: int
    seconds: float
    share_at_speed: float


class WayAnswer(Wire):
    """One way to cut a program, changes of parts counted in."""

    stages: list[StageAnswer]
    changes: int
    seconds: float
    share_at_speed: float
    cost: float | None
    gas_l: float | None


class SetWays(Wire):
    """The ways with one other set. ``split`` is None where it makes no sense."""

    torch_set_id: int
    torch_set: str
    numbers_from: str
    other: WayAnswer
    split: WayAnswer | None
    to_other: list[int]
    says: str


class SetRefused(Wire):
    """A set that the plate cannot be cut with, or that nothing is known of there."""

    torch_set: str
    why: str


class WaysAnswer(Wire):
    """Whole with the program's own set, and what other sets could do."""

    own_set: str
    own: WayAnswer | None
    sets: list[SetWays]
    refused: list[SetRefused]
    assumed: str


class SplitRequest(Wire):
    """The other set that a program is to be split with."""

    torch_set_id: int


_FROM = {
    "recipe": "were proven here",
    "row": "stand in the Book, and are not proven yet",
    "interpolated": "lie between rows of the Book, and are not proven yet",
    "extended": "lie beyond the rows of the Book, and are not proven yet",
}


def _ways(  # noqa: PLR0917 (sent to a process apart)
    content: bytes,
    profile: OutputProfile,
    axes: AxisMap,
    against: Against,
    own: SetToCut,
    others: list[SetToCut],
    hour_cost: float | None,
) -> list[Ways]:
    try:
        found = check(read_program(content, profile, axes), against)
    except NoProgram as wrong:
        raise refusal(wrong) from None
    return [ways_to_cut(found, own, other, against.table, hour_cost) for other in others]


Half = tuple[bytes, tuple[Correction, ...]]


def _halves(  # noqa: PLR0917 (sent to a process apart)
    content: bytes,
    profile: OutputProfile,
    axes: AxisMap,
    against: Against,
    own: SetToCut,
    other: SetToCut,
) -> tuple[Half, Half, bool]:
    try:
        found = check(read_program(content, profile, axes), against)
        to_other = ways_to_cut(found, own, other, against.table, None).to_other
        two = TwoSets(own.name, own.job, other.name, other.job, frozenset(to_other))
        made = halves(content, profile, against, axes, two)
    except NoProgram as wrong:
        raise refusal(wrong) from None
    first, second = made.first, made.second
    return (
        (first.content, first.written),
        (second.content, second.written),
        made.other_is_first,
    )


def ways(session: Session, row: ProgramRow, basis: programs.Basis) -> WaysAnswer:
    """All that is known of cutting a program with other sets."""
    own = _own(session, row, basis)
    known, refused = [], []
    for set_id, one in programs.other_sets(session, row, basis.setting):
        if one.setting.job is None:
            refused.append(SetRefused(torch_set=one.setting.set_name, why=one.says))
        else:
            known.append((set_id, one, _to_cut(one.setting)))
    others = [to_cut for _, _, to_cut in known]
    content = programs.text_of(row)
    found = apart(
        "program", _ways, content, basis.profile, basis.axes, basis.against, own, others, basis.hour_cost
    )
    return WaysAnswer(
        own_set=own.name,
        own=_way(found[0].own, basis.hour_cost) if found else None,
        sets=[
            _of_set(set_id, one, way, basis.hour_cost)
            for (set_id, one, _), way in zip(known, found, strict=True)
        ],
        refused=refused,
        assumed=f"A change of parts is taken as {duration(CHANGE_OF_PARTS_S)}.",
    )


def split(
    session: Session, row: ProgramRow, basis: programs.Basis, torch_set_id: int
) -> list[ProgramRow]:
    """The two programs, in the order in which they are cut, not kept yet."""
    own = _own(session, row, basis)
    one = programs.with_set(session, row, basis.setting, torch_set_id)
    if one.setting.job is None:
        raise TradeError("torch_set_id", one.says)
    content = programs.text_of(row)
    first, second, other_first = apart(
        "program", _halves, content, basis.profile, basis.axes, basis.against, own, _to_cut(one.setting)
    )
    return [
        programs.half_of(row, *half, nth, torch_set_id if (nth == 1) == other_first else None)
        for nth, half in ((1, first), (2, second))
    ]


def _own(session: Session, row: ProgramRow, basis: programs.Basis) -> SetToCut:
    job = basis.against.job
    if job is None:
        raise TradeError(
            "program", "give a recipe or a trial to check against: the plate comes from it."
        )
    return SetToCut(basis.set_name, job, costs_of_start(session, row, basis), basis.gas_l_min)


def _to_cut(setting: programs.Setting) -> SetToCut:
    assert setting.job is not None
    return SetToCut(setting.set_name, setting.job, setting.per_start, setting.gas_l_min)


def _of_set(set_id: int, one: programs.WithSet, way: Ways, hour_cost: float | None) -> SetWays:
    return SetWays(
        torch_set_id=set_id,
        torch_set=one.setting.set_name,
        numbers_from=" ".join(filter(None, (f"Its numbers {_FROM[one.how]}.", one.says))),
        other=_way(way.other, hour_cost),
        split=_way(way.split, hour_cost) if way.split else None,
        to_other=list(way.to_other),
        says=way.says,
    )


def _way(way: Way, hour_cost: float | None) -> WayAnswer:
    gas = [s.gas_l for s in way.stages]
    cost = way.cost(hour_cost)
    return WayAnswer(
        stages=[_stage(s) for s in way.stages],
        changes=way.changes,
        seconds=round(way.seconds, 1),
        share_at_speed=round(way.share_at_speed, 3),
        cost=None if cost is None else round(cost, 2),
        gas_l=None if None in gas else round(sum(g for g in gas if g is not None), 1),
    )


def _stage(stage: Stage) -> StageAnswer:
    return StageAnswer(
        torch_set=stage.torch_set,
        contours=list(stage.contours),
        pierces=stage.pierces,
        seconds=round(stage.seconds, 1),
        share_at_speed=round(stage.share_at_speed, 3),
    )
