"""Made-up jobs that the tests cut, and the loop of an operator who does what Orthotome says."""

from dataclasses import dataclass, replace

from orthotome.core.book.start_rows import StartValues
from orthotome.core.trial.advice import Advice
from orthotome.core.trial.campaign import Campaign, Limits, Target, TorchSet
from orthotome.core.tuner.advise import advise
from orthotome.sim.table import SimulatedTable

PLATE_SET = TorchSet("70 A plate set", 70, "air", "clockwise")
PLATE_START = StartValues(2100, 128.0, 1.5, 3.8, 0.5, 1.8)
SHEET_START = StartValues(3800, 118.0, 1.5, 3.8, 0.2, 1.4)
PLATE_LIMITS = Limits((1200, 3400), (0.8, 3.2))

PLATE_JOB = Campaign("mild_steel", 8.0, PLATE_SET, PLATE_START, Target(2.0), PLATE_LIMITS)
SHEET_JOB = Campaign(
    "stainless_steel", 3.0, PLATE_SET, SHEET_START, Target(2.0), Limits((2200, 6000), (0.8, 3.0))
)


@dataclass(frozen=True)
class Outcome:
    """How a campaign on a simulated table ended."""

    advice: Advice
    cuts: int
    true_chance: float


def tune(job: Campaign, table: SimulatedTable, most_cuts: int = 10) -> Outcome:
    """Cut what is advised until it is square, handed off, or the steel is gone."""
    made = 0
    while True:
        advice = advise(job)
        if advice.status in ("square", "hand_off") or made == most_cuts:
            break
        made += 1
        asked = advice.next_cuts[0]
        cut = table.cut(
            made, asked.piece, asked.speed_mm_min, asked.cut_height_mm, starts=100 + 5 * made
        )
        job = replace(job, cuts=(*job.cuts, cut))
    r = advice.recommended
    chance = 0.0
    if r is not None:
        chance = table.chance_to_pass(job.target, r.speed_mm_min, r.cut_height_mm, 100 + 5 * made)
    return Outcome(advice, made, chance)
