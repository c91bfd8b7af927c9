"""What the processors of this machine did meanwhile: the browser's share shows here, and what other machines on the same iron took."""

import os
from dataclasses import dataclass
from pathlib import Path

_SAID_BY_LINUX = Path("/proc/stat")


@dataclass(frozen=True)
class Processors:
    """Seconds of all processors together: at work, and withheld while there was work ("steal")."""

    busy_s: float
    withheld_s: float

    @classmethod
    def now(cls) -> "Processors | None":
        """Since the machine started; None where the system does not say."""
        return cls.of(_SAID_BY_LINUX.read_text()) if _SAID_BY_LINUX.exists() else None

    @classmethod
    def of(cls, text: str) -> "Processors":
        """From the first line of /proc/stat: user, nice, system, idle, waiting, two kinds of interrupt, steal (proc(5))."""
        user, nice, system, _, _, hard, soft, steal = map(int, text.split()[1:9])
        tick = os.sysconf("SC_CLK_TCK")
        return cls((user + nice + system + hard + soft) / tick, steal / tick)

    def since(self, before: "Processors") -> str:
        """In words, for the end of a run."""
        busy_s, withheld_s = self.busy_s - before.busy_s, self.withheld_s - before.withheld_s
        return f"The machine  {busy_s:8.0f} s at work, {withheld_s:.0f} s withheld from it by others"
