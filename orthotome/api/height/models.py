"""What goes over the wire of height: signal paths, lines and recordings, set-points, timing, the loop."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from orthotome.api.wire import Wire
from orthotome.core.height.after_square import Told
from orthotome.core.height.events import EventKind
from orthotome.core.height.schools import School
from orthotome.core.height.timing import USUAL_NOISE_V, Feature, TradeOff
from orthotome.core.machine.motion import DelayOrigin
from orthotome.formats.height.signal_path import Ratio, SignalReportFile
from orthotome.formats.reading import TINY, FileModel


class SignalPathRequest(FileModel):
    """A signal path to put in force on a table, with the pair of volts that proves it, if read."""

    source_ratio: Ratio
    card_ratio: Ratio
    multiplier: Annotated[float, Field(ge=TINY, le=100_000)]
    true_v: Annotated[float, Field(ge=TINY, le=1000)] | None = None
    screen_v: Annotated[float, Field(ge=0, le=200_000)] | None = None
    note: Annotated[str, Field(max_length=500)] = ""


class SignalPathAnswer(Wire):
    """A signal path of a table's history. ``in_force`` is the newest."""

    id: int
    fitting_id: int
    source_ratio: float
    card_ratio: float
    multiplier: float
    gain: float
    true_v: float | None
    screen_v: float | None
    note: str
    set_at: datetime
    set_by: str
    in_force: bool


class SignalPageAnswer(Wire):
    """The signal paths of a table, and what its Bench says of set-point and volts per millimetre."""

    paths: list[SignalPathAnswer]
    set_point_v: float | None
    slope_v_per_mm: float
    slope_sd: float
    slope_from: str
    cut_height_mm: float


class CorrectionAnswer(Wire):
    """A way to a right reading; ``at_screen`` ones open no cabinet."""

    what: str
    at_screen: bool


class SignalExamined(Wire):
    """The report of a signal path, with the corrections that fit, safest first."""

    report: SignalReportFile
    seen_gain: float | None
    volts_along: list[float]  # arc, behind the source, behind the card, screen: as told
    likely_volts_along: list[float] | None  # and as the likeliest fault has it
    corrections: list[CorrectionAnswer]


class LineRequest(FileModel):
    """Where a table's line listens; a port of 0 lets go of it."""

    host: Annotated[str, Field(max_length=253, pattern=r"^[A-Za-z0-9._:-]*$")]
    port: Annotated[int, Field(ge=0, le=65535)]


class RecordingNow(Wire):
    """The recording that runs: ``kept`` of its samples are on disk."""

    trace_id: int
    kept: int
    starts: int
    arc_on_s: float


class RecordingEnded(Wire):
    """The recording that ended last: what belongs into the log, and what was noticed."""

    trace_id: int
    starts: int
    arc_on_s: float
    off_plate: int
    steady_v: float | None
    spread_v: float | None
    settled_after_s: float | None
    noticed: list[str]  # in words
    interrupted: str


class RecordedAnswer(Wire):
    """What the newest recording that belongs to no cut yet says for its log."""

    trace_id: int
    steady_v: float | None
    spread_v: float | None
    starts: int
    arc_on_s: float
    height_control: Literal["off", "set_point", "sampled"] | None  # None: the recording does not say
    set_point_v: float | None


class LineAnswer(Wire):
    """The line of a table: who answers, in what state, and what it can be asked. ``version`` counts its changes."""

    version: int
    state: Literal["none", "connecting", "listening", "silent", "broken"]
    says: str
    host: str
    port: int
    simulated: bool
    name: str | None
    can: list[Literal["run", "trim", "stop"]]
    least_set_point_v: float | None
    most_set_point_v: float | None
    refused: str
    doubt: str  # of what its volts are
    dropped: int  # samples that could not be read
    told: int
    recording: RecordingNow | None
    ended: RecordingEnded | None


class TrimRequest(FileModel):
    """Raise (or lower) the set-point by so much, now."""

    by_v: Annotated[float, Field(ge=-20, le=20)]


class TrimAnswer(Wire):
    """A trim as it was noted."""

    at_s: float
    by_v: float
    set_point_v: float | None
    trimmed_at: datetime
    trimmed_by: str
    says: str = ""  # where it moves nothing by itself


class RunRequest(FileModel):
    """A piece for a simulated table to run, with or without height control."""

    kind: Literal["square", "long_strip", "corner"]
    control: bool
    warp_mm: Annotated[float, Field(ge=0, le=20)] = 0.0


