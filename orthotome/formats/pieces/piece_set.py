"""All the files of one test piece: program, dry run, drawings, cut sheet, and the piece itself."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from orthotome.core.errors import TradeError
from orthotome.core.height.volts import VoltsAt, to_be_seen
from orthotome.core.machine.axis_map import FRAME, AxisMap
from orthotome.core.path.rings import Ring
from orthotome.core.pieces import (
    ACCELERATION_MM_S2,
    LAG_TO_FINISH_DEG,
    MOST_NICKED,
    Piece,
    PieceBasis,
    PieceName,
    corner,
    height_ladder,
    holes,
    ladder_delays,
    ladder_heights,
    ladder_speeds,
    long_strip,
    machine_seconds,
    own_part,
    pierce_ladder,
    round_slug,
    side_by_side,
    square,
    start_end_ladder,
    strip_ladder,
    together,
)
from orthotome.core.pieces.nesting import Plate, Rectangle, nest
from orthotome.core.pieces.timing import USUAL_RAPID_MM_MIN
from orthotome.core.quantities import acceleration, duration, length, plate, seconds, speed
from orthotome.core.ready.run_through import Case, run_through
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Campaign
from orthotome.core.tuner.voltage_model import VoltageModel
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.pieces.cut_sheet import SheetHead, write_cut_sheet
from orthotome.formats.pieces.dxf import write_dxf
from orthotome.formats.pieces.gcode import write_gcode
from orthotome.formats.pieces.piece import piece_to_file
from orthotome.formats.pieces.svg import write_svg


def piece_of(
    kind: PieceName,
    campaign: Campaign,
    *,
    speeds_mm_min: Sequence[float] = (),
    heights_mm: Sequence[float] = (),
    delays_s: Sequence[float] = (),
    number: int = 0,
    scrap_edge: bool = True,
    own: tuple[str, Sequence[Ring]] | None = None,
    acceleration_mm_s2: float | None = None,
) -> Piece:
    """The piece of that kind for a campaign's start, or for the listed steps of its ladder.

    ``number`` is cut into the piece as nicks; ``scrap_edge`` gives a square a bar of the
    scrap beside it, to be read as well; ``own`` is the name and the contours of a part of the shop's. Raises TradeError for steps that belong to
    another kind of piece.
    """
    for given, of, name in (
        (speeds_mm_min, "strip_ladder", "speeds"),
        (heights_mm, "height_ladder", "heights"),
        (delays_s, "pierce_ladder", "delays"),
    ):
        if given and kind != of:
            raise TradeError(name, f"belong to a {of.replace('_', ' ')}, not to a {kind}.")
    setting, start = basis_of(campaign, acceleration_mm_s2), campaign.start
    speed_limits, height_limits = campaign.limits.speed_mm_min, campaign.limits.cut_height_mm
    _check_steps("speeds", speeds_mm_min, speed_limits, speed)
    _check_steps("heights", heights_mm, height_limits, length)
    _check_steps("delays", delays_s, (0.0, MOST_DELAY_S), seconds)
    if (own is None) == (kind == "own_part"):
        raise TradeError("drawing", "belongs to a part of your own, and only to that.")
    if own is not None:
        return own_part(setting, own[1], own[0])
    makers: dict[PieceName, Callable[[], Piece]] = {
        "square": lambda: square(setting, number=number, scrap_edge=scrap_edge),
        "corner": lambda: corner(setting, number=number),
        "long_strip": lambda: long_strip(setting, number=number),
        "round": lambda: round_slug(setting, number=number),
        "holes": lambda: holes(setting, number=number),
        "strip_ladder": lambda: strip_ladder(
            setting,
            speeds_mm_min or ladder_speeds(start.speed_mm_min, within=speed_limits),
            number=number,
        ),
        "height_ladder": lambda: height_ladder(
            setting,
            heights_mm or ladder_heights(start.cut_height_mm, within=height_limits),
            number=number,
        ),
        "start_end_ladder": lambda: start_end_ladder(setting),
        "pierce_ladder": lambda: pierce_ladder(
            setting, delays_s or ladder_delays(start.pierce_delay_s), number=number
        ),
    }
    return makers[kind]()


MOST_DELAY_S = 15.0  # of a pierce: what the thickest plate takes, and more; assumption


def _check_steps(
    name: str, steps: Sequence[float], within: tuple[float, float], say: Callable[[float], str]
) -> None:
    """Raise TradeError for a step of a ladder outside what the operator will cut, or what can be meant."""
    low, high = within
    for step in steps:
        if not low - 1e-9 <= step <= high + 1e-9:
            whose = "what a pierce can take" if name == "delays" else "the trial's limits"
            raise TradeError(name, f"{say(step)} is outside {whose}, {say(low)} to {say(high)}.")


def basis_of(campaign: Campaign, acceleration_mm_s2: float | None = None) -> PieceBasis:
    """What the geometry depends on: a campaign's start, the lag last read, the table's acceleration.

    Lag not read, or less than the usual, is taken as the usual; acceleration not known likewise.
    """
    start = campaign.start
    lags = [c.lag_deg for c in campaign.cuts if c.lag_deg is not None]
    return PieceBasis(
        campaign.thickness_mm,
        start.kerf_mm,
        campaign.torch_set.swirl,
        start.speed_mm_min,
        start.cut_height_mm,
        acceleration_mm_s2 or ACCELERATION_MM_S2,
        min(_MOST_LAG_DEG, max([LAG_TO_FINISH_DEG, *lags[-1:]])),
    )


@dataclass(frozen=True)
class PieceJob:
    """A piece with all that its files say beside it."""

    piece: Piece
    campaign: Campaign
    profile: OutputProfile
    axes: AxisMap = FRAME
    number: int = 0
    note: str = ""
    acceleration_mm_s2: float | None = None  # of the table, where it is written down
    fastest_mm_min: float | None = None
    address: str | None = None  # of the trial, for the code on the cut sheet
    told_by: VoltsAt | None = (
        None  # what is known of the volts, where more is than the campaign itself holds
    )

    @cached_property
    def volts_at(self) -> VoltsAt:
        """What will be seen at a setting of the piece."""
        return self.told_by or VoltageModel(self.campaign).at

    @property
    def title(self) -> str:
        """What it is for."""
        return self.campaign.title or self.material

    @property
    def material(self) -> str:
        """Thickness and metal."""
        return plate(self.campaign.thickness_mm, self.campaign.metal)

    @property
    def seconds(self) -> float:
        """Machine time."""
        return machine_seconds(
            self.piece,
            self.campaign.start.pierce_delay_s,
            self.acceleration_mm_s2 or ACCELERATION_MM_S2,
            self.fastest_mm_min,
        )

    @property
    def time_said(self) -> str:
        """Machine time, with what of it is taken as usual."""
        assumed = []
        if self.acceleration_mm_s2 is None:
            assumed.append(f"{acceleration(ACCELERATION_MM_S2)} assumed")
        if self.fastest_mm_min is None:
            assumed.append(f"rapids at {speed(USUAL_RAPID_MM_MIN)} assumed")
        more = f" ({', '.join(assumed)})" if assumed else ""
        return f"About {duration(self.seconds)} of machine time{more}"

    @property
    def fitted(self) -> str:
        """The set with its amperage and gas."""
        torch = self.campaign.torch_set
        return f"{torch.name}, {torch.amperage_a:g} A, {torch.gas}"


_MOST_LAG_DEG = 45.0  # an overrun longer than the plate is thick finishes nothing more

FILES = ("piece.nc", "piece-dry.nc", "piece.dxf", "piece.svg", "piece.pdf", "piece.json")


def piece_file(name: str, job: PieceJob) -> bytes:
    """One of the files of a piece."""
    start = job.campaign.start
    if name in ("piece.nc", "piece-dry.nc"):
        heading = (
            f"{job.note or 'Orthotome'}: {job.title}",
            f"{job.material}, {job.fitted}",
            job.time_said,
        )
        dry = name == "piece-dry.nc"
        return write_gcode(
            job.piece,
            start,
            heading,
            axes=job.axes,
            profile=job.profile,
            volts_at=job.volts_at,
            dry_run=dry,
        ).encode()
    if name == "piece.dxf":
        return write_dxf(job.piece).encode()
    if name == "piece.svg":
        return write_svg(job.piece).encode()
    if name == "piece.pdf":
        return write_cut_sheet(job.piece, start, _head(job))
    file = piece_to_file(job.piece, basis_of(job.campaign), start, job.seconds)
    return (file.model_dump_json(indent=1, exclude_none=True) + "\n").encode()


def cautions_of(campaign: Campaign) -> tuple[str, ...]:
    """What to mind before the arc with this metal and set."""
    torch = campaign.torch_set
    case = Case(campaign.metal, campaign.thickness_mm, torch.name, torch.amperage_a, torch.gas)
    return tuple(d.item.ask for d in run_through(case, {}) if d.item.caution)


def _head(job: PieceJob) -> SheetHead:
    cautions = cautions_of(job.campaign)
    numbered = f", cut {job.number}" if job.number else ""
    return SheetHead(
        f"{job.title}{numbered}",
        job.material,
        job.fitted,
        cautions,
        job.time_said,
        job.address,
        to_be_seen(job.volts_at(c) for c in job.piece.contours),
    )


def batch_of(
    campaign: Campaign,
    settings: Sequence[Setting],
    first: int,
    plate: Plate | None = None,
    acceleration_mm_s2: float | None = None,
) -> tuple[Piece, tuple[Rectangle, ...]]:
    """Squares at these settings, numbered from ``first``, and their places: on the plate's free
    area, or side by side. Only the first has a scrap edge: swirl is one thing, read once.

    Raises TradeError where the plate does not hold them.
    """
    numbers = [first + i for i in range(len(settings))]
    pieces = []
    for i, setting in enumerate(settings):
        start = replace(campaign.start, **vars(setting))
        of = replace(campaign, start=start)
        nicks = nicked(numbers[i])
        pieces.append(square(basis_of(of, acceleration_mm_s2), number=nicks, scrap_edge=i == 0))
    sizes = [p.plate_mm for p in pieces]
    spots = nest(sizes, plate) if plate else side_by_side(sizes)
    if len(pieces) == 1:
        return pieces[0].moved(spots[0].x_mm, spots[0].y_mm), spots
    return together(pieces, spots, numbers), spots


def nicked(number: int) -> int:
    """The number that the nicks of a piece say: from 1 to the most, and from 1 again."""
    return (number - 1) % MOST_NICKED + 1


def piece_files(piece: Piece, campaign: Campaign, profile: OutputProfile) -> dict[str, bytes]:
    """Every file of a piece by its name."""
    job = PieceJob(piece, campaign, profile)
    return {name: piece_file(name, job) for name in FILES}
