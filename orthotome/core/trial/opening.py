"""Opening a trial: the range it may be cut in, and what the fitted parts allow."""

from dataclasses import dataclass, replace

from orthotome.core.book.start_rows import StartingNumbers, StartValues
from orthotome.core.errors import TradeError
from orthotome.core.machine.gas_supply import not_carried_says, not_plumbed_says, of_process
from orthotome.core.machine.motion import long_run_says, too_fast_says
from orthotome.core.pieces import ladder_speeds
from orthotome.core.quantities import (
    INCH,
    METRIC,
    height_step_mm,
    in_steps,
    kerf_step_mm,
    length,
    length_number,
    pierce_height_step_mm,
    speaking,
    speed,
    speed_number,
    speed_step_mm_min,
    spoken,
)
from orthotome.core.setting import HEIGHT_RANGE_MM, SPEED_RANGE_MM_MIN, Setting
from orthotome.core.stock.metals import is_expected
from orthotome.core.trial.campaign import Campaign, Limits, Target

# How far from the starting numbers a trial looks by default. Assumption: a manual's row is within a
# third in speed; half the cut height is near a touch, and twice it near a lost arc.
_SPEED_SPAN = (0.62, 1.55)
_HEIGHT_SPAN = (0.55, 1.9)


@dataclass(frozen=True)
class Table:
    """What opening a trial needs of the table's page. Nothing known is no warning."""

    bed: str
    gases: tuple[str, ...] = ()
    arc_signal: bool | None = None
    height_by_hand: bool = False
    fastest_mm_min: float | None = None
    delivery_l_min: float | None = None
    acceleration_mm_s2: float | None = None


_COARSE_STEPS, _COARSE_SHARE = 5, 0.2  # of the opening ladder: from 0.7 to 1.44 of the guess
FASTEST_MM_MIN = 60_000.0  # that files and screens take for a cut
TOUCH_RISK_MM = 0.8  # lower than this a warped sheet touches a bare nozzle; the parts' manual rules


DEFAULT_TARGET = Target(2.0)
"""Square within 2 degrees on the good side, dross that brushes off: what a shop asks of plate; assumption."""


def within_machine(limits: Limits, fastest_mm_min: float | None) -> Limits:
    """Limits that a machine can follow: none of what is advised is faster than it runs."""
    low, high = limits.speed_mm_min
    if fastest_mm_min is None or high <= fastest_mm_min:
        return limits
    return replace(limits, speed_mm_min=(min(low, fastest_mm_min), fastest_mm_min))


def held_by(start: StartValues, fastest_mm_min: float | None) -> StartValues:
    """Starting numbers at no more than a machine runs."""
    if fastest_mm_min is None or start.speed_mm_min <= fastest_mm_min:
        return start
    return replace(start, speed_mm_min=fastest_mm_min)


def default_limits(start: StartValues, fastest_mm_min: float | None = None) -> Limits:
    """The range around the starting numbers, on round figures, not under the touch-risk height, and no faster than the
    machine."""
    return within_machine(_about(start), fastest_mm_min)


def _about(start: StartValues) -> Limits:
    speed, height = start.speed_mm_min, start.cut_height_mm
    round_speed, round_height = 5 * speed_step_mm_min(1000), 2 * height_step_mm()
    lowest = max(TOUCH_RISK_MM, in_steps(height * _HEIGHT_SPAN[0], round_height))
    fastest = min(in_steps(speed * _SPEED_SPAN[1], round_speed), max(speed, FASTEST_MM_MIN))
    slowest = max(SPEED_RANGE_MM_MIN[0], in_steps(speed * _SPEED_SPAN[0], round_speed))
    highest = in_steps(max(height, TOUCH_RISK_MM) * _HEIGHT_SPAN[1], round_height)
    return Limits(
        (min(slowest, speed), min(fastest, SPEED_RANGE_MM_MIN[1])),
        # A start typed lower than what may touch is the operator's own choice.
        (min(lowest, height), min(highest, HEIGHT_RANGE_MM[1])),
    )


def is_unlisted(campaign: Campaign) -> bool:
    """Whether the starting numbers are another metal's, so that little is believed of this one.

    Where nobody says where they came from, or somebody typed them, no voltage for a metal that Orthotome has no
    expectations of says the same.
    """
    if campaign.start_how not in (None, "typed"):
        return campaign.start_how == "analogue"
    return campaign.start.arc_voltage_v is None and not is_expected(campaign.metal)


def nothing_known(campaign: Campaign) -> bool:
    """Whether the next question is only where the metal cuts clean: it is unlisted, and nothing was cut."""
    return not campaign.cuts and is_unlisted(campaign)


def height_stays(campaign: Campaign) -> bool:
    """Whether only speed is tried as yet: of an unlisted metal, until one cut went through clean enough."""
    worst = campaign.target.dross_grade
    return is_unlisted(campaign) and not any(
        c.through == "full" and (c.bottom_grade or 0) <= worst for c in campaign.cuts
    )


