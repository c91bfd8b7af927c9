"""What a set of torch parts can do in a metal, and at what amperage it may run.

The nozzle sets the amperage: above its rating it is destroyed, far below the arc is lazy. How thick a
set pierces, starts from the edge, or only severs, comes from its manual; where the shop has not
written it down, Orthotome says that it does not know.
"""

from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from orthotome.core.errors import TradeError
from orthotome.core.findings import Finding
from orthotome.core.quantities import thickness

How = Literal["pierce", "edge_start", "sever", "refuse", "unknown"]

LAZY_SHARE = 0.7  # of the rating; below it the arc is lazy and the cut is questioned. Assumption


@dataclass(frozen=True)
class Capability:
    """Thickness bounds of a set in one metal; None is "the shop has not written it down"."""

    pierce_max_mm: float | None = None
    edge_start_max_mm: float | None = None
    sever_max_mm: float | None = None
    least_mm: float | None = None

    def __post_init__(self) -> None:
        known = [
            (name, value)
            for name, value in (
                ("pierce_max_mm", self.pierce_max_mm),
                ("edge_start_max_mm", self.edge_start_max_mm),
                ("sever_max_mm", self.sever_max_mm),
            )
            if value is not None
        ]
        for (_, smaller), (field, larger) in pairwise(known):
            if larger < smaller:
                raise TradeError(
                    field, f"{thickness(larger)} is less than the {thickness(smaller)} before it: pierce, then edge "
                    "start, then sever."
                )  # fmt: skip


UNWRITTEN = Capability()
"""Nothing written down yet."""


Ability = Finding[How]
"""What a set can do at a thickness; its ``check`` is what is to be asked about it."""


def ability(capability: Capability, thickness_mm: float) -> Ability:
    """What a set can do with a thickness: pierce, start from the edge, sever, or not at all."""
    question = ""
    if capability.least_mm is not None and thickness_mm < capability.least_mm:
        question = (
            f"Thinner than the {thickness(capability.least_mm)} that this set is written down from: long straights may "
            "come out at its speed, corners and holes will not. A smaller nozzle holds them."
        )
    if capability.pierce_max_mm is not None and thickness_mm <= capability.pierce_max_mm:
        return Ability(
            "pierce", f"Pierces anywhere, to {thickness(capability.pierce_max_mm)}.", check=question
        )
    if capability.edge_start_max_mm is not None and thickness_mm <= capability.edge_start_max_mm:
        return Ability(
            "edge_start",
            f"Start from the edge: too thick to pierce, cuts to {thickness(capability.edge_start_max_mm)}.",
            check=question,
        )
    if capability.sever_max_mm is not None and thickness_mm <= capability.sever_max_mm:
        return Ability(
            "sever",
            "It will part, but not cut well: tune nothing here, or take a bigger set.",
            check=question,
        )
    bounds = (capability.pierce_max_mm, capability.edge_start_max_mm, capability.sever_max_mm)
    if all(b is None for b in bounds):
        return Ability(
            "unknown", "How thick it pierces is not written down: its manual tells.", check=question
        )
    if capability.sever_max_mm is not None:
        return Ability(
            "refuse", f"Too thick: it parts no more than {thickness(capability.sever_max_mm)}."
        )
    largest = max(b for b in bounds if b is not None)
    return Ability(
        "unknown",
        f"Past the {thickness(largest)} that is written down; whether it severs, the manual tells.",
    )


def check_amperage(amperage_a: float, rating_a: float, field: str = "amperage_a") -> str | None:
    """A question for an amperage far below the nozzle's rating, or None.

    Raises TradeError above the rating: that destroys the nozzle, and is refused everywhere.
    """
    if amperage_a > rating_a:
        raise TradeError(
            field,
            f"{amperage_a:g} A is above the {rating_a:g} A that these parts are rated for: it destroys the "
            "nozzle. Set the source to the rating, or fit other parts.",
        )
    if amperage_a < LAZY_SHARE * rating_a:
        return (
            f"{amperage_a:g} A is far below the {rating_a:g} A of these parts: the arc is lazy and cuts "
            "badly. Is it another set that is fitted?"
        )
    return None
