"""Every table of the database, room by room, in one place to import from.

Lengths in mm, speeds in mm/min, V, s, deg, A, always; null is "not measured".
"""

from orthotome.store.book.tables import BookRow, RecipeRow, RecipeWithdrawn
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
from orthotome.store.machine.tables import InstrumentCheck, InstrumentRow, TableFact
from orthotome.store.people.tables import DeviceRow, PersonRow
from orthotome.store.pieces.tables import OwnPart, PlannedCut, PlateRow, PlateZone
from orthotome.store.ready.tables import ReadinessAnswer, ReadinessRule, ReadinessRun
from orthotome.store.shop.tables import ChangeRow, CuttingTable, Shop
from orthotome.store.torch.tables import FittingRow, MountRow, SlugRow, TorchSetRow
from orthotome.store.trial.tables import Trial

__all__ = [
    "BookRow",
    "ChangeRow",
    "ControlRow",
    "CutRow",
    "CuttingTable",
    "DeviceRow",
    "DrossRow",
    "EdgeRow",
    "FittingRow",
    "GradingRow",
    "InstrumentCheck",
    "InstrumentRow",
    "LineRow",
    "LogDraft",
    "LookRow",
    "MountRow",
    "OwnPart",
    "PersonRow",
    "PhotoRow",
    "PlannedCut",
    "PlateRow",
    "PlateZone",
    "ReadinessAnswer",
    "ReadinessRule",
    "ReadinessRun",
    "RecipeRow",
    "RecipeWithdrawn",
    "SetNote",
    "Shop",
    "SignalPathRow",
    "SlugRow",
    "TableFact",
    "TorchSetRow",
    "TracePart",
    "TraceRow",
    "Trial",
    "TrimRow",
    "now",
]
