"""What can be fitted, and what of it wears: the words for it, once.

A cut belongs to the parts, the torch mount, the plate and the signal path that it was made with. A change
of one of them begins a new series of what it governs: parts and plate shift the bevel, the mount sets the
jet's lean, the signal path what volts mean.
"""

from typing import Literal, get_args

FittingKind = Literal["parts", "mount", "plate", "signal"]
SinglePart = Literal["electrode", "swirl_ring", "nozzle", "retaining_cap", "shield", "touch_off_clip"]
Part = Literal["set", "electrode", "swirl_ring", "nozzle", "retaining_cap", "shield", "touch_off_clip"]
Kept = Literal["good", "rough_work", "scrap"]

KINDS: tuple[FittingKind, ...] = get_args(FittingKind)
SINGLE_PARTS: tuple[SinglePart, ...] = get_args(SinglePart)
"""In the order in which they go in."""
PARTS: tuple[Part, ...] = get_args(Part)
"""The word for all of them together, then each."""

PART_WORDS: dict[Part, str] = {
    "set": "set of parts",
    "electrode": "electrode",
    "swirl_ring": "swirl ring",
    "nozzle": "nozzle",
    "retaining_cap": "retaining cap",
    "shield": "shield",
    "touch_off_clip": "touch-off clip",
}

KEPT_WORDS: dict[Kept, str] = {
    "good": "put aside, good",
    "rough_work": "in the tray for rough work",
    "scrap": "done with",
}
"""Where a part is that is not fitted."""
