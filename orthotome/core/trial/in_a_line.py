"""A cut, what a trial began with and how far it came, each in one line for who was not there."""

from collections.abc import Sequence

from orthotome.core.edge.edges import farthest_from_square
from orthotome.core.quantities import length, plate, seconds, speed, volts
from orthotome.core.trial.campaign import Campaign, Cut, worst_judged_deg


def begun_with(campaign: Campaign) -> str:
    """The plate and its first numbers; volts that nobody saw are not known."""
    start = campaign.start
    seen = "volts not known" if start.arc_voltage_v is None else volts(start.arc_voltage_v)
    numbers = (
        speed(start.speed_mm_min),
        f"cut height {length(start.cut_height_mm)}",
        seen,
        f"pierce at {length(start.pierce_height_mm)} for {seconds(start.pierce_delay_s)}",
    )
    return f"{plate(campaign.thickness_mm, campaign.metal)}: {', '.join(numbers)}"


def cut_says(cut: Cut) -> str:
    """One cut with what came of it; what was not read or looked at is said as that."""
    seen = "volts not read" if cut.arc_voltage_v is None else volts(cut.arc_voltage_v)
    said = [f"{speed(cut.speed_mm_min)} at {length(cut.cut_height_mm)}", seen]
    worst = farthest_from_square(e.bevel_deg for e in cut.edges)
    if worst is not None:
        said.append(f"worst edge {worst:+.1f}°")
    grade = cut.bottom_grade
    said.append("underside not looked at" if grade is None else f"dross grade {grade}")
    return ", ".join(said)


def not_proven_says(campaign: Campaign, cuts: Sequence[Cut]) -> str:
    """How near to square the best of these cuts came, on the edges that the target judges."""
    worst = (worst_judged_deg(c, campaign.torch_set, campaign.target) for c in cuts)
    read = [abs(w) for w in worst if w is not None]
    made = "1 cut" if len(cuts) == 1 else f"{len(cuts)} cuts"
    if not read:
        return f"Not proven yet; {made}, no kept edge read."
    return f"Not proven yet; {made}, the best of them within {min(read):.1f} degrees."
