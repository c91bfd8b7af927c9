"""Starting numbers: the shop's rows, what lies between them, and when to refuse.

Between two rows of one metal, set and gas, speed and pierce delay run straight in log-log over
thickness (cutting speed falls as a power of thickness); voltage, kerf and heights run straight.
Beyond the outermost row the numbers are a guess that looks like knowledge: up to 15 % of thickness
they are given with a loud warning, past that, or from a single row, refused.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, fields, replace
from typing import Literal

from orthotome.core.quantities import length, speed, thickness
from orthotome.core.stock.hazards import refused_because
from orthotome.core.stock.metals import metal_named

How = Literal["recipe", "row", "interpolated", "extended", "analogue", "refused"]
"""How starting numbers were reached; ``recipe`` is the shop's own proof, which the command does not know of."""

EXTEND_SHARE = 0.15  # of the outermost row's thickness (domain rule)
WIDE_RATIO = 3.0  # rows further apart than this in thickness interpolate with a warning
SAME_THICKNESS_MM = 0.02  # closer than any calliper in the shop tells apart
GOOD_CONDUCTOR_SHARE = 0.6  # of mild steel's speed to start from; assumption, "well below"


@dataclass(frozen=True)
class StartValues:
    """Starting numbers. ``arc_voltage_v`` is None where nothing supports a voltage."""

    speed_mm_min: float
    arc_voltage_v: float | None
    cut_height_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    kerf_mm: float


@dataclass(frozen=True)
class RowDetails:
    """What else a row holds for; None is "the source does not say".

    Pressures and flows of plasma and shield gas apart. ``water_level_mm`` is the water's surface above
    the plate's underside (negative: below it). Least and most are the thicknesses between which the
    source calls the row sensible.
    """

    shield_gas: str | None = None
    gas_pressure_kpa: float | None = None
    gas_flow_l_min: float | None = None
    shield_pressure_kpa: float | None = None
    shield_flow_l_min: float | None = None
    surface: str | None = None
    bed: str | None = None
    water_level_mm: float | None = None
    least_thickness_mm: float | None = None
    most_thickness_mm: float | None = None

    @property
    def flow_l_min(self) -> float | None:
        """Plasma and shield gas together; None where the plasma gas's is not said."""
        return (
            None
            if self.gas_flow_l_min is None
            else self.gas_flow_l_min + (self.shield_flow_l_min or 0.0)
        )

    @property
    def water_touches(self) -> bool:
        """Tank water at the plate makes another process of it."""
        return self.bed == "water" and self.water_level_mm is not None and self.water_level_mm >= 0


@dataclass(frozen=True)
class StartRow:
    """One row of the Book: what a manual or a proven setting says for one thickness."""

    metal: str
    thickness_mm: float
    torch_set: str
    amperage_a: float
    gas: str
    values: StartValues
    source: str
    details: RowDetails = RowDetails()
    right: bool = field(
        default=False, compare=False
    )  # held against its source, and found as it stands there

    @property
    def place(self) -> tuple[object, ...]:
        """What it is the row *of*: another row for the same place supersedes it."""
        d = self.details
        process = (self.torch_set, self.amperage_a, self.gas, d.shield_gas)
        where = (d.surface, d.bed, d.water_level_mm)
        return self.metal, round(self.thickness_mm, 3), *process, *where

    def is_as_thick_as(self, other: "StartRow") -> bool:
        """To a thousandth: nearer is nothing that a row could be told apart by."""
        return round(self.thickness_mm, 3) == round(other.thickness_mm, 3)


@dataclass(frozen=True)
class StartingNumbers:
    """The answer: how it was reached, from which rows, and what to know before using it."""

    how: How
    values: StartValues | None
    rows: tuple[StartRow, ...]
    warnings: tuple[str, ...]


