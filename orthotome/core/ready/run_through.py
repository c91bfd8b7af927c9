"""Ready to cut: what must be true before the first cut of a session means anything.

The run-through asks only what applies to this job on this table and is due again: some things hold for
a session, some for a day, some for so many starts, some once for a table. Cautions are no questions:
they are shown and acknowledged, and cannot be dropped. A shop may drop, re-time and add the rest.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from orthotome.core.quantities import thickness as plate_words
from orthotome.core.stock.metals import metal_named

Group = Literal["safe", "parts", "air", "machine", "dry_run", "first_cut"]
Period = Literal["session", "day", "days", "starts", "once"]
Bed = Literal["water", "downdraft", "open"]
HeightControlKind = Literal["by_hand", "touch_off", "voltage"]
TouchOff = Literal["none", "ohmic", "float_switch"]
Starting = Literal["high_frequency", "contact"]

SESSION_H = 4.0  # after so long away the table may have been switched off or used by another. Assumption
DAY_H = 14.0  # "today": since this morning

GROUPS: dict[Group, str] = {
    "safe": "Make safe",
    "parts": "Torch and parts",
    "air": "Air and gas",
    "machine": "The machine",
    "dry_run": "Dry run",
    "first_cut": "First cut",
}


@dataclass(frozen=True)
class Every:
    """How long an answer holds: a session, a day, ``number`` days or starts, or for good."""

    period: Period
    number: int = 1


@dataclass(frozen=True)
class Case:
    """The job and the table that the run-through is for. None is "the table's page does not say"."""

    metal: str
    thickness_mm: float
    torch_set: str
    amperage_a: float
    gas: str
    shield_gas: str | None = None
    bed: Bed = "open"
    height_control: HeightControlKind | None = None
    touch_off: TouchOff | None = None
    starting: Starting | None = None
    arc_signal: bool | None = None
    switches_itself_on: bool | None = None

    @property
    def all_gases(self) -> str:
        """Plasma and shield gas in lower case, to look for a gas in."""
        return f"{self.gas} {self.shield_gas or ''}".lower()


Hook = Literal["metal", "plate", "set", "program"]
"""What an answer can hang on: given for one plate, it says nothing of the next."""

HOOKS: dict[Hook, str] = {
    "metal": "another metal",
    "plate": "another plate",
    "set": "another torch set or gas",
    "program": "another program",
}


def held_for(case: Case, program: str) -> dict[Hook, str]:
    """What a job's answers are given for; ``program`` names the piece that is to be run."""
    plate = f"{case.metal}, {case.thickness_mm:g}"
    fitted = f"{case.torch_set}, {case.amperage_a:g}, {case.gas}, {case.shield_gas or ''}"
    return {"metal": case.metal, "plate": plate, "set": fitted, "program": program}


@dataclass(frozen=True)
class Item:
    """One thing to check. ``ask`` and ``if_not`` are told with the case's own numbers.

    It falls due when any of what it ``hangs_on`` is another, however lately it was right.
    """

    code: str
    group: Group
    ask: str
    if_not: str
    every: Every = Every("session")
    hangs_on: tuple[Hook, ...] = ()
    caution: bool = False
    applies: Callable[[Case], bool] = field(default=lambda _: True, compare=False)


@dataclass(frozen=True)
class LastRight:
    """When an item was last right on this table: hours and starts ago, and what is another since."""

    hours: float
    starts: int
    changed: frozenset[Hook] = frozenset()


@dataclass(frozen=True)
class ShopRules:
    """What a shop changed: items dropped, re-timed, and its own."""

    dropped: frozenset[str] = frozenset()
    every: Mapping[str, Every] = field(default_factory=dict)
    own: tuple[Item, ...] = ()


@dataclass(frozen=True)
class Due:
    """An item that is asked now, and why now."""

    item: Item
    because: str


def filter_shade(amperage_a: float) -> int:
    """Least shade of an eye filter, typical (domain section 14); local rules may ask more."""
    return 6 if amperage_a <= 60 else 8 if amperage_a <= 80 else 9


def run_through(
    case: Case, last: Mapping[str, LastRight], rules: ShopRules | None = None, *, whole: bool = False
) -> tuple[Due, ...]:
    """What to ask now, in the order of work. ``whole`` asks all that applies, due or not.

    ``last`` is by code, for this table; an item that was never right is due. Cautions are always due at
    the beginning of a session and cannot be dropped.
    """
    shop = rules or ShopRules()
    order = list(GROUPS)
    due = []
    for item in sorted((*ITEMS, *shop.own), key=lambda i: order.index(i.group)):
        if not item.applies(case) or (item.code in shop.dropped and not item.caution):
            continue
        timed = item if item.caution else replace(item, every=shop.every.get(item.code, item.every))
        because = _because(timed, last.get(item.code))
        if because or whole:
            due.append(Due(_told(timed, case), because or "not due yet"))
    return tuple(due)


