"""What may be hidden in a practice table, what takes it away, and what is right to say of it.

What the hidden thing does to a cut or to the arc is the simulated table's business.
"""

from dataclasses import dataclass
from typing import Literal

from orthotome.core.torch.fittings import Part
from orthotome.core.trial.advice import CAUSE_WORDS, Cause
from orthotome.core.trial.table_door import FittedAnew

Hidden = Literal[
    "nothing",
    "leaning_torch",
    "oval_nozzle",
    "worn_parts",
    "wrong_ring",
    "row_of_another",
    "shaky_machine",
    "divided_twice",
    "clip_loose",
    "worn_electrode",
    "wet_air",
    "corners_followed",
]
Claim = Literal["square", "holds", "divided_twice", "clip_loose", "worn_electrode", "wet_air"] | Cause


@dataclass(frozen=True)
class HiddenThing:
    """What may be wrong with a practice table: its words, what takes it away, and how its trial rightly ends.

    ``named`` is what the tuner calls it, None where it is nothing; ``new_parts`` are those that take it away, ``new_mount``
    whether setting the torch does. What is ``at_the_arc`` shows in the volts while it cuts, and is named, not cured.
    """

    words: str
    cured_by: str
    named: Claim | None = None
    new_parts: tuple[Part, ...] = ()
    new_mount: bool = False
    ends: Claim = "square"
    at_the_arc: bool = False

    @property
    def can_be_cured(self) -> bool:
        """Whether something that is fitted or set takes it away."""
        return self.new_mount or bool(self.new_parts)

    def is_cured(self, anew: FittedAnew) -> bool:
        """Whether it was taken away by what was fitted since. What is only in the row or in the machine stays."""
        set_anew = self.new_mount and anew.mounts > 0
        return set_anew or any(part in self.new_parts for part in anew.parts)


HIDDEN: dict[Hidden, HiddenThing] = {
    "nothing": HiddenThing(
        "Nothing was wrong: the row's numbers were near square, not on it.",
        "Speed and height alone reach it.",
    ),
    "leaning_torch": HiddenThing(
        "The torch leaned in its mount: opposite edges differ, whatever the speed and the height.",
        "Set upright, and said so under Torch, it is gone.",
        "jet_lean", new_mount=True,
    ),
    "oval_nozzle": HiddenThing(
        "The nozzle's bore was oval: the bevel repeats twice round the square, which a lean does not.",
        "A new nozzle takes it away.",
        "worn_parts", ("set", "nozzle"),
    ),
    "worn_parts": HiddenThing(
        "The parts were worn out: there was dross at every speed.",
        "New parts take it away; no speed does.",
        "worn_parts", ("set", "nozzle"),
    ),
    "wrong_ring": HiddenThing(
        "The swirl ring was of the other hand: the scrap was squarer than the part.",
        "A ring of the set's own hand puts the good side on the part.",
        "wrong_side", ("set", "swirl_ring"),
    ),
    "row_of_another": HiddenThing(
        "The Book's row was another nozzle's: square lies outside the limits that were set round it.",
        "With the limits widened the trial gets there.",
        "outside_limits",
    ),
    "shaky_machine": HiddenThing(
        "The machine shakes: edges of the same setting differ by more than the target allows.",
        "Nothing on the Bench cures that: say that the target is too tight, and look at the machine.",
        "target_too_tight", ends="target_too_tight",
    ),
    "divided_twice": HiddenThing(
        "The voltage was divided twice: the screen showed a fiftieth, and control lifted the torch to find volts that never came.",
        "One divider too many, or the wrong ratio: the signal path shows where.",
        "divided_twice", ends="divided_twice", at_the_arc=True,
    ),
    "clip_loose": HiddenThing(
        "The touch-off clip was loose: the plate was found late, and each cut began higher than it was told.",
        "Clip and wire on bright metal; the height of the first touch says whether it is right again.",
        "clip_loose", ends="clip_loose", at_the_arc=True,
    ),
    "worn_electrode": HiddenThing(
        "The electrode was worn out: its volts stood higher at the same height, and control took that for a gap.",
        "A new electrode takes it away; a trim of the set-point bridges what is left of an old one.",
        "worn_electrode", ("set", "electrode"), ends="worn_electrode", at_the_arc=True,
    ),
    "wet_air": HiddenThing(
        "There was water in the air: a restless arc that went out by itself.",
        "Drain the traps, look at the dryer, hold a mirror into the air.",
        "wet_air", ends="wet_air", at_the_arc=True,
    ),
    "corners_followed": HiddenThing(
        "Height control was on through the corners: there the torch slows, its volts rise, and it was pulled down.",
        "Hold height below most of the speed.",
        ends="holds", at_the_arc=True,
    ),
}  # fmt: skip

EDGE_CLAIMS: dict[Claim, str] = {
    "square": "It is square: the last setting passes",
    "target_too_tight": f"{CAUSE_WORDS['target_too_tight']}: no speed or height reaches it",
    "jet_lean": f"{CAUSE_WORDS['jet_lean']}, and that has to be put right first",
    "worn_parts": f"{CAUSE_WORDS['worn_parts']}, and they have to be changed first",
    "wrong_side": f"{CAUSE_WORDS['wrong_side']}, and that has to be put right first",
    "outside_limits": f"{CAUSE_WORDS['outside_limits']}, and those are as wide as they may be",
}
ARC_CLAIMS: dict[Claim, str] = {
    "holds": "It holds its height with what height control is told now",
    "divided_twice": "The screen does not show the arc’s real volts",
    "clip_loose": "Touch-off does not find the plate where it is",
    "worn_electrode": "The electrode is worn",
    "wet_air": "There is water in the air",
}
CLAIMS = EDGE_CLAIMS | ARC_CLAIMS
"""How an exercise can be ended, in the words of whoever ends it: by its edges, or by its arc."""
