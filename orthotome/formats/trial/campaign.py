"""``orthotome.campaign``, version 1: a campaign as an open file."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field, field_validator, model_validator

from orthotome.core.book.start_rows import StartValues
from orthotome.core.edge.edges import Swirl
from orthotome.core.setting import HEIGHT_RANGE_MM, SPEED_RANGE_MM_MIN
from orthotome.core.stock.hazards import refused_because
from orthotome.core.trial import campaign as core
from orthotome.formats.reading import TINY, FileModel, read_json

MOST_CUTS = 2000
MOST_HISTORY = 20

Speed = Annotated[float, Field(ge=SPEED_RANGE_MM_MIN[0], le=SPEED_RANGE_MM_MIN[1], description="mm/min")]
Height = Annotated[float, Field(ge=HEIGHT_RANGE_MM[0], le=HEIGHT_RANGE_MM[1], description="mm")]
Starts = Annotated[int, Field(ge=0, le=100_000_000)]
Voltage = Annotated[float, Field(ge=20, le=400, description="V")]
Seconds = Annotated[float, Field(ge=0, le=30, description="s")]
BevelDeg = Annotated[float, Field(ge=-45, le=45, description="deg, bottom out is positive")]
ThicknessMm = Annotated[float, Field(ge=0.2, le=160, description="mm")]
Kerf = Annotated[float, Field(ge=0.1, le=20, description="mm, mean of top and bottom")]
LagDeg = Annotated[float, Field(ge=-80, le=80, description="deg, bottom trailing is positive")]
Text = Annotated[str, Field(min_length=1, max_length=200)]


class TorchSetFile(FileModel):
    """The torch parts set."""

    name: Text
    amperage_a: Annotated[float, Field(ge=5, le=1000)]
    gas: Text = "air"
    swirl: Swirl = "clockwise"
    starts: Starts | None = None


class StartFile(FileModel):
    """Starting numbers."""

    speed_mm_min: Speed
    cut_height_mm: Height
    arc_voltage_v: Voltage | None = None
    pierce_height_mm: Height = 3.8
    pierce_delay_s: Seconds = 0.5
    kerf_mm: Kerf = 1.5


class CampaignStartFile(StartFile):
    """Starting numbers of a campaign, with how they were reached."""

    how: (
        Annotated[
            core.StartHow,
            Field(
                description="in the words of orthotome start, or recipe or typed; left out: nobody wrote it down"
            ),
        ]
        | None
    ) = None


class TargetFile(FileModel):
    """What counts as square."""

    bevel_deg: Annotated[float, Field(ge=TINY, lt=45)]
    sides: core.Sides = "good"
    dross_grade: Annotated[int, Field(ge=0, le=4)] = 1
    priority: core.Priority = "square_first"


class LimitsFile(FileModel):
    """The range the operator will cut in."""

    speed_mm_min: Annotated[tuple[Speed, Speed], Field(strict=False)]
    cut_height_mm: Annotated[tuple[Height, Height], Field(strict=False)]

    @model_validator(mode="after")
    def _in_order(self) -> "LimitsFile":
        for name in ("speed_mm_min", "cut_height_mm"):
            low, high = getattr(self, name)
            if low > high:
                raise ValueError(f"{name}: the lower limit comes first.")
        return self


class SeriesFile(FileModel):
    """Ids of the fitted parts, torch mount, plate and signal path; a missing one is unchanged."""

    parts: str | None = None
    mount: str | None = None
    plate: str | None = None
    signal: str | None = None


class EdgeFile(FileModel):
    """One reading of one edge."""

    side: Literal["right", "left", "both"]
    heading_deg: Annotated[float, Field(ge=-360, le=720)]
    bevel_deg: BevelDeg
    u_deg: Annotated[float, Field(ge=TINY, le=20)]
    method: Text = "angle_gauge"


class DrossFile(FileModel):
    """Dross of one kind."""

    kind: core.DrossKind
    grade: Annotated[int, Field(ge=0, le=4)]


class CutFile(FileModel):
    """One set of settings cut once; what was not measured is left out or null."""

    id: Text
    piece: core.PieceKind
    starts: Starts | None = None
    arc_on_s: Annotated[float, Field(ge=0, le=1e9)] | None = None
    speed_mm_min: Speed
    cut_height_mm: Height
    arc_voltage_v: Voltage | None = None
    set_point_v: Voltage | None = None
    height_control: core.HeightControl = "off"
    series: SeriesFile | None = None
    through: core.Through | None = None
    arc_lost: bool | None = None
    edges: Annotated[tuple[EdgeFile, ...], Field(max_length=64, strict=False)] | None = None
    dross: Annotated[tuple[DrossFile, ...], Field(max_length=12, strict=False)] | None = None
    kerf_mm: Kerf | None = None
    lag_deg: Annotated[float, Field(ge=-80, le=80)] | None = None


class PlainCampaignFile(FileModel):
    """A campaign without a history: one metal, thickness and torch set, with its cuts."""

    format: Literal["orthotome.campaign"]
    version: Literal[1]
    title: Annotated[str, Field(max_length=200)] = ""
    metal: Text
    thickness_mm: ThicknessMm
    torch_set: TorchSetFile
    start: CampaignStartFile
    target: TargetFile
    limits: LimitsFile
    cuts: Annotated[tuple[CutFile, ...], Field(max_length=MOST_CUTS, strict=False)] = ()
    series_now: (
        Annotated[
            SeriesFile,
            Field(description="what is fitted now, where something was changed since the last cut"),
        ]
        | None
    ) = None

    @field_validator("metal")
    @classmethod
    def _is_cut(cls, metal: str) -> str:
        why = refused_because(metal)
        if why is not None:
            raise ValueError(why)
        return metal

    @model_validator(mode="after")
    def _ids_differ(self) -> "PlainCampaignFile":
        seen: set[str] = set()
        for cut in self.cuts:
            if cut.id in seen:
                raise ValueError(f"cuts: two cuts have the id “{cut.id}”; every cut has its own.")
            seen.add(cut.id)
        return self


class CampaignFile(PlainCampaignFile):
    """A campaign, with what earlier ones on the same table may teach it."""

    history: (
        Annotated[
            tuple[PlainCampaignFile, ...],
            Field(max_length=MOST_HISTORY, strict=False, description="earlier campaigns, newest last"),
        ]
        | None
    ) = None


def read_campaign(text: str | bytes) -> core.Campaign:
    """Read a campaign file. Raises FileError."""
    return campaign_from_file(read_json(CampaignFile, text))


def campaign_from_file(file: CampaignFile) -> core.Campaign:
    """The campaign a file describes, with its history."""
    history: list[core.Campaign] = []
    for earlier in file.history or ():
        history.append(_plain(earlier, _left_by(history)))
    return replace(_plain(file, _left_by(history)), history=tuple(history))


def _left_by(history: Sequence[core.Campaign]) -> core.Series:
    return history[-1].current_series if history else core.Series()


def _plain(file: PlainCampaignFile, series: core.Series) -> core.Campaign:
    """A campaign without its history. A series id that is left out is that of the cut before, or (of the first cut)
    what the campaign before it left."""
    cuts = []
    for cut in file.cuts:
        series = _carried_on(series, cut.series)
        cuts.append(_cut_from_file(cut, series))
    t = file.torch_set
    return core.Campaign(
        metal=file.metal,
        thickness_mm=file.thickness_mm,
        torch_set=core.TorchSet(**t.model_dump()),
        start=StartValues(**file.start.model_dump(exclude={"how"})),
        start_how=file.start.how,
        target=core.Target(**file.target.model_dump()),
        limits=core.Limits(**file.limits.model_dump()),
        cuts=tuple(cuts),
        series_now=None if file.series_now is None else _carried_on(series, file.series_now),
        title=file.title,
    )


def _carried_on(before: core.Series, given: SeriesFile | None) -> core.Series:
    if given is None:
        return before
    return core.Series(
        before.parts if given.parts is None else given.parts,
        before.mount if given.mount is None else given.mount,
        before.plate if given.plate is None else given.plate,
        before.signal if given.signal is None else given.signal,
    )


def _cut_from_file(cut: CutFile, series: core.Series) -> core.Cut:
    return core.Cut(
        id=cut.id,
        piece=cut.piece,
        speed_mm_min=cut.speed_mm_min,
        cut_height_mm=cut.cut_height_mm,
        arc_voltage_v=cut.arc_voltage_v,
        set_point_v=cut.set_point_v,
        height_control=cut.height_control,
        starts=cut.starts,
        arc_on_s=cut.arc_on_s,
        series=series,
        through=cut.through,
        arc_lost=bool(cut.arc_lost),
        edges=tuple(core.EdgeReading(**e.model_dump()) for e in cut.edges or ()),
        dross=None if cut.dross is None else tuple(core.Dross(d.kind, d.grade) for d in cut.dross),
        kerf_mm=cut.kerf_mm,
        lag_deg=cut.lag_deg,
    )


def campaign_to_file(campaign: core.Campaign) -> CampaignFile:
    """The open file of a campaign."""
    history = []
    for i, earlier in enumerate(campaign.history):
        history.append(PlainCampaignFile(**_fields(earlier, _left_by(campaign.history[:i]))))
    return CampaignFile(**_fields(campaign, _left_by(campaign.history)), history=tuple(history) or None)


def _fields(campaign: core.Campaign, left: core.Series) -> dict[str, Any]:
    """A campaign's fields; ``left`` is the series that the one before it left."""
    t, start, target, limits = campaign.torch_set, campaign.start, campaign.target, campaign.limits
    before = (left, *(c.series for c in campaign.cuts))
    now = campaign.series_now
    return dict(
        format="orthotome.campaign",
        version=1,
        title=campaign.title,
        metal=campaign.metal,
        thickness_mm=campaign.thickness_mm,
        torch_set=TorchSetFile(**vars(t)),
        start=CampaignStartFile(**vars(start), how=campaign.start_how),
        target=TargetFile(**vars(target)),
        limits=LimitsFile(**vars(limits)),
        cuts=tuple(_cut_to_file(c, b) for c, b in zip(campaign.cuts, before, strict=False)),
        series_now=None if now is None else SeriesFile(**vars(now)),
    )


def _cut_to_file(cut: core.Cut, before: core.Series) -> CutFile:
    """A cut with its series said, unless neither it nor the one before has any: left out is unchanged."""
    dross = None if cut.dross is None else tuple(DrossFile(**vars(d)) for d in cut.dross)
    plain = {k: v for k, v in vars(cut).items() if k not in ("series", "edges", "dross")}
    unnamed = cut.series == before == core.Series()
    series = None if unnamed else SeriesFile(**vars(cut.series))
    edges = tuple(EdgeFile(**vars(e)) for e in cut.edges)
    return CutFile(**plain, series=series, edges=edges or None, dross=dross)
