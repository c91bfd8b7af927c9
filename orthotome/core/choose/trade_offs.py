"""Trade-offs between processes: for stainless and aluminium above all, none is best at everything.

A process *beats* another where it is at least as good in everything that both say, and better in one. What only one
of them says cannot be compared: a process that says something the other does not is never beaten by it. What
nothing beats is a choice; what is beaten is none.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from orthotome.core.choose.choosing import Option

_WORSE_ROUNDING = ("sharp", "slight", "rounded", "washed")


@dataclass(frozen=True)
class Criterion:
    """One thing that processes are compared by. ``of`` is lower where it is better; None is "not said".

    ``same`` is how much two may differ and still count as alike.
    """

    code: str
    label: str
    of: Callable[[Option], float | None]
    same: float = 0.0


def _negative(value: float | None) -> float | None:
    return None if value is None else -value


def _rounding(option: Option) -> float | None:
    said = (option.look.rounding or "").casefold()
    return float(_WORSE_ROUNDING.index(said)) if said in _WORSE_ROUNDING else None


def _size(value: float | None) -> float | None:
    return None if value is None else abs(value)


CRITERIA: tuple[Criterion, ...] = (
    Criterion("bevel", "bevel", lambda o: _size(o.look.bevel_deg), 0.3),
    Criterion("bottom_dross", "dross underneath", lambda o: o.look.bottom_dross_grade),
    Criterion("top_dross", "dross on top", lambda o: o.look.top_dross_grade),
    Criterion("rounding", "top rounding", _rounding),
    Criterion("lag", "lag", lambda o: _size(o.look.lag_deg), 3.0),
    Criterion("speed", "speed", lambda o: _negative(o.speed_mm_min), 25.0),
    Criterion("gas", "gas", lambda o: o.gas_l_per_m, 0.5),
    Criterion("cost", "cost", lambda o: o.cost_per_m, 0.005),
)
"""Colour is shown and not ranked: which is better is the customer's word."""


@dataclass(frozen=True)
class TradeOff:
    """Where a process stands among the others: what it is best at, by code, and which one beats it, if one does."""

    best_at: tuple[str, ...]
    beaten_by: Option | None


def trade_offs(options: Sequence[Option]) -> tuple[TradeOff, ...]:
    """Where each process stands, in their order; one that cannot cut the job neither beats nor is compared."""
    return tuple(
        TradeOff(_best_at(i, options), _beaten_by(i, options)) if o.usable else TradeOff((), None)
        for i, o in enumerate(options)
    )


def _best_at(i: int, options: Sequence[Option]) -> tuple[str, ...]:
    """What this one is best at, where at least one other says anything of it."""
    found = []
    for criterion in CRITERIA:
        mine = criterion.of(options[i])
        others = [
            v
            for k, o in enumerate(options)
            if k != i and o.usable and (v := criterion.of(o)) is not None
        ]
        if mine is not None and others and mine <= min(others) + criterion.same and mine < max(others):
            found.append(criterion.code)
    return tuple(found)


def _beaten_by(i: int, options: Sequence[Option]) -> Option | None:
    others = (o for k, o in enumerate(options) if k != i and o.usable)
    return next((o for o in others if beats(o, options[i])), None)


def beats(one: Option, other: Option) -> bool:
    """Whether one process is at least as good in all that the other says, and better in something."""
    better = False
    for criterion in CRITERIA:
        theirs = criterion.of(other)
        if theirs is None:
            continue
        mine = criterion.of(one)
        if mine is None or mine > theirs + criterion.same:
            return False
        better |= mine < theirs - criterion.same and not math.isclose(mine, theirs)
    return better
