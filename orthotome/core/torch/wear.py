"""How parts wear: the one model that the tuner, the set-point and the ledger of parts share.

``pit = limit * (work / life) ** bend``, with work in usual starts, of 15 s of arc each:
``work = (starts + arc time / start_s) / (1 + 15 / start_s) + endings off the plate * ending``

``volts at the same height = volts when new + per mm of pit * pit + a slow wander``

* A start, a second of arc and an ending off the plate each take some emitter: how many seconds and how many starts
  one is worth is learnt from histories in which they differ, and is the trade's usual before.
* Pits do not deepen evenly: growth scatters about that line, the more the farther it has gone.
* Domain section 11: a limit of 1.0 to 1.6 mm for air and oxygen, 5 to 20 V over a life, not evenly.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from orthotome.core.errors import TradeError
from orthotome.core.quantities import length

BEVEL_PER_100 = (0.0, 0.15)
"""What a hundred starts do to the process bevel, deg: the pit raises the arc little by little. Assumption."""
VOLTS_NOISE = 0.7
"""Of one steady voltage, one sigma."""
LEVEL_SD_V = 0.4
"""Between a set-point proven on new parts and these when new: no two seat alike. Assumption."""
PIT_U_MM = 0.1
"""Of a pit that was measured, where nobody said how well. Assumption: calliper and ball by hand."""
TRIM_V = 1.0
"""The step in which a set-point is raised as parts wear: one that hand and controller can set."""
_SHRUNK_SD, _SHRUNK_MM = 4.0, 0.2  # what readings of one pit may seem to shrink by
DEEPEST = 3.0
"""A pit so many times its limit is no reading of an electrode that was still cutting."""
USUAL_ARC_S = 15.0
"""Of one start, where no history says. Assumption."""
NEW_STARTS = 40  # of an electrode: fewer are new parts; assumption
FELT_SHARE = 0.6  # of the pit's limit: from there it is felt at the edge; assumption
LIMIT_MM = 1.5
"""Where no manual is at hand: the middle of the trade's 1.0 to 1.6 mm for air and oxygen, toward its end."""


@dataclass(frozen=True)
class LifeEntry:
    """What is known of one set of parts at one moment; counts are running totals. None: not measured."""

    starts: int
    arc_on_s: float = 0.0
    off_plate: int = 0
    pit_mm: float | None = None
    u_mm: float = PIT_U_MM
    arc_voltage_v: float | None = None
    height_mm: float | None = None  # that was set when the volts were read; None: the cut height


@dataclass(frozen=True)
class PartsLedger:
    """What is known of one set of fitted parts. ``set_point_v`` was proven on new ones."""

    limit_mm: float
    set_point_v: float
    slope_v_per_mm: float
    cut_height_mm: float
    touch_height_mm: float
    entries: tuple[LifeEntry, ...]
    level_sd_v: float = (
        LEVEL_SD_V  # how well ``set_point_v`` is known to be that of these parts when new
    )


@dataclass(frozen=True)
class WearBelief:
    """What is believed of a kind of part before its first reading: medians, and spreads of their logarithms."""

    life_work: tuple[float, float] = (1500.0, 0.6)  # usual starts until the limit
    start_s: tuple[float, float] = (15.0, 0.8)  # seconds of arc that wear like one start
    ending: tuple[float, float] = (15.0, 0.9)  # usual starts that wear like one ending off the plate
    bend: tuple[float, float] = (1.25, 0.2)  # a deeper pit runs hotter
    scatter_mm: tuple[float, float] = (0.006, 0.9)  # variance of growth per mean growth, mm
    life_v: tuple[float, float] = (12.0, 0.45)  # rise of the volts over a life
    lives: int = 0  # of earlier parts that it was learnt from

    def volts_per_1000(self) -> tuple[float, float]:
        """Rise of the volts per thousand usual starts over a life, and its sd."""
        rise = 1000 * self.life_v[0] / self.life_work[0]
        return rise, rise * math.hypot(self.life_work[1], self.life_v[1])


TRADE = WearBelief()
"""The trade's usual figures: assumptions from domain section 11, wide enough that a few readings outweigh them."""
PER_1000 = TRADE.volts_per_1000()
"""V per 1000 starts: 5 to 20 V over a life (domain section 11)."""


def checked(ledger: PartsLedger) -> PartsLedger:
    """A ledger whose entries can have happened, else TradeError in one sentence that names the entry."""
    if ledger.touch_height_mm >= ledger.cut_height_mm:
        raise TradeError("touch_height_mm", "must lie below the cut height: there the torch touches.")
    deepest = DEEPEST * ledger.limit_mm
    before: LifeEntry | None = None
    pit: LifeEntry | None = None
    for number, entry in enumerate(ledger.entries):
        _check_counts(number, entry, before)
        if entry.pit_mm is not None:
            _check_pit(number, entry, pit, deepest)
            pit = entry
        before = entry
    return ledger


def _check_counts(number: int, entry: LifeEntry, before: LifeEntry | None) -> None:
    if before is None:
        return
    for name, word in (("starts", "starts"), ("arc_on_s", "arc time"), ("off_plate", "endings off")):
        now, then = getattr(entry, name), getattr(before, name)
        if now < then:
            raise TradeError(
                f"entries[{number}].{name}",
                f"{word} run backwards ({now:g} after {then:g}): entries are running totals, in order.",
            )


def _check_pit(number: int, entry: LifeEntry, before: LifeEntry | None, deepest_mm: float) -> None:
    assert entry.pit_mm is not None
    name = f"entries[{number}].pit_mm"
    if entry.pit_mm > deepest_mm:
        raise TradeError(
            name,
            f"{length(entry.pit_mm)} is deeper than an electrode with that limit can be: at most {length(deepest_mm)}.",
        )
    if before is not None and before.pit_mm is not None:
        check_grows(name, (entry.pit_mm, entry.u_mm), (before.pit_mm, before.u_mm))


def check_grows(name: str, now: tuple[float, float], before: tuple[float, float]) -> None:
    """Refuse a pit that is shallower than the one before by more than both readings err: it was another electrode, or
    one of them was read wrong. Each is (depth, sd) in mm."""
    shrunk = before[0] - now[0]
    if shrunk > _SHRUNK_SD * math.hypot(now[1], before[1]) and shrunk > _SHRUNK_MM:
        raise TradeError(
            name,
            f"{length(now[0])} after {length(before[0])}: a pit does not fill. Read it again; if another electrode was "
            "fitted, it has a history of its own.",
        )


def belief_from(lives: Sequence[tuple[float, float]], usual: WearBelief = TRADE) -> WearBelief:
    """What is believed of the next part of a kind after earlier ones: each (ln of its life in work, sd of that).

    Normal lives about a shop's own mean, which lies about the trade's; parts of one kind differ by a quarter or more.
    """
    if not lives:
        return usual
    median, spread = usual.life_work
    between = 0.3
    weights = [1 / (between**2 + sd**2) for _, sd in lives]
    precision = spread**-2 + sum(weights)
    mean = (
        math.log(median) / spread**2 + sum(w * x for w, (x, _) in zip(weights, lives, strict=True))
    ) / precision
    return WearBelief(
        **{
            **vars(usual),
            "life_work": (math.exp(mean), math.hypot(between, precision**-0.5)),
            "lives": len(lives),
        }
    )
