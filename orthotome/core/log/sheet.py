"""The sheet that a piece is logged on: which edges are asked for, in which order, and what else there is to
look at, laid out as the piece lies in the hand.

A slot is one edge as it lies in the hand. A cut that was logged before opens with every reading it has,
each in a slot of its own, with the uncertainty and the method it was read with.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from orthotome.core.edge.edges import (
    SQUARE_HEADINGS_DEG,
    ReadSide,
    Side,
    cut_toward,
    far_side_heading_deg,
    good_side,
    other_side,
    square_as_cut_deg,
)
from orthotome.core.edge.instruments import (
    METHOD_FACTS,
    USUAL_INSTRUMENTS,
    Instrument,
    Method,
    settling,
    u_deg,
)
from orthotome.core.errors import TradeError
from orthotome.core.log.items import COMBS, Item, SheetKind, counts_as, flanks_of_strip, strip_of
from orthotome.core.log.looks import ITEMS, WHOLE, Look, LookFor
from orthotome.core.trial.campaign import (
    DROSS_EFFORT,
    Campaign,
    Cut,
    DrossKind,
    EdgeReading,
    PieceKind,
    Through,
)

STRIP_HEADING_DEG = 90.0  # a strip ladder's slots are cut away from the operator
USUAL_METHOD = "angle_gauge"

THROUGH: dict[Through, str] = {"full": "Dropped", "partial": "Hung on", "none": "Not through"}
DROSS: dict[DrossKind, str] = {
    "low_speed": "Chunks",
    "high_speed": "Hard bead",
    "top_spatter": "Spatter on top",
}
DROSS_LOOKS = "Chunks: thick and bubbly, the cut ran slow. Hard bead: thin and welded on, it ran fast."

ROUND_HEADINGS_DEG = tuple(45.0 * i for i in range(8))  # between slit, start and nicks of a slug


@dataclass(frozen=True)
class Slot:
    """One edge to read. ``edge_id`` is that of the reading it opens with; None where there is none yet."""

    key: str
    side: str
    heading_deg: float
    kept: bool
    label: str
    u_deg: float
    method: str = USUAL_METHOD
    edge_id: int | None = None
    bevel_deg: float | None = None
    item: int = 0  # the slot of a comb that it is an edge of
    told: str = ""  # what was read, where the bevel was worked out from it


@dataclass(frozen=True)
class Choice:
    """Something to tap, with what it means."""

    value: str
    label: str
    says: str = ""


@dataclass(frozen=True)
class DrossChoice:
    """One dross to tap; no kind is a clean underside."""

    kind: DrossKind | None
    grade: int
    label: str
    effort: str


@dataclass(frozen=True)
class MethodChoice:
    """Something to measure with, and what it can settle here, said before it is used."""

    name: str
    method: Method
    u_deg: float
    unit: Literal["deg", "mm", "px"]
    label: str
    reads: str
    mind: str
    settles: bool
    says: str


@dataclass(frozen=True)
class LogSheet:
    """Slots in the order in which they lie round the piece, and ``order``: that in which they are read,
    with the volts among them. ``looks_whole`` and ``looks_each`` are what else there is to see, on the piece and on
    each of its ``items``; ``looks`` what was seen of it so far."""

    kind: SheetKind
    piece: PieceKind
    title: str
    underside: bool  # whether the piece as a whole drops and has an underside to look at
    allowed_deg: float
    slots: tuple[Slot, ...]
    order: tuple[str, ...]
    through: tuple[Choice, ...]
    dross: tuple[DrossChoice, ...]
    dross_looks: str
    strip_answers: tuple[Choice, ...]
    methods: tuple[MethodChoice, ...]
    items: tuple[Item, ...] = ()
    looks_whole: tuple[LookFor, ...] = ()
    looks_each: tuple[LookFor, ...] = ()
    looks: tuple[Look, ...] = ()


_EACH_BY_ITSELF: tuple[SheetKind, ...] = ("pierce_ladder", "start_end_ladder", "holes")

VOLTS = "volts"

TITLES: dict[SheetKind, str] = {
    "square": "Square",
    "strip": "A straight",
    "round": "Round slug",
    "strip_ladder": "Speed strips",
    "height_ladder": "Height strips",
    "pierce_ladder": "Pierces",
    "start_end_ladder": "Starts and ends",
    "holes": "Holes in a bar",
    "hole": "One hole",
    "corner": "Corners",
    "long_strip": "Long strip",
    "own_part": "A part of our own",
}
"""What may lie in the hand, as it is called."""


@dataclass(frozen=True)
class LoggedBefore:
    """What was logged on a sheet before: a cut with its readings' ids and what was typed of them, and its looks."""

    cut: Cut
    edge_ids: Sequence[int]
    told: Sequence[str] = ()
    looks: tuple[Look, ...] = ()


