"""What one run of a program costs, and what it does to the parts."""

from collections.abc import Sequence
from dataclasses import dataclass

from orthotome.core.programs.check import Checked
from orthotome.core.programs.contours import ProgramContour
from orthotome.core.torch.counts import Counts


@dataclass(frozen=True)
class RunCosts:
    """In the shop's money; None where a price or a life is not known."""

    parts: float | None
    machine: float | None

    @property
    def whole(self) -> float | None:
        """Both together, where both are known."""
        return None if self.parts is None or self.machine is None else self.parts + self.machine

    def says(self, made: int) -> str:
        """What a run's cost is of, and what a part costs where a run makes several; or what would tell it."""
        known = [
            f"{what} {value:.2f}"
            for what, value in (("Parts", self.parts), ("machine", self.machine))
            if value is not None
        ]
        missing = [
            needs
            for needs, value in (
                ("the shelf does not say what the parts cost", self.parts),
                ("the machine’s page does not say what an hour costs", self.machine),
            )
            if value is None
        ]
        each = [f"{self.whole / made:.2f} a part"] if self.whole is not None and made > 1 else []
        return "; ".join([", ".join([*known, *each]), *missing] if known else missing) + "."


def run_costs(
    pierces: int, seconds: float, per_start: float | None, hour_cost: float | None
) -> RunCosts:
    """Parts by the start, the machine by the hour."""
    return RunCosts(
        None if per_start is None else pierces * per_start,
        None if hour_cost is None else seconds / 3600 * hour_cost,
    )


def parts_of(contours: Sequence[ProgramContour]) -> int:
    """How many parts a run leaves: closed outlines that keep what lies in them."""
    return sum(1 for c in contours if c.closed and c.kind == "outside")


def counts_of_run(checked: Checked) -> Counts:
    """What a run counts on the parts: starts, arc time, and arcs that end off the plate."""
    endings = sum(1 for p in checked.problems if p.code == "ends_off_plate")
    return Counts(checked.pierces, float(sum(checked.time.arc_s)), endings)
