"""``orthotome.signal_path`` and its report, version 1: the way of the arc voltage to the screen."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotome.core.height import signal_path as core
from orthotome.formats.reading import TINY, FileModel, WrittenModel, read_json

Ratio = Annotated[float, Field(ge=TINY, le=10_000, description="in / out; 1 is straight through")]
SetPoint = Annotated[float, Field(ge=20, le=400, description="V")]
Slope = Annotated[float, Field(ge=TINY, le=60, description="true V per mm of height")]


class ObservedFile(FileModel):
    """What was seen: both volts, or what the torch did."""

    true_v: Annotated[float, Field(ge=TINY, le=1000, description="V at the source")] | None = None
    screen_v: Annotated[float, Field(le=200_000, description="V on the screen")] | None = None
    behaviour: core.Torch | None = None

    @model_validator(mode="after")
    def _both_or_the_symptom(self) -> "ObservedFile":
        if (self.true_v is None) != (self.screen_v is None):
            raise ValueError("give both true_v and screen_v, or the behaviour alone.")
        if self.true_v is None and self.behaviour is None:
            raise ValueError("give true_v and screen_v, or the behaviour; null where nothing was seen.")
        if self.screen_v is not None and self.screen_v < 0:
            raise ValueError(
                "screen_v is below zero: the two signal wires are swapped. Put that right, isolated "
                "and locked out, and read again."
            )
        return self


class SignalPathFile(FileModel):
    """A signal path with what was seen of it. ``cut_height_mm`` sharpens "would it touch?"."""

    format: Literal["orthotome.signal_path"]
    version: Literal[1]
    source_ratio: Ratio
    card_ratio: Ratio
    multiplier: Annotated[float, Field(ge=TINY, le=100_000)]
    observed: ObservedFile | None = None
    set_point_v: SetPoint
    slope_v_per_mm: Slope
    cut_height_mm: Annotated[float, Field(ge=TINY, le=40)] = core.TYPICAL_CUT_HEIGHT_MM


class ExplanationFile(WrittenModel):
    """A fault that would show what was seen, with its chance."""

    stage: core.Stage
    fault: core.Fault
    actual_ratio: float | None
    chance: float
    fix: str
    check: str


class SignalReportFile(WrittenModel):
    """The answer of ``orthotome signal-path``."""

    format: Literal["orthotome.signal_path_report"] = "orthotome.signal_path_report"
    version: Literal[1] = 1
    expected_screen_v: float
    gain: float
    torch: core.Torch
    height_error_mm: float | None
    explanations: tuple[ExplanationFile, ...]
    cautions: tuple[str, ...]


def examine_file(file: SignalPathFile) -> core.SignalReport:
    """What core says of a signal path file."""
    seen = file.observed
    return core.examine(
        core.SignalPath(file.source_ratio, file.card_ratio, file.multiplier),
        core.Observed(seen.true_v, seen.screen_v, seen.behaviour) if seen else None,
        set_point_v=file.set_point_v,
        slope_v_per_mm=file.slope_v_per_mm,
        cut_height_mm=file.cut_height_mm,
    )


def read_signal_path(text: str | bytes) -> SignalPathFile:
    """Read one file, or raise FileError with one sentence naming the field."""
    return read_json(SignalPathFile, text)


def report_to_file(report: core.SignalReport) -> SignalReportFile:
    """The open file of a report, rounded to what the readings can carry."""
    error = report.height_error_mm
    return SignalReportFile(
        expected_screen_v=round(report.expected_screen_v, 2),
        gain=float(f"{report.gain:.6g}"),
        torch=report.torch,
        height_error_mm=None if error is None else round(error, 3),
        explanations=tuple(explanation_to_file(e) for e in report.explanations),
        cautions=report.cautions,
    )


def explanation_to_file(e: core.Explanation) -> ExplanationFile:
    """One explanation, its ratio and chance rounded."""
    ratio = None if e.actual_ratio is None else float(f"{e.actual_ratio:.4g}")
    return ExplanationFile(
        stage=e.stage,
        fault=e.code,
        actual_ratio=ratio,
        chance=round(e.chance, 2),
        fix=e.cure,
        check=e.check,
    )
