"""How what was measured is put right on the machine: at which end, by how many steps, or in which setting."""

from dataclasses import dataclass
from typing import Literal

from orthotome.core.machine.measures import MachineJudgement
from orthotome.core.machine.squareness import Spread
from orthotome.core.quantities import length

SquaredBy = Literal["motors", "stops", "by_hand"]
"""How a gantry is held square: a motor at each end moved by itself, stops that both ends are driven against, or
couplings that are loosened."""


@dataclass(frozen=True)
class Gantry:
    """What is known of a gantry and its drives; X runs along the gantry, Y along the rails."""

    squared_by: SquaredBy | None = None
    steps_per_mm_x: float | None = None
    steps_per_mm_y: float | None = None


UNKNOWN_GANTRY = Gantry()


@dataclass(frozen=True)
class Adjusting:
    """What to do. ``steps`` are those of the gantry's +X end, positive toward -Y; ``new_steps`` each axis's steps per mm."""

    steps: Spread | None
    new_steps_per_mm_x: float | None
    new_steps_per_mm_y: float | None
    says: tuple[str, ...]


def adjusting(judged: MachineJudgement, gantry: Gantry) -> Adjusting:
    """The adjustments that the findings ask for; none for a quantity that is not sure, or where the kerf comes first."""
    if judged.sizes.fault or judged.sizes.doubt:
        return Adjusting(
            None,
            None,
            None,
            ("Adjust nothing on the machine before the kerf in the program is put right.",),
        )
    codes = {f.code for f in judged.findings}
    said: list[str] = []
    steps = None
    if "gantry_skew" in codes and judged.drive_correction is not None:
        mm = judged.drive_correction.mm
        if gantry.steps_per_mm_y:
            steps = mm.times(gantry.steps_per_mm_y)
        said.append(_squaring(mm, steps, gantry.squared_by))
    new_x = new_y = None
    for axis, scale, old in (
        ("X", judged.sizes.scale_x, gantry.steps_per_mm_x),
        ("Y", judged.sizes.scale_y, gantry.steps_per_mm_y),
    ):
        out = any(f.code == "scale" and f.title.startswith(axis) for f in judged.findings)
        if not out or scale is None:
            continue
        if not old:
            said.append(
                f"{axis}: its steps per length are not written down here: divide them by {scale.value:.5f}."
            )
            continue
        new = old / scale.value
        said.append(
            f"{axis}: {old:g} steps a millimetre become {new:.3f}, give or take {new * scale.sd:.3f}."
        )
        if axis == "X":
            new_x = new
        else:
            new_y = new
    return Adjusting(steps, new_x, new_y, tuple(said))


def _squaring(mm: Spread, steps: Spread | None, by: SquaredBy | None) -> str:
    end, way = "+X", "−Y" if mm.value > 0 else "+Y"
    far = length(abs(mm.value))
    if by == "stops":
        return (
            f"At the squaring stops: set the {end} end’s stop {far} farther toward {way}, then drive both ends against their stops and "
            "measure again. Do not adjust more than one stop."
        )
    if by == "by_hand":
        return f"Power off and locked out: loosen the coupling of the gantry’s {end} end, push that end {far} toward {way}, and tighten it."
    counted = f", {abs(steps.value):.0f} steps, give or take {steps.sd:.0f}," if steps else ""
    one = "Move the " if by == "motors" else "With a motor at each end: move the "
    return f"{one}{end} motor by itself {far}{counted} toward {way}, and make the new place both ends’ home."