class TraceLine(Wire):
    """A recording in the list."""

    id: int
    name: str
    source: Literal["line", "file"]
    samples: int
    starts: int
    arc_on_s: float
    off_plate: int
    ended: bool
    interrupted: str
    begun_at: datetime
    begun_by: str
    struck_out: bool
    trial_id: int | None
    cut_id: int | None
    cut_number: int | None


class TraceEventAnswer(Wire):
    """One event of a cut, with its word."""

    kind: EventKind
    word: str
    from_s: float
    to_s: float
    peak_v: float
    height_mm: float | None


class TraceCutAnswer(Wire):
    """One cut of a recording."""

    arc_on_s: float
    settled_s: float | None
    settled_mm: float | None
    end_s: float
    steady_v: float
    noise_v: float
    drift_v_per_m: float | None
    rms_v: float | None
    rms_mm: float | None
    moves_s: float | None
    control_share: float | None
    events: list[TraceEventAnswer]


class TraceRecommends(Wire):
    """What height control should be told."""

    control_delay_s: float | None
    dead_band_v: float | None
    hold_below_speed_share: float | None
    crossing_jump_v: float | None
    gain: Literal["lower", "raise", "keep"] | None
    gain_says: str


class TraceAnswer(Wire):
    """A recording with everything it says."""

    line: TraceLine
    begins_s: float
    ends_s: float
    cuts: list[TraceCutAnswer]
    recommend: TraceRecommends
    cannot_tell: list[str]
    trims: list[TrimAnswer]


class DrawnAnswer(Wire):
    """A stretch of a recording to draw: the least and the most volts of each slice of time, and the rest as means."""

    at_s: list[float]
    least_v: list[float]
    most_v: list[float]
    z_mm: list[float | None] | None
    feed_mm_min: list[float | None] | None
    set_point_v: list[float | None] | None


class ColumnMatchFile(FileModel):
    """Which column holds something, and its unit; ``times`` is the ratio of a divided signal."""

    heading: Annotated[str, Field(max_length=200)]
    unit: Annotated[str, Field(max_length=20)] = ""
    times: Annotated[float, Field(ge=TINY, le=10_000)] = 1.0


class TraceHeadings(Wire):
    """The columns of a file, its first rows, and which are likely what; ``said``: what was passed over, and what is asked."""

    headings: list[str]
    rows: list[list[str]]
    said: list[str]
    suggested: dict[str, ColumnMatchFile]
    units: dict[str, list[str]]


class HeldAnswer(Wire):
    """One school of the set-point."""

    school: School
    word: str
    set_point_v: float | None
    height_mm: float | None
    height_sd_mm: float | None
    closer_mm: float | None
    touches_in: tuple[int, int] | None
    trim_at_starts: int | None
    needs: str
    will: str
    refused: str


class VoltsForHeightAnswer(Wire):
    """Volts per millimetre and wear with their uncertainty, and what taught them."""

    slope_v_per_mm: float
    slope_sd: float
    wear_v_per_1000: float
    wear_sd: float
    taught: bool
    wear_taught: bool
    cuts: int
    heights: int
    other_signal: int
    controlled: int
    says: str
    points: list["HeightPoint"]
    level_v: float | None
    level_sd: float | None
    level_height_mm: float | None


class HeightPoint(Wire):
    """One fixed-height cut: its height and volts; ``here`` of this trial."""

    height_mm: float
    volts_v: float
    starts: int | None
    here: bool


class TimingAnswer(Wire):
    """The timing of a start."""

    control_delay_s: float
    settled_after_s: float
    measured: bool
    drop_s: float
    drop_mm: float
    run_up_s: float
    run_up_mm: float
    blind_s: float
    blind_mm: float
    lead_in_mm: float
    lead_in_why: str
    hold_below_share: float
    hole_speed_mm_min: float
    least_hole_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    cut_height_mm: float
    speed_mm_min: float
    counts_from: DelayOrigin
    counts_from_known: bool
    acceleration_known: bool


class ControlRequest(FileModel):
    """What height control is to be told in a trial; what is left out is as Orthotome would set it."""

    school: School
    set_point_v: Annotated[float, Field(ge=20, le=400)] | None = None
    control_delay_s: Annotated[float, Field(ge=0, le=20)] | None = None
    dead_band_v: Annotated[float, Field(ge=0, le=20)] | None = None
    hold_below_share: Annotated[float, Field(ge=0.1, le=1)] | None = None
    crossing_jump_v: Annotated[float, Field(ge=0.5, le=60)] | None = None
    hold_holes: bool = True


