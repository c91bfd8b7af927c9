"""What can be fitted, and what of it wears: the words for it, once.

A cut belongs to the parts, the torch mount, the plate and the signal path that it was made with. A change
of one of them begins a new series of what it governs: parts and plate shift the bevel, the mount sets the
jet's lean, the signal path what volts mean.
"""

from typing import Literal, get_args

FittingKind = Literal["parts", "mount", "plate", "signal"]
Part = Literal["set", "electrode", "swirl_ring", "nozzle", "retaining_cap", "shield", "touch_off_clip"]

KINDS: tuple[FittingKind, ...] = get_args(FittingKind)
PARTS: tuple[Part, ...] = get_args(Part)
"""In the order in which they go in, after the word for all of them together."""
