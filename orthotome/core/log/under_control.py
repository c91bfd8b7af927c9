"""Which cuts of a trial prove height control, and whether they pass."""

from collections.abc import Iterable
from dataclasses import dataclass

from orthotome.core.height.after_square import ProofCut
from orthotome.core.height.events import EVENT_WORDS, EventKind
from orthotome.core.log.looks import Look
from orthotome.core.trial.campaign import Cut, Target, TorchSet, worst_judged_deg

UNDER_CONTROL = ("set_point", "sampled")


@dataclass(frozen=True)
class SeenCut:
    """A logged cut with what it was cut as, what else was looked at, and what its trace showed."""

    cut: Cut
    kind: str
    looks: tuple[Look, ...] = ()
    noticed: tuple[EventKind, ...] = ()


def proof_cuts(cuts: Iterable[SeenCut], torch_set: TorchSet, target: Target) -> list[ProofCut]:
    """The long strips and squares cut under control, in order, each judged."""
    wanted = ("long_strip", "square")
    found = [c for c in cuts if c.cut.height_control in UNDER_CONTROL and c.kind in wanted]
    return [_judged(c, torch_set, target) for c in found]


def _judged(seen: SeenCut, torch_set: TorchSet, target: Target) -> ProofCut:
    passes, why = _passes(seen, torch_set, target)
    return ProofCut(seen.cut.id, seen.kind, passes, why)


def _passes(seen: SeenCut, torch_set: TorchSet, target: Target) -> tuple[bool | None, str]:
    cut, worst = seen.cut, worst_judged_deg(seen.cut, torch_set, target)
    touched = any(look.what == "touched" and look.value == "yes" for look in seen.looks)
    off = abs(worst) if worst is not None else 0.0
    dirty = cut.bottom_grade is not None and cut.bottom_grade > target.dross_grade
    faults = (
        (touched or "strike" in seen.noticed, "the torch touched the plate."),
        (cut.arc_lost or "arc_lost" in seen.noticed, f"{EVENT_WORDS['arc_lost']} on the way."),
        (cut.through not in (None, "full"), "it is not through."),
        (dirty, "its underside is worse than the target."),
        (
            off > target.bevel_deg,
            f"an edge is off by {off:.1f}°, and the target is {target.bevel_deg:g}°.",
        ),
    )
    fault = next((why for holds, why in faults if holds), None)
    if fault is not None:
        return False, fault
    if worst is None and seen.kind == "square":
        return None, "Read the edges of the square that was cut under control: it is not judged yet."
    if worst is None and cut.bottom_grade is None and not seen.noticed and not seen.looks:
        return None, "Say how the long strip came out: edges, underside, and whether it touched."
    return True, ""
