"""The JSON Schemas of the open files, generated from the models that read and write them."""

import json
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.book.rows import RowsFile
from orthotome.formats.book.start import StartAnswerFile
from orthotome.formats.height.line import LineFile
from orthotome.formats.height.signal_path import SignalPathFile, SignalReportFile
from orthotome.formats.height.trace import TraceReportFile
from orthotome.formats.machine.measures import MachineMeasuresFile, MachineReportFile
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.pieces.own_part import OwnPartFile
from orthotome.formats.pieces.piece import PieceFile
from orthotome.formats.programs.report import ProgramReport
from orthotome.formats.torch.slug import AlignmentFile, SlugFile
from orthotome.formats.torch.wear import PartsLedgerFile, WearReportFile
from orthotome.formats.trial.advice import AdviceFile
from orthotome.formats.trial.campaign import CampaignFile
from orthotome.formats.trouble.trouble import TroubleFile, TroubleReport

SCHEMAS: dict[str, type[BaseModel]] = {
    "campaign": CampaignFile,
    "advice": AdviceFile,
    "recipe": RecipeFile,
    "piece": PieceFile,
    "own_part": OwnPartFile,
    "profile": OutputProfile,
    "rows": RowsFile,
    "start": StartAnswerFile,
    "signal_path": SignalPathFile,
    "signal_path_report": SignalReportFile,
    "trace_report": TraceReportFile,
    "line": LineFile,
    "slug": SlugFile,
    "alignment": AlignmentFile,
    "parts_ledger": PartsLedgerFile,
    "wear_report": WearReportFile,
    "program_report": ProgramReport,
    "machine_measures": MachineMeasuresFile,
    "trouble": TroubleFile,
    "trouble_report": TroubleReport,
    "machine_report": MachineReportFile,
}


def schema(name: str) -> dict[str, Any]:
    """JSON Schema of the format ``orthotome.<name>``."""
    found = SCHEMAS[name].model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **found}


def write_schemas(folder: Path) -> None:
    """Write every schema into ``folder`` as ``<name>.schema.json``."""
    for name in SCHEMAS:
        text = json.dumps(schema(name), indent=2, ensure_ascii=False) + "\n"
        (folder / f"{name}.schema.json").write_text(text, encoding="utf-8")