def log_sheet(
    campaign: Campaign,
    kind: SheetKind = "square",
    known: LoggedBefore | None = None,
    *,
    again: Sequence[tuple[Side, float]] = (),
    items: tuple[Item, ...] = (),
    instruments: Sequence[Instrument] = USUAL_INSTRUMENTS,
) -> LogSheet:
    """The sheet of a piece, or of one that was logged before.

    Edges to read ``again`` have an empty slot more, which comes first: the reading there stays. The first of the
    ``instruments`` is the one in the hand.
    """
    good = good_side(campaign.torch_set.swirl)
    u = u_deg(instruments[0], campaign.thickness_mm)
    left = (
        list(zip(known.cut.edges, known.edge_ids, known.told or [""] * len(known.edge_ids), strict=True))
        if known
        else []
    )
    slots = []
    asked = _asked_of_comb(items) if kind in COMBS and not known else _asked(good, kind)
    for side, heading, item in asked:
        read = next((r for r in left if (r[0].side, r[0].heading_deg) == (side, heading)), None)
        if read is not None:
            left.remove(read)
        slots.append(_slot(side, heading, good, read or u, kind))
        if item:
            slots[-1] = _of_comb(slots[-1], item)
    slots += [_slot(r[0].side, r[0].heading_deg, good, r, kind) for r in left]
    once_more = [_once_more(_slot(side, heading, good, u, kind)) for side, heading in again]
    slots = [*once_more, *slots]
    kept = [s.key for s in slots if s.kept or s in once_more]
    scrap = [s.key for s in slots if s.key not in kept]
    return LogSheet(
        kind,
        counts_as(kind),
        TITLES[kind],
        kind not in _EACH_BY_ITSELF,
        campaign.target.bevel_deg,
        tuple(slots),
        (*kept, VOLTS, *scrap),
        tuple(Choice(value, label) for value, label in THROUGH.items()),
        _dross_choices(),
        DROSS_LOOKS,
        tuple(a.choice for a in STRIP_ANSWERS.values()),
        _methods(campaign, kind, instruments),
        items,
        WHOLE[kind],
        ITEMS.get(kind, ()),
        known.looks if known else (),
    )


def _methods(
    campaign: Campaign, kind: SheetKind, instruments: Sequence[Instrument]
) -> tuple[MethodChoice, ...]:
    """What reads an edge of this piece: a mean of two edges only where both came from the same setting."""
    thickness, target = campaign.thickness_mm, campaign.target.bevel_deg
    found = []
    for instrument in instruments:
        told, facts = (
            settling(instrument, instruments, thickness, target),
            METHOD_FACTS[instrument.method],
        )
        if facts.reads != "one edge" and (kind != "strip" or instrument.method == "sizes"):
            continue
        found.append(
            MethodChoice(
                instrument.name,
                instrument.method,
                told.u_deg,
                facts.unit,
                facts.label,
                facts.reads,
                facts.mind,
                told.repeats == 1,
                told.sentence,
            )
        )
    return tuple(found)


def _asked(good: Side, kind: SheetKind) -> list[tuple[ReadSide, float, int]]:
    """What the advice needs of a piece: of a square its four kept edges and one scrap edge, which tells
    process from swirl; of a straight both edges of its slot; of a round or a hole its kept edge all round; of a part
    of one's own its kept sides. A piece that is looked at for a thing of its own has no edge to read."""
    scrap = other_side(good)
    if kind == "square":
        return [*((good, h, 0) for h in square_as_cut_deg(good)), (scrap, far_side_heading_deg(good), 0)]
    if kind == "strip":  # two widths give the mean of both edges
        return [(s, STRIP_HEADING_DEG, 0) for s in (good, scrap, "both")]
    if kind in COMBS:
        return [(good, STRIP_HEADING_DEG, 0), (scrap, STRIP_HEADING_DEG, 0)]
    if kind == "round":  # a slug is read all round on its kept side
        return [(good, h, 0) for h in ROUND_HEADINGS_DEG]
    if kind in ("hole", "own_part"):  # a hole at the four ways the torch went
        return [(good, h, 0) for h in SQUARE_HEADINGS_DEG]
    return []


