"""Readings to take before anything else is cut: a reading costs seconds, a cut costs steel.

Three things are settled by reading an edge once more: whether a reading that does not fit is wild, what a
pattern round one square is before a cause is named, and whether it is the gauge or the edges that scatter
where a setting is nearly proven.
"""

from collections import Counter
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.edges import ReadSide, cut_toward
from orthotome.core.trial.advice import AdviceFinding, ReadAgain, Status
from orthotome.core.tuner.causes import swapped_chance
from orthotome.core.tuner.chances import Learned

Array = NDArray[np.float64]
Place = tuple[int, ReadSide, float]  # cut, side, heading

MOST_AT_ONCE = 8
_DOUBTFUL = 0.12  # chance of being wild from which one more reading tells
_SETTLED = 0.9  # and, of an edge read twice, up to which a third does
_OFTEN_ENOUGH = 3  # an edge read so often is known as well as this gauge knows it
_NEARLY = (0.6, 0.95)  # chances to pass between which the gauge is what stands in the way
_SWAPPED = (0.5, 0.98)  # chances that the sides are swapped between which the scrap edge tells
_PATTERNS = ("jet_lean", "worn_parts", "wrong_side", "target_too_tight")
_TELLING = 2  # edges of a pattern that are read again before it is named


def readings_to_take(
    learned: Learned, status: Status, chance: float, cause: AdviceFinding | None
) -> tuple[ReadAgain, ...]:
    """What to read again, most telling first; empty where a reading would settle nothing.

    ``chance`` is that of the recommended setting, ``cause`` what a hand-off would name. Before "square" only
    readings of the last piece that do not fit.
    """
    if not learned.campaign.cuts:  # what earlier trials left in doubt is no edge that lies here
        return ()
    times = _times_read(learned)
    wanted: dict[Place, str] = {}
    for place, why in _doubtful(learned, times):
        wanted.setdefault(place, why)
    if cause is not None and cause.code in _PATTERNS and not wanted:
        wanted |= dict(_pattern(learned, times, cause))
    if status == "square" and cause is None:
        return _asked(learned, wanted)
    if cause is None and not wanted and _SWAPPED[0] < swapped_chance(learned) < _SWAPPED[1]:
        wanted |= dict(_other_side(learned, times))
    if cause is None and not wanted and status == "confirm" and _NEARLY[0] < chance < _NEARLY[1]:
        wanted |= dict(_nearly_proven(learned, times))
    return _asked(learned, wanted)


def _asked(learned: Learned, wanted: dict[Place, str]) -> tuple[ReadAgain, ...]:
    cuts = learned.campaign.cuts
    return tuple(
        ReadAgain(cuts[i].id, side, heading, why)
        for (i, side, heading), why in list(wanted.items())[:MOST_AT_ONCE]
        if side != "both"
    )


def _times_read(learned: Learned) -> Counter[Place]:
    r = learned.bevel.readings
    return Counter((int(c), *p) for c, p in zip(r.cut, r.place, strict=True))


def _doubtful(learned: Learned, times: Counter[Place]) -> Iterator[tuple[Place, str]]:
    """Edges of the last cut whose reading may be wild: an older piece that nobody read again is left."""
    chances, r = learned.bevel.wild_chances, learned.bevel.readings
    for i in np.argsort(-chances, kind="stable"):
        place = (int(r.cut[i]), *r.place[i])
        if (
            place[0] != len(learned.campaign.cuts) - 1
            or place[1] == "both"
            or times[place] >= _OFTEN_ENOUGH
        ):
            continue
        if chances[i] > _DOUBTFUL and (times[place] == 1 or chances[i] < _SETTLED):
            read = r.bevel_deg[i]
            again = " Its two readings differ: a third tells which." if times[place] > 1 else ""
            yield place, f"{_named(place)}: {read:+.1f}° does not fit the others.{again}"


def _pattern(
    learned: Learned, times: Counter[Place], cause: AdviceFinding
) -> Iterator[tuple[Place, str]]:
    """The edges of the last square that carry the pattern, where nobody has read them twice."""
    squares = [i for i, c in enumerate(learned.campaign.cuts) if c.piece == "square" and c.edges]
    if len(squares) != 1:
        return  # a second square that shows the same is proof enough
    cut = learned.campaign.cuts[squares[0]]
    edges = [e for e in cut.edges if e.side != "both"]
    # Swapped sides show between the sides; every other pattern along one side of the cut.
    level = {
        side: float(
            np.mean([e.bevel_deg for e in edges if e.side == side or cause.code == "wrong_side"])
        )
        for side in {e.side for e in edges}
    }
    edges.sort(key=lambda e: -abs(e.bevel_deg - level[e.side]))
    for edge in edges[:_TELLING]:
        place = (squares[0], edge.side, edge.heading_deg % 360.0)
        if times[place] < 2:
            why = (
                f"{_named(place)}: before anything is mended ({cause.title.lower()}), read it once more."
            )
            yield place, why


def _other_side(learned: Learned, times: Counter[Place]) -> Iterator[tuple[Place, str]]:
    """The scrap edge of the last square, where it is all that says which side is the squarer."""
    last = len(learned.campaign.cuts) - 1
    for edge in learned.campaign.cuts[last].edges:
        place = (last, edge.side, edge.heading_deg % 360.0)
        if learned.bevel.side_sign(edge.side) > 0 and times[place] < 2:
            why = f"{_named(place)}: it alone says that the good and the bad side may be swapped."
            yield place, why


def _nearly_proven(learned: Learned, times: Counter[Place]) -> Iterator[tuple[Place, str]]:
    """The judged edges of the last square, where it is the gauge that keeps the chance down."""
    cuts = learned.campaign.cuts
    if not cuts or cuts[-1].piece != "square":
        return
    signs = {learned.bevel.side_sign(e.side) for e in cuts[-1].edges} & set(
        learned.judged_edges[0].tolist()
    )
    for edge in cuts[-1].edges:
        place = (len(cuts) - 1, edge.side, edge.heading_deg % 360.0)
        if learned.bevel.side_sign(edge.side) in signs and times[place] < 2:
            why = f"{_named(place)}: it is nearly proven, and the gauge's own error is what is left."
            yield place, why


def _named(place: Place) -> str:
    return f"Read the edge {cut_toward(place[2])} ({place[1]} of travel) once more"