def from_recipe(values: StartValues, row: StartRow) -> StartingNumbers:
    """Starting numbers that were proven here: they come before any row."""
    return StartingNumbers("recipe", values, (row,), metal_named(row.metal).cautions)


def sets_that_could(rows: Iterable[StartRow], *, metal: str, thickness_mm: float) -> tuple[str, ...]:
    """The torch sets whose own rows of a metal answer for a thickness, by name."""
    by_set: dict[str, list[StartRow]] = {}
    wanted = {metal, metal_named(metal).cuts_as}
    for row in rows:
        if row.metal in wanted:
            by_set.setdefault(row.torch_set, []).append(row)
    could = []
    for name, own in by_set.items():
        for gas in {r.gas for r in own}:
            found = starting_numbers(
                own, metal=metal, thickness_mm=thickness_mm, torch_set=name, gas=gas
            )
            if found.values is not None:
                could.append(name)
                break
    return tuple(sorted(could))


def named_instead(
    refused: StartingNumbers, could: Sequence[str], thickness_mm: float
) -> StartingNumbers:
    """A refusal that names the sets which could do it; as it is where none could."""
    if refused.values is not None or not could:
        return refused
    names = " and ".join(f"the {name}" for name in could)
    have = "has rows" if len(could) == 1 else "have rows"
    sentence = f"{names[0].upper()}{names[1:]} {have} for {thickness(thickness_mm)}."
    return replace(refused, warnings=(*refused.warnings, sentence))


def usual_kerf_mm(amperage_a: float) -> float:
    """What a kerf is about where no source gives it: wider with the current. Assumption, until one is measured."""
    return round(0.8 + 0.014 * amperage_a, 1)


def kerf_not_measured_says(kerf_mm: float) -> str:
    """That a kerf which is about to be proven is only its source's."""
    return (
        f"The kerf of {length(kerf_mm)} is the one that was begun with: nobody measured it here. Measure one slot, or size a square: parts "
        "are off by what it is off."
    )


def starting_numbers(
    rows: Iterable[StartRow],
    *,
    metal: str,
    thickness_mm: float,
    torch_set: str,
    gas: str | None = None,
) -> StartingNumbers:
    """Starting numbers for a metal and thickness with one torch set.

    Coated steel takes its base metal's rows as they are, with a fume warning. A metal without rows
    takes mild steel's numbers of the same thickness, without the voltage (``analogue``). What is no metal, or
    burns or poisons whatever is set, is refused.
    """
    not_cut = refused_because(metal)
    if not_cut is not None:
        return _refused(not_cut)
    of_set = [r for r in rows if r.torch_set == torch_set and (gas is None or r.gas == gas)]
    wanted = metal_named(metal)
    for cut_as in (metal, wanted.cuts_as, "mild_steel"):
        of_metal = [r for r in of_set if r.metal == cut_as]
        if of_metal:
            break
    else:
        return _refused(
            f"The Book has no rows for {wanted.label} with {torch_set}, and none for mild steel to "
            "start from: add rows from the torch's manual."
        )
    gases = sorted({" with ".join(filter(None, (r.gas, r.details.shield_gas))) for r in of_metal})
    if len(gases) > 1:
        return _refused(f"The rows of {torch_set} are for {' and '.join(gases)}: choose the gas.")
    of_process, mixed = _one_process(of_metal)
    of_process, doubled = _one_a_thickness(of_process, thickness_mm)
    if cut_as in (metal, wanted.cuts_as):
        found = _between(of_process, thickness_mm)
        if cut_as != metal and found.values is not None:
            cuts_as = metal_named(cut_as).label
            whose = f"These are the numbers of {cuts_as}: a coating changes the fume, and not the cut."
            found = replace(found, warnings=(*found.warnings, whose))
    else:
        found = _analogue(of_process, thickness_mm, wanted.label, wanted.conducts_well)
    outside = _outside_sensible(found.rows, thickness_mm)
    return replace(found, warnings=(*found.warnings, *doubled, *mixed, *outside, *wanted.cautions))