def opening_ladder(start: StartValues, limits: Limits) -> tuple[Setting, ...]:
    """The coarse ladder that opens a trial of a metal without rows, slowest first.

    A fifth apart, at the one fixed height: the speed is a guess from another metal, so the first
    question is only where the cut is clean underneath. Speeds outside the limits are left out.
    """
    low, high = limits.speed_mm_min
    speeds = ladder_speeds(start.speed_mm_min, _COARSE_STEPS, _COARSE_SHARE)
    inside = [v for v in speeds if low <= v <= high] or [min(max(start.speed_mm_min, low), high)]
    return tuple(Setting(v, start.cut_height_mm) for v in inside)


def table_warnings(found: StartingNumbers, table: Table, gas: str) -> tuple[str, ...]:
    """What a table's own page says against starting numbers: its bed, its gases, its arc signal."""
    said = []
    beds = {r.details.bed for r in found.rows if r.details.bed is not None} - {table.bed}
    if beds:
        said.append(
            f"These rows hold for a {' or '.join(sorted(beds))} bed, and this table's is {table.bed}: "
            "expect them to be off."
        )
    shields = dict.fromkeys(r.details.shield_gas for r in found.rows)
    gases = tuple(dict.fromkeys(g for shield in shields or (None,) for g in of_process(gas, shield)))
    flows = [r.details.flow_l_min for r in found.rows if r.details.flow_l_min is not None]
    most = max(flows, default=None)
    said += filter(
        None,
        (
            not_plumbed_says(gases, table.gases),
            not_carried_says(gases, most, table.delivery_l_min),
        ),
    )
    if table.arc_signal is False:
        said.append(
            "This table does not tell when the arc is there: the pierce delay must also cover pre-flow and "
            "ignition. Start longer than the row, and shorten it while it still pierces."
        )
    asked, fastest = found.values, table.fastest_mm_min
    if asked is not None and fastest is not None and asked.speed_mm_min > fastest:
        said.append(too_fast_says(asked.speed_mm_min, fastest))
    elif asked is not None and table.acceleration_mm_s2 is not None:
        long_run = long_run_says(asked.speed_mm_min, table.acceleration_mm_s2)
        said += [long_run] if long_run else []
    if table.height_by_hand:
        said.append("Height is set by hand here: use a gauge block, by eye it ends up high.")
    return tuple(said)


def dialled_start(start: StartValues) -> StartValues:
    """Starting numbers on steps that can be dialled: an interpolated 2111.23 mm/min is no setting."""
    volts = start.arc_voltage_v
    return StartValues(
        speed_mm_min=in_steps(start.speed_mm_min, speed_step_mm_min(start.speed_mm_min)),
        arc_voltage_v=None if volts is None else in_steps(volts, 0.5),
        cut_height_mm=in_steps(start.cut_height_mm, height_step_mm()),
        pierce_height_mm=in_steps(start.pierce_height_mm, pierce_height_step_mm()),
        pierce_delay_s=in_steps(start.pierce_delay_s, 0.05),
        kerf_mm=in_steps(start.kerf_mm, kerf_step_mm()),
    )


def are_the_rows(
    start: StartValues, found: StartingNumbers, fastest_mm_min: float | None = None
) -> bool:
    """Whether starting numbers are what the rows gave, dialled or not, and not somebody's own. Of a metal without
    rows they stay a guess, whoever changed them."""
    if found.values is None:
        return False
    if found.how == "analogue" or start == found.values:
        return True
    for units in (METRIC, INCH):  # the shop may have changed its units since
        with speaking(units):
            if start == held_by(dialled_start(found.values), fastest_mm_min):
                return True
    return False


def check_setting(setting: Setting, limits: Limits) -> None:
    """Raise TradeError for a setting outside the range in which the operator will cut."""
    for field, (low, high), at, say in (
        ("settings", limits.speed_mm_min, setting.speed_mm_min, speed),
        ("settings", limits.cut_height_mm, setting.cut_height_mm, length),
    ):
        if not low - 1e-6 <= at <= high + 1e-6:
            raise TradeError(
                field,
                f"{say(at)} is outside this trial's limits, {say(low)} to {say(high)}: change the limits with its "
                "target, if that is meant.",
            )


def check_limits(limits: Limits, start: StartValues, fastest_mm_min: float | None = None) -> None:
    """Raise TradeError for limits that are upside down, leave the starting numbers outside, or are faster than the machine."""
    for field, asked in (
        ("start.speed_mm_min", start.speed_mm_min),
        ("limits.speed_mm_min", limits.speed_mm_min[1]),
    ):
        if fastest_mm_min is not None and asked > fastest_mm_min + 1e-6:
            raise TradeError(
                field,
                f"this table stops at {speed(fastest_mm_min)}, by its page: nothing faster can be cut on it.",
            )
    for field, (low, high), at in (
        ("limits.speed_mm_min", limits.speed_mm_min, start.speed_mm_min),
        ("limits.cut_height_mm", limits.cut_height_mm, start.cut_height_mm),
    ):
        say = speed_number if field.endswith("_min") else length_number
        unit = spoken().speed if field.endswith("_min") else spoken().length
        if not 0 < low <= high:
            raise TradeError(field, "the lower limit comes first, and is more than zero.")
        if not low <= at <= high:
            raise TradeError(
                field, f"the starting number {say(at)} lies outside {say(low)} to {say(high)} {unit}."
            )
