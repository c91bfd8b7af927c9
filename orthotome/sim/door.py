"""The simulated table behind the door that every table stands behind."""

from dataclasses import dataclass, replace

from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Cut, PieceKind
from orthotome.core.trial.table_door import JobAtTable, TableDoor


@dataclass(frozen=True)
class SimulatedDoor:
    """A table whose hidden truth is that of its seed, for each job anew."""

    seed: int

    def cut(
        self, job: JobAtTable, number: int, piece: PieceKind, setting: Setting, *, starts: int
    ) -> Cut:
        """Cut and read one piece; the same number of the same job comes out the same."""
        from orthotome.sim.table import SimulatedTable  # noqa: PLC0415 (start-up time)

        table = SimulatedTable.from_seed(self.seed, job.start, job.thickness_mm, job.swirl)
        key = 1000 * job.trial + number
        made = table.cut(key, piece, setting.speed_mm_min, setting.cut_height_mm, starts=starts)
        return replace(made, starts=None)  # the store counts what is fitted


def open_door(seed: int) -> TableDoor:
    """The simulated table of that seed."""
    return SimulatedDoor(seed)
