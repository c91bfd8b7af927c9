"""A program cut whole with one set or another, or split between two, as the screen sets the ways beside each other."""

from orthotome.api.wire import Wire
from orthotome.core.programs.split import Stage, Way, change_says, numbers_say
from orthotome.desk.programs.ways import AllWays, WaysWith


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


def answer(found: AllWays, hour_cost: float | None) -> WaysAnswer:
    """All ways that are known, for the screen."""
    return WaysAnswer(
        own_set=found.own_set,
        own=_way(found.own, hour_cost) if found.own else None,
        sets=[_of_set(one, hour_cost) for one in found.sets],
        refused=[SetRefused(torch_set=one.setting.set_name, why=one.says) for one in found.refused],
        assumed=change_says(),
    )


def _of_set(one: WaysWith, hour_cost: float | None) -> SetWays:
    ways = one.ways
    return SetWays(
        torch_set_id=one.torch_set_id,
        torch_set=one.numbers.setting.set_name,
        numbers_from=numbers_say(one.numbers.how, one.numbers.says),
        other=_way(ways.other, hour_cost),
        split=_way(ways.split, hour_cost) if ways.split else None,
        to_other=list(ways.to_other),
        says=ways.says,
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
