"""Whether a table has the gases that a process asks for, and whether they flow enough: one answer for every room.

Nothing written down is no warning; what is written is held against what the row asks.
"""

from collections.abc import Sequence

from orthotome.core.machine.air import DELIVERY_FACTOR
from orthotome.core.quantities import flow

AIR = "air"


def in_words(names: Sequence[str]) -> str:
    """Names one after the other, the last after "and"."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def of_process(gas: str, shield_gas: str | None) -> tuple[str, ...]:
    """The gases of a process, each once."""
    return tuple(dict.fromkeys(name for name in (gas, shield_gas) if name))


def not_plumbed_says(gases: Sequence[str], plumbed: Sequence[str]) -> str | None:
    """The sentence where a table's page names its gases, and not all of these; else None."""
    has = {name.strip().lower() for name in plumbed}
    missing = [name for name in gases if name.strip().lower() not in has]
    if not has or not missing:
        return None
    return f"This table has no {' and no '.join(missing)} plumbed, by its page: it has {in_words(tuple(plumbed))}."


def not_carried_says(
    gases: Sequence[str], flow_l_min: float | None, delivery_l_min: float | None
) -> str | None:
    """The sentence where the row asks for more air than the compressor gives, or than it gives with rests; else None."""
    if flow_l_min is None or delivery_l_min is None or {g.strip().lower() for g in gases} != {AIR}:
        return None
    told = f"{flow(flow_l_min)} of air by its row, and the compressor delivers {flow(delivery_l_min)}"
    if flow_l_min > delivery_l_min:
        return f"The air does not carry it: it takes {told}. A long cut starves."
    if DELIVERY_FACTOR * flow_l_min > delivery_l_min:
        return f"The compressor carries it and never rests: it takes {told}."
    return None


def not_priced_says(gases: Sequence[str]) -> str | None:
    """What a cost of a cut leaves out: gas from cylinders, which has no price here. None where it is air alone."""
    bought = [name for name in gases if name.strip().lower() != AIR]
    return f"What the {' and the '.join(bought)} costs is not in its cost." if bought else None
