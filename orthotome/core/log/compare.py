"""Two cuts side by side: what differs, and which of it is more than reading and dialling scatter by.

A difference of two readings *matters* when it is more than two of its standard uncertainties, the root of the
sum of both squares. A setting that differs at all was dialled otherwise. What one of them did not read is no
difference: it is not known.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from orthotome.core.edge.edges import cut_toward, good_side, other_side
from orthotome.core.log.items import SheetKind
from orthotome.core.log.looks import Look, LookFor, looked_for
from orthotome.core.log.sheet import DROSS, THROUGH
from orthotome.core.quantities import length, speed, thickness, volts
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import DROSS_EFFORT, Campaign, Cut, DrossKind

VOLTS_U = 0.7  # of steady arc volts, from cut to cut at one setting; assumption
KERF_U_MM = 0.1  # of a kerf read with a feeler or from sizes; assumption
LAG_U_DEG = 2.0  # of a lag angle read on the edge; assumption
WORN_STARTS = 100  # apart that wear shows between two cuts; assumption
_NOT_READ, _NOT_SEEN = "not read", "not looked at"


@dataclass(frozen=True)
class Shown:
    """A cut with what it was cut in: its campaign's metal, plate and set, and what else was seen of it."""

    campaign: Campaign
    cut: Cut
    kind: SheetKind
    looks: tuple[Look, ...] = ()


@dataclass(frozen=True)
class Difference:
    """One line of the comparison. ``why`` says what makes it matter, or what keeps it from being told."""

    what: str
    one: str
    other: str
    matters: bool
    why: str = ""


def compared(one: Shown, other: Shown) -> tuple[Difference, ...]:
    """Every line of two cuts side by side: the job, the setting, the parts, then what came out."""
    return tuple(
        [
            *_job(one, other),
            *_settings(one, other),
            *_edges(one, other),
            *_underside(one, other),
            *_rest(one, other),
        ]
    )


def _said(what: str, one: str, other: str, why: str = "") -> Difference:
    return Difference(what, one, other, one != other, why if one != other else "")


def _job(one: Shown, other: Shown) -> Iterator[Difference]:
    a, b = one.campaign, other.campaign
    yield _said("Metal", metal_named(a.metal).label, metal_named(b.metal).label, "another metal")
    mine, theirs = thickness(a.thickness_mm, a.metal), thickness(b.thickness_mm, b.metal)
    yield _said("Plate", mine, theirs, "another thickness: its edges are not alike")
    yield _said("Torch set", _set(a), _set(b), "other parts or gas")
    for kind, named, why in (
        ("parts", "Parts fitted", "another set of parts: wear and bore differ"),
        ("mount", "Seat of the torch", "the jet's lean may differ"),
        ("plate", "Sheet", "another sheet"),
        ("signal", "Signal path", "volts from before and after are not alike"),
    ):
        mine, theirs = (str(getattr(c.series, kind) or "not noted") for c in (one.cut, other.cut))
        yield _said(named, mine, theirs, why)
    known = one.cut.starts is not None and other.cut.starts is not None
    apart = abs((one.cut.starts or 0) - (other.cut.starts or 0))
    worn = known and apart > WORN_STARTS
    yield Difference(
        "Starts on the parts", _starts(one.cut), _starts(other.cut), worn, "wear" if worn else ""
    )


def _starts(cut: Cut) -> str:
    return "not known" if cut.starts is None else str(cut.starts)


def _set(campaign: Campaign) -> str:
    s = campaign.torch_set
    return f"{s.name}, {s.amperage_a:g} A, {s.gas}"


_CONTROL = {
    "off": "fixed, control off",
    "by_hand": "by hand: a guess",
    "set_point": "held to a set-point",
    "sampled": "sampled after the pierce",
}


def _settings(one: Shown, other: Shown) -> Iterator[Difference]:
    a, b = one.cut, other.cut
    yield _said(
        "Speed", speed(a.speed_mm_min), speed(b.speed_mm_min), _by(b.speed_mm_min, a.speed_mm_min)
    )
    yield _said("Cut height", length(a.cut_height_mm), length(b.cut_height_mm), "dialled otherwise")
    yield _said("Height while cutting", _CONTROL[a.height_control], _CONTROL[b.height_control])
    yield _measured("Arc voltage", (a.arc_voltage_v, VOLTS_U), (b.arc_voltage_v, VOLTS_U), "V")


