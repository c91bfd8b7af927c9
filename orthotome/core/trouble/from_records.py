"""What other rooms found out, as answers to Trouble's questions: asked of the room that knows, said as it is known there.

None is "not told by that": then the question stands.
"""

from collections.abc import Sequence

from orthotome.core.height.signal_path import GAIN_THAT_MATTERS
from orthotome.core.machine.air import AirFinding
from orthotome.core.trouble.complaints import FACTS
from orthotome.core.trouble.questions import Answer

_SINKS = frozenset({"ride_through", "flowing_pressure", "hose"})
_MUST_CARRY = frozenset({"delivery", *_SINKS})
_NEAR_ZERO, _FAR_TOO_HIGH = 0.25, 2.5  # of the true volts: a divider too many, or one that is missing


def pressure_falls(air: Sequence[AirFinding]) -> bool | None:
    """Whether the pressure sinks while it cuts, by the air's own arithmetic."""
    verdicts = {f.code: f.verdict for f in air}
    if any(verdicts.get(code) == "short" for code in _SINKS):  # type: ignore[call-overload]
        return True
    carries = all(verdicts.get(code) == "enough" for code in _MUST_CARRY)  # type: ignore[call-overload]
    return False if carries else None


def screen_volts(gain: float | None) -> Answer | None:
    """What the screen shows, by a pair of volts that was read: screen volts for a true one."""
    if gain is None:
        return None
    if gain < _NEAR_ZERO:
        return "near_zero"
    if gain > _FAR_TOO_HIGH:
        return "far_too_high"
    return "right" if abs(gain - 1) <= GAIN_THAT_MATTERS else "a_little_off"


def lean_bears_on(complaint: str) -> bool:
    """Whether a jet that leans can be what a complaint is about: else it is another matter, for the torch's own page."""
    return any(code == complaint and "jet_lean" in facts.causes for code, facts in FACTS.items())
