"""The phases of a cut as they happen, recognised sample by sample: what the live screen marks.

What is said while it runs is quick and may be wrong by a few hundredths of a second; what is read from the whole
recording afterwards (``trace_report``) is what counts.
"""

from collections import deque
from dataclasses import dataclass, field
from typing import Literal

from orthotome.core.height.steady import ARC_V
from orthotome.core.quantities import volts

Phase = Literal["idle", "pierce", "settling", "steady", "slow", "jump", "stretched"]

PHASE_WORDS: dict[Phase, str] = {
    "idle": "no arc",
    "pierce": "pierce",
    "settling": "settling",
    "steady": "steady",
    "slow": "slowed",
    "jump": "jump",
    "stretched": "stretched",
}

_SHORT_S, _LONG_S = 0.05, 0.5
_SETTLED_V = 1.5
_JUMP_V, _STRETCH_V = 5.0, 15.0
_SLOW = 0.9
_MOVING = 0.02
NOTHING_V = 0.5
"""At most this a screen shows where there is no signal. Assumption."""
_DOUBTED_AFTER_S = 1.0


@dataclass
class PhaseOf:
    """Told each sample in turn, says the phase. ``speed_mm_min`` is the full speed seen so far."""

    phase: Phase = "idle"
    arc_since_s: float | None = None
    speed_mm_min: float = 0.0
    _recent: deque[tuple[float, float]] = field(default_factory=deque)

    def told(self, at_s: float, volts_v: float, feed_mm_min: float | None) -> Phase:
        """The phase at that moment."""
        if volts_v < ARC_V:
            self.phase, self.arc_since_s, self.speed_mm_min = "idle", None, 0.0
            self._recent.clear()
            return self.phase
        if self.arc_since_s is None:
            self.arc_since_s = at_s
        self._recent.append((at_s, volts_v))
        while self._recent[0][0] < at_s - _LONG_S:
            self._recent.popleft()
        self.phase = self._now(at_s, feed_mm_min)
        return self.phase

    def _now(self, at_s: float, feed: float | None) -> Phase:
        if feed is not None:
            self.speed_mm_min = max(self.speed_mm_min, feed)
            if feed <= _MOVING * max(1.0, self.speed_mm_min):
                return "pierce"
        seen = [v for _, v in self._recent]
        level = sorted(seen)[len(seen) // 2]
        short = [v for t, v in self._recent if t > at_s - _SHORT_S]
        off = sum(short) / len(short) - level
        before = self.phase in ("idle", "pierce", "settling")
        if before:
            half = len(seen) // 2
            moved = abs(sum(seen[:half]) / max(1, half) - sum(seen[half:]) / max(1, len(seen) - half))
            long_enough = self._recent[-1][0] - self._recent[0][0] > 0.8 * _LONG_S
            return "steady" if long_enough and moved < _SETTLED_V else "settling"
        if feed is not None and feed < _SLOW * self.speed_mm_min:
            return "slow"
        if off > _STRETCH_V:
            return "stretched"
        return "jump" if off > _JUMP_V else "steady"


@dataclass
class TooFewVolts:
    """Told each sample in turn, says whether the table moves with volts that are neither nothing nor an arc's.

    That is a signal which is divided before it is shown, or a dry run whose screen shows something.
    """

    most_v: float = 0.0
    _since_s: float | None = None

    def told(self, at_s: float, volts_v: float, feed_mm_min: float | None) -> bool:
        """Whether it has done so for a while at that moment. Without a feed nothing is said."""
        if not (feed_mm_min and NOTHING_V < volts_v < ARC_V):
            self._since_s, self.most_v = None, 0.0
            return False
        self._since_s = at_s if self._since_s is None else self._since_s
        self.most_v = max(self.most_v, volts_v)
        return at_s - self._since_s > _DOUBTED_AFTER_S


def too_few_says(most_v: float) -> str:
    """What to make of it."""
    return (
        f"It moves with {volts(most_v)} on the screen, too little for an arc, and its starts are not counted. If it cuts all the same, "
        "the signal is divided before it comes here: Signal path says where to look."
    )