class ControlAnswer(Wire):
    """What height control is told, chosen or as it would be, and what proves it."""

    chosen: bool
    school: School
    set_point_v: float | None
    control_delay_s: float
    dead_band_v: float
    hold_below_share: float | None
    crossing_jump_v: float | None
    hold_holes: bool
    chosen_at: datetime | None
    chosen_by: str
    told: tuple[Told, ...]
    otherwise: tuple[str, ...]  # than chosen, by what recordings show since
    proof: Literal["no_control", "not_begun", "half", "failed", "proven"]
    proof_says: str
    next_kind: Literal["long_strip", "square"] | None
    trims_v: float
    trims_say: str


class HeightAnswer(Wire):
    """Everything of height for a trial: volts for height, the schools, the timing, and what to tell the control."""

    trial_id: int
    title: str
    plate: str
    locked: bool
    square: bool
    starts: int | None
    touch_mm: float
    cut_height_mm: float
    volts: VoltsForHeightAnswer
    schools: list[HeldAnswer]
    ahead: int
    timing: TimingAnswer
    features: tuple[Feature, ...]
    trade_offs: tuple[TradeOff, ...]
    control: ControlAnswer
    loop: "LoopRequest"  # as it is known here, to practise with


class ConvertQuery(Wire):
    """Either a voltage or a height, and how far the sheet rises where control does not follow it."""

    volts_v: Annotated[float | None, Field(ge=20, le=400)] = None
    height_mm: Annotated[float | None, Field(ge=0, le=40)] = None
    warp_mm: Annotated[float, Field(ge=0, le=60)] = 0.0


class ConvertAnswer(Wire):
    """A voltage as a height or a height as a voltage here, and the chance that something touches."""

    volts_v: float | None
    height_mm: float | None
    sd_v: float | None
    sd_mm: float | None
    touch_chance: float | None
    says: str


class LoopRequest(FileModel):
    """A cut over a warped sheet, and what the control is told; settings left out are as Orthotome would choose."""

    speed_mm_min: Annotated[float, Field(ge=20, le=60_000)]
    length_mm: Annotated[float, Field(ge=20, le=20_000)]
    cut_height_mm: Annotated[float, Field(ge=0.1, le=40)]
    steady_v: Annotated[float, Field(ge=40, le=300)]
    slope_v_per_mm: Annotated[float, Field(ge=0.5, le=60)]
    noise_v: Annotated[float, Field(ge=0, le=10)] = USUAL_NOISE_V
    lag_s: Annotated[float, Field(ge=0.01, le=1)] = 0.06
    rise_mm: Annotated[float, Field(ge=0, le=60)] = 0.0
    wave_mm: Annotated[float, Field(ge=10, le=5000)] = 200.0
    slope_mm_per_100: Annotated[float, Field(ge=-20, le=20)] = 0.0
    grows: Annotated[float, Field(ge=0, le=5)] = 0.0
    corners: Annotated[int, Field(ge=0, le=20)] = 0
    acceleration_mm_s2: Annotated[float, Field(ge=1, le=100_000)] = 500.0
    touch_mm: Annotated[float, Field(ge=0, le=20)] = 0.0
    z_speed_mm_s: Annotated[float, Field(ge=0.1, le=1000)] = 40.0
    delay_s: Annotated[float, Field(ge=0, le=20)] = 0.8
    set_point_v: Annotated[float, Field(ge=20, le=400)] | None = None
    gain_mm_s_v: Annotated[float, Field(ge=0, le=1000)] | None = None
    dead_band_v: Annotated[float, Field(ge=0, le=20)] | None = None
    hold_below_share: Annotated[float, Field(ge=0, le=1)] | None = None
    bevel_deg_per_mm: Annotated[float, Field(ge=0, le=20)] = 2.5


class LoopRunAnswer(Wire):
    """The run: slices of way with the gap, the plate, the torch and the bevel away from that at the cut height."""

    way_mm: list[float]
    plate_mm: list[float]
    torch_mm: list[float]
    gap_mm: list[float]
    bevel_deg: list[float]
    control: list[bool]
    strikes: list[float]  # mm of way
    rms_mm: float
    least_gap_mm: float
    most_gap_mm: float
    hunts: bool
    gain_mm_s_v: float
    dead_band_v: float
    hold_below_share: float
    set_point_v: float
    says: str


class LoopAnswer(Wire):
    """The cut as it is told now, and as Orthotome would tell it, with why."""

    now: LoopRunAnswer
    chosen: LoopRunAnswer
    z_speed_needed_mm_s: float
    follows: bool
    why: list[str]
