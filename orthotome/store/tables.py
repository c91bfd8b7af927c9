"""Every table of the database, room by room, in one place to import from.

Lengths in mm, speeds in mm/min, V, s, deg, A, always; null is "not measured".
"""

from orthotome.store.book.tables import BookRow, RecipeRow, RecipeWithdrawn, SpotCheckRow
from orthotome.store.choose.tables import SetNote
from orthotome.store.clock import now
from orthotome.store.height.tables import (
    ControlRow,
    LineRow,
    SignalPathRow,
    TracePart,
    TraceRow,
    TrimRow,
)
from orthotome.store.log.tables import (
    CutRow,
    DrossRow,
    EdgeRow,
    GradingRow,
    LogDraft,
    LookRow,
    PhotoRow,
)
from orthotome.store.machine.tables import (
    InstrumentCheck,
    InstrumentRow,
    MachineCheckRow,
    MeasuredRow,
    TableFact,
    TriedHoleRow,
)
from orthotome.store.people.tables import DeviceRow, PersonRow, PinTryRow
from orthotome.store.pieces.tables import OwnPart, PlannedCut, PlateRow, PlateZone
from orthotome.store.practice.tables import PracticeRow, PracticeRunRow
from orthotome.store.programs.tables import ProgramRow
from orthotome.store.ready.tables import ReadinessAnswer, ReadinessRule, ReadinessRun
from orthotome.store.shop.tables import ChangeRow, CuttingTable, Shop
from orthotome.store.torch.tables import (
    CounterRow,
    CountRow,
    FittedPart,
    FittingRow,
    InspectionRow,
    MountRow,
    PartRow,
    SlugRow,
    StockRow,
    TorchSetRow,
)
from orthotome.store.trial.tables import Trial
from orthotome.store.trouble.tables import TroubleCaseRow

__all__ = [
    "BookRow",
    "ChangeRow",
    "ControlRow",
    "CountRow",
    "CounterRow",
    "CutRow",
    "CuttingTable",
    "DeviceRow",
    "DrossRow",
    "EdgeRow",
    "FittedPart",
    "FittingRow",
    "GradingRow",
    "InspectionRow",
    "InstrumentCheck",
    "InstrumentRow",
    "LineRow",
    "LogDraft",
    "LookRow",
    "MachineCheckRow",
    "MeasuredRow",
    "MountRow",
    "OwnPart",
    "PartRow",
    "PersonRow",
    "PhotoRow",
    "PinTryRow",
    "PlannedCut",
    "PlateRow",
    "PlateZone",
    "PracticeRow",
    "PracticeRunRow",
    "ProgramRow",
    "ReadinessAnswer",
    "ReadinessRule",
    "ReadinessRun",
    "RecipeRow",
    "RecipeWithdrawn",
    "SetNote",
    "Shop",
    "SignalPathRow",
    "SlugRow",
    "SpotCheckRow",
    "StockRow",
    "TableFact",
    "TorchSetRow",
    "TracePart",
    "TraceRow",
    "Trial",
    "TriedHoleRow",
    "TrimRow",
    "TroubleCaseRow",
    "now",
]