def _by(now: float, was: float) -> str:
    return f"{100 * (now / was - 1):+.0f} %"


def _edges(one: Shown, other: Shown) -> Iterator[Difference]:
    """The mean of each side, then every edge that both read."""
    good = good_side(one.campaign.torch_set.swirl)
    for side, named in ((good, "Kept side"), (other_side(good), "Scrap side")):
        means = [_mean(s.cut, side) for s in (one, other)]
        if any(means):
            mine, theirs = (m or (None, 0.0) for m in means)
            yield _measured(f"{named}, mean bevel", mine, theirs, "°", signed=True)
    for read in one.cut.edges:
        twin = next(
            (e for e in other.cut.edges if (e.side, e.heading_deg) == (read.side, read.heading_deg)),
            None,
        )
        if twin is not None:
            named = f"Edge {cut_toward(read.heading_deg)}, {read.side} of travel"
            mine, theirs = (read.bevel_deg, read.u_deg), (twin.bevel_deg, twin.u_deg)
            yield _measured(named, mine, theirs, "°", signed=True)


def _mean(cut: Cut, side: str) -> "Reading | None":
    read = [e for e in cut.edges if e.side == side]
    if not read:
        return None
    u = math.sqrt(sum(e.u_deg**2 for e in read)) / len(read)
    return sum(e.bevel_deg for e in read) / len(read), u


def _underside(one: Shown, other: Shown) -> Iterator[Difference]:
    def through(cut: Cut) -> str:
        return "not noted" if cut.through is None else THROUGH[cut.through]

    yield _said("Through", through(one.cut), through(other.cut))
    kinds: tuple[DrossKind, ...] = ("low_speed", "high_speed", "top_spatter")
    for kind in kinds:
        a, b = one.cut.grade_of(kind), other.cut.grade_of(kind)
        apart = 0 if a is None or b is None else abs(a - b)
        why = "one grade is within what two people differ by" if apart == 1 else ""
        yield Difference(DROSS[kind], _grade(a), _grade(b), apart > 1, why)


def _grade(grade: int | None) -> str:
    return "not looked at" if grade is None else DROSS_EFFORT[grade]


def _rest(one: Shown, other: Shown) -> Iterator[Difference]:
    a, b = one.cut, other.cut
    yield _measured("Lag", (a.lag_deg, LAG_U_DEG), (b.lag_deg, LAG_U_DEG), "°", signed=True)
    kerfs = [None if c.kerf_mm is None else length(c.kerf_mm) for c in (a, b)]
    known = a.kerf_mm is not None and b.kerf_mm is not None
    apart = abs((a.kerf_mm or 0) - (b.kerf_mm or 0)) > 2 * math.sqrt(2) * KERF_U_MM
    yield Difference("Kerf", kerfs[0] or _NOT_READ, kerfs[1] or _NOT_READ, known and apart)
    for asked in looked_for(one.kind, 0):
        mine, theirs = (_seen(asked, shown) for shown in (one, other))
        if asked.choices and (mine or theirs):
            told = mine is not None and theirs is not None and mine != theirs
            yield Difference(asked.question, mine or _NOT_SEEN, theirs or _NOT_SEEN, told)


def _seen(asked: LookFor, shown: Shown) -> str | None:
    """What was tapped there, in words; None where nobody looked."""
    value = next((k.value for k in shown.looks if k.what == asked.what), None)
    return next((c.label for c in asked.choices if c.value == value), None)


Reading = tuple[float | None, float]
"""A value, None where it was not read, and its standard uncertainty."""


def _measured(
    what: str, read: Reading, again: Reading, unit: str, *, signed: bool = False
) -> Difference:
    (one, u_one), (other, u_other) = read, again
    sign = "+" if signed else ""

    def told(value: float | None) -> str:
        if value is None:
            return _NOT_READ
        return volts(value) if unit == "V" else f"{value:{sign}.1f}{unit}"

    if one is None or other is None:
        return Difference(what, told(one), told(other), matters=False)
    u = math.hypot(u_one, u_other)
    apart = other - one
    matters = abs(apart) > 2 * u
    why = f"{apart:+.1f}{'' if unit == '°' else ' '}{unit}, read to ±{2 * u:.1f}"
    return Difference(what, told(one), told(other), matters, why)
