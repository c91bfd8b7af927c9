"""What a piece says once it was looked at: the answer to the question it was cut for, in a sentence or two.

A piece that was not looked at says nothing, and one half looked at says what is missing.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from orthotome.core.edge.measuring import STEEPEST_DEG, hole_taper, kerf_from_size
from orthotome.core.log.items import Item, SheetKind
from orthotome.core.log.looks import Look
from orthotome.core.quantities import length, seconds

_KERFS_APART_MM = 0.25  # of two sizes, each read to a tenth; assumption
_MOST_KERF = 1.8  # times what was compensated, past which it is the program; assumption
_DRIFT_DEG = 1.0  # between the stations of a long strip, past which height did not stay; assumption


@dataclass(frozen=True)
class Said:
    """One conclusion. ``pierce_delay_s`` is a delay that the setting may take from it; else None."""

    sentence: str
    pierce_delay_s: float | None = None


class _Seen:
    """The looks of a piece, by item."""

    def __init__(self, looks: Sequence[Look]) -> None:
        self._looks = {(k.item, k.what): k for k in looks}

    def value(self, item: int, what: str) -> str | None:
        look = self._looks.get((item, what))
        return look.value if look else None

    def number(self, item: int, what: str) -> float | None:
        look = self._looks.get((item, what))
        return look.number if look else None


def what_it_says(
    kind: SheetKind, items: Sequence[Item], looks: Sequence[Look], thickness_mm: float
) -> tuple[Said, ...]:
    """The conclusions of a piece; empty where nothing was looked at that concludes anything."""
    says = _SAYS.get(kind)
    return () if says is None or not looks else says(items, _Seen(looks), thickness_mm)


def _square(items: Sequence[Item], seen: _Seen, _thickness_mm: float) -> tuple[Said, ...]:
    """The kerf that its sizes tell; two that differ are no kerf."""
    if not items or items[0].nominal_mm is None or items[0].kerf_mm is None:
        return ()
    nominal, compensated = items[0].nominal_mm, items[0].kerf_mm
    sizes = {w: seen.number(0, w) for w in ("size_x", "size_y")}
    kerfs = {w: kerf_from_size(nominal, s, compensated) for w, s in sizes.items() if s is not None}
    if not kerfs:
        return ()
    ways = {"size_x": "left to right", "size_y": "near to far"}
    told = ", ".join(f"{length(kerf)} {ways[way]}" for way, kerf in kerfs.items())
    said = [
        Said(
            f"Drawn as {length(nominal)} with {length(compensated)} of kerf: by its size the kerf is {told}."
        )
    ]
    if min(kerfs.values()) <= 0 or max(kerfs.values()) > _MOST_KERF * compensated:
        said.append(
            Said("That is no kerf: compensation was off, doubled, or on the wrong side of the line.")
        )
    elif max(kerfs.values()) - min(kerfs.values()) > _KERFS_APART_MM:
        said.append(Said("The two differ: that is an axis, its scale or its slack, not the kerf."))
    return tuple(said)


def _pierces(items: Sequence[Item], seen: _Seen, _thickness_mm: float) -> tuple[Said, ...]:
    """The shortest delay from which every longer one was through as well, and left no crater."""
    through = [(i.pierce_delay_s or 0.0, seen.value(i.number, "through"), i.number) for i in items]
    told = sorted((d, t == "yes", n) for d, t, n in through if t is not None)
    if not told:
        return ()
    failed = [d for d, ok, _ in told if not ok]
    longest_failed = max(failed, default=-1.0)
    good = [(d, n) for d, ok, n in told if ok and d > longest_failed]
    if not good:
        return (
            Said(
                f"No delay up to {seconds(told[-1][0])} was through every time: try longer ones. If the longest does "
                "not go through either, it is the parts, the amperage or the plate, not the delay."
            ),
        )
    shortest, number = good[0]
    said = [
        Said(
            f"{seconds(shortest)} is the shortest delay that was through, and so was every longer one.",
            shortest,
        )
    ]
    if not failed:
        said.append(Said("Even the shortest was through: a shorter one may do, and spares the parts."))
    elif any(ok and d < longest_failed for d, ok, _ in told):
        said.append(
            Said(
                f"A shorter one was through once, but {seconds(longest_failed)} was not: once is not every time."
            )
        )
    if seen.value(number, "crater") in ("crater", "blown"):
        said.append(
            Said(
                "It left a crater: pierce higher before waiting longer, and look at the shield for spatter."
            )
        )
    return tuple(said)


def _starts_and_ends(items: Sequence[Item], seen: _Seen, _thickness_mm: float) -> tuple[Said, ...]:
    """Which way of beginning and ending left nothing; where the usual did, it stays."""
    marks = {
        i.number: (seen.value(i.number, "start_mark"), seen.value(i.number, "end_mark")) for i in items
    }
    clean = [i for i in items if marks[i.number] == ("none", "none")]
    if not any(m for pair in marks.values() for m in pair):
        return ()
    if clean and clean[0].number == 1:
        return (Said("The usual start and end left no mark: keep them."),)
    if clean:
        return (Said(f"This left no mark: {', or '.join(i.name for i in clean)}. Program parts so."),)
    starts = [i.name for i in items if marks[i.number][0] == "none"]
    ends = [i.name for i in items if marks[i.number][1] == "none"]
    said = []
    if starts:
        said.append(Said(f"Clean at the start: {', '.join(starts)}."))
    if ends:
        said.append(Said(f"Clean at the end: {', '.join(ends)}."))
    if not said:
        said.append(
            Said(
                "None of them was clean: if the start is uncut, the pierce is; look at delay and speed first."
            )
        )
    return tuple(said)


def _holes(items: Sequence[Item], seen: _Seen, thickness_mm: float) -> tuple[Said, ...]:
    """Of each hole what it came out as, what to draw instead, and its taper."""
    said = []
    for hole in items:
        sizes = {w: seen.number(hole.number, w) for w in ("top", "bottom", "pin")}
        known = [v for v in sizes.values() if v is not None]
        if not known or hole.nominal_mm is None:
            continue
        least = min(known)
        drawn = 2 * hole.nominal_mm - least
        sentence = (
            f"{length(hole.nominal_mm)}: the smallest way through is {length(least)}; drawn as {length(drawn)} it "
            "comes out at size."
        )
        top, bottom = sizes["top"], sizes["bottom"]
        if top is not None and bottom is not None and _can_be(top - bottom, thickness_mm):
            taper = hole_taper(top, bottom, thickness_mm)
            sentence += f" Its wall leans {taper.bevel_deg:+.1f}° ± {taper.u_deg:.1f}."
        said.append(Said(sentence))
    stuck = [h.name for h in items if seen.value(h.number, "slug_fell") == "no"]
    if stuck:
        said.append(Said(f"The slug stayed in {', '.join(stuck)}: pierce longer, or cut it slower."))
    return tuple(said)


def _can_be(narrower_mm: float, thickness_mm: float) -> bool:
    """Whether a wall can lean so far."""
    return abs(narrower_mm) <= 2 * thickness_mm * (STEEPEST_DEG / 45.0)


def _corners(items: Sequence[Item], seen: _Seen, _thickness_mm: float) -> tuple[Said, ...]:
    """The sharpest tooth that kept its tip, and from which stretch the machine no longer comes to speed."""
    said = []
    tips = {i.name: seen.value(i.number, "tip") for i in items}
    sharp = [name for name, tip in tips.items() if tip == "sharp"]
    burnt = [name for name, tip in tips.items() if tip == "rounded"]
    uncut = [name for name, tip in tips.items() if tip == "uncut"]
    if sharp:
        said.append(Said(f"The {sharp[-1]} kept its tip."))
    if burnt:
        said.append(
            Said(
                f"Burnt away: {', '.join(burnt)}. The machine stops too long there: acceleration, or a loop outside."
            )
        )
    if uncut:
        said.append(
            Said(f"Left uncut: {', '.join(uncut)}. The lag leaves it: slow the corner, or overrun it.")
        )
    slow = seen.number(0, "slow_from")
    if slow is not None:
        said.append(
            Said(
                f"Stretches of {length(slow)} and shorter get dross: the machine does not come to speed on them."
            )
        )
    return tuple(said)


def _along(items: Sequence[Item], seen: _Seen, _thickness_mm: float) -> tuple[Said, ...]:
    """Whether bevel, and so the height, stayed along a strip cut under height control."""
    said = []
    if seen.value(0, "touched") == "yes":
        said.append(
            Said(
                "The torch touched: raise the set-point, or the hold, before the next long cut; look at the nozzle."
            )
        )
    read = [(i.name, b) for i in items if (b := seen.number(i.number, "bevel")) is not None]
    if len(read) < 2:
        return tuple(said)
    change = read[-1][1] - read[0][1]
    if abs(change) <= _DRIFT_DEG:
        said.append(
            Said(f"Bevel stayed within {abs(change):.1f}° along the strip: the height was held.")
        )
    else:
        which = "higher" if change > 0 else "lower"
        said.append(
            Said(
                f"Bevel goes from {read[0][1]:+.1f}° {read[0][0]} to {read[-1][1]:+.1f}° {read[-1][0]}: the torch ran "
                f"{which} along the way. That is height control, not speed."
            )
        )
    return tuple(said)


_SAYS: dict[SheetKind, Callable[[Sequence[Item], _Seen, float], tuple[Said, ...]]] = {
    "square": _square,
    "pierce_ladder": _pierces,
    "start_end_ladder": _starts_and_ends,
    "holes": _holes,
    "corner": _corners,
    "long_strip": _along,
}
