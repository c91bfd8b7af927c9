"""What a run of the height loop comes to, and why the settings that Orthotome would choose are those."""

from orthotome.core.height.loop import GAIN_SHARE, Chosen, LoopJob, LoopRun
from orthotome.core.quantities import length, length_rate, seconds, volts


def run_says(run: LoopRun) -> str:
    """One sentence: struck, hunting, or how well it held."""
    if run.strikes:
        where = length(run.strikes[0][1])
        times = "once" if len(run.strikes) == 1 else f"{len(run.strikes)} times, first"
        return f"The torch is on the plate {times} after {where}."
    if run.hunts:
        return "It hunts: the torch swings to and fro by itself."
    least, most = float(run.gap_mm.min()), float(run.gap_mm.max())
    return f"The gap stays between {length(least)} and {length(most)}."


def why_chosen(job: LoopJob, best: Chosen) -> tuple[str, ...]:
    """The reason of each value, in the order in which it matters."""
    s = best.settings
    said = [
        f"Gain: each volt off moves Z by {length_rate(s.gain_mm_s_v)}. With {seconds(job.lag_s)} of lag, twice that hunts; "
        f"less is behind the sheet for longer ({GAIN_SHARE:g} radian of gain × slope × lag).",
        f"Dead band {volts(s.dead_band_v)}: two sigma of the arc’s noise.",
        f"Hold below {s.hold_below_share or 0:.0%} of speed: from there on, lost speed alone lifts the volts out of the dead "
        "band.",
    ]
    if best.z_speed_needed_mm_s > 0:
        need, has = length_rate(best.z_speed_needed_mm_s), length_rate(s.z_speed_mm_s)
        said.append(
            f"The steepest of this sheet rises {need} at this speed, and Z makes {has}: "
            + (
                f"it follows, up to {length(best.lag_error_mm)} behind."
                if best.follows
                else "it cannot follow. Cut slower, clamp the sheet, or leave more height."
            )
        )
    return tuple(said)
