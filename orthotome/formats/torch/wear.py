"""``orthotome.parts_ledger`` and ``orthotome.wear_report``, version 1: what is known of fitted parts, and what it says."""

from typing import Annotated, Literal

from pydantic import Field

from orthotome.core.torch import forecast as core
from orthotome.core.torch.pit import LearnedLife
from orthotome.core.torch.wear import LEVEL_SD_V, PIT_U_MM, TRADE, LifeEntry, PartsLedger, WearBelief
from orthotome.formats.reading import TINY, FileModel, WrittenModel, read_json

MOST_ENTRIES = 20_000


class ElectrodeFile(FileModel):
    """An electrode by the manual."""

    limit_mm: Annotated[float, Field(ge=0.2, le=6, description="pit at which it is to be replaced")]


class LifeEntryFile(FileModel):
    """What is known at one moment; counts are running totals since the parts were new."""

    starts: Annotated[int, Field(ge=0, le=1_000_000)]
    arc_on_s: Annotated[float, Field(ge=0, le=1e8)] = 0.0
    off_plate: Annotated[int, Field(ge=0, le=1_000_000, description="endings off the plate")] = 0
    pit_mm: Annotated[float, Field(ge=0, le=20)] | None = None
    u_mm: Annotated[float, Field(ge=0, le=5, description="of the pit, one sigma")] | None = None
    arc_voltage_v: (
        Annotated[float, Field(ge=10, le=500, description="of a cut at a set height")] | None
    ) = None
    height_mm: (
        Annotated[float, Field(ge=0.05, le=40, description="that was set; the cut height if left out")]
        | None
    ) = None


Positive = Annotated[float, Field(ge=TINY, le=1e6, allow_inf_nan=False)]
Guess = Annotated[tuple[Positive, Positive], Field(strict=False)]


class WearBeliefFile(FileModel):
    """What the shop's earlier parts of the kind teach: medians, and spreads of their logarithms."""

    life_work: Annotated[Guess, Field(description="usual starts until the limit")]
    start_s: Annotated[Guess, Field(description="seconds of arc that wear like one start")]
    ending: Annotated[Guess, Field(description="starts that wear like one ending off the plate")]
    bend: Guess
    scatter_mm: Guess
    life_v: Annotated[Guess, Field(description="rise of the volts over a life")]
    lives: Annotated[int, Field(ge=0, le=1000, description="earlier parts that taught it")]


class PartsLedgerFile(FileModel):
    """What is known of one set of fitted parts, in order."""

    format: Literal["orthotome.parts_ledger"]
    version: Literal[1]
    electrode: ElectrodeFile
    set_point_v: Annotated[float, Field(ge=20, le=400, description="proven on new parts")]
    slope_v_per_mm: Annotated[float, Field(ge=0.5, le=60)]
    cut_height_mm: Annotated[float, Field(ge=0.05, le=40)]
    touch_height_mm: Annotated[
        float, Field(ge=0, le=40, description="at which the torch touches the plate")
    ]
    entries: Annotated[
        tuple[LifeEntryFile, ...], Field(min_length=1, max_length=MOST_ENTRIES, strict=False)
    ]
    set_point_sd_v: (
        Annotated[float, Field(ge=0.01, le=100, description="how well that is known of these parts")]
        | None
    ) = None
    belief: (
        Annotated[WearBeliefFile, Field(description="left out: the trade's usual figures")] | None
    ) = None


class SpreadFile(WrittenModel):
    """A number with one sigma."""

    value: float
    sd: float


class StartsLeftFile(WrittenModel):
    """A median with a 90 % range."""

    expected: int
    low: int
    high: int


class NextTrimFile(WrittenModel):
    """When the set-point is next due to be raised, and by how much."""

    at_starts: int
    by_v: float


class LeftAloneFile(WrittenModel):
    """What becomes of a set-point that was never raised; null: it never touches within what parts last."""

    closer_by_mm: float
    touches_at_starts: int | None


class WearReportFile(WrittenModel):
    """The answer of ``orthotome wear``."""

    format: Literal["orthotome.wear_report"] = "orthotome.wear_report"
    version: Literal[1] = 1
    pit_mm: SpreadFile
    starts_left: StartsLeftFile
    volts_per_1000_starts: SpreadFile
    set_point_now_v: float
    next_trim: NextTrimFile | None
    left_alone: LeftAloneFile
    verdict: core.Verdict
    why: str


def wear_text(text: str | bytes) -> WearReportFile:
    """The report of a ledger file. Raises FileError or TradeError in one sentence."""
    given = read_json(PartsLedgerFile, text)
    belief = WearBelief(**given.belief.model_dump()) if given.belief else TRADE
    return report_to_file(core.wear_report(ledger_of(given), belief))


def ledger_of(given: PartsLedgerFile) -> PartsLedger:
    """A ledger as core thinks of it."""
    return PartsLedger(
        given.electrode.limit_mm,
        given.set_point_v,
        given.slope_v_per_mm,
        given.cut_height_mm,
        given.touch_height_mm,
        tuple(
            LifeEntry(**{**e.model_dump(), "u_mm": e.u_mm if e.u_mm is not None else PIT_U_MM})
            for e in given.entries
        ),
        LEVEL_SD_V if given.set_point_sd_v is None else given.set_point_sd_v,
    )


def ledger_to_file(life: LearnedLife) -> PartsLedgerFile:
    """A ledger as an open file, with all that its answer needs: what the shop's other parts taught, too."""
    ledger = life.ledger
    return PartsLedgerFile(
        format="orthotome.parts_ledger",
        version=1,
        electrode=ElectrodeFile(limit_mm=ledger.limit_mm),
        set_point_v=round(ledger.set_point_v, 3),
        set_point_sd_v=round(ledger.level_sd_v, 3),
        belief=WearBeliefFile(**vars(life.belief)),
        slope_v_per_mm=round(ledger.slope_v_per_mm, 4),
        cut_height_mm=ledger.cut_height_mm,
        touch_height_mm=ledger.touch_height_mm,
        entries=tuple(LifeEntryFile(**vars(e)) for e in ledger.entries),
    )


def report_to_file(report: core.WearReport) -> WearReportFile:
    """The open file of a report, rounded to what a forecast can mean."""
    left = report.starts_left
    trim, touches = report.next_trim, report.left_alone.touches_at_starts
    return WearReportFile(
        pit_mm=SpreadFile(value=round(report.pit_mm.value, 2), sd=round(report.pit_mm.sd, 3)),
        starts_left=StartsLeftFile(
            expected=core.in_tens(left.expected),
            low=core.in_tens(left.low),
            high=core.in_tens(left.high),
        ),
        volts_per_1000_starts=SpreadFile(
            value=round(report.volts_per_1000.value, 1), sd=round(report.volts_per_1000.sd, 1)
        ),
        set_point_now_v=round(report.set_point_now_v, 1),
        next_trim=NextTrimFile(at_starts=trim.at_starts, by_v=trim.by_v) if trim else None,
        left_alone=LeftAloneFile(
            closer_by_mm=round(report.left_alone.closer_mm, 2), touches_at_starts=touches
        ),
        verdict=report.verdict,
        why=report.why,
    )