def _because(item: Item, last: LastRight | None) -> str | None:
    """Why an item is due, or None while its last answer holds."""
    every = item.every
    if last is None:
        return "never checked on this table"
    changed = next((HOOKS[h] for h in item.hangs_on if h in last.changed), None)
    if changed is not None:
        return f"{changed} since it was right"
    if every.period == "once":
        return None
    if every.period == "starts":
        return f"{last.starts} starts since" if last.starts >= every.number else None
    held = {"session": SESSION_H, "day": DAY_H, "days": 24.0 * every.number}[every.period]
    return f"last right {_ago(last.hours)}" if last.hours >= held else None


def _ago(hours: float) -> str:
    return f"{hours:.0f} hours ago" if hours < 48 else f"{hours / 24:.0f} days ago"


def _told(item: Item, case: Case) -> Item:
    metal = metal_named(case.metal)
    numbers = {
        "shade": filter_shade(case.amperage_a),
        "amperage": f"{case.amperage_a:g}",
        "set": case.torch_set,
        "metal": metal.label,
        "fume": metal.fume or "",
        "fire": metal.fire or "",
        "gas": case.gas if not case.shield_gas else f"{case.gas} and {case.shield_gas}",
        "plate": plate_words(case.thickness_mm, case.metal),
    }
    if item.code.startswith(OWN):
        return item  # a shop's own words stand as they were typed, braces and all
    return replace(item, ask=item.ask.format(**numbers).strip(), if_not=item.if_not.format(**numbers))


OWN = "own-"
"""What the codes of a shop's own items begin with."""


def _is_wet(case: Case) -> bool:
    return case.bed == "water"


def _is_aluminium(case: Case) -> bool:
    return case.metal == "aluminium"


def _holds_gas(*names: str) -> Callable[[Case], bool]:
    return lambda case: any(n in case.all_gases for n in names)


