"""``orthotome.machine_measures`` and ``orthotome.machine_report``, version 1: measured sizes, and what they say of a machine."""

from typing import Annotated, Literal

from pydantic import Field

from orthotome.core.machine import measures as core
from orthotome.core.machine.measured import Hole, Measured, Rectangle, Slot
from orthotome.core.machine.squareness import Spread
from orthotome.formats.reading import TINY, FileModel, WrittenModel, read_json

MOST_PIECES = 2_000

Size = Annotated[float, Field(ge=TINY, le=100_000)]
Sigma = Annotated[float, Field(ge=TINY, le=10, description="of each size, one sigma")]


class RectangleFile(FileModel):
    """An outside; ``d1_mm`` runs from the corner nearest to the zero."""

    kind: Literal["rectangle"]
    nominal_mm: Annotated[tuple[Size, Size], Field(strict=False, description="along X, along Y")]
    x_mm: Size | None = None
    y_mm: Size | None = None
    d1_mm: Size | None = None
    d2_mm: Size | None = None
    u_mm: Sigma


class SlotFile(FileModel):
    """An inside."""

    kind: Literal["slot"]
    nominal_mm: Size
    x_mm: Size | None = None
    y_mm: Size | None = None
    u_mm: Sigma


class HoleFile(FileModel):
    """A hole; ``other_mm`` is a diameter square to the first."""

    kind: Literal["hole"]
    nominal_mm: Size
    top_mm: Size | None = None
    bottom_mm: Size | None = None
    other_mm: Size | None = None
    u_mm: Sigma


class MachineMeasuresFile(FileModel):
    """Pieces as they were measured."""

    format: Literal["orthotome.machine_measures"]
    version: Literal[1]
    kerf_compensated_mm: Annotated[
        float, Field(ge=0, le=20, description="the whole kerf that the program made room for")
    ]
    drive_distance_mm: (
        Annotated[float, Field(ge=TINY, le=100_000, description="between the gantry's two drives")]
        | None
    ) = None
    thickness_mm: Annotated[float, Field(ge=TINY, le=300)] | None = None
    pieces: Annotated[
        tuple[Annotated[RectangleFile | SlotFile | HoleFile, Field(discriminator="kind")], ...],
        Field(min_length=1, max_length=MOST_PIECES, strict=False),
    ]


class MeasuredSpread(WrittenModel):
    """A number with one sigma."""

    value: float
    sd: float


class CorrectionReport(MeasuredSpread):
    """Positive: the gantry's +X end moves toward -Y."""

    why: str


class HoleReport(WrittenModel):
    """One hole; ``draw_mm`` makes the smallest way through come out at the nominal."""

    nominal_mm: float
    draw_mm: float | None
    taper_deg: float | None
    passes: str


class MeasuredFinding(WrittenModel):
    """One thing found."""

    code: core.Code
    why: str


class MachineReportFile(WrittenModel):
    """The whole answer; null is "cannot be told", with its reason in ``cannot_tell``."""

    format: Literal["orthotome.machine_report"] = "orthotome.machine_report"
    version: Literal[1] = 1
    skew_deg: MeasuredSpread | None
    drive_correction_mm: CorrectionReport | None
    scale_x: MeasuredSpread | None
    scale_y: MeasuredSpread | None
    kerf_mm: MeasuredSpread | None
    holes: tuple[HoleReport, ...]
    findings: tuple[MeasuredFinding, ...]
    cannot_tell: tuple[str, ...]


def measure_text(text: bytes) -> MachineReportFile:
    """The report on a file. Raises FileError or TradeError."""
    return report_of(core.judge_machine(measured_of(read_json(MachineMeasuresFile, text))))


def measured_of(file: MachineMeasuresFile) -> Measured:
    """The pieces of a file."""
    rectangles, slots, holes = [], [], []
    for p in file.pieces:
        if isinstance(p, RectangleFile):
            rectangles.append(Rectangle(p.nominal_mm, p.x_mm, p.y_mm, p.d1_mm, p.d2_mm, p.u_mm))
        elif isinstance(p, SlotFile):
            slots.append(Slot(p.nominal_mm, p.x_mm, p.y_mm, p.u_mm))
        else:
            holes.append(Hole(p.nominal_mm, p.top_mm, p.bottom_mm, p.other_mm, p.u_mm))
    return Measured(
        file.kerf_compensated_mm,
        tuple(rectangles),
        tuple(slots),
        tuple(holes),
        file.drive_distance_mm,
        file.thickness_mm,
    )


def report_of(judged: core.MachineJudgement) -> MachineReportFile:
    """The open file of a judgement."""
    correction = judged.drive_correction
    return MachineReportFile(
        skew_deg=_spread(judged.skew_deg, 4),
        drive_correction_mm=None
        if correction is None
        else CorrectionReport(
            value=round(correction.mm.value, 3), sd=round(correction.mm.sd, 3), why=correction.why
        ),
        scale_x=_spread(judged.sizes.scale_x, 6),
        scale_y=_spread(judged.sizes.scale_y, 6),
        kerf_mm=_spread(judged.sizes.kerf_mm, 4),
        holes=tuple(
            HoleReport(
                nominal_mm=h.nominal_mm,
                draw_mm=_rounded(h.draw_mm, 3),
                taper_deg=_rounded(h.taper_deg, 2),
                passes=h.passes,
            )
            for h in judged.holes
        ),
        findings=tuple(MeasuredFinding(code=f.code, why=f.why) for f in judged.findings),
        cannot_tell=judged.cannot_tell,
    )


def _spread(spread: Spread | None, digits: int) -> MeasuredSpread | None:
    if spread is None:
        return None
    return MeasuredSpread(value=round(spread.value, digits), sd=round(spread.sd, digits))


def _rounded(value: float | None, digits: int) -> float | None:
    return None if value is None else round(value, digits)