def _one_process(rows: Sequence[StartRow]) -> tuple[list[StartRow], tuple[str, ...]]:
    """The rows of one amperage, with the plate dry; what was left out is said."""
    rating = max(r.amperage_a for r in rows)
    kept = [r for r in rows if r.amperage_a == rating]
    warnings = []
    if len(kept) < len(rows):
        warnings.append(f"Rows at other amperages than {rating:g} A were left out: another process.")
    dry = [r for r in kept if not r.details.water_touches]
    if dry and len(dry) < len(kept):
        warnings.append("Rows with water at the plate were left out: another process.")
    return dry or kept, tuple(warnings)


def _one_a_thickness(
    rows: Sequence[StartRow], thickness_mm: float
) -> tuple[list[StartRow], tuple[str, ...]]:
    """Of rows that no calliper tells apart the one nearest to what is asked, and the later of two for the same
    thickness; which of those stands is asked where the numbers are used."""
    kept: list[StartRow] = []
    asked: dict[float, str] = {}
    for row in sorted(reversed(rows), key=lambda r: abs(r.thickness_mm - thickness_mm)):
        near = [k for k in kept if abs(k.thickness_mm - row.thickness_mm) <= SAME_THICKNESS_MM]
        if not near:
            kept.append(row)
        elif near[0].is_as_thick_as(row) and near[0].values != row.values:
            asked[near[0].thickness_mm] = which_stands(row, near[0], taken=True)
    return kept, tuple(asked[k.thickness_mm] for k in kept[:2] if k.thickness_mm in asked)


def which_stands(earlier: StartRow, later: StartRow, *, taken: bool = False) -> str:
    """The question that two rows of one process and thickness are."""
    told = " and ".join(f"{speed(r.values.speed_mm_min)} ({r.source})" for r in (earlier, later))
    meanwhile = " The later one was taken." if taken else ""
    return (
        f"Two rows stand for {thickness(later.thickness_mm)}, with {told}: which one stands?{meanwhile} "
        "Strike the other out."
    )


def _outside_sensible(rows: Sequence[StartRow], thickness_mm: float) -> tuple[str, ...]:
    """A warning for each bound of the rows used that the thickness lies outside."""
    found = []
    for r in rows:
        least, most = r.details.least_thickness_mm, r.details.most_thickness_mm
        if least is not None and thickness_mm < least - SAME_THICKNESS_MM:
            found.append(f"{r.source} calls {r.torch_set} sensible from {thickness(least)} only.")
        if most is not None and thickness_mm > most + SAME_THICKNESS_MM:
            found.append(f"{r.source} calls {r.torch_set} sensible up to {thickness(most)} only.")
    return tuple(dict.fromkeys(found))


def _analogue(
    steel: Sequence[StartRow], thickness_mm: float, label: str, conducts_well: bool
) -> StartingNumbers:
    found = _between(steel, thickness_mm)
    if found.values is None:
        return found
    share = GOOD_CONDUCTOR_SHARE if conducts_well else 1.0
    values = replace(found.values, arc_voltage_v=None, speed_mm_min=found.values.speed_mm_min * share)
    note = (
        f"No rows for {label}: these are mild steel's numbers. Keep height control off (its "
        "voltage is unknown) and cut a coarse speed ladder first."
    )
    slower = (f"{label.capitalize()} carries heat away: the speed starts well below steel's.",)
    warnings = (note, *(slower if conducts_well else ()), *found.warnings)
    return StartingNumbers("analogue", values, found.rows, warnings)


