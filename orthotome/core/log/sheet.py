"""The sheet that a cut is logged on: which edges are asked for, in which order, and the words to tap.

A slot is one edge as it lies in the hand. A cut that was logged before opens with every reading it has,
each in a slot of its own, with the uncertainty and the method it was read with.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from orthotome.core.edge.edges import (
    SQUARE_HEADINGS_DEG,
    Side,
    cut_toward,
    far_side_heading_deg,
    good_side,
    other_side,
)
from orthotome.core.edge.measuring import angle_gauge_u_deg
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


SWAPPED_DEG = (
    1.5  # that a kept edge may be worse than the scrap beside it before it is asked about; assumption
)
SWAPPED_QUESTION = (
    "The kept edge reads farther from square than the scrap beside it. With this swirl it is mostly the other way "
    "round: were the two taken for each other?"
)
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
class LogSheet:
    """Slots in the order in which they lie round the piece, and ``order``: that in which they are read,
    with the volts among them."""

    piece: PieceKind
    allowed_deg: float
    slots: tuple[Slot, ...]
    order: tuple[str, ...]
    through: tuple[Choice, ...]
    dross: tuple[DrossChoice, ...]
    dross_looks: str
    swapped_deg: float
    swapped_question: str
    strip_answers: tuple[Choice, ...]


VOLTS = "volts"


def log_sheet(
    campaign: Campaign,
    piece: PieceKind = "square",
    cut: Cut | None = None,
    edge_ids: Sequence[int] = (),
    again: Sequence[tuple[Side, float]] = (),
) -> LogSheet:
    """The sheet of a piece, or of a cut that was logged on one (``edge_ids`` are its readings').

    Edges to read ``again`` have an empty slot more, which comes first: the reading there stays.
    """
    good, u_deg = good_side(campaign.torch_set.swirl), angle_gauge_u_deg(campaign.thickness_mm)
    asked = _asked(good, piece)
    slots = []
    left = list(zip(cut.edges, edge_ids, strict=True)) if cut else []
    for side, heading in asked:
        read = next((r for r in left if (r[0].side, r[0].heading_deg) == (side, heading)), None)
        if read is not None:
            left.remove(read)
        slots.append(_slot(side, heading, good, read or u_deg))
    slots += [_slot(e.side, e.heading_deg, good, (e, edge_id)) for e, edge_id in left]
    once_more = [_once_more(_slot(side, heading, good, u_deg)) for side, heading in again]
    slots = [*once_more, *slots]
    kept = [s.key for s in slots if s.kept or s in once_more]
    scrap = [s.key for s in slots if s.key not in kept]
    return LogSheet(
        piece,
        campaign.target.bevel_deg,
        tuple(slots),
        (*kept, VOLTS, *scrap),
        tuple(Choice(value, label) for value, label in THROUGH.items()),
        _dross_choices(),
        DROSS_LOOKS,
        SWAPPED_DEG,
        SWAPPED_QUESTION,
        tuple(a.choice for a in STRIP_ANSWERS.values()),
    )


def _asked(good: Side, piece: PieceKind) -> list[tuple[Side, float]]:
    """What the advice needs of a piece: of a square its four kept edges and one scrap edge, which tells
    process from swirl; of a strip both edges of its slot; of a round or a hole its kept edge all round."""
    scrap = other_side(good)
    if piece == "square":
        return [*((good, h) for h in SQUARE_HEADINGS_DEG), (scrap, far_side_heading_deg(good))]
    if piece == "strip":
        return [(good, STRIP_HEADING_DEG), (scrap, STRIP_HEADING_DEG)]
    # A slug is read all round, a hole at the four ways the torch went; both on their kept side.
    return [(good, h) for h in (ROUND_HEADINGS_DEG if piece == "round" else SQUARE_HEADINGS_DEG)]


def _slot(side: str, heading: float, good: Side, read: tuple[EdgeReading, int] | float) -> Slot:
    """A slot with its reading and that reading's id, or with the uncertainty that one will have."""
    kept = side in (good, "both")
    beside = heading == far_side_heading_deg(
        good
    )  # of a square; the only scrap read of a strip is its slot's
    what = "Kept edge" if kept else "Near edge of the scrap bar" if beside else "Other edge of the slot"
    where = cut_toward(heading)
    if isinstance(read, float):
        return Slot(f"{side} {heading:g}", side, heading, kept, f"{what}, {where}", read)
    edge, edge_id = read
    label = f"{'Both edges' if side == 'both' else what}, {where}"
    told = (edge.u_deg, edge.method, edge_id, edge.bevel_deg)
    return Slot(f"reading {edge_id}", side, heading, kept, label, *told)


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