ITEMS: Sequence[Item] = (
    Item(
        "eyes_and_skin",
        "safe",
        "Filter shade {shade} or darker at {amperage} A for everyone in sight of the arc, skin covered, "
        "ears too. Local rules may ask more.",
        "Do not start: an arc blinds in the time it takes to look. Screens up, bystanders out.",
        caution=True,
        hangs_on=("set",),
    ),
    Item(
        "fume",
        "safe",
        "Extraction runs before the arc. {fume}",
        "Do not start without extraction; a mask by your safety sheet comes on top, not instead.",
        caution=True,
        hangs_on=("metal",),
    ),
    Item(
        "fire",
        "safe",
        "Rails, catch tray and floor clear of slag, rags and tools; extinguisher at hand; somebody "
        "watches for fire after the last cut.",
        "Clear it first: sparks fly many metres and smoulder for an hour.",
        caution=True,
    ),
    Item(
        "metal_that_burns",
        "safe",
        "{fire}",
        "Do not cut it here: a metal fire cannot be put out with what hangs on the wall of a steel shop.",
        caution=True,
        applies=lambda c: metal_named(c.metal).fire is not None,
        hangs_on=("metal",),
    ),
    Item(
        "hydrogen_under_aluminium",
        "safe",
        "Aluminium over water makes hydrogen that gathers under the plate and explodes: air the tank and "
        "follow the table's manual.",
        "Do not cut aluminium here until the tank is aired as its manual says.",
        caution=True,
        applies=lambda c: _is_aluminium(c) and _is_wet(c),
        hangs_on=("metal",),
    ),
    Item(
        "aluminium_dust",
        "safe",
        "Steel sparks and aluminium dust do not meet: collector and tray cleaned of the one before the "
        "other.",
        "Clean the collector first: aluminium dust burns and explodes.",
        caution=True,
        applies=lambda c: _is_aluminium(c) and not _is_wet(c),
        hangs_on=("metal",),
    ),
    Item(
        "asphyxiation",
        "safe",
        "{gas} pushes air out of pits and closed rooms and gives no warning: air the room, chain the "
        "cylinders.",
        "Air the room first; ask a gas fitter where it cannot be.",
        caution=True,
        applies=_holds_gas("nitrogen", "argon"),
        hangs_on=("set",),
    ),
    Item(
        "hydrogen_gas",
        "safe",
        "Hydrogen in the process gas: no leaks, no flame, hoses and regulators meant for it.",
        "Close the cylinder and have a gas fitter look.",
        caution=True,
        applies=_holds_gas("hydrogen"),
        hangs_on=("set",),
    ),
    Item(
        "shock",
        "safe",
        "Up to 400 V at the torch: the source is isolated before hands go near it, and nobody with a "
        "pacemaker stands by.",
        "Isolate at the source first; the equipment's manual says how.",
        caution=True,
    ),
    Item(
        "high_frequency",
        "safe",
        "High-frequency starting: kilovolt pulses at each start, felt by screens and switches. Leads whole, "
        "electronics away.",
        "Have damaged leads replaced before a start.",
        caution=True,
        applies=lambda c: c.starting == "high_frequency",
    ),
    Item(
        "emergency_stop",
        "machine",
        "Right machine profile, motors on, emergency stop tried and released, links alive?",
        "Find out why before anything moves: a stop that does not stop is repaired first.",
    ),
    Item(
        "parts_right",
        "parts",
        "Is the {set} in the torch, all of one set, and the source at {amperage} A?",
        "Source off and isolated, then fit one whole set and set its amperage: above the rating the "
        "nozzle is destroyed.",
        hangs_on=("set",),
    ),
    Item(
        "parts_looked_at",
        "parts",
        "Parts looked at: bore round, electrode pit within its manual's limit, swirl ring whole, shield "
        "clean?",
        "Isolate, then replace what is worn; note it under the table, since a new series begins.",
        Every("starts", 60),
    ),
    Item(
        "clamp",
        "parts",
        "Work clamp on bright metal, on the plate or the slats it lies on?",
        "Grind a bright spot and clamp there: a poor return wanders the arc and confuses touch-off.",
        hangs_on=("plate",),
    ),
    Item(
        "air_flowing",
        "air",
        "Does the pressure at the source hold while the gas flows?",
        "Look at regulator, filter and hose; the Machine page works out where it is lost.",
        hangs_on=("set",),
    ),
    Item(
        "air_drained",
        "air",
        "Water drained today, at the compressor and again at the machine?",
        "Drain now: wet air pits electrodes within a few starts.",
        Every("day"),
        applies=lambda c: "air" in c.all_gases,
    ),
    Item(
        "cylinders",
        "air",
        "Cylinders of {gas} open, and enough in them for the job?",
        "Open or change them; the Machine page works out how long they last.",
        applies=lambda c: c.all_gases.strip() not in ("air", "air air"),
        hangs_on=("set",),
    ),
    Item(
        "water_level",
        "machine",
        "Water at the level these settings hold for?",
        "Set the level: water at the plate is another process, and its settings another row.",
        applies=_is_wet,
        hangs_on=("plate",),
    ),
    Item(
        "downdraft",
        "machine",
        "Fan running, draught felt under this plate?",
        "Clean filters and close the zones that are not under the plate.",
        applies=lambda c: c.bed == "downdraft",
        hangs_on=("plate",),
    ),
    Item(
        "axes",
        "machine",
        "Do the axes run as this table's page says? Two jogs tell.",
        "Go to the Machine page and jog X and Y once: directions read wrong make a leaning jet point the "
        "wrong way.",
        Every("once"),
    ),
    Item(
        "homed",
        "machine",
        "Do the axes know where they stand (reference run since the power came on), and is the zero at this plate's corner?",
        "Run them to their references, turn the plate until the torch keeps beside its edge, and set the zero there.",
        hangs_on=("plate",),
    ),
    Item(
        "flat",
        "machine",
        "Test piece on flat, {plate} {metal} (measured), and the program's extents on the plate?",
        "Measure and move: a warped corner is a height error, a wrong sheet a wrong setting.",
        hangs_on=(
            "plate",
            "program",
        ),
    ),
    Item(
        "touch_off_ohmic",
        "machine",
        "Touch-off tried: clip on, cap and shield clean and dry?",
        "Clean the shield, seat the clip, dry the plate; try it on bare metal.",
        applies=lambda c: c.touch_off == "ohmic",
        hangs_on=("plate",),
    ),
    Item(
        "touch_off_float",
        "machine",
        "Touch-off tried: the switch moves freely, and its offset is right on a gauge block?",
        "Free it and measure the offset again: it shifts every height.",
        applies=lambda c: c.touch_off == "float_switch",
    ),
    Item(
        "height_by_hand",
        "machine",
        "Torch set to pierce height with a gauge block, not by eye?",
        "Lay a block of that thickness under it: by eye it ends up high, and the edge bevels.",
        applies=lambda c: c.touch_off == "none" or c.height_control == "by_hand",
        hangs_on=(
            "plate",
            "set",
        ),
    ),
    Item(
        "dry_run",
        "dry_run",
        "Gone through once in the air, torch and height control BOTH off: did the whole path stay on the plate, and did "
        "you watch it touch and come down?",
        "The Bench writes the piece as a dry run, too. With control on, and no arc for it to hold, nobody can say what Z "
        "does.",
        hangs_on=(
            "plate",
            "program",
        ),
    ),
    Item(
        "switches_itself_on",
        "dry_run",
        "Is height control as you left it once the program runs? Its own words may have changed that: look again.",
        "Strike those words out of the program, or run the piece's dry run, which has none.",
        applies=lambda c: c.height_control == "voltage" and c.switches_itself_on is not False,
        hangs_on=("program",),
    ),
    Item(
        "first_fixed",
        "first_cut",
        "First cut at fixed height, height control off, on flat plate: will you note the volts?",
        "Do: they tie volts to height on this table with these parts, and cost nothing.",
        applies=lambda c: c.height_control == "voltage",
        hangs_on=(
            "plate",
            "set",
        ),
    ),
)