def _between(rows: Sequence[StartRow], thickness_mm: float) -> StartingNumbers:
    ordered = sorted(rows, key=lambda r: r.thickness_mm)
    for row in ordered:
        if abs(row.thickness_mm - thickness_mm) <= SAME_THICKNESS_MM:
            return StartingNumbers("row", row.values, (row,), ())
    below = [r for r in ordered if r.thickness_mm < thickness_mm]
    above = [r for r in ordered if r.thickness_mm > thickness_mm]
    if below and above:
        return _interpolated(below[-1], above[0], thickness_mm)
    if len(ordered) < 2:
        return _refused(
            f"There is one row only, at {thickness(ordered[0].thickness_mm)}: one row does not say how "
            "the numbers change with thickness. Add a second row from the manual."
        )
    return _beyond(ordered, thickness_mm)


def _interpolated(low: StartRow, high: StartRow, thickness_mm: float) -> StartingNumbers:
    warnings = []
    if high.thickness_mm / low.thickness_mm > WIDE_RATIO:
        warnings.append(
            f"The two rows are far apart ({thickness(low.thickness_mm)} and "
            f"{thickness(high.thickness_mm)}): "
            "treat what lies between as a rough start."
        )
    return StartingNumbers(
        "interpolated", _on_line(low, high, thickness_mm), (low, high), tuple(warnings)
    )


def _beyond(ordered: Sequence[StartRow], thickness_mm: float) -> StartingNumbers:
    over = thickness_mm > ordered[-1].thickness_mm
    outer, inner = (ordered[-1], ordered[-2]) if over else (ordered[0], ordered[1])
    beyond = abs(thickness_mm - outer.thickness_mm) / outer.thickness_mm
    where = "thicker" if over else "thinner"
    if beyond > EXTEND_SHARE + 1e-9:
        return _refused(
            f"{thickness(thickness_mm)} is {beyond:.0%} {where} than the outermost row "
            f"({thickness(outer.thickness_mm)}). Past 15 % Orthotome does not guess: add a row."
        )
    values = _on_line(*((inner, outer) if over else (outer, inner)), thickness_mm)
    if min(v for v in _numbers(values)) < 0 or min(values.speed_mm_min, values.cut_height_mm) <= 0:
        return _refused(
            f"The trend of the last two rows runs below zero at {thickness(thickness_mm)}: add a row."
        )
    warning = (
        f"Beyond the rows: {thickness(thickness_mm)} is {beyond:.0%} {where} than the outermost row. "
        "The trend of the last two rows was carried on; expect to be off."
    )
    return StartingNumbers("extended", values, (outer, inner), (warning,))


def _on_line(low: StartRow, high: StartRow, thickness_mm: float) -> StartValues:
    a, b = low.values, high.values
    straight = (thickness_mm - low.thickness_mm) / (high.thickness_mm - low.thickness_mm)
    in_log = math.log(thickness_mm / low.thickness_mm) / math.log(high.thickness_mm / low.thickness_mm)

    def line(x: float, y: float) -> float:
        return x + (y - x) * straight

    def power(x: float, y: float) -> float:
        # A pierce delay of 0 is a value, and has no logarithm: then the straight line.
        return x * (y / x) ** in_log if x > 0 and y > 0 else line(x, y)

    volts_known = a.arc_voltage_v is not None and b.arc_voltage_v is not None
    return StartValues(
        speed_mm_min=power(a.speed_mm_min, b.speed_mm_min),
        arc_voltage_v=line(a.arc_voltage_v or 0.0, b.arc_voltage_v or 0.0) if volts_known else None,
        cut_height_mm=line(a.cut_height_mm, b.cut_height_mm),
        pierce_height_mm=line(a.pierce_height_mm, b.pierce_height_mm),
        pierce_delay_s=power(a.pierce_delay_s, b.pierce_delay_s),
        kerf_mm=line(a.kerf_mm, b.kerf_mm),
    )


def _numbers(values: StartValues) -> list[float]:
    found = (getattr(values, f.name) for f in fields(values))
    return [v for v in found if v is not None]


def _refused(why: str) -> StartingNumbers:
    return StartingNumbers("refused", None, (), (why,))