def _asked_of_comb(items: Sequence[Item]) -> list[tuple[ReadSide, float, int]]:
    """Strip by strip as they lie in the hand: left flank, then right; each the edge of another slot."""
    slots = len(items)
    flanks = [f for strip in range(1, slots + 2) for f in flanks_of_strip(strip, slots) if f]
    return [(f.side, STRIP_HEADING_DEG, f.slot) for f in flanks]


def _of_comb(slot: Slot, item: int) -> Slot:
    """The edge of a slot, by the strip and the side of it where a hand finds it."""
    side: Side = "right" if slot.side == "right" else "left"
    flank = "left" if side == "right" else "right"  # of the strip that lies on that side of the slot
    label = f"Strip {strip_of(item, side)}, {flank} edge: slot {item}, {side} side of travel"
    return replace(slot, key=f"{item} {slot.key}", item=item, label=label)


def _slot(
    side: str,
    heading: float,
    good: Side,
    read: tuple[EdgeReading, int, str] | float,
    kind: SheetKind,
) -> Slot:
    """A slot with its reading and that reading's id, or with the uncertainty that one will have."""
    kept = side in (good, "both")
    # Of a square; the only scrap read of a strip is its slot's.
    beside = heading == far_side_heading_deg(good) and kind == "square"
    what = "Kept edge" if kept else "Near edge of the scrap bar" if beside else "Other edge of the slot"
    where = cut_toward(heading)
    label = f"{'Mean of both edges' if side == 'both' else what}, {where}"
    if isinstance(read, float):
        return Slot(f"{side} {heading:g}", side, heading, kept, label, read)
    edge, edge_id, told = read
    facts = (edge.u_deg, edge.method, edge_id, edge.bevel_deg)
    return Slot(f"reading {edge_id}", side, heading, kept, label, *facts, told=told)


def check_edges(kind: SheetKind, edges: Sequence[EdgeReading], campaign: Campaign) -> None:
    """Raise TradeError for a reading of an edge that the piece does not have."""
    good = good_side(campaign.torch_set.swirl)
    if edges and not _asked(good, kind):
        raise TradeError(
            "edges", f"{TITLES[kind].lower()} have no edge that is read: look at each of them."
        )
    for edge in edges:
        if kind == "square" and edge.heading_deg % 90 != 0:
            raise TradeError(
                "edges",
                f"a square is cut along 0, 90, 180 and 270 degrees: it has no edge along {edge.heading_deg:g}.",
            )
        if kind in ("round", "hole") and edge.side == "both":
            raise TradeError("edges", f"a {kind} has one edge: say on which side of travel it was read.")


def _once_more(slot: Slot) -> Slot:
    return replace(
        slot, key=f"again {slot.key}", label=f"Once more: {slot.label[0].lower()}{slot.label[1:]}"
    )


def _dross_choices() -> tuple[DrossChoice, ...]:
    bottom: tuple[DrossKind, ...] = ("low_speed", "high_speed")
    return (
        DrossChoice(None, 0, "None", "clean underside"),
        *(DrossChoice(k, g, DROSS[k], DROSS_EFFORT[g]) for k in bottom for g in range(1, 5)),
    )


@dataclass(frozen=True)
class StripAnswer:
    """What a strip of a coarse ladder looks like from below, in one tap."""

    choice: Choice
    through: Through
    dross: tuple[tuple[DrossKind, int], ...] | None


# A hard bead wants a chisel at least, chunks come off with a scraper: what a glance can tell.
STRIP_ANSWERS = {
    a.choice.value: a
    for a in (
        StripAnswer(Choice("not_through", "Not through", "far too fast"), "none", None),
        StripAnswer(Choice("bead", "Hard bead", "ran fast"), "full", (("high_speed", 3),)),
        StripAnswer(Choice("clean", "Clean", "or brushes off"), "full", ()),
        StripAnswer(Choice("chunks", "Chunks", "ran slow"), "full", (("low_speed", 2),)),
    )
}
